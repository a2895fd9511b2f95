"""Plans of two axes at once: a circle by a bar on two pivots or a dial on a turning arm, diagonals, a square, a straight edge."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

import numpy as np

from urban_mule.bench.sessions.by_stand import SETTING_UP, STAND
from urban_mule.bench.sessions.gauged import OVERRUNS
from urban_mule.bench.sessions.plain import plain_number
from urban_mule.bench.sessions.rounds import BY_HAND, PlanAxis, Step, in_travel, listed, numbers, repeats_of, rounded
from urban_mule.core.sheet.given import BadValue

SECOND = "second"  # the setting that names the other axis
LEAST_ANGLES, MOST_ANGLES = 8, 360
SHORT = 0.8  # of the shorter travel that is used
BARS = ("bar", "arm")
WAYS = ("counterclockwise", "clockwise")


def other_of(axis: PlanAxis, settings: dict[str, Any]) -> tuple[str, float]:
    """The other axis of a plan and its travel [m]. Raises BadValue."""
    others = dict(axis.others)
    name = str(settings.get(SECOND) or next(iter(others), ""))
    if name not in others:
        there = ", ".join(others) or "none: no other axis runs along a line"
        raise BadValue(f"the other axis is {name[:20] or 'not chosen'}; allowed is {there}", SECOND)
    if others[name] is None:
        raise BadValue(f"how far does {name} travel? Give it on the Brief", SECOND)
    return name, float(others[name])  # type: ignore[arg-type]


def _two(text: Any, name: str) -> list[float]:
    """Two numbers, which may be alike, as they are typed. Raises BadValue."""
    try:
        found = [plain_number(part) for part in str(text).replace(";", " ").split()]
    except ValueError:
        found = []
    if len(found) != 2:
        raise BadValue(f"{name} is “{str(text)[:30]}”; two numbers are needed, such as 400 300", name)
    return found


def _least_travel(axis: PlanAxis) -> float | None:
    known = [one for _, one in axis.others if one is not None]
    return None if axis.travel is None or not known else min(axis.travel, known[0])


def settings_circle(axis: PlanAxis) -> dict[str, Any]:
    short = _least_travel(axis)
    second = next(iter(dict(axis.others)), "")
    if short is None:
        return {SECOND: second, "radius": "", "centre": "", "every": "15", "by": BARS[0]}
    travel = dict(axis.others)[second] or short
    radius = min(0.15, SHORT * short / 2)
    return {SECOND: second, "radius": rounded(axis, [radius]), "centre": rounded(axis, [(axis.travel or short) / 2, travel / 2]),
            "every": "15", "by": BARS[0]}


def steps_circle(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """Round a circle and back, angle by angle, half an angle ahead of the first each way. Raises BadValue."""
    name, travel = other_of(axis, settings)
    radius = axis.si(numbers(settings["radius"], "radius")[0])
    centre = [axis.si(one) for one in _two(settings["centre"], "centre")]
    every = numbers(settings["every"], "every")[0]
    by = str(settings.get("by") or BARS[0])
    if by not in BARS:
        raise BadValue(f"by is {by[:20]}; allowed is {' or '.join(BARS)}", "by")
    if not MOST_ANGLES / MOST_ANGLES <= every <= MOST_ANGLES / LEAST_ANGLES:
        raise BadValue(f"every is {every:g}°; allowed is 1 to {MOST_ANGLES / LEAST_ANGLES:g}°", "every")
    if radius <= 0:
        raise BadValue("radius is 0; a length above 0 is needed", "radius")
    for at, far, whose in zip(centre, (axis.room, travel), ("the first axis", name), strict=True):
        if not radius <= at <= far - radius:
            raise BadValue(f"the circle leaves the travel of {whose}, {axis.said(far)}", "radius")
    sagging, gauge = radius * (1 - math.cos(math.radians(every) / 2)), axis.gauge
    if gauge is not None and gauge.reach is not None and sagging > OVERRUNS * gauge.reach:
        raise BadValue(f"straight from angle to angle the carriage comes {axis.said(sagging)} nearer, which would crush the"
                       f" {gauge.name}; take more angles", "every")
    return tuple(_round(axis, name, radius, centre, every, by))


def _round(axis: PlanAxis, name: str, radius: float, centre: list[float], every: float, by: str) -> Iterator[Step]:
    def at(angle: float) -> tuple[float, float]:
        turn = math.radians(angle)  # to a micrometre, so that a person can type it
        return round(centre[0] + radius * math.cos(turn), 6), round(centre[1] + radius * math.sin(turn), 6)

    def said(angle: float) -> str:
        x, y = at(angle)
        return f"{axis.said(x)} and {name} {axis.said(y)}"

    how = ("one pivot of the bar on the table at the centre and the other on the carriage" if by == BARS[0] else
           "the arm on its pivot at the centre, its dial on the carriage")
    x, y = at(0.0)
    middle = f"{axis.said(centre[0])} and {name} {axis.said(centre[1])}"
    yield Step(f"{STAND}[0]", f"Mark the centre at {middle}. Go to {said(0.0)}. Put {how}, the gauge pressed in by half its reach,"
               " and set it to zero.", SETTING_UP, 0.0, (("clear",), ("move", x), ("second", y), ("stand",)), asks="done")
    angles = np.arange(0.0, 360.0, every)
    for way, order in ((WAYS[0], range(len(angles))), (WAYS[1], reversed(range(len(angles))))):
        ahead = -every / 2 if way == WAYS[0] else every / 2
        for number, place in enumerate(order):
            angle = float(angles[place])
            bx, by_ = at(angle + ahead)
            x, y = at(angle)
            begin = (("move", bx), ("second", by_)) if number == 0 else ()
            first = f"Begin at {said(angle + ahead)}. " if number == 0 else ""
            yield Step(f"{way}[{place}]", f"{first}{angle:g}°: go {way} to {said(angle)}. Read the gauge.", BY_HAND,
                       math.radians(angle), (*begin, ("move", x), ("second", y), ("gauge", "circle", *centre, radius)))


def columns_circle(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    """What a circle's numbers make of a reading: each way the angles that were read. Raises BadValue where none was."""
    axis = settings["axis"]
    every = numbers(settings["every"], "every")[0]
    angles = np.radians(np.arange(0.0, 360.0, every))
    found: dict[str, Any] = {"radius": axis.si(numbers(settings["radius"], "radius")[0])}
    for way in WAYS:
        taken = [n for n in range(angles.size) if f"{way}[{n}]" in values]
        if taken:
            found[way] = {"angle": [float(angles[n]) for n in taken], "deviation": [values[f"{way}[{n}]"] for n in taken]}
    if len(found) == 1:
        raise BadValue("not even one angle was read")
    return found


def settings_diagonals(axis: PlanAxis) -> dict[str, Any]:
    """Sides as three to four, so that the diagonal is five."""
    short = _least_travel(axis)
    unit = None if short is None else SHORT * short / 4
    sides = "" if unit is None else rounded(axis, [4 * unit, 3 * unit])
    return {SECOND: next(iter(dict(axis.others)), ""), "sides": sides, "repeats": 3}


def steps_diagonals(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """Four corners marked, both diagonals measured by a scale. Raises BadValue."""
    name, travel = other_of(axis, settings)
    wide, high = (axis.si(one) for one in _two(settings["sides"], "sides"))
    for far, room, whose in ((wide, axis.room, "the first axis"), (high, travel, name)):
        if not 0 < far <= room:
            raise BadValue(f"a side of {axis.said(far)} does not fit into the travel of {whose}, {axis.said(room)}", "sides")
    corners = {"1": (0.0, 0.0), "2": (wide, 0.0), "3": (wide, high), "4": (0.0, high)}
    found = [Step(f"{STAND}[{n}]", f"Go to {axis.said(x)} and {name} {axis.said(y)}, coming towards plus with both, and mark corner"
                  f" {corner} with a fine point.", 2 * BY_HAND, float(n), (("move", x), ("second", y)), asks="done")
             for n, (corner, (x, y)) in enumerate(corners.items())]
    for repeat in range(repeats_of(settings)):
        found += [Step(f"{which}[{repeat}]", f"Measure from corner {one} to corner {other} with the scale.", 2 * BY_HAND,
                       float(repeat), (("gauge", "distance", *corners[one], *corners[other]),))
                  for which, one, other in (("diagonal_plus", "1", "3"), ("diagonal_minus", "2", "4"))]
    return tuple(found)


def columns_diagonals(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    """What both diagonals make of a reading. Raises BadValue where one was not measured."""
    axis = settings["axis"]
    wide, high = (axis.si(one) for one in _two(settings["sides"], "sides"))
    taken = {which: listed(values, which) for which in ("diagonal_plus", "diagonal_minus")}
    if not all(taken.values()):
        raise BadValue("both diagonals are needed")
    return {"side_x": wide, "side_y": high, **{which: float(np.mean(lengths)) for which, lengths in taken.items()}}


def settings_along(axis: PlanAxis) -> dict[str, Any]:
    return {SECOND: next(iter(dict(axis.others)), ""), "targets": _spaced(axis, axis.travel)}


def _spaced(axis: PlanAxis, far: float | None) -> str:
    """Seven places along a travel; nothing where it is not known."""
    return "" if far is None else rounded(axis, np.linspace(0.1, 0.9, 7) * far)


def settings_square(axis: PlanAxis) -> dict[str, Any]:
    second = next(iter(dict(axis.others)), "")
    return {SECOND: second, "targets": _spaced(axis, dict(axis.others).get(second))}


def steps_square(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """Along the blade of a square by the second axis, the dial read along the first. Raises BadValue."""
    name, travel = other_of(axis, settings)
    places = sorted(axis.si(one) for one in numbers(settings["targets"], "targets", 2))
    if places[0] < 0 or places[-1] > travel * (1 + 1e-9):
        raise BadValue(f"{axis.said(places[-1])} lies outside the travel of {name}, {axis.said(travel)}", "targets")
    put = (f"Lay the square on the table, its stock set along the first axis by moving along it. Go to {name}"
           f" {axis.said(places[0])}. Let the dial on the carriage touch the blade, pressed in by half its reach, along the first"
           " axis; set it to zero.")
    return tuple(_edge(axis, places, put, f"{name} ", True))


def steps_straightness(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """Along a straight edge by the first axis, the dial read along the second. Raises BadValue."""
    name, _ = other_of(axis, settings)
    places = sorted(in_travel(axis, numbers(settings["targets"], "targets", 3)))
    put = (f"Lay the straight edge along the axis, its ends set alike by the dial. Go to {axis.said(places[0])}. Let the dial on"
           f" the carriage touch the edge, pressed in by half its reach, along {name}; set it to zero.")
    return tuple(_edge(axis, places, put, "", False))


def _edge(axis: PlanAxis, places: list[float], put: str, moves: str, second: bool) -> Iterator[Step]:
    """The edge put down, then place by place and back; the second way tells what the gauge wandered."""
    verb, what = ("second", "square") if second else ("move", "straightness")
    yield Step(f"{STAND}[0]", put, SETTING_UP, places[0], (("clear",), (verb, places[0]), ("stand",)), asks="done")
    for table, order in (("there", range(len(places))), ("back", reversed(range(len(places))))):
        for place in order:
            words = f"Go to {moves}{axis.said(places[place])}. Read the gauge."
            does = (verb, places[place]), ("gauge", what, places[place], places[0])
            yield Step(f"{table}[{place}]", words, BY_HAND, places[place], does)


def columns_along(settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    """What numbers beside an edge make of a reading: each place with the mean of its own."""
    axis = settings["axis"]
    places = sorted(axis.si(one) for one in numbers(settings["targets"], "targets", 2))
    found: dict[str, list[float]] = {"places": [], "deviation": []}
    for n, place in enumerate(places):
        taken = [values[at] for at in (f"there[{n}]", f"back[{n}]") if at in values]
        if taken:
            found["places"].append(place)
            found["deviation"].append(float(np.mean(taken)))
    return found
