"""A slider on a scale that bears marks: where the schools put it, where the rating and the limit lie."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.painting import painted
from urban_mule.desk.kit.theme import font, theme

HEIGHT, TITLE, VALUE = 58, 64.0, 92.0


@record(frozen=True)
class Mark:
    """A place on the scale and what stands there."""

    value: float
    word: str
    color: str = "muted"


class ScaleSlider(QWidget):
    """One value on a scale. `moving` follows the mouse, `settled` comes when it is let go and at every key.

    title, unit: words before and behind the value. Left and Right move by `step`, with Shift by ten steps.
    """

    moving = pyqtSignal(float)
    settled = pyqtSignal(float)

    def __init__(self, title: str, unit: str, step: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.title, self.unit, self.step = title, unit, step
        self.value: float | None = None
        self.top = 1.0
        self.marks: tuple[Mark, ...] = ()
        self.also = ""
        self._held = False
        self.setAccessibleName(f"{title} not known")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFixedHeight(HEIGHT)

    def sizeHint(self) -> QSize:
        return QSize(400, HEIGHT)

    def show_value(self, value: float | None, marks: tuple[Mark, ...], also: str = "") -> None:
        """Show a value with these marks; also: the same value said in another way. Says nothing back."""
        if self._held or (value, marks, also) == (self.value, self.marks, self.also):
            return
        self.value, self.marks, self.also = value, marks, also
        largest = max([value or 0.0, *(mark.value for mark in marks)], default=1.0)
        self.top = 1.12 * largest or 1.0
        said = "not known" if value is None else f"{number_text(value, 3)} {self.unit}"
        self.setAccessibleName(f"{self.title} {said}. " + ", ".join(
            f"{mark.word} {number_text(mark.value, 3)} {self.unit}" for mark in marks))
        self.update()

    def _track(self) -> QRectF:
        return QRectF(TITLE, 14, self.width() - TITLE - VALUE, 6)

    def _x(self, value: float) -> float:
        track = self._track()
        return track.left() + track.width() * min(1.0, value / self.top)

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(self.rect(), theme.color("panel"))
        track = self._track()
        painter.setFont(font(13, bold=True))
        painter.setPen(theme.color("ink"))
        painter.drawText(QRectF(12, track.center().y() - 10, TITLE - 14, 20), Qt.AlignmentFlag.AlignVCenter, self.title)
        painter.fillRect(track, theme.color("terrain"))
        self._marks(painter, track)
        if self.value is None:
            return
        x = self._x(self.value)
        painter.fillRect(QRectF(track.left(), track.top(), x - track.left(), track.height()), theme.color("blue"))
        painter.setPen(theme.pen("accent" if self.hasFocus() else "ink", 1.5))
        painter.setBrush(theme.color("accent"))
        painter.drawEllipse(QPointF(x, track.center().y()), 8, 8)
        painter.setPen(theme.color("accent"))
        painter.setFont(font(16, bold=True))
        painter.drawText(QRectF(track.right() + 10, track.center().y() - 11, VALUE - 12, 22), Qt.AlignmentFlag.AlignVCenter,
                         f"{number_text(self.value, 3)} {self.unit}")
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        painter.drawText(QRectF(track.right() + 10, track.center().y() + 9, VALUE - 12, 18), Qt.AlignmentFlag.AlignVCenter,
                         self.also)

    def _marks(self, painter: QPainter, track: QRectF) -> None:
        """Ticks with their words beneath, on a second row where they would run into each other."""
        painter.setFont(font(12))
        ends = [track.left() - 60, track.left() - 60]
        for mark in sorted(self.marks, key=lambda mark: mark.value):
            x = self._x(mark.value)
            said = f"{mark.word} {number_text(mark.value, 3)}"
            wide = painter.fontMetrics().horizontalAdvance(said)
            left = float(np.clip(x - wide / 2, track.left() - 40, track.right() - wide + 4))
            row = 0 if left > ends[0] + 8 else 1
            left = max(left, ends[row] + 8)
            ends[row] = left + wide
            painter.setPen(theme.pen(mark.color, 1.4))
            painter.setBrush(theme.color(mark.color))
            foot = QPointF(x, track.bottom() + 1)
            painter.drawPolygon(QPolygonF([foot, foot + QPointF(-4, 6), foot + QPointF(4, 6)]))
            painter.drawText(QRectF(left, track.bottom() + 8 + 14 * row, wide + 4, 16), Qt.AlignmentFlag.AlignVCenter, said)

    def _at(self, x: float) -> float:
        track = self._track()
        raw = (x - track.left()) / track.width() * self.top
        return float(max(self.step, round(raw / self.step) * self.step))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.value is not None:
            self.setFocus()
            self._held = True
            self._drag(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._held:
            self._drag(event.position().x())

    def _drag(self, x: float) -> None:
        value = self._at(x)
        if value != self.value:
            self.value = value
            self.update()
            self.moving.emit(value)

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        if self._held and self.value is not None:
            self._held = False
            self.settled.emit(self.value)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        way = {Qt.Key.Key_Left: -1, Qt.Key.Key_Down: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: 1}.get(
            Qt.Key(event.key())) if event is not None else None
        if event is None or way is None or self.value is None:
            super().keyPressEvent(event)
            return
        times = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        self.settled.emit(max(self.step, round(self.value / self.step + way * times) * self.step))
