"""Finding a drive: what to try and what matters, the motors that would do, why the others do not, up to four side by side."""

from __future__ import annotations

import time
from collections.abc import Callable

from PyQt6.QtCore import QItemSelection
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QHeaderView,
    QListWidget,
    QPushButton,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.verdict import listed_names
from urban_mule.core.studies.ranking import Candidate, best_of_each_part, rejected_parts
from urban_mule.core.studies.search import Found
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.theme import font, polish_again
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.shared.part_pictures import bring_pictures
from urban_mule.desk.shared.searching import Searching
from urban_mule.desk.stages.motor.comparison import Comparison
from urban_mule.desk.stages.motor.found_model import FoundModel
from urban_mule.desk.stages.motor.search_asked import SearchAsked
from urban_mule.store.library.completed import Completed, completed
from urban_mule.store.library.drives import search_drives, supply_place, with_candidate
from urban_mule.store.library.parts import all_parts
from urban_mule.store.text_files import BadFile

MOST_COMPARED = 4
MOTOR = 226  # px of the column of names


class SearchWindow(Searching):
    """The search for the drive of the shown axis."""

    def __init__(self, session: Whole, parent: QWidget | None = None) -> None:
        super().__init__(session, f"Find a drive for {session.axis.name}", parent)
        self.resize(1240, 740)
        self.found: Found | None = None
        self.kind = session.axis.motor_kind
        self._whole: tuple[Candidate, Completed] | None = None  # the chosen drive with what goes with it
        self._begun = 0.0
        self.said = Label("Every motor × wiring × supply × current × reduction with the driver that fits, by the same formulas as"
                          " the axis itself.", objectName="subline", wordWrap=True)
        self.asked = SearchAsked(session)
        self.asked.changed.connect(lambda: self._lead_to(self.go))
        self.asked.ranked.connect(self._rank)
        self.model = FoundModel(self)
        self.table = self._table()
        self.comparison = Comparison(session)
        self.refused = QListWidget(accessibleName="Motors that are rejected, and by which rule")
        right = QVBoxLayout()
        right.setSpacing(6)
        right.addWidget(self.table, 3)
        right.addWidget(self.comparison, 0)
        right.addWidget(Label("Rejected, and why", objectName="heading"))
        right.addWidget(self.refused, 1)
        lower = QHBoxLayout()
        lower.setSpacing(20)
        lower.addLayout(self._left(), 0)
        lower.addLayout(right, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(20, 14, 20, 16)
        box.setSpacing(4)
        box.addWidget(self.headline)
        box.addWidget(self.said)
        box.addLayout(lower, 1)

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
        head.setSectionResizeMode(0, QHeaderView.ResizeMode.Interactive)
        head.resizeSection(0, MOTOR)
        head.setStretchLastSection(True)
        head.sectionClicked.connect(self._sort)
        selection.selectionChanged.connect(self._chosen)
        table.doubleClicked.connect(lambda _index: self.take())
        self.head, self.selection = head, selection
        return table

    def _left(self) -> QVBoxLayout:
        """The left column: what is asked, and the buttons."""
        column = QVBoxLayout()
        column.setSpacing(5)
        column.addWidget(self.asked)
        column.addStretch(1)
        self.changes = Label(objectName="label", wordWrap=True)
        self.changes.setFixedWidth(236)
        for widget in (self.fault, self.bar, self.go, self.changes, self.taking):
            column.addWidget(widget)
        return column

    def search(self) -> None:
        try:
            space, rules = self.asked.asked()
        except (BadValue, BadFile) as why:
            self.failed(str(why))
            return
        self.kind, self._begun = space.kind, time.perf_counter()
        project, axis = self.session.project, self.session.project.axes[self.index]
        self.work_at("the search for a drive", lambda progress: search_drives(project, axis, space, rules, progress), self._came)

    def _came(self, found: Found) -> None:
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
            self.model.show_rows(self.found, best_of_each_part(self.found, self.asked.order()))
            self.head.setSortIndicatorShown(False)
            for column in range(self.model.columnCount()):
                self.table.setColumnHidden(column, self.model.is_empty(column))
            if self.model.rows:
                self.table.selectRow(0)
                self._lead_to(self.taking)
                self.table.setFocus()
        self._compare()

    def _lead_to(self, button: QPushButton) -> None:
        """The button that Enter presses, and that is seen first."""
        button.setDefault(True)
        for one in (self.go, self.taking):
            one.setObjectName("strong" if one is button else "")
            polish_again(one)

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
        """What taking the chosen drive changes beside the motor, before it is taken; driver and supply are tried meanwhile."""
        self.changes.setText("")
        self._whole = None
        axis = self.session.axis_of(self.key)
        if self.found is None or axis is None or len(chosen) != 1:
            return
        work = self._completing(chosen[0])
        self.session.works.run(("what goes with a motor", id(self)), self, lambda _progress: work(), self._say_whole, self.failed)

    def _completing(self, one: Candidate) -> Callable[[], tuple[Candidate, Completed]]:
        """The work of finding driver and supply for a candidate, which needs nothing of the window."""
        project, index, kind, found = self.session.project, self.index, self.kind, self.found
        assert found is not None
        others = {axis.name: self.session.solution_of(axis).own() for place, axis in enumerate(project.axes) if place != index}
        return lambda: (one, completed(project, index, kind, found, one, all_parts(), others))

    def _say_whole(self, whole: tuple[Candidate, Completed]) -> None:
        self._whole = whole
        axis = self.session.axis_of(self.key)
        if axis is None or self.found is None:
            return
        one, made = whole
        project, volts = self.session.project, self.found.scan.supplies[one.place[1]]
        was, shared = project.supply_of(axis), supply_place(project, self.index, volts) == ("supply_voltage",)
        whose = "that the axes share" if shared else f"of {axis.name}"
        said = [] if was == volts else [f"Sets the supply {whose} to {volts:g} V." if was is None else
                                        f"Changes the supply {whose} from {was:g} to {volts:g} V."]
        beside = [part.name for part in (made.driver, made.supply) if part is not None]
        said += [f"With it: {listed_names(beside)}."] if beside else []
        self.changes.setText(" ".join(said))

    def take(self) -> None:
        """Take the chosen drive on the axis: motor, driver and supply."""
        chosen = self.chosen()
        if self.found is None or len(chosen) != 1:
            return
        try:
            _, made = self._whole if self._whole is not None and self._whole[0] is chosen[0] else self._completing(chosen[0])()
        except (BadValue, BadFile) as why:
            self.fault.setText(f"{why}.")
            return
        axis, name = made.project.axes[self.index], str(self.found.scan.motors[chosen[0].place[0]]["name"])
        taken = [name, *(part.name for part in (made.driver, made.supply) if part is not None)]
        self.session.replace(made.project, f"{axis.name}: {name} taken")
        bring_pictures(self.session, axis.motor)
        self.session.noted.emit(f"{listed_names(taken)} {'is' if len(taken) == 1 else 'are'} now on {axis.name}."
                                " Ctrl+Z takes that back.")
        self.close()


def open_search(session: Whole, parent: QWidget | None) -> SearchWindow:
    """Open the search for drives that would do, and begin it."""
    window = SearchWindow(session, parent)
    window.show()
    window.begin()
    return window
