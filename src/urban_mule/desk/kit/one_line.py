"""A line of words that is shortened where it does not fit, and then told whole by its hint."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QPainter

from urban_mule.desk.kit.painting import Label, painted, tip

LEAST = 30  # px


class OneLine(Label):
    """Words in one line; more: what its hint says besides."""

    more = ""

    def minimumSizeHint(self) -> QSize:
        return QSize(LEAST, super().minimumSizeHint().height())

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        text = painter.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, self.width())
        tip(self, ": ".join(part for part in (self.text() if text != self.text() else "", self.more) if part))
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignVCenter, text)
