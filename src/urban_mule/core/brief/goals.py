"""What the Brief asks of an axis, and how much of it is met."""

from __future__ import annotations

import numpy as np

from urban_mule.core.brief.reach import Reach
from urban_mule.core.motor.margin import SAFETY_FACTOR
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.units import LINEAR_UNITS
from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import size


class Goals:
    """What the Brief asks of an axis."""

    accuracy_wanted: Reals = given("[travel]", "A_w", "accuracy the work needs", above=0, shown=("µm", ""))
    speed_wanted: Reals = given("[travel]/s", "v_w", "speed the work needs", above=0)
    acceleration_wanted: Reals = given("[travel]/s²", "a_w", "acceleration the work needs", above=0)
    safety_factor: Reals = given(
        "", "S_f", "torque in hand at the tightest moment: 1.5 is usual, 2 is careful", default=SAFETY_FACTOR, least=1, most=10,
        label="Torque in hand")


def is_met(goal: Reals, reached: Reals, more: bool) -> bool:
    """Whether what is reached meets a goal; more: whether more of it is better."""
    return bool(reached >= goal * (1 - 1e-9) if more else reached <= goal)


@check("goals", stage="Brief", main=True)
def goals_are_set(
    unit: str, accuracy_wanted: Reals = None, speed_wanted: Reals = None, acceleration_wanted: Reals = None,
    positioning_accuracy: Reals = None, speed_reached: Reach | None = None, acceleration_reached: Reach | None = None,
) -> Verdict:
    """How many of the goals are set, how many of those are met, and what holds the first that is not."""
    if speed_wanted is None and acceleration_wanted is None and accuracy_wanted is None:
        return Verdict("unknown", "No goal is set for this axis, so nothing can be judged against one.",
                       "Write down speed, acceleration and accuracy before buying parts.",
                       missing=("speed_wanted", "acceleration_wanted", "accuracy_wanted"))
    pairs = (("speed", speed_wanted, speed_reached, "/s"), ("acceleration", acceleration_wanted, acceleration_reached, "/s²"))
    wanted = [(goal, None if reach is None else reach.value, True) for _, goal, reach, _ in pairs if goal is not None]
    wanted += [(accuracy_wanted, positioning_accuracy, False)] if accuracy_wanted is not None else []
    met = sum(1 for goal, reached, more in wanted if reached is not None and is_met(goal, reached, more))
    open_ = sum(1 for _, reached, _ in wanted if reached is None)
    said = f"{met} of {len(wanted)} goals of this axis {'is' if met == 1 else 'are'} met"
    if met == len(wanted):
        return Verdict("good", f"{said}.", "Nothing to do.", headroom=0.9)
    if met + open_ == len(wanted):
        measured = accuracy_wanted is not None and positioning_accuracy is None
        return Verdict("unknown", f"{said}; {open_} cannot be judged yet.", "Go on along the trail.",
                       missing=("positioning_reading",) if measured else ("cycle",))
    for name, goal, reach, per in pairs:
        if goal is not None and reach is not None and not is_met(goal, reach.value, True):
            scale, words = (1.0, f"m{per}") if unit in LINEAR_UNITS else (np.degrees(1.0), f"°{per}")
            return Verdict("short" if reach.stage == "Motor" else "tight",
                           f"{said}: {name} ends at {size(reach.value * scale)} {words}: {reach.why}.",
                           f"See {reach.stage}.", headroom=0.0 if reach.stage == "Motor" else 0.25)
    return Verdict("tight", f"{said}: the accuracy is not.", "See Proof.", headroom=0.25)
