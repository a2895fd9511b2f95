"""What a search for a drive is asked: what to try, the rules to hold, the wishes in their order."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QPushButton,
    QRadioButton,
    QVBoxLayout,
    QWidget,
)

from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.studies.ranking import WISHES
from urban_mule.core.studies.search import Rules
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.model.scope import Whole
from urban_mule.store.library.drives import Space, drivers_for, parts_of, supplies_for, supplies_of
from urban_mule.store.library.parts import all_parts

HOTTEST = {"stepper": "105", "servo": "130"}  # °C, a class of insulation below the usual one of each


class SearchAsked(QWidget):
    """changed: something else is asked. ranked: the wishes have another order; nothing has to be searched for that."""

    changed = pyqtSignal()
    ranked = pyqtSignal()

    def __init__(self, session: Whole, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addWidget(Label("Try", objectName="heading"))
        self.kinds = {kind: QRadioButton(f"{kind}s") for kind in ("stepper", "servo")}
        row = QHBoxLayout()
        for kind, button in self.kinds.items():
            button.setChecked(kind == session.axis.motor_kind)
            row.addWidget(button)
        column.addLayout(row)
        column.addLayout(self._tried())
        column.addWidget(Label("Wishes, the most important first", objectName="heading"))
        column.addWidget(self._wished())
        row = QHBoxLayout()
        for text, step in (("Earlier", -1), ("Later", 1)):
            shift = QPushButton(text, autoDefault=False)
            shift.clicked.connect(lambda _checked, step=step: self.shift_wish(step))
            row.addWidget(shift)
        column.addLayout(row)
        for line in self.findChildren(QLineEdit):
            line.textEdited.connect(lambda _text: self.changed.emit())
        for box in (*self.kinds.values(), self.reduce, self.drivers):
            box.toggled.connect(lambda _on: self.changed.emit())

    @property
    def kind(self) -> str:
        """The kind of motor that is tried."""
        return next(kind for kind, button in self.kinds.items() if button.isChecked())

    def _tried(self) -> QGridLayout:
        """Supplies, currents, drivers and reductions to try, and the rules to hold."""
        axis = self.session.axis
        self.supplies = QLineEdit(accessibleName="Supplies to try, V")
        self.shares = QLineEdit("60, 70, 80, 90, 100", accessibleName="Shares of the rated current to try, %")
        self.drivers = QCheckBox("a driver of the library with it")
        self.drivers.setChecked(axis.driver is None or getattr(axis.driver, "voltage_limit", None) is None)
        self.reduce = QCheckBox("reductions of the library, too")
        self.reduce.setChecked(True)
        frame = getattr(axis.motor, "frame", None)
        self.frame = QLineEdit("" if frame is None else f"{1e3 * frame:g}", placeholderText="any",
                               accessibleName="Largest frame that fits, mm")
        self.hand = QLineEdit(f"{self.session.solution['safety_factor']:g}", accessibleName="Safety factor wanted")
        self.hottest = QLineEdit(accessibleName="Hottest winding, °C")
        self.ratio = QLineEdit("30", accessibleName="Largest inertia ratio")
        grid = QGridLayout()
        grid.setVerticalSpacing(4)
        self.supplies_said = Label(objectName="label", wordWrap=True)
        for number, (said, line) in enumerate(((self.supplies_said, self.supplies),
                                               (Label("currents, % of rated", objectName="label"), self.shares))):
            grid.addWidget(said, 2 * number, 0, 1, 2)
            grid.addWidget(line, 2 * number + 1, 0, 1, 2)
        grid.addWidget(self.drivers, 4, 0, 1, 2)
        grid.addWidget(self.reduce, 5, 0, 1, 2)
        rules = (("largest frame, mm", self.frame), ("safety factor wanted", self.hand), ("hottest winding, °C", self.hottest),
                 ("inertia ratio, to 1", self.ratio))
        self.kinds["stepper"].toggled.connect(self._other_kind)
        self._offered = ""
        self._other_kind()
        for number, (text, line) in enumerate(rules, start=6):
            grid.addWidget(Label(text, objectName="label"), number, 0)
            line.setFixedWidth(76)
            grid.addWidget(line, number, 1)
        return grid

    def _wished(self) -> QListWidget:
        """The wishes in their order."""
        self.wishes = QListWidget(accessibleName="Wishes in order; Earlier and Later move one")
        self.wishes.addItems(list(WISHES))
        self.wishes.setCurrentRow(0)
        self.wishes.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.wishes.setFixedSize(236, 136)
        order = self.wishes.model()
        assert order is not None
        order.rowsMoved.connect(lambda *_: self.ranked.emit())
        return self.wishes

    def asked(self) -> tuple[Space, Rules]:
        """What is asked, as a search takes it. Raises BadValue, BadFile."""
        parts = all_parts()
        shares = tuple(value / 100 for value in _numbers(self.shares, "currents"))
        if any(not 0 < share <= 1 for share in shares):
            raise BadValue("currents: allowed is above 0 and at most 100 % of the rated current")
        reductions = parts_of(parts, "reduction", "worm") if self.reduce.isChecked() else ()
        drivers = drivers_for(parts, self.kind) if self.drivers.isChecked() else ()
        space = Space(self.kind, parts_of(parts, self.kind), reductions, _numbers(self.supplies, "supplies"), shares,
                      drivers=drivers)
        frame = self.frame.text().strip()
        rules = Rules(_number(self.hand, "safety factor wanted"), _number(self.hottest, "hottest winding"),
                      _number(self.ratio, "inertia ratio"), _number(self.frame, "largest frame") / 1e3 if frame else None)
        return space, rules

    def order(self) -> list[str]:
        """The wishes, the most important first."""
        return [item.text() for row in range(self.wishes.count()) if (item := self.wishes.item(row)) is not None]

    def _other_kind(self) -> None:
        """A servo takes the current that its torque asks for, bears more heat, and may hang on the mains; what was typed stays."""
        kind = self.kind
        self.shares.setEnabled(kind == "stepper")
        if self.hottest.text() in ("", *HOTTEST.values()):
            self.hottest.setText(HOTTEST[kind])
        axis = self.session.axis
        own, usual = supplies_of(self.session.project, axis), supplies_for(axis, kind)
        if self.supplies.text() == self._offered:
            self._offered = _listed(own or usual)
            self.supplies.setText(self._offered)
        more = _listed(tuple(volts for volts in usual if volts not in own))
        self.supplies_said.setText(f"your supply, V; also usual: {more}" if own else "supplies, V")

    def shift_wish(self, step: int) -> None:
        """Move the chosen wish earlier or later."""
        row = self.wishes.currentRow()
        if 0 <= row + step < self.wishes.count():
            self.wishes.insertItem(row + step, self.wishes.takeItem(row))
            self.wishes.setCurrentRow(row + step)
            self.ranked.emit()


def _listed(numbers: tuple[float, ...]) -> str:
    return ", ".join(f"{number:g}" for number in numbers)


def _number(line: QLineEdit, what: str) -> float:
    """A plain number of a line. Raises BadValue naming it."""
    return _read(line.text(), what)


def _read(text: str, what: str) -> float:
    try:
        value = units.parse(text, "", "")[0]
    except BadValue as why:
        raise BadValue(f"{what}: {why}") from None
    if value <= 0:
        raise BadValue(f"{what} is {value:g}; allowed is a number above 0")
    return value


def _numbers(line: QLineEdit, what: str) -> tuple[float, ...]:
    """Several numbers with commas between them. Raises BadValue naming them."""
    found = tuple(_read(text, what) for text in line.text().replace(";", ",").split(",") if text.strip())
    if not found:
        raise BadValue(f"{what}: at least one is needed, such as 24, 48")
    return found
