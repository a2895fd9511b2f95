"""A row that breaks where it is full, as words in a text do."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import QPoint, QRect, QSize, Qt
from PyQt6.QtWidgets import QLayout, QLayoutItem, QWidget


class Flow(QLayout):
    """Widgets from left to right, and on the next line where there is no room left."""

    def __init__(self, parent: QWidget | None = None, gap: int = 2) -> None:
        super().__init__(parent)
        self._items: list[QLayoutItem] = []
        self._highs: dict[int, int] = {}  # by width: Qt asks again and again
        self._sizes: tuple[QSize, QSize] | None = None
        self.setSpacing(gap)
        self.setContentsMargins(0, 0, 0, 0)

    def addItem(self, item: QLayoutItem | None) -> None:
        if item is not None:
            self._items.append(item)

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        return True

    def invalidate(self) -> None:
        self._highs, self._sizes = {}, None
        super().invalidate()

    def heightForWidth(self, width: int) -> int:
        if width not in self._highs:
            self._highs[width] = self._lay(QRect(0, 0, width, 0), False)
        return self._highs[width]

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._lay(rect, True)

    def sizeHint(self) -> QSize:
        return self._both()[0]

    def minimumSize(self) -> QSize:
        return self._both()[1]

    def _both(self) -> tuple[QSize, QSize]:
        """All in one line, and one below the other."""
        if self._sizes is None:
            shown = [item.sizeHint() for item in self._items if not item.isEmpty()]
            wide = sum(one.width() for one in shown) + self.spacing() * max(0, len(shown) - 1)
            high = max((one.height() for one in shown), default=0)
            self._sizes = QSize(wide, high), QSize(max((one.width() for one in shown), default=0), high)
        return self._sizes

    @classmethod
    def of(cls, widgets: Iterable[QWidget]) -> QWidget:
        """A widget in which these stand."""
        whole, row = QWidget(), cls()
        for widget in widgets:
            row.addWidget(widget)
        whole.setLayout(row)
        return whole

    def _lay(self, rect: QRect, put: bool) -> int:
        """How high it is in this room [px]; put: lay the widgets there."""
        x, y, high = rect.left(), rect.top(), 0
        for item in self._items:
            if item.isEmpty():
                continue
            size = item.sizeHint()
            if x > rect.left() and x + size.width() > rect.right() + 1:
                x, y, high = rect.left(), y + high + self.spacing(), 0
            if put:
                item.setGeometry(QRect(QPoint(x, y), QSize(min(size.width(), rect.width()), size.height())))
            x, high = x + size.width() + self.spacing(), max(high, size.height())
        return y + high - rect.top()
