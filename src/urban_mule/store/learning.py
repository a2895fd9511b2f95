"""What the measurements of an axis of the document teach it, and what is worth measuring next."""

from __future__ import annotations

import hashlib
from typing import Any

import numpy as np

from urban_mule.core.sheet.pair import Pair
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.doubts import Odds, doubts_of, odds_of
from urban_mule.core.studies.learning import Learning, learning_of
from urban_mule.core.studies.next_reading import goal_of, next_readings
from urban_mule.core.studies.suspects import suspects_of
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.document.readings import Reading
from urban_mule.store.doubts import axis_inputs_in_doubt, path_of, paths_of

LONG = 12  # digits of what tells one reading from another


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


def axis_learning(project: Project, axis: Axis, solution: Solution) -> Learning:
    """What the readings of an axis teach."""
    inputs, said, correlation = axis_inputs_in_doubt(project, axis, solution)
    read = {one.name: reading for one in solution.sheet.pairs if (reading := reading_of(axis, one)) is not None}
    before = frozenset((axis.belief.taught or ()) if axis.belief is not None else ())
    taught = {name: bool(before) and mark_of(reading) in before for name, reading in read.items()}
    confirmed = frozenset(name for name, reading in read.items() if reading.confirmed)
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
        "suspects": [{"suspect": suspect_path(one.label, paths), "value": one.value, "cost": one.cost}
                     for one in suspects_of(learning)],
        "next": {"goal": goal, "readings": [
            {"reading": one.reading, "share": one.share, "minutes": one.minutes} for one in best]}}}


HELD_BY = {"microsteps": "driver.microsteps", "sense_resistance": "driver.sense_resistance", "wiring": "motor.wiring"}


def suspect_path(label: str, paths: dict[str, str]) -> str:
    """The path of what is suspected."""
    return HELD_BY.get(label) or path_of(label, paths)
