"""Links of a train: what a coupling, a reduction, a worm, a screw, a belt, a rack, a feed roller are made of, and all that each
kind knows of itself; what a kind does not say is not known, never guessed.

A link is what the open JSON calls a stage of the train. Lengths in m, angles in rad, stiffness per radian or metre.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import ClassVar

import numpy as np

from urban_mule.core.sheet.doubt import (
    MADE_TO_SIZE,
    PART_INERTIA,
    PLAY,
    PULLED_TIGHT,
    ROLLED,
    SOFT_CONTACT,
    STIFF,
)
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.wording import size
from urban_mule.core.train.known import NIEMANN, NORTON, SUPPORTS, Exact, Mistaken, Otherwise, Usual, exact
from urban_mule.core.train.link import Efficient, Link
from urban_mule.core.train.threads import (
    SLIDING,
    sliding_back_efficiency,
    solid_cylinder_inertia,
    square_thread_back_efficiency,
    trapezoidal_efficiency,
)
from urban_mule.core.train.wheels import miscounted, other_teeth, wrong_circumference

STEEL_MODULUS = 206e9  # Pa
STEEL_SHEAR_MODULUS = 79.3e9  # Pa
LEADS = (1.0, 1.25, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 16.0, 20.0, 25.0, 32.0, 40.0, 50.0)  # mm
PITCHES = (2.0, 2.032, 2.5, 3.0, 5.0, 5.08, 8.0, 9.525, 10.0, 12.7, 14.0)  # mm, of belts
MODULES = (0.5, 0.7, 0.8, 1.0, 1.25, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0)  # mm
RATIOS = (*range(2, 13), 15, 16, 20, 25, 30, 36, 40, 50, 60, 72, 80, 90, 100, 120)
ITS_END = "Look at the end of the screw: how many threads begin there?"
SLACKENED = 1 / 3  # share of its stiffness that a slack belt has left
HALF_WRAP = math.pi  # rad of the driving pulley that the belt of a loop embraces


@record(frozen=True, kw_only=True, eq=False, repr=False)
class Coupling(Link):
    """A shaft coupling."""

    kind: ClassVar[str] = "coupling"
    stiff_by: ClassVar[tuple[str, ...]] = ("torsional_stiffness",)
    turns_with: ClassVar[str] = "bore_out"
    sizes: ClassVar[tuple[str, ...]] = ("bore", "bore_out")
    inertia: Reals = given("kg·m²", "J", "moment of inertia", default=0.0, least=0, doubt=PART_INERTIA)
    rated_torque: Reals = given("N·m", "T_r", "torque it may carry", above=0)
    torsional_stiffness: Reals = given("N·m/rad", "k_t", "torque per radian of twist", above=0, doubt=STIFF)

    @property
    def inertia_at_input(self) -> Reals:
        return self.inertia

    @property
    def stiffness_at_input(self) -> Reals | None:
        return self.torsional_stiffness

    def exact_turn(self) -> Exact:
        return Exact(exact(1.0))


@record(frozen=True, kw_only=True, eq=False, repr=False)
class Reduction(Efficient):
    """A gear or belt reduction: `ratio` input turns for one output turn."""

    kind: ClassVar[str] = "reduction"
    usual_loss: ClassVar[float] = 0.06
    turns_with: ClassVar[str] = "shaft"
    takes_flange: ClassVar[bool] = True
    whole: ClassVar[tuple[str, ...]] = ("ratio",)
    stiff_by: ClassVar[tuple[str, ...]] = ("torsional_stiffness",)
    sizes: ClassVar[tuple[str, ...]] = ("bore", "shaft", "frame")
    usual_clearance: ClassVar[float | None] = math.radians(0.3)
    ratio: Reals = given("", "i", "input turns for one output turn", above=0)
    inertia_in: Reals = given("kg·m²", "J_in", "moment of inertia on the input shaft", default=0.0, least=0,
        label="Inertia at the input", doubt=PART_INERTIA)
    inertia_out: Reals = given("kg·m²", "J_out", "moment of inertia on the output shaft", default=0.0, least=0,
        label="Inertia at the output", doubt=PART_INERTIA)
    rated_torque: Reals = given("N·m", "T_r", "torque its output may carry", above=0)
    torsional_stiffness: Reals = given("N·m/rad", "k_t", "output torque per radian of twist", above=0, doubt=STIFF)
    clearance: Reals = given("rad", "j", "free play of its output with the input held", default=0.0, least=0, shown=("µm", ""),
        doubt=PLAY)

    @property
    def gain(self) -> Reals:
        return 1.0 / self.need("ratio")

    @property
    def inertia_at_input(self) -> Reals:
        return self.inertia_in + self.inertia_out * self.gain**2

    @property
    def stiffness_at_output(self) -> Reals | None:
        return self.torsional_stiffness

    @property
    def clearance_at_output(self) -> Reals:
        return self.clearance

    def exact_turn(self) -> Exact:
        return Exact(1 / exact(self.need("ratio")))

    def mistakes(self) -> Iterator[Mistaken]:
        there_is = float(self.need("ratio"))
        yield Mistaken(self.kind, f"{there_is:g}", "turned over, or counted the wrong way", there_is**2, 0.3,
                       f"Turn its input {there_is:g} times by hand, power off: its output makes one turn.")
        for ratio in RATIOS:
            yield Mistaken(self.kind, f"{there_is:g}", f"{ratio}", there_is / ratio, 0.6,
                           f"Its plate; or turn its input by hand, power off: {ratio} turns for one of its output?")

    @property
    def usual_efficiencies(self) -> tuple[Usual, ...]:
        return Usual(0.97, "one pair of gears", NIEMANN), Usual(0.94, "two pairs or a planet stage", NIEMANN), Usual(
            0.97, "toothed belt", NIEMANN)


@record(frozen=True, kw_only=True, eq=False, repr=False)
class Worm(Reduction):
    """A worm and its wheel: a reduction that slides, and locks itself when it slides hard enough."""

    kind: ClassVar[str] = "worm"
    usual_loss: ClassVar[float] = 0.25
    slides: ClassVar[bool] = True

    @property
    def default_back_efficiency(self) -> Reals:
        return sliding_back_efficiency(self.efficiency)

    @property
    def usual_efficiencies(self) -> tuple[Usual, ...]:
        return Usual(0.75, "worm to about 10:1", NIEMANN), Usual(0.6, "worm to about 20:1", NIEMANN), Usual(
            0.45, "worm beyond 30:1", NIEMANN)


@record(frozen=True, kw_only=True, eq=False, repr=False)
class Screw(Efficient):
    """A ball or lead screw, of one start or of several."""

    kind: ClassVar[str] = "screw"
    usual_loss: ClassVar[float] = 0.1
    turns_into_travel: ClassVar[bool] = True
    slides: ClassVar[bool] = True
    turned_by: ClassVar[str] = "shaft"
    whole: ClassVar[tuple[str, ...]] = ("lead", "diameter", "length")
    stiff_by: ClassVar[tuple[str, ...]] = ("diameter", "length", "end_support")
    sizes: ClassVar[tuple[str, ...]] = ("shaft",)
    usual_clearance: ClassVar[float | None] = 5e-5
    lead: Reals = given("m", "p", "travel for one turn: all starts together", above=0, doubt=MADE_TO_SIZE)
    thread_pitch: Reals = given("m", "P", "distance from thread to thread, where the lead is not given", above=0,
        doubt=MADE_TO_SIZE)
    starts: Reals = given("", "n_s", "threads side by side", default=1, whole=True, least=1, label="Thread starts", plural=True)
    diameter: Reals = given("m", "D", "outer diameter", above=0, doubt=MADE_TO_SIZE)
    length: Reals = given("m", "L", "length", above=0, doubt=MADE_TO_SIZE)
    root_diameter: Reals = given("m", "d_r", "diameter at the root of the thread", above=0, doubt=MADE_TO_SIZE)
    pitch_diameter: Reals = given("m", "d_2", "effective diameter of the thread; makes the back efficiency exact", above=0,
        doubt=MADE_TO_SIZE)
    inertia: Reals = given("kg·m²", "J", "moment of inertia; else from diameter and length", least=0, doubt=PART_INERTIA)
    dynamic_load_rating: Reals = given("N", "C_a", "axial load that nine of ten outlive for a million turns", above=0)
    end_support: str | None = given(
        "", "", "how the ends are held", choices=("supported-supported", "fixed-supported", "fixed-fixed", "fixed-free"))
    nut_stiffness: Reals = given("N/m", "k_n", "force per metre that the nut gives way", above=0, doubt=STIFF)
    bearing_stiffness: Reals = given("N/m", "k_b", "force per metre that the thrust bearing gives way", above=0, doubt=STIFF)
    clearance: Reals = given("m", "j", "axial play of the nut", default=0.0, least=0, shown=("µm", ""), doubt=PLAY)

    def unsaid(self) -> tuple[str, ...]:
        known = {"lead": self.lead_used, "diameter": self.inertia, "length": self.inertia}
        return tuple(name for name in super().unsaid() if known[name] is None)

    @property
    def lead_used(self) -> Reals | None:
        """The lead, else pitch times starts [m]; None while neither is given."""
        if self.lead is not None or self.thread_pitch is None:
            return self.lead
        return self.thread_pitch * self.starts

    @property
    def travel_for_one_turn(self) -> Reals:
        """The lead in use [m]. Raises NotKnown while it is not known."""
        return self.need("lead") if self.lead_used is None else self.lead_used

    @property
    def gain(self) -> Reals:
        return self.travel_for_one_turn / (2 * math.pi)

    @property
    def inertia_at_input(self) -> Reals:
        if self.inertia is not None:
            return self.inertia
        return solid_cylinder_inertia(self.need("diameter"), self.need("length"))

    @property
    def default_back_efficiency(self) -> Reals:
        if self.pitch_diameter is None:
            return sliding_back_efficiency(self.efficiency)
        slope = self.travel_for_one_turn / (math.pi * self.pitch_diameter)
        return square_thread_back_efficiency(self.efficiency, slope)

    @property
    def bearing_diameter(self) -> Reals:
        """What carries: the root, else the outer diameter [m]."""
        return self.root_diameter if self.root_diameter is not None else self.need("diameter")

    @property
    def stiffness_at_input(self) -> Reals | None:
        """Twist of the whole screw, the nut at its far end; None while its size is not given."""
        if self.length is None or (self.root_diameter is None and self.diameter is None):
            return None
        return STEEL_SHEAR_MODULUS * math.pi * self.bearing_diameter**4 / 32 / self.length

    @property
    def stiffness_at_output(self) -> Reals | None:
        """Screw, nut and bearing in a row, the nut where the screw is softest; None while the ends are not said."""
        if self.end_support is None or self.length is None or (self.root_diameter is None and self.diameter is None):
            return None
        tension = STEEL_MODULUS * math.pi / 4 * self.bearing_diameter**2 / self.length
        softest = 4 * tension if self.end_support == "fixed-fixed" else tension  # mid-way, else at the far end
        compliance = 1 / softest
        for other in (self.nut_stiffness, self.bearing_stiffness):
            compliance = compliance if other is None else compliance + 1 / other
        return 1 / compliance

    @property
    def clearance_at_output(self) -> Reals:
        return self.clearance

    def exact_turn(self) -> Exact:
        return Exact(exact(float(self.travel_for_one_turn)))

    def periods(self) -> tuple[tuple[str, Reals], ...]:
        return (("the lead of the screw", 1.0),)

    def mistakes(self) -> Iterator[Mistaken]:
        lead = float(self.travel_for_one_turn)
        for starts in range(2, 9):
            entered = "one start" if self.starts == 1 else f"{self.starts:g} starts"
            yield Mistaken("screw", entered, f"{starts * self.starts:g} starts", float(starts), 0.8, ITS_END)
            yield Mistaken("screw", entered, f"a lead counted {starts} times", 1.0 / starts, 0.5, ITS_END)
        for one in LEADS:
            yield Mistaken("screw", f"{size(lead * 1e3)} mm lead", f"{one:g} mm lead", one * 1e-3 / lead, 0.7,
                           f"Turn the screw ten times by hand, power off: the carriage goes {10 * one:g} mm?")

    def otherwise(self) -> Iterator[Otherwise]:
        if self.lead_used is not None:
            for factor in (2.0, 4.0, 0.5, 0.25):
                yield Otherwise("starts", factor * self.starts, {"lead": factor * self.lead_used},
                                f"the lead of the screw is {size(1e3 * float(factor * self.lead_used))} mm", ITS_END, "lengths")

    usual_supports: ClassVar[tuple[Usual, ...]] = SUPPORTS

    def _sliding_efficiency(self) -> float | None:
        """Its efficiency if it slides, by its mean diameter: the pitch diameter, else the outer diameter less half the pitch."""
        lead, outer, mean = self.lead_used, self.diameter, self.pitch_diameter
        if lead is None or (mean is None and outer is None):
            return None
        return trapezoidal_efficiency(lead, outer - lead / (self.starts or 1) / 2 if mean is None else mean)

    @property
    def usual_efficiencies(self) -> tuple[Usual, ...]:
        sliding, found = self._sliding_efficiency(), (Usual(0.9, "rolls on balls", NIEMANN),)
        return found if sliding is None else (*found, Usual(sliding, f"slides, from its thread angle at µ {SLIDING:g}", NORTON))


@record(frozen=True, kw_only=True, eq=False, repr=False)
class Belt(Efficient):
    """A toothed belt that carries the load: a loop, or an open belt along which the motor climbs with the carriage."""

    kind: ClassVar[str] = "belt"
    usual_loss: ClassVar[float] = 0.03
    turns_into_travel: ClassVar[bool] = True
    whole: ClassVar[tuple[str, ...]] = ("pitch", "teeth")
    stiff_by: ClassVar[tuple[str, ...]] = ("span", "specific_stiffness")
    sizes: ClassVar[tuple[str, ...]] = ("bore", "belt_pitch", "belt_width", "pulley_width", "belt_length")
    pitch: Reals = given("m", "p_b", "distance from tooth to tooth", above=0, doubt=MADE_TO_SIZE)
    teeth: Reals = given("", "z", "teeth of the driving pulley", whole=True, least=1, plural=True)
    inertia: Reals = given("kg·m²", "J", "pulleys and belt, at the driving pulley", default=0.0, least=0, doubt=PART_INERTIA)
    layout: str | None = given("", "", "a loop, or an open belt that is clamped at both ends", choices=("loop", "open"))
    span: Reals = given("m", "C", "from pulley to pulley, or from clamp to clamp of an open belt", above=0, doubt=MADE_TO_SIZE)
    specific_stiffness: Reals = given("N", "c_s", "force for a strain of one", above=0, shown="N", doubt=STIFF)
    pretension: Reals = given("N", "F_0", "pull in each strand at rest", least=0, doubt=PULLED_TIGHT)
    rated_force: Reals = given("N", "F_r", "pull that the belt may carry", above=0)
    wrap_angle: Reals = given("rad", "γ", "angle of the driving pulley that the belt embraces", above=0, most=2 * math.pi)

    @property
    def gain(self) -> Reals:
        return self.need("pitch") * self.need("teeth") / (2 * math.pi)

    @property
    def inertia_at_input(self) -> Reals:
        return self.inertia

    @property
    def stiffness_at_output(self) -> Reals | None:
        """Both strands side by side, the carriage where they are softest; None while span or stiffness is not given.

        c_s (1/L₁ + 1/L₂) with L₁ + L₂ the whole length: 2C round a loop, C along an open belt; softest at equal lengths.
        """
        if self.specific_stiffness is None or self.span is None:
            return None
        whole = self.span if self.layout == "open" else 2 * self.span
        return 4 * self.specific_stiffness / whole

    def exact_turn(self) -> Exact:
        return Exact(exact(float(self.need("pitch"))) * int(self.need("teeth")))

    def periods(self) -> tuple[tuple[str, Reals], ...]:
        return ("the pitch of the belt", 1 / self.need("teeth")), ("each turn of the pulley", 1.0)

    def mistakes(self) -> Iterator[Mistaken]:
        pitch = float(self.need("pitch"))
        yield from other_teeth("driving pulley", float(self.need("teeth")))
        for one in PITCHES:
            yield Mistaken("belt", f"{size(pitch * 1e3)} mm pitch", f"{one:g} mm pitch", one * 1e-3 / pitch, 0.5,
                           f"Measure over ten teeth of the belt: {10 * one:g} mm?")

    def otherwise(self) -> Iterator[Otherwise]:
        yield from miscounted("driving pulley", self.teeth)
        if self.specific_stiffness is not None:
            slack = SLACKENED * self.specific_stiffness
            yield Otherwise("specific_stiffness", slack, {"specific_stiffness": slack}, "the belt is slack",
                            "Pluck it and read its tone, or press on it: it must not give way easily.", "tone")

    @property
    def usual_efficiencies(self) -> tuple[Usual, ...]:
        return (Usual(0.97, "toothed belt, well tensioned", NIEMANN),)


@record(frozen=True, kw_only=True, eq=False, repr=False)
class Rack(Efficient):
    """A rack and pinion, straight or helical."""

    kind: ClassVar[str] = "rack"
    usual_loss: ClassVar[float] = 0.05
    turns_into_travel: ClassVar[bool] = True
    whole: ClassVar[tuple[str, ...]] = ("module", "teeth")
    stiff_by: ClassVar[tuple[str, ...]] = ("mesh_stiffness",)
    sizes: ClassVar[tuple[str, ...]] = ("bore",)
    usual_clearance: ClassVar[float | None] = 1e-4
    module: Reals = given("m", "m_n", "normal module", above=0, doubt=MADE_TO_SIZE)
    teeth: Reals = given("", "z", "teeth of the pinion", whole=True, least=1, plural=True)
    helix_angle: Reals = given("rad", "β", "helix angle", default=0.0, least=-1.2, most=1.2)
    inertia: Reals = given("kg·m²", "J", "pinion; else a solid cylinder of the face width, else 0", least=0, doubt=PART_INERTIA)
    face_width: Reals = given("m", "b", "width of the pinion", above=0, doubt=MADE_TO_SIZE)
    rated_force: Reals = given("N", "F_r", "force along the rack that the teeth may carry", above=0)
    mesh_stiffness: Reals = given("N/m", "k_m", "force per metre that the teeth and the pinion shaft give way", above=0,
        doubt=SOFT_CONTACT)
    clearance: Reals = given("m", "j", "play between pinion and rack, along the rack", default=0.0, least=0, shown=("µm", ""),
        doubt=PLAY)

    @property
    def gain(self) -> Reals:
        return self.need("module") * self.need("teeth") / (2 * np.cos(self.helix_angle))

    @property
    def inertia_at_input(self) -> Reals:
        if self.inertia is not None:
            return self.inertia
        return 0.0 if self.face_width is None else solid_cylinder_inertia(2 * self.gain, self.face_width)

    @property
    def stiffness_at_output(self) -> Reals | None:
        return self.mesh_stiffness

    @property
    def clearance_at_output(self) -> Reals:
        return self.clearance

    def exact_turn(self) -> Exact:
        if self.helix_angle:
            raise NotKnown("a helical rack has no exact fraction")
        return Exact(exact(float(self.need("module"))) * int(self.need("teeth")), 1)

    def periods(self) -> tuple[tuple[str, Reals], ...]:
        return ("the tooth of the rack", 1 / self.need("teeth")), ("each turn of the pinion", 1.0)

    def mistakes(self) -> Iterator[Mistaken]:
        module = float(self.need("module"))
        yield from other_teeth("pinion", float(self.need("teeth")))
        for one in MODULES:
            yield Mistaken("rack", f"module {size(module * 1e3)}", f"module {one:g}", one * 1e-3 / module, 0.5,
                           f"Measure over ten teeth of the rack: {size(10 * math.pi * one)} mm?")
        yield from wrong_circumference("pinion")

    def otherwise(self) -> Iterator[Otherwise]:
        yield from miscounted("pinion", self.teeth)

    @property
    def usual_efficiencies(self) -> tuple[Usual, ...]:
        return (Usual(0.95, "open rack, greased", NIEMANN),)


@record(frozen=True, kw_only=True, eq=False, repr=False)
class FeedRoller(Efficient):
    """A roller that pulls wire, strip or cord: its diameter is roughly known and it slips, so that its travel is measured."""

    kind: ClassVar[str] = "feed roller"
    turns_into_travel: ClassVar[bool] = True
    endless: ClassVar[bool] = True
    whole: ClassVar[tuple[str, ...]] = ("diameter",)
    measured: ClassVar[bool] = True
    sizes: ClassVar[tuple[str, ...]] = ("bore",)
    diameter: Reals = given("m", "D", "diameter on which the stock runs", above=0, doubt=ROLLED)
    inertia: Reals = given("kg·m²", "J", "rollers and gears between them, at the driven one", default=0.0, least=0,
        doubt=PART_INERTIA)

    @property
    def gain(self) -> Reals:
        return self.need("diameter") / 2

    @property
    def inertia_at_input(self) -> Reals:
        return self.inertia

    def exact_turn(self) -> Exact:
        raise NotKnown("a feed roller slips: not exact")

    def periods(self) -> tuple[tuple[str, Reals], ...]:
        return (("each turn of the roller", 1.0),)

    def mistakes(self) -> Iterator[Mistaken]:
        self.need("diameter")
        yield from wrong_circumference("feed roller")


@record(frozen=True, kw_only=True, eq=False, repr=False)
class Direct(Link):
    """The shaft carries a rotary load as it is."""

    kind: ClassVar[str] = "direct"
    bought: ClassVar[bool] = False

    def exact_turn(self) -> Exact:
        return Exact(exact(1.0))


LINKS: dict[str, type[Link]] = {s.kind: s for s in (Coupling, Reduction, Worm, Screw, Belt, Rack, FeedRoller, Direct)}


def is_measured(train: tuple[Link, ...]) -> bool:
    """Whether the travel of a train is measured rather than known."""
    return any(link.measured for link in train)
