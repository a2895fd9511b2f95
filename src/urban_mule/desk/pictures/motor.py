"""Motor: torque over speed with the cycle walked through it as a loop, and the inertia ratio as a balance beam."""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from urban_mule.core.margin import COMFORTABLE_RATIO, SAFETY_FACTOR, USABLE_RATIO
from urban_mule.core.sheet import NotKnown
from urban_mule.core.units import number_text
from urban_mule.desk.chart import DASH, Chart
from urban_mule.desk.pictures.picture import Picture
from urban_mule.desk.session import Session
from urban_mule.desk.theme import font, theme

RPM = 60 / (2 * math.pi)


class MotorPicture(Picture):
    """What the motor can give at this supply and current, what is usable, and what the cycle asks."""

    needs = frozenset({"torque_curve", "cycle_torque", "tightest_moment", "working_margin", "inertia_ratio", "peak_speed"})

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.chart = Chart("motor speed, rpm", "torque, N·m", "Torque over motor speed")
        self.beam = Beam(session)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addWidget(self.chart, 1)
        box.addWidget(self.beam)

    def redraw(self) -> None:
        self.beam.update()
        solution, chart = self.session.solution, self.chart
        curve = solution.get("torque_curve")
        if curve is None:
            chart.empty(f"No curve yet: {self.session.reason_unknown('torque_curve')}.")
            return
        chart.restart()
        top = solution.get("peak_speed", 60.0)
        end = max(2.6 * top, 1.6 * solution.get("corner_speed", top), 30.0)
        speed = np.linspace(0, end, 400)
        gives = curve(speed)
        high = max(float(gives.max()), solution.get("peak_torque", 0.0)) * 1.16
        chart.frame((-0.01 * end * RPM, end * RPM), (0, high))
        chart.line(speed * RPM, gives / SAFETY_FACTOR, "blue", 1.4, DASH, fill_to=0)
        chart.line(speed * RPM, gives, "blue", 2.6)
        self._words(speed, gives, end)
        self._cycle(high)

    def _words(self, speed: np.ndarray, gives: np.ndarray, end: float) -> None:
        solution, inputs = self.session.solution, self.session.solution.inputs
        volts = inputs.get("supply_voltage")
        current = inputs.get("current_peak")
        at = f" at {volts:g} V" if volts else ""
        at += f", {current:g} A peak" if current else ""
        corner = min(solution.get("corner_speed", end), end)
        place = 0.012 * end if corner > 0.35 * end else 0.5 * end
        y = float(np.interp(place, speed, gives))
        self.chart.text(place * RPM, y, f"what it can give{at}", "blue", (0, 1.1), 13)
        self.chart.text(place * RPM, y / SAFETY_FACTOR, f"usable, with {SAFETY_FACTOR:g} in hand", "blue", (0, 1.05), 12)
        if 0 < corner < end:
            self.chart.dots([corner * RPM], [float(np.interp(corner, speed, gives))], "blue", 7, filled=False)

    def _cycle(self, high: float) -> None:
        """The cycle as a closed loop of |speed| and |torque|, with its tightest moment."""
        solution = self.session.solution
        try:
            cycle, (speed, torque, _) = solution["cycle_torque"], solution["tightest_moment"]
        except NotKnown as why:
            self.chart.text(0, 0.04 * high, f"No cycle yet: {why}.", "muted", (0, 1), 13)
            return
        moving = cycle.moving
        x = np.abs(np.column_stack([cycle.speed_start[moving], cycle.speed_end[moving]])).ravel() * RPM
        y = np.abs(np.column_stack([cycle.start[moving], cycle.end[moving]])).ravel()
        self.chart.line(np.append(x, x[0]), np.append(y, y[0]), "accent", 2.4)
        x0, y0 = abs(speed) * RPM, abs(torque)
        available = float(solution["torque_curve"](np.array([abs(speed)]))[0])
        self.chart.line([x0, x0], [y0, available], "accent", 1.4)
        self.chart.dots([x0], [y0], "accent", 9)
        margin = number_text(solution["working_margin"], 2)
        self.chart.text(x0, 0.6 * y0 + 0.4 * available, f" {margin} ×", "accent", (0, 0.5), 20, True)
        self.chart.text(x0, y0, f" needs {number_text(y0, 3)} N·m at {number_text(x0, 3)} rpm", "accent", (0, 0.6), 12)


class Beam(QWidget):
    """The inertia ratio as a balance: rotor on one side, load on the other, over its three ranges."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setFixedWidth(196)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(self.rect(), theme.color("panel"))
        width, ratio = float(self.width()), self.session.solution.get("inertia_ratio")
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        painter.drawText(QRectF(0, 10, width, 18), Qt.AlignmentFlag.AlignCenter, "inertia, load to rotor")
        if ratio is None:
            painter.drawText(QRectF(8, 60, width - 16, 60), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap,
                             self.session.reason_unknown("inertia_ratio"))
            return
        painter.setPen(theme.color("ink"))
        painter.setFont(font(22, bold=True))
        painter.drawText(QRectF(0, 30, width, 30), Qt.AlignmentFlag.AlignCenter, f"{number_text(float(ratio), 3)} to 1")
        self._balance(painter, float(ratio), QPointF(width / 2, 0.47 * self.height()))
        self._ranges(painter, float(ratio), QRectF(18, self.height() - 42, width - 36, 10))

    def _balance(self, painter: QPainter, ratio: float, pivot: QPointF) -> None:
        tilt = math.radians(max(-14.0, min(14.0, 14 * math.log10(max(ratio, 1e-3)) / math.log10(15))))
        arm = 72.0
        painter.setPen(theme.pen("ink", 2.4))
        left = pivot + QPointF(-arm * math.cos(tilt), -arm * math.sin(tilt))
        right = pivot + QPointF(arm * math.cos(tilt), arm * math.sin(tilt))
        painter.drawLine(left, right)
        painter.setBrush(theme.color("ink"))
        painter.drawPolygon(QPolygonF([pivot, pivot + QPointF(-10, 24), pivot + QPointF(10, 24)]))
        # Weights are drawn as cubes, so their sides go with the cube root of the inertia.
        side = 30 / max(1.0, ratio ** (1 / 3))
        for foot, size, color, word in ((left, side, "blue", "rotor"), (right, side * ratio ** (1 / 3), "accent", "load")):
            size = min(46.0, max(6.0, size * 1.2))
            painter.fillRect(QRectF(foot.x() - size / 2, foot.y() - size, size, size), theme.color(color))
            painter.setPen(theme.color("muted"))
            painter.setFont(font(12))
            painter.drawText(QRectF(foot.x() - 26, pivot.y() + 30, 52, 18), Qt.AlignmentFlag.AlignCenter, word)

    def _ranges(self, painter: QPainter, ratio: float, bar: QRectF) -> None:
        def x(value: float) -> float:
            return bar.left() + bar.width() * min(1.0, math.log10(1 + value) / math.log10(41))

        edges = (0.0, COMFORTABLE_RATIO, USABLE_RATIO, 40.0)
        painter.setFont(font(12))
        ranges = zip(pairwise(edges), ("good", "tight", "short"), ("easy", "usable", "careful"), strict=True)
        for (low, high), color, word in ranges:
            painter.fillRect(QRectF(x(low), bar.top(), x(high) - x(low) - 2, bar.height()), theme.color(color, 150))
            painter.setPen(theme.color("muted"))
            painter.drawText(QRectF(x(low) - 10, bar.bottom() + 3, x(high) - x(low) + 20, 16),
                             Qt.AlignmentFlag.AlignCenter, word)
        for value in (COMFORTABLE_RATIO, USABLE_RATIO):
            painter.drawText(QRectF(x(value) - 15, bar.top() - 18, 30, 16), Qt.AlignmentFlag.AlignCenter, f"{value:g}")
        painter.setBrush(theme.color("ink"))
        tip = QPointF(x(ratio), bar.top() - 1)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawPolygon(QPolygonF([tip, tip + QPointF(-5, -9), tip + QPointF(5, -9)]))
