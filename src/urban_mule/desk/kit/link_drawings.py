"""Drawings of the links of a train: across the shaft to one scale, along it as far as there is room."""

from __future__ import annotations

import math
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from urban_mule.desk.kit.theme import theme

USUAL_FRAME = 0.057  # m; a motor of which no frame is known is drawn so, dashed
LEAST = 8.0  # px that a part must stay visible


def outline(known: bool = True) -> QPen:
    """The pen of a part: dashed where its size is not known."""
    return theme.pen("ink", 1.6, Qt.PenStyle.SolidLine if known else Qt.PenStyle.DashLine)


def draw_motor(painter: QPainter, frame: float | None, length: float | None, middle: QPointF, scale: float, room: float) -> None:
    """A motor from the side, its shaft to the right."""
    side = (frame or USUAL_FRAME) * scale
    long = min(room - 24, (length or 1.25 * (frame or USUAL_FRAME)) * scale)
    body = QRectF(middle.x() - long / 2, middle.y() - side / 2, long, side)
    painter.setPen(outline(frame is not None))
    painter.setBrush(theme.color("terrain"))
    painter.drawRoundedRect(body, 3, 3)
    for x in (body.left() + 0.16 * long, body.right() - 0.14 * long):
        painter.drawLine(QPointF(x, body.top()), QPointF(x, body.bottom()))
    painter.setBrush(Qt.BrushStyle.NoBrush)


def draw_load(painter: QPainter, rotary: bool, incline: float, middle: QPointF, small: float = 1.0) -> None:
    """What is moved: a table that turns, or a carriage on its guide, which leans [rad]."""
    painter.setPen(theme.pen("ink", 1.6))
    painter.setBrush(theme.color("terrain"))
    if rotary:
        painter.drawEllipse(middle, 38 * small, 38 * small)
        painter.drawEllipse(middle, 4, 4)
    else:
        painter.save()
        painter.translate(middle)
        painter.rotate(-math.degrees(incline))
        painter.scale(small, small)
        painter.drawRect(QRectF(-34, -24, 68, 36))
        painter.setPen(theme.pen("muted", 1.4))
        painter.drawLine(QPointF(-54, 16), QPointF(54, 16))
        painter.restore()
    painter.setBrush(Qt.BrushStyle.NoBrush)


def draw_plain(painter: QPainter, _link: Any, middle: QPointF, _spot: QRectF, scale: float) -> None:
    """A link of which nobody has said what it looks like: a box on its shaft."""
    high = max(LEAST, 0.03 * scale)
    painter.drawRect(QRectF(middle.x() - high / 2, middle.y() - high / 2, high, high))


def draw_coupling(painter: QPainter, _stage: Any, middle: QPointF, _spot: QRectF, scale: float) -> None:
    high = max(LEAST, 0.026 * scale)
    for side in (-1, 1):
        painter.drawRect(QRectF(middle.x() + (2 if side > 0 else -2 - 0.6 * high), middle.y() - high / 2, 0.6 * high, high))
    painter.drawLine(QPointF(middle.x(), middle.y() - 0.4 * high), QPointF(middle.x(), middle.y() + 0.4 * high))


def draw_reduction(painter: QPainter, link: Any, middle: QPointF, spot: QRectF, _scale: float) -> None:
    """Two wheels in the ratio, not to scale across: the document does not say their size."""
    ratio = min(6.0, max(1 / 6, link.ratio or 1.0))
    large = min(spot.height() * 0.2, (spot.width() - 30) / 2 / (1 + min(ratio, 1 / ratio)))
    first, second = (large / ratio, large) if ratio > 1 else (large, large * ratio)
    a = QPointF(middle.x() - second - 2, middle.y())
    b = QPointF(middle.x() + first + 2, middle.y())
    painter.drawEllipse(a, first, first)
    painter.drawEllipse(b, second, second)
    painter.drawLine(a + QPointF(0, -first), b + QPointF(0, -second))
    painter.drawLine(a + QPointF(0, first), b + QPointF(0, second))
    for centre in (a, b):
        painter.drawEllipse(centre, 2.5, 2.5)


def draw_worm(painter: QPainter, _stage: Any, middle: QPointF, spot: QRectF, _scale: float) -> None:
    radius = min(spot.height() * 0.17, 40.0)
    wheel = QPointF(middle.x(), middle.y() - radius - 6)
    painter.drawEllipse(wheel, radius, radius)
    painter.drawEllipse(wheel, 2.5, 2.5)
    rod = QRectF(middle.x() - 1.2 * radius, middle.y() - 6, 2.4 * radius, 12)
    painter.drawRoundedRect(rod, 4, 4)
    x = rod.left() + 5
    while x < rod.right() - 7:
        painter.drawLine(QPointF(x, rod.bottom()), QPointF(x + 6, rod.top()))
        x += 8


def draw_screw(painter: QPainter, link: Any, middle: QPointF, spot: QRectF, scale: float) -> None:
    high = max(LEAST, (link.diameter or 0.012) * scale)
    long = min(spot.width() - 20, (link.length or 1e9) * scale)
    rod = QRectF(middle.x() - long / 2, middle.y() - high / 2, long, high)
    painter.setPen(outline(link.diameter is not None))
    painter.drawRect(rod)
    step = max(4.0, min(30.0, (link.lead_used or 0.01) / link.starts * scale))
    lean = max(3.0, min(0.5 * high, step))
    x = rod.left()
    while x + lean < rod.right():
        painter.drawLine(QPointF(x, rod.bottom()), QPointF(x + lean, rod.top()))
        x += step
    painter.setBrush(theme.color("terrain"))
    nut = 0.9 * high
    painter.drawRect(QRectF(middle.x() - nut, middle.y() - high, 2 * nut, 2 * high))


def draw_belt(painter: QPainter, link: Any, middle: QPointF, spot: QRectF, scale: float) -> None:
    known = bool(link.pitch and link.teeth)
    radius = max(LEAST / 2, link.pitch * link.teeth / math.pi / 2 * scale) if known else 16.0
    left, right = spot.left() + 12, spot.right() - 12
    painter.setPen(outline(known))
    if link.layout == "open":
        y = middle.y() + radius + 8
        painter.drawLine(QPointF(left, y), QPointF(middle.x() - 2.2 * radius, y))
        painter.drawLine(QPointF(middle.x() + 2.2 * radius, y), QPointF(right, y))
        wrap = QPainterPath(QPointF(middle.x() - 2.2 * radius, y))
        wrap.quadTo(QPointF(middle.x() - radius, y), QPointF(middle.x() - radius, middle.y()))
        wrap.arcTo(QRectF(middle.x() - radius, middle.y() - radius, 2 * radius, 2 * radius), 180, -180)
        wrap.quadTo(QPointF(middle.x() + radius, y), QPointF(middle.x() + 2.2 * radius, y))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(wrap)
        for x in (left, right):
            painter.fillRect(QRectF(x - 3, y - 7, 6, 14), theme.color("ink"))
        painter.setBrush(theme.color("panel"))
        painter.drawEllipse(middle, radius - 3, radius - 3)
        painter.drawEllipse(middle, 2.5, 2.5)
        return
    a, b = QPointF(left + radius, middle.y()), QPointF(right - radius, middle.y())
    loop = QPainterPath()
    loop.addRoundedRect(QRectF(left, middle.y() - radius, right - left, 2 * radius), radius, radius)
    painter.drawPath(loop)
    for centre in (a, b):
        painter.drawEllipse(centre, max(2.0, radius - 3), max(2.0, radius - 3))
        painter.drawEllipse(centre, 2, 2)
    painter.setBrush(theme.color("terrain"))
    painter.drawRect(QRectF(middle.x() - 16, middle.y() - radius - 12, 32, 12))


def rack_size(link: Any) -> float:
    """How large a pinion on its rack is across its shaft [m]."""
    return float((link.module or 0.0) * (link.teeth or 0) / math.cos(link.helix_angle or 0.0) * 1.5)


def draw_rack(painter: QPainter, link: Any, middle: QPointF, spot: QRectF, scale: float) -> None:
    known = bool(link.module and link.teeth)
    radius = max(LEAST / 2, rack_size(link) / 3 * scale) if known else 16.0
    tooth = max(3.0, min(12.0, math.pi * (link.module or 0.0015) * scale))
    painter.setPen(outline(known))
    painter.drawEllipse(middle, radius, radius)
    painter.drawEllipse(middle, 3, 3)
    top = middle.y() + radius
    path = QPainterPath(QPointF(spot.left() + 10, top + 0.5 * tooth))
    x, up = spot.left() + 10, True
    while x < spot.right() - 10:
        x += tooth / 2
        path.lineTo(x, top + (0 if up else 0.5 * tooth))
        up = not up
    path.lineTo(x, top + 14)
    path.lineTo(spot.left() + 10, top + 14)
    path.closeSubpath()
    painter.drawPath(path)


def draw_direct(painter: QPainter, _stage: Any, middle: QPointF, _spot: QRectF, scale: float) -> None:
    high = max(LEAST, 0.012 * scale)
    painter.drawRect(QRectF(middle.x() - 26, middle.y() - high / 2, 52, high))


def draw_feed_roller(painter: QPainter, link: Any, middle: QPointF, spot: QRectF, scale: float) -> None:
    """The driven roller, the one that presses on it, and what runs between them."""
    radius = max(LEAST / 2, (link.diameter or 0.0) / 2 * scale) if link.diameter else 16.0
    radius = min(radius, spot.height() * 0.22)
    painter.setPen(outline(link.diameter is not None))
    stock = middle.y() - radius
    painter.drawEllipse(middle, radius, radius)
    painter.drawEllipse(middle, 3, 3)
    pressing = 0.7 * radius
    painter.drawEllipse(QPointF(middle.x(), stock - pressing - 3), pressing, pressing)
    painter.fillRect(QRectF(spot.left() + 10, stock - 3, spot.width() - 20, 3), theme.color("ink"))
