"""Plans of going to places and reading there: from both sides, along a scale, over time."""

from __future__ import annotations

from typing import Any

import numpy as np

from urban_mule.bench.sessions.rounds import (
    BY_HAND,
    FURTHEST,
    PlanAxis,
    Step,
    in_travel,
    listed,
    numbers,
    repeats_of,
    share_typed,
    spread,
    table_of,
)
from urban_mule.core.sheet.given import BadValue

START = 0.0625  # of the commanded travel: how far from the end its measuring begins
OVERRUN = 0.02  # of the travel: how far an end is passed
LONGEST_DWELL = 600.0  # s


def settings_two_way(count: int, repeats: int) -> Any:
    def settings(axis: PlanAxis) -> dict[str, Any]:
        return {"targets": spread(axis, count), "repeats": repeats, **_usual_turn(axis)}

    return settings


def _usual_turn(axis: PlanAxis) -> dict[str, Any]:
    return {"overrun": share_typed(axis, OVERRUN), "dwell": "0"}


def steps_two_way(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """Up through the targets, down through them, as often as asked; each end is passed before turning."""
    targets = sorted(in_travel(axis, numbers(settings["targets"], "targets", 1)))
    overrun, dwell = _overrun(axis, settings), _dwell(settings)
    found = []
    for repeat in range(repeats_of(settings)):
        ways = ("up", "towards plus", range(len(targets))), ("down", "towards minus", reversed(range(len(targets))))
        for table, way, order in ways:
            for number, place in enumerate(order):
                first, begin = number == 0, _before(axis, targets[place], -overrun if table == "up" else overrun)
                found.append(
                    Step(
                        f"{table}[{repeat}][{place}]",
                        f"Go to {axis.said(targets[place])}, coming {way}.{_turning(axis, begin, way) if first else ''}",
                        BY_HAND + dwell,
                        targets[place],
                        _going(begin if first else None, targets[place], dwell),
                    )
                )
    return tuple(found)


def _overrun(axis: PlanAxis, settings: dict[str, Any]) -> float:
    """How far an end is passed before turning."""
    typed = str(settings.get("overrun") or "").strip()
    if not typed:
        return OVERRUN * axis.room
    (value,) = numbers(typed, "overrun")[:1]
    if value <= 0:
        raise BadValue(f"overrun is {value:g}; a way above 0 is needed, or every place is reached from where it stands", "overrun")
    return axis.si(value)


def _dwell(settings: dict[str, Any]) -> float:
    """How long it stands before it is read [s]."""
    value = numbers(str(settings.get("dwell") or "0"), "dwell")[0]
    if not 0 <= value <= LONGEST_DWELL:
        raise BadValue(f"dwell is {value:g} s; allowed is 0 to {LONGEST_DWELL:g} s", "dwell")
    return value


def _before(axis: PlanAxis, target: float, overrun: float) -> float | None:
    """Where to begin, so that a target is reached from one side; None where the travel leaves no room for it."""
    begin = min(max(target + overrun, 0.0), np.inf if axis.travel is None else axis.travel)
    return None if begin == target else float(begin)


def _turning(axis: PlanAxis, begin: float | None, way: str) -> str:
    return f" Pass it first, then come back {way}." if begin is None else f" Begin at {axis.said(begin)}."


def _going(begin: float | None, target: float, dwell: float = 0.0) -> tuple[tuple[Any, ...], ...]:
    """The acts of going to a target and reading there."""
    return (
        *((("move", begin),) if begin is not None else ()),
        ("move", target),
        *((("dwell", dwell),) if dwell else ()),
        ("read",),
    )


def columns_two_way(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    targets = sorted(settings["places"])
    up, down = (table_of(values, name, len(targets)) for name in ("up", "down"))
    whole = min(len(up), len(down))
    return {"targets": targets, "up": up[:whole], "down": down[:whole]}


def settings_travel(axis: PlanAxis) -> dict[str, Any]:
    return {"commanded": share_typed(axis, 0.8), "repeats": 5}


def steps_travel(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """One commanded travel, measured as often as settings say. Raises BadValue."""
    commanded = in_travel(axis, numbers(settings["commanded"], "commanded"))[0]
    if commanded == 0:
        raise BadValue("commanded is 0; a travel to measure is needed", "commanded")
    start = min(START * commanded, max((axis.travel or np.inf) - commanded, 0.0))
    does = (("move", 0.0), ("move", start), ("zero",), ("move", start + commanded), ("read",))
    return tuple(
        Step(
            f"measured[{n}]",
            f"Go to the start towards plus and zero the gauge; go {axis.said(commanded)} on. Read the length.",
            2.5 * BY_HAND,
            float(n),
            does,
            commanded,
        )
        for n in range(repeats_of(settings))
    )


def settings_lengths(axis: PlanAxis) -> dict[str, Any]:
    targets = share_typed(axis, *np.linspace(0.1, FURTHEST, 5))
    return {"targets": targets, "repeats": 3, **_usual_turn(axis)}


def steps_lengths(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    targets = sorted(in_travel(axis, numbers(settings["targets"], "targets", 2)))
    overrun, dwell = _overrun(axis, settings), _dwell(settings)
    return tuple(
        Step(
            f"measured[{repeat}][{place}]",
            f"Go to {axis.said(target)}, coming towards plus. Read where it stands.",
            BY_HAND + dwell,
            target,
            _going(_before(axis, target, -overrun) if place == 0 else None, target, dwell),
            target,
        )
        for repeat in range(repeats_of(settings))
        for place, target in enumerate(targets)
    )


def columns_lengths(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    targets = sorted(settings["places"])
    return {"commanded": targets, "measured": table_of(values, "measured", len(targets))}


def steps_drift(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """One target at rising times from cold. Raises BadValue."""
    minutes = sorted(numbers(settings["minutes"], "minutes", 3))
    if minutes[0] < 0:
        raise BadValue(f"minutes begin at {minutes[0]:g}; the cold start is 0", "minutes")
    target = in_travel(axis, numbers(settings["targets"], "targets"))[0]
    place, begin = axis.said(target), _before(axis, target, -OVERRUN * axis.room)
    gaps = [minutes[0], *np.diff(minutes)]
    return tuple(
        Step(
            f"deviation[{n}]",
            _while_it_runs(minute, n, f"go to {place} towards plus and read the indicator"),
            max(BY_HAND, float(gap) * 60),
            minute * 60,
            ((("wait", float(gap) * 60),) if gap else ()) + _going(begin, target),
        )
        for n, (minute, gap) in enumerate(zip(minutes, gaps, strict=True))
    )


def _while_it_runs(minute: float, number: int, reads: str) -> str:
    """What the hand does between the numbers: the cycle runs, and rests only for the reading."""
    if number == 0:
        when = "Cold" if minute == 0 else f"{minute:g} minutes after switching on"
        return f"{when}: {reads}. Then start the cycle and let it run."
    return f"At {minute:g} minutes stop the cycle, {reads}, and start the cycle again."


def columns_drift(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    deviation = listed(values, "deviation")
    return {
        "time": [minute * 60 for minute in sorted(numbers(settings["minutes"], "minutes", 3))][: len(deviation)],
        "deviation": deviation,
    }
