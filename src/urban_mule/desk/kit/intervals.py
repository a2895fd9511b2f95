"""Two intervals on one line: what was before, or computed, as a pale band; what is now, or was measured, as a strong stroke."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QSizePolicy, QWidget

from urban_mule.desk.kit.painting import painted
from urban_mule.desk.kit.theme import theme

Interval = tuple[float, float, float]  # low, the value, high
ROOM, HIGH, TICK = 0.08, 22, 5.0  # share of the line left free at either end; px of the line's height, and of half a stroke
LEAST = 3.0  # px that an interval is drawn wide at least


class TwoIntervals(QWidget):
    """pale, strong: the two intervals, in one unit; level: the colour of the strong one. told: what it shows, for who hears it."""

    def __init__(
        self, pale: Interval | None, strong: Interval | None, level: str, told: str, parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.pale, self.strong, self._level = pale, strong, level
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(told)

    def sizeHint(self) -> QSize:
        return QSize(150, HIGH)

    def minimumSizeHint(self) -> QSize:
        return QSize(80, HIGH)

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing)
        ends = [end for one in (self.pale, self.strong) if one is not None for end in one]
        if not ends:
            return
        low, high = min(ends), max(ends)
        span = (high - low) or abs(high) or 1.0
        wide, middle = self.width() * (1 - 2 * ROOM), self.height() / 2

        def at(value: float) -> float:
            return self.width() * ROOM + wide * (value - low) / span

        painter.setPen(theme.pen("line", 1))
        painter.drawLine(QPointF(0, middle), QPointF(self.width(), middle))
        if self.pale is not None:
            left, tick, right = map(at, self.pale)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.color("muted", 70))
            painter.drawRoundedRect(QRectF(left, middle - 7, max(right - left, LEAST), 14), 3, 3)
            painter.setPen(theme.pen("muted", 1.6))
            painter.drawLine(QPointF(tick, middle - 7), QPointF(tick, middle + 7))
        if self.strong is not None:
            left, tick, right = map(at, self.strong)
            painter.setPen(theme.pen(self._level, 2.4))
            painter.drawLine(QPointF(left, middle), QPointF(max(right, left + LEAST), middle))
            for end in (left, max(right, left + LEAST)):
                painter.drawLine(QPointF(end, middle - TICK), QPointF(end, middle + TICK))
            painter.setBrush(theme.color(self._level))
            painter.drawEllipse(QPointF(tick, middle), 3.2, 3.2)
