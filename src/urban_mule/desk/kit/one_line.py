"""A line of words that is shortened where it does not fit, and then told whole by its hint."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QPainter

from urban_mule.desk.kit.painting import Label, painted, shortened, tip

LEAST = 30  # px


class OneLine(Label):
    """Words in one line, and what its hint says besides."""

    _more = ""

    def tell(self, more: str) -> None:
        """Have the hint say more than the words."""
        self._more = more
        tip(self, more)

    def minimumSizeHint(self) -> QSize:
        return QSize(LEAST, super().minimumSizeHint().height())

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        text = shortened(painter.fontMetrics(), self.text(), self.width())
        tip(self, ": ".join(part for part in (self.text() if text != self.text() else "", self._more) if part))
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignVCenter, text)
