"""Speed over acceleration as a plane: every limit an edge, lines of equal cycle time, the sets as points, and one that moves."""

from __future__ import annotations

import math

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPolygonF

from urban_mule.core.ring.set_shaper import Tried
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.label_places import label_moves
from urban_mule.desk.kit.painting import RIGHT, on_paper, paper, say
from urban_mule.desk.kit.picture import Painted, round_step
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.travel_units import drawn_in
from urban_mule.store.set_together import Together

AIR = 1.12  # times what is reached that the plane shows
LETTER = 7.4  # px of a letter of a label
FINE, COARSE = 0.01, 0.05  # of the plane a press of a key
EDGES = {"pulses": "step pulses", "whirling": "whirling", "torque": "motor torque", "ladder": "ladder", "heat": "motor heat",
         "path": "path of the shaper", "cycle": "the cycle asks"}
COLORS = {"as set": "ink", "best": "accent", "quiet": "blue"}


class SettingsPlane(Painted):
    """point_moved: the ring stands elsewhere, or is gone. Drag it, or the arrow keys; Delete takes it away."""

    natural = (400.0, 240.0)
    needs = frozenset({"top_speed"})
    point_moved = pyqtSignal()

    def __init__(self, session: Scope) -> None:
        super().__init__(session)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.together: Together | None = None
        self.shaper: Tried | None = None
        self.point: tuple[float, float] | None = None  # speed and acceleration
        self._drawn: list[np.ndarray] = []  # lines, and the names beside them, of the last painting
        self._labels: list[tuple[str, str, QRectF]] = []
        self.setAccessibleName("Speed over acceleration, with the limits and the sets")

    def show_sets(self, together: Together | None, shaper: Tried | None) -> None:
        """Draw these sets, the path by this shaper."""
        self.together, self.shaper, self.point = together, shaper, None
        self.update()

    def _plot(self) -> QRectF:
        return paper(self).adjusted(58, 34, -20, -42)

    def _reach(self) -> tuple[float, float]:
        assert self.together is not None
        speed, steep = self.together.reach
        return AIR * speed, AIR * steep

    def _place(self, speed: float, acceleration: float) -> QPointF:
        plot, (fastest, steepest) = self._plot(), self._reach()
        return QPointF(plot.left() + plot.width() * min(acceleration / steepest, 1.0),
                       plot.bottom() - plot.height() * min(speed / fastest, 1.0))

    def paint(self, painter: QPainter, area: QRectF) -> None:
        if self.together is None or self.together.room is None:
            return
        plot = self._plot()
        self._axes(painter, plot)
        self._room(painter)
        self._drawn, self._labels = [], []
        self._lines(painter)
        self._edges(painter, plot)
        self._sets(painter)
        boxes = [(box.left(), box.top(), box.width(), box.height()) for *_, box in self._labels]
        moves = label_moves(boxes, self._drawn, plot.right(), plot.bottom())
        for (color, words, box), (right, down) in zip(self._labels, moves, strict=True):
            say(painter, box.translated(right, down), words, color, 12, bold=words in COLORS)
        if self.point is not None:
            painter.setPen(theme.pen("accent", 2.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(self._place(*self.point), 9, 9)

    def _line(self, painter: QPainter, points: list[QPointF]) -> None:
        painter.drawPolyline(QPolygonF(points))
        self._drawn.append(np.array([(at.x(), at.y()) for at in points]))

    def _label(self, color: str, words: str, x: float, y: float) -> None:
        """A name that ends at x, where there is room for it."""
        wide = LETTER * len(words)
        self._labels.append((color, words, QRectF(x - wide, y, wide, 15)))

    def _axes(self, painter: QPainter, plot: QRectF) -> None:
        fastest, steepest = self._reach()
        painter.setPen(theme.pen("line"))
        painter.drawLine(plot.bottomLeft(), plot.bottomRight())
        painter.drawLine(plot.bottomLeft(), plot.topLeft())
        scale, unit = drawn_in(self.state, "[travel]/s²")
        step = round_step(steepest * scale, 7)
        for n in range(int(steepest * scale / step) + 1):
            x = self._place(0.0, n * step / scale).x()
            say(painter, QRectF(x - 30, plot.bottom() + 4, 60, 16), number_text(n * step, 4), "muted",
                align=Qt.AlignmentFlag.AlignHCenter)
        say(painter, QRectF(plot.left(), plot.bottom() + 22, plot.width(), 16), f"acceleration, {unit}", "muted",
            align=Qt.AlignmentFlag.AlignHCenter)
        scale, unit = drawn_in(self.state, "[travel]/s")
        step = round_step(fastest * scale, 6)
        for n in range(1, int(fastest * scale / step) + 1):
            y = self._place(n * step / scale, 0.0).y()
            say(painter, QRectF(plot.left() - 54, y - 8, 48, 16), number_text(n * step, 4), "muted", align=RIGHT)
        say(painter, QRectF(12, 8, 160, 16), f"speed, {unit}", "muted")

    def _bounds(self) -> tuple[np.ndarray, np.ndarray, float]:
        """Speeds rising, the least of all limits of the acceleration there, and that of the speed."""
        assert self.together is not None and self.together.room is not None
        room = self.together.room
        order = np.argsort(room.speeds)
        path = math.inf if self.shaper is None else self.shaper.allowed
        upright = np.full(order.size, min(room.top_acceleration, path))
        steep = np.min([upright, *(of[order] for of in room.steepest.values())], axis=0)
        return room.speeds[order], steep, min(room.fastest.values(), default=math.inf)

    def _room(self, painter: QPainter) -> None:
        """What is allowed, light on the paper."""
        speeds, steep, fastest = self._bounds()
        kept = speeds <= fastest * (1 + 1e-9)
        if not kept.any():
            return
        top = min(float(speeds[-1]), fastest)
        edge = [(0.0, float(steep[0])), *zip(speeds[kept].tolist(), steep[kept].tolist(), strict=True),
                (top, float(steep[kept][-1]))]
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.color("terrain"))
        painter.drawPolygon(QPolygonF([self._place(0.0, 0.0), *(self._place(*at) for at in edge), self._place(top, 0.0)]))

    def _lines(self, painter: QPainter) -> None:
        assert self.together is not None
        if self.together.lines is None:
            return
        levels, speeds, steep = self.together.lines
        for level, row in zip(levels.tolist(), steep, strict=True):
            known = np.isfinite(row)
            if known.sum() < 2:
                continue
            points = [self._place(speed, at) for speed, at in zip(speeds[known].tolist(), row[known].tolist(), strict=True)]
            painter.setPen(theme.pen("muted", 1.0, Qt.PenStyle.DotLine))
            self._line(painter, points)
            self._label("muted", f"{number_text(level, 3)} s", points[0].x(), points[0].y() - 20)

    def _edges(self, painter: QPainter, plot: QRectF) -> None:
        """Every limit with its name; those that the plane does not reach are left out."""
        assert self.together is not None and self.together.room is not None
        room, (fastest, steepest) = self.together.room, self._reach()
        order = np.argsort(room.speeds)
        for name, limit in room.fastest.items():
            if limit < fastest:
                y = self._place(limit, 0.0).y()
                painter.setPen(theme.pen("short", 1.4))
                self._line(painter, [QPointF(plot.left(), y), QPointF(plot.right(), y)])
                self._label("short", EDGES[name], plot.right() - 4, y - 19)
        upright = {"cycle": room.top_acceleration, **({} if self.shaper is None else {"path": self.shaper.allowed})}
        for name, limit in upright.items():
            if limit < steepest:
                x = self._place(0.0, limit).x()
                color = "ink" if name == "cycle" else "short"
                painter.setPen(theme.pen(color, 1.4, Qt.PenStyle.DashLine))
                self._line(painter, [QPointF(x, plot.top()), QPointF(x, plot.bottom())])
                self._label(color, EDGES[name], x - 6, plot.top() - 2)
        for name, of in room.steepest.items():
            inside = np.isfinite(of[order]) & (of[order] < steepest)
            points = [self._place(speed, at) for speed, at in zip(room.speeds[order][inside].tolist(), of[order][inside].tolist(),
                                                                  strict=True)]
            if len(points) >= 2:
                painter.setPen(theme.pen("short", 1.4))
                self._line(painter, points)
                middle = points[len(points) // 2]
                self._label("short", EDGES[name], middle.x() - 4, middle.y() - 8)

    def _sets(self, painter: QPainter) -> None:
        """The sets as points with their names."""
        assert self.together is not None
        for name, one in self.together.sets.items():
            at = self._place(one["speed"], one["acceleration"])
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.color(COLORS[name]))
            painter.drawEllipse(at, 5, 5)
            self._label(COLORS[name], name, at.x() - 6, at.y() + 6)

    def stand(self, speed: float, acceleration: float) -> None:
        """The ring to a speed [travel/s] and an acceleration [travel/s²], as far as the plane goes."""
        fastest, steepest = self._reach()
        self.point = (min(max(speed, 0.01 * fastest), fastest / AIR), min(max(acceleration, 0.01 * steepest), steepest / AIR))
        self.update()
        self.point_moved.emit()

    def _move_to(self, position: QPointF) -> None:
        plot, (fastest, steepest) = self._plot(), self._reach()
        self.stand(fastest * (plot.bottom() - position.y()) / plot.height(), steepest * (position.x() - plot.left()) / plot.width())

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.together is not None and self.together.room is not None:
            self.setFocus()
            self._move_to(on_paper(self, event.position()))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.buttons() & Qt.MouseButton.LeftButton and self.point is not None:
            self._move_to(on_paper(self, event.position()))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or self.together is None or not self.together.sets:
            super().keyPressEvent(event)
            return
        best = self.together.sets["best"]
        (speed, steep), (fastest, steepest) = self.point or (best["speed"], best["acceleration"]), self._reach()
        step = COARSE if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else FINE
        match event.key():
            case Qt.Key.Key_Left | Qt.Key.Key_Right as key:
                steep += step * steepest * (1 if key == Qt.Key.Key_Right else -1)
            case Qt.Key.Key_Up | Qt.Key.Key_Down as key:
                speed += step * fastest * (1 if key == Qt.Key.Key_Up else -1)
            case Qt.Key.Key_Delete | Qt.Key.Key_Backspace:
                self.point = None
                self.update()
                self.point_moved.emit()
                return
            case _:
                super().keyPressEvent(event)
                return
        self.stand(speed, steep)
