"""The train: its links folded from motor to load, with gain, inertia, efficiency both ways and drag.

Source for the fold: power balance link by link, kinetic energy referred to the motor shaft.
"""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.units import LINEAR_UNITS
from urban_mule.core.train.link import Link

SELF_LOCKING_EFFICIENCY = 0.4  # below it; between 0.4 and 0.5 vibration lets a screw run down


def gains_in_front(train: tuple[Link, ...]) -> list[Reals]:
    """For each link, turns of its input for one turn of the motor."""
    front: list[Reals] = [1.0]
    for link in train[:-1]:
        front.append(front[-1] * link.gain)
    return front[:len(train)]


@quantity("[travel]/rad", symbol="r", source="kinematics: product of the stages' gains", formula="∏ gain of each stage")
def travel_per_radian(train: tuple[Link, ...], unit: str) -> Reals:
    """Travel of the load for one radian of the motor; train: the stages from motor to load. Raises NotKnown.

    unit: the controller's, which tells a linear axis (it needs a link that turns into travel) from a rotary one.
    """
    if not train:
        raise NotKnown("the train has no link yet", "train")
    if unit in LINEAR_UNITS and not any(link.turns_into_travel for link in train):
        raise NotKnown("no link of the train turns into travel: a screw, a belt or a rack is missing", "train")
    gain: Reals = 1.0
    lacking: list[NotKnown] = []
    for link in train:
        try:
            gain = gain * link.gain
        except NotKnown as why:
            lacking.append(why)
    if lacking:
        raise NotKnown(str(lacking[0]), *(name for why in lacking for name in why.missing))
    return gain


@quantity("[travel]", symbol="p_t", source="kinematics: 2π times the travel per radian", label="Travel per motor turn")
def travel_per_turn(travel_per_radian: Reals) -> Reals:
    """Travel of the load for one turn of the motor; travel_per_radian [m/rad or rad/rad]."""
    return 2 * math.pi * travel_per_radian


@quantity("kg·m²", symbol="J_t", source="kinetic energy of each link referred to the motor shaft",
          formula="∑ J_stage · (turns of its input per motor turn)²")
def train_inertia(train: tuple[Link, ...]) -> Reals:
    """Everything that turns between motor and load, as the motor shaft sees it. Raises NotKnown."""
    return sum(
        link.inertia_at_input * front**2 for link, front in zip(train, gains_in_front(train), strict=True)
    )


@quantity("kg·m²", symbol="J_s", source="kinetic energy of all that turns with one motor", formula="J_m + J_t",
          label="Inertia that turns with one motor")
def turning_inertia(shaft_inertia: Reals, train_inertia: Reals) -> Reals:
    """Rotor, brake and all of one train, as the shaft sees them; both [kg·m²]."""
    return shaft_inertia + train_inertia


@quantity("", symbol="η", source="power balance: efficiencies multiply", formula="∏ η of each stage")
def train_efficiency(train: tuple[Link, ...]) -> Reals:
    """Share of the motor's power that reaches the load while the motor drives."""
    efficiency: Reals = 1.0
    for link in train:
        efficiency = efficiency * link.forward_efficiency
    return efficiency


@quantity("", symbol="η_b0", source="power balance at the limit of slipping, each link not below 0",
          formula="∏ max(0, η_b of each link)")
def rest_back_efficiency(train: tuple[Link, ...]) -> Reals:
    """Share of a load at rest that gets back to the motor; 0 when a link locks itself."""
    efficiency: Reals = 1.0
    for link in train:
        efficiency = efficiency * np.maximum(0.0, link.backward_efficiency)
    return efficiency


def self_locking(train: tuple[Link, ...]) -> Reals:
    """Whether a link holds the load by itself: a screw or worm below the efficiency at which vibration cannot release it, or a
    link of which it was said that nothing gets back through it."""
    locks: Reals = False
    for link in train:
        if link.back_efficiency is not None:
            locks = locks | (link.back_efficiency == 0)
        if link.slides:
            locks = locks | ((link.forward_efficiency < SELF_LOCKING_EFFICIENCY) & (link.backward_efficiency <= 0))
    return locks


def gains_behind(train: tuple[Link, ...]) -> list[Reals]:
    """For each link, motion of the load for one unit of motion at its output [m, or rad/rad, or m/rad]."""
    behind: list[Reals] = [1.0]
    for link in reversed(train[1:]):
        behind.append(behind[-1] * link.gain)
    return behind[::-1][-len(train):] if train else []


def efforts_through_train(
    train: tuple[Link, ...], effort: Reals, direction: Reals, motor_acceleration: Reals
) -> list[Reals]:
    """Torque at the input of each link, from the motor on, and at the end the effort at the load [N·m, N].

    effort: force or torque at the load [N or N·m], positive in the plus direction; direction: +1 or −1, the sense of
    travel; motor_acceleration [rad/s²]. All broadcast. While power flows to the load a link divides by its
    efficiency, while it flows back it multiplies by its backward efficiency.
    """
    efforts = [effort]
    creeping = np.ndim(motor_acceleration) == 0 and motor_acceleration == 0  # needs no inertia, which may not be known
    for link, front in zip(reversed(train), reversed(gains_in_front(train)), strict=True):
        through = effort * link.gain
        lost = np.where(effort * direction > 0, 1.0 / link.forward_efficiency, link.backward_efficiency)
        inertial = 0.0 if creeping else link.inertia_at_input * front * motor_acceleration
        effort = inertial + direction * link.drag_torque + through * lost
        efforts.append(effort)
    return efforts[::-1]


def torque_into_train(
    train: tuple[Link, ...], effort: Reals, direction: Reals, motor_acceleration: Reals
) -> Reals:
    """Torque at the motor shaft that drives this effort through the train, the rotor not included [N·m]."""
    return efforts_through_train(train, effort, direction, motor_acceleration)[0]
