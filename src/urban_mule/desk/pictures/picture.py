"""What every picture shares: it listens to the quantities that it shows and redraws once when one of them changes."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QRectF, QTimer
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from urban_mule.desk.session import Session
from urban_mule.desk.theme import theme

OUT_OF_PROPORTION = "The values given are out of all proportion to each other; nothing can be drawn."


def round_step(span: float, most: int) -> float:
    """The smallest of 1, 2, 5, 10, 20 … that cuts a span into at most so many parts, whatever its size."""
    unit = 10.0 ** math.floor(math.log10(span / most))
    return next((unit * part for part in (1, 2, 5) if span <= unit * part * most), 10 * unit)


class Picture(QWidget):
    """A picture of the shown axis. `needs`: the quantities and givens that it shows, empty for all."""

    needs: frozenset[str] = frozenset()

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self._stale = True
        session.changed.connect(self._changed)
        session.axis_changed.connect(self._anew)

    def _changed(self, names: frozenset[str]) -> None:
        if not self.needs or self.needs & names:
            self._anew()

    def _anew(self) -> None:
        self._stale = True
        if self.isVisible():
            QTimer.singleShot(0, self.bring_up_to_date)

    def bring_up_to_date(self) -> None:
        """Draw again if something changed since it was last drawn."""
        if self._stale:
            self._stale = False
            with np.errstate(all="ignore"):  # what is out of all proportion is drawn as far as it can be
                self.redraw()

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self.bring_up_to_date()

    def redraw(self) -> None:
        """Take the numbers over; painted pictures only need to be painted again."""
        self.update()


class Painted(Picture):
    """A picture that is painted on paper."""

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        try:
            painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
            painter.fillRect(self.rect(), theme.color("panel"))
            with np.errstate(all="ignore"):
                self.paint(painter, QRectF(self.rect()).adjusted(16, 12, -16, -12))
        finally:
            painter.end()  # Qt crashes when a painter outlives its event

    def paint(self, painter: QPainter, area: QRectF) -> None:
        """Draw into `area`."""
        raise NotImplementedError
