"""What is worked out of the shown axis in a worker, once nothing has changed for a moment, and kept until something does."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from urban_mule.core.sheet.progress import Progress
from urban_mule.core.sheet.solution import Solution
from urban_mule.desk.model.works import Works
from urban_mule.store.document.project import Axis, Project

PAUSE = 300  # ms without a change: a person who drags or types has the processor to himself
T = TypeVar("T")
Asked = tuple[Project, Axis, Solution]


class Later(QObject, Generic[T]):
    """found(before, now): something is worked out anew; before is None where nothing was known.

    what: as jobs are told apart; work: what it does with a solution of its own.
    """

    found = pyqtSignal(object, object)

    def __init__(self, works: Works, what: str, work: Callable[[Project, Axis, Solution, Progress], T], parent: QObject) -> None:
        super().__init__(parent)
        self._works, self._what, self._work = works, what, work
        self._kept: dict[str, tuple[Solution, T]] = {}
        self._asked: Asked | None = None
        self._pause = QTimer(self, singleShot=True, interval=PAUSE)
        self._pause.timeout.connect(self._begin)

    def of(self, axis: Axis, solution: Solution) -> T | None:
        """What is known of this very solution, or none."""
        kept = self._kept.get(axis.id)
        return kept[1] if kept is not None and kept[0] is solution else None

    def last(self, axis: Axis) -> tuple[Solution, T] | None:
        """What was known of an axis last, and of which solution."""
        return self._kept.get(axis.id)

    def follow(self, project: Project, axis: Axis, solution: Solution) -> None:
        """The axis shown has this solution now: work it out once there is time."""
        asked = None if self._asked is None else self._asked[2]
        if self.of(axis, solution) is None and asked is not solution:
            self._asked = project, axis, solution
            self._pause.start()

    def _begin(self) -> None:
        if self._asked is None:
            return
        project, axis, solution = self._asked
        own = solution.own()
        self._works.run((self._what, id(self)), self, lambda progress: self._work(project, axis, own, progress),
                        lambda made: self._take(axis.id, solution, made))

    def _take(self, who: str, solution: Solution, made: T) -> None:
        before = self._kept.get(who)
        self._kept[who] = solution, made
        self.found.emit(None if before is None else before[1], made)

    def stop(self) -> None:
        """Begin no more."""
        self._pause.stop()
