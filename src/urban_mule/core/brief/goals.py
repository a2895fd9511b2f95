"""What the Brief asks of an axis, and how much of it is met."""

from __future__ import annotations

from urban_mule.core.motor.margin import SAFETY_FACTOR
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.verdict import Verdict, check


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


@check("goals", stage="Brief")
def goals_are_set(
    accuracy_wanted: Reals = None, speed_wanted: Reals = None, acceleration_wanted: Reals = None,
    positioning_accuracy: Reals = None, top_speed: Reals = None, top_acceleration: Reals = None,
) -> Verdict:
    """How many of the goals are set, and how many of those are met."""
    pairs = ((speed_wanted, top_speed, True), (acceleration_wanted, top_acceleration, True),
             (accuracy_wanted, positioning_accuracy, False))
    wanted = [(goal, reached, more) for goal, reached, more in pairs if goal is not None]
    if not wanted:
        return Verdict("unknown", "No goal is set for this axis, so nothing can be judged against one.",
                       "Write down speed, acceleration and accuracy before buying parts.")
    met = sum(1 for goal, reached, more in wanted if reached is not None and is_met(goal, reached, more))
    open_ = sum(1 for _, reached, _ in wanted if reached is None)
    said = f"{met} of {len(wanted)} goals of this axis are met"
    if met == len(wanted):
        return Verdict("good", f"{said}.", "Nothing to do.", headroom=0.9)
    if met + open_ == len(wanted):
        return Verdict("unknown", f"{said}; {open_} cannot be judged yet.", "Go on along the trail.")
    return Verdict("tight", f"{said}.", "Follow the trail to the stage that falls short.", headroom=0.25)
