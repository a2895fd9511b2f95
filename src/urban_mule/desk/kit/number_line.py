"""A line in which a number is typed, and read whole."""

from __future__ import annotations

from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

EDGES = 18  # px of a line that its digits do not have
LEAST, MOST_ASKED = 44, 80  # px that a line asks for
NARROWEST = 72  # per cent of the usual width of its digits


class NumberLine(QLineEdit):
    """Digits that lack room are written narrower: a number whose first or last digit is hidden reads as another one."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._stretch = 100
        self.setMinimumWidth(LEAST)
        self.textChanged.connect(lambda _text: self._fit())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        wide = self.fontMetrics().horizontalAdvance(self.text()) * 100 // self._stretch + 1
        room = self.width() - EDGES
        if not self.hasFocus():  # else it grows beneath the fingers
            self.setMinimumWidth(max(LEAST, min(MOST_ASKED, wide * NARROWEST // 100 + EDGES)))
        stretch = max(NARROWEST, 100 * room // wide) if wide > room else 100
        if stretch != self._stretch:
            self._stretch = stretch
            narrower = self.font()
            narrower.setStretch(stretch)
            self.setFont(narrower)
