"""What falls when power goes, how far before the brake bites, and what the brake must hold.

Nothing helps here: neither the friction of the guides nor of the train is counted on, but a train that locks stays.
"""

from __future__ import annotations

import numpy as np

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.train.fold import self_locking
from urban_mule.core.train.link import Link

FALLING = "equation of motion of everything that turns, driven by gravity less counterbalance"
LEVEL = 0.1  # rad: less steep than that, friction holds an axis
BALANCED = 0.01  # of the weight: a counterbalance that leaves less leaves nothing to fall
BRAKE_FACTOR = 2.0  # over the friction-free torque: the usual school


def is_balanced(gravity_load: float, counterbalance_force: float) -> bool:
    """Whether a counterbalance leaves nothing to fall; gravity_load is what it leaves, both [N]."""
    return abs(gravity_load) <= BALANCED * abs(gravity_load + counterbalance_force)


def rises(gravity_load: float, incline: float) -> bool:
    """Whether a counterbalance outweighs what it carries: the axis goes up without power; gravity_load [N], incline [rad]."""
    return gravity_load * incline < 0


def without_power(incline: Reals, gravity_load: Reals) -> str:
    """What an axis does by itself when the power goes: falls, rises or nothing; incline [rad], gravity_load [N] or None."""
    if abs(incline or 0.0) <= LEVEL:
        return ""
    return "rises" if rises(gravity_load or 0.0, incline) else "falls"


def brake_needed(frictionless_static_torque: Reals) -> Reals:
    """What a brake should hold [N·m]: twice what falls, no friction counted on; frictionless_static_torque [N·m]."""
    return BRAKE_FACTOR * frictionless_static_torque


@quantity("[travel]/s²", symbol="a_f", source=FALLING, formula="T_0f·r ÷ (J_m + J_a); 0 when a link locks")
def fall_acceleration(
    frictionless_static_torque: Reals, shaft_inertia: Reals, axial_inertia_at_motor: Reals, travel_per_radian: Reals,
    train: tuple[Link, ...],
) -> Reals:
    """How hard the axis speeds up when power goes, no friction counted; torque [N·m], inertias [kg·m²]."""
    runs = np.logical_not(self_locking(train))
    return (frictionless_static_torque / (shaft_inertia + axial_inertia_at_motor) * travel_per_radian * runs)[()]


@quantity("s", symbol="t_f", source="constant acceleration from rest", formula="√(2·L/a_f)")
def fall_time(fall_acceleration: Reals, travel: Reals) -> Reals:
    """How long the axis takes to fall its whole travel without a brake. Raises NotKnown when nothing falls."""
    if np.all(np.asarray(fall_acceleration) == 0):
        raise NotKnown("nothing falls when power goes")
    return np.sqrt(2 * travel / fall_acceleration)


@quantity("[travel]", symbol="x_f", source=FALLING, formula="v·t + a_f·t²/2 + (v + a_f·t)²/(2·a_b), a_b what the brake slows by",
          label="Distance run without power")
def fall_distance(
    fall_acceleration: Reals, top_speed: Reals, frictionless_static_torque: Reals, shaft_inertia: Reals,
    axial_inertia_at_motor: Reals, travel_per_radian: Reals, brake_delay: Reals = None, brake_torque: Reals = None,
) -> Reals:
    """How far the axis falls from its top speed until the brake has stopped it: delay, then braking.

    top_speed [travel/s], brake_delay [s], torques [N·m]. Raises NotKnown when nothing falls or the brake is too weak.
    """
    if np.all(np.asarray(fall_acceleration) == 0):
        raise NotKnown("nothing falls when power goes")
    if brake_torque is None or brake_delay is None:
        missing = ("brake_torque",) if brake_torque is None else ("brake_delay",)
        raise NotKnown("no brake is given" if brake_torque is None else "the brake's delay is not given", *missing)
    spare = brake_torque - frictionless_static_torque
    if np.all(np.asarray(spare) <= 0):
        raise NotKnown("the brake does not stop it")
    slowing = spare / (shaft_inertia + axial_inertia_at_motor) * travel_per_radian
    fastest = top_speed + fall_acceleration * brake_delay
    return top_speed * brake_delay + fall_acceleration * brake_delay**2 / 2 + fastest**2 / (2 * slowing)
