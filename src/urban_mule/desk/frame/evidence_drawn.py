"""The evidence of a practice drawn: each symptom of each reading on this machine beside a sound one."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QWidget

from urban_mule.desk.kit.painting import painted, say
from urban_mule.desk.kit.theme import draw_mark, font, theme
from urban_mule.practice.debrief import Evidence, Sign

NAME, ROW, BAR, HEAD = 150.0, 46.0, 9.0, 22.0  # px


class EvidenceDrawn(QWidget):
    """A row a symptom: its words, and where it is a number two bars, this machine above and a sound one beneath."""

    def __init__(self, evidence: Sequence[Evidence], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.rows: list[tuple[Evidence, Sign, bool]] = [
            (one, sign, first == 0) for one in evidence for first, sign in enumerate(one.signs)]
        self.setMinimumHeight(int(HEAD + ROW * max(1, len(self.rows))))
        self.setAccessibleName("The evidence there was. " + " ".join(
            f"{one.reading}{' (taken)' if one.taken else ' (not taken)'}: {'; '.join(one.words)}." for one in evidence))

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(self.rect(), theme.color("panel"))
        left, wide = 12.0 + NAME, (self.width() - NAME - 36) * 0.5
        say(painter, QRectF(left, 3, wide, 16), "this machine", "accent", 12, bold=True)
        say(painter, QRectF(left + 100, 3, wide, 16), "a sound one", "muted", 12, bold=True)
        if not self.rows:
            say(painter, QRectF(12, HEAD, self.width() - 24.0, 20), "Nothing departed in any reading.", "muted", 13)
        for n, (one, sign, first) in enumerate(self.rows):
            self._row(painter, one, sign, first, QRectF(12, HEAD + ROW * n, self.width() - 24.0, ROW), wide)

    def _row(self, painter: QPainter, one: Evidence, sign: Sign, first: bool, place: QRectF, wide: float) -> None:
        if first:
            painter.setPen(theme.pen("line"))
            painter.drawLine(place.topLeft(), place.topRight())
            draw_mark(painter, "good" if one.taken else "unknown", QPointF(place.left() + 6, place.top() + 14), 5)
            say(painter, QRectF(place.left() + 18, place.top() + 4, NAME - 22, 20), one.reading, "ink", 13, bold=True)
            taken = "taken" if one.taken else "not taken"
            say(painter, QRectF(place.left() + 18, place.top() + 22, NAME - 22, 16), taken, "muted", 12)
        left, words = place.left() + NAME, QRectF(place.left() + NAME, place.top() + 6, place.width() - NAME, ROW - 10)
        if sign.here is not None and sign.sound is not None:
            most = max(sign.here, sign.sound) or 1.0
            for row, (value, color) in enumerate(((sign.here, "accent"), (sign.sound, "muted"))):
                bar = QRectF(left, place.top() + 10 + row * (BAR + 3), max(2.0, wide * value / most), BAR)
                painter.fillRect(bar, theme.color(color))
            words = words.adjusted(wide + 14, 0, 0, 0)
        painter.setFont(font(12))
        painter.setPen(theme.color("ink"))
        said = f"{sign.words[:1].upper()}{sign.words[1:]}"
        painter.drawText(words, int(Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignVCenter), said)
