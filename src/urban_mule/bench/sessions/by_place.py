"""Plans of going to places and reading there: from both sides, along a scale, over time."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from typing import Any

import numpy as np

from urban_mule.bench.sessions.by_stand import along_faces, at_stands, close, crushes, from_one_stand, reaches, usual_overrun
from urban_mule.bench.sessions.gauged import STEP_GAUGE, SURE_REACH
from urban_mule.bench.sessions.rounds import (
    BY_HAND,
    FURTHEST,
    PlanAxis,
    Preset,
    Step,
    as_typed,
    in_travel,
    listed,
    numbers,
    repeats_of,
    rounded,
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
    return {"overrun": "" if axis.travel is None else as_typed(axis, [usual_overrun(axis, OVERRUN * axis.travel)]), "dwell": "0"}


def steps_two_way(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """Up through the targets, down through them, as often as asked; each end is passed before turning.

    Where the gauge does not reach from the first to the last, place by place, each with its own zero.
    """
    targets = sorted(in_travel(axis, numbers(settings["targets"], "targets", 1)))
    overrun, dwell = _overrun(axis, settings), _dwell(settings)
    if axis.gauge is not None and axis.gauge.kind == STEP_GAUGE:
        return along_faces(axis, targets, overrun, dwell, repeats_of(settings))
    if not reaches(axis, targets, overrun):
        return at_stands(axis, targets, overrun, partial(_at_one_place, axis, overrun, dwell, repeats_of(settings)))
    steps = from_one_stand(axis, targets[0], overrun, _along(axis, targets, overrun, dwell, settings))
    return steps if steps[0].asks == "number" else (*steps, close(axis, 0, targets[0], overrun))


def _at_one_place(axis: PlanAxis, overrun: float, dwell: float, repeats: int, number: int, target: float) -> Iterator[Step]:
    """All repeats of both ways at one place, each passed before it is read."""
    for repeat in range(repeats):
        for table, way, sign in (("up", "towards plus", -1.0), ("down", "towards minus", 1.0)):
            begin = _before(axis, target, sign * overrun)
            first = "Pass it" if begin is None else f"Go to {axis.said(begin)}"
            yield Step(f"{table}[{repeat}][{number}]", f"{first}, then to {axis.said(target)}, coming {way}. Read the gauge.",
                       BY_HAND + dwell, target, _going(begin, target, dwell))


def _along(
    axis: PlanAxis, targets: list[float], overrun: float, dwell: float, settings: dict[str, Any]
) -> tuple[Step, ...]:
    """Up through all targets and down through them."""
    found = []
    for repeat in range(repeats_of(settings)):
        ways = ("up", "towards plus", range(len(targets))), ("down", "towards minus", reversed(range(len(targets))))
        for table, way, order in ways:
            for number, place in enumerate(order):
                first, begin = number == 0, _before(axis, targets[place], -overrun if table == "up" else overrun)
                found.append(
                    Step(
                        f"{table}[{repeat}][{place}]",
                        _led_to(axis, begin if first else None, targets[place], way, first),
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
        return usual_overrun(axis, OVERRUN * axis.room)
    (value,) = numbers(typed, "overrun")[:1]
    if value <= 0:
        raise BadValue(f"overrun is {value:g}; a way above 0 is needed, or every place is reached from where it stands", "overrun")
    why = crushes(axis, axis.si(value))
    if why:
        raise BadValue(why, "overrun")
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


def _led_to(axis: PlanAxis, begin: float | None, target: float, way: str, turns: bool) -> str:
    """What the hand does on the way to a target, in order. turns: whether it comes from the other side now."""
    there = f"{axis.said(target)}, coming {way}"
    if not turns:
        return f"Go to {there}."
    return f"Pass {axis.said(target)}, then come back {way}." if begin is None else f"Go to {axis.said(begin)}, then to {there}."


def _going(begin: float | None, target: float, dwell: float = 0.0) -> tuple[tuple[Any, ...], ...]:
    """The acts of going to a target and reading there."""
    return (
        *((("move", begin),) if begin is not None else ()),
        ("move", target),
        *((("dwell", dwell),) if dwell else ()),
        ("read",),
    )


def steps_positioning(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """A run from end to end and back; each place has the same zero, so that the gauge reaches all of it or goes by a reference."""
    targets = sorted(in_travel(axis, numbers(settings["targets"], "targets", 1)))
    overrun, gauge = _overrun(axis, settings), axis.gauge
    if gauge is not None and gauge.kind != STEP_GAUGE and not reaches(axis, targets, overrun):
        wave = axis.turn is not None and gauge.reach is not None and axis.turn + 2 * overrun <= gauge.reach
        more = ", and the wave within one turn" if wave else ""
        gauge.needs(targets[-1] - targets[0] + 2 * overrun, f"from {axis.said(targets[0])} to {axis.said(targets[-1])}", "targets",
                    "a run over the travel needs a scale along the axis, or a step gauge or blocks with their lengths; with this"
                    f" one the backlash and its scatter can be measured{more}")
    return steps_two_way(axis, settings)


def columns_two_way(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    targets = sorted(settings["places"])
    up, down = (table_of(values, name, len(targets)) for name in ("up", "down"))
    whole = min(len(up), len(down))
    return {"targets": targets, "up": up[:whole], "down": down[:whole]}


AT_ENDS, IN_TURN, PLACES = 2, 8, 3  # targets of a first run, within a turn, and of a gauge that does not reach the travel
FEW = 5  # targets below which a run was a first one


def presets_positioning(axis: PlanAxis) -> tuple[Preset, ...]:
    """First both ends both ways: the line and the reversal; then one turn: the wave; at the end the run by the standard."""
    if axis.travel is None:
        return ()
    count, far = axis.run
    turn = axis.turn if axis.turn is not None and axis.turn < 0.4 * axis.travel else None
    short = turn is not None and count >= FEW and far <= 2 * turn
    ends = {"targets": rounded(axis, [0.06 * axis.travel, 0.94 * axis.travel]), "repeats": 2, **_usual_turn(axis)}
    whole = axis.gauge is None or axis.gauge.reach is None or axis.gauge.kind == STEP_GAUGE or axis.gauge.reach >= axis.travel
    found = [Preset("two ends, both ways", "the scale, the reversal and the scatter, in a minute or two", ends,
                    whole and count == 0)]
    if turn is not None:
        within = {"targets": _within_turn(axis, turn), "repeats": 2, **_usual_turn(axis)}
        found.append(Preset("within one turn", "the wave that repeats with the screw or pulley", within,
                            0 < count < FEW or not whole))
    proof = settings_two_way(11, 5)(axis)
    found.append(Preset("by the standard", "the proof: accuracy and repeatability as ISO 230-2 has them", proof,
                        whole and (count >= FEW or (turn is None and count > 0) or short)))
    return tuple(found)


def _within_turn(axis: PlanAxis, turn: float) -> str:
    """Targets within one turn at mid-travel, never in step with an eighth of it."""
    random = np.random.default_rng(1).uniform(-0.3, 0.3, IN_TURN)
    start = 0.5 * (axis.travel or turn) - turn / 2
    return rounded(axis, start + (np.arange(IN_TURN) + 0.5 + random) * turn / IN_TURN)


def presets_reversal(axis: PlanAxis) -> tuple[Preset, ...]:
    """A few places where the gauge has to be moved, else five along the travel."""
    if axis.travel is None:
        return ()
    moved = axis.gauge is not None and axis.gauge.reach is not None and axis.gauge.reach < axis.travel
    few = {"targets": spread(axis, PLACES), "repeats": 3, **_usual_turn(axis)}
    return (Preset("three places", "how much is lost at a reversal, and whether it differs along the travel", few, moved),
            Preset("five places", "the same, and where along the travel", settings_two_way(5, 3)(axis), not moved))


def settings_travel(axis: PlanAxis) -> dict[str, Any]:
    if axis.travel is None:
        return {"commanded": "", "repeats": 5}
    return {"commanded": rounded(axis, [min(0.8 * axis.travel, reach_of(axis))]), "repeats": 5}


def reach_of(axis: PlanAxis) -> float:
    """How far its gauge is used [travel]; endless where nothing is said of it."""
    return np.inf if axis.gauge is None or axis.gauge.reach is None else SURE_REACH * axis.gauge.reach


def _in_reach(axis: PlanAxis, far: float, name: str) -> None:
    """Raises BadValue where the gauge does not reach so far, with what it can do."""
    if axis.gauge is not None and axis.gauge.pressed:
        raise BadValue(f"the {axis.gauge.name} does not reach {axis.said(far)} from one zero; lengths want a caliper, or a scale"
                       " along the axis", name)
    if axis.gauge is not None:
        most = axis.said(reach_of(axis)) if axis.gauge.reach is not None else ""
        axis.gauge.needs(far, axis.said(far), name, f"with it at most {most} can be measured; a scale along the axis reaches all")


def steps_travel(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """One commanded travel, measured as often as settings say. Raises BadValue."""
    commanded = in_travel(axis, numbers(settings["commanded"], "commanded"))[0]
    if commanded == 0:
        raise BadValue("commanded is 0; a travel to measure is needed", "commanded")
    _in_reach(axis, commanded, "commanded")
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
    targets = "" if axis.travel is None else rounded(axis, np.linspace(0.1, FURTHEST, 5) * min(axis.travel, reach_of(axis)))
    return {"targets": targets, "repeats": 3, **_usual_turn(axis)}


def steps_lengths(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    targets = sorted(in_travel(axis, numbers(settings["targets"], "targets", 2)))
    _in_reach(axis, targets[-1], "targets")
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
    overrun = usual_overrun(axis, OVERRUN * axis.room)
    place, begin = axis.said(target), _before(axis, target, -overrun)
    gaps = [minutes[0], *np.diff(minutes)]
    return from_one_stand(axis, target, overrun, tuple(
        Step(
            f"deviation[{n}]",
            _while_it_runs(minute, n, f"go to {place} towards plus and read the indicator"),
            max(BY_HAND, float(gap) * 60),
            minute * 60,
            ((("wait", float(gap) * 60),) if gap else ()) + _going(begin, target),
        )
        for n, (minute, gap) in enumerate(zip(minutes, gaps, strict=True))
    ))


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
