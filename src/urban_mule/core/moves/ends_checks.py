"""Judgements on homing, on the switch and on the soft limits."""

from __future__ import annotations

from collections.abc import Callable

from urban_mule.core.moves.ends import ANYWHERE, SwitchLogic
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import distance, pace

SCHOOLS = {
    "switch": "Approach: a switch. It is found again at any current and speed.",
    "stall": "Approach: by the stall. Nothing to mount and wire; the threshold is searched anew after each change of current or"
    " speed.",
    "switch and stall": "Approach: both. The switch gives the place, the stall stops what the switch missed.",
    ANYWHERE: "Approach: never home. Quick for one piece at a time; nothing is found again after power was off.",
}


def said(*names: str) -> Callable[[Solution], bool]:
    """Whether one of these is given."""
    return lambda solution: any(solution.get(name) is not None for name in names)


@check("way of homing", stage="Moves", applies=said("home_by"))
def homing_suits(
    home_by: str, unit: str, home_end: str | None = None, homing_speed: Reals = None, homing_speed_limit: Reals = None,
    stall_threshold: Reals = None,
) -> Verdict:
    """Whether the end is found, and not run into."""
    school = SCHOOLS[home_by]
    if home_by == ANYWHERE:
        return Verdict("tight", "Zero is set where the work is; the controller does not know where the ends are.",
                       "It gives up soft limits, and any place once power was off. Keep a hand on the stop; mark the place.",
                       school, headroom=0.2)
    if home_end is None:
        return Verdict("unknown", "At which end it homes is not said.", "Look at it, and say minus or plus.", school,
                       missing=("home_end",))
    if home_by == "stall":
        if stall_threshold is None:
            return Verdict("unknown", "No threshold is found yet.", "Search it on the leaf stall.", school,
                           missing=("stall_threshold",))
        return Verdict("good", f"Homes to {home_end} by the stall, threshold {stall_threshold:g}.", "Nothing to do.", school,
                       headroom=0.6)
    if homing_speed_limit is None:
        return Verdict("unknown", "How fast the switch may be approached is not known.", "Measure the room behind it.", school,
                       missing=("switch_overtravel",))
    most = pace(homing_speed_limit, unit)
    if homing_speed is None:
        return Verdict("unknown", f"The switch may be approached at {most} at most; with what it is, is not said.",
                       "Choose a speed below it.", school, missing=("homing_speed",))
    if homing_speed > homing_speed_limit:
        return Verdict("short", f"Approached at {pace(homing_speed, unit)} it runs onto the hard end; {most} still stops before.",
                       "Home slower, or move the switch inwards.", school, headroom=0.0)
    return Verdict("good", f"Homes to {home_end} by {home_by} at {pace(homing_speed, unit)}; up to {most} it stops in time.",
                   "Nothing to do.", school, headroom=float(min(1.0, 1 - homing_speed / homing_speed_limit)))


@check("switch", stage="Moves", applies=said("switch_free", "switch_pressed", "switch_wire_off"))
def switch_fails_safe(switch_logic: SwitchLogic) -> Verdict:
    """Which logic to set, and whether a broken wire stops the axis."""
    if not switch_logic.works:
        return Verdict("short", "Pressed and free the input shows the same: the switch does nothing.",
                       "Look for the wrong input, a wire on the unused contact, or a missing pull-up.", headroom=0.0)
    logic = f"Set the input to answer at {switch_logic.active}"
    if not switch_logic.fails_safe:
        return Verdict("tight", f"Normally open: with its wire off the input looks free, and the axis runs on. {logic}.",
                       "Use its other contact, so that a broken wire stops the axis.", headroom=0.2)
    return Verdict("good", f"Normally closed: a broken wire looks like a pressed switch and stops the axis. {logic}.",
                   "Nothing to do.", headroom=0.9)


@check("soft limits", stage="Moves", applies=said("home_end"))
def soft_limits_suit(
    soft_limit_low: Reals, soft_limit_high: Reals, soft_limit_room: Reals, unit: str, cycle_span: Reals = None,
) -> Verdict | None:
    """Whether the controller keeps the axis off its ends."""
    low, high = float(soft_limit_low), float(soft_limit_high)
    if low >= high:
        return Verdict("short", "Nothing is left between the soft limits: the travel is shorter than twice"
                       f" {distance(soft_limit_room, unit)}.", "Keep off less, or look at the travel.", headroom=0.0)
    between = f"Soft limits at {distance(low, unit)} and {distance(high, unit)}"
    if not low <= 0 <= high:
        return Verdict("short", f"{between}: zero lies outside of them.",
                       "Move zero inwards by its offset, or keep off less.", headroom=0.0)
    if cycle_span is not None and cycle_span > (high - low) * (1 + 1e-9):
        return Verdict("short", f"{between}; the moves span {distance(cycle_span, unit)}.", "Keep off less, or shorten the moves.",
                       headroom=0.0)
    if soft_limit_room == 0:
        return Verdict("tight", f"{between} lie where the ends answer: a switch that scatters stops the work.",
                       "Keep off by a little, so that a slow move never meets a switch.", headroom=0.2)
    return Verdict("good", f"{between}.", "Nothing to do.", headroom=0.9)
