"""What is written to the project file, in order; what cannot be written waits, is tried again, and is never forgotten."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from urban_mule.store.document.project import Project
from urban_mule.store.fault_log import note_fault
from urban_mule.store.file.project_file import Applied, Entry, ProjectFile, Where, now
from urban_mule.store.text_files import BadFile

AGAIN = 4000  # ms until what could not be saved is tried again


class Saving(QObject):
    """The log, what is on the hardware, and the document's way into the file.

    The log and the applied values are read once and kept. `unsaved` is empty, or the sentence that says why the newest is
    not in the file; any exception counts as not saved. Signals: saved(revision); failed(sentence): something new could not
    be saved.
    """

    saved = pyqtSignal(object)
    failed = pyqtSignal(str)

    def __init__(self, file: ProjectFile, parent: QObject | None = None) -> None:
        """Raises BadFile when what the file holds cannot be read."""
        super().__init__(parent)
        self.file = file
        self.revision = file.last_revision()
        self.entries: list[Entry] = file.entries()
        self.applied: Mapping[Where, Mapping[str, Applied]] = file.applied()  # another object after each change
        self.names: dict[str, str] = file.names()  # of everybody there is or was, by id; another object after a change
        self.unsaved = self.told_on_opening = ""
        if file.left_out:
            self.told_on_opening = (f"{file.left_out} lines of the log or of what was set hold something else than they should, and"
                                    " are left out; “urban-mule salvage --to” writes a file without them.")
        self._document: Callable[[], object] | None = None  # only the newest counts: it holds all that those before it hold
        self._lines: list[Callable[[], object]] = []
        self._again = QTimer(self, interval=AGAIN)
        self._again.timeout.connect(self.try_again)

    def commit(self, project: Project, label: str) -> None:
        """Save a change of the document."""
        time = now()
        called = {one.id: one.called for one in project.subjects}
        if not called.items() <= self.names.items():
            self.names = {**self.names, **called}

        def write() -> None:
            self.revision = self.file.commit(project, label, time)

        self._document = write
        self._told(self._write_all())

    def put(self, entries: Iterable[Entry], applied: Iterable[Applied] = ()) -> None:
        """Add lines to the log, and what the user says is on the hardware now."""
        entries, applied = tuple(entries), tuple(applied)
        self.entries.extend(entries)
        for one in applied:
            self._stands(one.where, one.name, one)
        self._line(lambda: self.file.put_down(entries, applied))

    def take_back(self, entries: Iterable[Entry], applied: Iterable[tuple[Applied, Applied | None]] = ()) -> None:
        """Take lines and values out of the book again; with each value the one that was there before it."""
        gone, values = tuple(entries), tuple(applied)
        if gone:
            self.entries = [one for one in self.entries if one not in gone]
        for one, before in values:
            self._stands(one.where, one.name, before)
        if gone or values:
            self._line(lambda: self.file.take_back(gone, [one for one, _ in values]))

    def _stands(self, where: Where, name: str, value: Applied | None) -> None:
        there = {key: one for key, one in self.applied.get(where, {}).items() if key != name}
        self.applied = {**self.applied, where: there if value is None else {**there, name: value}}

    def attach(self, name: str, media_type: str, data: bytes) -> None:
        """Keep a picture in the file."""
        time = now()
        self._line(lambda: self.file.attach(name, media_type, data, time))

    def keep_round(self, key: str, subject: str, kind: str, state: dict[str, Any], ended: bool) -> None:
        """Keep a round as far as it has come."""
        self._line(lambda: self.file.save_round(key, subject, kind, state, ended))

    def _line(self, write: Callable[[], object]) -> None:
        self._lines.append(write)
        self._told(self._write_all())

    def try_again(self) -> None:
        """Write what waits; quiet when it still cannot be."""
        self._write_all()

    def _told(self, why: str) -> None:
        if why:
            self.failed.emit(why)

    def _write_all(self) -> str:
        """Write what waits, the document first; the sentence of the first thing that cannot be written, or nothing."""
        faults = []
        if self._document is not None:
            faults.append(self._tried(self._document))
            if not faults[-1]:
                self._document = None
        waiting, self._lines = self._lines, []
        for line in waiting:
            why = self._tried(line)
            if why:
                self._lines.append(line)
                faults.append(why)
        self.unsaved = next(filter(None, faults), "")
        if self.unsaved:
            self._again.start()
        else:
            self._again.stop()
            self.saved.emit(self.revision)
        return self.unsaved

    @staticmethod
    def _tried(write: Callable[[], object]) -> str:
        try:
            write()
        except BadFile as why:
            return str(why)
        except Exception as error:
            return f"not saved: {note_fault(error, 'saving')}"
        return ""

    def move_to(self, path: Path) -> None:
        """Save all there is elsewhere and go on there, where the file was taken away or cannot be written. Raises BadFile."""
        self.file.copy_to(path)
        former, self.file = self.file, ProjectFile.open(path)
        self.file.go_on_as(former)
        former.close()
        self._write_all()

    def close(self) -> None:
        """Try once more, then close the file."""
        self._again.stop()
        if self.unsaved:
            self._write_all()
        self.file.close()
