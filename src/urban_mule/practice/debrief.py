"""The debrief of a practice: the truth, what was believed of it, and the shortest way to it."""

from __future__ import annotations

from typing import Any

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.progress import Cancelled, Progress
from urban_mule.core.sheet.record import record
from urban_mule.core.studies.tolerance import given_at
from urban_mule.practice.evidence import LOOK, USUAL, Reckoner, Sort, seen
from urban_mule.practice.faults import NAMED
from urban_mule.practice.hiding import reckoner_of
from urban_mule.practice.machine import there
from urban_mule.practice.way import ShortestWay, shortest_way
from urban_mule.store.document.practice import HiddenFaults
from urban_mule.store.document.project import Axis, Project

FARTHEST = 3  # givens that are named
PARTS = ("train", "motor", "driver", "controller", "follower")  # of an axis, whose values are settings


@record(frozen=True)
class Sign:
    """A symptom that departed, in words; as a number here and on a sound machine where it is one, else both None."""

    words: str
    here: float | None = None
    sound: float | None = None


@record(frozen=True)
class Evidence:
    """What a reading showed of the hidden faults: each symptom that departed, and whether it was taken."""

    reading: str
    signs: tuple[Sign, ...]
    taken: bool

    @property
    def words(self) -> tuple[str, ...]:
        return tuple(one.words for one in self.signs)


@record(frozen=True)
class Debrief:
    """The truth, what the machine is otherwise like, what was believed, the evidence there was, what was changed without need, and
    the shortest way."""

    truth: tuple[str, ...]
    made: tuple[str, ...]
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
    faults = there(hidden.model_copy(update={"repaired": ()}))
    names = tuple(one.fault.name for one in faults)
    reckoner = reckoner_of(begun, first)
    evidence = _evidence(reckoner, names, _taken(axis), progress)
    return Debrief(
        tuple(f"{one.fault.name}: {one.said}" for one in faults), _made(begun, first, reckoner),
        tuple(one for one in names if one in hidden.believed),
        tuple(one for one in names if one not in hidden.believed), tuple(one for one in hidden.believed if one not in names),
        evidence, _needless(hidden, names, first, axis), shortest_way(reckoner, names), sum(_taken(axis).values()))


def _made(project: Project, axis: Axis, reckoner: Reckoner) -> tuple[str, ...]:
    """What the machine is like apart from its faults: its damping, and the givens that are farthest from what is written down."""
    drawn = next((one.drawn for one in project.machines or () if one.axis == axis.name), ())
    off = {one.input: float(one.really) / float(one.given) - 1 for one in drawn if one.given}
    far = sorted(off, key=lambda name: -abs(off[name]))[:FARTHEST]
    damped = f"the swing of its rotor is damped by {100 * reckoner.sound.truth.rotor_damping:.0f} %"
    stepper = "step_angle" in reckoner.solution.sheet.inputs
    called = {name: given_at(reckoner.solution, name)[0].label for name in far}
    return (*((damped,) if stepper else ()), *(
        f"{called[name]}: {100 * abs(off[name]):.0f} % {'more' if off[name] > 0 else 'less'} than counted on" for name in far))


def _taken(axis: Axis) -> dict[str, int]:
    """How many sets of each kind were taken."""
    return {kind: sum(one.kind == kind for one in axis.readings) for kind in {one.kind for one in axis.readings}}


def _evidence(reckoner: Reckoner, names: tuple[str, ...], taken: dict[str, int], progress: Progress) -> tuple[Evidence, ...]:
    """Every reading walked on the machine as it was and on a sound one; those that depart."""
    found, names = [], tuple(sorted(names))
    hiding = any(reckoner.hidden[name].fault.hides for name in names)
    for done, sort in enumerate(reckoner.sorts):
        if not progress(done, len(reckoner.sorts)):
            raise Cancelled
        if hiding and sort.moves and sort.kind:
            continue
        signs = _departing(reckoner, sort, names)
        if signs:
            found.append(Evidence(sort.name, signs, LOOK in sort.symptoms or bool(taken.get(sort.kind))))
    return tuple(found)


def _departing(reckoner: Reckoner, sort: Sort, names: tuple[str, ...]) -> tuple[Sign, ...]:
    here, sound = reckoner.numbers(sort, names), reckoner.numbers(sort, ())
    return tuple(Sign(f"{symptom} {one.how}: {one.words}" if one.words != one.how else one.words,
                      *(_number(values.get(symptom)) for values in (here, sound)))
                 for symptom, one in seen(sort, here, sound).items() if one.how != USUAL)


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
