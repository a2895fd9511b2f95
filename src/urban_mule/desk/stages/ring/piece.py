"""Test piece: the ripple that the strongest mode would leave behind a corner, and the one that was measured by ruler."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from urban_mule.core.ring.modes import Mode
from urban_mule.core.sheet.wording import size
from urban_mule.desk.kit.painting import Label, painted
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.theme import font, theme
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.travel_units import drawn_in, travel

WORDS = 34.0  # px of the sentence beneath the test piece
AGREE = 0.08  # share within which ruler and record name one frequency
HOW = ("Make a piece with a sharp corner at a known speed and no shaper. Lay a ruler along the ripple behind the corner: take"
       " ripple, below.")


class PiecePicture(Picture):
    """The drawn piece on the left; on the right what the ruler says beside the record."""

    needs = frozenset({"modes", "top_speed", "chosen_shaper", "ripple_reading", "ripple_frequency"})

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.piece, self.said, self.how = TestPiece(self), Label(objectName="headline", wordWrap=True), Label(wordWrap=True)
        row, right = QHBoxLayout(self), QVBoxLayout()
        row.setContentsMargins(0, 0, 12, 0)
        row.setSpacing(18)
        row.addWidget(self.piece, 2)
        right.addStretch(1)
        right.addWidget(self.said)
        right.addWidget(self.how)
        right.addStretch(2)
        row.addLayout(right, 3)

    def redraw(self) -> None:
        self.piece.update()
        get = self.state.solution.get
        ripple, damping, modes = get("ripple_frequency"), get("ripple_damping_ratio"), get("modes")
        if ripple is None:
            self.said.setText("No piece was measured yet.")
            self.how.setText(HOW)
            return
        died = "" if damping is None else f", damping ratio {damping:.3f}"
        self.said.setText(f"By ruler it rings at {ripple:.1f} Hz{died}.")
        self.how.setText(compared(float(ripple), modes) if modes else "No record to compare it with: take an acceleration sweep.")


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
    """A drawn corner of a test piece with the ripple that the strongest mode would leave at the top speed."""

    def __init__(self, picture: Picture) -> None:
        super().__init__(picture)
        self.picture = picture
        self.setMinimumWidth(220)

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(self.rect(), theme.color("panel"))
        modes, speed = self.picture.state.solution.get("modes"), self.picture.state.solution.get("top_speed")
        painter.setFont(font(13, bold=True))
        painter.setPen(theme.color("ink"))
        painter.drawText(QRectF(12, 8, 200, 20), Qt.AlignmentFlag.AlignVCenter, "On a test piece")
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        if not modes or not speed:
            painter.drawText(QRectF(12, 40, 196, 60), Qt.TextFlag.TextWordWrap, "Needs a mode and a speed of the cycle.")
            return
        mode = modes[0]
        each = min(120.0, max(52.0, (self.height() - 44.0 - WORDS) / 2))  # of the height, for either edge with its title
        for top, shaped, title in ((38.0, False, "as it is"), (38.0 + each, True, "with the shaper")):
            painter.setPen(theme.color("muted"))
            painter.drawText(QRectF(12, top, 190, 16), Qt.AlignmentFlag.AlignLeft, title)
            self._edge(painter, QRectF(12, top + 18, 196, each - 24), mode.damping_ratio, shaped)
        spacing = speed / mode.frequency
        (apart, unit), (pace, per) = travel(self.picture.state), drawn_in(self.picture.state, "[travel]/s")
        painter.setPen(theme.color("ink"))
        painter.drawText(QRectF(12, 40 + 2 * each, 200, WORDS), Qt.TextFlag.TextWordWrap,
                         f"Ripples {spacing * apart:.3g} {unit} apart at {speed * pace:.4g} {per}"
                         f" give away {mode.frequency:.1f} Hz.")

    def _edge(self, painter: QPainter, area: QRectF, damping: float, shaped: bool) -> None:
        """The edge behind a corner: decaying waves, their height drawn large, what the shaper leaves drawn to the same scale."""
        chosen = self.picture.state.solution.get("chosen_shaper")
        left = float(chosen["surviving_share"]) if shaped and chosen is not None else 1.0
        path = QPainterPath(QPointF(area.left() + 26, area.top()))
        path.lineTo(area.left() + 26, area.center().y())
        for i in range(97):
            x = i / 96
            waves = 7 * x
            y = -0.27 * area.height() * left * math.exp(-2 * math.pi * damping * waves) * math.sin(2 * math.pi * waves)
            path.lineTo(area.left() + 26 + x * (area.width() - 26), area.center().y() + y)
        body = QPainterPath(path)
        body.lineTo(area.right(), area.top() + 0)
        body.closeSubpath()
        painter.fillPath(body, theme.color("terrain"))
        painter.setPen(theme.pen("ink", 1.6))
        painter.drawPath(path)


