"""The state of a machine: `advance`, one pure function of what it was, the document, what was analysed and what is on the hardware.

Each axis, each spindle is a subject that is solved when it is first asked for, from what it was before, so that what did not
change is not computed again and who looks at one axis waits for no other.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import field
from typing import Any

from urban_mule.core.sheet.alike import same
from urban_mule.core.sheet.once import once
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.core.subjects import KINDS, SubjectKind, axis_sheet, sheet_of
from urban_mule.store.document.identity import Named
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.file.project_file import Applied, Where
from urban_mule.store.solve import (
    axis_inputs,
    axis_together,
    newest_records,
    project_inputs,
    subject_inputs,
    wirings_of,
)
from urban_mule.store.state.axis_state import AxisState, Turned

OnHardware = Mapping[Where, Mapping[str, Applied]]  # by place and name of the value
NOTHING: Mapping[str, Applied] = {}
Analysed = Callable[[tuple[Any, ...]], Mapping[str, Any] | None]  # of long records: what their analysis gave, None while it is made


@record(frozen=True, eq=False)
class Solved:
    """A solution, what each check says of it by its name, and the judgements among that."""

    solution: Solution
    judged: Mapping[str, Verdict | None]
    verdicts: tuple[Verdict, ...]

    @once
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


@record(frozen=True, eq=False)
class Subject:
    """Whoever has a sheet, with its numbers. former: as it was last solved."""

    part: Any
    project: Project
    former: Solved | None

    @property
    def id(self) -> str:
        """Who it is, whatever its name or place become."""
        return str(self.part.id)

    @property
    def name(self) -> str:
        return str(self.part.name)

    @property
    def shown_as(self) -> Any:
        """What it is where an axis is looked at."""
        return self.part

    @property
    def kind(self) -> SubjectKind:
        """What kind of subject it is."""
        return KINDS[self.part.kind_name]

    @property
    def sheet(self) -> Sheet:
        """The sheet of its kind."""
        return sheet_of(self.part.kind_name)

    def _inputs(self) -> tuple[Mapping[str, Any], Mapping[str, Any]]:
        """What its sheet takes, and what is known of its quantities already."""
        raise NotImplementedError

    @once
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


@record(frozen=True, eq=False)
class AxisSubject(Subject):
    """An axis. records: its long ones; known: what their analysis gave, None while it is made; fellow: the other axis of a pair."""

    part: Axis
    records: tuple[Any, ...] = ()
    known: Mapping[str, Any] | None = None
    fellow: Axis | None = None

    def _inputs(self) -> tuple[Mapping[str, Any], Mapping[str, Any]]:
        inputs = axis_inputs(self.project, self.part)
        if self.records and not self.known:
            inputs |= {"acceleration_reading": None, "acceleration_readings": None}
        return inputs, self.known or {}

    @once
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


@record(frozen=True, eq=False)
class OtherSubject(Subject):
    """A subject that is no axis: a spindle, and whatever kinds there are."""

    part: Named

    @once
    def shown_as(self) -> Turned:
        return Turned(self.id, self.part.called, self.name, self.part.kind_name)

    def _inputs(self) -> tuple[Mapping[str, Any], Mapping[str, Any]]:
        return subject_inputs(self.project, self.part), {}


@record(frozen=True, eq=False)
class Together:
    """What belongs to all axes: solved, and what it was made of: of each axis what the project takes, and all but the axes."""

    solved: Solved
    of_axes: Mapping[str, tuple[Axis, Solution, Any]]
    shared: Mapping[str, Any]


@record(frozen=True, eq=False)
class Machine:
    """All subjects of a project, what belongs to them together, and what is on their hardware."""

    project: Project
    axes: tuple[AxisSubject, ...]
    others: tuple[OtherSubject, ...]
    applied: OnHardware
    former: Together | None = None
    shared: Mapping[str, Any] = field(default_factory=dict)
    _states: dict[str, AxisState] = field(default_factory=dict)  # as they were last asked for
    _made: dict[str, tuple[Solved, tuple[Verdict, ...], AxisState]] = field(default_factory=dict)  # and of what they are made

    @property
    def subjects(self) -> tuple[Subject, ...]:
        """Everybody, the axes first."""
        return (*self.axes, *self.others)

    @once
    def _by_id(self) -> dict[str, Subject]:
        return {one.id: one for one in self.subjects}

    def of(self, axis: Axis) -> AxisSubject:
        """The subject that an axis is. Raises KeyError for one that is not of this project."""
        return self._by_id[axis.id]  # type: ignore[return-value]

    def by_id(self, who: str) -> Subject | None:
        """The subject of an identity; None when it is gone."""
        return self._by_id.get(who)

    @property
    def asking(self) -> tuple[Verdict, ...]:
        """What is said of all axes together, as it was last computed, as far as it asks for something."""
        return () if self.together_last is None else self.together_last.asking

    def state_of(self, one: Subject, numbers: Solved | None = None) -> AxisState:
        """A subject with its numbers, by default as they are now, and with what is on its hardware."""
        numbers = numbers or one.solved
        asking = self.asking if isinstance(one, AxisSubject) else ()
        kept = self._made.get(one.id)
        if kept is not None and kept[0] is numbers and kept[1] is asking:
            return kept[2]
        running, stored = (self.applied.get(Where(one.id, 1, kept), NOTHING) for kept in (False, True))
        system = str(self.project.unit_system)
        made = AxisState(one.id, one.shown_as, numbers.solution, numbers.verdicts, running, stored, system, asking)
        former = self._states.get(one.id)
        if former is None or not former.says_the_same(made):
            self._states[one.id] = made
        self._made[one.id] = numbers, asking, self._states[one.id]
        return self._states[one.id]

    def follower_of(self, axis: Axis) -> AxisState | None:
        """The state of the second motor of an axis; None without one."""
        one = self.of(axis)
        if one.follower is None:
            return None
        running, stored = (self.applied.get(Where(one.id, 2, kept), NOTHING) for kept in (False, True))
        return AxisState(one.id, *one.follower, (), running, stored, str(self.project.unit_system), leading=one.solved.solution)

    @once
    def _together(self) -> Together:
        before = {} if self.former is None else self.former.of_axes
        of_axes = {one.name: _taken(one, before.get(one.name)) for one in self.axes}
        if self.former is not None and before.keys() == of_axes.keys() and all(
                one is before[name] for name, one in of_axes.items()) and _holds_the_same(self.shared, self.former.shared):
            return self.former
        inputs = project_inputs(self.project, (taken for _, _, taken in of_axes.values()))
        former = None if self.former is None else self.former.solved
        return Together(solved(sheet_of("machine"), inputs, {}, former), of_axes, self.shared)

    @property
    def together(self) -> Solved:
        """What belongs to all axes together, computed when first asked for."""
        return self._together.solved

    @property
    def is_solved(self) -> bool:
        """Whether all of it is computed."""
        return "_together" in vars(self) and all(one.is_solved for one in self.axes)

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
    axis, solution, in_cycle = one.part, one.solved.solution, one.project.in_cycle(one.part)
    if before is not None and before[0] is axis and before[1] is solution and bool(before[2][0].moves) is in_cycle:
        return before
    return axis, solution, (axis_together(axis, solution, in_cycle), wirings_of(axis))


def _holds_the_same(one: Mapping[str, Any], other: Mapping[str, Any]) -> bool:
    """Whether two mappings hold the same values by the same names."""
    return one.keys() == other.keys() and all(same(value, other[name]) for name, value in one.items())


def advance(former: Machine | None, project: Project, analysed: Analysed, applied: OnHardware) -> Machine:
    """The machine after a change; nothing is computed yet, and nothing that did not change ever will be.

    analysed: what the analysis of long records gave. applied: what is on the hardware.
    """
    shared = {name: value for name, value in project if name != "axes"}
    same_shared = former is not None and _holds_the_same(shared, former.shared)
    before: dict[str, Any] = {} if former is None else former._by_id
    axes = tuple(_axis(before.get(axis.id), axis, project, analysed, same_shared) for axis in project.axes)
    others = tuple(_other(before.get(one.id), one, project, same_shared) for one in project.others)
    states = {} if former is None else former._states
    return Machine(project, axes, others, applied, None if former is None else former._handed_on(), shared,
                   {one.id: states[one.id] for one in (*axes, *others) if one.id in states})


def _axis(old: AxisSubject | None, axis: Axis, project: Project, analysed: Analysed, same_shared: bool) -> AxisSubject:
    records = newest_records(axis.readings)
    known = analysed(records) if records else None
    other = project.fellow_of(axis)
    if old is not None and same_shared and old.part is axis and old.known is known and old.fellow is other:
        return old
    return AxisSubject(axis, project, _handed_on(old), records, known, other)


def _other(old: OtherSubject | None, part: Named, project: Project, same_shared: bool) -> OtherSubject:
    if old is not None and same_shared and old.part is part:
        return old
    return OtherSubject(part, project, _handed_on(old))


def _handed_on(old: Subject | None) -> Solved | None:
    """What the next state of a subject begins from: the last numbers that were computed."""
    return None if old is None else old.solved if old.is_solved else old.former
