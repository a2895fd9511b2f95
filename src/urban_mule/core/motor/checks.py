"""Judgements on torque, speed and inertia that hold for every kind of motor."""

from __future__ import annotations

import numpy as np

from urban_mule.core.motor.margin import CAREFUL_FACTOR, COMFORTABLE_RATIO, SAFETY_FACTOR, USABLE_RATIO
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.units import LINEAR_UNITS
from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import share_of, size


@check("torque margin", stage="Motor", main=True)
def torque_margin(
    working_margin: float, safety_factor: float, tightest_moment: tuple[float, float], corner_speed: Reals = None,
    current_share: Reals = None,
) -> Verdict:
    """Torque available over torque needed at the tightest moment."""
    school = (f"Safety factor {size(safety_factor)}, as set. Two schools: {SAFETY_FACTOR:g} is usual; {CAREFUL_FACTOR:g}, one motor"
              " size up, is careful and right for an undamped load near the corner speed.")
    fast = corner_speed is not None and abs(tightest_moment[0]) > corner_speed
    raised = current_share is not None and current_share < 0.999
    more = ("or raise the supply voltage" if fast else "or set more of its current" if raised else
            "or take a stronger motor; more volts do not help below its corner speed" if corner_speed is not None else
            "or take one size up")
    room = share_of(working_margin, 1.0, safety_factor) if safety_factor > 1 else share_of(working_margin, 1.0, SAFETY_FACTOR)
    if working_margin >= safety_factor:
        nxt = "Nothing to do." if working_margin < 4 else "A smaller motor or less current would do."
        return Verdict("good", f"Pulls with {size(working_margin)} times the torque needed at the tightest moment.",
                       nxt, school, room)
    if working_margin >= 1:
        return Verdict("tight", f"Pulls with only {size(working_margin)} times the torque needed at the tightest moment.",
                       f"Lower the acceleration or the speed, {more}.", school, room)
    return Verdict("short", f"Gives only {size(working_margin)} times the torque needed at the tightest moment: it will stall.",
                   f"Choose a stronger motor, a reduction or a slower move, {more}.", school, 0.0)


@check("reachable speed", stage="Motor")
def reachable_speed(available_torque_at_peak_speed: float, top_speed: float, speed_wanted: Reals = None) -> Verdict:
    """Whether this supply carries the motor to the speed of the cycle and of the Brief."""
    if available_torque_at_peak_speed <= 0:
        return Verdict("short", "On this supply the motor has no torque left at the top speed of the cycle.",
                       "Raise the supply voltage or lower the speed.", headroom=0.0)
    if speed_wanted is not None and top_speed < speed_wanted * (1 - 1e-9):
        return Verdict("tight", f"The cycle reaches {size(top_speed / speed_wanted * 100)} % of the speed the Brief asks for.",
                       "Raise the speed of a move, or its distance if it is triangular.", headroom=0.15)
    return Verdict("good", f"At the top speed {size(available_torque_at_peak_speed)} N·m are available on this supply.",
                   "Nothing to do.", headroom=0.8)


@check("inertia ratio", stage="Motor")
def inertia_balance(
    inertia_ratio: float, comfortable_reduction: float, train_inertia: float, load_inertia_at_motor: float, unit: str
) -> Verdict:
    """Load seen by the rotor against the rotor."""
    school = f"Comfortable to {COMFORTABLE_RATIO:g}:1, usable to {USABLE_RATIO:g}:1, beyond it only with careful tuning."
    lighter = ("a lighter screw, pulley or gear: they are most of it" if train_inertia > load_inertia_at_motor / 2
               else "a lighter load" if unit in LINEAR_UNITS else "a load of less inertia")
    ratio = f"The load is {size(inertia_ratio)} times the rotor"
    if inertia_ratio <= COMFORTABLE_RATIO:
        return Verdict("good", f"{ratio}: comfortable.", "Nothing to do.", school, 1 - inertia_ratio / 3 / COMFORTABLE_RATIO)
    if inertia_ratio <= USABLE_RATIO:
        return Verdict("tight", f"{ratio}: usable.", f"Accelerate gently, or take {lighter}.", school, 0.4)
    return Verdict(
        "tight", f"{ratio}: careful, it rings and loses steps easily.",
        f"A reduction of about {size(comfortable_reduction)}:1 more would make it comfortable.", school,
        float(np.clip(0.35 * USABLE_RATIO / inertia_ratio, 0.02, 0.35)))
