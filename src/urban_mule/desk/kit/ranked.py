"""A list of rows that wrap: a number, what it is, what is said of it, and a key where something can be done about it."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QPushButton, QScrollArea, QWidget

from urban_mule.core.sheet.record import record
from urban_mule.desk.kit.painting import Label

AT_ONCE = 12  # rows that are made before the window answers again: as many as fit into one


@record(frozen=True)
class RankedRow:
    """One row: its name, what stands in the further columns, the words on its keys."""

    name: str
    texts: tuple[str, ...]
    keys: tuple[str, ...] = ()


class Ranked(QScrollArea):
    """pressed(name, words): a key of a row was pressed."""

    pressed = pyqtSignal(str, str)

    def __init__(self, heads: Sequence[str], shares: Sequence[int], parent: QWidget | None = None) -> None:
        super().__init__(parent, widgetResizable=True)
        self.heads, self.shares = heads, shares
        self.setAccessibleName(f"List: {', '.join(one for one in heads if one)}")
        self.buttons: dict[tuple[str, str], QPushButton] = {}
        self.rows: tuple[RankedRow, ...] | None = None
        self._made = 0
        self._later = QTimer(self, singleShot=True)
        self._later.timeout.connect(self._make_more)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)

    def show_rows(self, rows: Sequence[RankedRow]) -> None:
        """Lay the rows out; nothing happens where they are the same."""
        if self.rows == tuple(rows):
            return
        self.rows, self.buttons = tuple(rows), {}
        inner = QWidget()
        self._grid = grid = QGridLayout(inner)
        grid.setContentsMargins(12, 10, 12, 10)
        grid.setHorizontalSpacing(18)
        grid.setVerticalSpacing(7)
        for column, (words, share) in enumerate(zip(self.heads, self.shares, strict=True), start=1):
            grid.addWidget(Label(words, objectName="label"), 0, column)
            grid.setColumnStretch(column, share)
        grid.setRowStretch(len(rows) + 1, 1)
        self._made = 0
        self._make_more()
        self.setWidget(inner)

    def _make_more(self) -> None:
        """Make the next rows; those after them once the window has answered."""
        rows = self.rows or ()
        for one in rows[self._made:self._made + AT_ONCE]:
            self._made += 1
            self._make(self._made, one)
        if self._made < len(rows):
            self._later.start(0)

    def _make(self, n: int, one: RankedRow) -> None:
        name = Label(one.name[:1].upper() + one.name[1:], objectName="heading", wordWrap=True)
        self._grid.addWidget(Label(str(n), objectName="label"), n, 0, Qt.AlignmentFlag.AlignTop)
        for column, label in enumerate((name, *(Label(text, wordWrap=True) for text in one.texts)), start=1):
            self._grid.addWidget(label, n, column, Qt.AlignmentFlag.AlignTop)
        for place, words in enumerate(one.keys):
            button = self.buttons[one.name, words] = QPushButton(words)
            button.setAccessibleName(f"{words}: {one.name}")
            button.clicked.connect(lambda _on, name=one.name, words=words: self.pressed.emit(name, words))
            self._grid.addWidget(button, n, len(one.texts) + 2 + place, Qt.AlignmentFlag.AlignTop)
