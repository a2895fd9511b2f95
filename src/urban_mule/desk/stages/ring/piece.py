"""Test piece: the ripple that the strongest mode would leave behind a corner, and the one that was measured by ruler."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPainterPath
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.core.ring.modes import Mode
from urban_mule.core.sheet.wording import size
from urban_mule.desk.kit.painting import painted, paper, say
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.travel_units import drawn_in, small, travel

CORNER, WAVES, SAMPLES = 40.0, 7, 160  # px from the left to the corner; waves that are drawn; points of an edge
LEAST = 0.01  # of what counts as settled: a ripple below it is no number
AGREE = 0.08  # share within which ruler and record name one frequency
HOW = ("Make a piece with a sharp corner at a known speed and no shaper. Lay a ruler along the ripple behind the corner: take"
       " ripple, below.")


class PiecePicture(Picture):
    """The drawn piece; what the ruler says beside the record is the headline."""

    needs = frozenset({"modes", "swinging", "top_speed", "move_ends", "ripple_reading", "ripple_frequency"})

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.piece = TestPiece(self)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.piece)

    def says(self) -> tuple[str, str] | None:
        """What the ruler says beside the record."""
        get = self.state.solution.get
        ripple, damping, modes = get("ripple_frequency"), get("ripple_damping_ratio"), get("modes")
        if ripple is None:
            return "No piece was measured yet.", HOW
        died = "" if damping is None else f", damping ratio {damping:.3f}"
        record = compared(float(ripple), modes) if modes else "No record to compare it with: take an acceleration sweep."
        return f"By ruler it rings at {ripple:.1f} Hz{died}.", record

    def redraw(self) -> None:
        told = self.says()
        self.piece.setAccessibleName(f"The edge of a test piece, as it is and with the shaper. {told[0] if told else ''}")
        self.piece.update()
        self.said_anew.emit()


def compared(ripple: float, modes: tuple[Mode, ...]) -> str:
    """What the record says beside the ruler."""
    def damped(mode: Mode) -> float:
        return mode.frequency * math.sqrt(1 - mode.damping_ratio**2)

    nearest = min(modes, key=lambda mode: abs(damped(mode) / ripple - 1))
    if abs(damped(nearest) / ripple - 1) <= AGREE:
        return f"The record has {damped(nearest):.1f} Hz there, damping ratio {nearest.damping_ratio:.3f}: they agree."
    times = ripple / damped(modes[0])
    return (f"The record's strongest mode is {damped(modes[0]):.1f} Hz, the ruler says {size(times)} times that. Was the speed"
            " at the ripple the one given? Did two crests count as one?")


class TestPiece(QWidget):
    """A drawn corner of a test piece with the ripple that the mode would leave at the top speed and the acceleration of the tag."""

    natural = (560.0, 210.0)

    def __init__(self, picture: Picture) -> None:
        super().__init__(picture)
        self.picture = picture
        self.setMinimumWidth(220)

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(paper(self), theme.color("panel"))
        swinging, speed, ends = (self.picture.state.solution.get(name) for name in ("swinging", "top_speed", "move_ends"))
        area = paper(self).adjusted(16, 8, -16, -8)
        if swinging is None or not speed or ends is None:
            say(painter, area, "A mode and a speed of the cycle make this drawing: take an acceleration sweep.", "muted", 15)
            return
        mode = swinging.mode
        spacing = speed / mode.frequency
        fine, small_unit = small(self.picture.state)
        (apart, unit), (pace, per) = travel(self.picture.state), drawn_in(self.picture.state, "[travel]/s")
        say(painter, QRectF(area.left(), area.top(), area.width(), 20), f"Behind a sharp corner the edge of a piece has ripples"
            f" {spacing * apart:.3g} {unit} apart, at {speed * pace:.4g} {per} and {mode.frequency:.1f} Hz.", "ink", 14, bold=True)
        each = (area.height() - 26) / 2
        for n, (one, title) in enumerate(zip(ends, ("without shaper", "with the shaper as set"), strict=True)):
            top = area.top() + 26 + each * n
            edge = QRectF(area.left(), top + 18, area.width(), each - 24)
            self._edge(painter, edge, mode.damping_ratio, one.swing / ends[0].swing)
            waves = one.settles * mode.frequency
            self._settled(painter, edge, waves)
            away = one.settles * speed * apart
            within = f"within {swinging.tolerance * fine:.3g} {small_unit} "
            seen = f"{within}{away:.3g} {unit} behind it" if waves else f"{within}from the corner on"
            height = f"{max(one.swing, LEAST * swinging.tolerance) * fine:.3g} {small_unit}"
            under = "below" if one.swing < LEAST * swinging.tolerance else "up to"
            say(painter, QRectF(area.left(), top, area.width(), 16), f"{title}: {under} {height} high, {seen}", "muted", 13)
        self._ruler(painter, QRectF(area.left(), area.top() + 26, area.width(), each - 6), f"{spacing * apart:.3g} {unit}")

    @staticmethod
    def _ruler(painter: QPainter, edge: QRectF, words: str) -> None:
        """The distance from crest to crest, where a ruler is laid along."""
        wave = (edge.width() - CORNER) / WAVES
        left, y = edge.left() + CORNER + 0.75 * wave, edge.bottom() - 8
        painter.setPen(theme.pen("accent", 1.6))
        for a, b in (((0, 0), (wave, 0)), ((0, -5), (0, 5)), ((wave, -5), (wave, 5))):
            painter.drawLine(QPointF(left + a[0], y + a[1]), QPointF(left + b[0], y + b[1]))
        say(painter, QRectF(left + wave + 10, y - 9, 120, 18), words, "accent", 14, bold=True)

    @staticmethod
    def _settled(painter: QPainter, edge: QRectF, waves: float) -> None:
        """Where the ripple is within what counts as settled."""
        x = edge.left() + CORNER + waves * (edge.width() - CORNER) / WAVES
        if 0 < waves < WAVES:
            painter.setPen(theme.pen("good", 1.8))
            painter.drawLine(QPointF(x, edge.top()), QPointF(x, edge.bottom()))

    @staticmethod
    def _edge(painter: QPainter, area: QRectF, damping: float, left: float) -> None:
        """The edge behind a corner: decaying waves, their height drawn large, what a shaper leaves drawn to the same scale."""
        path = QPainterPath(QPointF(area.left() + CORNER, area.top()))
        path.lineTo(area.left() + CORNER, area.center().y())
        for i in range(SAMPLES + 1):
            x = i / SAMPLES
            waves = WAVES * x
            y = -0.36 * area.height() * left * math.exp(-2 * math.pi * damping * waves) * math.sin(2 * math.pi * waves)
            path.lineTo(area.left() + CORNER + x * (area.width() - CORNER), area.center().y() + y)
        body = QPainterPath(path)
        body.lineTo(area.right(), area.top() + 0)
        body.closeSubpath()
        painter.fillPath(body, theme.color("terrain"))
        painter.setPen(theme.pen("ink", 1.6))
        painter.drawPath(path)


