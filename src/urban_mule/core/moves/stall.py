"""Homing by stalling: the interval between crashed and too early is halved until a threshold is good, then confirmed."""

from __future__ import annotations

from collections.abc import Sequence

from urban_mule.core.sheet.given import BadValue, Reals, given
from urban_mule.core.sheet.record import record

ANSWERS = ("crashed", "early", "good")
CONFIRMED = 3  # times that a good threshold has to be good
SENSES = ("more", "less")
MOST_STEPS = 100_000
HELD = ("current_peak", "microsteps", "hold_fraction", "top_speed", "top_acceleration")  # what a threshold holds for


class StallSearch:
    """What the user knows of the threshold at which the driver takes a stall for the end."""

    stall_lowest: Reals = given("", "", "lowest threshold that the driver takes", whole=True, label="Lowest threshold")
    stall_highest: Reals = given("", "", "highest threshold that the driver takes", whole=True, label="Highest threshold")
    stall_greater_is: str | None = given("", "", "whether a greater threshold is more sensitive, and stops sooner, or less",
        choices=SENSES, label="Sense of greater thresholds")
    stall_threshold: Reals = given("", "", "threshold that is used", whole=True, label="Threshold")


@record(frozen=True, eq=False, repr=False)
class StallTrial:
    """One trial: the threshold and what came of it."""

    threshold: int
    answer: str


@record(frozen=True, eq=False, repr=False)
class StallStand:
    """Where a search stands: the threshold to try next or None, the one found or None, the room to crashing and to stopping early
    in thresholds, and the sentence that says it.
    """

    next: int | None
    found: int | None
    room_to_crash: int | None
    room_to_early: int | None
    sentence: str


def stall_stand(lowest: int, highest: int, greater_is: str, trials: Sequence[StallTrial]) -> StallStand:
    """What a search has come to. greater_is: more or less sensitive. Raises BadValue for what is no search."""
    if not lowest < highest or highest - lowest > MOST_STEPS:
        raise BadValue(f"the range {lowest} to {highest} is none; allowed is a lowest below a highest, at most {MOST_STEPS} apart")
    if greater_is not in SENSES:
        raise BadValue("whether a greater threshold is more or less sensitive is not said", "stall_greater_is")
    sign = 1 if greater_is == "more" else -1
    ends = sorted((sign * lowest, sign * highest))  # as sensitivity: the least of it first
    for one in trials:
        if one.answer not in ANSWERS or not lowest <= one.threshold <= highest:
            raise BadValue(f"{one.threshold} {one.answer} is no trial; allowed is {lowest} to {highest}, {', '.join(ANSWERS)}")
    crashed = max((sign * one.threshold for one in trials if one.answer == "crashed"), default=ends[0] - 1)
    early = min((sign * one.threshold for one in trials if one.answer == "early"), default=ends[1] + 1)
    if crashed >= early:
        return StallStand(None, None, None, None, f"{sign * crashed} crashed, yet {sign * early}, which is less sensitive, stopped"
                          " early: answers contradict each other. Look for a rough place, a dragging cable or another speed; then"
                          " begin anew.")
    good = [sign * one.threshold for one in trials if one.answer == "good" and crashed < sign * one.threshold < early]
    sure = [one for one in sorted(set(good)) if good.count(one) >= CONFIRMED]
    if sure:
        best = sure[0]
        to_crash, to_early = (best - crashed if crashed >= ends[0] else None), (early - best if early <= ends[1] else None)
        room = " and ".join(f"{'not known' if one is None else one} to {words}"
                            for one, words in ((to_crash, "crashing"), (to_early, "stopping early")))
        return StallStand(None, sign * best, to_crash, to_early,
                          f"{sign * best} stopped well {CONFIRMED} times; room: {room}. It holds for this current, speed,"
                          " acceleration, microsteps and chopping only.")
    if good:
        tried = max(set(good), key=lambda one: (good.count(one), -one))
        said = f"Try {sign * tried} again: good {good.count(tried)} of {CONFIRMED} times."
        return StallStand(sign * tried, None, None, None, said)
    if early - crashed <= 1:
        where = f"between {sign * crashed}, which crashed, and {sign * early}, which stopped early" if (
            crashed >= ends[0] and early <= ends[1]) else "in this range"
        said = f"There is nothing good {where}. Change current or speed, or keep a switch at this end."
        return StallStand(None, None, None, None, said)
    middle = (crashed + early) // 2
    return StallStand(sign * middle, None, None, None, f"Try {sign * middle}; {early - crashed - 1} are left.")
