"""What a search found as a table: a row for each candidate, its figures in columns."""

from __future__ import annotations

import re
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt

from urban_mule.core.sheet.units import FACTORS, number_text
from urban_mule.core.studies.ranking import Candidate
from urban_mule.core.studies.search import Found
from urban_mule.store.library.drives import driver_of

COLUMNS: tuple[tuple[str, str], ...] = (
    ("motor", ""), ("driver", ""), ("supply, V", ""), ("current", ""), ("reduction", ""), ("margin", "working_margin"),
    ("rise, K", "heat"), ("inertia", "inertia_ratio"), ("noise", "noise_proxy"), ("mass, kg", "mass"), ("price", "price"),
    ("days", "lead_time"))
LEADS = re.compile(r", \d leads")  # of a name: the wiring tells more
OF_WORDS, LEFT = 5, (0, 1, 4)  # columns that no figure fills; those that stand at the left


class FoundModel(QAbstractTableModel):
    """The candidates as a table, the best first; a click on a head sorts by it."""

    def __init__(self, parent: Any = None) -> None:
        super().__init__(parent)
        self.found: Found | None = None
        self.rows: list[Candidate] = []

    def show_rows(self, found: Found | None, rows: list[Candidate]) -> None:
        self.beginResetModel()
        self.found, self.rows = found, rows
        self.endResetModel()

    def rowCount(self, _parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return len(self.rows)

    def columnCount(self, _parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return len(COLUMNS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> Any:
        if role == Qt.ItemDataRole.DisplayRole:
            return COLUMNS[section][0] if orientation == Qt.Orientation.Horizontal else str(section + 1)
        return None

    def data(self, index: QModelIndex, role: int = 0) -> Any:
        if role == Qt.ItemDataRole.TextAlignmentRole and index.column() not in LEFT:
            return int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        return self.cells(index.row())[index.column()] if role == Qt.ItemDataRole.DisplayRole else None

    def cells(self, row: int) -> list[str]:
        """A row as texts."""
        assert self.found is not None
        one, scan = self.rows[row], self.found.scan
        _, v, c, r = one.place
        figures = [
            "" if one.figures[name] != one.figures[name] else number_text(
                one.figures[name] / (FACTORS["d"] if name == "lead_time" else 1.0), 3)
            for _, name in COLUMNS[OF_WORDS:]]
        return [self.name(one), self.driver(one), f"{scan.supplies[v]:g}",
                f"{100 * scan.current_shares[c]:.0f} %", str(scan.reductions[r].get("name") or "as it is"), *figures]

    def is_empty(self, column: int) -> bool:
        """Whether no candidate has anything to say there, as of a driver where none is looked for."""
        return bool(self.rows) and not any(self.cells(row)[column] for row in range(len(self.rows)))

    def name(self, one: Candidate) -> str:
        """The motor of a candidate with its wiring; its kind stands above the table already."""
        assert self.found is not None
        row = self.found.scan.motors[one.place[0]]
        name, wiring = str(row["name"]).replace(" stepper ", " ").replace(" servo ", " "), row.get("wiring")
        return f"{LEADS.split(name)[0]}, {wiring}" if wiring else name

    def driver(self, one: Candidate) -> str:
        """The driver of a candidate by what it bears, or nothing where the axis keeps its own."""
        assert self.found is not None
        if self.found.drivers is None or self.found.drivers[one.place] < 0:
            return ""
        values = driver_of(self.found, one).values
        return f"{values['current_limit']:g} A, {values['voltage_limit']:g} V"

    def setting(self, one: Candidate) -> str:
        """Supply, current, reduction and price of a candidate in a few words."""
        cells = self.cells(self.rows.index(one))
        price = f", price {cells[10]}" if cells[10] else ""
        return f"{cells[2]} V, {cells[3]}, {cells[4]}{price}"

    def sort(self, column: int, order: Qt.SortOrder = Qt.SortOrder.AscendingOrder) -> None:
        name, down = COLUMNS[column][1], order == Qt.SortOrder.DescendingOrder
        self.layoutAboutToBeChanged.emit()
        if name:
            self.rows.sort(key=lambda one: one.figures[name], reverse=down)
        elif self.found is not None:
            texts = {id(one): self.cells(row)[column] for row, one in enumerate(self.rows)}
            self.rows.sort(key=lambda one: texts[id(one)], reverse=down)
        self.layoutChanged.emit()
