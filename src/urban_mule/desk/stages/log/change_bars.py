"""What each change bought beside what it cost, as bars: a row a change, the last one first."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter
from PyQt6.QtWidgets import QWidget

from urban_mule.core.sheet.record import record
from urban_mule.desk.kit.painting import LEFT, painted, say
from urban_mule.desk.kit.theme import font, theme

WORDS, COST, GAP, ROW, MOST_ROW = 0.34, 0.2, 20.0, 58.0, 92.0  # shares of the width; px
WRAPPED = int(Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignTop)


@record(frozen=True)
class ChangeBar:
    """A change: what was done, what was measured before and after in words, the share that is left, what it bought, what it cost.

    left: 1 before, None where there was nothing before; above 1 it grew. cost: in the user's money, None where it is not said.
    """

    what: str
    measured: str
    left: float | None
    bought: str
    cost: float | None
    cost_said: str


class ChangeBars(QWidget):
    """The rows, as high as they need to be."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.bars: tuple[ChangeBar, ...] = ()

    def show_bars(self, bars: Sequence[ChangeBar]) -> None:
        """Draw these."""
        self.bars = tuple(bars)
        self.setMinimumHeight(int(ROW * len(self.bars) + 30))
        self.setAccessibleName("What each change bought, the last one first. " + " ".join(
            f"{one.what}: {one.measured}, {one.bought or 'nothing to compare'}{f', cost {one.cost_said}' if one.cost_said else ''}."
            for one in self.bars))
        self.update()

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(self.rect(), theme.color("panel"))
        area = QRectF(self.rect()).adjusted(16, 6, -16, -4)
        words, cost = WORDS * area.width(), COST * area.width()
        bar = area.width() - words - cost - 2 * GAP
        heads = (0.0, "what was changed"), (words + GAP, "what is left of the error"), (words + bar + 2 * GAP, "what it cost")
        for x, text in heads:
            say(painter, QRectF(area.left() + x, area.top(), 240, 18), text, "muted", 12)
        dearest = max([one.cost or 0.0 for one in self.bars] + [1e-9])
        worst = max([1.0] + [one.left for one in self.bars if one.left is not None])
        high = min(MOST_ROW, (area.height() - 22) / max(len(self.bars), 1))
        for n, one in enumerate(self.bars):
            top = area.top() + 22 + high * n
            painter.setPen(theme.pen("line"))
            painter.drawLine(QPointF(area.left(), top), QPointF(area.right(), top))
            self._what(painter, one, QRectF(area.left(), top + 6, words - 8, high - 8))
            self._bought(painter, one, QRectF(area.left() + words + GAP, top + 8, bar, high - 12), worst)
            self._cost(painter, one, QRectF(area.left() + words + bar + 2 * GAP, top + 8, cost, high - 12), dearest)

    @staticmethod
    def _what(painter: QPainter, one: ChangeBar, place: QRectF) -> None:
        """What was done, in the largest size in which all of it stands there."""
        size = next((px for px in (14, 13, 12) if QFontMetricsF(font(px, bold=True)).boundingRect(
            QRectF(0, 0, place.width(), 4000), WRAPPED, one.what).height() <= place.height()), 11)
        painter.setFont(font(size, bold=True))
        painter.setPen(theme.color("ink"))
        painter.drawText(place, WRAPPED, one.what)

    @staticmethod
    def _bought(painter: QPainter, one: ChangeBar, place: QRectF, worst: float) -> None:
        """The whole of it before as a frame, what is left of it filled."""
        say(painter, QRectF(place.left(), place.top() - 4, place.width(), 18), one.measured, "ink", 13)
        if one.left is None:
            return
        whole = place.width() / worst
        before = QRectF(place.left(), place.top() + 17, whole, 12)
        painter.fillRect(before, theme.color("terrain"))
        painter.fillRect(QRectF(before.left(), before.top(), whole * min(one.left, worst), 12),
                         theme.color("short" if one.left > 1 else "blue"))
        say(painter, QRectF(place.left(), before.bottom() + 1, place.width(), 16), one.bought,
            "short" if one.left > 1 else "good", 12, bold=True)

    @staticmethod
    def _cost(painter: QPainter, one: ChangeBar, place: QRectF, dearest: float) -> None:
        if one.cost is None:
            say(painter, QRectF(place.left(), place.top() + 12, place.width(), 16), "not said", "muted", 12, italic=True)
            return
        say(painter, QRectF(place.left(), place.top() - 4, place.width(), 18), one.cost_said, "ink", 13, bold=True, align=LEFT)
        wide = max(2.0, place.width() * one.cost / dearest)
        painter.fillRect(QRectF(place.left(), place.top() + 17, wide, 12), theme.color("tight"))
