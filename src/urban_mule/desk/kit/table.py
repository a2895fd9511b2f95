"""A table of texts: sortable by a click on its head, copied by key as it is shown, read aloud cell by cell."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QSortFilterProxyModel, Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QAbstractItemView, QApplication, QHeaderView, QTableView, QWidget

from urban_mule.desk.kit.theme import font
from urban_mule.store.text_files import text_cell

SORTED_BY = Qt.ItemDataRole.UserRole
ROW_HEIGHT = 23
LEAST_COLUMN = 44  # px


class Rows(QAbstractTableModel):
    """Rows of texts under a head; a cell may be (text, what it is sorted by). Rows that are added do not touch the others."""

    def __init__(self, head: Sequence[str], right: Sequence[int] = (), parent: QWidget | None = None) -> None:
        """right: the columns that stand to the right, as numbers do."""
        super().__init__(parent)
        self.head, self.right = tuple(head), frozenset(right)
        self.rows: Sequence[tuple[Any, ...]] = ()
        self.strong: int | None = None
        self.crossed: Callable[[int], bool] = lambda _row: False

    def show_rows(self, rows: Sequence[tuple[Any, ...]], strong: int | None = None) -> None:
        """Show these rows and no others; strong: the row that stands out. Rows that are shown already cost nothing."""
        if (list(rows), strong) == (list(self.rows), self.strong):
            return
        self.beginResetModel()
        self.rows, self.strong = list(rows), strong
        self.endResetModel()

    def show_made(self, rows: Sequence[tuple[Any, ...]], crossed: Callable[[int], bool]) -> None:
        """Show rows that are made when they are drawn. crossed: whether a row is crossed out, but for its last column."""
        self.beginResetModel()
        self.rows, self.crossed = rows, crossed
        self.endResetModel()

    def add(self, rows: Sequence[tuple[Any, ...]]) -> None:
        """Add rows at the end."""
        if rows:
            self.beginInsertRows(QModelIndex(), len(self.rows), len(self.rows) + len(rows) - 1)
            kept: list[tuple[Any, ...]] = self.rows if isinstance(self.rows, list) else list(self.rows)
            kept.extend(rows)
            self.rows = kept
            self.endInsertRows()

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.rows)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.head)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> Any:
        if role == Qt.ItemDataRole.DisplayRole and orientation == Qt.Orientation.Horizontal:
            return self.head[section]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            side = Qt.AlignmentFlag.AlignRight if section in self.right else Qt.AlignmentFlag.AlignLeft
            return int(side | Qt.AlignmentFlag.AlignVCenter)
        return None

    def data(self, index: QModelIndex, role: int = 0) -> Any:
        cell = self.rows[index.row()][index.column()]
        text, key = cell if isinstance(cell, tuple) else (cell, cell)
        match role:
            case Qt.ItemDataRole.DisplayRole:
                return text
            case Qt.ItemDataRole.AccessibleTextRole:
                return f"{self.head[index.column()]}: {text}"
            case Qt.ItemDataRole.FontRole:
                crossed = index.column() + 1 < len(self.head) and self.crossed(index.row())
                strong = index.row() == self.strong  # the rest is as the style has it: a font for every cell costs every look
                return font(12, bold=strong, crossed=crossed) if strong or crossed else None
            case Qt.ItemDataRole.TextAlignmentRole if index.column() in self.right:
                return int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        return key if role == SORTED_BY else None


class Table(QTableView):
    """Rows as a table; Ctrl+C copies the chosen rows, or all, as CSV."""

    def __init__(self, name: str, head: Sequence[str], wide: int, right: Sequence[int] = (), parent: QWidget | None = None) -> None:
        """wide: the column that takes the room that is left."""
        super().__init__(parent)
        self.setAccessibleName(name)
        self.source = Rows(head, right, self)
        self.order = QSortFilterProxyModel(self)
        self.order.setSourceModel(self.source)
        self.order.setSortRole(SORTED_BY)
        self.setModel(self.order)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setShowGrid(False)
        self.setTabKeyNavigation(False)
        self.setWordWrap(False)
        side, across = self.verticalHeader(), self.horizontalHeader()
        assert side is not None and across is not None
        side.setDefaultSectionSize(ROW_HEIGHT)
        side.hide()
        across.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        across.setMinimumSectionSize(LEAST_COLUMN)  # also of the one that takes what is left, where nothing is
        across.setResizeContentsPrecision(40)  # rows looked at, so that a long book costs no more than a short one
        across.setSectionResizeMode(wide, QHeaderView.ResizeMode.Stretch)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        clipboard = QApplication.clipboard()
        if event is not None and event.matches(QKeySequence.StandardKey.Copy) and clipboard is not None:
            clipboard.setText(self.as_csv())
        else:
            super().keyPressEvent(event)

    def as_csv(self) -> str:
        """The chosen rows, or all where none is chosen, in the order shown, with the head."""
        selection = self.selectionModel()
        rows = sorted(index.row() for index in selection.selectedRows()) if selection is not None else []
        out = io.StringIO()
        table = csv.writer(out, lineterminator="\n")
        table.writerow(self.source.head)
        for row in rows or range(self.order.rowCount()):
            cells = (self.order.index(row, column).data() for column in range(len(self.source.head)))
            table.writerow([_copied(one) for one in cells])
        return out.getvalue()


def _copied(cell: Any) -> str:
    """A cell as it goes to a spreadsheet, where a number stays one and nothing becomes a formula."""
    text = "" if cell is None else str(cell)
    try:
        float(text)
    except ValueError:
        return text_cell(text)
    return text
