"""The cycle over time: speed, acceleration and torque one above the other, a cursor that reads all three, and for each
move where its torque goes."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QHideEvent, QKeyEvent, QMouseEvent, QPainter, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QPushButton

from urban_mule.core.load.cycle import sampled, take, unrolled
from urban_mule.core.load.shares import torque_shares
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.painting import on_paper, paper, say, shrink, tip
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import font, theme
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.travel_units import drawn_in
from urban_mule.desk.model.words import sentence
from urban_mule.desk.shared.moving import MovingAxis
from urban_mule.desk.shared.shares import draw_shares

LEFT, RIGHT, HEAD, FOOT = 96.0, 12.0, 62.0, 62.0
RAIL = 30  # px of the axis that moves, beneath the line that is read
SAMPLES = 8  # per piece: a jerk-limited ramp is sixteen pieces already


@record(frozen=True)
class Lane:
    """One quantity over time: its name, unit, times [s] and values in that unit, and the colour it is drawn in."""

    name: str
    unit: str
    time: np.ndarray
    values: np.ndarray
    color: str

    def at(self, time: float) -> float:
        return float(np.interp(time, self.time, self.values))


NARROWEST = 24.0  # px of the bar beneath a move


def outline(time: np.ndarray, values: np.ndarray, columns: int) -> tuple[np.ndarray, np.ndarray]:
    """A line as it looks over so many columns of points: where more fall into one, its first, least, greatest and last.

    time: rising, 0 to 1.
    """
    if time.size <= 4 * columns:
        return time, values
    column = np.minimum((time * columns).astype(int), columns - 1)
    begin = np.flatnonzero(np.diff(column, prepend=-1))
    end = np.append(begin[1:], time.size)
    order = np.lexsort((values, column))  # within each column from the least to the greatest
    kept = np.unique(np.concatenate([begin, end - 1, order[begin], order[end - 1]]))
    return time[kept], values[kept]


class CyclePicture(Painted):
    """The cycle as the axis will run it. Press, drag, or Left and Right move the cursor; Space runs it in real time."""

    natural = (640.0, 300.0)

    needs = frozenset({"cycle_pieces", "cycle_torque", "rms_torque", "process_load", "friction_load", "fellow"})

    def __init__(self, session: Scope, parent: Any = None) -> None:
        super().__init__(session, parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.cursor_time: float | None = None
        self.lanes: tuple[Lane, ...] = ()
        self.spans: list[tuple[int, float, float]] = []
        self._shares: dict[int, dict[str, float]] = {}
        self._end = 0.0
        self.moving = MovingAxis(self)
        self.moving.at.connect(self._runs_at)
        self.running = QPushButton("Run", self, autoDefault=False)
        tip(self.running, "Run the cycle before your eyes, in real time (Space)")
        self.running.clicked.connect(self.run)
        self._describe()

    def run(self) -> None:
        """Run the cycle, or hold it."""
        self.moving.run(not self.moving.running)
        self.running.setText("Hold" if self.moving.running else "Run")

    def _runs_at(self, time: float) -> None:
        self.cursor_time = time
        self.update()

    def hideEvent(self, event: QHideEvent | None) -> None:
        self.running.setText("Run")
        super().hideEvent(event)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        small = shrink(self)
        begin, top = LEFT * small, HEAD * small - RAIL
        self.running.setGeometry(6, int(top) - 2, int(begin) - 14, RAIL - 2)
        self.moving.setGeometry(int(begin), int(top) - 4, max(1, int(self.width() - begin - RIGHT * small)), RAIL)

    def redraw(self) -> None:
        solution = self.state.solution
        self.lanes, self.spans, self._shares = (), [], {}
        pieces = solution.get("cycle_pieces")
        for widget in (self.moving, self.running):  # a report has nothing to press
            widget.setVisible(pieces is not None and self.of is None)
        if pieces is not None:
            run = take(pieces, unrolled(pieces))
            self._end = float(run.duration.sum())
            time, places, speed, acceleration = sampled(run, SAMPLES)
            self.moving.take(time, places, self.state.axis.motion == "rotary")
            lanes = [self._lane("speed", "[travel]/s", time, speed, "blue"),
                     self._lane("accel.", "[travel]/s²", time, acceleration, "violet")]
            cycle = solution.get("cycle_torque")
            if cycle is not None:
                order = unrolled(cycle.pieces)
                edges = np.concatenate([[0.0], np.cumsum(cycle.pieces.duration[order])])
                lanes.append(self._lane("torque", "N·m", np.column_stack([edges[:-1], edges[1:]]).ravel(),
                                        np.column_stack([cycle.start[order], cycle.end[order]]).ravel(), "accent"))
            self.lanes = tuple(lanes)
            self._find_spans(run)
        if self.cursor_time is not None:
            self.cursor_time = min(self.cursor_time, self._end)
        self._describe()
        self.update()

    def _lane(self, name: str, si: str, time: np.ndarray, values: np.ndarray, color: str) -> Lane:
        times, unit = drawn_in(self.state, si)
        return Lane(name, unit, time, values * times, color)

    def _find_spans(self, run: Any) -> None:
        """Where each move begins and its motion ends, for those shown: (place in the cycle, from, to)."""
        start = np.concatenate([[0.0], np.cumsum(run.duration)])
        first = None
        for number, (place, direction) in enumerate(zip(run.move, run.direction, strict=True)):
            if direction != 0 and first is None:
                first = float(start[number])
            if direction == 0 and first is not None:
                self.spans.append((int(place), first, float(start[number])))
                first = None

    def _describe(self) -> None:
        self.setAccessibleName(f"The cycle over time. {self.reading() or 'Press, or Left and Right, to read it.'}")

    def reading(self) -> str:
        """What the cursor reads: time, speed, acceleration, torque; nothing while there is no cursor."""
        if self.cursor_time is None or not self.lanes:
            return ""
        values = (f"{number_text(lane.at(self.cursor_time), 3)} {lane.unit}" for lane in self.lanes)
        place = next((f"move {n + 1}" for n, first, last in self.spans if first <= self.cursor_time <= last), "standing")
        return f"{number_text(self.cursor_time, 3)} s, {place}:  " + "   ".join(values)

    def _plot(self) -> QRectF:
        area = paper(self)
        return QRectF(area.left() + LEFT, area.top() + HEAD, area.width() - LEFT - RIGHT, area.height() - HEAD - FOOT)

    def _x(self, time: float) -> float:
        plot = self._plot()
        return plot.left() + plot.width() * time / (self._end or 1.0)

    def paint(self, painter: QPainter, area: QRectF) -> None:
        if not self.lanes:
            painter.setFont(font(15))
            painter.setPen(theme.color("muted"))
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, sentence(self.state.reason_unknown("cycle_pieces")))
            return
        plot = self._plot()
        high = plot.height() / len(self.lanes)
        for number, lane in enumerate(self.lanes):
            self._draw_lane(painter, lane, QRectF(plot.left(), plot.top() + high * number, plot.width(), high - 12))
        self._time_axis(painter, plot)
        self._moves(painter, plot)
        if self.cursor_time is not None:
            x = self._x(self.cursor_time)
            painter.setPen(theme.pen("ink", 1.2))
            painter.drawLine(QPointF(x, plot.top()), QPointF(x, plot.bottom()))
        painter.setFont(font(13, bold=self.cursor_time is not None))
        painter.setPen(theme.color("ink" if self.cursor_time is not None else "muted"))
        painter.drawText(QRectF(LEFT, 3, plot.width(), 18), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight,
                         self.reading() or "press to read a moment")

    def _draw_lane(self, painter: QPainter, lane: Lane, box: QRectF) -> None:
        low, high = min(0.0, float(lane.values.min())), max(0.0, float(lane.values.max()))
        room = (high - low) or 1.0

        def y(value: float) -> float:
            return box.bottom() - 3 - (box.height() - 6) * (value - low) / room

        painter.setPen(theme.pen("line"))
        painter.drawLine(QPointF(box.left(), y(0)), QPointF(box.right(), y(0)))
        time, values = outline(lane.time / (self._end or 1.0), lane.values, int(box.width()))
        points = [QPointF(x, y(v)) for x, v in zip((box.left() + box.width() * time).tolist(), values.tolist(), strict=True)]
        crowded = time.size < lane.time.size
        painter.setPen(Qt.PenStyle.NoPen)
        if not crowded:
            painter.setBrush(theme.color(lane.color, 34))
            painter.drawPolygon(QPolygonF([QPointF(points[0].x(), y(0)), *points, QPointF(points[-1].x(), y(0))]))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, not crowded)  # which takes a second where lines lie on lines
        painter.setPen(theme.pen(lane.color, 1 if crowded else 2))
        painter.drawPolyline(QPolygonF(points))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(font(13, bold=True))
        painter.setPen(theme.color(lane.color))
        painter.drawText(QRectF(12, box.center().y() - 18, LEFT - 52, 18), Qt.AlignmentFlag.AlignVCenter, lane.name)
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        painter.drawText(QRectF(12, box.center().y(), LEFT - 52, 16), Qt.AlignmentFlag.AlignVCenter, lane.unit)
        for value in {low, high} - {0.0} if room != 1.0 or high else ():
            painter.drawText(QRectF(LEFT - 48, y(value) - 8, 42, 16), Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
                             | Qt.TextFlag.TextDontClip, number_text(value, 3))
        rms = self.state.solution.get("rms_torque") if lane.name == "torque" else None
        if rms is not None:
            rms = float(rms) * drawn_in(self.state, "N·m")[0]
            painter.setPen(theme.pen("ink", 1, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(box.left(), y(rms)), QPointF(box.right(), y(rms)))
            fellow = self.state.solution.get("fellow")
            whose = "" if fellow is None else f" with {fellow.name}"
            say(painter, QRectF(box.right() - 200, y(rms) - 18, 198, 16), f"RMS {number_text(rms, 3)} {lane.unit}{whose}",
                align=Qt.AlignmentFlag.AlignRight, clear=True)

    def _time_axis(self, painter: QPainter, plot: QRectF) -> None:
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        step = next((s for s in (0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 60, 120, 300, 600) if self._end / s <= 9), self._end)
        for number in range(int(self._end / step) + 1):
            x = self._x(number * step)
            painter.drawLine(QPointF(x, plot.bottom()), QPointF(x, plot.bottom() + 4))
            last = x > plot.right() - 24
            painter.drawText(QRectF(x - 30 - 30 * last, plot.bottom() + 4, 60, 16),
                             Qt.AlignmentFlag.AlignRight if last else Qt.AlignmentFlag.AlignCenter,
                             f"{number_text(number * step, 3)}{' s' if number == int(self._end / step) else ''}")

    def _moves(self, painter: QPainter, plot: QRectF) -> None:
        """Beneath each move where its torque goes at its hardest moment; the name of the largest part stands under it."""
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        top = plot.bottom() + 24
        free, narrow, wide = plot.left(), 0, plot.width() / (self._end or 1.0)
        for place, first, last in self.spans:
            bar = QRectF(plot.left() + wide * first, top, max(NARROWEST, wide * (last - first) - 2), 12)
            if bar.left() < free:
                narrow += 1
                continue
            if place not in self._shares:
                try:
                    self._shares[place] = torque_shares(self.state.solution, place)
                except NotKnown:
                    continue
            draw_shares(painter, self._shares[place], bar, words=True)
            free = bar.right()
        painter.setPen(theme.color("muted"))
        painter.drawText(QRectF(12, top - 3, LEFT - 16, 30), Qt.TextFlag.TextWordWrap,
                         "where the torque goes" if not narrow else f"{len(self.spans) - narrow} of {len(self.spans)} moves")

    def _read_at(self, x: float) -> None:
        plot = self._plot()
        if self.lanes and plot.width() > 0:
            self.cursor_time = float(np.clip((x - plot.left()) / plot.width(), 0, 1)) * self._end
            self._describe()
            self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self.setFocus()
            self._read_at(on_paper(self, event.position()).x())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self._read_at(on_paper(self, event.position()).x())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key())) if event is not None else None
        if step is not None and self.lanes:
            now = self.cursor_time if self.cursor_time is not None else 0.0
            self._read_at(self._x(now + step * self._end / 100))
        elif event is not None and event.key() == Qt.Key.Key_Space and self.lanes:
            self.run()
        elif event is not None and event.key() == Qt.Key.Key_Escape:
            self.moving.run(False)
            self.running.setText("Run")
            self.cursor_time = None
            self._describe()
            self.update()
        else:
            super().keyPressEvent(event)
