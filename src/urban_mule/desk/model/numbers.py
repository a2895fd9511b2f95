"""The numbers of an open document: its machine, kept up with every change, every analysis and what is put on the hardware."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from urban_mule.core.sheet.progress import Progress
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.core.subjects import sheet_of
from urban_mule.desk.model.analyses import Analyses
from urban_mule.desk.model.later import Later
from urban_mule.desk.model.solver import Solver
from urban_mule.desk.model.sureness import Sure, names_of, worked_out
from urban_mule.desk.model.taken import Taken
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.state.axis_state import AxisState
from urban_mule.store.state.machine import Machine

if TYPE_CHECKING:
    from urban_mule.store.learning import Teaching


def _taught_by(project: Project, axis: Axis, solution: Solution, progress: Progress) -> Teaching:
    from urban_mule.store.learning import axis_teaching  # only where somebody looks at it

    return axis_teaching(project, axis, solution, progress)


class Numbers(Taken):
    """The document with the state of every subject; `changed` is told of what may have another value on the axis that is shown,
    `sure_changed` of what is surer or less sure than it was said, `taught` when it is known what the readings teach.
    """

    sure_changed = pyqtSignal(object)
    taught = pyqtSignal()

    def __init__(self, file: ProjectFile, parent: QObject | None = None) -> None:
        super().__init__(file, parent)
        self._index = 0
        self._analyses = Analyses(self.works, self)
        self._analyses.ready.connect(self._take_analyses)
        self._analyses.told.connect(self.told)
        self._sureness = Later(self.works, "how sure the numbers are", worked_out, self)
        self._sureness.found.connect(lambda before, now: self._take_sureness(names_of(before, now)))
        self._sure: tuple[object, Sure] | None = None
        self._teaching = Later(self.works, "what readings teach", _taught_by, self)
        self._teaching.found.connect(lambda _before, _now: self.taught.emit())
        self._solver = Solver(self.project, self.axis, self._analyses, self.saving.applied, self)
        self.book_changed.connect(self._follow)
        self._solver.followed.connect(self._others_followed)

    @property
    def index(self) -> int:
        """Which axis is shown."""
        return self._index

    @property
    def axis(self) -> Axis:
        return self.project.axes[self._index]

    @property
    def machine(self) -> Machine:
        """The numbers of the project, each computed when it is first asked for."""
        return self._solver.machine

    @property
    def solution(self) -> Solution:
        """The solution of the shown axis."""
        return self.machine.of(self.axis).solved.solution

    @property
    def sheet(self) -> Sheet:
        return self.solution.sheet

    @property
    def together(self) -> Solution:
        """The solution of what belongs to all axes together."""
        return self.machine.together.solution

    @property
    def together_verdicts(self) -> tuple[Verdict, ...]:
        """What is said of all axes together; `changed` is told when the other axes say something else."""
        last = self.machine.together_last
        return () if last is None else last.verdicts

    def state_of(self, axis: Axis) -> AxisState:
        """The state of an axis of the project."""
        return self.machine.state_of(self.machine.of(axis))

    def follower_of(self, axis: Axis) -> AxisState | None:
        """The state of the second motor of an axis; None without one."""
        return self.machine.follower_of(axis)

    def solution_of(self, axis: Axis) -> Solution:
        return self.machine.of(axis).solved.solution

    def solution_last(self, axis: Axis) -> Solution:
        """The solution that an axis had when it was last solved; `changed` is told when it is solved anew."""
        one = self.machine.of(axis)
        return (one.last or one.solved).solution

    def is_known(self, axis: Axis) -> bool:
        """Whether the numbers of an axis were ever computed; `changed` is told when they are."""
        return self.machine.of(axis).last is not None

    def worst_last(self, axis: Axis) -> Verdict | None:
        """The verdict that decided on an axis when it was last solved; `changed` is told when it is solved anew."""
        one = self.machine.of(axis)
        return self.machine.state_of(one, one.last or one.solved).worst()

    def place_of(self, who: str) -> int:
        """Where an axis stands. Raises StopIteration where it is gone."""
        return next(place for place, one in enumerate(self.project.axes) if one.id == who)

    def _become(self, project: Project, label: str) -> None:
        before, self.project, was, who = self.project, project, self.machine, self.axis.id
        stays = (place for place, one in enumerate(project.axes) if one.id == who)
        self._index = next(stays, min(self._index, len(project.axes) - 1))
        self.saving.commit(project, label)  # first, so that nothing that goes wrong with showing it can lose it
        self._follow()
        if self.homeless:
            QTimer.singleShot(0, self._bring_home)
        there, together = was.by_id(self.axis.id), was.together_last
        shown = None if there is None else there.last
        names = [axis.name for axis in before.axes]
        if names != [axis.name for axis in project.axes] or shown is None or shown.solution.sheet is not self.sheet:
            self.axis_changed.emit()
            return
        last = self.machine.together_last
        late = frozenset() if last is None or together is None else last.solution.differing(together.solution)
        self.changed.emit(self.solution.differing(shown.solution) | late)

    def _follow(self) -> None:
        """Take in what the document says, what was analysed, and what is on the hardware."""
        self._solver.follow(self.project, self.axis, self.saving.applied)

    @property
    def sure(self) -> Sure | None:
        """How sure the numbers of the shown axis are; while that is worked out, how sure they were before."""
        self._sureness.follow(self.project, self.axis, self.solution)
        known = self._sureness.last(self.axis)
        if known is None:
            return None
        if self._sure is None or self._sure[0] is not known:  # the same object while it is the same: many ask for it at every paint
            self._sure = known, Sure(known[0], *known[1])
        return self._sure[1]

    @property
    def teaching(self) -> Teaching | None:
        """What the readings of the shown axis teach; None while that is worked out, `taught` says when it is."""
        if self._analyses.waiting:
            return None
        self._teaching.follow(self.project, self.axis, self.solution)
        return self._teaching.of(self.axis, self.solution)

    def _take_sureness(self, names: frozenset[str]) -> None:
        self.sure_changed.emit(frozenset(name for name in names if self.sheet.has(name)))

    def _take_analyses(self) -> None:
        shown = self.solution
        self._follow()
        names = self.solution.differing(shown)
        if names:
            self.changed.emit(names)

    def _others_followed(self, names: frozenset[str]) -> None:
        """Other axes have new numbers: tell it by names that the shown one has too, since what hears of others asks it for them."""
        sheets = (self.sheet, sheet_of("machine"))
        self.changed.emit(frozenset(name for name in names if any(one.has(name) for one in sheets)))

    @property
    def analysing(self) -> bool:
        """Whether a worker is still at something."""
        return self.works.busy or self._analyses.waiting or self._solver.waiting

    def close(self) -> None:
        """Stop and await what is being worked at, and close the file."""
        self._analyses.stop()
        self._sureness.stop()
        self._teaching.stop()
        self.blockSignals(True)  # what still has to be said must find nobody
        self.works.close()
        self.saving.close()
        self.deleteLater()  # its connections hold on to the window, which holds on to it
