"""The session: an open document of which one axis is shown; the rest of the desk asks it, most of it as a `Scope`."""

from __future__ import annotations

from PyQt6.QtCore import QObject

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.stages import STAGES, StageName
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.core.subjects import sheet_of
from urban_mule.desk.model.first import answering
from urban_mule.desk.model.hardware import Hardware
from urban_mule.desk.model.numbers import Numbers
from urban_mule.store.document.edit import Path as DocumentPath
from urban_mule.store.document.project import Axis
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.state.axis_state import AxisState
from urban_mule.store.text_files import BadFile


class Session(Numbers):
    """An open project, one of its axes shown. Raises BadFile, and closes the file, when what it holds cannot be read."""

    def __init__(self, file: ProjectFile, parent: QObject | None = None) -> None:
        try:
            super().__init__(file, parent)
        except BadFile:
            file.close()
            raise
        self.hardware = Hardware(self)
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

    def solution_with(self, name: str) -> Solution:
        """The solution on which a quantity or given stands: that of the shown axis, else that of all axes together."""
        of_project = name in sheet_of("machine").quantities or not self.sheet.knows(name)
        last = self.machine.together_last
        return self.solution if not of_project else self.together if last is None else last.solution

    def inherited(self, part: str, name: str) -> str:
        """What holds while a field of the driver is empty because the project says it, as a hint within the field."""
        shared = getattr(self.project, name, None) if (part, name) == ("driver", "supply_voltage") else None
        return "" if shared is None else f"{shared:g} shared"

    def verdicts(self, stage: StageName | None = None, axis: Axis | None = None) -> tuple[Verdict, ...]:
        """The verdicts of an axis (by default the shown one), of one stage or of all."""
        return self.state_of(axis or self.axis).verdicts(stage)

    def worst(self, stage: StageName | None = None) -> Verdict | None:
        """The verdict on the shown axis that decides, of one stage or of all."""
        return self.state.worst(stage)

    def reason_unknown(self, name: str) -> str:
        """Why a quantity of the shown axis has no value, or nothing."""
        return self.state.reason_unknown(name)

    def show_axis(self, index: int) -> None:
        """Show another axis."""
        if index != self._index and 0 <= index < len(self.project.axes):
            answering()
            self._index = index
            self.axis_changed.emit()

    def axis_path(self, *steps: str | int) -> DocumentPath:
        """A path inside the shown axis."""
        return ("axes", self._index, *steps)

    def has_entries(self, who: str | None = None) -> bool:
        """Whether the log says anything of somebody, by default the shown axis; what was counted is not counted again."""
        book, (seen, axes) = self.saving.entries, self._logged
        if len(book) < seen:
            seen, axes = 0, set()
        axes |= {entry.subject for entry in book[seen:]}
        self._logged = len(book), axes
        return (who or self.axis.id) in axes

    def _as_it_was(self) -> None:
        self.changed.emit(frozenset((*self.sheet.inputs, *self.sheet.quantities)))


__all__ = ["BadValue", "NotKnown", "Session"]
