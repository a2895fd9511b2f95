"""The idle axis when somebody leans on it: how far it gives way, and what share of the current would hold."""

from __future__ import annotations

import numpy as np

from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity

HOLD_FACTOR = 1.5  # over what pushes at the idle axis: the usual school
SPRING = "rotor on its magnetic spring in a row with the train; no friction counted on"


class Lean:
    """What pushes at the axis while it is idle."""

    lean_force: Reals = given("[effort]", "F_l", "what somebody who leans on what moves pushes with", above=0,
        label="Push while idle")


def pull_and_weight(lean_force: Reals, gravity_load: Reals, travel_per_radian: Reals) -> Reals:
    """Torque at the shafts of all motors when somebody leans the way the weight pulls [N·m]; efforts [N or N·m]."""
    return (lean_force + np.abs(gravity_load)) * travel_per_radian


@quantity("[travel]", symbol="x_l", source=SPRING, shown=("µm", ""), label="Displacement under the push",
          formula="(r/p)·[asin((F_l + W)·r/(n·h·T_set)) − asin(W·r/(n·h·T_set))] + F_l/(n·k)")
def lean_shift(
    lean_force: Reals, gravity_load: Reals, travel_per_radian: Reals, rotor_teeth: Reals, motor_count: Reals,
    hold_fraction: Reals, set_torque: Reals, train_stiffness: Reals = None,
) -> Reals:
    """How far the idle axis gives way when somebody leans on it the way the weight pulls.

    lean_force, gravity_load [N or N·m], set_torque [N·m], train_stiffness [effort/travel] of one train. Raises NotKnown when it
    is pushed off its place.
    """
    held = motor_count * hold_fraction * set_torque
    pushed = pull_and_weight(lean_force, gravity_load, travel_per_radian)
    if np.all(np.asarray(pushed >= held)):
        raise NotKnown("it is pushed off its place")
    weight = np.abs(gravity_load) * travel_per_radian
    spring = travel_per_radian / rotor_teeth * (np.arcsin(pushed / held) - np.arcsin(weight / held))
    return spring if train_stiffness is None else spring + lean_force / (motor_count * train_stiffness)


@quantity("", symbol="h_n", source=SPRING, formula=f"{HOLD_FACTOR:g}·(F_l + W)·r ÷ (n·T_set)", shown="%",
          label="Idle current needed")
def hold_fraction_needed(
    lean_force: Reals, gravity_load: Reals, travel_per_radian: Reals, motor_count: Reals, set_torque: Reals
) -> Reals:
    """Share of the current that holds lean and weight with half as much again. Raises NotKnown when all of it does not."""
    needed = HOLD_FACTOR * pull_and_weight(lean_force, gravity_load, travel_per_radian) / (motor_count * set_torque)
    if np.all(np.asarray(needed) > 1):
        raise NotKnown("even the whole current does not hold it with half as much again")
    return needed
