"""What a leaf looks like, in numbers: the share of its picture, what is hidden, cut, or drawn over, and how much of it is empty."""

from __future__ import annotations

import re
from collections.abc import Iterator
from itertools import pairwise
from typing import Any

import numpy as np
from PyQt6.QtCore import QEvent, QObject, QPoint, QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtWidgets import QAbstractButton, QApplication, QComboBox, QHeaderView, QLabel, QLineEdit, QPushButton, QWidget

from urban_mule.desk.kit.chart import Chart
from urban_mule.desk.kit.field import Field
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.stages.view import StageView

CELL = 16  # px of the grid on which emptiness is measured
FAINT = 90  # of 255: what is drawn fainter is no line that a label could lie on
Stroke = tuple[QPointF, QPointF] | QRectF  # a line, or a filled shape, which hides what lies beneath it
CODE = re.compile(r"\bNone\b|_| \.|\. $")  # of a name that was meant for a program


class LaidOut(QObject):
    """Counts how often a window is asked to lay itself out anew."""

    times = 0

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        window.installEventFilter(self)

    def eventFilter(self, _watched: QObject | None, event: QEvent | None) -> bool:
        self.times += event is not None and event.type() == QEvent.Type.LayoutRequest
        return False

    def in_vain(self) -> int:
        """How often in twelve turns of the event loop, after as many in which it may come to rest."""
        for _ in range(12):
            QApplication.processEvents()
        before = self.times
        for _ in range(12):
            QApplication.processEvents()
        return self.times - before


class Seen(QPainter):
    """A painter that remembers where words were written and lines drawn, by the widget."""

    texts: dict[Any, list[tuple[QRectF, str]]] = {}  # noqa: RUF012 - one memory for all painters of a test
    strokes: dict[Any, list[Stroke]] = {}  # noqa: RUF012

    def __init__(self, widget: Any) -> None:
        super().__init__(widget)
        self.widget = widget
        self.texts[widget], self.strokes[widget] = [], []

    def drawText(self, *of: Any) -> None:
        super().drawText(*of)
        if hasattr(of[0], "center") and str(of[-1]).strip():
            flags = of[1] if len(of) == 3 else 0
            box = self.boundingRect(QRectF(of[0]), int(getattr(flags, "value", flags)), of[-1])
            self.texts[self.widget].append((self.transform().mapRect(box), of[-1]))

    def _stroked(self, points: list[QPointF]) -> None:
        colour = self.pen().color()
        if colour.name() != theme.color("line").name() and colour.alpha() > FAINT and self.pen().style() != Qt.PenStyle.NoPen:
            self.strokes[self.widget].extend(pairwise(points))

    def drawLine(self, *of: Any) -> None:
        super().drawLine(*of)
        ends = [QPointF(*of[:2]), QPointF(*of[2:])] if len(of) == 4 else [QPointF(one) for one in of]
        self._stroked([self.transform().map(one) for one in ends])

    def drawPath(self, path: Any) -> None:
        super().drawPath(path)
        for outline in path.toSubpathPolygons(self.transform()):
            self._stroked([QPointF(one) for one in outline])

    def drawPolyline(self, *of: Any) -> None:
        super().drawPolyline(*of)
        self._stroked([self.transform().map(one) for one in [QPointF(point) for point in of[0]]])

    def _filled(self, shape: Any) -> None:
        if hasattr(shape, "center"):
            self.strokes[self.widget].append(self.transform().mapRect(QRectF(shape)))

    def fillRect(self, *of: Any) -> None:
        super().fillRect(*of)
        self._filled(of[0])

    def drawRoundedRect(self, *of: Any) -> None:
        super().drawRoundedRect(*of)
        if self.brush().style() != Qt.BrushStyle.NoBrush:
            self._filled(of[0])

    def drawRect(self, *of: Any) -> None:
        super().drawRect(*of)
        if self.brush().style() != Qt.BrushStyle.NoBrush:
            self._filled(of[0])

    def drawEllipse(self, *of: Any) -> None:
        super().drawEllipse(*of)
        if self.brush().style() != Qt.BrushStyle.NoBrush and len(of) == 3:
            self._filled(QRectF(of[0].x() - of[1], of[0].y() - of[2], 2 * of[1], 2 * of[2]))


def crosses(box: QRectF, a: QPointF, b: QPointF) -> bool:
    """Whether a line runs through a box (Liang and Barsky)."""
    first, last = 0.0, 1.0
    across, up = (a.x(), b.x() - a.x(), box.left(), box.right()), (a.y(), b.y() - a.y(), box.top(), box.bottom())
    for begin, step, low, high in (across, up):
        if abs(step) < 1e-9:
            if not low <= begin <= high:
                return False
            continue
        one, other = sorted(((low - begin) / step, (high - begin) / step))
        first, last = max(first, one), min(last, other)
    return first <= last


def on_a_line(box: QRectF, strokes: list[Stroke]) -> bool:
    """Whether a line is seen through a word: it runs there, and nothing was filled over it since."""
    seen = False
    for stroke in strokes:
        seen = seen and not stroke.contains(box.center()) if isinstance(stroke, QRectF) else seen or crosses(box, *stroke)
    return seen


def silent(picture: QWidget) -> bool:
    """Whether nothing is heard of it: a painted picture speaks by its accessible name, one of widgets by what stands in it."""
    return not any(one.accessibleName() or getattr(one, "text", str)() for one in (picture, *picture.findChildren(QWidget)))


def nameless(root: QWidget) -> list[str]:
    """What can be reached by key there and does not say what it is."""
    found = []
    for one in root.findChildren(QWidget):
        reached = one.isVisible() and one.focusPolicy() != Qt.FocusPolicy.NoFocus and one.focusProxy() is None
        inner = isinstance(one.parentWidget(), QComboBox) or one.objectName().startswith("qt_")
        words = one.accessibleName() or (one.text() if isinstance(one, QAbstractButton) else "")
        if reached and not inner and (not words.strip() or CODE.search(words)):
            found.append(f"{type(one).__name__} {one.objectName()} in {type(one.parentWidget()).__name__}: {words!r}")
    return found


def said_in(window: QWidget) -> Iterator[str]:
    """All that is read or heard in a window: words of widgets and pictures, hints, what a screen reader says."""
    for widget in (one for one in window.findChildren(QWidget) if one.isVisible()):
        yield from (widget.toolTip(), widget.accessibleName(), widget.accessibleDescription())
        yield from (words for _, words in Seen.texts.get(widget, ()))
        if isinstance(widget, (QLabel, QPushButton)):
            yield widget.text()


def share_of_picture(stage: StageView) -> float:
    """How much of what lies between headline and caution the picture has."""
    picture = stage.setup if stage.setup is not None and stage.setup.isVisible() else stage.leaves
    end = stage.caution.geometry().top() if stage.caution.isVisible() else stage.height()
    return picture.height() / (end - stage.headline.geometry().bottom())


def hidden_results(stage: StageView) -> list[str]:
    """Results that lie beneath the edge, or beside it."""
    port = stage.below.viewport()
    assert port is not None
    seen = port.rect().adjusted(0, 0, 1, 2)
    return [row.name for row in stage.results.rows if row.isVisible() and not seen.contains(
        QRect(row.mapTo(port, QPoint(0, 0)), row.size()))]


def drawn_over(stage: StageView) -> Iterator[str]:
    """Words that lie on each other or on lines, that leave their picture, or are cut with no way to read on."""
    painted = (one for one in stage.findChildren(QWidget) if one in Seen.texts and one.isVisible())
    for widget in (one for one in painted if not one.visibleRegion().isEmpty()):  # else as it was before it was scrolled away
        texts = Seen.texts[widget]
        boxes = [(box.adjusted(2, 3, -2, -3), words) for box, words in texts if box.width() > 6]
        told = f"{widget.toolTip()} {widget.accessibleName()} {widget.accessibleDescription()}"
        for n, (box, words) in enumerate(boxes):
            name = f"{type(widget).__name__}: {words[:40]}"
            if any((both := box.intersected(other)).width() > 2 and both.height() > 2 for other, _ in boxes[n + 1:]):
                yield f"{name} lies on other words"
            if on_a_line(box, Seen.strokes[widget]):
                yield f"{name} lies on a line"
            if not QRectF(widget.rect()).adjusted(-1, -1, 1, 1).contains(box):
                yield f"{name} leaves its picture"
            kept = words.split("…")[0].split("\n")[0].strip()
            if "…" in words and kept and kept not in told:
                yield f"{name} is cut"
    for chart in stage.findChildren(Chart):
        if chart.isVisible():
            yield from chart_labels_over_each_other(chart)


def chart_labels_over_each_other(chart: Chart) -> Iterator[str]:
    items = [one for one in chart._pool.get("text", [])[:chart._used.get("text", 0)] if one.isVisible()]
    if chart.width() > 600 and len(items) < chart._used.get("text", 0):
        yield f"chart: {chart.accessibleDescription()} finds no place"
    boxes = [(one.mapRectToScene(one.boundingRect()).adjusted(3, 3, -3, -3), one.toPlainText()) for one in items]
    for n, (box, words) in enumerate(boxes):
        if any(box.intersects(other) for other, _ in boxes[n + 1:]):
            yield f"chart: {words[:40]} lies on other words"


def cut_widgets(stage: StageView) -> Iterator[str]:
    """Labels and keys that have less room than their words need, and no hint that says all."""
    for one in stage.findChildren(QWidget):
        if not one.isVisible() or one.toolTip():
            continue
        if isinstance(one, QLabel) and one.text() and type(one).__name__ != "Heading":
            low = one.wordWrap() and one.heightForWidth(one.width()) > one.height() + 2
            if low or (not one.wordWrap() and one.sizeHint().width() > one.width() + 1):
                yield f"label {one.text()[:50]!r}: {one.size()}"
        elif isinstance(one, QPushButton) and one.sizeHint().width() > one.width() + 1:
            yield f"key {one.text()!r}: {one.width()} of {one.sizeHint().width()}"
        elif isinstance(one, QHeaderView) and one.orientation() == Qt.Orientation.Horizontal:
            yield from cut_heads(one)


def hidden_letters(stage: StageView) -> Iterator[str]:
    """Names of fields that are cut, and numbers in them of which a digit is hidden: what is left reads as another number."""
    for one in stage.findChildren(Field):
        if one.isVisible() and "…" in "".join(words for _, words in Seen.texts.get(one.title, ())):
            yield f"name {one.title.text()!r} is cut at {one.title.width()} px"
        line = one.editor
        if (one.isVisible() and isinstance(line, QLineEdit)
                and line.fontMetrics().horizontalAdvance(line.text()) > line.width() - 16):
            yield f"number {line.text()!r} is cut at {line.width()} px"


def cut_heads(header: QHeaderView) -> Iterator[str]:
    """Words above the columns of a table that have less room than they need, where nobody can move the table to read on."""
    model, room = header.model(), header.viewport()
    assert model is not None and room is not None
    for column in (n for n in range(header.count()) if not header.isSectionHidden(n)):
        words = str(model.headerData(column, Qt.Orientation.Horizontal) or "")
        there = min(header.sectionSize(column), room.width() - header.sectionViewportPosition(column)
                    if header.length() <= room.width() + 1 else header.sectionSize(column))
        needed = header.fontMetrics().horizontalAdvance(words) + 8
        if needed > there:
            yield f"head {words!r}: {there} of {needed}"


def empty_share(image: QImage) -> float:
    """The largest rectangle in which nothing is drawn, as a share of all."""
    image = image.convertToFormat(QImage.Format.Format_RGB32)
    bits = image.constBits()
    assert bits is not None
    pixels = np.frombuffer(bits.asarray(image.sizeInBytes()), np.uint32).reshape(image.height(), -1)[:, :image.width()]
    blank = np.isin(pixels, [theme.color(name).rgb() for name in ("paper", "panel")])
    high, wide = blank.shape[0] // CELL, blank.shape[1] // CELL
    cells = blank[:high * CELL, :wide * CELL].reshape(high, CELL, wide, CELL).all(axis=(1, 3))
    best, heights = 0, np.zeros(wide, int)
    for row in cells:
        heights = np.where(row, heights + 1, 0)
        stack: list[tuple[int, int]] = []
        for column in range(wide + 1):
            now, begin = int(heights[column]) if column < wide else 0, column
            while stack and stack[-1][1] >= now:
                begin, tall = stack.pop()
                best = max(best, tall * (column - begin))
            stack.append((begin, now))
    return best / (high * wide)
