"""The train: stages from motor to load, each with gain, inertia, efficiency both ways and drag.

Source for the fold: power balance stage by stage, kinetic energy referred to the motor shaft.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from urban_mule.core.sheet import NotKnown, Reals, given, quantity

LINEAR_UNITS, ROTARY_UNITS = ("m", "mm", "in"), ("rad", "deg", "turn")
STEEL_DENSITY = 7850.0  # kg/m³, plain carbon steel, EN 10025 figures rounded as data sheets do
SELF_LOCKING_EFFICIENCY = 0.4  # below it; between 0.4 and 0.5 vibration lets a screw run down


@dataclass(frozen=True, kw_only=True, eq=False, repr=False)
class Stage:
    """One link of the train. `gain` is output motion per radian of its input."""

    kind: ClassVar[str]
    turns_into_travel: ClassVar[bool] = False

    back_efficiency: Reals = given(
        "", "η_b", "share of the torque that gets back when the load drives", least=0, most=1)
    drag_torque: Reals = given("N·m", "T_d", "torque its input takes at any speed", default=0.0, least=0)

    @property
    def gain(self) -> Reals:
        return 1.0

    @property
    def inertia_at_input(self) -> Reals:
        return 0.0

    @property
    def forward_efficiency(self) -> Reals:
        return 1.0

    @property
    def backward_efficiency(self) -> Reals:
        """As given, else as `default_back_efficiency`; may be negative while moving (the motor drives the load down)."""
        return self.default_back_efficiency if self.back_efficiency is None else self.back_efficiency

    @property
    def default_back_efficiency(self) -> Reals:
        return self.forward_efficiency

    def need(self, name: str) -> Reals:
        """The value of a field. Raises NotKnown while it is not given."""
        value = getattr(self, name)
        if value is None:
            raise NotKnown(f"the {name.replace('_', ' ')} of the {self.kind} is not given")
        return value


@dataclass(frozen=True, kw_only=True, eq=False, repr=False)
class Efficient(Stage):
    """A stage with friction of its own."""

    efficiency: Reals = given("", "η", "share of the power that gets through", default=1.0, above=0, most=1)

    @property
    def forward_efficiency(self) -> Reals:
        return self.efficiency


@dataclass(frozen=True, kw_only=True, eq=False, repr=False)
class Coupling(Stage):
    """A shaft coupling."""

    kind: ClassVar[str] = "coupling"
    inertia: Reals = given("kg·m²", "J", "moment of inertia", default=0.0, least=0)
    rated_torque: Reals = given("N·m", "T_r", "torque it may carry", above=0)
    torsional_stiffness: Reals = given("N·m/rad", "k_t", "torque per radian of twist", above=0)

    @property
    def inertia_at_input(self) -> Reals:
        return self.inertia


@dataclass(frozen=True, kw_only=True, eq=False, repr=False)
class Reduction(Efficient):
    """A gear or belt reduction: `ratio` input turns for one output turn."""

    kind: ClassVar[str] = "reduction"
    ratio: Reals = given("", "i", "input turns for one output turn", above=0)
    inertia_in: Reals = given("kg·m²", "J_in", "moment of inertia on the input shaft", default=0.0, least=0)
    inertia_out: Reals = given("kg·m²", "J_out", "moment of inertia on the output shaft", default=0.0, least=0)
    rated_torque: Reals = given("N·m", "T_r", "torque its output may carry", above=0)
    torsional_stiffness: Reals = given("N·m/rad", "k_t", "output torque per radian of twist", above=0)

    @property
    def gain(self) -> Reals:
        return 1.0 / self.need("ratio")

    @property
    def inertia_at_input(self) -> Reals:
        return self.inertia_in + self.inertia_out * self.gain**2


@dataclass(frozen=True, kw_only=True, eq=False, repr=False)
class Screw(Efficient):
    """A ball or lead screw."""

    kind: ClassVar[str] = "screw"
    turns_into_travel: ClassVar[bool] = True
    lead: Reals = given("m", "p", "travel for one turn", above=0)
    diameter: Reals = given("m", "D", "outer diameter", above=0)
    length: Reals = given("m", "L", "length", above=0)
    root_diameter: Reals = given("m", "d_r", "diameter at the root of the thread", above=0)
    inertia: Reals = given("kg·m²", "J", "moment of inertia; else from diameter and length", least=0)
    dynamic_load_rating: Reals = given("N", "C_a", "axial load that nine of ten outlive for a million turns", above=0)
    end_support: str | None = given(
        "", "", "how the ends are held", choices=("supported-supported", "fixed-supported", "fixed-fixed", "fixed-free"))

    @property
    def gain(self) -> Reals:
        return self.need("lead") / (2 * math.pi)

    @property
    def inertia_at_input(self) -> Reals:
        if self.inertia is not None:
            return self.inertia
        return solid_cylinder_inertia(self.need("diameter"), self.need("length"))

    @property
    def default_back_efficiency(self) -> Reals:
        return 2.0 - 1.0 / self.efficiency


@dataclass(frozen=True, kw_only=True, eq=False, repr=False)
class Belt(Efficient):
    """A toothed belt that carries the load, open or in a loop."""

    kind: ClassVar[str] = "belt"
    turns_into_travel: ClassVar[bool] = True
    pitch: Reals = given("m", "p_b", "distance from tooth to tooth", above=0)
    teeth: Reals = given("", "z", "teeth of the driving pulley", whole=True, least=1)
    inertia: Reals = given("kg·m²", "J", "pulleys and belt, at the driving pulley", default=0.0, least=0)
    specific_stiffness: Reals = given("N", "c_s", "force for a strain of one", above=0)

    @property
    def gain(self) -> Reals:
        return self.need("pitch") * self.need("teeth") / (2 * math.pi)

    @property
    def inertia_at_input(self) -> Reals:
        return self.inertia


@dataclass(frozen=True, kw_only=True, eq=False, repr=False)
class Rack(Efficient):
    """A rack and pinion, straight or helical."""

    kind: ClassVar[str] = "rack"
    turns_into_travel: ClassVar[bool] = True
    module: Reals = given("m", "m_n", "normal module", above=0)
    teeth: Reals = given("", "z", "teeth of the pinion", whole=True, least=1)
    helix_angle: Reals = given("rad", "β", "helix angle", default=0.0, least=-1.2, most=1.2)
    inertia: Reals = given("kg·m²", "J", "pinion; else a solid cylinder of the face width, else 0", least=0)
    face_width: Reals = given("m", "b", "width of the pinion", above=0)

    @property
    def gain(self) -> Reals:
        return self.need("module") * self.need("teeth") / (2 * np.cos(self.helix_angle))

    @property
    def inertia_at_input(self) -> Reals:
        if self.inertia is not None:
            return self.inertia
        return 0.0 if self.face_width is None else solid_cylinder_inertia(2 * self.gain, self.face_width)


@dataclass(frozen=True, kw_only=True, eq=False, repr=False)
class Direct(Stage):
    """The shaft carries a rotary load as it is."""

    kind: ClassVar[str] = "direct"


STAGES: dict[str, type[Stage]] = {s.kind: s for s in (Coupling, Reduction, Screw, Belt, Rack, Direct)}


def solid_cylinder_inertia(diameter: Reals, length: Reals) -> Reals:
    """Moment of inertia of a solid steel cylinder about its axis [kg·m²]; diameter, length [m]."""
    return math.pi * STEEL_DENSITY * length * diameter**4 / 32


def gains_in_front(train: tuple[Stage, ...]) -> list[Reals]:
    """For each stage, turns of its input for one turn of the motor."""
    front: list[Reals] = [1.0]
    for stage in train[:-1]:
        front.append(front[-1] * stage.gain)
    return front[:len(train)]


@quantity("[travel]/rad", symbol="r", source="kinematics: product of the stages' gains", formula="∏ gain of each stage")
def travel_per_radian(train: tuple[Stage, ...], unit: str) -> Reals:
    """Travel of the load for one radian of the motor; train: the stages from motor to load. Raises NotKnown.

    unit: the controller's, which tells a linear axis (it needs a stage that turns into travel) from a rotary one.
    """
    if not train:
        raise NotKnown("the train has no stage yet")
    if unit in LINEAR_UNITS and not any(stage.turns_into_travel for stage in train):
        raise NotKnown("no stage of the train turns into travel: a screw, a belt or a rack is missing")
    gain: Reals = 1.0
    for stage in train:
        gain = gain * stage.gain
    return gain


@quantity("[travel]", symbol="p_t", source="kinematics: 2π times the travel per radian")
def travel_per_turn(travel_per_radian: Reals) -> Reals:
    """Travel of the load for one turn of the motor; travel_per_radian [m/rad or rad/rad]."""
    return 2 * math.pi * travel_per_radian


@quantity("kg·m²", symbol="J_t", source="kinetic energy of each stage referred to the motor shaft",
          formula="∑ J_stage · (turns of its input per motor turn)²")
def train_inertia(train: tuple[Stage, ...]) -> Reals:
    """Everything that turns between motor and load, as the motor shaft sees it. Raises NotKnown."""
    return sum(
        stage.inertia_at_input * front**2 for stage, front in zip(train, gains_in_front(train), strict=True)
    )


@quantity("", symbol="η", source="power balance: efficiencies multiply", formula="∏ η of each stage")
def train_efficiency(train: tuple[Stage, ...]) -> Reals:
    """Share of the motor's power that reaches the load while the motor drives."""
    efficiency: Reals = 1.0
    for stage in train:
        efficiency = efficiency * stage.forward_efficiency
    return efficiency


@quantity("", symbol="η_b0", source="power balance at the limit of slipping, each stage not below 0",
          formula="∏ max(0, η_b of each stage)")
def rest_back_efficiency(train: tuple[Stage, ...]) -> Reals:
    """Share of a load at rest that gets back to the motor; 0 when a stage locks itself."""
    efficiency: Reals = 1.0
    for stage in train:
        efficiency = efficiency * np.maximum(0.0, stage.backward_efficiency)
    return efficiency


def self_locking(train: tuple[Stage, ...]) -> bool:
    """Whether a stage holds the load by itself: a screw below the efficiency at which vibration cannot release it."""
    return any(
        np.all(stage.forward_efficiency < SELF_LOCKING_EFFICIENCY) and np.all(stage.backward_efficiency <= 0)
        for stage in train if isinstance(stage, Screw)
    )


def torque_into_train(
    train: tuple[Stage, ...], effort: Reals, direction: Reals, motor_acceleration: Reals
) -> Reals:
    """Torque at the motor shaft that drives this effort through the train, the rotor not included [N·m].

    effort: force or torque at the load [N or N·m], positive in the plus direction; direction: +1 or −1, the sense of
    travel; motor_acceleration [rad/s²]. All broadcast. While power flows to the load a stage divides by its
    efficiency, while it flows back it multiplies by its backward efficiency.
    """
    for stage, front in zip(reversed(train), reversed(gains_in_front(train)), strict=True):
        through = effort * stage.gain
        lost = np.where(effort * direction > 0, 1.0 / stage.forward_efficiency, stage.backward_efficiency)
        effort = stage.inertia_at_input * front * motor_acceleration + direction * stage.drag_torque + through * lost
    return effort
