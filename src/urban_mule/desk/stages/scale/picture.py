"""Scale: the chain of fractions that makes the steps per unit, and the measured error beside what the gauge can see."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter

from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.units import number_text, show
from urban_mule.core.sheet.wording import size
from urban_mule.desk.kit.link_looks import look_of
from urban_mule.desk.kit.painting import say_lines
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import font, theme
from urban_mule.desk.model.travel_units import small
from urban_mule.desk.shared.setup import draw_setup

FRACTION, ANSWER = 116.0, 280.0  # px that a fraction takes, and what they come to


class ScalePicture(Painted):
    """Fractions above, the line of the measured error below."""

    @property
    def natural(self) -> tuple[float, float]:  # type: ignore[override]
        """A longer chain needs more room."""
        return max(600.0, FRACTION * len(self.fractions()) + ANSWER), 232.0

    def paint(self, painter: QPainter, area: QRectF) -> None:
        self.setAccessibleName("Steps per unit as a chain of fractions, and the measured error")
        top = QRectF(area.left(), area.top(), area.width(), area.height() * 0.5)
        self._chain(painter, top)
        self._error(painter, QRectF(area.left(), top.bottom() + 14, area.width(), area.height() * 0.5 - 14))

    def fractions(self) -> list[tuple[str, str, str]]:
        """(above the line, beneath it, what it is) for every factor."""
        axis, solution, system = self.state.axis, self.state.solution, self.state.system
        found: list[tuple[str, str, str]] = []
        steps = solution.get("full_steps_per_turn")
        if steps is not None:
            found.append((number_text(float(steps), 6), "1 turn", "full steps"))
            micro = solution.get("microsteps")
            found.append(("?" if micro is None else f"{micro:g}", "1", "microsteps"))
        elif solution.get("counts_per_turn") is not None:
            found.append((number_text(float(solution["counts_per_turn"]), 7), "1 turn", "counts"))
            gear = [float(solution[f"electronic_gear_{part}"]) for part in ("denominator", "numerator")]
            if gear[0] != gear[1]:
                found.append((number_text(gear[0], 7), number_text(gear[1], 7), "electronic gear"))
        for link in solution.inputs["train"] or ():
            fraction = look_of(link.kind).fraction
            if fraction is not None:
                found.append(fraction(link, system))
        if axis.motion == "rotary":
            found.append(("1 turn", {"deg": "360°", "rad": "2π rad", "turn": "1 turn"}[axis.unit], "turn"))
        return found

    def _chain(self, painter: QPainter, area: QRectF) -> None:
        parts = self.fractions()
        big, small = QFontMetricsF(font(19)), QFontMetricsF(font(12))
        widths = [max(big.horizontalAdvance(a), big.horizontalAdvance(b), small.horizontalAdvance(word), 64.0) + 12
                  for a, b, word in parts]
        x, middle = area.left() + 4, area.center().y() - 6
        for index, ((above, beneath, word), width) in enumerate(zip(parts, widths, strict=True)):
            if index:
                self._sign(painter, x, middle, "×")
                x += 26
            painter.setPen(theme.color("ink"))
            painter.setFont(font(19))
            painter.drawText(QRectF(x, middle - 32, width, 28), Qt.AlignmentFlag.AlignCenter, above)
            painter.drawText(QRectF(x, middle + 4, width, 28), Qt.AlignmentFlag.AlignCenter, beneath)
            painter.setPen(theme.pen("ink", 1.6))
            painter.drawLine(QPointF(x, middle), QPointF(x + width, middle))
            painter.setPen(theme.color("muted"))
            painter.setFont(font(12))
            painter.drawText(QRectF(x, middle + 34, width, 18), Qt.AlignmentFlag.AlignCenter, word)
            x += width
        self._sign(painter, x, middle, "=")
        self._answer(painter, QRectF(x + 30, middle - 44, area.right() - x - 30, 92))

    @staticmethod
    def _sign(painter: QPainter, x: float, middle: float, sign: str) -> None:
        painter.setPen(theme.color("muted"))
        painter.setFont(font(19))
        painter.drawText(QRectF(x, middle - 14, 26, 28), Qt.AlignmentFlag.AlignCenter, sign)

    def _answer(self, painter: QPainter, area: QRectF) -> None:
        solution = self.state.solution
        value = solution.get("steps_per_unit")
        painter.setPen(theme.color("accent"))
        painter.setFont(font(34, bold=True))
        painter.drawText(QRectF(area.left(), area.top(), area.width(), 50), Qt.AlignmentFlag.AlignVCenter,
                         "?" if value is None else number_text(float(value), 6))
        painter.setFont(font(13))
        painter.setPen(theme.color("muted"))
        try:
            exact = f"steps per {self.state.axis.unit}, exactly {solution['steps_fraction']}"
        except NotKnown as why:
            exact = f"steps per {self.state.axis.unit}; {why}"
        painter.drawText(QRectF(area.left(), area.top() + 52, area.width(), 20), Qt.AlignmentFlag.AlignVCenter, exact)

    def _error(self, painter: QPainter, area: QRectF) -> None:
        solution = self.state.solution
        painter.setFont(font(13, bold=True))
        painter.setPen(theme.color("ink"))
        painter.drawText(QRectF(area.left(), area.top(), area.width(), 20), Qt.AlignmentFlag.AlignVCenter,
                         "Measured error, beside what the gauge can see")
        reading = solution.get("travel_reading")
        if reading is None:
            wide = min(0.5 * area.width(), 2.6 * (area.height() - 24))
            draw_setup(painter, "scale", QRectF(area.left(), area.top() + 22, wide, area.height() - 24))
            say_lines(painter, QRectF(area.left() + wide + 24, area.top() + 26, area.width() - wide - 24, area.height() - 30),
                      "No travel is measured yet. A scale or caliper lies along the axis, the carriage carries its pointer: five"
                      " numbers in about four minutes tell whether steps per unit are right, or a setting is wrong.", "ink", 13)
            return
        to_small, unit = small(self.state)
        off = [(float(m) - reading.commanded) * to_small for m in reading.measured]
        mean = (solution["scale_ratio"] - 1) * reading.commanded * to_small
        u = solution.get("scale_ratio_uncertainty")
        sees = 0.0 if u is None else 2 * u * abs(reading.commanded) * to_small
        end = 1.3 * max([abs(v) for v in off] + [sees, abs(mean), 1e-12])
        middle, half = QPointF(area.center().x(), min(area.top() + 76, area.bottom() - 44)), area.width() / 2 - 20

        def x(value: float) -> float:
            return float(middle.x() + half * value / end)

        if sees:
            painter.fillRect(QRectF(x(-sees), middle.y() - 24, x(sees) - x(-sees), 48), theme.color("wash"))
            painter.setFont(font(12))
            painter.setPen(theme.color("muted"))
            painter.drawText(QRectF(x(-sees), middle.y() + 26, max(x(sees) - x(-sees), 260), 18), Qt.AlignmentFlag.AlignLeft,
                             f"the gauge sees no better than ±{number_text(sees, 2)} {unit}")
        painter.setPen(theme.pen("muted", 1.4))
        painter.drawLine(QPointF(x(-end), middle.y()), QPointF(x(end), middle.y()))
        painter.drawLine(QPointF(middle.x(), middle.y() - 10), QPointF(middle.x(), middle.y() + 10))
        for value in off:
            painter.drawEllipse(QPointF(x(value), middle.y()), 4, 4)
        painter.setPen(theme.pen("accent", 2.4))
        painter.drawLine(QPointF(x(mean), middle.y() - 18), QPointF(x(mean), middle.y() + 18))
        painter.setFont(font(15, bold=True))
        whole = show(abs(reading.commanded), solution.sheet.unit("travel"), self.state.system)
        over = f"{'+' if mean > 0 else ''}{size(mean)} {unit} over {whole}"
        place = min(max(x(mean) - 150, area.left()), area.right() - 300)
        above = middle.y() - 46
        room = above >= area.top() + 20  # else it stands at the end of the line of the heading
        painter.drawText(QRectF(place, above, 300, 22) if room else QRectF(area.right() - 300, area.top(), 300, 20),
                         Qt.AlignmentFlag.AlignCenter if room else Qt.AlignmentFlag.AlignRight,
                         over if math.isfinite(mean) else "")
