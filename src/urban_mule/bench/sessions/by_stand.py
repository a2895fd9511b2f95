"""Plans of a gauge on a stand: what is set up before the numbers, place by place where it does not reach the whole travel."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from typing import Any

from urban_mule.bench.sessions.doubt import pooled
from urban_mule.bench.sessions.gauged import HALF, LONGEST_SENSE, OVERRUNS, SENSE, PlanGauge
from urban_mule.bench.sessions.rounds import BY_HAND, PlanAxis, Step

LEANING, ROUNDED, HARDLY = 0.008, 2.0, 0.2  # share of a small move that may lack, smallest steps beside it; share that is none
CLEARLY = 2.0  # times the scatter, beyond which what a stand wandered is taken out
SETTING_UP, SENSING = 90.0, 25.0  # s that a hand takes to set up a stand, and to look at a small move
STAND, SENSED, CLOSING = "stand", "sense", "closing"
BESIDE = (STAND, SENSED, CLOSING)  # places of steps that make no number of the reading


def usual_overrun(axis: PlanAxis, wanted: float) -> float:
    """How far a place is passed: as is usual, but never so far that the gauge is crushed."""
    gauge = axis.gauge
    return wanted if gauge is None or gauge.reach is None else min(wanted, 0.5 * OVERRUNS * gauge.reach)


def crushes(axis: PlanAxis, overrun: float) -> str:
    """Why an overrun is too far for the gauge; nothing where it is not."""
    gauge = axis.gauge
    if gauge is None or gauge.reach is None or overrun <= OVERRUNS * gauge.reach * (1 + 1e-9):
        return ""
    most = axis.said(OVERRUNS * gauge.reach)
    return f"an overrun of {axis.said(overrun)} would crush the {gauge.name}; at most {most} are allowed"


def reaches(axis: PlanAxis, targets: list[float], overrun: float) -> bool:
    """Whether the gauge of a plan reads all of its targets from one place."""
    gauge = axis.gauge
    return gauge is None or gauge.reach is None or targets[-1] - targets[0] + 2 * overrun <= gauge.reach


def set_up(axis: PlanAxis, number: int, place: float, overrun: float, again: bool = False, side: str = "") -> Step:
    """The stand put at a place, the plunger pressed in, the gauge set to zero there; a person says that it is done.

    again: it stands somewhere else, and is taken away before anything moves. side: on which side of the carriage it has to stand.
    """
    gauge = axis.gauge or PlanGauge()
    begin = max(place - overrun, 0.0)
    pressed = (f", its plunger pressed in by half its reach, {axis.said(HALF * gauge.reach)}"
               if gauge.pressed and gauge.reach is not None else "")
    there = f"there, on the side towards {side}, so that the carriage leaves it and comes back" if side else "there"
    first = "Take the stand away first. " if again else ""
    words = (f"{first}Go to {axis.said(begin)}, then towards plus to {axis.said(place)}. Put the stand {there}{pressed}. Set the"
             " gauge along the axis and to zero.")
    return Step(f"{STAND}[{number}]", words, SETTING_UP, place,
                (("clear",), ("move", begin), ("move", place), ("stand",), ("zero",)), asks="done")


def sense(axis: PlanAxis, number: int, place: float) -> Step:
    """A small move to plus: its sign tells the sense of the gauge, its size whether it leans."""
    far = sensed_by(axis)
    to = place + far if axis.travel is None or place + far <= axis.travel else place - far
    way = "plus" if to > place else "minus"
    return Step(f"{SENSED}[{number}]", f"Go on {axis.said(far)} towards {way}, to {axis.said(to)}. What does the gauge show now?",
                SENSING, place, (("move", to), ("read",)), adds=to - place)


def leans(step: Step, shown: float, gauge: Any) -> str:
    """What the gauge's answer to the small move says of how it stands, as a question; nothing where it is as it should be.

    shown [travel]: what it showed, by its own sign; gauge: with its smallest step.
    """
    far, share = abs(step.adds), abs(shown) / abs(step.adds)
    room = LEANING + ROUNDED * float(getattr(gauge, "resolution", None) or 0.0) / far
    if share < HARDLY:
        return "hardly any of the move: does the gauge touch, and is it free"
    if share > 1 + room:
        return f"{100 * (share - 1):.1f} % more than the move: is its unit right, and the steps per unit (Scale)"
    if share < 1 - room:
        angle = math.degrees(math.acos(share)) if share < 1 else 0.0
        return (f"{100 * (1 - share):.1f} % less than the move, as a gauge that leans by {angle:.0f}° does: set it along the axis,"
                " to zero, and read anew")
    return ""


def sensed_by(axis: PlanAxis) -> float:
    """How far the small move goes that tells the sense [travel]: in whole steps of a hundredth of a unit."""
    gauge = axis.gauge
    most = LONGEST_SENSE if gauge is None or gauge.reach is None else min(LONGEST_SENSE, SENSE * gauge.reach)
    unit = axis.si(1.0)
    return max(round(most / unit, 2), 0.01) * unit


def close(axis: PlanAxis, number: int, place: float, overrun: float) -> Step:
    """The first place of a stand read again at its end: how far the gauge or the stand has wandered."""
    begin = max(place - overrun, 0.0)
    return Step(f"{CLOSING}[{number}]", f"Once more to {axis.said(begin)}, then to {axis.said(place)}, towards plus. Read it"
                " again: it tells whether the stand has moved.", BY_HAND, place, (("move", begin), ("move", place), ("read",)))


def at_stands(
    axis: PlanAxis, places: list[float], overrun: float, readings: Callable[[int, float], Iterator[Step]],
) -> tuple[Step, ...]:
    """Place by place: the stand, at the first of them the sense, all readings there, the first of them once more."""
    found: list[Step] = []
    for number, place in enumerate(places):
        found += [set_up(axis, number, place, overrun, number > 0), *((sense(axis, 0, place),) if number == 0 else ()),
                  *readings(number, place), close(axis, number, place, overrun)]
    return tuple(found)


def along_faces(
    axis: PlanAxis, targets: list[float], overrun: float, dwell: float, repeats: int
) -> tuple[Step, ...]:
    """From face to face of a step gauge or a row of blocks: the dial rides on the carriage and is lifted between them."""
    found = list[Step]()
    first = axis.said(targets[0])
    found.append(Step(f"{STAND}[0]", "Lay the step gauge, or the row of blocks, along the axis and clamp it; the dial rides on the"
                      f" carriage. Go to {first}, let it down on the face there, pressed in by half its reach, and set it to zero.",
                      SETTING_UP, targets[0], (("lift",), ("move", max(targets[0] - overrun, 0.0)), ("move", targets[0]),
                                               ("stand",), ("zero",)), asks="done"))
    for repeat in range(repeats):
        ways = ("up", "towards plus", -1.0, range(len(targets))), ("down", "towards minus", 1.0, reversed(range(len(targets))))
        for table, way, sign, order in ways:
            for number, place in enumerate(order):
                begin = min(max(targets[place] + sign * overrun, 0.0), axis.travel or targets[place] + overrun)
                turning = (("move", begin),) if number == 0 and begin != targets[place] else ()
                said = f" Begin at {axis.said(begin)}." if turning else ""
                found.append(Step(
                    f"{table}[{repeat}][{place}]", f"Lift the plunger, go to {axis.said(targets[place])}, coming"
                    f" {way}.{said} Let it down on the face there, and read.", BY_HAND + dwell, targets[place],
                    (("lift",), *turning, ("move", targets[place]), *((("dwell", dwell),) if dwell else ()), ("down",), ("read",))))
    begin = max(targets[0] - overrun, 0.0)
    found.append(Step(f"{CLOSING}[0]", f"Lift the plunger, once more to {axis.said(begin)}, then to {first}, towards plus."
                      " Let it down on the face there, and read: it tells whether anything has moved.", BY_HAND, targets[0],
                      (("lift",), ("move", begin), ("move", targets[0]), ("down",), ("read",))))
    return tuple(found)


def from_one_stand(
    axis: PlanAxis, first: float, overrun: float, steps: tuple[Step, ...], side: str = "",
) -> tuple[Step, ...]:
    """All readings from one stand, where the gauge is one that is set up there: the stand, the sense, then they."""
    if axis.gauge is None or not axis.gauge.pressed:
        return steps
    return set_up(axis, 0, first, overrun, side=side), sense(axis, 0, first), *steps


def where_it_stands(axis: PlanAxis, steps: tuple[Step, ...]) -> tuple[Step, ...]:
    """Readings beside an axis that stands: the stand is put where it is."""
    gauge = axis.gauge
    if gauge is None or not gauge.pressed:
        return steps
    pressed = "" if gauge.reach is None else f", pressed in by half its reach, {axis.said(HALF * gauge.reach)}"
    return Step(f"{STAND}[0]", f"Put the stand on what does not move, its plunger on the carriage{pressed}. Set it along the axis"
                " and to zero.", SETTING_UP, 0.0, (("stand",), ("zero",)), asks="done"), *steps


def beside(place: str) -> bool:
    """Whether a step makes no number of the reading."""
    return place.partition("[")[0] in BESIDE


def closing_errors(steps: tuple[Step, ...], values: Mapping[str, float]) -> dict[str, float]:
    """How far the gauge had wandered at the end of each stand, by the place of its closing step [travel]."""
    found = {}
    for of in _stands(steps):
        closing = next((step.place for step in of if step.place.startswith(CLOSING)), "")
        first = next((values[step.place] for step in of if not beside(step.place) and step.place in values), None)
        if closing in values and first is not None:
            found[closing] = values[closing] - first
    return found


def drift_out(steps: tuple[Step, ...], values: dict[str, float]) -> dict[str, float]:
    """The numbers with what each stand wandered taken out, evenly from its first to its last, where that is clearly more than they
    scatter; and without what is no number of the reading.
    """
    if not any(step.place.startswith(STAND) for step in steps):
        return values
    errors, scatter = closing_errors(steps, values), pooled({k: v for k, v in values.items() if not beside(k)})[0]
    found = dict(values)
    for of in _stands(steps):
        taken = [step.place for step in of if not step.place.startswith((STAND, SENSED)) and step.place in values]
        error = errors.get(taken[-1], 0.0) if taken else 0.0
        if abs(error) > CLEARLY * scatter and scatter:
            for number, place in enumerate(taken):
                found[place] = values[place] - error * number / (len(taken) - 1)
    return {place: value for place, value in found.items() if not beside(place)}


def _stands(steps: tuple[Step, ...]) -> list[list[Step]]:
    """The steps, stand by stand."""
    found: list[list[Step]] = [[]]
    for step in steps:
        if step.place.startswith(STAND):
            found.append([])
        found[-1].append(step)
    return [of for of in found if of]
