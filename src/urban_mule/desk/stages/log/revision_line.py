"""The revisions as a line that one can walk: a knot each, the chosen one large, those with a name above it."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter
from PyQt6.QtWidgets import QWidget

from urban_mule.desk.kit.painting import LEFT, RIGHT, painted, say
from urban_mule.desk.kit.theme import font, theme

EDGE, HEIGHT, PITCH, CLOSEST = 26.0, 112, 90.0, 7.0  # px


class RevisionLine(QWidget):
    """Time from left to right. chosen(place): one of the list, whose first is the newest.

    Left and Right walk, Home and End leap.
    """

    chosen = pyqtSignal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(HEIGHT)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.words: tuple[str, ...] = ()
        self.named: frozenset[int] = frozenset()
        self.at = -1

    def show_revisions(self, words: Sequence[str], named: frozenset[int]) -> None:
        """Draw these, the newest first; named: the places of those with a name."""
        self.words, self.named = tuple(words), named
        self.update()

    def choose(self, at: int) -> None:
        """Make one large."""
        self.at = at
        told = self.words[at] if 0 <= at < len(self.words) else "none chosen"
        self.setAccessibleName(f"Revision {len(self.words) - at} of {len(self.words)}: {told}. Left and Right walk.")
        self.update()

    def _seen(self) -> range:
        """The places that are drawn: as many as can be told apart, the chosen one among them."""
        fit = max(2, int((self.width() - 2 * EDGE) / CLOSEST))
        first = min(max(0, self.at - fit // 2), max(0, len(self.words) - fit))
        return range(first, min(first + fit, len(self.words)))

    def _x(self, place: int) -> float:
        seen = self._seen()
        pitch = min(PITCH * 2, (self.width() - 2 * EDGE) / max(len(seen) - 1, 1))
        return self.width() - EDGE - pitch * (place - seen.start)

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(self.rect(), theme.color("panel"))
        seen, y = self._seen(), self.height() * 0.52
        if not seen:
            return
        painter.setPen(theme.pen("accent" if self.hasFocus() else "muted", 2.0))
        painter.drawLine(QPointF(self._x(seen.stop - 1), y), QPointF(self._x(seen.start), y))
        used = float("inf")
        for place in seen:
            x, here = self._x(place), place == self.at
            painter.setPen(theme.pen("accent" if here else "ink", 1.6))
            painter.setBrush(theme.color("accent" if here else "blue" if place in self.named else "panel"))
            radius = 9.0 if here else 6.0 if place in self.named else 4.5
            painter.drawEllipse(QPointF(x, y), radius, radius)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            wide = 170.0
            if here or (x + 4 + wide < used and (place in self.named or place == seen.stop - 1)):
                self._say(painter, place, x, y, here)
                used = x if not here else used

    def _say(self, painter: QPainter, place: int, x: float, y: float, here: bool) -> None:
        """The day above, what was done beneath it; of the chosen one above the line, of others below."""
        day, _, label = self.words[place].partition("  ")
        painter.setFont(font(14 if here else 12, bold=here))
        wide = min(self.width() - 16.0, painter.fontMetrics().horizontalAdvance(label) + 20.0) if here else 166.0
        left = min(max(8.0, x - wide / 2), self.width() - wide - 8)
        top = y - 52 if here else y + 14
        align = LEFT if left + wide / 2 <= x + wide / 2 else RIGHT
        say(painter, QRectF(left, top, wide, 16), day, "accent" if here else "muted", 12, align=align)
        say(painter, QRectF(left, top + 16, wide, 20), label, "accent" if here else "muted", 14 if here else 12, bold=here,
            align=align)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.words:
            self.chosen.emit(min(self._seen(), key=lambda place: abs(self._x(place) - event.position().x())))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        key = event.key() if event is not None else None
        there = {Qt.Key.Key_Left: self.at + 1, Qt.Key.Key_Right: self.at - 1, Qt.Key.Key_Home: len(self.words) - 1,
                 Qt.Key.Key_End: 0}.get(Qt.Key(key)) if key is not None else None
        if there is None:
            super().keyPressEvent(event)
        elif 0 <= there < len(self.words):
            self.chosen.emit(there)
