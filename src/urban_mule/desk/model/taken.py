"""Readings that come in, and the rounds in which they are taken: neither is lost, whatever becomes of the axis meanwhile."""

from __future__ import annotations

import copy
from contextlib import suppress
from typing import Any

from PyQt6.QtCore import QObject

from urban_mule.bench.sessions.rounds import Round
from urban_mule.desk.model.document import Document
from urban_mule.store.document.project import Axis
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.state.axis_state import AxisState
from urban_mule.store.text_files import BadFile


class Taken(Document):
    """The document with its rounds under way, and with the readings whose axis is gone meanwhile (`homeless`)."""

    def __init__(self, file: ProjectFile, parent: QObject | None = None) -> None:
        super().__init__(file, parent)
        self.homeless: list[tuple[AxisState, Any]] = []
        self.rounds = self._open_rounds()

    def axis_of(self, who: str) -> Axis | None:
        """The axis of an identity, whatever it is called now; None when it is gone."""
        return next((one for one in self.project.axes if one.id == who), None)

    def add_reading(self, reading: Any, begun: AxisState | None = None) -> bool:
        """Put a set of readings where it belongs, undoable, and write it down; begun: whose it is, by default the shown axis's.

        Where that one is gone meanwhile nothing is added, and it is told.
        """
        if not self.may_write():
            return False
        if reading.practice and not self.project.practice:
            self.told.emit("Made-up readings do not enter a project of a real machine. File, Practice on this machine makes a"
                           " project for them.")
            return False
        who = self.axis.id if begun is None else begun.id
        path = self.project.path_of(who)
        if path is None:
            name = begun.axis.name if begun is not None else ""
            if begun is not None:
                self.homeless.append((begun, reading))
            self.told.emit(f"Axis {name} is gone, so its {reading.kind} readings wait. Undo brings the axis back, and they enter it"
                           " then; they are kept in the file.")
            return False
        target: Any = self.value(path)
        stands_at = getattr(reading, "stands_at", "")
        self.edit((*path, stands_at or "readings"), reading if stands_at else (*target.readings, reading),
                  f"{target.called}: {reading.kind} readings")
        self.write(_said(reading), "measured", who)
        return True

    def _bring_home(self) -> None:
        """Readings that wait for an axis enter it once it is there again."""
        waiting, self.homeless = self.homeless, []
        for begun, reading in waiting:
            if self.project.path_of(begun.id) is None:
                self.homeless.append((begun, reading))
            else:
                self.add_reading(reading, begun)

    def save_round(self, round_: Round, ended: bool = False) -> None:
        """Keep a round as far as it has come, after every number; ended: nothing is left to go on with."""
        if not self.may_write():
            return
        self.rounds = [one for one in self.rounds if one.key != round_.key] + ([] if ended else [round_])
        self.saving.keep_round(round_.key, round_.subject, round_.kind, copy.deepcopy(round_.plain()), ended)

    def _open_rounds(self) -> list[Round]:
        """The rounds that were begun and not ended; what cannot be read is left where it is."""
        found = []
        for plain in self.file.open_rounds():
            with suppress(KeyError, TypeError):
                found.append(Round.from_plain(plain))
        return found

    def kept(self, reading: Any, subject: str) -> Any:
        """The reading itself, saved ahead of being added; for a worker, since a long record takes a while to write."""
        with suppress(BadFile):  # adding it tries again and tells
            self.file.keep(reading, subject)
        return reading


def _said(reading: Any) -> str:
    """What the log says of readings that were taken."""
    noted = f": {reading.note}" if getattr(reading, "note", "") else ""
    return getattr(reading, "said", "") or f"{reading.kind.capitalize()} readings taken{noted}."
