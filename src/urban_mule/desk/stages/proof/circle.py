"""Circle: two axes at once, magnified, both ways, with its parts named; squareness by diagonals; the test piece in both axes."""

from __future__ import annotations

import math
from typing import Any, ClassVar

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, pyqtSignal
from PyQt6.QtGui import QPainter, QPainterPath
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.sheet.shown import solved_text, uncertainty_of
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.units import show, with_doubt
from urban_mule.desk.kit.flow import Flow
from urban_mule.desk.kit.painting import CENTRE, painted, paper, say
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.scope import Scope

PARTS = ("scale_mismatch", "squareness_error", "reversal_on_circle_x", "reversal_on_circle_y", "circular_deviation_clockwise",
         "circular_deviation_counterclockwise", "circular_hysteresis", "radial_deviation_greatest", "radial_deviation_least")
SQUARE = ("squareness_by_diagonals", "squareness_by_square", "straightness", "piece_scale_x", "piece_scale_y", "piece_mismatch")
MEANS = {
    "scale_mismatch": "one axis goes farther than the other: an ellipse along the axes; correct the steps per unit",
    "squareness_error": "an ellipse at 45°: square the beam, or tell the controller",
    "reversal_on_circle_x": "a step at the left and the right: take out the play of the first axis",
    "reversal_on_circle_y": "a step at the top and the bottom: take out the play of the second axis",
}
UNEQUAL = ("A and B going unequally far by this share would make just this: compare microsteps and pulleys, then the tones of both"
           " belts, before the beam is squared")
MEANS_OF_A_PAIR = {
    "squareness_error": f"an ellipse at 45°: {UNEQUAL}",
    "squareness_by_diagonals": f"one diagonal longer than the other: {UNEQUAL}",
    "scale_mismatch": "an ellipse along the axes; unequal belts do not make one: correct the steps per unit",
    "reversal_on_circle_x": "a step at the left and the right: play at the carriage or its guide; that of a belt shows at 45°",
    "reversal_on_circle_y": "a step at the top and the bottom: play at the carriage or its guide; that of a belt shows at 45°",
}
MADE_UP = ", practice, made up"
LEAN = 0.14  # of the height by which a rectangle out of square is drawn to lean
SHARES = ("scale_mismatch", "squareness_error", "squareness_by_diagonals", "squareness_by_square")
FILLS = 0.24  # of the drawn radius that the greatest deviation takes


class PairPicture(Picture):
    """What belongs to two axes of the project. Quantities of the sheet of all axes together.

    round_wanted(kind): a round of two axes, the shown one first, is to begin. measured: kinds that have one, and their keys.
    """

    round_wanted = pyqtSignal(str)
    measured: ClassVar[dict[str, str]] = {}
    rows: tuple[str, ...] = ()
    kinds: tuple[str, ...] = ()
    deciding: tuple[tuple[str, str], ...] = ()  # quantities, the first that is known, and the sentence for each
    how = ""
    share = 5  # tenths of the width that the drawing has

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        row, right = QHBoxLayout(self), QVBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(10)
        self.drawn = DrawnCircle()
        self._words = ""
        self.listed = Ranked(("what", "how much", "which means"), (3, 2, 4))
        row.addWidget(self.drawn, self.share)
        right.addWidget(self.listed, 1)
        row_of_keys = QWidget()
        keys = Flow(row_of_keys, 6)
        self.keys = {kind: QPushButton(f"Enter {kind}…", autoDefault=False) for kind in self.kinds}
        self.rounds = {kind: QPushButton(words, autoDefault=False) for kind, words in self.measured.items()}
        for kind, button in self.rounds.items():
            button.clicked.connect(lambda _on, kind=kind: self.round_wanted.emit(kind))
            keys.addWidget(button)
        for kind, button in self.keys.items():
            button.setObjectName("plain")
            button.clicked.connect(lambda _on, kind=kind: self.enter(kind))
            keys.addWidget(button)
        right.addWidget(row_of_keys)
        row.addLayout(right, 10 - self.share)

    def enter(self, kind: str) -> Any:
        """A window to type or to drop readings of a kind."""
        from urban_mule.desk.stages.proof.enter_pair import EnterPair

        window = EnterPair(self.session, kind, self.window())
        window.show()
        return window

    def says(self) -> tuple[str, str] | None:
        """The number that decides, and of what it was measured."""
        together, system = self.session.together, self.session.system
        for name, words in self.deciding:
            if together.get(name) is not None:
                return words.format(self._said(name, together, system)), self._words
        return "Nothing is measured of two axes at once yet.", self.how

    @staticmethod
    def _said(name: str, together: Solution, system: str) -> str:
        """A number that belongs to two axes, with how sure it is."""
        if name not in SHARES:
            return str(solved_text(together, name, system))
        value = together[name]
        doubt = together.get(uncertainty_of(name)) if uncertainty_of(name) in together.sheet.quantities else None
        return f"{with_doubt(1e6 * value, 1e6 * doubt) if doubt else f'{1e6 * value:.0f}'} µm/m"

    def redraw(self) -> None:
        together, system = self.session.together, self.session.system
        last = {one.kind: one for one in self.session.project.readings or () if not one.aside}
        there = [last[kind] for kind in self.kinds if kind in last]
        said = "; ".join(f"{one.kind} of {' and '.join(one.axes)}{MADE_UP if one.practice else ''}" for one in there)
        self._words = f"{said[:1].upper()}{said[1:]}." if said else ""
        self.said_anew.emit()
        readings = {kind: together.get(f"{kind}_reading") for kind in self.kinds}
        self.drawn.show_reading(readings, together.get("circle_parts"), system)
        shared = any(set(one.axes) == set(other.axes) for one in there for other in self.session.project.pairs or ())
        means = MEANS | (MEANS_OF_A_PAIR if shared else {})
        rows = []
        for name in self.rows:
            if together.get(name) is not None:
                rows.append(RankedRow(together.sheet.label(name), (self._said(name, together, system), means.get(name, ""))))
        self.listed.show_rows(rows)


class CirclePicture(PairPicture):
    """The circle, magnified."""

    rows, kinds = PARTS, ("circle",)
    measured: ClassVar[dict[str, str]] = {"circle": "Measure a circle…"}
    deciding = (("circular_deviation_clockwise", "The circle is {} out of round, clockwise."),
                ("circular_deviation_counterclockwise", "The circle is {} out of round, counterclockwise."))
    how = "A bar with a ball at each end, or a dial on a bracket that turns, reads the radius around a circle of both axes."


class SquarePicture(PairPicture):
    """Diagonals and the test piece."""

    rows, kinds = SQUARE, ("diagonals", "square", "straightness", "piece")
    measured: ClassVar[dict[str, str]] = {"diagonals": "Measure diagonals…", "square": "Along a square…",
                                          "straightness": "Along a straight edge…"}
    deciding = (("squareness_by_diagonals", "The two axes are {} out of square."),
                ("squareness_by_square", "The two axes are {} out of square, by a square."),
                ("straightness", "It goes straight within {}."),
                ("piece_mismatch", "The test piece is {} longer in one axis than in the other."))
    how = "Two diagonals by the scale, or a piece cut in both axes and measured, tell how square they are."


class DrawnCircle(QWidget):
    """A circle with its deviations magnified, or a rectangle out of square, drawn large."""

    natural = (300.0, 230.0)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumWidth(280)
        self.readings: dict[str, Any] = {}
        self.parts: Any = None
        self.system = "metric"

    def show_reading(self, readings: dict[str, Any], parts: Any, system: str) -> None:
        """Take over what is drawn."""
        self.readings, self.parts, self.system = readings, parts, system
        self.setAccessibleName(f"Drawn: {', '.join(kind for kind, one in readings.items() if one is not None) or 'nothing yet'}")
        self.update()

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(paper(self), theme.color("panel"))
        room = paper(self)
        centre, radius = room.center(), 0.36 * min(room.width(), room.height())
        if self.readings.get("circle") is not None:
            self._circle(painter, self.readings["circle"], centre, radius)
        elif self.readings.get("diagonals") is not None:
            self._rectangle(painter, self.readings["diagonals"], centre, radius)
        else:
            say(painter, paper(self), "drawn here once it is measured", "muted", 13, align=CENTRE)

    def _circle(self, painter: QPainter, reading: Any, centre: QPointF, radius: float) -> None:
        most = max(float(np.abs(way.deviation).max()) for way in reading.ways.values()) or 1e-9
        magnified = FILLS * radius / most
        painter.setPen(theme.pen("line", 1.2))
        painter.drawEllipse(centre, radius, radius)
        painter.drawLine(centre - QPointF(radius * 1.2, 0), centre + QPointF(radius * 1.2, 0))
        painter.drawLine(centre - QPointF(0, radius * 1.2), centre + QPointF(0, radius * 1.2))
        for n, (name, way) in enumerate(reading.ways.items()):
            order = np.argsort(way.angle)
            path = QPainterPath()
            for k, (angle, deviation) in enumerate(zip(way.angle[order].tolist(), way.deviation[order].tolist(), strict=True)):
                far = radius + deviation * magnified
                point = centre + QPointF(far * math.cos(angle), -far * math.sin(angle))
                path.lineTo(point) if k else path.moveTo(point)
            path.closeSubpath()
            color = ("blue", "violet")[n]
            painter.setPen(theme.pen(color, 2.0))
            painter.drawPath(path)
            say(painter, QRectF(12, 8 + 18 * n, 200, 16), name, color, 13, bold=True)
        say(painter, QRectF(centre.x() + 1.2 * radius + 4, centre.y() - 8, 40, 16), f"+{reading.axes[0]}", "muted", 12)
        say(painter, QRectF(centre.x() + 5, centre.y() - 1.26 * radius - 10, 40, 16), f"+{reading.axes[1]}", "muted", 12)
        times = magnified / radius * reading.radius
        self._beneath(painter, f"radius {show(reading.radius, 'm', self.system)}; deviations drawn {times:.0f} times larger")

    def _beneath(self, painter: QPainter, words: str) -> None:
        say(painter, QRectF(12, paper(self).height() - 24.0, paper(self).width() - 24, 16), words, "muted", 12)

    def _rectangle(self, painter: QPainter, reading: Any, centre: QPointF, radius: float) -> None:
        wide, high = reading.side_x, reading.side_y
        scale = min(0.72 * paper(self).width() / wide, 0.62 * paper(self).height() / high)
        lean = LEAN * float(np.sign(reading.diagonal_plus - reading.diagonal_minus))
        corners = []
        for x, y in ((0, 0), (wide, 0), (wide, high), (0, high)):
            corners.append(centre + QPointF((x - wide / 2 + lean * (y - high / 2)) * scale, -(y - high / 2) * scale))
        path = QPainterPath(corners[0])
        for corner in corners[1:]:
            path.lineTo(corner)
        path.closeSubpath()
        painter.setPen(theme.pen("ink", 2.0))
        painter.drawPath(path)
        for (one, other), color, length in (((0, 2), "blue", reading.diagonal_plus), ((1, 3), "violet", reading.diagonal_minus)):
            painter.setPen(theme.pen(color, 1.8))
            painter.drawLine(corners[one], corners[other])
            at = corners[other]
            said = str(show(length, "m", self.system, 7))
            left = min(max(at.x() - 60, 0.0), paper(self).width() - 120)
            say(painter, QRectF(left, at.y() - 22, 120, 16), said, color, 13, bold=True, align=CENTRE)
        self._beneath(painter, "the lean is drawn large, its way is true")
