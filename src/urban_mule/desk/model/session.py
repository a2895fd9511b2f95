"""The session: owns the document, its file, the undo stack and the solutions; the rest of the desk asks it."""

from __future__ import annotations

import copy
from contextlib import suppress
from datetime import date
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from urban_mule.bench.sessions.rounds import Round
from urban_mule.core.assembly import project_sheet
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.stages import StageName
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.desk.model.analyses import Analyses
from urban_mule.desk.model.booked import new_entry
from urban_mule.desk.model.hardware import Hardware
from urban_mule.desk.model.saving import Saving
from urban_mule.desk.model.solver import Solver
from urban_mule.desk.model.works import Works
from urban_mule.store.document.edit import Path as DocumentPath
from urban_mule.store.document.edit import at, edited
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.file.backups import back_up
from urban_mule.store.file.project_file import Entry, ProjectFile, Revision, now
from urban_mule.store.settings import FOLLOWS, OF_SPINDLE
from urban_mule.store.state.axis_state import AxisState
from urban_mule.store.state.machine import AxisSubject, Machine, Solved, kept_keys, same
from urban_mule.store.text_files import BadFile


class Change(QUndoCommand):
    """One change of the document; undoing it commits the former document as a new revision."""

    def __init__(self, session: Session, before: Project, after: Project, label: str) -> None:
        super().__init__(label)
        self._session, self._before, self._after = session, before, after
        self._keys_before = session.keys
        self._keys_after: tuple[int, ...] | None = None

    def redo(self) -> None:
        self._session._become(self._after, self.text(), self._keys_after)
        self._keys_after = self._session.keys

    def undo(self) -> None:
        self._session._become(self._before, f"undone: {self.text()}", self._keys_before)


class Session(QObject):
    """An open project. Raises BadFile, and closes the file, when what it holds cannot be read.

    Signals: changed(names): givens and quantities of the shown axis that may have another value, all at once so that a
    picture redraws once; axis_changed: another axis or other axes are shown; saved(revision); failed(sentence): not saved;
    told(sentence): something to say that stops nothing; book_changed: the log or what is on the hardware.
    """

    changed = pyqtSignal(object)
    axis_changed = pyqtSignal()
    saved = pyqtSignal(object)
    failed = pyqtSignal(str)
    told = pyqtSignal(str)
    book_changed = pyqtSignal()

    def __init__(self, file: ProjectFile, parent: QObject | None = None) -> None:
        super().__init__(parent)
        try:
            self.project = file.project()
            self.saving = Saving(file, self)
            self.homeless: list[tuple[AxisState, Any]] = []  # readings whose axis is gone meanwhile
            self.rounds = self._open_rounds()
        except BadFile:
            file.close()
            raise
        self.saving.saved.connect(self.saved)
        self.saving.saved.connect(self._copy_of_the_day)
        self._copied: date | None = None
        self.saving.failed.connect(self.failed)
        self.hardware = Hardware(self)
        self.works = Works(self)
        self.works.unforeseen.connect(self.told)
        self.undo_stack = QUndoStack(self)
        self._index = 0
        self._analyses = Analyses(self.works, self)
        self._analyses.ready.connect(self._take_analyses)
        self._analyses.told.connect(self.told)
        self._solver = Solver(self.project, self.axis, self._analyses, self)
        self._solver.followed.connect(self._others_followed)
        self._logged: tuple[int, set[str]] = (0, set())
        self._states: dict[int, AxisState] = {}

    @property
    def state(self) -> AxisState:
        """The state of the shown axis."""
        return self.state_of(self.axis)

    @property
    def machine(self) -> Machine:
        """The numbers of the project, each computed when it is first asked for."""
        return self._solver.machine

    @property
    def keys(self) -> tuple[int, ...]:
        """Who the axes are, whatever their names or places become."""
        return self.machine.keys

    def state_of(self, axis: Axis) -> AxisState:
        """The state of an axis of the project."""
        one = self.machine.of(axis)
        return self._state(one, one.solved)

    def _state(self, one: AxisSubject, numbers: Solved) -> AxisState:
        asking = self._asking()
        kept, applied = self._states.get(one.key), self.saving.applied.get(one.name)
        if kept is None or kept.axis is not one.part or kept.solution is not numbers.solution or kept.together is not asking or (
                kept.applied is not applied or kept.system != self.system):
            applied = self.saving.applied.setdefault(one.name, {})
            kept = self._states[one.key] = AxisState(
                one.key, one.part, numbers.solution, numbers.verdicts, applied, self.system, asking)
        return kept

    def _asking(self) -> tuple[Verdict, ...]:
        last = self.machine.together_last
        return () if last is None else last.asking

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
        one = self.machine.of(axis)
        if one.follower is None:
            return None
        applied = {name.removeprefix(FOLLOWS): entry for name, entry in self.saving.applied.get(axis.name, {}).items()
                   if name.startswith(FOLLOWS)}
        return AxisState(one.key, *one.follower, (), applied, self.system, leading=one.solved.solution)

    def solution_with(self, name: str) -> Solution:
        """The solution on which a quantity or given stands: that of the shown axis, else that of all axes together."""
        of_project = name in project_sheet().quantities or name not in (*self.sheet.inputs, *self.sheet.quantities)
        last = self.machine.together_last
        return self.solution if not of_project else self.together if last is None else last.solution

    def inherited(self, part: str, name: str) -> str:
        """What holds while a field of the driver is empty because the project says it, as a hint within the field."""
        shared = getattr(self.project, name, None) if (part, name) == ("driver", "supply_voltage") else None
        return "" if shared is None else f"{shared:g} shared"

    def axis_of(self, key: int) -> Axis | None:
        """The axis that was begun with a key, whatever it is called now; None when it is gone."""
        return self.project.axes[self.keys.index(key)] if key in self.keys else None

    @property
    def revision(self) -> Revision:
        """The newest revision that is in the file."""
        return self.saving.revision

    @property
    def file(self) -> ProjectFile:
        """The file that everything goes into."""
        return self.saving.file

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
        self.changed.emit(frozenset((*self.sheet.inputs, *self.sheet.quantities)))
        return False

    @property
    def path(self) -> Path:
        return self.file.path

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

    @property
    def system(self) -> str:
        """metric or inch."""
        return str(self.project.unit_system)

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
        return self._state(one, one.last or one.solved).worst()

    def show_axis(self, index: int) -> None:
        """Show another axis."""
        if index != self._index and 0 <= index < len(self.project.axes):
            self._index = index
            self.axis_changed.emit()

    def value(self, path: DocumentPath) -> Any:
        """What stands at a path of the document."""
        return at(self.project, path)

    def axis_path(self, *steps: str | int) -> DocumentPath:
        """A path inside the shown axis."""
        return ("axes", self._index, *steps)

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
        axis = f"{self.project.axes[path[1]].name}: " if path[0] == "axes" and isinstance(path[1], int) else ""
        return axis + " ".join(words[-2:])

    def replace(self, project: Project, label: str) -> None:
        """Take another document as a whole, undoable."""
        if self.may_write():
            self.undo_stack.push(Change(self, self.project, project, label))

    def _become(self, project: Project, label: str, keys: tuple[int, ...] | None) -> None:
        before, self.project, was = self.project, project, self.machine
        keys = keys or kept_keys(before.axes, was.keys, project.axes, was.fresh)
        self._follow_names(dict(zip(was.keys, before.axes, strict=True)), dict(zip(keys, project.axes, strict=True)))
        self._follow_spindle(before, project)
        self._index = min(self._index, len(project.axes) - 1)
        self.saving.commit(project, label)  # first, so that nothing that goes wrong with showing it can lose it
        self._solver.follow(project, self.axis, keys)
        self._states = {key: kept for key, kept in self._states.items() if key in keys}
        if self.homeless:
            QTimer.singleShot(0, self._bring_home)
        there, together = was.by_key(self.machine.of(self.axis).key), was.together_last
        shown = None if there is None else there.last
        names = [axis.name for axis in before.axes]
        if names != [axis.name for axis in project.axes] or shown is None or shown.solution.sheet is not self.sheet:
            self.axis_changed.emit()
            return
        last = self.machine.together_last
        late = frozenset() if last is None or together is None else last.solution.differing(together.solution)
        self.changed.emit(self.solution.differing(shown.solution) | late)

    def _follow_names(self, former: dict[int, Axis], axes: dict[int, Axis]) -> None:
        """Let log, hardware and rounds under way follow each axis to its new name, also where two have changed names."""
        renamed = {former[key].name: axis.name for key, axis in axes.items()
                   if key in former and former[key].name != axis.name}
        aside = {name: f"{name} (was)" for name in renamed if name in renamed.values()}
        for name, between in aside.items():
            self.saving.rename_axis(name, between)
        for name, new in renamed.items():
            self.saving.rename_axis(aside.get(name, name), new)
        for one in self.rounds:
            one.axis = renamed.get(one.axis, one.axis)

    def _follow_spindle(self, before: Project, after: Project) -> None:
        """Let the log and what is on the hardware follow a spindle to its new name."""
        were, are = ([one.name for one in project.spindles or ()] for project in (before, after))
        renamed = [(one, other) for one, other in zip(were, are, strict=False) if one != other]
        if len(were) == len(are) and len(renamed) == 1:
            self.saving.rename_axis(f"{OF_SPINDLE}{renamed[0][0]}", f"{OF_SPINDLE}{renamed[0][1]}")

    def _take_analyses(self) -> None:
        """Take in what a worker has made of a record."""
        shown = self.solution
        self._solver.follow(self.project, self.axis, self.keys)
        names = self.solution.differing(shown)
        if names:
            self.changed.emit(names)

    def _others_followed(self, names: frozenset[str]) -> None:
        """Other axes have new numbers: tell it by names that the shown one has too, since what hears of others asks it for them."""
        sheets = (self.sheet, project_sheet())
        self.changed.emit(frozenset(name for name in names if any(one.has(name) for one in sheets)))

    @property
    def analysing(self) -> bool:
        """Whether a worker is still at something."""
        return self.works.busy or self._analyses.waiting or self._solver.waiting

    def add_reading(self, reading: Any, begun: AxisState | None = None) -> bool:
        """Put a set of readings into an axis, undoable, and write it down; begun: the axis it was taken for, by default the shown.

        Where that axis is gone meanwhile nothing is added, and it is told.
        """
        if not self.may_write():
            return False
        if reading.practice and not self.project.practice:
            self.told.emit("Made-up readings do not enter a project of a real machine. File, Practice on this machine makes a"
                           " project for them.")
            return False
        target = self.axis if begun is None else self.axis_of(begun.key)
        if target is None:
            name = begun.axis.name if begun is not None else ""
            if begun is not None:
                self.homeless.append((begun, reading))
            self.told.emit(f"Axis {name} is gone, so its {reading.kind} readings wait. Undo brings the axis back, and they enter it"
                           " then; they are kept in the file.")
            return False
        index = self.project.axes.index(target)
        self.edit(("axes", index, "readings"), (*target.readings, reading), f"{target.name}: {reading.kind} readings")
        said = f"{reading.kind.capitalize()} readings taken{f': {reading.note}' if reading.note else ''}."
        self.write(said, "measured", target.name)
        return True

    def _bring_home(self) -> None:
        """Readings that wait for an axis enter it once it is there again."""
        waiting, self.homeless = self.homeless, []
        for begun, reading in waiting:
            if self.axis_of(begun.key) is None:
                self.homeless.append((begun, reading))
            else:
                self.add_reading(reading, begun)

    def save_round(self, round_: Round, ended: bool = False) -> None:
        """Keep a round as far as it has come, after every number; ended: nothing is left to go on with."""
        if not self.may_write():
            return
        self.rounds = [one for one in self.rounds if one.key != round_.key] + ([] if ended else [round_])
        self.saving.keep_round(round_.key, round_.axis, round_.kind, copy.deepcopy(round_.plain()), ended)

    def _open_rounds(self) -> list[Round]:
        """The rounds that were begun and not ended; what cannot be read is left where it is."""
        found = []
        for plain in self.file.open_rounds():
            with suppress(KeyError, TypeError):
                found.append(Round.from_plain(plain))
        return found

    def kept(self, reading: Any, axis: str) -> Any:
        """The reading itself, saved ahead of being added; for a worker, since a long record takes a while to write."""
        with suppress(BadFile):  # adding it tries again and tells
            self.file.keep(reading, axis)
        return reading

    def write(self, text: str, kind: str = "note", axis: str | None = None) -> None:
        """Add a line of what happened to the log of an axis, by default the shown one; undoing takes nothing of it back."""
        if self.may_write():
            self.saving.put([new_entry(self, text, kind, axis)])
            self.book_changed.emit()

    def entries(self) -> list[Entry]:
        """The log, oldest first."""
        return self.saving.entries

    def has_entries(self) -> bool:
        """Whether the log says anything of the shown axis; what was counted is not counted again."""
        book, (seen, axes) = self.saving.entries, self._logged
        if len(book) < seen:
            seen, axes = 0, set()
        axes |= {entry.axis for entry in book[seen:]}
        self._logged = len(book), axes
        return self.axis.name in axes

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
