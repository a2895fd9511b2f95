"""Signs of trains, drawn small: a plate or a line has no room for more. Pen and brush are set before."""

from __future__ import annotations

from itertools import pairwise

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter


def sign_belt(painter: QPainter, area: QRectF) -> None:
    middle = area.center()
    painter.drawRoundedRect(QRectF(area.left(), middle.y() - 6, area.width(), 12), 6, 6)
    painter.drawEllipse(QPointF(area.left() + 6, middle.y()), 3, 3)
    painter.drawEllipse(QPointF(area.right() - 6, middle.y()), 3, 3)
    painter.drawRect(QRectF(middle.x() - 5, middle.y() - 12, 10, 6))


def sign_rack(painter: QPainter, area: QRectF) -> None:
    middle = area.center()
    painter.drawEllipse(QPointF(middle.x(), middle.y() - 5), 7, 7)
    teeth = [QPointF(area.left() + area.width() * i / 14, middle.y() + (4 if i % 2 else 9)) for i in range(15)]
    for a, b in pairwise(teeth):
        painter.drawLine(a, b)


def sign_screw(painter: QPainter, area: QRectF) -> None:
    middle = area.center()
    painter.drawRect(QRectF(area.left(), middle.y() - 3, area.width(), 6))
    for i in range(1, 9):
        x = area.left() + area.width() * i / 9
        painter.drawLine(QPointF(x - 2, middle.y() + 3), QPointF(x + 2, middle.y() - 3))
    painter.drawRect(QRectF(middle.x() - 6, middle.y() - 8, 12, 16))


def sign_feed_roller(painter: QPainter, area: QRectF) -> None:
    middle = area.center()
    painter.drawLine(QPointF(area.left(), middle.y()), QPointF(area.right(), middle.y()))
    painter.drawEllipse(QPointF(middle.x(), middle.y() - 7), 6, 6)
    painter.drawEllipse(QPointF(middle.x(), middle.y() + 7), 6, 6)


def sign_turn(painter: QPainter, area: QRectF) -> None:
    middle = area.center()
    painter.drawEllipse(QPointF(middle.x() + 6, middle.y()), 12, 12)
    painter.drawEllipse(QPointF(middle.x() - 12, middle.y() + 5), 5, 5)


def sign_plain(painter: QPainter, area: QRectF) -> None:
    painter.drawLine(QPointF(area.left(), area.center().y()), QPointF(area.right(), area.center().y()))
