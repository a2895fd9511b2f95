"""The cycle as a table: one row a move, any number of them."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QScrollArea, QVBoxLayout, QWidget

from urban_mule.core.load.cycle import Move
from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue, givens
from urban_mule.desk.kit.field import Field
from urban_mule.desk.kit.painting import Label, tip
from urban_mule.desk.kit.theme import font
from urban_mule.desk.model.scope import Whole
from urban_mule.store.document.parts import MoveModel

COLUMNS = givens(Move)
HEADS = {"process_load": "Work", "repeat": "Times", "acceleration": "Accel."}
NEEDED = ("distance", "speed", "acceleration")
LEAST_HEIGHT = 104
ROWS = 8  # moves that are shown at a time: a row of fields costs, and a cycle may have a thousand


class CycleEditor(QWidget):
    """Rows of moves, some of them at a time, and what can be done with the row in which the cursor last was.

    wanted(name): a given is needed first.
    """

    wanted = pyqtSignal(str)

    def __init__(self, session: Whole, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.fields: list[Field] = []
        self.row = self.first = 0
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        self._table = QWidget()
        self._grid = QGridLayout(self._table)
        self._grid.setContentsMargins(0, 0, 6, 0)
        self._grid.setHorizontalSpacing(6)
        self._grid.setVerticalSpacing(3)
        scroll = QScrollArea(widgetResizable=True)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(self._table)
        scroll.setMinimumHeight(LEAST_HEIGHT)
        box.addWidget(scroll, 1)
        buttons = QHBoxLayout()
        buttons.setSpacing(6)
        self.back, self.again, self.up, self.down, self.less = (QPushButton(text, objectName="plain") for text in (
            "Add a way back", "Duplicate", "Earlier", "Later", "Remove"))
        for button, action in ((self.back, self._add_back), (self.again, self._duplicate), (self.up, lambda: self._shift(-1)),
                               (self.down, lambda: self._shift(1)), (self.less, self._remove)):
            button.clicked.connect(action)
            buttons.addWidget(button)
        self.fault = Label(objectName="wrong", wordWrap=True)
        buttons.addWidget(self.fault, 1)
        box.addLayout(buttons)
        self.pages = QWidget()
        turning = QHBoxLayout(self.pages)
        turning.setContentsMargins(0, 0, 0, 0)
        self.before, self.after = (QPushButton(text, objectName="plain") for text in ("Moves before these", "Moves after these"))
        self.which = Label(objectName="label")
        for button, way in ((self.before, -ROWS), (self.after, ROWS)):
            button.clicked.connect(lambda _on, way=way: self._page(way))
        for widget in (self.before, self.which, self.after):
            turning.addWidget(widget)
        turning.addStretch(1)
        box.addWidget(self.pages)
        session.changed.connect(self._changed)
        session.axis_changed.connect(self._anew)
        self._shown: tuple[int, int, int] | None = None

    @property
    def cycle(self) -> tuple[Any, ...]:
        return self.session.axis.cycle or ()

    def field(self, row: int, name: str) -> Field:
        """The field of a move by its place and the name of its given; its row is shown."""
        self._turn(row)
        return self.fields[(row - self.first) * len(COLUMNS) + [one.name for one in COLUMNS].index(name)]

    def begin(self) -> None:
        """The cursor into the first field of a move that is still empty, or onto the button that adds the first one."""
        if not self.cycle:
            self.back.setFocus()
            return
        lacking = (n for n, move in enumerate(self.cycle) if any(getattr(move, name) is None for name in NEEDED))
        self._turn(next(lacking, self.first))
        needed = [field for field in self.fields if field.name in NEEDED]
        ([field for field in needed if self.session.value(field.path) is None] or needed)[0].setFocus()

    def _changed(self, _names: object) -> None:
        if self.isVisible() and self._shown != self._to_show():
            self.rebuild()

    def _to_show(self) -> tuple[int, int, int]:
        return self.session.index, len(self.cycle), self.first

    def _page(self, way: int) -> None:
        if any(not field.wrong.isHidden() for field in self.fields):
            self.fault.setText("One of these moves holds what cannot be taken; mend it, or press Esc in it.")
            return
        self.fault.setText("")
        self._turn(self.first + way)

    def _turn(self, row: int) -> None:
        """Show the moves among which this one is."""
        self.first = max(0, min(row, len(self.cycle) - 1)) // ROWS * ROWS
        if self._shown != self._to_show():
            self.row = self.first
            self.rebuild()

    def _anew(self) -> None:
        self._shown, self.first = None, 0
        self._changed(None)

    def showEvent(self, event: QShowEvent | None) -> None:
        """The rows are made when they are first seen: each field costs."""
        super().showEvent(event)
        self._changed(None)

    def rebuild(self) -> None:
        """Make the rows anew, for another axis, another number of moves or others of them."""
        self.first = min(self.first, max(0, len(self.cycle) - 1) // ROWS * ROWS)
        self._shown = self._to_show()
        for field in self.fields:
            field.release()
        self.fields = []
        while self._grid.count():
            item = self._grid.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        for column, one in enumerate(COLUMNS, start=1):
            unit = one.unit
            for placeholder, real in self.session.sheet.units.items():
                unit = unit.replace(placeholder, real)
            shown = units.unit_shown(unit, self.session.system, one.shown)
            head = Label(f"{HEADS.get(one.name, one.label)}\n{shown}", objectName="label")
            head.setMinimumWidth(20)
            tip(head, one.doc)
            self._grid.addWidget(head, 0, column)
            self._grid.setColumnStretch(column, 1)
        self._numbers = []
        self.back.setText("Add a way back" if self.cycle else "Add a move")
        these = range(self.first, min(self.first + ROWS, len(self.cycle)))
        self.pages.setVisible(len(self.cycle) > ROWS)
        self.which.setText(f"{these.start + 1} to {these.stop} of {len(self.cycle)}")
        self.before.setEnabled(these.start > 0)
        self.after.setEnabled(these.stop < len(self.cycle))
        for line, place in enumerate(these, start=1):
            number = Label(str(place + 1), objectName="label")
            self._numbers.append(number)
            self._grid.addWidget(number, line, 0)
            for column, one in enumerate(COLUMNS, start=1):
                field = Field(self.session, self.session.axis_path("cycle", place, one.name), one, bare=True,
                              hint="–" if one.default is None and one.name not in NEEDED else "?")
                field.editor.installEventFilter(self)
                self.fields.append(field)
                self._grid.addWidget(field, line, column, Qt.AlignmentFlag.AlignTop)
        self._grid.setRowStretch(ROWS + 1, 1)
        self._mark(min(self.row, max(0, len(self.cycle) - 1)))
        for child in self._table.children():
            if isinstance(child, QWidget):
                child.show()  # at once, not when Qt next looks

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.FocusIn:
            place = next((n for n, field in enumerate(self.fields) if field.editor is watched), None)
            if place is not None:
                self._mark(self.first + place // len(COLUMNS))
        return super().eventFilter(watched, event)

    def _mark(self, row: int) -> None:
        self.row = row
        for place, number in enumerate(self._numbers, start=self.first):
            number.setFont(font(13, bold=place == row))
        several = len(self.cycle) > 1
        self.again.setEnabled(bool(self.cycle))
        self.less.setEnabled(bool(self.cycle))
        self.up.setEnabled(several and row > 0)
        self.down.setEnabled(several and row < len(self.cycle) - 1)

    def _take(self, cycle: tuple[Any, ...], label: str, row: int) -> None:
        try:
            self.session.edit(self.session.axis_path("cycle"), cycle or None, f"{self.session.axis.name}: {label}")
        except BadValue as why:
            self.fault.setText(str(why))
            return
        self.fault.setText("")
        self._shown = None
        self._turn(row)
        self._mark(min(row, max(0, len(self.cycle) - 1)))
        if self.fields:
            line = self.field(min(row, len(self.cycle) - 1), "distance").editor
            line.setFocus()
            if isinstance(line, QLineEdit):
                line.selectAll()

    def _add_back(self) -> None:
        cycle, axis = self.cycle, self.session.axis
        if cycle:
            new = MoveModel.model_validate({**dict(cycle[self.row]), "distance": -cycle[self.row].distance})
        else:
            lacking = [name for name in ("travel", "speed_wanted", "acceleration_wanted") if getattr(axis, name) is None]
            if lacking:
                self.fault.setText("The first move is made from travel, speed and acceleration of the Brief.")
                self.wanted.emit(lacking[0])
                return
            new = MoveModel.model_validate({
                "distance": 0.6 * axis.travel, "speed": axis.speed_wanted, "acceleration": axis.acceleration_wanted})
        place = self.row + 1 if cycle else 0
        self._take((*cycle[:place], new, *cycle[place:]), "move added", place)

    def _duplicate(self) -> None:
        cycle, row = self.cycle, self.row
        self._take((*cycle[:row + 1], cycle[row], *cycle[row + 1:]), "move duplicated", row + 1)

    def _shift(self, step: int) -> None:
        cycle, row = list(self.cycle), self.row
        cycle[row], cycle[row + step] = cycle[row + step], cycle[row]
        self._take(tuple(cycle), "moves in another order", row + step)

    def _remove(self) -> None:
        cycle, row = self.cycle, self.row
        self._take((*cycle[:row], *cycle[row + 1:]), "move removed", max(0, row - 1))
