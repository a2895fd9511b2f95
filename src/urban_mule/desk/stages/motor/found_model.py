"""What a search found as a table: a row for each candidate, its figures in columns."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt

from urban_mule.core.sheet.units import FACTORS, number_text
from urban_mule.core.studies.search import Candidate, Found

COLUMNS: tuple[tuple[str, str], ...] = (
    ("motor", ""), ("wiring", ""), ("supply, V", ""), ("current", ""), ("reduction", ""), ("margin", "working_margin"),
    ("rise, K", "heat"), ("inertia", "inertia_ratio"), ("noise", "noise_proxy"), ("mass, kg", "mass"), ("price", "price"),
    ("days", "lead_time"))


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
        if role == Qt.ItemDataRole.TextAlignmentRole and index.column() not in (0, 1, 4):
            return int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        return self.cells(index.row())[index.column()] if role == Qt.ItemDataRole.DisplayRole else None

    def cells(self, row: int) -> list[str]:
        """A row as texts."""
        assert self.found is not None
        one, scan = self.rows[row], self.found.scan
        m, v, c, r = one.place
        figures = [
            "" if one.figures[name] != one.figures[name] else number_text(
                one.figures[name] / (FACTORS["d"] if name == "lead_time" else 1.0), 3)
            for _, name in COLUMNS[5:]]
        return [self.name(one), str(scan.motors[m].get("wiring") or ""), f"{scan.supplies[v]:g}",
                f"{100 * scan.current_shares[c]:.0f} %", str(scan.reductions[r].get("name") or "as it is"), *figures]

    def name(self, one: Candidate) -> str:
        """The motor of a candidate; its kind stands above the table already."""
        assert self.found is not None
        return str(self.found.scan.motors[one.place[0]]["name"]).replace(" stepper ", " ").replace(" servo ", " ")

    def setting(self, one: Candidate) -> str:
        """Wiring, supply, current and reduction of a candidate in a few words."""
        cells = self.cells(self.rows.index(one))
        wiring, price = (f"{cells[1]}, " if cells[1] else ""), (f", price {cells[10]}" if cells[10] else "")
        return f"{wiring}{cells[2]} V, {cells[3]}, {cells[4]}{price}"

    def sort(self, column: int, order: Qt.SortOrder = Qt.SortOrder.AscendingOrder) -> None:
        name, down = COLUMNS[column][1], order == Qt.SortOrder.DescendingOrder
        self.layoutAboutToBeChanged.emit()
        if name:
            self.rows.sort(key=lambda one: one.figures[name], reverse=down)
        elif self.found is not None:
            texts = {id(one): self.cells(row)[column] for row, one in enumerate(self.rows)}
            self.rows.sort(key=lambda one: texts[id(one)], reverse=down)
        self.layoutChanged.emit()
