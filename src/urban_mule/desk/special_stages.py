"""Stages that are more than a grid of fields: the chain of Load, the cycle of Moves, the book of Log, the modes of Ring."""

from __future__ import annotations

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
    QWidget,
)

from urban_mule.core.links import STAGES as TRAIN_STAGES
from urban_mule.core.profile import Move
from urban_mule.core.sheet import BadValue, givens
from urban_mule.core.units import FACTORS
from urban_mule.core.verdict import Verdict
from urban_mule.desk.field import Field
from urban_mule.desk.pictures.log import KINDS
from urban_mule.desk.stage_view import StageView
from urban_mule.desk.stages import SPECS
from urban_mule.store.document import STAGE_MODELS, MoveModel


class LoadStage(StageView):
    """The fields of the chosen link, or of the load; links are inserted and removed beneath."""

    def build_fields(self, know: QVBoxLayout) -> None:
        self.link = -1
        row = QHBoxLayout()
        self.kind = QComboBox(accessibleName="Kind of link to insert")
        self.kind.addItems(list(TRAIN_STAGES))
        self.insert = QPushButton("Insert link before")
        self.insert.clicked.connect(self._insert)
        self.remove = QPushButton("Remove link")
        self.remove.clicked.connect(self._remove)
        self.fault = QLabel(objectName="wrong", wordWrap=True)
        for widget in (self.kind, self.insert, self.remove):
            row.addWidget(widget)
        row.addWidget(self.fault, 1)
        know.addLayout(row)
        self.picture.chosen.connect(self.choose)  # type: ignore[attr-defined]
        self.refill_fields()

    def choose(self, link: int) -> None:
        """Show the fields of a link, -1 for the load."""
        self.link = link
        self.fault.setText("")
        self.fields.empty()
        self.refill_fields()

    def refill_fields(self) -> None:
        train = self.session.axis.train or ()
        self.shown_kinds = self.kinds()
        if not 0 <= self.link < len(train):
            self.link = -1
            super().refill_fields()
            self.know_heading.setText("What you know of the load")
        else:
            record = TRAIN_STAGES[train[self.link].kind]
            own = [g for g in givens(record) if g.name not in ("back_efficiency", "drag_torque")]
            shared = [g for g in givens(record) if g.name in ("back_efficiency", "drag_torque")]
            for given in (*own, *shared):
                self.fields.add(Field(self.session, self.session.axis_path("train", self.link, given.name), given))
            self.know_heading.setText(f"What you know of the {record.kind}")
        self.remove.setEnabled(self.link >= 0)

    def _insert(self) -> None:
        train = list(self.session.axis.train or ())
        place = self.link if self.link >= 0 else len(train)
        kind = self.kind.currentText()
        train.insert(place, STAGE_MODELS[kind].model_validate({"kind": kind}))
        self._take(tuple(train), f"{kind} inserted", place)

    def _remove(self) -> None:
        train = list(self.session.axis.train or ())
        if 0 <= self.link < len(train):
            gone = train.pop(self.link)
            self._take(tuple(train), f"{gone.kind} removed", -1)

    def _take(self, train: tuple[Any, ...], label: str, link: int) -> None:
        try:
            self.session.edit(self.session.axis_path("train"), train, f"{self.session.axis.name}: {label}")
        except BadValue as why:
            self.fault.setText(str(why))
            return
        self.picture.choose(link)  # type: ignore[attr-defined]

    def kinds(self) -> tuple[str, ...]:
        return tuple(stage.kind for stage in self.session.axis.train or ())

    def refresh(self, names: object = None) -> None:
        super().refresh(names)
        if self.shown_kinds != self.kinds():  # the chain itself changed, perhaps by an undo
            self.choose(self.link if self.link < len(self.kinds()) else -1)


class MovesStage(StageView):
    """The cycle as rows of moves."""

    field_columns = len(givens(Move))
    shares = (15, 7)

    def build_fields(self, know: QVBoxLayout) -> None:
        self.know_heading.setText("The cycle: one row a move")
        self.shown_moves = -1
        row = QHBoxLayout()
        self.add = QPushButton("Add a move back")
        self.add.clicked.connect(self._add)
        self.less = QPushButton("Remove the last move")
        self.less.clicked.connect(self._less)
        row.addWidget(self.add)
        row.addWidget(self.less)
        row.addStretch(1)
        know.addLayout(row)
        self.refill_fields()

    def refill_fields(self) -> None:
        cycle = self.session.axis.cycle or ()
        self.fields.empty()
        self.shown_moves = len(cycle)
        for place in range(len(cycle)):
            for given in givens(Move):
                self.fields.add(Field(self.session, self.session.axis_path("cycle", place, given.name), given))
        self.less.setEnabled(bool(cycle))

    def refresh(self, names: object = None) -> None:
        super().refresh(names)
        if self.shown_moves != len(self.session.axis.cycle or ()):
            self.refill_fields()

    def _add(self) -> None:
        cycle = self.session.axis.cycle or ()
        axis = self.session.axis
        if cycle:
            new = MoveModel.model_validate({**dict(cycle[-1]), "distance": -cycle[-1].distance})
        elif axis.travel and axis.speed_wanted and axis.acceleration_wanted:
            new = MoveModel.model_validate({
                "distance": 0.6 * axis.travel, "speed": axis.speed_wanted, "acceleration": axis.acceleration_wanted})
        else:
            self.know_heading.setText("Give travel, speed and acceleration on the Brief first; the first move is made from them")
            return
        self.session.edit(self.session.axis_path("cycle"), (*cycle, new), f"{axis.name}: move added")

    def _less(self) -> None:
        cycle = self.session.axis.cycle or ()
        self.session.edit(self.session.axis_path("cycle"), cycle[:-1] or None, f"{self.session.axis.name}: move removed")


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


def make_stage(session: Any, name: str) -> QWidget:
    """The view of a stage."""
    views = {"Load": LoadStage, "Moves": MovesStage, "Log": LogStage, "Ring": RingStage}
    return views.get(name, StageView)(session, SPECS[name])
