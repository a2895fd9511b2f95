"""What the measurements of an axis of the document teach it, and what is worth measuring next."""

from __future__ import annotations

import hashlib
import math
from datetime import datetime
from typing import Any

import numpy as np

from urban_mule.core.sheet.pair import Pair
from urban_mule.core.sheet.progress import Cancelled, Progress
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.doubts import Odds, doubts_of, odds_of
from urban_mule.core.studies.learning import Learning, learning_of
from urban_mule.core.studies.next_reading import NextReading, goal_of, next_readings
from urban_mule.core.studies.suspects import Suspect, causes_of, suspects_of, told_apart_by
from urban_mule.store.document.belief import OF_LIST
from urban_mule.store.document.edit import Path
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.document.readings import Reading
from urban_mule.store.doubts import OF_PROJECT, axis_inputs_in_doubt, known_by_learning, path_of, paths_of

LONG = 12  # digits of what tells one reading from another
LONGEST_SOURCE = 400


def reading_of(axis: Axis, pair: Pair) -> Reading | None:
    """The reading that a pair goes by: the last of its kinds that counts."""
    return next((one for one in reversed(axis.readings) if one.kind in pair.readings and not one.aside), None)


def mark_of(reading: Reading) -> str:
    """What tells a reading from every other, wherever it stands: its kind, when it was taken, and its numbers."""
    core = reading.core
    told = hashlib.sha1(usedforsecurity=False)
    for one in reading.declared.columns:
        value = getattr(core, one.name)
        told.update(value.tobytes() if isinstance(value, np.ndarray) else repr(value).encode())
    return f"{reading.kind} {reading.taken} {told.hexdigest()[:LONG]}".replace("  ", " ")


def mark_for(axis: Axis, pair: Pair) -> str:
    """What tells what a pair goes by from every other; of what is no reading by its text. Nothing where there is none."""
    if not pair.readings:
        return f"coils {hashlib.sha1(axis.coil_resistances.encode(), usedforsecurity=False).hexdigest()[:LONG]}"
    reading = reading_of(axis, pair)
    return "" if reading is None else mark_of(reading)


def axis_learning(project: Project, axis: Axis, solution: Solution) -> Learning:
    """What the readings of an axis teach."""
    inputs, said, correlation = axis_inputs_in_doubt(project, axis, solution)
    before = frozenset((axis.belief.taught or ()) if axis.belief is not None else ())
    taught = {one.name: bool(before) and mark_for(axis, one) in before for one in solution.sheet.pairs}
    confirmed = frozenset(one.name for one in solution.sheet.pairs
                          if (reading := reading_of(axis, one)) is not None and reading.confirmed)
    return learning_of(solution, inputs, said, correlation, taught, confirmed)


def axis_odds(learning: Learning) -> tuple[Odds, ...]:
    """The odds of the goals of an axis, as they stand."""
    moved = learning.moved
    correlation = None if np.array_equal(moved.prior, np.eye(len(moved.inputs))) else moved.prior
    return odds_of(moved.solution, doubts_of(moved.solution, moved.inputs, correlation=correlation), moved.said)


def open_learning(project: Project, axis: Axis, solution: Solution) -> dict[str, Any]:
    """`learning` of an axis as JSON holds it."""
    paths = paths_of(project, axis)
    learning = axis_learning(project, axis, solution)
    goal = goal_of(axis_odds(learning))
    best = next_readings(learning.moved, goal) if goal is not None else ()
    return {"learning": {
        "compared": [{
            "pair": one.pair.name, "predicted": one.computed, "measured": one.measured, "uncertainty": one.uncertainty,
            "departure": one.departure, "judgement": one.judgement, "used": one.teaches} for one in learning.compared],
        "learned": [{
            "input": path_of(one.label, paths), "value": one.value, "uncertainty": one.uncertainty,
            "learned_value": one.learned_value, "learned_uncertainty": one.learned_uncertainty} for one in learning.learned],
        "suspects": _costs("suspect", suspects_of(learning), paths), "causes": _costs("cause", causes_of(learning), paths),
        "next": {"goal": goal, "readings": [
            {"reading": one.reading, "share": one.share, "minutes": one.minutes} for one in best]}}}


def _costs(key: str, found: tuple[Suspect, ...], paths: dict[str, str]) -> list[dict[str, Any]]:
    return [{key: suspect_path(one.label, paths), "value": one.value, "cost": one.cost} for one in found]


HELD_BY = {"microsteps": "driver.microsteps", "sense_resistance": "driver.sense_resistance", "wiring": "motor.wiring"}


def suspect_path(label: str, paths: dict[str, str]) -> str:
    """The path of what is suspected."""
    return HELD_BY.get(label) or path_of(label, paths)


@record(frozen=True, eq=False)
class Teaching:
    """What the readings of an axis teach: the learning itself, three suspects of a contradiction, for each of them the kind of
    reading that tells it from the others, the goal that is least sure, and what is worth measuring for it once this is learnt.

    left: what of the former belief does not count any more, by path.
    """

    learning: Learning
    suspects: tuple[Suspect, ...]
    told_by: tuple[str, ...]
    goal: str | None
    next: tuple[NextReading, ...]
    left: tuple[str, ...]


def axis_teaching(project: Project, axis: Axis, solution: Solution, progress: Progress = lambda _done, _total: True) -> Teaching:
    """What the readings of an axis teach, for who looks at it. Raises Cancelled when `progress` says so."""
    learning = axis_learning(project, axis, solution)
    if not progress(1, 3):
        raise Cancelled
    suspects = causes_of(learning)
    told_by = tuple(told_apart_by(learning, one, tuple(other for other in suspects if other is not one)) for one in suspects)
    if not progress(2, 3):
        raise Cancelled
    goal = goal_of(axis_odds(learning))
    best = next_readings(learning.moved, goal, learning.covariance) if goal is not None else ()
    counts = known_by_learning(project, axis, solution).values()
    left = () if axis.belief is None else tuple(one for place, one in enumerate(axis.belief.inputs) if place not in counts)
    return Teaching(learning, suspects, told_by, goal, best, left)


def learnt_changes(project: Project, place: int, learning: Learning, today: str) -> list[tuple[Path, Any]]:
    """What adopting changes of the document: the values that were learnt, and the belief of the axis. today: as sources say it."""
    axis = project.axes[place]
    paths = paths_of(project, axis)
    used = {one.pair.name: reading for one in learning.compared if one.teaches
            and (reading := reading_of(axis, one.pair)) is not None}
    new = {one.label: one for one in learning.learned}
    kept = known_by_learning(project, axis, learning.moved.solution)
    labels = tuple(one.label for one in learning.moved.inputs if one.label in new or one.label in kept)
    of = {one.label: (n, one) for n, one in enumerate(learning.moved.inputs)}
    rows = []
    for label in labels:
        n, one = of[label]
        value = rounded(new[label].learned_value, new[label].learned_uncertainty) if label in new else one.value
        sure = new[label].learned_uncertainty if label in new else one.sure_to(value, float(np.sqrt(learning.covariance[n, n])))
        rows.append((path_of(label, paths), value, sure, *_whence(axis, learning, label, new, kept, used, today)))
    changes: list[tuple[Path, Any]] = [(document_path(path, place), value) for (path, value, *_), label in zip(
        rows, labels, strict=True) if label in new]
    marks = (*((axis.belief.taught or ()) if axis.belief is not None else ()),
             *(mark_for(axis, one.pair) for one in learning.compared if one.teaches or one.taught))
    columns = zip(*rows, strict=True)
    inputs, values, uncertainties, before, sources = (list(one) for one in columns) if rows else ([], [], [], [], [])
    belief = {"inputs": inputs, "values": values, "uncertainties": uncertainties, "before": before, "sources": sources,
              "correlation": learning.correlation_of(labels).tolist(), "taught": list(dict.fromkeys(marks))}
    return [*changes, (("axes", place, "belief"), belief)]


def rounded(value: float, uncertainty: float) -> float:
    """A value as far as it is known: to a hundredth of its uncertainty, so that a field holds no digits that say nothing."""
    return round(value, 2 - math.floor(math.log10(uncertainty)))


def _whence(
    axis: Axis, learning: Learning, label: str, new: dict[str, Any], kept: dict[str, int], used: dict[str, Reading], today: str,
) -> tuple[float, str]:
    """The value before it was learnt, and from what."""
    belief = axis.belief
    if label not in new and belief is not None:
        at = kept[label]
        return (belief.before or belief.values)[at], (belief.sources or ("",) * len(belief.inputs))[at]
    n = next(place for place, one in enumerate(learning.moved.inputs) if one.label == label)
    pairs = [one.pair for place, one in enumerate(learning.compared) if one.teaches and learning.jacobian[place, n]]
    taken = {one.name: told_day(used[one.name].taken) if one.name in used else "" for one in pairs}
    words = [f"{one.words} of {taken[one.name] or today}" for one in pairs]
    return new[label].value, " and ".join(words)[:LONGEST_SOURCE]


def told_day(taken: str) -> str:
    """The day of an ISO date or time as people write it; nothing where it says none."""
    try:
        day = datetime.fromisoformat(taken)
    except ValueError:
        return ""
    return f"{day.day} {day:%B %Y}"


def document_path(path: str, place: int) -> Path:
    """The path of the document for one of the open JSON."""
    inside = OF_LIST.match(path)
    if inside:
        return "axes", place, inside[1], int(inside[2]), inside[3]
    if path.startswith(OF_PROJECT):
        return (path.removeprefix(OF_PROJECT),)
    return "axes", place, *path.split(".")
