"""Stages that are more than a grid of fields: the cycle of Moves, the book of Log, the modes of Ring; and which view is whose."""

from __future__ import annotations

from importlib import import_module
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
)

from urban_mule.core.units import FACTORS
from urban_mule.core.verdict import Verdict
from urban_mule.desk.cycle_editor import CycleEditor
from urban_mule.desk.pictures.log import KINDS
from urban_mule.desk.stage_view import StageView
from urban_mule.desk.stages import SPECS


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
        self.table = QLabel(textFormat=Qt.TextFormat.RichText)
        self.table.setAccessibleName("Shapers")
        know.addWidget(self.table)

    def refresh(self, names: object = None) -> None:
        super().refresh(names)
        solution = self.session.solution
        shapers, chosen = solution.get("shapers"), solution.get("chosen_shaper")
        if not shapers:
            self.table.setText("")
            return
        linear = self.session.axis.motion == "linear"
        factor, unit = (1.0, "m/s²") if linear else (1 / FACTORS["°"], "°/s²")
        survives = solution["surviving_shares"]
        rows = "".join(
            _table_row((
                s["name"], f"{100 * survives[s['name']]:.0f} %", f"{100 * s['residual']:.0f} %",
                f"{s['allowed_acceleration'] * factor:.3g} {unit}",
                f"{1000 * s['times'][-1]:.0f} ms", "set it" if s is chosen else ""), s is chosen)
            for s in shapers)
        head = _table_row(("shaper", "leaves of record", "of worst mode", "allows", "adds", ""))
        self.table.setText(f"<table cellspacing='0'>{head}{rows}</table>")


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
        self.book = QLabel(textFormat=Qt.TextFormat.RichText, wordWrap=True)
        self.book.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.book.setAccessibleName("Entries, newest first")
        scroll = QScrollArea(widgetResizable=True)
        scroll.setWidget(self.book)
        scroll.setAccessibleName("The book, newest entry first")
        scroll.setMinimumHeight(170)
        know.addWidget(scroll, 1)
        self.session.book_changed.connect(self.refresh)

    def _write(self) -> None:
        text = self.line.text().strip()
        if text:
            self.session.write(text, self.kind.currentText())
            self.line.clear()

    def refresh(self, names: object = None) -> None:
        super().refresh(names)
        rows = "".join(
            _table_row((f"{e.time.day} {e.time:%b %Y}", f"<b>{_plain(e.axis)}</b>", e.kind, _plain(e.text)))
            for e in reversed(self.session.entries()))
        self.book.setText(f"<table cellspacing='0'>{rows}</table>")

    def words(self, deciding: Verdict | None) -> tuple[str, str]:
        entries = [e for e in self.session.entries() if e.axis == self.session.axis.name]
        due = [e for e in entries if e.kind == "due"]
        if due:
            return f"{len(entries)} entries for {self.session.axis.name}; {len(due)} due.", f"Due: {due[-1].text}"
        return f"{len(entries)} entries for {self.session.axis.name}; nothing is due.", ""


def _table_row(cells: tuple[str, ...], strong: bool = False) -> str:
    mark, end = ("<b>", "</b>") if strong else ("", "")
    return "<tr>" + "".join(f"<td style='padding: 1px 18px 1px 0'>{mark}{cell}{end}</td>" for cell in cells) + "</tr>"


def _plain(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;")


VIEWS = {"Load": ("load_stage", "LoadStage"), "Motor": ("motor_stage", "MotorStage"), "Moves": ("special_stages", "MovesStage"),
         "Log": ("special_stages", "LogStage"), "Ring": ("special_stages", "RingStage")}


def make_stage(session: Any, name: str) -> StageView:
    """The view of a stage; its module is imported when the stage is first opened."""
    module, view = VIEWS.get(name, ("stage_view", "StageView"))
    made: StageView = getattr(import_module(f"urban_mule.desk.{module}"), view)(session, SPECS[name])
    return made
