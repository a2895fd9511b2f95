"""A chart in the house's look on pyqtgraph: curves labelled at the curve, no legend, wheel and drag to look closer."""

from __future__ import annotations

import math
import textwrap
from collections.abc import Callable
from typing import Any, ClassVar

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QPointF, QRectF, QSizeF, Qt, QTimer
from PyQt6.QtGui import QBrush, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QGraphicsGridLayout, QGraphicsPolygonItem, QHBoxLayout, QWidget

from urban_mule.desk.kit.label_places import label_moves
from urban_mule.desk.kit.painting import tip
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.points import Points
from urban_mule.desk.kit.theme import font, theme
from urban_mule.desk.model.scope import Scope

pg.setConfigOptions(antialias=True)
LETTER = 9.5  # px that a letter of the words of an empty chart takes, with room at both sides
ROOMY, LEAST_LETTERS = (400.0, 190.0), 0.55  # px of a chart below which its words are smaller, and down to what share
NAMED = 100  # px of height from which on the upright name of an axis has room
LED = 1.4  # heights of a label, from which on a line leads from it to where it belongs
GRID = 45  # of 255: how much of the lines behind the curves is seen
DASH, SOLID = Qt.PenStyle.DashLine, Qt.PenStyle.SolidLine


def ceiling(value: float) -> float:
    """A little above a value, at two digits: an axis that ends there is drawn anew only when the value really moved."""
    if value <= 0:
        return 1.0
    step = 10.0 ** (math.floor(math.log10(value)) - 1)
    return math.ceil(value / step) * step


class Chart(pg.GraphicsView):
    """One pair of axes. A picture calls `restart` and draws; items are used again, since making one costs a frame.

    The wheel looks closer, a drag moves, the next redraw shows all again. It is put together from the library's view box and
    axes: its whole plot brings menus and buttons that nobody sees, at several times the cost.
    """

    def __init__(self, x_label: str, y_label: str, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent, background=None)
        self.setAccessibleName(name)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.viewport().setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.enableMouse(False)  # the view box has the mouse
        self.box = pg.ViewBox(enableMenu=False)
        self.box.disableAutoRange()
        self.axes = {"left": pg.AxisItem("left"), "bottom": pg.AxisItem("bottom")}
        self._put_together()
        self._labels = (x_label, y_label)
        self._times = 1.0
        self._dressed: object = None
        self._frame = ((0.0, 1.0), (0.0, 1.0))
        self._pool: dict[str, list[Any]] = {}
        self._used: dict[str, int] = {}
        self._said: dict[Any, tuple[Any, ...]] = {}
        self._at: dict[Any, tuple[float, float]] = {}  # where a label belongs
        self._leaders: list[tuple[QPointF, QRectF]] = []  # from where a label belongs to where it found room
        self._placed: object = None
        self._depth = 0
        self._numbered = True
        self._label_sizes: dict[str, QSizeF] = {}
        self.restart()

    def _put_together(self) -> None:
        whole, grid = pg.GraphicsWidget(), QGraphicsGridLayout()
        grid.setContentsMargins(1, 1, 1, 1)
        grid.setSpacing(0)
        whole.setLayout(grid)
        grid.addItem(self.box, 0, 1)
        for side, place in (("left", (0, 0)), ("bottom", (1, 1))):
            self.axes[side].enableAutoSIPrefix(False)  # before it has words: with them, it scales what is there once more
            grid.addItem(self.axes[side], *place)
            self.axes[side].linkToView(self.box)
            self.axes[side].setZValue(0.5)  # its grid lies over the filled areas
        self.setCentralItem(whole)

    def restart(self) -> None:
        """An empty chart in the colours of the day."""
        self._placed = None
        self._used.clear()
        self.update()
        QTimer.singleShot(0, self._put_in_order)  # before the scene looks at what was drawn: else all is painted twice
        self._depth = 0
        self._number_axes(True)
        dress = theme.palette, self._labels, self._times
        if self._dressed != dress:
            self._dressed = dress
            self._dress()

    def _dress(self) -> None:
        self.setBackground(theme.color("panel"))
        for side, text in zip(("bottom", "left"), self._labels, strict=True):
            axis = self.axes[side]
            axis.setPen(theme.color("line"))
            axis.setTextPen(theme.color("muted"))
            axis.setTickFont(font(12))
            axis.setStyle(tickLength=4, tickTextOffset=6)
            axis.setCacheMode(axis.CacheMode.DeviceCoordinateCache)  # numbers cost more to draw than curves, and seldom change
            axis.setLabel(text, color=theme.color("muted").name(), **{"font-size": "12px"})
        self.axes["left"].setWidth(54)
        self.axes["left"].setScale(self._times)
        self.axes["left"].setGrid(GRID)
        self.axes["bottom"].setHeight(44)  # else it shrinks while a chart is empty and the next picture is drawn askew

    def paintEvent(self, event: QPaintEvent | None) -> None:
        for side, axis in self.axes.items():
            if axis.size() != self._label_sizes.get(side):  # else a label keeps the middle of a former size
                self._label_sizes[side] = axis.size()
                axis.resizeEvent(None)
        self._put_in_order()
        super().paintEvent(event)

    def _put_in_order(self) -> None:
        """Hide what is not used, which at a restart would be to paint it twice, and place the labels."""
        for kind, pool in self._pool.items():
            for item in pool[self._used.get(kind, 0):]:
                item.setVisible(False)
        self._place_labels()

    def _place_labels(self) -> None:
        """Move labels to where they keep clear of curves and of each other; once for what is drawn, and for each size."""
        seen, view = self.box.sceneBoundingRect(), tuple(map(tuple, self.box.viewRange()))
        now = (seen.width(), seen.height(), view, self._depth)
        if self._placed == now or not seen.width():
            return
        self._placed = now
        self.axes["left"].label.setVisible(seen.height() > NAMED)
        (x0, x1), (y0, y1) = view
        scale = seen.width() / (x1 - x0 or 1.0), seen.height() / (y1 - y0 or 1.0)
        texts = self._pool.get("text", [])[:self._used.get("text", 0)]
        boxes = []
        small = max(LEAST_LETTERS, min(1.0, seen.width() / ROOMY[0], seen.height() / ROOMY[1]))
        for item in texts:
            _, _, size, bold, _ = self._said[item]
            item.setFont(font(round(size * small), bold))
            (x, y), words = self._at[item], item.textItem.boundingRect()
            boxes.append(((x - x0) * scale[0] - item.anchor.x() * words.width(),
                          (y1 - y) * scale[1] - item.anchor.y() * words.height(), words.width(), words.height()))
        curves = [item.getData() for kind in ("curve", "filled")
                  for item in self._pool.get(kind, [])[:self._used.get(kind, 0)]]
        lines = [np.column_stack([(x - x0) * scale[0], (y1 - y) * scale[1]]) for x, y in curves if x is not None and len(x) > 1]
        self._leaders, told, taken = [], [], list[QRectF]()
        for item, box, (right, down) in zip(texts, boxes, label_moves(boxes, lines, seen.width(), seen.height()), strict=True):
            x, y = self._at[item]
            place = QRectF(box[0] + right, box[1] + down, box[2], box[3]).adjusted(3, 3, -3, -3)
            item.setVisible(not any(place.intersects(other) for other in taken))
            if not item.isVisible():  # it would be read by nobody there: the hint of the chart has it
                told.append(item.toPlainText().strip())
                continue
            taken.append(place)
            item.setPos(x + right / scale[0], y - down / scale[1])
            if abs(down) > LED * box[3]:
                there = QPointF(seen.left() + (x - x0) * scale[0], seen.top() + (y1 - y) * scale[1])
                self._leaders.append((there, QRectF(seen.left() + box[0] + right, seen.top() + box[1] + down, box[2], box[3])))

        tip(self, "\n".join(told))
        self.setAccessibleDescription("; ".join(told))

    def drawForeground(self, painter: QPainter | None, rect: QRectF) -> None:
        """A thin line from a label to where it belongs, where it had to move far."""
        super().drawForeground(painter, rect)
        if painter is None or not self._leaders:
            return
        painter.setPen(theme.pen("muted", 0.8))
        for there, label in self._leaders:
            near = QPointF(min(max(there.x(), label.left() + 4), label.right() - 4),
                           label.bottom() - 3 if label.center().y() < there.y() else label.top() + 3)
            painter.drawLine(near, there)

    def _item(self, kind: str, make: Callable[[], Any]) -> Any:
        """The next free item of a kind, in front of those drawn before it."""
        pool, place = self._pool.setdefault(kind, []), self._used.get(kind, 0)
        if place == len(pool):
            pool.append(make())
            self.box.addItem(pool[place], ignoreBounds=True)
        self._used[kind] = place + 1
        self._depth += 1
        pool[place].setZValue(self._depth)
        pool[place].setVisible(True)
        return pool[place]

    @property
    def shows_all(self) -> bool:
        """Whether nobody has looked closer or moved it."""
        return bool(np.allclose(self.box.viewRange(), self._frame))

    def frame(self, x: tuple[float, float], y: tuple[float, float]) -> None:
        """What is seen at first; strokes across the chart reach to its edges."""
        self._frame = (x, y)
        self.box.setRange(xRange=x, yRange=y, padding=0)

    def line(self, x: Any, y: Any, color: str, width: float = 2.0, style: Qt.PenStyle = SOLID, alpha: int = 255,
             fill_to: float | None = None, fill: str = "wash") -> None:
        """A curve; fill_to: fill down to this level."""
        curve = self._item("filled" if fill_to is not None else "curve", pg.PlotCurveItem)
        filling = {} if fill_to is None else {"fillLevel": fill_to, "brush": theme.color(fill)}
        pen = pg.mkPen(theme.color(color, alpha), width=width, style=style)
        curve.setData(np.asarray(x, float), np.asarray(y, float), pen=pen, **filling)

    def dots(self, x: Any, y: Any, color: str, size: float = 6, symbol: str = "o", filled: bool = True) -> None:
        """Points; a symbol tells them apart where colour cannot."""
        self._item("dots", Points).show_points(
            np.asarray(x, float), np.asarray(y, float), symbol, size, pg.mkPen(theme.color(color), width=1.3),
            QBrush(theme.color(color if filled else "panel")))

    def band(self, x: Any, low: Any, high: Any, color: str, alpha: int = 45) -> None:
        """The area between two curves."""
        item = self._item("band", QGraphicsPolygonItem)
        x, low, high = (np.asarray(one, float) for one in (x, low, high))
        outline = np.column_stack([np.concatenate([x, x[::-1]]), np.concatenate([low, high[::-1]])])
        item.setPolygon(QPolygonF([QPointF(*point) for point in outline.tolist()]))
        item.setPen(QPen(Qt.PenStyle.NoPen))
        item.setBrush(theme.color(color, alpha))

    def text(self, x: float, y: float, text: str, color: str, anchor: tuple[float, float] = (0, 1), size: int = 12,
             bold: bool = False) -> None:
        """Words at a place of the chart; anchor (0, 0) is their upper left corner."""
        item = self._item("text", pg.TextItem)
        said = (text, theme.color(color), size, bold, anchor)
        if self._said.get(item) != said:
            self._said[item] = said
            item.setFont(font(size, bold))
            item.setText(text, theme.color(color))
            item.setAnchor(pg.Point(anchor))
        item.setPos(x, y)
        self._at[item] = (float(x), float(y))

    def horizontal(self, y: float, color: str, width: float = 1.2, style: Qt.PenStyle = SOLID) -> None:
        self.line(self._frame[0], [y, y], color, width, style)

    def name_axes(self, x_label: str, y_label: str, times: float = 1.0) -> None:
        """Other words at the axes, from the next `restart` on; times: what the numbers at the left are of those drawn."""
        self._labels, self._times = (x_label, y_label), times

    def empty(self, why: str) -> None:
        """An empty chart that says what is missing."""
        self.restart()
        self.frame((0, 1), (0, 1))
        wide = max(20, int(self.width() / LETTER))
        self.text(0.5, 0.5, "\n".join(textwrap.wrap(why, wide)), "muted", (0.5, 0.5), 15)
        self._number_axes(False)

    def _number_axes(self, numbered: bool) -> None:
        if numbered != self._numbered:  # every setTicks makes an axis draw itself anew
            self._numbered = numbered
            for axis in self.axes.values():
                axis.setTicks(None if numbered else [[]])


class ChartPicture(Picture):
    """A picture that is one chart; about: what it shows, for whoever hears it."""

    about: ClassVar[str]

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.chart = Chart("", "", self.about)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.chart)
