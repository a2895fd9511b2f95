"""Trains as points: the time of the cycle against what else matters; what another one beats is faint."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter
from PyQt6.QtWidgets import QWidget

from urban_mule.core.sheet.units import number_text
from urban_mule.core.studies.trains import TriedTrain
from urban_mule.desk.kit.painting import CENTRE, LEFT, RIGHT, painted, say, say_lines
from urban_mule.desk.kit.picture import round_step
from urban_mule.desk.kit.theme import theme

SLOW = 1.15  # times the slowest that counts
NEAR = 18.0  # px within which a press chooses a point


class TrainPlane(QWidget):
    """chosen(place): a train was chosen by a press, or by the arrow keys."""

    chosen = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumSize(360, 230)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.trains: Sequence[TriedTrain] = ()
        self.beaten: np.ndarray = np.zeros(0, dtype=bool)
        self.heights: np.ndarray = np.zeros(0)
        self.what, self.place = "", -1
        self.setAccessibleName("Trains: time of the cycle against what else matters")

    def show_trains(self, trains: Sequence[TriedTrain], beaten: np.ndarray, heights: np.ndarray, what: str, place: int) -> None:
        """Draw these trains; heights: of each what is drawn upwards, `what` in words; place: the chosen one."""
        self.trains, self.beaten, self.heights, self.what, self.place = trains, beaten, heights, what, place
        self.update()

    def drawn(self) -> list[int]:
        """The places of those that have both numbers, but for such as are far slower than all that count."""
        counted = [one.settled_cycle_time for one, gone in zip(self.trains, self.beaten, strict=True)
                   if (not gone or one.there) and math.isfinite(one.settled_cycle_time)]
        most = SLOW * max(counted, default=math.inf)
        return [place for place, one in enumerate(self.trains)
                if one.settled_cycle_time <= most and math.isfinite(self.heights[place])]

    def _plot(self) -> QRectF:
        return QRectF(self.rect()).adjusted(66, 30, -20, -40)

    def _ranges(self) -> tuple[float, float, float, float]:
        there = self.drawn()
        times, heights = [self.trains[n].settled_cycle_time for n in there], self.heights[there]

        def wide(low: float, high: float) -> tuple[float, float]:
            room = 0.08 * (high - low) or 0.05 * abs(high) or 1.0
            return low - room, high + room
        return (*wide(min(times), max(times)), *wide(float(heights.min()), float(heights.max())))

    def at(self, place: int) -> QPointF:
        """Where a train is drawn."""
        plot, (t0, t1, h0, h1) = self._plot(), self._ranges()
        return QPointF(plot.left() + plot.width() * (self.trains[place].settled_cycle_time - t0) / (t1 - t0),
                       plot.bottom() - plot.height() * (float(self.heights[place]) - h0) / (h1 - h0))

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.color("panel"))
        plot, there = self._plot(), self.drawn()
        say(painter, QRectF(12, 6, plot.width(), 18), self.what, "muted", 13, align=LEFT)
        if not there:
            say_lines(painter, plot, "Of no train are both numbers known." if self.trains else
                      "Each train that is tried comes here as a point.", "muted", 14)
            return
        self._axes(painter, plot)
        for strong in (False, True):
            for place in there:
                if strong is bool(self.beaten[place]):
                    continue
                painter.setPen(theme.pen("accent" if strong else "line", 1.4))
                painter.setBrush(theme.color("accent" if strong else "terrain"))
                painter.drawEllipse(self.at(place), 5.0 if strong else 4.0, 5.0 if strong else 4.0)
        for place in there:
            if self.trains[place].there:
                painter.setPen(theme.pen("blue", 2.0))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                spot = self.at(place)
                painter.drawRect(QRectF(spot.x() - 7, spot.y() - 7, 14, 14))
                say(painter, QRectF(spot.x() + 11, spot.y() - 9, 56, 18), "as it is", "blue", 13, clear=True)
        if self.place in there:
            painter.setPen(theme.pen("ink", 2.0))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(self.at(self.place), 10.0, 10.0)

    def _axes(self, painter: QPainter, plot: QRectF) -> None:
        t0, t1, h0, h1 = self._ranges()
        painter.setPen(theme.pen("line"))
        painter.drawLine(plot.bottomLeft(), plot.bottomRight())
        painter.drawLine(plot.bottomLeft(), plot.topLeft())
        for low, high, across in ((t0, t1, True), (h0, h1, False)):
            step = round_step(high - low, 6)
            for n in range(math.ceil(low / step), math.floor(high / step) + 1):
                share = (n * step - low) / (high - low)
                if across:
                    spot = QRectF(plot.left() + plot.width() * share - 40, plot.bottom() + 4, 80, 16)
                    say(painter, spot, number_text(n * step, 5), "muted", 12, align=CENTRE)
                else:
                    spot = QRectF(0, plot.bottom() - plot.height() * share - 8, plot.left() - 8, 16)
                    say(painter, spot, number_text(n * step, 5), "muted", 12, align=RIGHT)
        say(painter, QRectF(plot.left(), plot.bottom() + 20, plot.width(), 16), "cycle until it stands still, s", "muted", 13,
            align=CENTRE)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        there = self.drawn()
        if event is None or not there:
            return
        gaps = {place: math.hypot(self.at(place).x() - event.position().x(), self.at(place).y() - event.position().y())
                for place in there}
        nearest = min(gaps, key=lambda place: (gaps[place], bool(self.beaten[place])))
        if gaps[nearest] <= NEAR:
            self.chosen.emit(nearest)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        steps = {Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1}
        order = sorted(self.drawn(), key=lambda place: self.trains[place].settled_cycle_time)
        if event is None or event.key() not in steps or not order:
            super().keyPressEvent(event)
            return
        now = order.index(self.place) if self.place in order else -1
        self.chosen.emit(order[min(max(now + steps[Qt.Key(event.key())], 0), len(order) - 1)])
