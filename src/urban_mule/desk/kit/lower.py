"""What stands beneath a picture: as high as it needs to be where there is room for it, else it scrolls."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QSize, Qt
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QSizePolicy, QWidget

BETWEEN, SCROLL = 24, 12  # px between the two sides, and that a bar takes


class Lower(QScrollArea):
    """Two sides in a row. Qt keeps the size that a scrolling area would like for the first thing that lay in it; this one asks."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent, widgetResizable=True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Maximum)
        self.inner = QWidget()
        self.row = QHBoxLayout(self.inner)
        self.row.setContentsMargins(0, 0, 0, 0)
        self.row.setSpacing(BETWEEN)
        self.setWidget(self.inner)
        self._told = 0  # px; to say the same height again has Qt lay everything out anew, and ask again, for ever
        self.inner.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.LayoutRequest and self._told != self.needs():
            self.follow()
        return super().eventFilter(watched, event)

    def follow(self) -> None:
        """Have the size that what lies in it needs now."""
        self.row.invalidate()
        self.updateGeometry()

    def needs(self) -> int:
        """How high it would be without scrolling [px]."""
        width = max(self.width(), 1)
        return self.row.heightForWidth(width) if self.row.hasHeightForWidth() else self.row.sizeHint().height()

    def overflows(self) -> bool:
        """Whether there is more in it than is seen."""
        return self.needs() > self.height()

    def sizeHint(self) -> QSize:
        self._told = self.needs()
        return QSize(super().sizeHint().width(), self._told)

    def minimumSizeHint(self) -> QSize:
        return QSize(120, 0)
