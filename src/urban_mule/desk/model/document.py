"""An open document: the project, its file, what can be undone, and the book beside it."""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from urban_mule.core.sheet.alike import same
from urban_mule.desk.model.booked import new_entry
from urban_mule.desk.model.first import answering
from urban_mule.desk.model.saving import Saving
from urban_mule.desk.model.works import Works
from urban_mule.store.document.edit import Path as DocumentPath
from urban_mule.store.document.edit import at, edited
from urban_mule.store.document.identity import recognise_all
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.file.backups import back_up
from urban_mule.store.file.project_file import Entry, ProjectFile, Revision, now


class Change(QUndoCommand):
    """One change of the document; undoing it commits the former document as a new revision."""

    def __init__(self, document: Document, before: Project, after: Project, label: str) -> None:
        super().__init__(label)
        self._document, self._before, self._after = document, before, after

    def redo(self) -> None:
        self._make(self._after, self.text())

    def undo(self) -> None:
        self._make(self._before, f"undone: {self.text()}")

    def _make(self, project: Project, label: str) -> None:
        answering()
        self._document._become(project, label)
        answering()  # what changed is still to be painted


class Document(QObject):
    """The project with its file. Raises BadFile when what the file holds cannot be read.

    Signals: changed(names): givens and quantities of the shown axis that may have another value, all at once so that a
    picture redraws once; axis_changed: another axis or other axes are shown; saved(revision); failed(sentence): not saved;
    told(sentence): something to say that stops nothing; noted(sentence): something that needs no answer;
    book_changed: the log or what is on the hardware.
    """

    changed = pyqtSignal(object)
    axis_changed = pyqtSignal()
    saved = pyqtSignal(object)
    failed = pyqtSignal(str)
    told = pyqtSignal(str)
    noted = pyqtSignal(str)
    book_changed = pyqtSignal()

    def __init__(self, file: ProjectFile, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.project: Project = file.project()
        self.saving = Saving(file, self)
        self.saving.saved.connect(self.saved)
        self.saving.saved.connect(self._copy_of_the_day)
        self._copied: date | None = None
        self.saving.failed.connect(self.failed)
        self.works = Works(self)
        self.works.unforeseen.connect(self.told)
        self.undo_stack = QUndoStack(self)

    @property
    def axis(self) -> Axis:
        """The axis that is shown."""
        raise NotImplementedError

    def _become(self, project: Project, label: str) -> None:
        """Take another document as it is now, and save it."""
        raise NotImplementedError

    @property
    def revision(self) -> Revision:
        """The newest revision that is in the file."""
        return self.saving.revision

    @property
    def file(self) -> ProjectFile:
        """The file that everything goes into."""
        return self.saving.file

    @property
    def path(self) -> Path:
        return self.file.path

    @property
    def system(self) -> str:
        """metric or inch."""
        return str(self.project.unit_system)

    def _copy_of_the_day(self, _revision: object) -> None:
        """With the first change of a day a copy of the project is kept, in the background."""
        today = now().date()
        if self._copied == today:
            return
        self._copied, path = today, self.path
        self.works.run(("copying the project", str(path)), self, lambda _progress: back_up(path, today), lambda _copy: None)

    def may_write(self) -> bool:
        """Whether anything can be changed; where it cannot, it is told why, and what was typed goes back to what holds."""
        if not self.file.read_only:
            return True
        self.told.emit(f"{self.path.name} can only be looked at here: {self.file.read_only}. File > Save a copy makes one that can"
                       " be changed.")
        self._as_it_was()
        return False

    def _as_it_was(self) -> None:
        """Let every field show what holds."""
        raise NotImplementedError

    def value(self, path: DocumentPath) -> Any:
        """What stands at a path of the document."""
        return at(self.project, path)

    def edit(self, path: DocumentPath, value: Any, label: str = "") -> None:
        """Change one value, save it, and make it undoable. Raises BadValue; nothing changes then."""
        self.edit_all([(path, value)], label)

    def edit_all(self, changes: list[tuple[DocumentPath, Any]], label: str = "") -> None:
        """Change several values as one step that can be undone. Raises BadValue; nothing changes then."""
        if not self.may_write():
            return
        after = self.project
        for path, value in changes:
            if not same(at(after, path), value):
                after = edited(after, path, value)
        if after is not self.project:
            self.undo_stack.push(Change(self, self.project, after, label or self._label(changes[0][0])))

    def _label(self, path: DocumentPath) -> str:
        words = [str(step).replace("_", " ") for step in path if isinstance(step, str) and step != "axes"]
        axis = f"{self.project.axes[path[1]].name}: " if path[0] == "axes" and len(path) > 1 and isinstance(path[1], int) else ""
        return axis + " ".join(words[-2:])

    def replace(self, project: Project, label: str) -> None:
        """Take another document as a whole, undoable; whoever bears the same name in both is the same."""
        if self.may_write():
            self.undo_stack.push(Change(self, self.project, recognise_all(self.project, project), label))

    def write(self, text: str, kind: str = "note", subject: str | None = None) -> None:
        """Add a line of what happened to the log of a subject, by default the shown axis; undoing takes nothing of it back."""
        if self.may_write():
            self.saving.put([new_entry(self, text, kind, subject)])
            self.book_changed.emit()

    def entries(self) -> list[Entry]:
        """The log, oldest first."""
        return self.saving.entries
