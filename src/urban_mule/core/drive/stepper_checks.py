"""Judgements on what is set on a stepper driver: current, microsteps, standstill."""

from __future__ import annotations

from urban_mule.core.load.fall import is_balanced
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import share_of, size


@check("set current", stage="Drive", main=True)
def current_against_rating(current_share: float, current_peak: float, current_rms: float,
                           current_limit: Reals = None) -> Verdict:
    """The set current against the motor's rating and the driver's limit, both peak."""
    said = f"{size(current_peak)} A peak, which is {size(current_rms)} A RMS, is {size(100 * current_share)} % of the rating"
    if current_limit is not None and current_peak > current_limit * (1 + 1e-9):
        return Verdict("short", f"The driver gives {size(current_limit)} A peak as cooled; {size(current_peak)} A are set.",
                       "Cool the driver better, or set what it gives.", headroom=0.0)
    if current_share > 1.1:
        return Verdict("short", f"{said}: peak taken for RMS?", "Check whether the sheet means peak or RMS; set less.",
                       headroom=0.0)
    if current_share > 1.001:
        return Verdict("tight", f"{said}.", "Set a little less; torque hardly falls.", headroom=0.2)
    if current_share < 0.5:
        return Verdict("tight", f"{said}: {size(100 * (1 - current_share))} % of the torque is given away.",
                       "Set more if the motor stays cool.", headroom=0.4)
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=0.8)


@check("microsteps", stage="Drive")
def microsteps_move(
    creep_torque_plus: float, creep_torque_minus: float, set_torque: float, microsteps: float, reversal_microsteps: Reals = None
) -> Verdict:
    """Whether a microstep still moves the load, or friction swallows several."""
    if reversal_microsteps is None:
        creeping = max(abs(creep_torque_plus), abs(creep_torque_minus))
        return Verdict("short", f"Creeping takes {size(creeping)} N·m, the set current gives {size(set_torque)} N·m: it does not"
                       " move.", "Raise the current or find what binds.", headroom=0.0)
    school = ("Three schools: few from the controller and interpolate; a middle value and stop; the finest it can count."
              " Finer steps run smoother; they place better only while a reversal swallows less than about two.")
    said = f"A reversal swallows {size(reversal_microsteps)} of the {microsteps:g} microsteps in a full step"
    if reversal_microsteps > microsteps / 2:
        return Verdict("short", f"{said}: friction takes most of the torque.", "Raise the current or find what binds.",
                       school, 0.0)
    if reversal_microsteps > 2:
        return Verdict("tight", f"{said}; finer steps place no better.", "Keep them for smoothness, not for accuracy.",
                       school, 0.35)
    return Verdict("good", f"{said}.", "Nothing to do.", school, 0.85)


@check("standstill", stage="Drive")
def holds_still(
    frictionless_static_torque: float, set_torque: float, hold_fraction: float, gravity_load: float,
    counterbalance_force: float = 0.0,
) -> Verdict | None:
    """Whether the idle current holds the load up, no friction counted on."""
    if is_balanced(gravity_load, counterbalance_force):
        return None
    ratio = hold_fraction * set_torque / frictionless_static_torque
    said = f"The idle current holds {size(ratio)} times the weight, no friction counted on"
    if ratio < 1:
        return Verdict("short", f"{said}: the axis drops when it rests.", "Raise the idle current or add a counterbalance.",
                       headroom=0.0)
    return Verdict("good" if ratio >= 2 else "tight", f"{said}.",
                   "Nothing to do." if ratio >= 2 else "Raise the idle current.", headroom=share_of(ratio, 1, 2))
