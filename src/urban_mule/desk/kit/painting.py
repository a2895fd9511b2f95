"""What every widget of the house shares: painting that cannot end the process, and words that are shown as they were typed."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from html import escape
from typing import Any, TypeVar

import numpy as np
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QFontMetrics, QPainter, QPaintEvent
from PyQt6.QtWidgets import QLabel, QWidget

from urban_mule.desk.kit.theme import font, theme
from urban_mule.store.fault_log import note_fault

W = TypeVar("W", bound=QWidget)
CANNOT = "This cannot be drawn; what went wrong stands in the fault log. The numbers and the file are not touched."


def painted(paint: Callable[[W, QPainter], None]) -> Callable[[W, QPaintEvent | None], None]:
    """A paint event from a method that is handed the painter; what it raises is written down once, and said in its place."""

    @wraps(paint)
    def paint_event(self: W, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        try:
            with np.errstate(all="ignore"):  # what is out of all proportion is drawn as far as it can be
                paint(self, painter)
        except Exception as error:
            painter.resetTransform()
            say_it_cannot_be_drawn(self, painter, error)
        finally:
            if painter.isActive():
                painter.end()  # Qt crashes when a painter outlives its event

    return paint_event


def say_it_cannot_be_drawn(widget: QWidget, painter: QPainter, error: Exception) -> None:
    """In place of a drawing: one sentence; the fault goes to the log the first time."""
    if widget.property("fault") != repr(error):
        widget.setProperty("fault", repr(error))
        note_fault(error, f"drawing {widget.objectName() or type(widget).__name__}")
    painter.fillRect(widget.rect(), theme.color("panel"))
    painter.setFont(font(13))
    painter.setPen(theme.color("short"))
    painter.drawText(QRectF(widget.rect()).adjusted(16, 4, -16, -4),
                     Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, CANNOT)


def fitted(metrics: QFontMetrics, text: str, width: float, height: float) -> str:
    """A text broken into the lines that fit into this room; where it is longer the last line ends with a mark."""
    most, lines = max(1, int(height // metrics.lineSpacing())), [""]
    words = text.split()
    while words:
        longer = f"{lines[-1]} {words[0]}".strip()
        if metrics.horizontalAdvance(longer) <= width or not lines[-1]:
            lines[-1] = longer
            words.pop(0)
        elif len(lines) < most:
            lines.append("")
        else:
            lines[-1] = metrics.elidedText(" ".join([lines[-1], *words]), Qt.TextElideMode.ElideRight, int(width))
            break
    return "\n".join(lines)


LEFT, RIGHT, CENTRE = Qt.AlignmentFlag.AlignLeft, Qt.AlignmentFlag.AlignRight, Qt.AlignmentFlag.AlignHCenter


def say(painter: QPainter, place: QRectF, text: str, color: str = "ink", size: int = 12, bold: bool = False, italic: bool = False,
        align: Qt.AlignmentFlag = LEFT) -> float:
    """One line of words in a place, in its middle height, shortened with a mark where it does not fit; its width [px]."""
    painter.setFont(font(size, bold, italic))
    painter.setPen(theme.color(color))
    metrics = painter.fontMetrics()
    shown = metrics.elidedText(text, Qt.TextElideMode.ElideRight, max(1, int(place.width())))
    painter.drawText(place, align | Qt.AlignmentFlag.AlignVCenter, shown)
    return float(metrics.horizontalAdvance(shown))


def say_heading(painter: QPainter, area: QRectF, text: str) -> None:
    """What stands above a part of a picture, at the top of its area."""
    say(painter, QRectF(area.left(), area.top(), area.width(), 18), text, size=13, bold=True)


def say_lines(painter: QPainter, place: QRectF, text: str, color: str = "ink", size: int = 12) -> None:
    """Words in as many lines as fit into a place, from its top; none where not even one does."""
    if place.height() < size:
        return
    painter.setFont(font(size))
    painter.setPen(theme.color(color))
    painter.drawText(place, LEFT | Qt.AlignmentFlag.AlignTop,
                     fitted(painter.fontMetrics(), text, place.width(), place.height()))


class Label(QLabel):
    """Words as they are: what people typed never becomes markup, which could fetch, run or fill memory."""

    def __init__(self, *args: Any, **named: Any) -> None:
        super().__init__(*args, **named)
        self.setTextFormat(Qt.TextFormat.PlainText)


def tip(widget: QWidget, text: str) -> None:
    """A hint over a widget, as plain text."""
    widget.setToolTip(f"<span>{escape(text)}</span>" if "<" in text or "&" in text else text)
