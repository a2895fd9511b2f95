"""A line of words that is written narrower, then shortened where it does not fit, and then told whole by its hint."""

from __future__ import annotations

from typing import ClassVar

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QFont, QFontMetrics, QPainter

from urban_mule.desk.kit.painting import Label, fitted, in_lines, painted, tip

LEAST = 30  # px
NARROWER = (97, 94, 91, 88)  # per cent of the usual width of letters, in which words that lack a little room are written


def write_narrower(painter: QPainter, text: str, width: int, lines: int = 1) -> bool:
    """Have a painter write in letters as wide as words have room for in so many lines of a width [px]; whether they have."""
    if _fits(painter.fontMetrics(), text, width, lines):  # as mostly: to look a font up takes longer
        return True
    for share in NARROWER:
        narrower = QFont(painter.font())
        narrower.setStretch(share)
        painter.setFont(narrower)
        if _fits(painter.fontMetrics(), text, width, lines):
            return True
    return False


def _fits(metrics: QFontMetrics, text: str, width: int, lines: int) -> bool:
    broken, left = in_lines(metrics, text, width, lines)
    return not left and all(metrics.horizontalAdvance(line) <= width for line in broken)


class OneLine(Label):
    """Words in one line, and what its hint says besides."""

    _more = ""
    side: ClassVar = Qt.AlignmentFlag.AlignVCenter

    def tell(self, more: str) -> None:
        """Have the hint say more than the words."""
        self._more = more
        tip(self, more)

    def minimumSizeHint(self) -> QSize:
        return QSize(LEAST, super().minimumSizeHint().height())

    def lines_in(self, metrics: QFontMetrics) -> int:
        """How many lines of such letters have room."""
        return 1

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        lines = self.lines_in(painter.fontMetrics())
        whole = write_narrower(painter, self.text(), self.width(), lines)
        tip(self, ": ".join(part for part in ("" if whole else self.text(), self._more) if part))
        metrics = painter.fontMetrics()
        text = fitted(metrics, self.text(), self.width(), lines * metrics.lineSpacing())
        painter.drawText(self.rect(), self.side, text)


class Title(OneLine):
    """The name above what is typed, in two lines where its row has them: a stranger does not know what was cut off."""

    side = Qt.AlignmentFlag.AlignBottom

    def lines_wanted(self, width: int) -> int:
        """How many lines it needs in a width [px]."""
        return 1 if self.fontMetrics().horizontalAdvance(self.text()) * NARROWER[-1] <= 100 * width else 2

    def give_lines(self, lines: int) -> None:
        """Be so many lines high."""
        self.setFixedHeight(lines * self.fontMetrics().lineSpacing())

    def lines_in(self, metrics: QFontMetrics) -> int:
        return 2 if self.height() >= 2 * metrics.lineSpacing() else 1
