"""The windings of a motor with their leads, in the colours by which somebody called them; leads that belong to none hang loose."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath
from PyQt6.QtWidgets import QSizePolicy, QWidget

from urban_mule.core.moves.coils import Coil
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.painting import CENTRE, LEFT, painted, paper, say
from urban_mule.desk.kit.theme import theme

LEADS = {  # colours of insulation by the words that people use
    "red": "#B3261E", "blue": "#1F5FA8", "green": "#2E7D32", "black": "#1B1B1B", "white": "#FFFFFF", "yellow": "#E0B100",
    "orange": "#D8701B", "brown": "#6D4527", "violet": "#6A4C93", "purple": "#6A4C93", "grey": "#808080", "gray": "#808080",
    "pink": "#D77FA1"}
TURNS, LEAST_HIGH = 5, 150  # arcs of a winding as it is drawn; px


def colour_of(lead: str) -> QColor | None:
    """The colour that a lead is called by, None where its name is none; of two the one it is mostly."""
    word = lead.casefold().replace("-", "/").replace("_", "/").split("/")[0]
    return QColor(LEADS[word]) if word in LEADS else None


class Windings(QWidget):
    """Each coil with its ends, its tap, its resistance; before anything is measured, the leads alone."""

    natural = (300.0, 150.0)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(LEAST_HIGH)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.coils: tuple[Coil, ...] = ()
        self.loose: tuple[str, ...] = ()
        self.count = 4

    def show_coils(self, coils: tuple[Coil, ...], loose: tuple[str, ...], count: int) -> None:
        """Draw these coils, and leads that were named and belong to none; count: leads that the motor has."""
        self.coils, self.loose, self.count = coils, loose, count
        told = "; ".join(f"{one.ends[0]} to {one.ends[1]}, {number_text(one.resistance, 3)} Ω"
                         + (f", tap {one.tap}" if one.tap else "") for one in coils)
        alone = f"; belonging to no coil: {', '.join(loose)}" if loose else ""
        self.setAccessibleName(f"Windings: {told or f'{count} leads, nothing measured yet'}{alone}")
        self.update()

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        area = paper(self).adjusted(4, 6, -8, -6)
        body = QRectF(area.left() + 150, area.top(), area.width() - 150, area.height())
        painter.setPen(theme.pen("ink", 1.6))
        painter.setBrush(theme.color("panel"))
        painter.drawRoundedRect(body, 10, 10)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if not self.coils and not self.loose:
            self._unmeasured(painter, area, body)
            return
        each = body.height() / max(len(self.coils) + (1 if self.loose else 0), 1)
        for n, coil in enumerate(self.coils):
            self._coil(painter, coil, QRectF(area.left(), body.top() + each * n, area.width(), each), body)
        if self.loose:
            here = QRectF(area.left(), body.top() + each * len(self.coils), area.width(), each)
            for n, lead in enumerate(self.loose):
                y = here.top() + here.height() * (n + 0.5) / len(self.loose)
                self._lead(painter, lead, area.left(), body.left() + 26, y)
                say(painter, QRectF(body.left() + 34, y - 9, body.width() - 40, 18), "ends nowhere: broken, or not measured yet",
                    "short", 12)

    def _unmeasured(self, painter: QPainter, area: QRectF, body: QRectF) -> None:
        for n in range(self.count):
            y = body.top() + body.height() * (n + 0.5) / self.count
            self._lead(painter, "?", area.left(), body.left(), y)
        say(painter, body.adjusted(16, 0, -16, 0), "which two of them are one coil?", "muted", 15, align=CENTRE)

    @staticmethod
    def _lead(painter: QPainter, lead: str, left: float, right: float, y: float) -> None:
        """A wire in its colour from its name to the motor."""
        colour = colour_of(lead)
        for pen, wide in ((theme.color("ink"), 6.4), (colour or theme.color("terrain"), 4.4)):
            drawn = theme.pen("ink", wide)
            drawn.setColor(pen)
            drawn.setCapStyle(Qt.PenCapStyle.FlatCap)
            painter.setPen(drawn)
            painter.drawLine(QPointF(left + 92, y), QPointF(right, y))
        say(painter, QRectF(left, y - 10, 86, 20), lead, "ink", 13, bold=True, align=Qt.AlignmentFlag.AlignRight)

    def _coil(self, painter: QPainter, coil: Coil, place: QRectF, body: QRectF) -> None:
        """A winding from top to bottom in its part of the motor, its ends and its tap led out to the left."""
        x, top, bottom = body.left() + 70, place.top() + 0.2 * place.height(), place.bottom() - 0.2 * place.height()
        ends = [(coil.ends[0], top), *([(coil.tap, place.center().y())] if coil.tap else []), (coil.ends[1], bottom)]
        for lead, y in ends:
            self._lead(painter, lead, place.left(), body.left(), y)
            painter.setPen(theme.pen("ink", 1.8))
            painter.drawLine(QPointF(body.left(), y), QPointF(x, y))
        path, turn = QPainterPath(QPointF(x, top)), (bottom - top) / TURNS
        for n in range(TURNS):
            path.arcTo(QRectF(x - 9, top + n * turn, 18, turn), 90, -180)
        painter.setPen(theme.pen("accent", 2.4))
        painter.drawPath(path)
        say(painter, QRectF(x + 22, place.center().y() - 12, body.right() - x - 30, 24), f"{number_text(coil.resistance, 3)} Ω",
            "ink", 18, bold=True, align=LEFT)
