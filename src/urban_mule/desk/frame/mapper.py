"""A table of another layout: what its columns are, its signs and lines, with what comes of it said while one chooses."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QSpinBox,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue
from urban_mule.desk.kit.dialog import Dialog
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.session import Session
from urban_mule.store.book import SetNumbers
from urban_mule.store.exchange.csv_guess import as_kind
from urban_mule.store.exchange.csv_mapping import (
    DECIMALS,
    DELIMITERS,
    UNSAID,
    Mapping,
    lacking,
    lines_of,
    read_mapped,
    roles,
    split,
    units_of,
)

SHOWN = 60  # lines of the file in the preview
ROLE, UNIT = 0, 1  # the rows of the preview in which a person chooses
WAIT = 250  # ms after the last choice before the table is read again


class Mapper(Dialog):
    """Choose what each column is; the numbers below it stay as the file has them.

    mapped(mapping, reading, gauge): the table was read so and is to be taken in.
    """

    mapped = pyqtSignal(object, object, str)

    def __init__(self, session: Session, path: Path, text: str, mapping: Mapping, kinds: tuple[str, ...],
                 parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.text, self.mapping, self.reading = session, text, mapping, None
        self.lines = [pair for pair, _ in zip(lines_of(text), range(SHOWN), strict=False)]
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle(f"What the columns of {path.name} are")
        self.resize(940, 620)
        box = QVBoxLayout(self)
        box.setContentsMargins(20, 16, 20, 16)
        box.setSpacing(8)
        box.addWidget(Label(f"What the columns of {path.name} are", objectName="heading"))
        box.addLayout(self._signs(kinds))
        self.table = QTableWidget(accessibleName="The table, and above each column what it is")
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.NoSelection)
        self.table.setShowGrid(False)
        box.addWidget(self.table, 1)
        self.once_row = QHBoxLayout()
        self.once: dict[str, QLineEdit] = {}
        box.addLayout(self.once_row)
        self.said = Label(objectName="label", wordWrap=True)
        self.fault = Label(objectName="wrong", wordWrap=True)
        box.addWidget(self.said)
        box.addWidget(self.fault)
        box.addLayout(self._buttons())
        self._again = QTimer(self, singleShot=True, interval=WAIT)
        self._again.timeout.connect(self.read)
        self._show_columns()
        self.read()

    def _signs(self, kinds: tuple[str, ...]) -> QHBoxLayout:
        row = QHBoxLayout()
        self.kind = self._choice("What is measured", [(reading_kinds()[one].words, one) for one in kinds], self.mapping.kind)
        self.delimiter = self._choice("Between the cells", [(words, sign) for sign, words in DELIMITERS.items()],
                                      self.mapping.delimiter)
        self.decimal = self._choice("Decimal", [(words, sign) for sign, words in DECIMALS.items()], self.mapping.decimal)
        self.first, self.last = (QSpinBox(accessibleName=words, minimum=least, maximum=10_000_000, value=value)
                                 for words, least, value in (("First line of numbers", 1, self.mapping.first),
                                                             ("Last line of numbers", 0, self.mapping.last)))
        self.last.setSpecialValueText("end")
        for spin in (self.first, self.last):
            spin.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
            spin.setFixedWidth(72)
        self.turned = QCheckBox("sign turned", checked=self.mapping.turned)
        self.gauge = self._choice("Gauge", [("not said", ""), *((one.name, one.name) for one in self.session.project.gauges or ())],
                                  "")
        for words, widget in (("", self.kind), ("between cells", self.delimiter), ("decimal", self.decimal),
                              ("lines", self.first), ("to", self.last), ("", self.turned), ("gauge", self.gauge)):
            if words:
                row.addWidget(Label(words, objectName="label"))
            row.addWidget(widget)
        row.addStretch(1)
        self.kind.activated.connect(lambda _: self._changed(as_kind(self.mapping, self.kind.currentData())))
        self.delimiter.activated.connect(self._split_again)
        self.decimal.activated.connect(lambda _: self._changed(replace(self.mapping, decimal=self.decimal.currentData())))
        self.first.valueChanged.connect(lambda value: self._changed(replace(self.mapping, first=value)))
        self.last.valueChanged.connect(lambda value: self._changed(replace(self.mapping, last=value)))
        self.turned.toggled.connect(lambda on: self._changed(replace(self.mapping, turned=on)))
        return row

    def _choice(self, name: str, items: list[tuple[str, str]], chosen: str) -> QComboBox:
        made = QComboBox(accessibleName=name)
        for words, data in items:
            made.addItem(words, data)
        made.setCurrentIndex(max(made.findData(chosen), 0))
        return made

    def _buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.addStretch(1)
        leave = QPushButton("Leave it", autoDefault=False)
        leave.clicked.connect(self.reject)
        self.take = QPushButton("Take in", objectName="strong", default=True)
        self.take.clicked.connect(self._take)
        row.addWidget(leave)
        row.addWidget(self.take)
        return row

    def _split_again(self, _place: int) -> None:
        """Other cells: the columns that there are then stand without a role."""
        sign = self.delimiter.currentData()
        wide = max((len(split(line, sign)) for number, line in self.lines if number >= self.mapping.first), default=1)
        self._changed(replace(self.mapping, delimiter=sign, columns=(("", ""),) * wide, headings=("",) * wide))

    def _changed(self, mapping: Mapping) -> None:
        """Another way to read the table: show it, and read the table so a moment later."""
        columns = mapping.columns != self.mapping.columns or mapping.kind != self.mapping.kind
        self.mapping, self.reading = mapping, None
        self.take.setEnabled(False)
        if columns:
            self._show_columns()
        else:
            self._show_lines()
        self._again.start()

    def _show_columns(self) -> None:
        """The choices above every column, the lines beneath, and what is said once."""
        mapping = self.mapping
        self.table.setRowCount(2 + len(self.lines))
        self.table.setColumnCount(len(mapping.columns))
        self.table.setHorizontalHeaderLabels([one or f"column {n}" for n, one in enumerate(mapping.headings, start=1)])
        self.table.setVerticalHeaderLabels(["is", "in", *(str(number) for number, _ in self.lines)])
        known = [("left out", ""), *((role.replace("_", " "), role) for role in roles(mapping.kind))]
        for place, (role, unit) in enumerate(mapping.columns):
            what = self._choice(f"Column {place + 1} is", known, role)
            what.activated.connect(lambda _, place=place, what=what: self._role(place, what.currentData()))
            self.table.setCellWidget(ROLE, place, what)
            allowed = units_of(mapping.kind, role) if role else ()
            if allowed:
                its = self._choice(f"Column {place + 1} is in", [("unit?", UNSAID), *((one, one) for one in allowed)], unit)
                its.activated.connect(lambda _, place=place, its=its: self._column(place, unit=its.currentData()))
                self.table.setCellWidget(UNIT, place, its)
            else:
                self.table.removeCellWidget(UNIT, place)
        self._show_once()
        self._show_lines()
        self.table.resizeColumnsToContents()
        for place in range(len(mapping.columns)):
            self.table.setColumnWidth(place, max(self.table.columnWidth(place), 120))

    def _role(self, place: int, role: str) -> None:
        """Another role: its unit stays where it may."""
        allowed = units_of(self.mapping.kind, role) if role else ()
        unit = self.mapping.columns[place][1]
        self._column(place, role=role, unit=unit if unit in allowed else UNSAID if allowed else "")

    def _column(self, place: int, role: str | None = None, unit: str = "") -> None:
        columns = list(self.mapping.columns)
        columns[place] = (columns[place][0] if role is None else role, unit)
        self._changed(replace(self.mapping, columns=tuple(columns)))

    def _show_lines(self) -> None:
        """The lines as the file has them; those that are not read are pale."""
        mapping, pale = self.mapping, theme.color("muted")
        for row, (number, line) in enumerate(self.lines, start=2):
            cells = split(line, mapping.delimiter)
            read = number >= mapping.first and (not mapping.last or number <= mapping.last)
            for place in range(len(mapping.columns)):
                item = QTableWidgetItem(cells[place] if place < len(cells) else "")
                if not read or not mapping.columns[place][0]:
                    item.setForeground(pale)
                self.table.setItem(row, place, item)

    def _show_once(self) -> None:
        """A line for each number that no column says."""
        while (gone := self.once_row.takeAt(0)) is not None:
            if (widget := gone.widget()) is not None:
                widget.deleteLater()
        declared, said = reading_kinds()[self.mapping.kind], {role for role, _ in self.mapping.columns}
        self.once = {}
        for one in declared.columns:
            if one.shape == "one" and one.name not in said:
                line = self.once[one.name] = QLineEdit(accessibleName=one.name, placeholderText="" if one.needed else "not known")
                line.setMaximumWidth(120)
                line.setText(self._once_text(one.name))
                line.textChanged.connect(lambda _: self._say_once())
                self.once_row.addWidget(Label(f"{one.name.replace('_', ' ')} ({self._once_unit(one.name)})", objectName="label"))
                self.once_row.addWidget(line)
        self.once_row.addStretch(1)

    def _once_unit(self, name: str) -> str:
        """The unit that a number alone is in."""
        return units.unit_shown(self._once_si(name), self.session.system)

    def _once_si(self, name: str) -> str:
        real = ("m", "N") if self.session.axis.motion == "linear" else ("rad", "N·m")
        return roles(self.mapping.kind)[name].replace("[travel]", real[0]).replace("[effort]", real[1])

    def _once_text(self, name: str) -> str:
        value = self.mapping.once.get(name)
        return "" if value is None else units.number_text(value / units.factor(self._once_unit(name), self._once_si(name)), 6)

    def _say_once(self) -> None:
        found = {}
        self.fault.setText("")
        for name, line in self.once.items():
            if line.text().strip():
                try:
                    found[name] = units.parse(line.text(), self._once_si(name), self._once_unit(name))[0]
                except BadValue as why:
                    self.fault.setText(f"{name.replace('_', ' ')}: {why}.")
        self.mapping, self.reading = replace(self.mapping, once=found), None
        self.take.setEnabled(False)
        self._again.start()

    def read(self) -> None:
        """Read the whole table as it is chosen now, in the background, and say what comes of it."""
        mapping, text = self.mapping, self.text
        missing = lacking(mapping)
        self.take.setEnabled(False)
        self.said.setText(" ".join(missing))
        if missing:
            return
        self.session.works.run(("mapping", id(self)), self, lambda _progress: read_mapped(text, mapping),
                               lambda reading: self._came(mapping, reading), self._failed)

    def _came(self, mapping: Mapping, reading: Any) -> None:
        if mapping != self.mapping:
            return
        self.reading = reading
        self.fault.setText("")
        rest = f" Lines after {mapping.last} are left out." if mapping.last else ""
        self.said.setText(f"{reading_kinds()[reading.kind].words.capitalize()}: {comes_of(reading)}.{rest}")
        self.take.setEnabled(True)

    def _failed(self, why: str) -> None:
        self.said.setText("")
        self.fault.setText(why)

    def _take(self) -> None:
        if self.reading is not None:
            self.mapped.emit(self.mapping, self.reading, self.gauge.currentData())
            self.accept()


def comes_of(reading: Any) -> str:
    """How much a set holds, in a few words."""
    parts = []
    for one in reading.declared.columns:
        array = getattr(reading, one.name)
        if one.shape == "list" and array is not None:
            parts.append(f"{len(array)} {one.name.replace('_', ' ')}")
        elif one.shape == "rows":
            runs = f"{len(array)} run{'' if len(array) == 1 else 's'} {one.name}"
            parts.append(f"{array.shape[1]} directions" if reading.declared.wide else runs)
    return ", ".join(parts) or f"{len(SetNumbers(reading))} numbers"
