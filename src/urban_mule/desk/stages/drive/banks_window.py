"""Describing the switches and jumpers of a driver once: banks, their tables from positions to what they set, checked as typed."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QPushButton,
    QSpinBox,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from urban_mule.core.drive.banks import (
    BANK_KINDS,
    MOST_SWITCHES,
    SwitchBank,
    SwitchRow,
    SwitchTable,
    bank_faults,
    listed_rows,
    missing_rows,
)
from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue, givens
from urban_mule.desk.kit.dialog import Dialog
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.model.scope import Scope
from urban_mule.store.document.drivers import Bank

GIVENS = {one.name: one for one in givens(SwitchRow)}
UNITS = {"current_peak": "A", "hold_fraction": "%"}
COLUMNS = ("current_peak", "microsteps", "hold_fraction", "chopping", "interface_mode")
HEADS = ("positions", "current, A peak", "microsteps", "idle, %", "chopping", "interface")
MOST_FILLED = 6  # switches whose positions are all written out at a press: 64 rows


class BanksWindow(Dialog):
    """The banks of one driver. What is typed stays as it is typed until all of it can be taken."""

    def __init__(self, session: Scope, holder: tuple[str, ...], whose: str, parent: QWidget | None = None) -> None:
        """holder: the way from the axis to the driver."""
        super().__init__(parent)
        self.session, self.path = session, session.axis_path(*holder)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle(f"Switches and jumpers of {whose}")
        self.resize(820, 600)
        self.banks = self._as_they_are()
        self.bank, self.table = 0, 0
        self._echo = False
        box = QVBoxLayout(self)
        box.setContentsMargins(20, 16, 20, 16)
        box.addWidget(Label(f"Switches and jumpers of {whose}", objectName="heading"))
        box.addWidget(
            Label(
                "1 is on (a jumper fitted), 0 is off (open), from the first switch of the table to its last. Leave empty"
                " what a table does not set.",
                objectName="label",
                wordWrap=True,
            )
        )
        box.addLayout(self._bank_row())
        box.addLayout(self._table_row())
        self.grid = QTableWidget(0, len(HEADS), accessibleName="What each position sets")
        self.grid.setHorizontalHeaderLabels(HEADS)
        side, across = self.grid.verticalHeader(), self.grid.horizontalHeader()
        assert side is not None and across is not None
        side.hide()
        across.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.grid.cellChanged.connect(lambda _row, _column: self._typed())
        box.addWidget(self.grid, 1)
        box.addLayout(self._row_buttons())
        self.fault = Label(objectName="wrong", wordWrap=True)
        self.holes = Label(objectName="label", wordWrap=True)
        box.addWidget(self.fault)
        box.addWidget(self.holes)
        last = QHBoxLayout()
        last.addStretch(1)
        no, self.yes = QPushButton("Cancel"), QPushButton("Take them", objectName="strong", default=True)
        no.clicked.connect(self.reject)
        self.yes.clicked.connect(self.accept)
        last.addWidget(no)
        last.addWidget(self.yes)
        box.addLayout(last)
        self._show()

    def _as_they_are(self) -> list[dict[str, Any]]:
        """The banks as texts; a first bank of three switches where there is none yet."""
        driver = self.session.value(self.path)
        banks = () if driver is None else driver.core_banks
        return [
            {
                "name": bank.name,
                "kind": bank.kind,
                "count": bank.count,
                "tables": [
                    {"switches": _run(table.switches), "rows": [_texts(row) for row in table.rows]} for table in bank.tables
                ],
            }
            for bank in banks
        ] or [_new_bank(1)]

    def _bank_row(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.which = QComboBox(accessibleName="Bank")
        self.which.activated.connect(self._choose_bank)
        self.name = QLineEdit(accessibleName="Name of the bank", placeholderText="as printed on the board")
        self.kind = QComboBox(accessibleName="Switches or jumpers")
        self.kind.addItems(BANK_KINDS)
        self.count = QSpinBox(accessibleName="How many", minimum=1, maximum=MOST_SWITCHES)
        self.name.textEdited.connect(lambda _text: self._typed())
        self.kind.activated.connect(lambda _place: self._typed())
        self.count.valueChanged.connect(lambda _count: self._typed())
        for word, widget in (("Bank", self.which), ("name", self.name), ("", self.kind), ("how many", self.count)):
            if word:
                row.addWidget(Label(word, objectName="label"))
            row.addWidget(widget)
        for text, action in (("Add a bank", self._add_bank), ("Remove it", self._remove_bank)):
            row.addWidget(_button(text, action))
        row.addStretch(1)
        return row

    def _table_row(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.part = QComboBox(accessibleName="Table")
        self.part.activated.connect(self._choose_table)
        self.switches = QLineEdit(accessibleName="Switches of the table", placeholderText="1-3, 5")
        self.switches.textEdited.connect(lambda _text: self._typed())
        for word, widget in (("Table", self.part), ("of numbers", self.switches)):
            row.addWidget(Label(word, objectName="label"))
            row.addWidget(widget)
        for text, action in (("Add a table", self._add_table), ("Remove it", self._remove_table)):
            row.addWidget(_button(text, action))
        row.addStretch(1)
        return row

    def _row_buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        for text, action in (
            ("Add a row", self._add_row),
            ("All positions", self._all_positions),
            ("Remove the row", self._remove_row),
        ):
            row.addWidget(_button(text, action))
        row.addStretch(1)
        return row

    @property
    def shown(self) -> dict[str, Any]:
        """The bank that is shown."""
        return self.banks[self.bank]

    @property
    def rows(self) -> dict[str, Any]:
        """The table that is shown."""
        found: dict[str, Any] = self.shown["tables"][self.table]
        return found

    def _show(self) -> None:
        """Show the chosen bank and table."""
        self._echo = True
        for chooser, words, place in (
            (self.which, [bank["name"] or "without a name" for bank in self.banks], self.bank),
            (self.part, [f"numbers {table['switches']}" for table in self.shown["tables"]], self.table),
        ):
            chooser.clear()
            chooser.addItems(words)
            chooser.setCurrentIndex(place)
        self.name.setText(self.shown["name"])
        self.kind.setCurrentText(self.shown["kind"])
        self.count.setValue(self.shown["count"])
        self.switches.setText(self.rows["switches"])
        self.grid.setRowCount(len(self.rows["rows"]))
        for place, texts in enumerate(self.rows["rows"]):
            for column, text in enumerate(texts):
                self.grid.setItem(place, column, QTableWidgetItem(text))
        self._echo = False
        self.judge()

    def _typed(self) -> None:
        """Keep what is typed, and say what is wrong with it."""
        if self._echo:
            return
        self.shown.update(name=self.name.text().strip(), kind=self.kind.currentText(), count=self.count.value())
        self.rows["switches"] = self.switches.text().strip()
        self.rows["rows"] = [[self._cell(row, column) for column in range(len(HEADS))] for row in range(self.grid.rowCount())]
        self.judge()

    def _cell(self, row: int, column: int) -> str:
        item = self.grid.item(row, column)
        return "" if item is None else item.text().strip()

    def judge(self) -> tuple[SwitchBank, ...] | None:
        """The banks as typed, or None and what is wrong beneath the table."""
        try:
            found = tuple(_bank(texts) for texts in self.banks)
            names = [bank.name for bank in found]
            fault = next((f"{bank.name}: {faults[0]}" for bank in found if (faults := bank_faults(bank))), "")
            fault = fault or next((f"two banks are called {name}" for name in names if names.count(name) > 1), "")
        except BadValue as why:
            found, fault = (), str(why)
        self.fault.setText(f"{fault[:1].upper()}{fault[1:]}." if fault else "")
        holes = [(bank.name, missing_rows(table)) for bank in found for table in bank.tables if not fault]
        self.holes.setText("; ".join(f"{name} says nothing yet of {listed_rows(rows)}" for name, rows in holes if rows))
        self.yes.setEnabled(not fault)
        return None if fault else found

    def _choose_bank(self, place: int) -> None:
        self.bank, self.table = place, 0
        self._show()

    def _choose_table(self, place: int) -> None:
        self.table = place
        self._show()

    def _add_bank(self) -> None:
        self.banks.append(_new_bank(len(self.banks) + 1))
        self._choose_bank(len(self.banks) - 1)
        self.name.setFocus()

    def _remove_bank(self) -> None:
        self.banks.pop(self.bank)
        self.banks = self.banks or [_new_bank(1)]
        self._choose_bank(0)

    def _add_table(self) -> None:
        self.shown["tables"].append({"switches": "", "rows": []})
        self._choose_table(len(self.shown["tables"]) - 1)
        self.switches.setFocus()

    def _remove_table(self) -> None:
        self.shown["tables"].pop(self.table)
        self.shown["tables"] = self.shown["tables"] or [{"switches": "", "rows": []}]
        self._choose_table(0)

    def _add_row(self) -> None:
        self.rows["rows"].append([""] * len(HEADS))
        self._show()
        self.grid.setCurrentCell(self.grid.rowCount() - 1, 0)
        self.grid.setFocus()

    def _remove_row(self) -> None:
        row = self.grid.currentRow()
        if 0 <= row < len(self.rows["rows"]):
            self.rows["rows"].pop(row)
            self._show()

    def _all_positions(self) -> None:
        """A row for every position that has none yet."""
        try:
            count = len(_numbers(self.rows["switches"]))
        except BadValue:
            count = 0
        if not 1 <= count <= MOST_FILLED:
            self.holes.setText(f"Name 1 to {MOST_FILLED} switches for this table first.")
            return
        there = {texts[0] for texts in self.rows["rows"]}
        for number in range(2**count):
            positions = f"{number:0{count}b}"
            if positions not in there:
                self.rows["rows"].append([positions, *[""] * (len(HEADS) - 1)])
        self._show()

    def accept(self) -> None:
        banks = self.judge()
        if banks is None:
            return
        plain = tuple(
            Bank.model_validate(
                {
                    "name": bank.name,
                    "kind": bank.kind,
                    "count": bank.count,
                    "tables": [
                        {
                            "switches": table.switches,
                            "rows": [
                                {
                                    "positions": row.positions,
                                    **{name: value for name in COLUMNS if (value := getattr(row, name)) is not None},
                                }
                                for row in table.rows
                            ],
                        }
                        for table in bank.tables
                        if table.rows
                    ],
                }
            )
            for bank in banks
        )
        kept = tuple(bank for bank in plain if bank.tables)
        try:
            self.session.edit_all(
                [((*self.path, "switch_bank"), None), ((*self.path, "banks"), kept or None)], "switches and jumpers described"
            )
        except BadValue as why:
            self.fault.setText(str(why))
            return
        super().accept()


def _button(text: str, action: Any) -> QPushButton:
    made = QPushButton(text, objectName="plain", autoDefault=False)
    made.clicked.connect(lambda _checked: action())
    return made


def _new_bank(number: int) -> dict[str, Any]:
    return {"name": f"S{number}", "kind": BANK_KINDS[0], "count": 3, "tables": [{"switches": "1-3", "rows": []}]}


def _texts(row: SwitchRow) -> list[str]:
    """A row as its cells read."""
    values = [(getattr(row, name), 0.01 if UNITS.get(name) == "%" else 1.0) for name in COLUMNS]
    return [
        row.positions,
        *(
            "" if value is None else value if isinstance(value, str) else units.number_text(value / size, 6)
            for value, size in values
        ),
    ]


def _run(switches: tuple[int, ...]) -> str:
    """Numbers of switches as people write them: `1-3, 5`."""
    runs: list[list[int]] = []
    for number in switches:
        if runs and number == runs[-1][-1] + 1:
            runs[-1].append(number)
        else:
            runs.append([number])
    return ", ".join(f"{run[0]}-{run[-1]}" if len(run) > 1 else str(run[0]) for run in runs)


def _numbers(text: str) -> tuple[int, ...]:
    """Numbers of switches from `1-3, 5`. Raises BadValue."""
    found: list[int] = []
    for piece in text.replace("–", "-").split(","):
        first, dash, last = piece.strip().partition("-")
        ends = (first.strip(), last.strip()) if dash else (first.strip(), first.strip())
        if not all(end.isdigit() and len(end) < 4 for end in ends):
            raise BadValue(f"“{text}” names no switches; allowed is the like of 1-3, 5")
        found += range(int(ends[0]), int(ends[1]) + 1)
    return tuple(found)


def _bank(texts: dict[str, Any]) -> SwitchBank:
    """A bank from what is typed. Raises BadValue with the row."""
    if not texts["name"]:
        raise BadValue("a bank has no name; type what is printed beside it")
    tables = [table for table in texts["tables"] if table["rows"] or table["switches"]]
    return SwitchBank(
        texts["name"],
        texts["kind"],
        texts["count"],
        tuple(
            SwitchTable(
                _numbers(table["switches"]), tuple(_row(cells, number) for number, cells in enumerate(table["rows"], start=1))
            )
            for table in tables
        ),
    )


def _row(cells: list[str], number: int) -> SwitchRow:
    values: dict[str, Any] = {}
    for name, text in zip(COLUMNS, cells[1:], strict=True):
        given, unit = GIVENS[name], UNITS.get(name, "")
        if not text:
            continue
        try:
            value = text if given.choices else units.parse(text, given.unit, unit)[0]
            values[name] = given.check(int(value) if given.whole and float(value).is_integer() else value)
        except BadValue as why:
            raise BadValue(f"row {number}, {name.replace('_', ' ')}: {why.fault}") from None
    return SwitchRow(positions=cells[0], **values)
