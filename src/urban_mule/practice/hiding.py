"""Faults hidden on an axis: what it could have and what some reading shows, drawn by a seed, or those of a lesson."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, datetime

import numpy as np

from urban_mule.demo.courtyard import demo_project
from urban_mule.practice.evidence import Reckoner
from urban_mule.practice.faults import Hidden, possible, sound_truth
from urban_mule.practice.lessons import Lesson
from urban_mule.practice.machine import pretension
from urban_mule.store.document.edit import edited
from urban_mule.store.document.practice import HiddenFaults
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.solve import solve_axis


def reckoner_of(project: Project, axis: Axis, seed: int, sizes: Iterable[Hidden] = ()) -> Reckoner:
    """What can be wrong with an axis and shows; sizes: of faults that are known."""
    solution = solve_axis(project, axis)
    truth = sound_truth(seed, pretension(axis))
    all_of_them = {one.fault.name: one for one in possible(solution, seed)} | {one.fault.name: one for one in sizes}
    whole = Reckoner(solution, truth, all_of_them.values())
    return Reckoner(solution, truth, whole.telling())


def could_be(project: Project, axis: Axis, seed: int) -> tuple[str, ...]:
    """Names of the faults that this axis could have and that some reading shows."""
    return tuple(reckoner_of(project, axis, seed).hidden)


def with_hidden(project: Project, name: str, count: int, seed: int) -> Project:
    """The project with so many faults hidden on an axis, drawn by a seed; fewer where it cannot have so many."""
    axis = project.axis(name)
    found = reckoner_of(project, axis, seed).hidden
    chosen = np.random.default_rng(seed).permutation(sorted(found))[:count]
    return _hiding(project, name, seed, [found[str(one)] for one in sorted(chosen)])


def lesson_project(lesson: Lesson) -> Project:
    """The demo machine with the faults of a lesson."""
    project = demo_project()
    project = project.model_copy(update={"name": f"Lesson {lesson.number}", "axes": tuple(
        axis.model_copy(update={"readings": (), "follower": None}) for axis in project.axes)})
    found = reckoner_of(project, project.axis(lesson.axis), lesson.seed).hidden
    return _hiding(project, lesson.axis, lesson.seed, [found[name] for name in lesson.faults], lesson.number)


def _hiding(project: Project, axis: str, seed: int, hidden: Iterable[Hidden], lesson: int = 0) -> Project:
    made = HiddenFaults.model_validate({
        "axis": axis, "seed": seed, "lesson": lesson, "begun": datetime.now(UTC).isoformat(),
        "faults": [{"fault": one.fault.name, "size": one.size} for one in hidden]})
    return edited(edited(project, ("practice",), True), ("hidden",), made)
