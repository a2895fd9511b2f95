"""Which axes move in which step of the machine's cycle, as one table: a box each would be a thousand of them for sixty axes."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt
from PyQt6.QtWidgets import QAbstractItemView, QFrame, QHeaderView, QTableView

from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.theme import theme
from urban_mule.store.document.parts import StepModel

ROW, COLUMN, NAMES = 23, 58, 74  # px
Role = Qt.ItemDataRole


class StepRows(QAbstractTableModel):
    """A row an axis, a column a step, and last how long the machine rests after it. toggled, rested: told of a change."""

    def __init__(self, toggled: Callable[[int, str, bool], None], rested: Callable[[int, str], None]) -> None:
        super().__init__()
        self._toggled, self._rested = toggled, rested
        self.cycle: tuple[StepModel, ...] = ()
        self.names: list[str] = []

    def show_steps(self, cycle: tuple[StepModel, ...], names: list[str]) -> None:
        """Show these steps; who stands in a cell stays there where there are as many as before."""
        alike = (len(cycle), names) == (len(self.cycle), self.names)
        if not alike:
            self.beginResetModel()
        self.cycle, self.names = cycle, names
        if not alike:
            self.endResetModel()
        elif cycle:
            self.dataChanged.emit(self.index(0, 0), self.index(len(names), len(cycle) - 1))

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() or not self.cycle else len(self.names) + 1

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.cycle)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> Any:
        if role == Role.TextAlignmentRole:
            return int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        if role != Role.DisplayRole:
            return None
        if orientation == Qt.Orientation.Horizontal:
            return f"step {section + 1}"
        return "rests, s" if section == len(self.names) else self.names[section]

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        kind = Qt.ItemFlag.ItemIsEditable if index.row() == len(self.names) else Qt.ItemFlag.ItemIsUserCheckable
        return Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable | kind

    def data(self, index: QModelIndex, role: int = 0) -> Any:
        step, rests = self.cycle[index.column()], index.row() == len(self.names)
        said = number_text(float(step.dwell or 0.0), 3)
        name = "" if rests else self.names[index.row()]
        match role:
            case Role.DisplayRole | Role.EditRole if rests:
                return said
            case Role.BackgroundRole if rests:
                return theme.color("panel")
            case Role.ToolTipRole if rests:
                return f"How long the machine rests after step {index.column() + 1}: type the seconds over it"
            case Role.CheckStateRole if not rests:
                return Qt.CheckState.Checked if name in step.axes else Qt.CheckState.Unchecked
            case Role.AccessibleTextRole:
                place, does = f"step {index.column() + 1}", "moves" if name in step.axes else "stands"
                return f"Rest after {place}: {said} s" if rests else f"{name} {does} in {place}"
        return None

    def setData(self, index: QModelIndex, value: Any, role: int = 0) -> bool:
        if role == Role.CheckStateRole:
            self._toggled(index.column(), self.names[index.row()], Qt.CheckState(value) == Qt.CheckState.Checked)
        elif str(value).strip() != self.data(index, Role.EditRole):
            self._rested(index.column(), str(value).strip())
        return True


class Steps(QTableView):
    """The table of the steps: Space or a press ticks who moves, a number is typed over a rest."""

    def __init__(self, toggled: Callable[[int, str, bool], None], rested: Callable[[int, str], None]) -> None:
        super().__init__(objectName="steps")
        self.setAccessibleName("Steps of the machine's cycle: which axes move in each, and how long it rests after it")
        self.rows = StepRows(toggled, rested)
        self.setModel(self.rows)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setShowGrid(False)
        self.setTabKeyNavigation(False)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        trigger = QAbstractItemView.EditTrigger
        self.clicked.connect(self.setCurrentIndex)  # a press on a tick leaves it where it was
        self.setEditTriggers(trigger.SelectedClicked | trigger.DoubleClicked | trigger.AnyKeyPressed | trigger.EditKeyPressed)
        across, side = self.horizontalHeader(), self.verticalHeader()
        assert across is not None and side is not None
        for head, size in ((across, COLUMN), (side, ROW)):
            head.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
            head.setMinimumSectionSize(ROW)
            head.setDefaultSectionSize(size)
            head.setSectionsClickable(False)
            head.setHighlightSections(False)
        side.setFixedWidth(NAMES)

    @property
    def height_of_all(self) -> int:
        """Height [px] in which all of it is seen."""
        head = self.horizontalHeader()
        assert head is not None
        return head.sizeHint().height() + ROW * self.rows.rowCount() + 4
