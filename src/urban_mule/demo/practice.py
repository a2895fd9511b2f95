"""Made-up machines for practice projects: with hidden faults or without, and the debrief that tells the truth."""

from __future__ import annotations

import dataclasses
import zlib
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

import numpy as np

from urban_mule.bench.devices import DeviceError
from urban_mule.bench.faults.evidence import HIDDEN, LOOK, SAID, USUAL, Reckoner, Sort, read, seen
from urban_mule.bench.faults.kinds import NAMED, Hidden, afflicted, possible, sound_truth
from urban_mule.bench.faults.lessons import Lesson
from urban_mule.bench.faults.way import Way, shortest_way
from urban_mule.bench.sessions.rounds import PlanAxis
from urban_mule.bench.simulated.axis import SimulatedAxis, invented_truth
from urban_mule.core.load.fall import without_power
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.progress import Cancelled, Progress
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.solution import Solution
from urban_mule.demo.courtyard import demo_project
from urban_mule.store.document.edit import edited
from urban_mule.store.document.practice import HiddenFaults
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.solve import solve_axis

PARTS = ("train", "motor", "driver", "controller", "follower")  # of an axis, whose values are settings


def plan_of(axis: Axis, solution: Solution) -> PlanAxis:
    """What the plan of a round is made for."""
    travel = axis.travel
    return PlanAxis(None if travel is None else float(travel), axis.motion == "linear", solution.get("top_speed"),
                    solution.get("planned_rungs", ()), without_power(getattr(axis, "incline", None), solution.get("gravity_load")))


def practice_machine(project: Project, axis: Axis, session: int) -> SimulatedAxis:
    """The machine behind an axis of a practice project; session: gives the noise of its readings."""
    solution, hidden = solve_axis(project, axis), project.hidden
    if hidden is None or hidden.axis != axis.name:
        return SimulatedAxis(solution, invented_truth(zlib.crc32(f"{project.name} {axis.name}".encode()), session))
    built = afflicted(solution, sound_truth(int(hidden.seed), _pretension(axis)), there(hidden))
    return SimulatedAxis(solution, dataclasses.replace(built.truth, seed=(int(hidden.seed) + 977 * session) % 2**32), built.real)


def there(hidden: HiddenFaults) -> tuple[Hidden, ...]:
    """The faults that are still there; names that this version does not know are left out."""
    return tuple(Hidden(NAMED[one.fault], float(one.size)) for one in hidden.faults
                 if one.fault in NAMED and one.fault not in hidden.repaired)


def _pretension(axis: Axis) -> float | None:
    return next((float(one) for link in axis.train or () if (one := getattr(link, "pretension", None)) is not None), None)


def _reckoner(project: Project, axis: Axis, seed: int, sizes: Iterable[Hidden] = ()) -> Reckoner:
    """What can be wrong with an axis and shows; sizes: of faults that are known."""
    solution = solve_axis(project, axis)
    truth = sound_truth(seed, _pretension(axis))
    all_of_them = {one.fault.name: one for one in possible(solution, seed)} | {one.fault.name: one for one in sizes}
    whole = Reckoner(solution, truth, all_of_them.values())
    return Reckoner(solution, truth, whole.telling())


def could_be(project: Project, axis: Axis, seed: int) -> tuple[str, ...]:
    """Names of the faults that this axis could have and that some reading shows."""
    return tuple(_reckoner(project, axis, seed).hidden)


def with_hidden(project: Project, name: str, count: int, seed: int) -> Project:
    """The project with so many faults hidden on an axis, drawn by a seed; fewer where it cannot have so many."""
    axis = project.axis(name)
    found = _reckoner(project, axis, seed).hidden
    chosen = np.random.default_rng(seed).permutation(sorted(found))[:count]
    return _hiding(project, name, seed, [found[str(one)] for one in sorted(chosen)])


def lesson_project(lesson: Lesson) -> Project:
    """The demo machine with the faults of a lesson."""
    project = demo_project()
    project = project.model_copy(update={"name": f"Lesson {lesson.number}", "axes": tuple(
        axis.model_copy(update={"readings": (), "follower": None}) for axis in project.axes)})
    found = _reckoner(project, project.axis(lesson.axis), lesson.seed).hidden
    return _hiding(project, lesson.axis, lesson.seed, [found[name] for name in lesson.faults], lesson.number)


def _hiding(project: Project, axis: str, seed: int, hidden: Iterable[Hidden], lesson: int = 0) -> Project:
    made = HiddenFaults.model_validate({
        "axis": axis, "seed": seed, "lesson": lesson, "begun": datetime.now(UTC).isoformat(),
        "faults": [{"fault": one.fault.name, "size": one.size} for one in hidden]})
    return edited(edited(project, ("practice",), True), ("hidden",), made)


@dataclass(frozen=True)
class Evidence:
    """What a reading showed of the hidden faults: in words for each symptom that departed, and whether it was taken."""

    reading: str
    words: tuple[str, ...]
    taken: bool


@dataclass(frozen=True)
class Debrief:
    """The truth, what was believed of it, the evidence there was, what was changed without need, and the shortest way."""

    truth: tuple[str, ...]
    found: tuple[str, ...]
    missed: tuple[str, ...]
    wrong: tuple[str, ...]
    evidence: tuple[Evidence, ...]
    needless: tuple[str, ...]
    way: Way
    readings: int


def debrief(project: Project, begun: Project, progress: Progress) -> Debrief:
    """What came of a practice. begun: the project when its faults were hidden. Raises BadValue where there are none; Cancelled."""
    hidden = project.hidden
    if hidden is None:
        raise BadValue("nothing is hidden in this project")
    axis = next((one for one in project.axes if one.name == hidden.axis), None)
    first = next((one for one in begun.axes if one.name == hidden.axis), None)
    if axis is None or first is None:
        raise BadValue(f"axis {hidden.axis}, which had the faults, is gone; undo brings it back")
    faults = tuple(Hidden(NAMED[one.fault], float(one.size)) for one in hidden.faults if one.fault in NAMED)
    names = tuple(one.fault.name for one in faults)
    reckoner = _reckoner(begun, first, int(hidden.seed), faults)
    evidence = _evidence(reckoner, faults, plan_of(first, reckoner.solution), _taken(axis), progress)
    return Debrief(
        tuple(f"{one.fault.name}: {one.said}" for one in faults), tuple(one for one in names if one in hidden.believed),
        tuple(one for one in names if one not in hidden.believed), tuple(one for one in hidden.believed if one not in names),
        evidence, _needless(hidden, names, first, axis), shortest_way(reckoner, names), sum(_taken(axis).values()))


def _taken(axis: Axis) -> dict[str, int]:
    """How many sets of each kind were taken."""
    return {kind: sum(one.kind == kind for one in axis.readings) for kind in {one.kind for one in axis.readings}}


def _evidence(reckoner: Reckoner, faults: tuple[Hidden, ...], plan: PlanAxis, taken: dict[str, int],
              progress: Progress) -> tuple[Evidence, ...]:
    """Every reading walked on the machine as it was and on a sound one; those that depart."""
    built, found = afflicted(reckoner.solution, reckoner.truth, faults), []
    reckoned = reckoner.signature(one.fault.name for one in faults)
    for done, sort in enumerate(reckoner.sorts):
        if not progress(done, len(reckoner.sorts)):
            raise Cancelled
        if HIDDEN in reckoned[sort.name]:
            continue
        words = _departing(sort, SimulatedAxis(reckoner.solution, built.truth, built.real),
                           SimulatedAxis(reckoner.solution, reckoner.truth), plan)
        if words:
            found.append(Evidence(sort.name, words, LOOK in sort.symptoms or bool(taken.get(sort.kind))))
    return tuple(found)


def _departing(sort: Sort, machine: SimulatedAxis, sound: SimulatedAxis, plan: PlanAxis) -> tuple[str, ...]:
    try:
        said = seen(sort, read(machine, sort, plan), read(sound, sort, plan))
    except (DeviceError, BadValue, NotKnown) as why:
        return (f"could not be taken: {why}",)
    return tuple(f"{symptom} {one.how}: {one.words}" if one.words != one.how else one.words
                 for symptom, one in said.items() if one.how != USUAL)


def _needless(hidden: HiddenFaults, names: tuple[str, ...], first: Axis, axis: Axis) -> tuple[str, ...]:
    """What was put right though it was sound, and what was set otherwise without being at fault."""
    sound = [NAMED[name].repair for name in hidden.repaired if name in NAMED and name not in names]
    found = [f"{repair[:1].lower()}{repair[1:]}" for repair in sound]
    good = {NAMED[name].setting for name in names if NAMED[name].setting}
    for part in PARTS:
        for key in sorted(_changed(getattr(first, part), getattr(axis, part))):
            if key not in good:
                found.append(f"{part}: {key.replace('_', ' ')} set otherwise")
    return tuple(found)


def _changed(before: Any, after: Any) -> set[str]:
    """Keys whose value is another now."""
    if isinstance(before, tuple) and isinstance(after, tuple) and len(before) == len(after):
        return set().union(*(_changed(one, other) for one, other in zip(before, after, strict=True)))
    if before is None or after is None or type(before) is not type(after) or isinstance(before, tuple):
        return set() if before == after else {"parts"}
    return {key for key, value in before if getattr(after, key) != value}


def look(project: Project, axis: Axis) -> str:
    """What is seen and heard on a short move of the practice machine."""
    shown = SAID[practice_machine(project, axis, 0).truth.shows]
    return f"{shown[:1].upper()}{shown[1:]}."
