"""The machine seen from above: where each motor sits, and its wire to the controller with what stands at both ends of it."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath

from urban_mule.core.sheet.record import record
from urban_mule.desk.kit.painting import LEFT, RIGHT, say, say_lines
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import draw_mark, theme
from urban_mule.desk.model.scope import Scope

LEVELS = ("good", "unknown", "short")
ROW_HEIGHT = 34.0  # px that the two lines of a wire need
PLAN = 0.3  # of the width that the machine takes


@record(frozen=True)
class Wire:
    """A motor and its way to the controller: what stands at both ends, what was there before where that differs, how it moves.

    lies: along (the first level axis), across (the second), up, or turns: how its axis lies. level: good, unknown or short.
    """

    motor: str
    lies: str
    driver: str
    driver_old: str
    controller: str
    controller_old: str
    moves: str
    level: str
    here: bool


class FromAbove(Painted):
    """The plan of the machine at the left, a line for each motor to the controller at the right."""

    def __init__(self, session: Scope) -> None:
        super().__init__(session)
        self.wires: tuple[Wire, ...] = ()
        self.setMinimumHeight(130)

    def show_wires(self, wires: Sequence[Wire]) -> None:
        """Draw these."""
        self.wires = tuple(wires)
        self.setAccessibleName("All motors, with both sides of the wire. " + " ".join(
            f"{one.motor}: driver {one.driver or 'not known'}{f', on it {one.driver_old}' if one.driver_old else ''}; controller"
            f" {one.controller or 'not known'}{f', in it {one.controller_old}' if one.controller_old else ''}; {one.moves}."
            for one in self.wires))
        self.setMinimumHeight(int(max(130.0, ROW_HEIGHT * len(self.wires) + 34)))
        self.update()

    def paint(self, painter: QPainter, area: QRectF) -> None:
        if not self.wires:
            say_lines(painter, area, "No axis has a motor yet.", "muted", 15)
            return
        plan = QRectF(area.left(), area.top() + 8, PLAN * area.width(), area.height() - 12)
        motors = self._plan(painter, plan)
        left = plan.right() + 26
        high = min(64.0, (area.height() - 24) / len(self.wires))
        wide = area.right() - left
        columns = (left, left + 0.36 * wide, left + 0.66 * wide, area.right())
        for x, words in zip(columns, ("the driver has", "the controller has", "so it moves"), strict=False):
            say(painter, QRectF(x + (14 if x > left else 0), area.top() - 6, 180, 16), words, "muted", 12)
        for n, one in enumerate(self.wires):
            y = area.top() + 22 + high * (n + 0.5)
            self._wire(painter, one, motors[n], y, columns)
        for one, at in zip(self.wires, motors, strict=True):
            self._motor(painter, one, at)

    def _plan(self, painter: QPainter, plan: QRectF) -> list[QPointF]:
        """Table, beam, carriage and motors to no scale; where each motor is."""
        table = plan.adjusted(24, 22, -24, -22)
        painter.setPen(theme.pen("line", 1.6))
        painter.setBrush(theme.color("terrain"))
        painter.drawRoundedRect(table, 3, 3)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        lies = {one.lies for one in self.wires}
        beam = table.center().y() - 0.1 * table.height()
        carriage = QPointF(table.center().x() + 0.12 * table.width(), beam)
        painter.setPen(theme.pen("muted", 2.2))
        if "across" in lies:
            for x in (table.left() - 6, table.right() + 6):
                painter.drawLine(QPointF(x, table.top()), QPointF(x, table.bottom()))
        if "along" in lies:
            for y in (beam - 7, beam + 7):
                painter.drawLine(QPointF(table.left() - 12, y), QPointF(table.right() + 12, y))
            painter.setBrush(theme.color("panel"))
            painter.drawRect(QRectF(carriage.x() - 17, carriage.y() - 15, 34, 30))
            painter.setBrush(Qt.BrushStyle.NoBrush)
        counted = dict.fromkeys(("along", "across", "up", "turns"), 0)
        found = []
        for one in self.wires:
            n = counted[one.lies]
            counted[one.lies] += 1
            at = {"along": QPointF(table.left() - 12 + 0.22 * table.width() * (n // 2) if n % 2 == 0 else table.right() + 12, beam),
                  "across": QPointF(table.left() - 6 if n % 2 == 0 else table.right() + 6, table.bottom() + 4 - 30 * (n // 2)),
                  "up": carriage + QPointF(30 * n, -6),
                  "turns": QPointF(table.left() + 0.24 * table.width() + 44 * n, table.bottom() - 0.16 * table.height())}[one.lies]
            found.append(at)
        return found

    @staticmethod
    def _motor(painter: QPainter, one: Wire, at: QPointF) -> None:
        painter.setPen(theme.pen("accent" if one.here else "ink", 2.2 if one.here else 1.6))
        painter.setBrush(theme.color("panel"))
        if one.lies == "turns":
            painter.drawEllipse(at, 15, 15)
        else:
            painter.drawRoundedRect(QRectF(at.x() - 11, at.y() - 11, 22, 22), 3, 3)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        say(painter, QRectF(at.x() - 11, at.y() - 11, 22, 22), one.motor[:2], "accent" if one.here else "ink", 13, bold=True,
            align=Qt.AlignmentFlag.AlignHCenter)

    @staticmethod
    def _wire(painter: QPainter, one: Wire, motor: QPointF, y: float, columns: tuple[float, ...]) -> None:
        """From a motor to its driver, on to the controller, and what comes of it."""
        driver, controller, moves, right = columns
        color = {"good": "blue", "short": "short"}.get(one.level, "muted")
        painter.setPen(theme.pen(color, 2.0 if one.here else 1.3,
                                 Qt.PenStyle.DotLine if one.level == "unknown" else Qt.PenStyle.SolidLine))
        line = QPainterPath(motor + QPointF(12, 0))
        line.cubicTo(QPointF(driver - 30, motor.y()), QPointF(driver - 40, y), QPointF(driver - 6, y))
        painter.drawPath(line)
        painter.drawLine(QPointF(controller - 28, y), QPointF(controller + 8, y))
        for x, wide, value, old in ((driver, controller - driver - 34, one.driver, one.driver_old),
                                    (controller + 14, moves - controller - 22, one.controller, one.controller_old)):
            first = QRectF(x, y - 17 if old else y - 10, wide, 20)
            title = f"{one.motor}  " if x == driver else ""
            used = say(painter, first, title, "accent" if one.here else "ink", 14, bold=True) if title else 0.0
            say(painter, first.adjusted(used, 0, 0, 0), value or "–", "ink", 13)
            if old:
                say(painter, QRectF(x, y + 1, wide, 16), f"there: {old}", "short", 12)
        draw_mark(painter, one.level, QPointF(moves + 18, y), 5.5)
        say(painter, QRectF(moves + 30, y - 10, right - moves - 30, 20), one.moves,
            one.level if one.level != "unknown" else "muted", 13, align=LEFT if one.moves else RIGHT)
