"""From motor to tool, to scale: what turns how fast, what the belt carries, how far it gives way."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from urban_mule.core.sheet.shown import value_text
from urban_mule.desk.kit.painting import CENTRE, say
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import theme


class TurningPicture(Painted):
    """Two wheels whose sizes are as their ratio, motor on the left, tool on the right, with what each says."""

    def paint(self, painter: QPainter, area: QRectF) -> None:
        get = self.state.solution.get
        ratio = float(get("ratio") or 1.0)
        between = str(get("transmission") or "transmission not given")
        turns = "turn" if ratio == 1 else "turns"
        self.setAccessibleName(f"Motor and tool: {ratio:g} {turns} of the motor for one of the tool; {between}")
        largest = min(area.height() * 0.3, area.width() * 0.13)
        motor, tool = (largest, largest * ratio) if ratio <= 1 else (largest / ratio, largest)
        y = area.center().y() - 8
        left, right = QPointF(area.left() + area.width() * 0.27, y), QPointF(area.right() - area.width() * 0.27, y)
        motor, tool = max(10.0, motor), max(10.0, tool)
        if between == "direct":
            painter.setPen(theme.pen("muted", 5))
            painter.drawLine(left, right)
        elif between == "gear":
            left = QPointF(right.x() - motor - tool, y)
        else:
            self._belt(painter, left, motor, right, tool, between == "toothed belt")
        painter.setPen(theme.pen("ink", 1.6))
        painter.setBrush(theme.color("terrain"))
        painter.drawEllipse(left, motor, motor)
        painter.setBrush(theme.color("wash"))
        painter.drawEllipse(right, tool, tool)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        self._twist(painter, right, tool)
        self._words(painter, area, left, right, ratio, between)

    @staticmethod
    def _belt(painter: QPainter, left: QPointF, motor: float, right: QPointF, tool: float, toothed: bool) -> None:
        painter.setPen(theme.pen("muted", 2.4, Qt.PenStyle.DotLine if toothed else Qt.PenStyle.SolidLine))
        slope = math.asin(max(-1.0, min(1.0, (tool - motor) / max(1.0, right.x() - left.x()))))
        for side in (-1, 1):
            one = QPointF(left.x() - motor * math.sin(slope), left.y() + side * motor * math.cos(slope))
            other = QPointF(right.x() - tool * math.sin(slope), right.y() + side * tool * math.cos(slope))
            painter.drawLine(one, other)

    def _twist(self, painter: QPainter, centre: QPointF, radius: float) -> None:
        """How far the tool lags, drawn a hundred times larger, at most a quarter turn."""
        lag = self.state.solution.get("synchronism_error")
        if lag is None:
            return
        drawn = min(90.0, math.degrees(float(lag)) * 100)
        painter.setPen(theme.pen("muted", 1.2, Qt.PenStyle.DashLine))
        painter.drawLine(centre, centre + QPointF(0, -radius))
        angle = math.radians(drawn)
        painter.setPen(theme.pen("accent", 2.2))
        painter.drawLine(centre, centre + QPointF(-radius * math.sin(angle), -radius * math.cos(angle)))

    def _text(self, name: str) -> str:
        solution = self.state.solution
        return str(value_text(solution.sheet, name, solution.get(name), self.state.system))

    def _words(self, painter: QPainter, area: QRectF, left: QPointF, right: QPointF, ratio: float, between: str) -> None:
        top = area.top()
        for middle, title, lines in ((left.x(), "motor", (f"{ratio:g} turns",)),
                                     (right.x(), "tool", ("1 turn", f"cut at {self._text('cut_speed')}"))):
            say(painter, QRectF(middle - 120, top, 240, 20), title, "ink", 15, bold=True, align=CENTRE)
            for n, line in enumerate(lines):
                say(painter, QRectF(middle - 120, top + 20 + 16 * n, 240, 16), line, "muted", 12, align=CENTRE)
        said = [f"torque in the cut {self._text('cutting_torque')}", f"power {self._text('cutting_power')}"]
        lag, thread = self.state.solution.get("synchronism_error"), self.state.solution.get("thread_error")
        if lag is not None:
            said.append(f"the tool lags by {self._text('synchronism_error')} (drawn a hundred times larger)")
        if thread is not None:
            said.append(f"a thread errs by {self._text('thread_error')}")
        say(painter, QRectF(area.left(), area.bottom() - 34, area.width(), 18), between, "ink", 13, bold=True,
            align=CENTRE)
        say(painter, QRectF(area.left(), area.bottom() - 16, area.width(), 16), "; ".join(said), "muted", 12, align=CENTRE)
