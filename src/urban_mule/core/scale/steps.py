"""Steps per unit: exact, against what was measured, and what a measured ratio gives away."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

import numpy as np

from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.units import LINEAR_UNITS
from urban_mule.core.train.links import Belt, Rack, Reduction, Screw, Stage

if TYPE_CHECKING:
    from fractions import Fraction

UNIT_SIZE = {"m": 1.0, "mm": 1e-3, "in": 0.0254, "rad": 1.0, "deg": math.pi / 180, "turn": 2 * math.pi}
MOST_PARTS = 10_000  # of a pulse per turn: an electronic gear of 1 to 3 gives thirds, and no gear is finer than this
TELLING_RATIOS = {  # measured over commanded, as whole numbers, and what usually stands behind it
    (2, 1): "microsteps or pulses per turn set to half of what was meant",
    (1, 2): "microsteps or pulses per turn set to twice what was meant",
    (4, 1): "microsteps off by four, or a four-start screw entered as single",
    (1, 4): "microsteps off by four",
    (5, 4): "a tooth count, lead or reduction off by 5:4",
    (4, 5): "a tooth count, lead or reduction off by 4:5",
    (3, 2): "a tooth count or reduction off by 3:2",
    (2, 3): "a tooth count or reduction off by 2:3",
    (6, 5): "a tooth count, lead or reduction off by 6:5",
    (5, 6): "a tooth count, lead or reduction off by 5:6",
    (127, 5): "inches taken for millimetres",
    (5, 127): "millimetres taken for inches",
}


PULLEYS = {  # the same told of a belt: teeth there are, teeth entered
    (5, 4): (20, 16), (4, 5): (16, 20), (6, 5): (24, 20), (5, 6): (20, 24)}


class Controller:
    """What the user knows of the controller."""

    max_pulse_rate: Reals = given("Hz", "f_lim", "most pulses a second it makes", above=0, label="Most pulses", shown="kHz")


@record(frozen=True, eq=False, repr=False)
class StepsFraction:
    """Steps per unit as an exact fraction, times π to a power (a rack's or a radian's)."""

    fraction: Fraction
    pi_power: int

    def __str__(self) -> str:
        pi = {0: "", 1: "·π", -1: "/π"}.get(self.pi_power, f"·π^{self.pi_power}")
        return f"{self.fraction}{pi}"

    def __float__(self) -> float:
        return float(self.fraction) * math.pi**self.pi_power


@quantity("", symbol="u", source="definition of the unit", structure=True, formula="size of the unit in m or rad")
def unit_size(unit: str) -> float:
    """Size of the controller's unit in m or rad."""
    return UNIT_SIZE[unit]


@quantity("1/unit", symbol="S", source="kinematics")
def steps_per_unit(unit_size: float, step_length: Reals) -> Reals:
    """Pulses for one unit of the controller; unit_size [travel], step_length [travel]."""
    return unit_size / step_length


@quantity("Hz", symbol="f_p", source="kinematics", shown="kHz")
def pulse_rate(top_speed: Reals, step_length: Reals) -> Reals:
    """Pulses a second at the top speed of the cycle; top_speed [travel/s], step_length [travel]."""
    return top_speed / step_length


def exact(value: float) -> Fraction:
    """The fraction a person typed: 0.003 is 3/1000."""
    from fractions import Fraction

    return Fraction(repr(float(value))).limit_denominator(10**9)


@quantity("1/unit", symbol="S", source="the same product in whole numbers", structure=True,
          formula="steps · microsteps · ratios ÷ travel per turn")
def steps_fraction(train: tuple[Stage, ...], unit: str, pulses_per_turn: Reals) -> StepsFraction:
    """Steps per unit as an exact fraction. Raises NotKnown when a stage is not exact (a helical rack) or not given."""
    from fractions import Fraction

    steps, pi = Fraction(float(pulses_per_turn)).limit_denominator(MOST_PARTS), 0
    for stage in train:
        if isinstance(stage, Reduction):
            steps *= exact(stage.need("ratio"))
        elif isinstance(stage, Screw):
            steps /= exact(stage.travel_for_one_turn)
        elif isinstance(stage, Belt):
            steps /= exact(stage.need("pitch")) * int(stage.need("teeth"))
        elif isinstance(stage, Rack):
            if stage.helix_angle:
                raise NotKnown("a helical rack has no exact fraction")
            steps, pi = steps / (exact(stage.need("module")) * int(stage.need("teeth"))), pi - 1
    if unit in LINEAR_UNITS:
        return StepsFraction(steps * exact(UNIT_SIZE[unit]), pi)
    parts, power = {"deg": (360, 0), "turn": (1, 0), "rad": (2, -1)}[unit]
    return StepsFraction(steps / parts, pi + power)


@quantity("", symbol="N_t", source="definition")
def pulses_per_turn(travel_per_turn: Reals, step_length: Reals) -> Reals:
    """Pulses for one turn of the motor; both [travel]."""
    return np.round(travel_per_turn / step_length, 9)


def telling_ratio(ratio: float, uncertainty: float, train: tuple[Stage, ...] = ()) -> tuple[str, str] | None:
    """A ratio that is a wrong setting and no calibration, with the likely cause; None when it is not near one.

    ratio: measured over commanded; uncertainty: its standard uncertainty. Near is within 3 u, at least 1 %. train: a belt in it
    has pulleys, a screw may have several starts.
    """
    belt, screw = (any(isinstance(stage, kind) for stage in train) for kind in (Belt, Screw))
    for (top, bottom), cause in TELLING_RATIOS.items():
        telling = top / bottom
        if abs(ratio / telling - 1) <= max(0.01, 3 * uncertainty / telling):
            if belt and (top, bottom) in PULLEYS:
                cause = "a pulley of {} teeth where {} were entered".format(*PULLEYS[top, bottom])
            elif (top, bottom) == (4, 1) and not screw:
                cause = TELLING_RATIOS[1, 4]
            return (f"{top}/{bottom}" if bottom > 1 else f"{top}"), cause
    return None
