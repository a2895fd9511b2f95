"""Analyses of long records: begun once the window is painted, made in a worker, kept for as long as the records are the same."""

from __future__ import annotations

import threading
from collections.abc import Callable
from hashlib import blake2b
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from urban_mule.core.subjects import axis_sheet
from urban_mule.desk.model.last_used import LastUsed
from urban_mule.desk.model.works import Works

FIRST_PAINT = 120  # ms that the window has for itself before a worker competes with it
Kept = tuple[Any, dict[str, Any] | None]  # the records, and what their analysis gave, or None while a worker is at it

MADE_BEFORE = LastUsed[bytes, dict[str, Any]](24)  # by what the records hold: a file that is opened again, or a step taken back
ONE_AT_A_TIME = threading.Lock()  # two at once take longer than one after the other: they fight for the interpreter


def mark_of(records: tuple[Any, ...]) -> bytes:
    """The same where the last two, which are what is looked at, have the same samples and directions, whatever else is said."""
    mark = blake2b()
    for record in records[-2:]:
        mark.update(b"".join((record.time.tobytes(), record.values.tobytes(), record.direction.encode())))
    return mark.digest()


def analysed(records: tuple[Any, ...]) -> dict[str, Any]:
    """The slow quantities of these records; what was made before of the same samples is not made again."""
    mark = mark_of(records)
    found = MADE_BEFORE.get(mark)
    if found is None:
        with ONE_AT_A_TIME:
            sheet = axis_sheet("linear", "stepper")
            solution = sheet.solve(acceleration_reading=records[-1], acceleration_readings=records)
            found = {name: solution.find(name) for name in sheet.slow}
        MADE_BEFORE.keep(mark, found)
    return found


class Analyses(QObject):
    """ready: an analysis has come in. told(sentence): one could not be made."""

    ready = pyqtSignal()
    told = pyqtSignal(str)

    def __init__(self, works: Works, parent: QObject) -> None:
        super().__init__(parent)
        self._works = works
        self._kept: dict[tuple[int, ...], Kept] = {}
        self._later: list[Callable[[], object]] = []
        self._pause = QTimer(self, singleShot=True, interval=0)
        self._pause.timeout.connect(self._begin)

    @property
    def waiting(self) -> bool:
        """Whether one is still to be begun."""
        return bool(self._later)

    def known(self, records: tuple[Any, ...]) -> Kept | None:
        """What is kept of these records, without asking for more."""
        return self._kept.get(tuple(map(id, records)))

    def of(self, records: tuple[Any, ...]) -> Kept:
        """The records as they were analysed, and what that gave, or None while a worker is at it."""
        if not records:
            return None, {}
        kept = self.known(records)
        if kept is not None:
            return kept
        before = MADE_BEFORE.get(mark_of(records)) if MADE_BEFORE else None  # a fresh process does not read records for it
        waits = self._kept[tuple(map(id, records))] = (records, before)
        if before is not None:
            return waits
        self._later.append(lambda: self._works.run(
            ("the acceleration record", tuple(map(id, records))), self, lambda _progress: analysed(records),
            lambda found: self._made(records, found), lambda why: self._not_made(records, why)))
        self._pause.start()
        return waits

    def _begin(self) -> None:
        """Begin what waits; the pause counts from when events are first looked at, which is when the window is painted."""
        if self._pause.interval() == 0:
            self._pause.start(FIRST_PAINT)
            return
        waiting, self._later = self._later, []
        for begin in waiting:
            begin()

    def _not_made(self, records: tuple[Any, ...], why: str) -> None:
        self._made(records, {})
        self.told.emit(why)

    def _made(self, records: tuple[Any, ...], found: dict[str, Any]) -> None:
        self._kept[tuple(map(id, records))] = (records, found)
        self.ready.emit()

    def stop(self) -> None:
        """Begin no more."""
        self._pause.stop()
        self._later.clear()
