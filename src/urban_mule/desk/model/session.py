"""The session: a document of which one axis is shown, with its numbers; the rest of the desk asks it."""

from __future__ import annotations

from PyQt6.QtCore import QObject, QTimer

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.stages import STAGES, StageName
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.core.subjects import sheet_of
from urban_mule.desk.model.analyses import Analyses
from urban_mule.desk.model.hardware import Hardware
from urban_mule.desk.model.solver import Solver
from urban_mule.desk.model.taken import Taken
from urban_mule.store.document.edit import Path as DocumentPath
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.state.axis_state import AxisState
from urban_mule.store.state.machine import Machine
from urban_mule.store.text_files import BadFile


class Session(Taken):
    """An open project, one of its axes shown. Raises BadFile, and closes the file, when what it holds cannot be read."""

    def __init__(self, file: ProjectFile, parent: QObject | None = None) -> None:
        try:
            super().__init__(file, parent)
        except BadFile:
            file.close()
            raise
        self.hardware = Hardware(self)
        self._index = 0
        self._analyses = Analyses(self.works, self)
        self._analyses.ready.connect(self._take_analyses)
        self._analyses.told.connect(self.told)
        self._solver = Solver(self.project, self.axis, self._analyses, self.saving.applied, self)
        self.book_changed.connect(self._take_book)
        self._solver.followed.connect(self._others_followed)
        self._logged: tuple[int, set[str]] = (0, set())

    @property
    def key(self) -> str:
        """Under which what is shown stands in the document."""
        return "axes"

    @property
    def stages(self) -> tuple[StageName, ...]:
        """The stages that it is shown on."""
        return STAGES

    @property
    def state(self) -> AxisState:
        """The state of the shown axis."""
        return self.state_of(self.axis)

    @property
    def machine(self) -> Machine:
        """The numbers of the project, each computed when it is first asked for."""
        return self._solver.machine

    def state_of(self, axis: Axis) -> AxisState:
        """The state of an axis of the project."""
        return self.machine.state_of(self.machine.of(axis))

    @property
    def together(self) -> Solution:
        """The solution of what belongs to all axes together."""
        return self.machine.together.solution

    @property
    def together_verdicts(self) -> tuple[Verdict, ...]:
        """What is said of all axes together; `changed` is told when the other axes say something else."""
        last = self.machine.together_last
        return () if last is None else last.verdicts

    def follower_of(self, axis: Axis) -> AxisState | None:
        """The state of the second motor of an axis, on whose hardware its values stand by names of their own; None without one."""
        return self.machine.follower_of(axis)

    def solution_with(self, name: str) -> Solution:
        """The solution on which a quantity or given stands: that of the shown axis, else that of all axes together."""
        of_project = name in sheet_of("machine").quantities or name not in (*self.sheet.inputs, *self.sheet.quantities)
        last = self.machine.together_last
        return self.solution if not of_project else self.together if last is None else last.solution

    def inherited(self, part: str, name: str) -> str:
        """What holds while a field of the driver is empty because the project says it, as a hint within the field."""
        shared = getattr(self.project, name, None) if (part, name) == ("driver", "supply_voltage") else None
        return "" if shared is None else f"{shared:g} shared"

    @property
    def index(self) -> int:
        """Which axis is shown."""
        return self._index

    @property
    def axis(self) -> Axis:
        return self.project.axes[self._index]

    @property
    def solution(self) -> Solution:
        """The solution of the shown axis."""
        return self.machine.of(self.axis).solved.solution

    @property
    def sheet(self) -> Sheet:
        return self.solution.sheet

    def solution_of(self, axis: Axis) -> Solution:
        return self.machine.of(axis).solved.solution

    def solution_last(self, axis: Axis) -> Solution:
        """The solution that an axis had when it was last solved; `changed` is told when it is solved anew."""
        one = self.machine.of(axis)
        return (one.last or one.solved).solution

    def verdicts(self, stage: StageName | None = None, axis: Axis | None = None) -> tuple[Verdict, ...]:
        """The verdicts of an axis (by default the shown one), of one stage or of all."""
        return self.state_of(axis or self.axis).verdicts(stage)

    def worst(self, stage: StageName | None = None) -> Verdict | None:
        """The verdict on the shown axis that decides, of one stage or of all."""
        return self.state.worst(stage)

    def worst_last(self, axis: Axis) -> Verdict | None:
        """The verdict that decided on an axis when it was last solved; `changed` is told when it is solved anew."""
        one = self.machine.of(axis)
        return self.machine.state_of(one, one.last or one.solved).worst()

    def show_axis(self, index: int) -> None:
        """Show another axis."""
        if index != self._index and 0 <= index < len(self.project.axes):
            self._index = index
            self.axis_changed.emit()

    def axis_path(self, *steps: str | int) -> DocumentPath:
        """A path inside the shown axis."""
        return ("axes", self._index, *steps)

    def place_of(self, who: str) -> int:
        """Where an axis stands. Raises StopIteration where it is gone."""
        return next(place for place, one in enumerate(self.project.axes) if one.id == who)

    def _become(self, project: Project, label: str) -> None:
        before, self.project, was = self.project, project, self.machine
        self._index = min(self._index, len(project.axes) - 1)
        self.saving.commit(project, label)  # first, so that nothing that goes wrong with showing it can lose it
        self._solver.follow(project, self.axis, self.saving.applied)
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

    def _take_book(self) -> None:
        """Take in what is on the hardware."""
        self._solver.follow(self.project, self.axis, self.saving.applied)

    def _take_analyses(self) -> None:
        """Take in what a worker has made of a record."""
        shown = self.solution
        self._solver.follow(self.project, self.axis, self.saving.applied)
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

    def _as_it_was(self) -> None:
        self.changed.emit(frozenset((*self.sheet.inputs, *self.sheet.quantities)))

    def has_entries(self, who: str | None = None) -> bool:
        """Whether the log says anything of somebody, by default the shown axis; what was counted is not counted again."""
        book, (seen, axes) = self.saving.entries, self._logged
        if len(book) < seen:
            seen, axes = 0, set()
        axes |= {entry.subject for entry in book[seen:]}
        self._logged = len(book), axes
        return (who or self.axis.id) in axes

    def reason_unknown(self, name: str) -> str:
        """Why a quantity of the shown axis has no value, or nothing."""
        return self.state.reason_unknown(name)

    def close(self) -> None:
        """Stop and await what is being worked at, and close the file."""
        self._analyses.stop()
        self.blockSignals(True)  # what still has to be said must find nobody
        self.works.close()
        self.saving.close()
        self.deleteLater()  # its connections hold on to the window, which holds on to it


__all__ = ["BadValue", "NotKnown", "Session"]
