"""Stages that are more than a grid of fields: the cycle of Moves, the book of Log, the modes of Ring; and which view is whose."""

from __future__ import annotations

from importlib import import_module
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
)

from urban_mule.core.sheet.units import FACTORS
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.table import Table
from urban_mule.desk.shared.cycle_editor import CycleEditor
from urban_mule.desk.stages.log.log import KINDS
from urban_mule.desk.stages.registry import SPECS
from urban_mule.desk.stages.view import StageView
from urban_mule.store.file.project_file import Entry


class MovesStage(StageView):
    """The cycle as rows of moves."""

    shares = (15, 7)

    def build_fields(self, know: QVBoxLayout) -> None:
        self.know_heading.setText("The cycle: one row a move")
        self.cycle = CycleEditor(self.session)
        know.addWidget(self.cycle, 1)


class RingStage(StageView):
    """Modes and shapers as rows beside the results."""

    def build_fields(self, know: QVBoxLayout) -> None:
        super().build_fields(know)
        self.table = Table("Shapers", ("shaper", "leaves of record", "of worst mode", "allows", "adds", ""), 5, (1, 2, 3, 4))
        self.table.setMinimumHeight(130)
        know.addWidget(self.table, 1)

    def refresh(self, names: object = None) -> None:
        super().refresh(names)
        solution = self.session.solution
        shapers, chosen = solution.get("shapers"), solution.get("chosen_shaper")
        self.table.setVisible(bool(shapers))
        if not shapers:
            return
        linear = self.session.axis.motion == "linear"
        factor, unit = (1.0, "m/s²") if linear else (1 / FACTORS["°"], "°/s²")
        survives = solution["surviving_shares"]
        self.table.source.show_rows([(
            s["name"], f"{100 * survives[s['name']]:.0f} %", f"{100 * s['residual']:.0f} %",
            f"{s['allowed_acceleration'] * factor:.3g} {unit}", f"{1000 * s['times'][-1]:.0f} ms", "set it" if s is chosen else "")
            for s in shapers], shapers.index(chosen) if chosen in shapers else None)


class LogStage(StageView):
    """What was done, and a line to write more."""

    def build_fields(self, know: QVBoxLayout) -> None:
        self.know_heading.setText("Write it down")
        row = QHBoxLayout()
        self.kind = QComboBox(accessibleName="Kind of entry")
        self.kind.addItems(list(KINDS))
        self.kind.setCurrentText("note")
        self.line = QLineEdit(placeholderText="what was done, what it showed, what is next", accessibleName="Log entry")
        self.line.returnPressed.connect(self._write)
        button = QPushButton("Write")
        button.clicked.connect(self._write)
        row.addWidget(self.kind)
        row.addWidget(self.line, 1)
        row.addWidget(button)
        know.addLayout(row)
        self.book = Table("The book, newest entry first", ("day", "axis", "kind", "what"), 3)
        self.book.setMinimumHeight(150)
        self.book.setSortingEnabled(True)
        self.book.sortByColumn(0, Qt.SortOrder.DescendingOrder)
        know.addWidget(self.book, 1)
        self.whole = Label(wordWrap=True)
        self.whole.setAccessibleName("The chosen entry")
        know.addWidget(self.whole)
        selection = self.book.selectionModel()
        assert selection is not None
        selection.currentRowChanged.connect(lambda now, _before: self.whole.setText(str(now.siblingAtColumn(3).data() or "")))
        self._read: list[Entry] = []
        self.session.book_changed.connect(self._read_on)
        self._read_on()

    def _read_on(self) -> None:
        """Take over what was written since; the book is read anew only when it is another one."""
        entries = self.session.entries()
        if self._read is not entries:
            self.book.source.show_rows([])
        new = entries[len(self.book.source.rows):]
        self._read = entries
        self.book.source.add([((f"{e.time.day} {e.time:%b %Y}", e.time.isoformat()), e.axis, e.kind, e.text) for e in new])
        if self.isVisible():
            self.refresh()

    def _write(self) -> None:
        text = self.line.text().strip()
        if text:
            self.session.write(text, self.kind.currentText())
            self.line.clear()

    def words(self, deciding: Verdict | None) -> tuple[str, str]:
        entries = [e for e in self.session.entries() if e.axis == self.session.axis.name]
        due = [e for e in entries if e.kind == "due"]
        if due:
            return f"{len(entries)} entries for {self.session.axis.name}; {len(due)} due.", f"Due: {due[-1].text}"
        return f"{len(entries)} entries for {self.session.axis.name}; nothing is due.", ""


VIEWS = {"Load": "urban_mule.desk.stages.load.stage:LoadStage", "Motor": "urban_mule.desk.stages.motor.stage:MotorStage",
         "Moves": "urban_mule.desk.stages.special:MovesStage", "Log": "urban_mule.desk.stages.special:LogStage",
         "Ring": "urban_mule.desk.stages.special:RingStage"}
PLAIN = "urban_mule.desk.stages.view:StageView"


def stage_modules() -> list[str]:
    """The modules of every view and leaf."""
    named = [*VIEWS.values(), *(where for spec in SPECS.values() for _, where in spec.leaves)]
    return ["urban_mule.desk.stages.measure", *(where.partition(":")[0] for where in named)]


def make_stage(session: Any, name: str) -> StageView:
    """The view of a stage; its module is imported when the stage is first opened."""
    module, _, view = VIEWS.get(name, PLAIN).partition(":")
    made: StageView = getattr(import_module(module), view)(session, SPECS[name])
    return made
