"""Pages of which one is seen."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtWidgets import QStackedWidget


class Stack(QStackedWidget):
    """As large as its page that is seen wants to be: what the hidden ones want would be asked at every change of any of them."""

    def sizeHint(self) -> QSize:
        page = self.currentWidget()
        return QSize() if page is None else page.sizeHint()

    def minimumSizeHint(self) -> QSize:
        page = self.currentWidget()
        return QSize() if page is None else page.minimumSizeHint()

    def hasHeightForWidth(self) -> bool:
        """It takes the height that there is."""
        return False
