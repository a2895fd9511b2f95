"""A small drawing of the train of an axis."""

from __future__ import annotations

from itertools import pairwise

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from urban_mule.desk.kit.theme import theme
from urban_mule.store.document.project import Axis


def train_kind(axis: Axis) -> str:
    """The stage that carries the load, which names the axis' kind of train."""
    kinds = [stage.kind for stage in axis.train or ()]
    return next((k for k in ("screw", "belt", "rack") if k in kinds), "turn" if axis.motion == "rotary" else "")


def draw_train(painter: QPainter, kind: str, area: QRectF) -> None:
    """A small drawing of a train."""
    painter.setPen(theme.pen("muted", 1.4))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    middle, width = area.center(), area.width()
    match kind:
        case "belt":
            painter.drawRoundedRect(QRectF(area.left(), middle.y() - 6, width, 12), 6, 6)
            painter.drawEllipse(QPointF(area.left() + 6, middle.y()), 3, 3)
            painter.drawEllipse(QPointF(area.right() - 6, middle.y()), 3, 3)
            painter.drawRect(QRectF(middle.x() - 5, middle.y() - 12, 10, 6))
        case "rack":
            painter.drawEllipse(QPointF(middle.x(), middle.y() - 5), 7, 7)
            teeth = [QPointF(area.left() + width * i / 14, middle.y() + (4 if i % 2 else 9)) for i in range(15)]
            for a, b in pairwise(teeth):
                painter.drawLine(a, b)
        case "screw":
            painter.drawRect(QRectF(area.left(), middle.y() - 3, width, 6))
            for i in range(1, 9):
                x = area.left() + width * i / 9
                painter.drawLine(QPointF(x - 2, middle.y() + 3), QPointF(x + 2, middle.y() - 3))
            painter.drawRect(QRectF(middle.x() - 6, middle.y() - 8, 12, 16))
        case "turn":
            painter.drawEllipse(QPointF(middle.x() + 6, middle.y()), 12, 12)
            painter.drawEllipse(QPointF(middle.x() - 12, middle.y() + 5), 5, 5)
        case _:
            painter.drawLine(QPointF(area.left(), middle.y()), QPointF(area.right(), middle.y()))
