"""Readings that come in, and the rounds in which they are taken: neither is lost, whatever becomes of the axis meanwhile."""

from __future__ import annotations

import copy
from contextlib import suppress
from typing import Any

from PyQt6.QtCore import QObject

from urban_mule.bench.sessions.rounds import Round
from urban_mule.desk.model.document import Document
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.settings import OF_SPINDLE
from urban_mule.store.state.axis_state import AxisState
from urban_mule.store.text_files import BadFile


class Taken(Document):
    """The document with its rounds under way, and with the readings whose axis is gone meanwhile (`homeless`)."""

    def __init__(self, file: ProjectFile, parent: QObject | None = None) -> None:
        super().__init__(file, parent)
        self.homeless: list[tuple[AxisState, Any]] = []
        self.rounds = self._open_rounds()

    def axis_of(self, key: int) -> Axis | None:
        """The axis that was begun with a key, whatever it is called now; None when it is gone."""
        return self.project.axes[self.keys.index(key)] if key in self.keys else None

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
