"""How a measurement is set up, drawn: where the gauge stands and what is moved."""

from __future__ import annotations

import math
from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from urban_mule.desk.kit.painting import CENTRE, painted, say
from urban_mule.desk.kit.theme import theme


def draw_setup(painter: QPainter, word: str, area: QRectF) -> None:
    """Draw a set-up into an area; word: indicator, scale, push, belt, drag, piece, sensor, case."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    SETUPS[word](painter, area)
    painter.restore()


class Drawn(QWidget):
    """A set-up as a picture of its own."""

    def __init__(self, word: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.word = word
        self.setMinimumHeight(120)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(f"The set-up, drawn: {word}")

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        area = QRectF(self.rect()).adjusted(8, 8, -8, -8)
        wide = min(area.width(), 2.0 * area.height())
        draw_setup(painter, self.word, QRectF(area.center().x() - wide / 2, area.top(), wide, area.height()))


def _bed(painter: QPainter, area: QRectF, at: float) -> QRectF:
    """The bed with its carriage; `at`: where along it the carriage stands, 0 to 1."""
    y = area.bottom() - 0.22 * area.height()
    painter.setPen(theme.pen("muted", 2.0))
    painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
    for n in range(12):
        x = area.left() + area.width() * (n + 0.5) / 12
        painter.drawLine(QPointF(x, y), QPointF(x - 7, y + 8))
    wide, high = area.width() * 0.2, area.height() * 0.24
    carriage = QRectF(area.left() + (area.width() - wide) * at, y - high - 3, wide, high)
    painter.setBrush(theme.color("terrain"))
    painter.setPen(theme.pen("ink", 1.6))
    painter.drawRect(carriage)
    return carriage


def _dial(painter: QPainter, tip: QPointF, size: float) -> None:
    """A dial indicator whose tip touches something from the right."""
    body = QPointF(tip.x() + 2.1 * size, tip.y())
    painter.setPen(theme.pen("ink", 2.0))
    painter.drawLine(tip, body)
    painter.setBrush(theme.color("panel"))
    painter.drawEllipse(body, size, size)
    painter.drawLine(body, QPointF(body.x() - 0.5 * size, body.y() - 0.6 * size))
    painter.setPen(theme.pen("muted", 2.0))
    painter.drawLine(QPointF(body.x(), body.y() + size), QPointF(body.x(), body.y() + 2.6 * size))
    painter.drawLine(QPointF(body.x() - size, body.y() + 2.6 * size), QPointF(body.x() + size, body.y() + 2.6 * size))


def _arrow(painter: QPainter, start: QPointF, end: QPointF, color: str = "accent") -> None:
    painter.setPen(theme.pen(color, 2.4))
    painter.drawLine(start, end)
    way = math.copysign(1.0, end.x() - start.x())
    painter.setBrush(theme.color(color))
    painter.drawPolygon(QPolygonF([end, end + QPointF(-9 * way, -5), end + QPointF(-9 * way, 5)]))
    painter.setBrush(Qt.BrushStyle.NoBrush)


def _indicator(painter: QPainter, area: QRectF) -> None:
    carriage = _bed(painter, area, 0.42)
    _dial(painter, QPointF(carriage.right(), carriage.center().y()), 0.1 * area.height())
    y = carriage.top() - 0.16 * area.height()
    _arrow(painter, QPointF(carriage.left() - 70, y), QPointF(carriage.left() + 10, y))
    _arrow(painter, QPointF(carriage.right() + 70, y), QPointF(carriage.right() - 10, y), "violet")
    say(painter, QRectF(carriage.left() - 72, y - 28, 112, 18), "towards plus", "accent", 13)
    say(painter, QRectF(carriage.right() - 6, y - 28, 120, 18), "towards minus", "violet", 13)


def _scale(painter: QPainter, area: QRectF) -> None:
    carriage = _bed(painter, area, 0.55)
    ruler = QRectF(area.left() + 0.06 * area.width(), carriage.bottom() + 0.12 * area.height(), area.width() * 0.88, 16)
    painter.setBrush(theme.color("panel"))
    painter.setPen(theme.pen("ink", 1.2))
    painter.drawRect(ruler)
    for n in range(41):
        x = ruler.left() + ruler.width() * n / 40
        painter.drawLine(QPointF(x, ruler.top()), QPointF(x, ruler.top() + (10 if n % 5 == 0 else 5)))
    painter.setPen(theme.pen("accent", 2.0))
    painter.drawLine(QPointF(carriage.center().x(), carriage.bottom()), QPointF(carriage.center().x(), ruler.top()))
    _arrow(painter, QPointF(carriage.left() - 90, carriage.center().y()), QPointF(carriage.left() - 8, carriage.center().y()))


def _push(painter: QPainter, area: QRectF) -> None:
    carriage = _bed(painter, area, 0.42)
    _dial(painter, QPointF(carriage.right(), carriage.center().y() - 8), 0.1 * area.height())
    y, x = carriage.center().y() + 6, carriage.left()
    spring = QPainterPath(QPointF(x - 110, y))
    for n in range(1, 12):
        spring.lineTo(x - 110 + 7 * n, y + (7 if n % 2 else -7))
    painter.setPen(theme.pen("ink", 1.6))
    painter.drawPath(spring)
    _arrow(painter, QPointF(x - 33, y), QPointF(x - 2, y))
    say(painter, QRectF(x - 150, y + 12, 130, 18), "spring balance", "muted", 12)


def _belt(painter: QPainter, area: QRectF) -> None:
    size = 0.16 * area.height()
    left, right = QPointF(area.left() + 0.15 * area.width(), area.center().y()), QPointF(
        area.right() - 0.15 * area.width(), area.center().y())
    painter.setPen(theme.pen("ink", 1.6))
    painter.setBrush(theme.color("terrain"))
    for centre in (left, right):
        painter.drawEllipse(centre, size, size)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawLine(left + QPointF(0, size), right + QPointF(0, size))
    for bow in (-14.0, 14.0):
        span = QPainterPath(left + QPointF(0, -size))
        middle = (left + right) / 2 + QPointF(0, -size + 2 * bow)
        span.quadTo(middle, right + QPointF(0, -size))
        painter.setPen(theme.pen("accent", 1.6))
        painter.drawPath(span)
    above = QRectF(area.left(), area.center().y() - size - 44, area.width(), 18)
    say(painter, above, "free span, plucked in its middle", "accent", 13, align=CENTRE)


def _drag(painter: QPainter, area: QRectF) -> None:
    centre, size = QPointF(area.center().x() - 60, area.center().y()), 0.2 * area.height()
    painter.setPen(theme.pen("ink", 1.6))
    painter.setBrush(theme.color("terrain"))
    painter.drawEllipse(centre, size, size)
    painter.setBrush(theme.color("panel"))
    painter.drawEllipse(centre, 0.35 * size, 0.35 * size)
    end = centre + QPointF(3.2 * size, 0)
    painter.setPen(theme.pen("ink", 4.0))
    painter.drawLine(centre, end)
    painter.setPen(theme.pen("accent", 2.4))
    painter.drawLine(end, end + QPointF(0, 1.6 * size))
    say(painter, QRectF(end.x() + 8, end.y() + 0.7 * size, 160, 18), "pull until it turns", "accent", 13)
    say(painter, QRectF(centre.x(), centre.y() - size - 24, 3.2 * size, 18), "lever", "muted", 12, align=CENTRE)


def _piece(painter: QPainter, area: QRectF) -> None:
    x0, y0, long = area.left() + 0.2 * area.width(), area.top() + 0.3 * area.height(), 0.62 * area.width()
    edge = QPainterPath(QPointF(x0, area.bottom() - 10))
    edge.lineTo(x0, y0)
    for n in range(120):
        t = n / 119
        edge.lineTo(x0 + long * t, y0 - 16 * math.exp(-3.2 * t) * math.sin(2 * math.pi * 6 * t))
    painter.setPen(theme.pen("ink", 2.2))
    painter.drawPath(edge)
    first, second = x0 + long * 1.25 / 6, x0 + long * 2.25 / 6
    y = y0 + 34
    painter.setPen(theme.pen("accent", 1.6))
    for x in (first, second):
        painter.drawLine(QPointF(x, y0 - 20), QPointF(x, y))
    painter.drawLine(QPointF(first, y), QPointF(second, y))
    say(painter, QRectF(first - 40, y + 4, second - first + 80, 18), "spacing", "accent", 13, align=CENTRE)


def _sensor(painter: QPainter, area: QRectF) -> None:
    carriage = _bed(painter, area, 0.42)
    painter.setBrush(theme.color("accent"))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.drawRect(QRectF(carriage.center().x() - 9, carriage.top() - 12, 18, 12))
    say(painter, QRectF(carriage.center().x() + 16, carriage.top() - 22, 240, 18), "sensor screwed on, near the tool", "accent", 13)


def _case(painter: QPainter, area: QRectF) -> None:
    high = 0.42 * area.height()
    body = QRectF(area.center().x() - 1.2 * high, area.center().y() - high / 2, 1.5 * high, high)
    painter.setPen(theme.pen("ink", 1.6))
    painter.setBrush(theme.color("terrain"))
    painter.drawRect(body)
    painter.drawRect(QRectF(body.right(), body.center().y() - 0.08 * high, 0.5 * high, 0.16 * high))
    _warmed(painter, body, "thermometer in the middle of the case")


def _fins(painter: QPainter, area: QRectF) -> None:
    high = 0.3 * area.height()
    board = QRectF(area.center().x() - 1.2 * high, area.center().y() + 0.4 * high, 2.4 * high, 0.18 * high)
    painter.setPen(theme.pen("ink", 1.6))
    painter.setBrush(theme.color("terrain"))
    painter.drawRect(board)
    for n in range(7):
        painter.drawRect(QRectF(board.left() + 0.2 * high + n * 0.3 * high, board.top() - 0.9 * high, 0.1 * high, 0.9 * high))
    _warmed(painter, board.adjusted(0, -0.9 * high, 0, 0), "thermometer on the fin or the case")


def _warmed(painter: QPainter, body: QRectF, words: str) -> None:
    """Warm air over a body, and the thermometer that touches it."""
    for n in range(3):
        x = body.left() + body.width() * (n + 1) / 4
        wave = QPainterPath(QPointF(x, body.top() - 6))
        wave.cubicTo(QPointF(x + 9, body.top() - 16), QPointF(x - 9, body.top() - 24), QPointF(x, body.top() - 34))
        painter.setPen(theme.pen("tight", 1.8))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(wave)
    painter.setPen(theme.pen("accent", 3.0))
    painter.drawLine(body.center(), QPointF(body.center().x() + 60, body.bottom() + 24))
    say(painter, QRectF(body.center().x() + 66, body.bottom() + 14, 220, 18), words, "accent", 13)


SETUPS: dict[str, Callable[[QPainter, QRectF], None]] = {
    "indicator": _indicator, "scale": _scale, "push": _push, "belt": _belt, "drag": _drag, "piece": _piece, "sensor": _sensor,
    "case": _case, "fins": _fins}
