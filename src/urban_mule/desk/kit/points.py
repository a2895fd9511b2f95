"""Points of a chart: marks of one size in pixels at places in the units of the chart."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter, QPen, QPolygonF, QTransform
from PyQt6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

SHAPES = {"up": (-90, 30, 150), "down": (90, 210, 330), "turned": (0, 90, 180, 270)}  # corners of a mark, in degrees

MANY = 2000  # marks, from which on many lie on each other


def one_a_pixel(places: QPolygonF) -> list[QPointF]:
    """The places of a picture, one to a pixel."""
    return list({(round(place.x()), round(place.y())): place for place in (places.at(n) for n in range(places.count()))}.values())


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
        self._places = QPolygonF()
        self._shape, self._size = "o", 6.0
        self._pen, self._brush = QPen(), QBrush()

    def show_points(self, x: np.ndarray, y: np.ndarray, shape: str, size: float, pen: QPen, brush: QBrush) -> None:
        """Show these places; those that are not finite are left out."""
        self.prepareGeometryChange()
        self._places = QPolygonF([QPointF(a, b) for a, b in zip(x.tolist(), y.tolist(), strict=True) if np.isfinite(a + b)])
        self._shape, self._size, self._pen, self._brush = shape, size, pen, brush
        self.update()

    def boundingRect(self) -> QRectF:
        """The places and the marks around them, whose size depends on how closely the chart is looked at."""
        found, scene = self._places.boundingRect(), self.scene()
        for view in scene.views() if scene is not None else ():
            at = self.deviceTransform(view.viewportTransform())
            across, down = self._size / max(abs(at.m11()), 1e-12), self._size / max(abs(at.m22()), 1e-12)
            found.adjust(-across, -down, across, down)
        return found

    def paint(self, painter: QPainter | None, _option: QStyleOptionGraphicsItem | None, _widget: QWidget | None = None) -> None:
        """The marks in pixels, at the places as the chart is seen now."""
        if painter is None:
            return
        seen = painter.worldTransform().map(self._places)
        painter.save()
        painter.setWorldTransform(QTransform())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(self._pen if self._pen.widthF() > 0 else Qt.PenStyle.NoPen)
        painter.setBrush(self._brush)
        corners, half = mark(self._shape, self._size), self._size / 2
        for place in (seen.at(number) for number in range(seen.count())) if seen.count() < MANY else one_a_pixel(seen):
            if corners.isEmpty():
                painter.drawEllipse(place, half, half)
            else:
                painter.drawPolygon(corners.translated(place))
        painter.restore()
