"""When the numbers of a project are computed: those of the shown axis at once, those of axes that nobody has seen yet, and of
more than a few, while the window answers.

Whoever asks for one of the others before gets it computed then, so that nobody is given an old number.
"""

from __future__ import annotations

import time
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from urban_mule.core.sheet.solution import Solution
from urban_mule.desk.model.analyses import Analyses
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.state.machine import Machine, OnHardware, advance

AT_ONCE = 3  # axes beside the shown one that are solved before the window answers
FIRST_PAINT = 30  # ms from when events are first looked at, in which a window is painted before the others are solved
SLICE = 0.02  # s of solving the others between two answers of the window


class Solver(QObject):
    """followed(names): the other axes, and what belongs to all of them, are as the document has them now; what may differ."""

    followed = pyqtSignal(object)

    def __init__(self, project: Project, shown: Axis, analyses: Analyses, applied: OnHardware, parent: QObject) -> None:
        super().__init__(parent)
        self._analyses = analyses
        self._told: dict[str, Solution | None] = {}  # by id, of those behind: what was told of them last, None for nothing yet
        self._told_together: Solution | None = None
        self._painted = False
        self._later = QTimer(self, singleShot=True)
        self._later.timeout.connect(self._go_on)
        self.machine: Machine = advance(None, project, self._analysed, applied)
        self._begin(shown)

    def _analysed(self, records: tuple[Any, ...]) -> Any:
        return self._analyses.of(records)[1]

    @property
    def waiting(self) -> bool:
        """Whether an axis, or what belongs to all, is still as it was before the last change."""
        return self._later.isActive()

    def follow(self, project: Project, shown: Axis, applied: OnHardware) -> None:
        """Bring every axis up to date; an axis whose givens are the same costs next to nothing."""
        self.machine = advance(self.machine, project, self._analysed, applied)
        self._begin(shown)

    def _begin(self, shown: Axis) -> None:
        others = 0
        for one in self.machine.axes:
            behind = not one.is_solved and one.part is not shown and (one.last is None or others >= AT_ONCE)
            if behind:
                self._told.setdefault(one.id, None if one.last is None else one.last.solution)
            elif not one.is_solved:
                others += one.part is not shown
                one.solved  # noqa: B018  asked for, so that it is computed
        if self._told or any(one.last is None for one in self.machine.others):
            last = self.machine.together_last
            if self._told_together is None and last is not None:
                self._told_together = last.solution
            self._later.start(0)
        else:
            self.machine.together  # noqa: B018

    def _go_on(self) -> None:
        """Solve some of those behind; when none is left, say what may be another number now."""
        if not self._painted:
            self._painted = True
            self._later.start(FIRST_PAINT)
            return
        until, machine = time.perf_counter() + SLICE, self.machine
        for one in machine.subjects:
            one.solved  # noqa: B018
            if time.perf_counter() > until:
                self._later.start(0)
                return
        told, self._told = self._told, {}
        together, self._told_together = self._told_together, None
        now = machine.together.solution
        late = frozenset(now.sheet.quantities) if together is None else now.differing(together)
        for one in machine.axes:
            shown = told.get(one.id)
            if shown is not None and shown.sheet is one.sheet:
                late |= one.solved.solution.differing(shown)
        self.followed.emit(late)
