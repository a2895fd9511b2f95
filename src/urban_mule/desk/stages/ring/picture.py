"""Ring: the spectrum with its modes and what each shaper leaves, and a drawn test piece with its ripple."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from urban_mule.core.ring.shaper import residual_vibration, shaper_sequences
from urban_mule.desk.kit.chart import Chart
from urban_mule.desk.kit.painting import painted
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.theme import font, theme
from urban_mule.desk.model.session import Session

WORDS = 34.0  # px of the sentence beneath the test piece
SHAPER_COLORS = {"ZV": "violet", "ZVD": "blue", "ZVDD": "good", "EI": "tight"}


class RingPicture(Picture):
    """Amplitude spectrum of all directions, its modes, and over it the share that each shaper lets through."""

    needs = frozenset({"modes", "spectrum", "acceleration_reading", "top_speed", "path_tolerance"})

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.chart = Chart("frequency, Hz", "share of the peak", "Spectrum with modes and shapers")
        self.piece = TestPiece(self)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(8)
        box.addWidget(self.chart, 1)
        box.addWidget(self.piece)

    def redraw(self) -> None:
        self.piece.update()
        chart, solution = self.chart, self.state.solution
        spectrum, modes = solution.get("spectrum"), solution.get("modes")
        if spectrum is None:
            busy = self.session.analysing and self.state.axis.last_reading("acceleration") is not None
            chart.empty("The record is being analysed." if busy
                        else f"No spectrum yet: {self.state.reason_unknown('spectrum')}.")
            return
        chart.restart()
        top = max(2.2 * max(m.frequency for m in modes), 5 * modes[0].frequency) if modes else 150.0
        band = (spectrum.frequency >= 2) & (spectrum.frequency <= top)
        f = spectrum.frequency[band]
        amplitude = np.sqrt(spectrum.summed[band])
        amplitude = amplitude / amplitude.max()
        chart.line(f, amplitude, "ink", 1.6, fill_to=0, fill="terrain")
        chart.frame((0, top), (0, 1.28))
        if not modes:
            return
        for index, mode in enumerate(modes):
            chart.line([mode.frequency] * 2, [0, 1.28 if index == 0 else 1.1], "accent", 1.6 if index == 0 else 1.0)
            y = 1.25 if index == 0 else 1.12
            chart.text(mode.frequency, y, f" {mode.frequency:.1f} Hz, damping ratio {mode.damping_ratio:.3f}", "accent",
                       (0, 0), 14 if index == 0 else 12, index == 0)
        self._shapers(modes[0], top)

    def _shapers(self, mode: object, top: float) -> None:
        """What each shaper leaves, labelled where its curve stands apart from the others."""
        chosen = self.state.solution.get("chosen_shaper")
        f = np.linspace(1.0, top, 200)
        frequency, damping = mode.frequency, mode.damping_ratio  # type: ignore[attr-defined]
        places = {"ZV": (4.0, (0.5, 1.0)), "ZVD": (4.0, (0.5, 1.0)), "ZVDD": (4.0, (0.5, 1.0)), "EI": (0.62, (1.1, 0.5))}
        for shaper in shaper_sequences(frequency, damping):
            left = residual_vibration(shaper, f, damping)
            now = chosen is not None and shaper.name == chosen["name"]
            color = SHAPER_COLORS[shaper.name]
            self.chart.line(f, left, color, 2.8 if now else 1.2, alpha=255 if now else 150)
            share, anchor = places[shaper.name]
            self.chart.text(frequency * share, float(np.interp(frequency * share, f, left)),
                            f"what {shaper.name} leaves" if now else shaper.name, color, anchor, 13 if now else 12, now)


class TestPiece(QWidget):
    """A drawn corner of a test piece with the ripple that the strongest mode would leave at the top speed."""

    def __init__(self, picture: Picture) -> None:
        super().__init__(picture)
        self.picture = picture
        self.setFixedWidth(220)

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
        factor, unit = (1e3, "mm") if self.picture.state.axis.motion == "linear" else (180 / math.pi, "°")
        painter.setPen(theme.color("ink"))
        painter.drawText(QRectF(12, 40 + 2 * each, 200, WORDS), Qt.TextFlag.TextWordWrap,
                         f"Ripples {spacing * factor:.3g} {unit} apart at {speed * factor:.4g} {unit}/s"
                         f" give away {mode.frequency:.1f} Hz.")

    def _edge(self, painter: QPainter, area: QRectF, damping: float, shaped: bool) -> None:
        """The edge behind a corner: decaying waves, their height drawn large, what the shaper leaves drawn to the same scale."""
        chosen = self.picture.state.solution.get("chosen_shaper")
        left = 1.0
        if shaped and chosen is not None:
            modes = self.picture.state.solution["modes"]
            one = next(s for s in shaper_sequences(modes[0].frequency, damping) if s.name == chosen["name"])
            left = float(residual_vibration(one, modes[0].frequency * 1.05, damping))
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


