"""Faults hidden on an axis: what it could have and what some reading shows, drawn by a seed, or those of a lesson."""

from __future__ import annotations

import json
from collections.abc import Iterable
from datetime import UTC, datetime
from typing import Any

import numpy as np

from urban_mule.bench.sessions.rounds import plan_of
from urban_mule.practice.evidence import Reckoner
from urban_mule.practice.faults import Hidden, possible
from urban_mule.practice.lessons import Lesson
from urban_mule.practice.machine import sound_machine, there
from urban_mule.practice.made import made_machines, seed_of
from urban_mule.store.document.edit import edited
from urban_mule.store.document.plain import plain
from urban_mule.store.document.practice import HiddenFaults
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.solve import solve_axis

AT_MOST = 3
KEPT: dict[tuple[Any, ...], Reckoner] = {}


def reckoner_of(project: Project, axis: Axis) -> Reckoner:
    """What can be wrong with an axis and shows, on its machine. The last ones are kept: what was read on a machine is read once."""
    solution, hidden = solve_axis(project, axis), project.hidden
    known = () if hidden is None or hidden.axis != axis.name else there(hidden.model_copy(update={"repaired": ()}))
    all_of_them = {one.fault.name: one for one in (*possible(solution, seed_of(project, axis)), *known)}
    parts = [axis.model_copy(update={"readings": ()}), *(one for one in project.machines or () if one.axis == axis.name)]
    key = (json.dumps([plain(one) for one in parts]), tuple((one.fault.name, one.size) for one in all_of_them.values()))
    if key not in KEPT:
        whole = Reckoner(plan_of(axis, solution), solution, sound_machine(project, axis), all_of_them.values())
        whole.only(whole.telling())
        for old in [*KEPT][:-AT_MOST]:
            del KEPT[old]
        KEPT[key] = whole
    return KEPT[key]


def could_be(project: Project, axis: Axis) -> tuple[str, ...]:
    """Names of the faults that this axis could have, whether a reading shows them on this machine or not."""
    return tuple(one.fault.name for one in possible(solve_axis(project, axis), seed_of(project, axis)))


def with_hidden(project: Project, name: str, count: int, seed: int) -> Project:
    """The project with so many faults hidden on an axis, drawn by a seed; fewer where it cannot have so many."""
    project = _hiding(project, name, seed, ())
    found = reckoner_of(project, project.axis(name)).hidden
    chosen = np.random.default_rng(seed).permutation(sorted(found))[:count]
    return _hiding(project, name, seed, [found[str(one)] for one in sorted(chosen)])


def lesson_project(lesson: Lesson, project: Project) -> Project:
    """The demo machine with the faults of a lesson."""
    project = project.model_copy(update={"name": f"Lesson {lesson.number}", "axes": tuple(
        axis.model_copy(update={"readings": (), "follower": None}) for axis in project.axes)})
    could = {one.fault.name: one for one in possible(solve_axis(project, project.axis(lesson.axis)), lesson.seed)}
    return _hiding(project, lesson.axis, lesson.seed, [could[name] for name in lesson.faults], lesson.number)


def _hiding(project: Project, axis: str, seed: int, hidden: Iterable[Hidden], lesson: int = 0) -> Project:
    """A practice project with a machine of its own behind each axis, and these faults."""
    made = HiddenFaults.model_validate({
        "axis": axis, "seed": seed, "lesson": lesson, "begun": datetime.now(UTC).isoformat(),
        "faults": [{"fault": one.fault.name, "size": one.size} for one in hidden]})
    project = edited(edited(edited(project, ("practice",), True), ("machines",), None), ("hidden",), made)
    return edited(project, ("machines",), made_machines(project, project.axes))
