"""What every widget of the house shares: painting that cannot end the process, and words that are shown as they were typed."""

from __future__ import annotations

import re
from collections.abc import Callable
from functools import wraps
from typing import Any, TypeVar

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetrics, QPainter, QPaintEvent
from PyQt6.QtWidgets import QLabel, QWidget

from urban_mule.desk.kit.theme import font, theme
from urban_mule.store.fault_log import note_fault

W = TypeVar("W", bound=QWidget)
_cut: list[list[str]] = []  # of each painting under way, the texts that find no room in it
SMALLEST = 0.5  # of the usual size, to which a picture is drawn smaller so that all of it has room
CANNOT = "This cannot be drawn; what went wrong stands in the fault log. The numbers and the file are not touched."


def painted(paint: Callable[[W, QPainter], None]) -> Callable[[W, QPaintEvent | None], None]:
    """A paint event from a method that is handed the painter; what it raises is written down once, and said in its place."""

    @wraps(paint)
    def paint_event(self: W, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        _cut.append([])
        painter.scale(*[shrink(self)] * 2)
        try:
            with np.errstate(all="ignore"):  # what is out of all proportion is drawn as far as it can be
                paint(self, painter)
        except Exception as error:
            painter.resetTransform()
            say_it_cannot_be_drawn(self, painter, error)
        finally:
            if painter.isActive():
                painter.end()  # Qt crashes when a painter outlives its event
            _read_on(self, _cut.pop())

    return paint_event


def shrink(widget: QWidget) -> float:
    """How much smaller than usual a widget draws so that all of it has room: 1 where that is so, else down to half.

    natural: width and height [px] from which on it has room, where the widget says so.
    """
    wide, high = getattr(widget, "natural", (0.0, 0.0))
    fits = min(widget.width() / wide if wide else 1.0, widget.height() / high if high else 1.0)
    return max(SMALLEST, min(1.0, fits))


def paper(widget: QWidget) -> QRectF:
    """The room of a widget in the units in which it draws."""
    small = shrink(widget)
    return QRectF(0.0, 0.0, widget.width() / small, widget.height() / small)


def on_paper(widget: QWidget, position: QPointF) -> QPointF:
    """A place on a widget, as of a mouse, in the units in which it draws."""
    return position / shrink(widget)


def shortened(metrics: QFontMetrics, text: str, width: float) -> str:
    """A text as far as it fits into a width, with a mark where it is cut; the whole of it is read in the hint of the widget."""
    shown = metrics.elidedText(text, Qt.TextElideMode.ElideRight, max(1, int(width)))
    if shown != text and _cut:
        _cut[-1].append(text)
    return shown


def _read_on(widget: QWidget, cut: list[str]) -> None:
    """Have what was cut in a painting told by the hint of the widget, and to whoever hears it; nothing where a hint says more."""
    whole = "\n".join(dict.fromkeys(cut))
    if whole != (widget.property("cut") or "") and widget.toolTip() in ("", widget.property("cut hint") or ""):
        widget.setProperty("cut", whole)
        tip(widget, whole)
        widget.setProperty("cut hint", widget.toolTip())
        widget.setAccessibleDescription(whole)


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


def to_a_pause(metrics: QFontMetrics, text: str, width: float) -> str:
    """A sentence in one line; where it is longer it ends at a pause of its own, with a mark, within a word only if it has none."""
    if metrics.horizontalAdvance(text) <= width:
        return text
    said = (f"{text[:pause.start()]} …" for pause in reversed([*re.finditer("[,:;] ", text)]))
    return next((one for one in said if metrics.horizontalAdvance(one) <= width),
                metrics.elidedText(text, Qt.TextElideMode.ElideRight, int(width)))


def in_lines(metrics: QFontMetrics, text: str, width: float, most: int) -> tuple[list[str], list[str]]:
    """A text broken into so many lines at most, and the words that find no room in them. width: [px]."""
    lines, words = [""], text.split()
    while words:
        longer = f"{lines[-1]} {words[0]}".strip()
        if metrics.horizontalAdvance(longer) <= width or not lines[-1]:
            lines[-1] = longer
            words.pop(0)
        elif len(lines) < most:
            lines.append("")
        else:
            break
    return lines, words


def fitted(metrics: QFontMetrics, text: str, width: float, height: float) -> str:
    """A text broken into the lines that fit into this room; where it is longer the last line ends with a mark."""
    lines, left = in_lines(metrics, text, width, max(1, int(height // metrics.lineSpacing())))
    if left:
        lines[-1] = metrics.elidedText(" ".join([lines[-1], *left]), Qt.TextElideMode.ElideRight, int(width))
        if _cut:
            _cut[-1].append(text)
    return "\n".join(lines)


LEFT, RIGHT, CENTRE = Qt.AlignmentFlag.AlignLeft, Qt.AlignmentFlag.AlignRight, Qt.AlignmentFlag.AlignHCenter


def say(painter: QPainter, place: QRectF, text: str, color: str = "ink", size: int = 12, bold: bool = False, italic: bool = False,
        align: Qt.AlignmentFlag = LEFT, clear: bool = False) -> float:
    """One line of words in a place, in its middle height, shortened with a mark where it does not fit; its width [px].

    clear: what was drawn there before does not show through.
    """
    painter.setFont(font(size, bold, italic))
    painter.setPen(theme.color(color))
    metrics = painter.fontMetrics()
    shown = shortened(metrics, text, place.width())
    if clear:
        behind = painter.boundingRect(place, int((align | Qt.AlignmentFlag.AlignVCenter).value), shown)
        painter.fillRect(behind, theme.color("panel"))
        painter.setPen(theme.color(color))
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
    if "<" in text or "&" in text:
        from html import escape

        text = f"<span>{escape(text)}</span>"
    widget.setToolTip(text)
