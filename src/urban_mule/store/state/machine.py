"""The numbers of a machine as one pure function of what they were, the document and what was analysed: `advance`.

Each axis and each spindle is a subject that is solved when it is first asked for, from what it was before, so that what did not
change is not computed again and who looks at one axis waits for no other.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from urban_mule.core.assembly import axis_sheet, project_sheet, spindle_sheet
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.document.spindles import SpindleModel
from urban_mule.store.solve import (
    axis_inputs,
    axis_together,
    project_inputs,
    readings_inputs,
    spindle_inputs,
    wirings_of,
)

Analysed = Callable[[tuple[Any, ...]], Mapping[str, Any] | None]  # of long records: what their analysis gave, None while it is made


@dataclass(frozen=True, eq=False)
class Solved:
    """A solution, what each check says of it by its name, and the judgements among that."""

    solution: Solution
    judged: Mapping[str, Verdict | None]
    verdicts: tuple[Verdict, ...]

    @cached_property
    def asking(self) -> tuple[Verdict, ...]:
        """The judgements that ask for something."""
        return tuple(one for one in self.verdicts if one.level in ("short", "tight"))


def solved(sheet: Sheet, inputs: Mapping[str, Any], known: Mapping[str, Any], former: Solved | None) -> Solved:
    """The solution of a sheet; `former` itself where nothing differs. known: quantities that were computed elsewhere."""
    differing: frozenset[str] = frozenset()
    if former is not None and former.solution.sheet is sheet:
        new = former.solution.changed(**inputs)
        differing = new.differing(former.solution)
        if not differing:
            return former
    else:
        new, former = sheet.solve(**inputs), None
    new = new.knowing(**known) if known else new
    judged = new.judged(None if former is None else former.judged, differing)
    return Solved(new, judged, tuple(verdict for verdict in judged.values() if verdict is not None))


@dataclass(frozen=True, eq=False)
class Subject:
    """An axis or a spindle with its numbers. key: who it is, whatever its name or place become; former: as it was last solved."""

    key: int
    part: Any
    project: Project
    former: Solved | None

    @property
    def name(self) -> str:
        return str(self.part.name)

    @property
    def sheet(self) -> Sheet:
        """The sheet of its kind."""
        raise NotImplementedError

    def _inputs(self) -> tuple[Mapping[str, Any], Mapping[str, Any]]:
        """What its sheet takes, and what is known of its quantities already."""
        raise NotImplementedError

    @cached_property
    def solved(self) -> Solved:
        """Its numbers, computed when first asked for."""
        return solved(self.sheet, *self._inputs(), self.former)

    @property
    def is_solved(self) -> bool:
        """Whether anybody has asked for its numbers since they changed."""
        return "solved" in vars(self)

    @property
    def last(self) -> Solved | None:
        """Its numbers as they were last computed, on the sheet that it has now; None where there are none."""
        if self.is_solved:
            return self.solved
        return self.former if self.former is not None and self.former.solution.sheet is self.sheet else None


@dataclass(frozen=True, eq=False)
class AxisSubject(Subject):
    """An axis. records: its long ones; known: what their analysis gave, None while it is made."""

    part: Axis
    records: tuple[Any, ...] = ()
    known: Mapping[str, Any] | None = None

    @property
    def sheet(self) -> Sheet:
        return axis_sheet(self.part.motion, self.part.motor_kind)

    def _inputs(self) -> tuple[Mapping[str, Any], Mapping[str, Any]]:
        inputs = axis_inputs(self.project, self.part)
        if self.records and not self.known:
            inputs |= {"acceleration_reading": None, "acceleration_readings": None}
        return inputs, self.known or {}

    @cached_property
    def follower(self) -> tuple[Axis, Solution] | None:
        """Its second motor as an axis of its own, and what that comes to; None without one."""
        following = self.part.following
        if following is None:
            return None
        leader, sheet = self.solved.solution, axis_sheet(self.part.motion, following.motor_kind)
        inputs = axis_inputs(self.project, following)
        if leader.sheet is not sheet:
            return following, sheet.solve(**inputs)
        inputs |= {name: leader.inputs[name] for name in inputs if name.endswith(("_reading", "_readings"))}
        return following, leader.changed(**inputs)


@dataclass(frozen=True, eq=False)
class SpindleSubject(Subject):
    """A drive that turns a tool."""

    part: SpindleModel

    @property
    def sheet(self) -> Sheet:
        return spindle_sheet()

    def _inputs(self) -> tuple[Mapping[str, Any], Mapping[str, Any]]:
        return spindle_inputs(self.project, self.part), {}


@dataclass(frozen=True, eq=False)
class Together:
    """What belongs to all axes: solved, and what it was made of: of each axis what the project takes, and all but the axes."""

    solved: Solved
    of_axes: Mapping[str, tuple[Axis, Solution, Any]]
    shared: Mapping[str, Any]


@dataclass(frozen=True, eq=False)
class Machine:
    """All subjects of a project, and what belongs to them together."""

    project: Project
    subjects: tuple[AxisSubject, ...]
    spindles: tuple[SpindleSubject, ...]
    fresh: int  # the first key that no axis has had yet
    former: Together | None = None
    shared: Mapping[str, Any] = field(default_factory=dict)

    @property
    def keys(self) -> tuple[int, ...]:
        """Who the axes are, in their order."""
        return tuple(one.key for one in self.subjects)

    @cached_property
    def _by_name(self) -> dict[str, AxisSubject]:
        return {one.name: one for one in self.subjects}

    def of(self, axis: Axis) -> AxisSubject:
        """The subject that an axis is. Raises KeyError for one that is not of this project."""
        return self._by_name[axis.name]

    def by_key(self, key: int) -> AxisSubject | None:
        """The subject with a key; None when it is gone."""
        return next((one for one in self.subjects if one.key == key), None)

    @cached_property
    def _together(self) -> Together:
        before = {} if self.former is None else self.former.of_axes
        of_axes = {one.name: _taken(one, before.get(one.name)) for one in self.subjects}
        if self.former is not None and before.keys() == of_axes.keys() and all(
                one is before[name] for name, one in of_axes.items()) and alike(self.shared, self.former.shared):
            return self.former
        inputs = project_inputs(self.project, (taken for _, _, taken in of_axes.values()))
        former = None if self.former is None else self.former.solved
        return Together(solved(project_sheet(), inputs, {}, former), of_axes, self.shared)

    @property
    def together(self) -> Solved:
        """What belongs to all axes together, computed when first asked for."""
        return self._together.solved

    @property
    def is_solved(self) -> bool:
        """Whether all of it is computed."""
        return "_together" in vars(self) and all(one.is_solved for one in self.subjects)

    @property
    def together_last(self) -> Solved | None:
        """What belongs to all axes as it was last computed; None where it never was."""
        if "_together" in vars(self):
            return self.together
        return None if self.former is None else self.former.solved

    def _handed_on(self) -> Together | None:
        return self._together if "_together" in vars(self) else self.former


def _taken(one: AxisSubject, before: tuple[Axis, Solution, Any] | None) -> tuple[Axis, Solution, Any]:
    """What the project takes of an axis: the same object where neither the axis nor its numbers are others."""
    axis, solution = one.part, one.solved.solution
    if before is not None and before[0] is axis and before[1] is solution:
        return before
    return axis, solution, (axis_together(axis, solution), wirings_of(axis))


def same(one: Any, other: Any) -> bool:
    """Whether two values of the document are the same without looking into what does not compare."""
    if one is other or (type(one) in (int, float, str, dict, type(None)) and one == other):
        return True
    tuples = isinstance(one, tuple) and isinstance(other, tuple) and len(one) == len(other)  # an edit makes them anew
    return tuples and all(ours is theirs for ours, theirs in zip(one, other, strict=True))


def alike(one: Mapping[str, Any], other: Mapping[str, Any]) -> bool:
    """Whether two mappings hold the same values by the same names."""
    return one.keys() == other.keys() and all(same(value, other[name]) for name, value in one.items())


def advance(former: Machine | None, project: Project, analysed: Analysed, keys: tuple[int, ...] | None = None) -> Machine:
    """The machine after a change of the document; nothing is computed yet, and nothing that did not change ever will be.

    analysed: what the analysis of long records gave. keys: who the axes are, where somebody knows, as an undo does.
    """
    shared = {name: value for name, value in project if name != "axes"}
    before = () if former is None else former.subjects
    fresh = 0 if former is None else former.fresh
    keys = keys or kept_keys(tuple(one.part for one in before), tuple(one.key for one in before), project.axes, fresh)
    by_key = {one.key: one for one in before}
    same_shared = former is not None and alike(shared, former.shared)
    subjects = tuple(_axis(by_key.get(key), key, axis, project, analysed, same_shared)
                     for key, axis in zip(keys, project.axes, strict=True))
    turning = () if former is None else former.spindles
    spindles = tuple(_spindle(turning[place] if place < len(turning) else None, place, one, project, same_shared)
                     for place, one in enumerate(project.spindles or ()))
    return Machine(project, subjects, spindles, max(fresh, *(key + 1 for key in keys)),
                   None if former is None else former._handed_on(), shared)


def _axis(old: AxisSubject | None, key: int, axis: Axis, project: Project, analysed: Analysed, same_shared: bool) -> AxisSubject:
    records = readings_inputs(axis.readings)["acceleration_readings"] or ()
    known = analysed(records) if records else None
    if old is not None and same_shared and old.part is axis and old.known is known:
        return old
    return AxisSubject(key, axis, project, _handed_on(old), records, known)


def _spindle(old: SpindleSubject | None, place: int, part: SpindleModel, project: Project, same_shared: bool) -> SpindleSubject:
    if old is not None and same_shared and old.part is part:
        return old
    return SpindleSubject(-1 - place, part, project, _handed_on(old))


def _handed_on(old: Subject | None) -> Solved | None:
    """What the next state of a subject begins from: the last numbers that were computed."""
    return None if old is None else old.solved if old.is_solved else old.former


def kept_keys(before: tuple[Axis, ...], keys: tuple[int, ...], after: tuple[Axis, ...], fresh: int) -> tuple[int, ...]:
    """Who the axes after a change are: the same object, else the same name, else the same place among as many, else new.

    fresh: the first number that no axis has had yet.
    """
    left = dict(zip(keys, before, strict=True))
    found: dict[int, int] = {}
    for same in (lambda one, place, key: one is left[key], lambda one, place, key: one.name == left[key].name,
                 lambda one, place, key: len(before) == len(after) and before[place] is left[key]):
        for place, one in enumerate(after):
            if place not in found:
                key = next((key for key in left if same(one, place, key)), None)
                if key is not None:
                    found[place] = key
                    del left[key]
    new = iter(range(fresh, fresh + len(after)))
    return tuple(found[place] if place in found else next(new) for place in range(len(after)))
