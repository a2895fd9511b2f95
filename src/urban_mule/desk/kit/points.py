"""Points of a chart: marks of one size in pixels at places in the units of the chart."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter, QPen, QPolygonF, QTransform
from PyQt6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

SHAPES = {"up": (-90, 30, 150), "down": (90, 210, 330), "turned": (0, 90, 180, 270)}  # corners of a mark, in degrees

MANY = 2000  # marks, from which on many lie on each other


def one_a_pixel(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """Which of the places of a picture [px] are drawn: one to a pixel."""
    return np.unique(np.round(np.column_stack([x, y])), axis=0, return_index=True)[1]


@lru_cache(maxsize=64)
def mark(shape: str, size: float) -> QPolygonF:
    """The corners of a mark about 0; empty for a circle."""
    turns = np.radians(SHAPES.get(shape, ()))
    return QPolygonF([QPointF(0.6 * size * np.cos(turn), 0.6 * size * np.sin(turn)) for turn in turns])


class Points(QGraphicsItem):
    """Marks at places. A chart has a few dozen of them: each is drawn as it is, which is quicker than a store of pictures; of
    thousands only one to a pixel.
    """

    def __init__(self) -> None:
        super().__init__()
        self._x = self._y = np.empty(0)
        self._shape, self._size = "o", 6.0
        self._pen, self._brush = QPen(), QBrush()

    def show_points(self, x: np.ndarray, y: np.ndarray, shape: str, size: float, pen: QPen, brush: QBrush) -> None:
        """Show these places; those that are not finite are left out."""
        self.prepareGeometryChange()
        there = np.isfinite(x) & np.isfinite(y)
        self._x, self._y = np.asarray(x[there], dtype=float), np.asarray(y[there], dtype=float)
        self._shape, self._size, self._pen, self._brush = shape, size, pen, brush
        self.update()

    def boundingRect(self) -> QRectF:
        """The places and the marks around them, whose size depends on how closely the chart is looked at."""
        if not self._x.size:
            return QRectF()
        found, scene = QRectF(self._x.min(), self._y.min(), float(np.ptp(self._x)), float(np.ptp(self._y))), self.scene()
        for view in scene.views() if scene is not None else ():
            at = self.deviceTransform(view.viewportTransform())
            across, down = self._size / max(abs(at.m11()), 1e-12), self._size / max(abs(at.m22()), 1e-12)
            found.adjust(-across, -down, across, down)
        return found

    def paint(self, painter: QPainter | None, _option: QStyleOptionGraphicsItem | None, _widget: QWidget | None = None) -> None:
        """The marks in pixels, at the places as the chart is seen now."""
        if painter is None or not self._x.size:
            return
        to = painter.worldTransform()
        x = to.m11() * self._x + to.m21() * self._y + to.dx()
        y = to.m12() * self._x + to.m22() * self._y + to.dy()
        if x.size >= MANY:
            drawn = one_a_pixel(x, y)
            x, y = x[drawn], y[drawn]
        painter.save()
        painter.setWorldTransform(QTransform())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(self._pen if self._pen.widthF() > 0 else Qt.PenStyle.NoPen)
        painter.setBrush(self._brush)
        corners, half = mark(self._shape, self._size), self._size / 2
        for place in map(QPointF, x.tolist(), y.tolist()):
            if corners.isEmpty():
                painter.drawEllipse(place, half, half)
            else:
                painter.drawPolygon(corners.translated(place))
        painter.restore()
