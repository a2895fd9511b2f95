"""The whole train with places on it: what may be at fault, each numbered where it sits, the likeliest large."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from urban_mule.core.sheet.record import record
from urban_mule.desk.kit.link_drawings import USUAL_FRAME, draw_load, draw_motor, outline
from urban_mule.desk.kit.link_looks import look_of
from urban_mule.desk.kit.painting import CENTRE, fitted, say
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import font, theme
from urban_mule.desk.model.scope import Scope

WORDS, FLOOR, BALLOON = 52.0, 18.0, 10.0  # px: of the names above, of the frame beneath, radius of a number
LARGE = 1.35  # times, of the likeliest
WIDEST = 230.0  # px that a part takes at most


@record(frozen=True)
class Suspected:
    """Something that may be at fault, and where: at a kind of link, motor, carriage, guide, frame, gauge, sensor or cable."""

    name: str
    place: str


@record(frozen=True)
class AxisPart:
    """What is drawn of an axis: its links, the size of its motor [m], whether it turns, how it leans [rad]."""

    links: tuple[Any, ...]
    frame: float | None
    length: float | None
    rotary: bool
    incline: float


def draw_places(painter: QPainter, state: AxisPart, area: QRectF) -> dict[str, QPointF]:
    """The train from motor to load on its frame, with a gauge at the load and a cable to it; where each of its places is."""
    links = state.links
    count = len(links) + 2
    width = min(WIDEST, area.width() / count)
    left = area.center().x() - width * count / 2
    spots = [QRectF(left + width * n, area.top(), width, area.height() - FLOOR) for n in range(count)]
    axle = area.top() + 0.56 * (area.height() - FLOOR)
    largest = max([state.frame or USUAL_FRAME, *(look_of(link.kind).across(link) for link in links)])
    scale = min(0.62 * (area.height() - FLOOR) / largest, 2400.0)
    painter.setPen(theme.pen("muted", 3))
    painter.drawLine(QPointF(spots[0].center().x(), axle), QPointF(spots[-1].center().x(), axle))
    places = {"motor": QPointF(spots[0].center().x(), axle - 8)}
    draw_motor(painter, state.frame, state.length, QPointF(spots[0].center().x(), axle), scale, width)
    for link, spot in zip(links, spots[1:], strict=False):
        middle = QPointF(spot.center().x(), axle)
        painter.setPen(outline())
        painter.setBrush(theme.color("panel"))
        look_of(link.kind).draw(painter, link, middle, spot, scale)
        places.setdefault(link.kind, middle)
    load = QPointF(spots[-1].center().x(), axle)
    floor = area.bottom() - 10
    painter.setPen(theme.pen("muted", 1.6))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawLine(QPointF(spots[0].left() + 8, floor), QPointF(spots[-1].right() - 8, floor))
    for n in range(int((spots[-1].right() - spots[0].left() - 16) / 14)):
        x = spots[0].left() + 12 + 14 * n
        painter.drawLine(QPointF(x, floor), QPointF(x - 6, floor + 8))
    draw_load(painter, state.rotary, state.incline, load, min(1.0, (area.height() - FLOOR) / 150))
    _gauge(painter, load + QPointF(min(66.0, 0.3 * width + 30), 0))
    painter.setPen(theme.pen("muted", 1.4))
    painter.drawArc(QRectF(load.x() - 0.36 * width, axle - 62, 0.36 * width, 60), 0, 180 * 16)
    far = min(66.0, 0.3 * width + 30)
    return places | {
        "carriage": load + QPointF(0, -14), "guide": load + QPointF(-22, 17), "gauge": load + QPointF(far, 0),
        "sensor": load + QPointF(16, -22), "cable": QPointF(load.x() - 0.18 * width, axle - 60),
        "frame": QPointF((spots[0].right() + spots[-1].left()) / 2, floor)}


def _gauge(painter: QPainter, middle: QPointF) -> None:
    """A dial on its stand."""
    painter.setPen(theme.pen("muted", 1.4))
    painter.setBrush(theme.color("panel"))
    painter.drawLine(middle + QPointF(-24, 0), middle + QPointF(-11, 0))
    painter.drawEllipse(middle, 11, 11)
    painter.drawLine(middle, middle + QPointF(5, -6))
    painter.drawLine(middle + QPointF(0, 11), middle + QPointF(0, 30))
    painter.setBrush(Qt.BrushStyle.NoBrush)


class OnTrain(Painted):
    """The train of the shown axis with what is suspected on it; the first is the likeliest."""

    def __init__(self, session: Scope, about: str) -> None:
        super().__init__(session)
        self.about = about
        self.suspected: tuple[Suspected, ...] = ()
        self.setMinimumHeight(120)

    def show_suspected(self, suspected: Sequence[Suspected]) -> None:
        """Mark these, the likeliest first."""
        self.suspected = tuple(suspected)
        told = "; ".join(f"{n}: {one.name}, at the {one.place}" for n, one in enumerate(self.suspected, start=1))
        self.setAccessibleName(f"{self.about} {told or 'Nothing is suspected.'}")
        self.update()

    def paint(self, painter: QPainter, area: QRectF) -> None:
        axis = self.state.axis
        part = AxisPart(self.state.solution.inputs["train"] or (), getattr(axis.motor, "frame", None),
                        getattr(axis.motor, "length", None), axis.motion == "rotary", axis.incline or 0.0)
        places = draw_places(painter, part, area.adjusted(0, WORDS, 0, 0))
        if self.suspected:
            self._marks(painter, area, places)

    def _marks(self, painter: QPainter, area: QRectF, places: dict[str, QPointF]) -> None:
        """Names in a row above, in the order of their places, so that no line to a place crosses another."""
        order = sorted(range(len(self.suspected)), key=lambda n: places.get(self.suspected[n].place, places["carriage"]).x())
        wide = area.width() / len(order)
        for slot, n in enumerate(order):
            one, first = self.suspected[n], n == 0
            place = places.get(one.place, places["carriage"])
            centre = area.left() + wide * (slot + 0.5)
            radius = BALLOON * (LARGE if first else 1.0)
            color = "accent" if first else "blue"
            at = QPointF(centre, area.top() + WORDS - 10)
            painter.setPen(theme.pen(color, 1.8 if first else 1.0))
            far = math.hypot(place.x() - at.x(), place.y() - at.y()) or 1.0
            painter.drawLine(at + (place - at) * min(1.0, radius / far), place)
            painter.drawEllipse(place, 4 if first else 3, 4 if first else 3)
            painter.setBrush(theme.color(color))
            painter.drawEllipse(at, radius, radius)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            number = QRectF(at.x() - 14, at.y() - 10, 28, 20)
            say(painter, number, str(n + 1), "panel", 14 if first else 12, bold=True, align=CENTRE)
            painter.setFont(font(13 if first else 12, bold=first))
            painter.setPen(theme.color(color if first else "ink"))
            painter.drawText(QRectF(centre - wide / 2 + 3, area.top() - 8, wide - 6, WORDS - 18),
                             int(Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignBottom),
                             fitted(painter.fontMetrics(), one.name[:1].upper() + one.name[1:], wide - 8, 34))
