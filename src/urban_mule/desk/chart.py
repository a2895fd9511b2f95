"""A chart in the house's look on pyqtgraph: curves labelled at the curve, no legend, wheel and drag to look closer."""

from __future__ import annotations

from typing import Any

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QWidget

from urban_mule.desk.theme import font, theme

pg.setConfigOptions(antialias=True)
DASH, DOT, SOLID = Qt.PenStyle.DashLine, Qt.PenStyle.DotLine, Qt.PenStyle.SolidLine


class Chart(pg.PlotWidget):
    """One pair of axes. What is drawn is cleared and drawn again on each change; a double click shows all."""

    def __init__(self, x_label: str, y_label: str, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(name)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._labels = (x_label, y_label)
        self._frame = ((0.0, 1.0), (0.0, 1.0))
        self.getPlotItem().setMenuEnabled(True)
        self.hideButtons()
        self.setFrameStyle(0)
        self.restart()

    def restart(self) -> None:
        """An empty chart in the colours of the day."""
        plot = self.getPlotItem()
        plot.clear()
        self.setBackground(theme.color("panel"))
        for side in ("left", "bottom"):
            axis = plot.getAxis(side)
            axis.setPen(theme.color("line"))
            axis.setTextPen(theme.color("muted"))
            axis.setTickFont(font(12))
            axis.setStyle(tickLength=4, tickTextOffset=6)
            axis.enableAutoSIPrefix(False)
        plot.getAxis("left").setWidth(54)
        for side, text in zip(("bottom", "left"), self._labels, strict=True):
            plot.getAxis(side).setLabel(text, color=theme.color("muted").name(), **{"font-size": "12px"})
        plot.showGrid(x=False, y=True, alpha=0.18)

    def frame(self, x: tuple[float, float], y: tuple[float, float]) -> None:
        """What is seen at first; strokes across the chart reach to its edges."""
        self._frame = (x, y)
        self.setXRange(*x, padding=0)
        self.setYRange(*y, padding=0)

    def line(self, x: Any, y: Any, color: str, width: float = 2.0, style: Qt.PenStyle = SOLID, alpha: int = 255,
             fill_to: float | None = None, fill: str = "wash") -> Any:
        """A curve; fill_to: fill down to this level."""
        pen = pg.mkPen(theme.color(color, alpha), width=width, style=style)
        filling = {} if fill_to is None else {"fillLevel": fill_to, "brush": theme.color(fill)}
        return self.plot(np.asarray(x, float), np.asarray(y, float), pen=pen, **filling)

    def dots(self, x: Any, y: Any, color: str, size: float = 6, symbol: str = "o", filled: bool = True) -> Any:
        """Points; a symbol tells them apart where colour cannot."""
        brush = theme.color(color) if filled else theme.color("panel")
        return self.plot(np.asarray(x, float), np.asarray(y, float), pen=None, symbol=symbol, symbolSize=size,
                         symbolPen=pg.mkPen(theme.color(color), width=1.3), symbolBrush=brush)

    def band(self, x: Any, low: Any, high: Any, color: str, alpha: int = 45) -> None:
        """The area between two curves."""
        curves = [pg.PlotDataItem(np.asarray(x, float), np.asarray(one, float)) for one in (low, high)]
        self.addItem(pg.FillBetweenItem(*curves, brush=theme.color(color, alpha)))

    def text(self, x: float, y: float, text: str, color: str, anchor: tuple[float, float] = (0, 1), size: int = 12,
             bold: bool = False) -> None:
        """Words at a place of the chart; anchor (0, 0) is their upper left corner."""
        item = pg.TextItem(text, color=theme.color(color), anchor=anchor)
        item.setFont(font(size, bold))
        self.addItem(item, ignoreBounds=True)
        item.setPos(x, y)

    def vertical(self, x: float, color: str, width: float = 1.2, style: Qt.PenStyle = SOLID) -> None:
        self.line([x, x], self._frame[1], color, width, style)

    def horizontal(self, y: float, color: str, width: float = 1.2, style: Qt.PenStyle = SOLID) -> None:
        self.line(self._frame[0], [y, y], color, width, style)

    def name_axes(self, x_label: str, y_label: str) -> None:
        """Other words at the axes, from the next `restart` on."""
        self._labels = (x_label, y_label)

    def empty(self, why: str) -> None:
        """An empty chart that says what is missing."""
        self.restart()
        self.frame((0, 1), (0, 1))
        self.text(0.5, 0.5, why, "muted", (0.5, 0.5), 15)
        for side in ("left", "bottom"):
            self.getPlotItem().getAxis(side).setTicks([[]])

    def ticks_back(self) -> None:
        """Numbers on the axes again after `empty`."""
        for side in ("left", "bottom"):
            self.getPlotItem().getAxis(side).setTicks(None)
