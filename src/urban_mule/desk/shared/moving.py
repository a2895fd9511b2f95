"""The axis as it moves through its cycle, in real time: a carriage on its rail, or a table that turns."""

from __future__ import annotations

import time
from math import cos, sin

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QHideEvent, QPainter
from PyQt6.QtWidgets import QWidget

from urban_mule.desk.kit.painting import painted
from urban_mule.desk.kit.theme import theme

FRAME = 15  # ms from one picture to the next
CARRIAGE = 34.0  # px


class MovingAxis(QWidget):
    """at(time): the axis stands where the cycle has it at this time; while it runs, once a frame."""

    at = pyqtSignal(float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.time, self.places, self.rotary = np.zeros(1), np.zeros(1), False
        self.now = 0.0
        self._begun = 0.0
        self._timer = QTimer(self, interval=FRAME, timerType=Qt.TimerType.PreciseTimer)
        self._timer.timeout.connect(self._frame)

    def take(self, time_: np.ndarray, places: np.ndarray, rotary: bool) -> None:
        """The way of the axis over the time of one cycle."""
        self.time, self.places, self.rotary = time_, places, rotary
        self.show_at(min(self.now, float(time_[-1])))

    @property
    def running(self) -> bool:
        return self._timer.isActive()

    def run(self, on: bool) -> None:
        """Run the cycle round and round, in real time, or hold it."""
        if on and self.time[-1] > 0:
            self._begun = time.monotonic() - self.now
            self._timer.start()
        else:
            self._timer.stop()

    def _frame(self) -> None:
        self.show_at((time.monotonic() - self._begun) % float(self.time[-1]))
        self.at.emit(self.now)

    def show_at(self, now: float) -> None:
        """Stand where the cycle has it at this time [s]."""
        self.now = now
        self.update()

    def hideEvent(self, event: QHideEvent | None) -> None:
        self.run(False)
        super().hideEvent(event)

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        place = float(np.interp(self.now, self.time, self.places))
        middle = self.height() / 2
        if self.rotary:
            centre, radius = QPointF(self.width() / 2, middle), middle - 3
            painter.setPen(theme.pen("ink", 1.6))
            painter.setBrush(theme.color("terrain"))
            painter.drawEllipse(centre, radius, radius)
            painter.setPen(theme.pen("accent", 3.0))
            painter.drawLine(centre, centre + QPointF(radius * cos(place), -radius * sin(place)))
            return
        low, high = float(self.places.min()), float(self.places.max())
        room = self.width() - CARRIAGE
        x = room * (place - low) / ((high - low) or 1.0)
        painter.setPen(theme.pen("muted", 2.0))
        painter.drawLine(QPointF(0, middle + 8), QPointF(self.width(), middle + 8))
        painter.setPen(theme.pen("accent", 1.6))
        painter.setBrush(theme.color("accent", 60))
        painter.drawRoundedRect(QRectF(x, middle - 10, CARRIAGE, 18), 3, 3)
