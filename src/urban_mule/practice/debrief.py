"""The debrief of a practice: the truth, what was believed of it, and the shortest way to it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from urban_mule.bench.devices import DeviceError
from urban_mule.bench.sessions.rounds import PlanAxis, plan_of
from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.progress import Cancelled, Progress
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.practice.evidence import HIDDEN, LOOK, USUAL, Reckoner, Sort, read, seen
from urban_mule.practice.faults import NAMED, Hidden, afflicted
from urban_mule.practice.hiding import reckoner_of
from urban_mule.practice.way import ShortestWay, shortest_way
from urban_mule.store.document.practice import HiddenFaults
from urban_mule.store.document.project import Axis, Project

PARTS = ("train", "motor", "driver", "controller", "follower")  # of an axis, whose values are settings


@dataclass(frozen=True)
class Sign:
    """A symptom that departed, in words; as a number here and on a sound machine where it is one, else both None."""

    words: str
    here: float | None = None
    sound: float | None = None


@dataclass(frozen=True)
class Evidence:
    """What a reading showed of the hidden faults: each symptom that departed, and whether it was taken."""

    reading: str
    signs: tuple[Sign, ...]
    taken: bool

    @property
    def words(self) -> tuple[str, ...]:
        return tuple(one.words for one in self.signs)


@dataclass(frozen=True)
class Debrief:
    """The truth, what was believed of it, the evidence there was, what was changed without need, and the shortest way."""

    truth: tuple[str, ...]
    found: tuple[str, ...]
    missed: tuple[str, ...]
    wrong: tuple[str, ...]
    evidence: tuple[Evidence, ...]
    needless: tuple[str, ...]
    way: ShortestWay
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
    reckoner = reckoner_of(begun, first, int(hidden.seed), faults)
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
        signs = _departing(sort, SimulatedAxis(reckoner.solution, built.truth, built.real),
                           SimulatedAxis(reckoner.solution, reckoner.truth), plan)
        if signs:
            found.append(Evidence(sort.name, signs, LOOK in sort.symptoms or bool(taken.get(sort.kind))))
    return tuple(found)


def _departing(sort: Sort, machine: SimulatedAxis, sound: SimulatedAxis, plan: PlanAxis) -> tuple[Sign, ...]:
    try:
        here, there = read(machine, sort, plan), read(sound, sort, plan)
    except (DeviceError, BadValue, NotKnown) as why:
        return (Sign(f"could not be taken: {why}"),)
    return tuple(Sign(f"{symptom} {one.how}: {one.words}" if one.words != one.how else one.words,
                      *(_number(values.get(symptom)) for values in (here, there)))
                 for symptom, one in seen(sort, here, there).items() if one.how != USUAL)


def _number(value: Any) -> float | None:
    return abs(float(value)) if isinstance(value, (int, float)) and not isinstance(value, bool) else None


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
