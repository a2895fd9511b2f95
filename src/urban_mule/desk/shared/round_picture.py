"""The numbers of a round as they come: where each stands, struck through where it was asked about and kept."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from urban_mule.bench.sessions.rounds import Step
from urban_mule.core.readings.place import place_of
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.painting import RIGHT, painted, say
from urban_mule.desk.kit.theme import theme

COLORS = ("blue", "violet", "good", "accent")

TABLES = {"up": "towards plus", "down": "towards minus"}  # as a legend says them

class RoundPicture(QWidget):
    """Numbers over where they were taken, one colour and shape a table; the step that is next as a dotted ring on the line."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(120)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Readings so far")
        self.steps: tuple[Step, ...] = ()
        self.values: dict[str, float] = {}
        self.factor, self.unit, self.next = 1.0, "", ""

    def show_round(self, steps: tuple[Step, ...], values: dict[str, float], nxt: str, factor: float, unit: str) -> None:
        """Draw these numbers, in SI; factor: what one `unit` is in SI; nxt: the place that is to come."""
        self.steps, self.values, self.next, self.factor, self.unit = steps, values, nxt, factor, unit
        self.setAccessibleName(f"Readings so far: {len(values)} of {len(steps)}")
        self.update()

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(self.rect(), theme.color("panel"))
        area = QRectF(self.rect()).adjusted(70, 14, -20, -22)
        shown = {place: value / self.factor for place, value in self.values.items()}
        low, high = min(shown.values(), default=-1.0), max(shown.values(), default=1.0)
        room = 0.15 * (high - low) or max(abs(high), 1.0) * 0.5
        low, high = low - room, high + room
        first, last = min((s.at for s in self.steps), default=0.0), max((s.at for s in self.steps), default=1.0)
        span = (last - first) or 1.0

        def point(step: Step, value: float) -> QPointF:
            return QPointF(area.left() + area.width() * (step.at - first) / span,
                           area.bottom() - area.height() * (value - low) / (high - low))

        for value in (low + room, high - room):
            y = area.bottom() - area.height() * (value - low) / (high - low)
            painter.setPen(theme.pen("line"))
            painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
            say(painter, QRectF(0, y - 9, 64, 18), f"{number_text(value, 3)} {self.unit}", "muted", align=RIGHT)
        tables = list(dict.fromkeys(place_of(step.place)[0] for step in self.steps))
        for step in self.steps:
            table = tables.index(place_of(step.place)[0])
            if step.place in shown:
                self._dot(painter, point(step, shown[step.place]), COLORS[table % len(COLORS)], table)
            elif step.place == self.next:
                painter.setPen(theme.pen("accent", 1.8, Qt.PenStyle.DotLine))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawLine(QPointF(point(step, low).x(), area.top()), QPointF(point(step, low).x(), area.bottom()))
        for row, table_name in enumerate(tables if len(tables) > 1 else ()):
            at = QRectF(area.left() + 110 * row, area.bottom() + 4, 110, 16)
            say(painter, at, TABLES.get(table_name, table_name), COLORS[row % len(COLORS)])

    @staticmethod
    def _dot(painter: QPainter, at: QPointF, color: str, table: int) -> None:
        painter.setPen(theme.pen(color, 1.4))
        painter.setBrush(theme.color(color, 70))
        if table % 2:
            painter.drawPolygon(QPolygonF([at + QPointF(-5, -4), at + QPointF(5, -4), at + QPointF(0, 5)]))
        else:
            painter.drawPolygon(QPolygonF([at + QPointF(-5, 4), at + QPointF(5, 4), at + QPointF(0, -5)]))
