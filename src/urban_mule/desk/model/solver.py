"""The numbers of a project: each axis solved as its givens change, and what belongs to all of them together.

The shown axis is solved at once, and of the others as many as cost nothing that anybody would notice; the rest follow while the
window answers. Whoever asks for one of them before gets it solved then, so that nobody is given an old number.
"""

from __future__ import annotations

import time
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from urban_mule.core.assembly import axis_sheet, project_sheet
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.desk.model.analyses import Analyses
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.solve import axis_inputs, axis_together, project_inputs, readings_inputs, wirings_of

AT_ONCE = 3  # axes beside the shown one that are solved before the window answers
SLICE = 0.02  # s of solving the others between two answers of the window


def same(one: Any, other: Any) -> bool:
    """Whether two values of the document are the same without looking into what does not compare."""
    if one is other or (type(one) in (int, float, str, dict, type(None)) and one == other):
        return True
    tuples = isinstance(one, tuple) and isinstance(other, tuple) and len(one) == len(other)  # an edit makes them anew
    return tuples and all(ours is theirs for ours, theirs in zip(one, other, strict=True))


class Solver(QObject):
    """followed(names): the other axes, and what belongs to all of them, are as the document has them now; what may differ."""

    followed = pyqtSignal(object)

    def __init__(self, analyses: Analyses, parent: QObject) -> None:
        super().__init__(parent)
        self._analyses = analyses
        self._project: Project | None = None
        self._solutions: dict[str, Solution] = {}
        self._verdicts: dict[str, tuple[Verdict, ...]] = {}
        self._judged: dict[str, dict[str, Verdict | None]] = {}  # what each check said of each axis
        self._judged_together: dict[str, Verdict | None] | None = None
        self._analysed_in: dict[str, Any] = {}
        self._axes: dict[str, Axis] = {}
        self._shared: dict[str, Any] = {}
        self._of_axes: dict[str, tuple[Axis, Solution, Any]] = {}
        self._together = project_sheet().solve()
        self.together_verdicts: tuple[Verdict, ...] = ()
        self.asking: tuple[Verdict, ...] = ()
        self._behind: dict[str, Axis] = {}
        self._all_behind = False
        self._late: frozenset[str] = frozenset()
        self._later = QTimer(self, singleShot=True, interval=0)
        self._later.timeout.connect(self._go_on)

    @property
    def waiting(self) -> bool:
        """Whether an axis, or what belongs to all, is still as it was before the last change."""
        return self._later.isActive()

    def follow(self, project: Project, shown: Axis) -> None:
        """Bring every axis up to date; an axis whose givens are the same costs next to nothing."""
        self._project = project
        former, self._solutions = self._solutions, {}
        shared = {name: value for name, value in project if name != "axes"}
        before, self._shared = self._shared, shared
        same_shared = shared.keys() == before.keys() and all(same(value, before[name]) for name, value in shared.items())
        solved, self._axes = self._axes, {axis.name: axis for axis in project.axes}
        behind, self._behind = self._behind, {}
        others = 0
        for name, axis in self._axes.items():
            old = former.get(name)
            if old is not None and same_shared and solved.get(name) is axis and name not in behind and not self._due(axis):
                self._solutions[name] = old
            elif axis is shown or old is None or old.sheet is not axis_sheet(axis.motion, axis.motor_kind) or others < AT_ONCE:
                others += axis is not shown
                self._solve(axis, old)
            else:
                self._solutions[name], self._behind[name] = old, axis
        if self._behind or self._all_behind:
            self._all_behind = True
            self._later.start()
        else:
            self._solve_together(same_shared)

    def _due(self, axis: Axis) -> bool:
        """Whether the analysis of the axis' record has come in since it was last solved."""
        records = readings_inputs(axis.readings)["acceleration_readings"] or ()
        kept = self._analyses.known(records)
        return kept is not None and kept[1] is not None and self._analysed_in.get(axis.name) is not kept[0]

    def _solve(self, axis: Axis, old: Solution | None) -> frozenset[str]:
        """Solve an axis; what may differ from before."""
        assert self._project is not None
        inputs = axis_inputs(self._project, axis)
        records, known = self._analyses.of(inputs["acceleration_readings"] or ())
        if records is not None and not known:
            inputs["acceleration_reading"] = inputs["acceleration_readings"] = None
        sheet = axis_sheet(axis.motion, axis.motor_kind)
        alike = old is not None and old.sheet is sheet
        new = old.changed(**inputs) if old is not None and alike else sheet.solve(**inputs)
        differing = new.differing(old) if old is not None and alike else frozenset()
        if old is not None and alike and not differing:
            self._solutions[axis.name] = old
            return differing
        self._solutions[axis.name] = new = new.knowing(**known) if known else new
        self._analysed_in[axis.name] = records if known is not None else None
        said = self._judged[axis.name] = new.judged(self._judged.get(axis.name) if alike else None, differing)
        self._verdicts[axis.name] = tuple(verdict for verdict in said.values() if verdict is not None)
        return differing

    def _solve_together(self, same_shared: bool) -> frozenset[str]:
        """Bring what belongs to all axes up to date, where an axis or the project has changed; what may differ from before."""
        assert self._project is not None
        self._all_behind = False
        before, self._of_axes = self._of_axes, {}
        for name, axis in self._axes.items():
            solution, kept = self._solutions[name], before.get(name)
            if kept is None or kept[0] is not axis or kept[1] is not solution:
                kept = axis, solution, (axis_together(axis, solution), wirings_of(axis))
            self._of_axes[name] = kept
        if same_shared and self.together_verdicts and before.keys() == self._of_axes.keys() and all(
                one is before[name] for name, one in self._of_axes.items()):
            return frozenset()
        former = self._together
        new = former.changed(**project_inputs(self._project, (of for _, _, of in self._of_axes.values())))
        differing = new.differing(former)
        if not self.together_verdicts or differing:
            self._together = new
            said = self._judged_together = new.judged(self._judged_together, differing)
            self.together_verdicts = tuple(verdict for verdict in said.values() if verdict is not None)
            self.asking = tuple(v for v in self.together_verdicts if v.level in ("short", "tight"))
        return differing

    def _catch_up(self, name: str) -> None:
        axis = self._behind.pop(name, None)
        if axis is not None:
            self._late |= self._solve(axis, self._solutions[name])

    def _go_on(self) -> None:
        """Solve some of those behind; when none is left, say what may be another number now."""
        until = time.perf_counter() + SLICE
        for name in tuple(self._behind):
            self._catch_up(name)
            if time.perf_counter() > until:
                break
        if self._behind:
            self._later.start()
            return
        if self._all_behind:
            self._late |= self._solve_together(False)
        late, self._late = self._late, frozenset()
        self.followed.emit(late)

    def solution(self, axis: Axis) -> Solution:
        """The solution of an axis, solved now where it was behind."""
        self._catch_up(axis.name)
        return self._solutions[axis.name]

    def verdicts(self, axis: Axis) -> tuple[Verdict, ...]:
        """What the checks say of an axis, solved now where it was behind."""
        self._catch_up(axis.name)
        return self._verdicts[axis.name]

    def last(self, axis: Axis) -> tuple[Solution, tuple[Verdict, ...]]:
        """The solution and the verdicts that an axis had last, for what is drawn again when it is no longer behind."""
        return self._solutions[axis.name], self._verdicts[axis.name]

    def solved(self, name: str) -> Solution | None:
        """The solution that an axis of that name had last; None where there was none."""
        return self._solutions.get(name)

    @property
    def together(self) -> Solution:
        """The solution of what belongs to all axes, solved now where it was behind."""
        for name in tuple(self._behind):
            self._catch_up(name)
        if self._all_behind:
            self._late |= self._solve_together(False)
        return self._together

    @property
    def together_last(self) -> Solution:
        """The same as it was last, for what is drawn again when it is no longer behind."""
        return self._together
