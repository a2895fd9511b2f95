"""Finding a drive: what to try and what matters, the motors that would do, why the others do not, up to four side by side."""

from __future__ import annotations

import time

from PyQt6.QtCore import QItemSelection, Qt
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QListWidget,
    QProgressBar,
    QPushButton,
    QRadioButton,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.studies.search import WISHES, Candidate, Found, Rules, best_of_each_part, rejected_parts
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.theme import font
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.model.works import Job
from urban_mule.desk.stages.motor.comparison import Comparison
from urban_mule.desk.stages.motor.found_model import FoundModel
from urban_mule.store.library.drives import Space, parts_of, search_drives, supplies_for, supplies_of, with_candidate
from urban_mule.store.library.parts import all_parts
from urban_mule.store.text_files import BadFile

MOST_COMPARED = 4
HOTTEST = {"stepper": "105", "servo": "130"}  # °C, a class of insulation below the usual one of each
class SearchWindow(QDialog):
    """The search for the drive of the shown axis."""

    def __init__(self, session: Whole, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.key = session, session.state.id
        self.setWindowTitle(f"Find a drive for {session.axis.name}")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(1220, 740)
        self.found: Found | None = None
        self.kind = session.axis.motor_kind
        self._job: Job | None = None
        self._begun = 0.0
        self.headline = Label(f"Find a drive for {session.axis.name}", objectName="headline")
        self.said = Label("Every motor × wiring × supply × current × reduction, through the same formulas as the axis itself.",
                           objectName="subline", wordWrap=True)
        self.model = FoundModel(self)
        self.table = self._table()
        self.comparison = Comparison(session)
        self.refused = QListWidget(accessibleName="Motors that are rejected, and by which rule")
        right = QVBoxLayout()
        right.setSpacing(6)
        right.addWidget(self.table, 5)
        right.addWidget(self.comparison, 4)
        right.addWidget(Label("Rejected, and why", objectName="heading"))
        right.addWidget(self.refused, 2)
        lower = QHBoxLayout()
        lower.setSpacing(20)
        lower.addLayout(self._asked(), 0)
        lower.addLayout(right, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(20, 14, 20, 16)
        box.setSpacing(4)
        box.addWidget(self.headline)
        box.addWidget(self.said)
        box.addLayout(lower, 1)
        session.axis_changed.connect(self._other_axis)

    @property
    def index(self) -> int:
        """Where the axis of this search stands now."""
        return self.session.place_of(self.key)

    def _table(self) -> QTableView:
        table = QTableView(accessibleName="Motors that would do, the best first")
        table.setModel(self.model)
        table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        table.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        table.setShowGrid(False)
        table.setAlternatingRowColors(True)
        table.setTabKeyNavigation(False)
        side, head, selection = table.verticalHeader(), table.horizontalHeader(), table.selectionModel()
        assert side is not None and head is not None and selection is not None
        side.setDefaultSectionSize(23)
        side.hide()
        table.setFont(font(12))
        head.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        head.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        head.sectionClicked.connect(self._sort)
        selection.selectionChanged.connect(self._chosen)
        table.doubleClicked.connect(lambda _index: self.take())
        self.head, self.selection = head, selection
        return table

    def _asked(self) -> QVBoxLayout:
        """The left column: what to try, the rules, the wishes, and the buttons."""
        column = QVBoxLayout()
        column.setSpacing(5)
        column.addWidget(Label("Try", objectName="heading"))
        self.kinds = {kind: QRadioButton(f"{kind}s") for kind in ("stepper", "servo")}
        row = QHBoxLayout()
        for kind, button in self.kinds.items():
            button.setChecked(kind == self.kind)
            row.addWidget(button)
        column.addLayout(row)
        column.addLayout(self._tried())
        column.addWidget(Label("Wishes, the most important first", objectName="heading"))
        column.addWidget(self._wished())
        row = QHBoxLayout()
        for text, step in (("Earlier", -1), ("Later", 1)):
            shift = QPushButton(text)
            shift.clicked.connect(lambda _checked, step=step: self.shift_wish(step))
            row.addWidget(shift)
        column.addLayout(row)
        column.addStretch(1)
        self.fault = Label(objectName="wrong", wordWrap=True)
        self.bar = QProgressBar(textVisible=False)
        self.bar.setAccessibleName("Progress of the search")
        self.bar.hide()
        self.go = QPushButton("Search", objectName="strong", default=True)
        self.go.clicked.connect(self.begin)
        self.changes = Label(objectName="label", wordWrap=True)
        self.taking = QPushButton("Take it")
        self.taking.setEnabled(False)
        self.taking.clicked.connect(self.take)
        for widget in (self.fault, self.bar, self.go, self.changes, self.taking):
            column.addWidget(widget)
        return column

    def _tried(self) -> QGridLayout:
        """Supplies, currents and reductions to try, and the rules to hold."""
        axis = self.session.axis
        own, usual = supplies_of(self.session.project, axis), supplies_for(axis)
        self.supplies = QLineEdit(_listed(own or usual), accessibleName="Supplies to try, V")
        self.shares = QLineEdit("60, 70, 80, 90, 100", accessibleName="Shares of the rated current to try, %")
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
        more = _listed(tuple(volts for volts in usual if volts not in own))
        heads = (f"your supply, V; also usual: {more}" if own else "supplies, V", "currents, % of rated")
        for number, (text, line) in enumerate(zip(heads, (self.supplies, self.shares), strict=True)):
            grid.addWidget(Label(text, objectName="label"), 2 * number, 0, 1, 2)
            grid.addWidget(line, 2 * number + 1, 0, 1, 2)
        grid.addWidget(self.reduce, 4, 0, 1, 2)
        rules = (("largest frame, mm", self.frame), ("safety factor wanted", self.hand), ("hottest winding, °C", self.hottest),
                 ("inertia ratio, to 1", self.ratio))
        self.kinds["stepper"].toggled.connect(self._other_kind)
        self._other_kind()
        for number, (text, line) in enumerate(rules, start=5):
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
        self.wishes.setFixedSize(236, 150)
        order = self.wishes.model()
        assert order is not None
        order.rowsMoved.connect(lambda *_: self._rank())
        return self.wishes

    def _space(self) -> tuple[Space, Rules]:
        """What is asked, as a search takes it. Raises BadValue, BadFile."""
        self.kind = next(kind for kind, button in self.kinds.items() if button.isChecked())
        parts = all_parts()
        shares = tuple(value / 100 for value in _numbers(self.shares, "currents"))
        if any(not 0 < share <= 1 for share in shares):
            raise BadValue("currents: allowed is above 0 and at most 100 % of the rated current")
        reductions = parts_of(parts, "reduction", "worm") if self.reduce.isChecked() else ()
        space = Space(self.kind, parts_of(parts, self.kind), reductions, _numbers(self.supplies, "supplies"), shares)
        frame = self.frame.text().strip()
        rules = Rules(_number(self.hand, "safety factor wanted"), _number(self.hottest, "hottest winding"),
                      _number(self.ratio, "inertia ratio"), _number(self.frame, "largest frame") / 1e3 if frame else None)
        return space, rules

    def begin(self) -> None:
        """Search, or stop the search that runs."""
        if self._job is not None:
            self._job.cancel()
            return
        self.fault.setText("")
        try:
            space, rules = self._space()
        except (BadValue, BadFile) as why:
            self.fault.setText(f"{why}.")
            return
        project, axis = self.session.project, self.session.project.axes[self.index]
        self.go.setText("Stop")
        self.bar.setRange(0, 0)
        self.bar.show()
        self._begun = time.perf_counter()
        self._job = self.session.works.run(
            ("the search for a drive", id(self)), self, lambda progress: search_drives(project, axis, space, rules, progress),
            self._came, self._failed, self._moved)

    def _moved(self, done: int, total: int) -> None:
        self.bar.setRange(0, total)
        self.bar.setValue(done)

    def _ended(self) -> None:
        self._job = None
        self.go.setText("Search")
        self.bar.hide()

    def _failed(self, why: str) -> None:
        self._ended()
        self.fault.setText(f"{why[:1].upper()}{why[1:]}." if why else "Stopped; nothing was found yet.")

    def _came(self, found: Found) -> None:
        self._ended()
        self.found = found
        self._rank()
        count, kept = (f"{number:,}".replace(",", " ") for number in (found.scan.size, int(found.accepted.sum())))
        parts = len({str(row["name"]) for row in found.scan.motors})
        self.headline.setText(f"{len(self.model.rows)} of {parts} motors would do.")
        self.said.setText(f"{count} combinations tried in {time.perf_counter() - self._begun:.1f} s;"
                          f" {kept} of them hold every rule. Choose up to four to see them side by side.")
        self.refused.clear()
        self.refused.addItems([f"{one.name}:  {one.sentence}" for one in rejected_parts(found)])

    def _rank(self) -> None:
        """Rank what was found by the wishes in their order; nothing is computed again."""
        if self.found is not None:
            self.model.show_rows(self.found, best_of_each_part(self.found, self.order()))
            self.head.setSortIndicatorShown(False)
            if self.model.rows:
                self.table.selectRow(0)
        self._compare()

    def order(self) -> list[str]:
        """The wishes, the most important first."""
        return [item.text() for row in range(self.wishes.count()) if (item := self.wishes.item(row)) is not None]

    def _other_kind(self) -> None:
        """A servo takes the current that its torque asks for, and bears more heat; what was typed stays."""
        stepper = self.kinds["stepper"].isChecked()
        self.shares.setEnabled(stepper)
        if self.hottest.text() in ("", *HOTTEST.values()):
            self.hottest.setText(HOTTEST["stepper" if stepper else "servo"])

    def shift_wish(self, step: int) -> None:
        """Move the chosen wish earlier or later."""
        row = self.wishes.currentRow()
        if 0 <= row + step < self.wishes.count():
            self.wishes.insertItem(row + step, self.wishes.takeItem(row))
            self.wishes.setCurrentRow(row + step)
            self._rank()

    def _sort(self, column: int) -> None:
        self.head.setSortIndicatorShown(True)
        self.model.sort(column, self.head.sortIndicatorOrder())

    def chosen(self) -> list[Candidate]:
        """The rows that are chosen, in the order of the table."""
        return [self.model.rows[index.row()] for index in self.selection.selectedRows()]

    def _chosen(self, _now: QItemSelection, _before: QItemSelection) -> None:
        self._compare()

    def _compare(self) -> None:
        chosen = self.chosen()
        self.taking.setEnabled(len(chosen) == 1)
        if self.found is None:
            return
        self._say_changes(chosen)
        taken = [with_candidate(self.session.project, self.index, self.kind, self.found, one) for one in chosen[:MOST_COMPARED]]
        self.comparison.show_drives([
            (self.model.name(one), self.model.setting(one), project, self.index)
            for one, project in zip(chosen, taken, strict=False)])

    def _say_changes(self, chosen: list[Candidate]) -> None:
        """What taking the chosen drive changes beside the motor, before it is taken."""
        axis = self.session.axis_of(self.key)
        if self.found is None or axis is None or len(chosen) != 1:
            self.changes.setText("")
            return
        was = self.session.project.supply_of(axis)
        whose = "that the axes share" if self.session.project.supply_path(self.index) == ("supply_voltage",) else f"of {axis.name}"
        volts = self.found.scan.supplies[chosen[0].place[1]]
        self.changes.setText("" if was == volts else f"Sets the supply {whose} to {volts:g} V."
                             if was is None else f"Changes the supply {whose} from {was:g} to {volts:g} V.")

    def take(self) -> None:
        """Take the chosen drive on the axis; one step that can be undone."""
        chosen = self.chosen()
        if self.found is None or len(chosen) != 1:
            return
        name = str(self.found.scan.motors[chosen[0].place[0]]["name"])
        try:
            after = with_candidate(self.session.project, self.index, self.kind, self.found, chosen[0])
        except BadValue as why:
            self.fault.setText(f"{why}.")
            return
        self.session.replace(after, f"{after.axes[self.index].name}: {name} taken")
        self.said.setText(f"{name} is now on {after.axes[self.index].name}. Undo takes it back.")

    def _other_axis(self) -> None:
        """The axis this search is about may have gone."""
        if self.session.axis_of(self.key) is None:
            self.close()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if self._job is not None:
            self._job.cancel()
        super().closeEvent(event)


def _listed(numbers: tuple[float, ...]) -> str:
    return ", ".join(f"{number:g}" for number in numbers)


def _number(line: QLineEdit, what: str) -> float:
    """A plain number of a line. Raises BadValue naming it."""
    try:
        value = units.parse(line.text(), "", "")[0]
    except BadValue as why:
        raise BadValue(f"{what}: {why}") from None
    if value <= 0:
        raise BadValue(f"{what} is {value:g}; allowed is a number above 0")
    return value


def _numbers(line: QLineEdit, what: str) -> tuple[float, ...]:
    """Several numbers with commas between them. Raises BadValue naming them."""
    found = []
    for text in line.text().replace(";", ",").split(","):
        if text.strip():
            one = QLineEdit(text)
            found.append(_number(one, what))
    if not found:
        raise BadValue(f"{what}: at least one is needed, such as 24, 48")
    return tuple(found)
