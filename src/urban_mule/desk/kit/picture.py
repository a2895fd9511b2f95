"""What every picture shares: it listens to the quantities that it shows and redraws once when one of them changes."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QRectF, QTimer, pyqtSignal
from PyQt6.QtGui import QPainter, QResizeEvent
from PyQt6.QtWidgets import QWidget

from urban_mule.desk.kit.painting import CANNOT, painted, paper
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.scope import Scope
from urban_mule.store.state.axis_state import AxisState

OUT_OF_PROPORTION = "The values given are out of all proportion to each other; nothing can be drawn."


def round_step(span: float, most: int) -> float:
    """The smallest of 1, 2, 5, 10, 20 … that cuts a span into at most so many parts, whatever its size."""
    unit = 10.0 ** math.floor(math.log10(span / most))
    return next((unit * part for part in (1, 2, 5) if span <= unit * part * most), 10 * unit)


class Picture(QWidget):
    """A picture of one axis.

    needs: the quantities and givens that it shows, empty for all. said_anew: it has another headline.
    """

    needs: frozenset[str] = frozenset()
    said_anew = pyqtSignal()

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.of: AxisState | None = None
        self._stale = True
        self._fault: Exception | None = None
        self._veil: Veil | None = None
        session.changed.connect(self._changed)
        session.axis_changed.connect(self._anew)

    @property
    def state(self) -> AxisState:
        """What is drawn: the axis that the window shows, or the one the picture was made of, as a report does."""
        return self.of or self.session.state

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
            try:
                with np.errstate(all="ignore"):  # what is out of all proportion is drawn as far as it can be
                    self.redraw()
                self._fault = None
            except Exception as error:
                self._fault = error
            self._say_fault()

    def _say_fault(self) -> None:
        """Lay one sentence over a picture that could not be drawn, and take it away once it could."""
        if self._fault is not None and self._veil is None:
            self._veil = Veil(self)
        if self._veil is not None:
            self._veil.lay(self._fault)

    def hasHeightForWidth(self) -> bool:
        """No: a picture takes the room that is left; else the leaves beneath the one on top would take that of the fields."""
        return False

    def heightForWidth(self, width: int) -> int:
        """How high it must be: what scrolls it asks that, and would else have its charts as high as they like."""
        layout = self.layout()
        return -1 if layout is None or not layout.hasHeightForWidth() else layout.minimumHeightForWidth(width)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if self._veil is not None:
            self._veil.setGeometry(self.rect())

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self.bring_up_to_date()

    def says(self) -> tuple[str, str] | None:
        """The headline of this leaf and the line beneath it; None where a verdict is the headline."""
        return None

    def redraw(self) -> None:
        """Take the numbers over; painted pictures only need to be painted again."""
        self.update()


class Veil(QWidget):
    """What lies over a picture that cannot be drawn."""

    def __init__(self, picture: QWidget) -> None:
        super().__init__(picture)
        self._fault: Exception | None = None

    def lay(self, fault: Exception | None) -> None:
        """Lie over the picture, or go when there is no fault."""
        self._fault = fault
        parent = self.parentWidget()
        if parent is not None:
            self.setGeometry(parent.rect())
        self.setVisible(fault is not None)
        self.setAccessibleName("" if fault is None else CANNOT)
        self.raise_()
        self.update()

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        if self._fault is not None:
            raise self._fault


class Painted(Picture):
    """A picture that is painted on paper. natural: width and height [px] below which it is drawn smaller as a whole."""

    natural = (600.0, 232.0)

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(paper(self), theme.color("panel"))
        self.paint(painter, paper(self).adjusted(16, 12, -16, -12))

    def paint(self, painter: QPainter, area: QRectF) -> None:
        """Draw into `area`."""
        raise NotImplementedError
