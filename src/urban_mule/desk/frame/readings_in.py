"""Readings from files into an axis: our own layout at once, any other through the mapper, several one after the other."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QWidget

from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.sheet.record import record
from urban_mule.desk.model import memory
from urban_mule.desk.model.session import Session
from urban_mule.store.state.axis_state import AxisState

if TYPE_CHECKING:
    from urban_mule.core.sheet.progress import Progress
    from urban_mule.desk.frame.waiting import WaitingLine
    from urban_mule.store.exchange.csv_mapping import Mapping

MOST_KNOWN = 50  # layouts that are remembered
KNOWN = "tables"


@record(frozen=True)
class WaitingTable:
    """A table of another layout that waits for a person to say what its columns are."""

    path: Path
    begun: AxisState
    text: str
    mapping: Mapping
    kinds: tuple[str, ...]


class ReadingsIn(QObject):
    """Takes readings in for one window.

    arrived(stage): readings came in that belong there. note(sentence): what became of a file.
    """

    arrived = pyqtSignal(str)
    note = pyqtSignal(str)

    def __init__(self, session: Session, window: QWidget, waiting: WaitingLine) -> None:
        super().__init__(window)
        self.session, self.window, self.line = session, window, waiting
        self.waiting: list[WaitingTable] = []
        self.open: WaitingTable | None = None

    def choose(self, kind: str) -> None:
        """Ask for files with readings, and take them in for the shown axis."""
        words = reading_kinds()[kind].words
        names, _ = QFileDialog.getOpenFileNames(self.window, f"Import {words}", "", "CSV (*.csv *.txt);;All files (*)")
        self.take(map(Path, names), (kind,))

    def take(self, paths: Iterable[Path], kinds: tuple[str, ...] = ()) -> None:
        """Take files in, each read in the background. kinds: those that are thought of first; a fault is one sentence."""
        begun = self.session.state
        for path in paths:
            self.line.run(path, self, lambda progress, path=path: self._read(path, begun, kinds, progress),
                          lambda found, path=path: self._came(path, begun, found))

    def _read(self, path: Path, begun: AxisState, kinds: tuple[str, ...], progress: Progress) -> Any:
        """In a thread: the readings of a file in our layout, else its table with how it is most likely read."""
        from urban_mule.store.exchange.csv_guess import decoded, guess
        from urban_mule.store.exchange.csv_readings import LARGEST_CSV, OtherLayout, read_csv
        from urban_mule.store.text_files import from_file

        every = (*kinds, *(kind for kind in reading_kinds() if kind not in kinds))
        try:
            return self.session.kept(read_csv(path, kinds[0] if kinds else None, progress), begun.id)
        except OtherLayout:
            def parse(raw: bytes) -> WaitingTable:
                text = decoded(raw)
                mapping = guess(text, every)
                return WaitingTable(path, begun, text, known(mapping) or mapping, every)

            return from_file(path, LARGEST_CSV, parse)

    def _came(self, path: Path, begun: AxisState, found: Any) -> None:
        if isinstance(found, WaitingTable):
            self.waiting.append(found)
            self._next()
        else:
            self._add(path, begun, found)

    def _add(self, path: Path, begun: AxisState, reading: Any) -> None:
        dated = dated_by(reading, path)
        if self.session.add_reading(dated, begun):
            self.arrived.emit(reading_kinds()[reading.kind].stage)
            by_file = "" if dated is reading else f", dated by the file: {dated.taken[:10]}"
            self.note.emit(f"{path.name}: {reading.kind} readings taken in{by_file}.")

    def _next(self) -> None:
        """Open the mapper on the next table that waits, one at a time."""
        if self.open is not None or not self.waiting:
            return
        from urban_mule.desk.frame.mapper import Mapper

        table = self.open = self.waiting.pop(0)
        box = Mapper(self.session, table.path, table.text, table.mapping, table.kinds, self.window)
        box.mapped.connect(lambda mapping, reading, gauge: self._mapped(table, mapping, reading, gauge))
        box.finished.connect(self._closed)
        box.open()

    def _mapped(self, table: WaitingTable, mapping: Mapping, reading: Any, gauge: str) -> None:
        """Take a table in as it was said; others with the same heading that wait are read the same way, unasked."""
        remember(mapping)
        self._add(table.path, table.begun, self._measured_by(reading, gauge))
        alike = [one for one in self.waiting if one.mapping.header == mapping.header]
        self.waiting = [one for one in self.waiting if one not in alike]
        for one in alike:
            self._as_before(one, mapping, gauge)

    def _as_before(self, table: WaitingTable, mapping: Mapping, gauge: str) -> None:
        from urban_mule.store.exchange.csv_mapping import read_mapped

        self.line.run(
            table.path, self, lambda _progress: read_mapped(table.text, mapping),
            lambda found: self._add(table.path, table.begun, self._measured_by(found, gauge)),
            lambda why: self.session.told.emit(f"{table.path.name}: {why}"))

    def _measured_by(self, reading: Any, name: str) -> Any:
        """A reading that names its gauge, and takes from it what the file does not say."""
        gauge = next((one for one in self.session.project.gauges or () if one.name == name), None)
        if gauge is None:
            return reading
        columns = {one.name for one in reading.declared.columns}
        told = {one: value for one in ("gauge_uncertainty", "gauge_expansion") if one in columns
                and getattr(reading, one) is None and (value := getattr(gauge, one)) is not None}
        return type(reading).model_validate({**dict(reading), "gauge": name, **told})

    def _closed(self, _result: int) -> None:
        self.open = None
        self._next()


def dated_by(reading: Any, path: Path) -> Any:
    """A reading with the day of its file, where it does not say itself when it was taken."""
    if reading.taken:
        return reading
    try:
        day = datetime.fromtimestamp(path.stat().st_mtime).astimezone().date().isoformat()
    except OSError:  # it was taken away meanwhile
        return reading
    return type(reading).model_validate({**dict(reading), "taken": day})


def known(guessed: Mapping) -> Mapping | None:
    """How a table with this heading was read before, its lines as they stand in this one; None where none was."""
    from dataclasses import replace

    from urban_mule.store.exchange.csv_mapping import mapping_from

    kept = memory.recalled().get(KNOWN)
    found = mapping_from(kept.get(guessed.header)) if isinstance(kept, dict) and any(guessed.headings) else None
    if found is None or len(found.columns) != len(guessed.columns):
        return None
    return replace(found, first=guessed.first, last=guessed.last, delimiter=guessed.delimiter)


def remember(mapping: Mapping) -> None:
    """Keep how a table with this heading is read."""
    kept = memory.recalled().get(KNOWN)
    others = {header: one for header, one in (kept if isinstance(kept, dict) else {}).items() if header != mapping.header}
    newest = dict(list(others.items())[-(MOST_KNOWN - 1):]) | {mapping.header: mapping.as_json()}
    memory.keep(**{KNOWN: newest})
