"""Judgements on a ladder and on homing of a stepper."""

from __future__ import annotations

from urban_mule.core.moves.by_speed import AtSpeed
from urban_mule.core.moves.ladder import TIE, Rungs
from urban_mule.core.readings.two_way import SPREAD
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.verdict import Verdict, check, taken
from urban_mule.core.sheet.wording import counted, microns, pace, size

NEAR_A_STEP = 0.15  # of a full step: so near a whole number a jump is one of full steps
AGREES = 0.1  # share by which bounds may lie beside what was computed


@check("ladder", stage="Moves", applies=taken("ladder_reading"))
def ladder_says(
    ladder_rungs: Rungs, unit: str, torque_factor: Reals, torque_factor_least: Reals = None, torque_factor_most: Reals = None,
    ladder_acceleration: Reals = None, torque_by_speed: tuple[AtSpeed, ...] = (),
    torque_bounds: tuple[float, float] | None = None,
) -> Verdict:
    """What the motor really gives of what was computed."""
    low, high = torque_factor_least, torque_factor_most
    if low is None and high is None:
        return Verdict("unknown", "No step of the ladder has a computed torque.", "Try slower steps of the ladder.")
    if high is None:
        return Verdict("good", f"No steps were lost; the motor gives at least {size(100 * low)} % of what was computed.",
                       "Go higher where more is wanted.", headroom=0.8)
    if low is None:
        return Verdict("short", f"Steps were lost every time, from {size(100 * high)} % of the computed torque on.",
                       "Look for a wrong current, a wrong resistor or a binding guide; then begin lower.", headroom=0.0)
    to_set = "" if ladder_acceleration is None else f" Set at most {pace(ladder_acceleration, unit)}², a third below."
    dip = next((one for one in torque_by_speed if one.dips), None)
    if dip is not None:
        best = max(one.factor for one in torque_by_speed)
        return Verdict("tight", f"At {pace(dip.speed, unit)} the motor loses steps from {size(100 * dip.factor)} % of the computed"
                       f" torque on, at other speeds it gives up to {size(100 * best)} %: something resonates there.",
                       f"Cross that speed quickly, and run slower or faster.{to_set}", headroom=0.3)
    luck = max((one for one in torque_by_speed if one.luck is not None), key=lambda one: one.luck or 0.0, default=None)
    not_counted = "" if luck is None else (
        f" At {pace(luck.speed, unit)} a step held at {size(100 * (luck.luck or 0.0))} %, above one that lost: such luck is not"
        " counted with.")
    low, high = torque_bounds or (min(low, high), max(low, high))
    between = (f"The motor gives about {size(100 * low)} % of what was computed" if high <= low * (1 + TIE) else
               f"The motor gives {size(100 * low)} to {size(100 * high)} % of what was computed")
    said = f"{between}; {size(100 * torque_factor)} % is calculated with."
    if torque_factor * (1 + AGREES) < low or torque_factor * (1 - AGREES) > high:
        return Verdict("tight", said,
                       f"Use it on Motor, or find out why.{to_set}{not_counted}", headroom=0.2)
    return Verdict("good", said, f"{to_set}{not_counted}".strip() or "Nothing to do.", headroom=0.8)


@check("homing", stage="Moves", applies=taken("homing_reading"))
def homing_comes_back(
    homing_scatter: float, homing_greatest_step: float, homing_full_steps: float, unit: str, accuracy_wanted: Reals = None,
) -> Verdict:
    """Whether homing comes back to the same place, and whether it jumps by full steps."""
    steps = round(homing_full_steps)
    if steps >= 1 and abs(homing_full_steps - steps) < NEAR_A_STEP * max(1, steps):
        jump = f"{microns(homing_greatest_step, unit)}, {counted(steps, 'full step')}"
        return Verdict("short", f"Homing jumps by {jump}: the switch answers at a full-step boundary.",
                       "Move the switch by half a full step, or home onto an index.", headroom=0.0)
    said = f"Homing scatters by {microns(homing_scatter, unit)}"
    if accuracy_wanted is None:
        return Verdict("unknown", f"{said}; the accuracy wanted is not given.", "Give it on the Brief.",
                       missing=("accuracy_wanted",))
    if SPREAD * homing_scatter > accuracy_wanted:
        return Verdict("tight", f"{said}; four times that is more than the accuracy wanted.",
                       "Approach the switch more slowly, or home onto an index.", headroom=0.2)
    return Verdict("good", f"{said}, well within the accuracy wanted.", "Nothing to do.", headroom=0.8)
