"""Tone: the two belts of a pair side by side, each with what was heard and how it pulls, and how far apart they are."""

from __future__ import annotations

import math
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath

from urban_mule.core.sheet.units import show
from urban_mule.core.slack.pair_checks import TONES_APART
from urban_mule.core.slack.parts import tension_of
from urban_mule.desk.kit.chart import DASH
from urban_mule.desk.kit.painting import CENTRE, RIGHT, say
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.scope import Whole
from urban_mule.store.document.project import Axis

SHOWN = 4 * TONES_APART  # share of difference at either end of the scale
NAMED, SWING = 120.0, 13.0  # px of the words left of a belt; of how far the drawn belt swings


class TonePicture(Painted):
    """Belt A above, belt B below, and between them how far their tones are apart, with the band that is allowed."""

    needs = frozenset({"tone_tension", "tone_reading", "fellow", "pair_tone_difference"})
    session: Whole

    def belts(self) -> list[tuple[str, Axis, Any]]:
        """Letter, axis and last tone of both belts, A first; None where a belt was not plucked."""
        project = self.session.project
        pair = project.pair_of(self.state.axis)
        axes = () if pair is None else tuple(project.axis(name) for name in pair.axes)
        return [(letter, axis, axis.last_reading("tone")) for letter, axis in zip("AB", axes, strict=False)]

    def apart(self) -> float | None:
        """By what share A sounds above B at equal spans, with its sign; None while one was not plucked."""
        tensions = [None if reading is None else math.sqrt(tension_of(reading)) for _, _, reading in self.belts()]
        if len(tensions) < 2 or None in tensions:
            return None
        one, other = tensions
        return 2 * (one - other) / (one + other)  # type: ignore[operator]

    def paint(self, painter: QPainter, area: QRectF) -> None:
        rows = (area.top() + 0.2 * area.height(), area.top() + 0.8 * area.height())
        for (letter, axis, reading), ink, y in zip(self.belts(), ("accent", "blue"), rows, strict=False):
            self._belt(painter, QRectF(area.left(), y - 34, area.width(), 68), letter, axis, reading, ink)
        self._scale(painter, QRectF(area.left() + NAMED, area.center().y() - 24, area.width() - 2 * NAMED, 48), self.apart())

    def redraw(self) -> None:
        self.setAccessibleName(" ".join(
            f"Belt {letter}, of {axis.name}: {'not plucked yet' if reading is None else ', pulls '.join(self._heard(reading))}."
            for letter, axis, reading in self.belts()))
        super().redraw()

    def _heard(self, reading: Any) -> tuple[str, str]:
        """The tone of a belt and how it pulls, as people read them."""
        system = self.state.system
        return str(show(float(reading.frequency), "Hz", system, 3)), str(show(tension_of(reading), "N", system, 3))

    def _belt(self, painter: QPainter, row: QRectF, letter: str, axis: Axis, reading: Any, ink: str) -> None:
        """One belt between its pulleys, swinging as it was plucked."""
        y, left, right = row.center().y(), row.left() + NAMED, row.right() - NAMED
        say(painter, QRectF(row.left(), y - 18, 26, 34), letter, ink, 22, bold=True)
        say(painter, QRectF(row.left() + 28, y - 9, NAMED - 34, 18), f"belt of {axis.name}", "muted", 13)
        painter.setPen(theme.pen(ink, 1.6))
        painter.setBrush(theme.color("panel"))
        for x in (left, right):
            painter.drawEllipse(QPointF(x, y), 9, 9)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        words = QRectF(right + 16, y - 26, NAMED - 16, 18)
        if reading is None:
            painter.setPen(theme.pen("muted", 1.6, DASH))
            painter.drawLine(QPointF(left + 9, y), QPointF(right - 9, y))
            above = QRectF(left + 20, y - 26, right - left - 40, 18)
            say(painter, above, f"Not plucked yet: take its tone on {axis.name}.", "muted", 14, align=CENTRE)
            return
        for sign in (1, -1):
            path = QPainterPath(QPointF(left + 9, y))
            path.quadTo(QPointF((left + right) / 2, y + sign * 2 * SWING), QPointF(right - 9, y))
            painter.setPen(theme.pen(ink, 2.0 if sign > 0 else 1.0))
            painter.drawPath(path)
        heard, pull = self._heard(reading)
        say(painter, words, heard, "ink", 17, bold=True)
        say(painter, words.translated(0, 20), f"pulls {pull}", "ink", 13)
        system = self.state.system
        span = show(float(reading.span), "m", system, 3, "mm" if system == "metric" else "in")
        say(painter, words.translated(0, 37), f"span {span}", "muted", 13)

    @staticmethod
    def _scale(painter: QPainter, place: QRectF, apart: float | None) -> None:
        """How far the tones are apart: to the left B sounds higher, to the right A; the band that is allowed in the middle."""
        y, middle = place.center().y(), place.center().x()
        half = place.width() / 2

        def at(share: float) -> float:
            return middle + half * max(-1.0, min(1.0, share / SHOWN))

        painter.fillRect(QRectF(at(-TONES_APART), y - 7, at(TONES_APART) - at(-TONES_APART), 14), theme.color("wash"))
        painter.setPen(theme.pen("line", 1.2))
        painter.drawLine(QPointF(place.left(), y), QPointF(place.right(), y))
        painter.drawLine(QPointF(middle, y - 9), QPointF(middle, y + 9))
        say(painter, QRectF(place.left(), y + 10, 160, 16), "B sounds higher", "muted", 12)
        say(painter, QRectF(place.right() - 160, y + 10, 160, 16), "A sounds higher", "muted", 12, align=RIGHT)
        say(painter, QRectF(middle - 80, y + 10, 160, 16), f"at most {100 * TONES_APART:g} % apart", "muted", 12, align=CENTRE)
        if apart is not None:
            ink = "good" if abs(apart) <= TONES_APART else "tight"
            painter.setPen(theme.pen(ink, 1.4))
            painter.setBrush(theme.color(ink))
            painter.drawEllipse(QPointF(at(apart), y), 6, 6)
            above = QRectF(at(apart) - 60, y - 28, 120, 18)
            say(painter, above, f"{100 * abs(apart):.2g} % apart", ink, 14, bold=True, align=CENTRE)
