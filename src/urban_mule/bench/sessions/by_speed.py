"""Plans of first moves: homing again and again, a ladder of speeds."""

from __future__ import annotations

from typing import Any

from urban_mule.bench.sessions.by_hand import positive
from urban_mule.bench.sessions.by_stand import from_one_stand
from urban_mule.bench.sessions.plain import plain_number
from urban_mule.bench.sessions.rounds import (
    BY_HAND,
    PlanAxis,
    Step,
    in_travel,
    listed,
    numbers,
    repeats_of,
    share_typed,
)
from urban_mule.core.readings.ladder import DIRECTIONS, steps_lost
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.wording import typed

MOST_TIMES = 100  # there and back on a step of the ladder
SLOWLY = 0.25  # of the speed of a rung: how the way back is made where only one way counts


def settings_homing(axis: PlanAxis) -> dict[str, Any]:
    return {"targets": share_typed(axis, 0.05), "repeats": 10}


def steps_homing(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    target = in_travel(axis, numbers(settings["targets"], "targets"))[0]
    return from_one_stand(axis, target, target, tuple(
        Step(f"places[{n}]", f"Home the axis, then go to {axis.said(target)}. Read the indicator.", 2 * BY_HAND, float(n),
             (("home",), ("move", target), ("read",)))
        for n in range(repeats_of(settings))), side="plus")


def columns_homing(_settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    return {"places": listed(values, "places")}


def settings_ladder(axis: PlanAxis) -> dict[str, Any]:
    rungs = [f"{typed(speed / axis.si(1.0))}/{typed(acceleration / axis.si(1.0))}" for speed, acceleration in axis.rungs]
    return {"rungs": " ".join(rungs), "distance": share_typed(axis, 0.6), "times": "3", "direction": "plus"}


def rungs_of(axis: PlanAxis, settings: dict[str, Any]) -> list[tuple[float, float]]:
    """Speed and acceleration of each rung in SI. Raises BadValue."""
    found = []
    for word in str(settings["rungs"]).replace(";", " ").split():
        parts = word.split("/")
        try:
            speed, acceleration = (plain_number(part) * axis.si(1.0) for part in parts)
        except ValueError:
            raise BadValue(f"“{word[:20]}” is no ladder step; allowed is speed/acceleration, such as 300/4000", "rungs") from None
        if speed <= 0 or acceleration <= 0:
            raise BadValue(f"“{word[:20]}” is no ladder step; both numbers are above 0", "rungs")
        found.append((speed, acceleration))
    if not found:
        raise BadValue("no ladder step is given; allowed is speed/acceleration, such as 300/4000, apart by spaces", "rungs")
    return found


def steps_ladder(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """Rungs of rising speed, each there and back. Raises BadValue."""
    distance = in_travel(axis, [positive(settings, "distance") or 0.0])[0]
    often, direction = positive(settings, "times") or 1.0, str(settings.get("direction") or "both")
    if often > MOST_TIMES or often != int(often):
        raise BadValue(f"times is {often:g}; allowed is a whole number from 1 to {MOST_TIMES}", "times")
    times = int(often)
    if direction not in DIRECTIONS:
        raise BadValue(f"direction is {direction[:20]}; allowed is both, plus or minus", "direction")
    unit = axis.place_unit
    found = []
    for n, (speed, acceleration) in enumerate(rungs_of(axis, settings)):
        there, back = ((speed, acceleration) if direction in ("both", way) else (SLOWLY * speed, SLOWLY * acceleration)
                       for way in ("plus", "minus"))
        moves = (("run", distance, *there), ("run", 0.0, *back)) * times
        how = "out and back" if direction == "both" else f"to {direction} at these, the other way slowly"
        fast, quick = speed / axis.si(1.0), acceleration / axis.si(1.0)
        rung = f"{typed(fast)} {unit}/s with {typed(quick)} {unit}/s²"
        found.append(Step(
            f"returned[{n}]",
            f"Go to 0 and zero the gauge. {rung}: {times} times {how}, {axis.said(distance)}. Read how far off"
            " it is.",
            BY_HAND + 2 * times * (distance / speed + speed / acceleration), float(n),
            (("move", 0.0), ("zero",), *moves, ("read",))))
    return from_one_stand(axis, 0.0, 0.0, tuple(found), side="minus")


def led_ladder(axis: PlanAxis, settings: dict[str, Any], values: dict[str, float]) -> str:
    """The place of the next rung: speed by speed, the middle of those between the last that held and the first that lost steps.

    Where nobody knows how long a full step is, each in its turn. Raises BadValue.
    """
    rungs = rungs_of(axis, settings)
    places = [f"returned[{n}]" for n in range(len(rungs))]
    if not axis.full_step:
        return next((place for place in places if place not in values), "")
    for speed in dict.fromkeys(speed for speed, _ in rungs):
        rising = sorted((n for n, rung in enumerate(rungs) if rung[0] == speed), key=lambda n: rungs[n][1])
        taken = [values.get(places[n]) for n in rising]
        high = next((k for k, off in enumerate(taken) if off is not None and steps_lost(off, axis.full_step)), len(rising))
        low = max((k for k in range(high) if taken[k] is not None), default=-1)
        if high - low > 1:
            return places[rising[(low + high) // 2]]
    return ""


def columns_ladder(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    taken = [(*rung, off) for n, rung in enumerate(rungs_of(settings["axis"], settings))
             if (off := values.get(f"returned[{n}]")) is not None]
    return {"speed": [speed for speed, _, _ in taken], "acceleration": [acceleration for _, acceleration, _ in taken],
            "returned": [off for *_, off in taken], "direction": str(settings.get("direction") or "both")}
