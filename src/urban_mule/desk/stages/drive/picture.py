"""Drive: the switch bank as it must look, the current on one scale in peak and RMS, and the microstep trade-off."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from urban_mule.core.drive.stepper import each_microstep_moves
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.picture import Painted, round_step
from urban_mule.desk.kit.theme import font, theme
from urban_mule.desk.model.words import sentence

MOST_NUMBERS = 8  # along a scale
MICROSTEPS = (1, 2, 4, 8, 16, 32, 64, 128)


class DrivePicture(Painted):
    """What to set on the driver, drawn as it must look."""

    def paint(self, painter: QPainter, area: QRectF) -> None:
        self.setAccessibleName("Driver settings: switch bank, current scale, microsteps")
        bank = QRectF(area.left(), area.top(), area.width() * 0.3, area.height() * 0.62)
        self._bank(painter, bank)
        self._scale(painter, QRectF(bank.right() + 40, area.top(), area.width() - bank.width() - 48, bank.height()))
        self._microsteps(painter, QRectF(area.left(), area.top() + area.height() * 0.66, area.width(), area.height() * 0.34))

    def _title(self, painter: QPainter, place: QPointF, text: str) -> None:
        painter.setFont(font(13, bold=True))
        painter.setPen(theme.color("ink"))
        painter.drawText(QPointF(place.x(), place.y() + 13), text)

    def _bank(self, painter: QPainter, area: QRectF) -> None:
        self._title(painter, area.topLeft(), "Current switches, power off")
        row = self.state.solution.get("switch_position")
        painter.setFont(font(12))
        if row is None:
            painter.setPen(theme.color("muted"))
            painter.drawText(area.adjusted(0, 30, 0, 0), Qt.TextFlag.TextWordWrap,
                             f"{sentence(self.state.reason_unknown('switch_position'))} Set the current as a number.")
            return
        body = QRectF(area.left(), area.top() + 30, 46.0 * len(row.switches) + 22, 92)
        painter.setPen(theme.pen("ink", 1.6))
        painter.setBrush(theme.color("blue"))
        painter.drawRoundedRect(body, 5, 5)
        for index, state in enumerate(row.switches):
            slot = QRectF(body.left() + 18 + 46 * index, body.top() + 18, 30, 50)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.color("ink", 120))
            painter.drawRect(slot)
            painter.setBrush(theme.color("panel"))
            painter.drawRect(QRectF(slot.left() + 3, slot.top() + (3 if state == "1" else 25), 24, 22))
            painter.setPen(theme.color("panel"))
            painter.drawText(QRectF(slot.left(), slot.bottom() + 3, 30, 18), Qt.AlignmentFlag.AlignCenter, str(index + 1))
        painter.drawText(QRectF(body.left(), body.top(), 40, 18), Qt.AlignmentFlag.AlignCenter, "on")
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(theme.color("muted"))
        words = ", ".join(f"{i} {'on' if s == '1' else 'off'}" for i, s in enumerate(row.switches, start=1))
        painter.drawText(QRectF(area.left(), body.bottom() + 6, area.width() + 20, 18), Qt.AlignmentFlag.AlignLeft, words)
        painter.drawText(QRectF(area.left(), body.bottom() + 24, area.width() + 20, 34), Qt.TextFlag.TextWordWrap,
                         f"gives {row.current_peak:g} A peak, the nearest not above")

    def _scale(self, painter: QPainter, area: QRectF) -> None:
        """One bar of current; above it in peak, beneath it in RMS, so that the factor between them is seen."""
        self._title(painter, area.topLeft(), "Phase current, the same on both scales")
        solution = self.state.solution
        peak, rated = solution.get("current_peak"), solution.get("rated_current_peak")
        limit = solution.get("current_limit")
        if peak is None and rated is None:
            painter.setFont(font(12))
            painter.setPen(theme.color("muted"))
            painter.drawText(area.adjusted(0, 30, 0, 0), Qt.TextFlag.TextWordWrap, "No current is set and none is rated.")
            return
        end = 1.18 * max(v for v in (peak, rated, limit) if v is not None)
        bar = QRectF(area.left() + 44, area.top() + 84, area.width() - 96, 16)

        def x(ampere: float) -> float:
            return float(bar.left() + bar.width() * ampere / end)

        painter.fillRect(bar, theme.color("terrain"))
        if peak is not None:
            painter.fillRect(QRectF(bar.left(), bar.top(), x(peak) - bar.left(), bar.height()), theme.color("blue"))
        painter.setFont(font(12))
        for factor, side, word in ((1.0, -1, "peak"), (math.sqrt(2), 1, "RMS")):
            painter.setPen(theme.color("muted"))
            y = bar.top() - 6 if side < 0 else bar.bottom() + 6
            painter.drawText(QRectF(area.left() - 4, y - 9, 40, 18),
                             Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, word)
            step = round_step(end / factor, MOST_NUMBERS)
            for number in range(int(end / factor / step) + 1):
                ampere = number * step
                place = x(ampere * factor)
                painter.drawLine(QPointF(place, y - 3), QPointF(place, y + 3))
                hidden = side < 0 and peak is not None and abs(place - x(peak)) < 12  # the pointer stands there
                painter.drawText(QRectF(place - 20, y - 22 if side < 0 else y + 5, 40, 16),
                                 Qt.AlignmentFlag.AlignCenter, "" if hidden else f"{ampere:g}")
        if peak is not None:
            self._pointer(painter, x(peak), bar, f"set {number_text(peak, 3)} A peak = {number_text(peak / math.sqrt(2), 3)} A RMS",
                          "accent", -44)
        rows = 0
        for value, word, color in ((rated, "motor rated", "good"), (limit, "driver at most", "tight")):
            if value is not None:
                self._pointer(painter, x(value), bar, f"{word} {number_text(value, 3)} A peak", color, 40 + 20 * rows)
                rows += 1

    def _pointer(self, painter: QPainter, x: float, bar: QRectF, text: str, color: str, shift: float) -> None:
        painter.setPen(theme.pen(color, 1.6))
        y = bar.top() + shift if shift < 0 else bar.bottom() + shift
        painter.drawLine(QPointF(x, bar.bottom() if shift < 0 else bar.top()), QPointF(x, y + (12 if shift < 0 else -2)))
        painter.setPen(theme.color(color))
        painter.setFont(font(14 if shift < 0 else 12, bold=shift < 0))
        if shift < 0:
            painter.drawText(QRectF(x - 200, y - 6, 400, 18), Qt.AlignmentFlag.AlignCenter, text)
        else:
            painter.drawText(QRectF(x - 406, y - 10, 400, 18), Qt.AlignmentFlag.AlignRight, text)
        tip = QPointF(x, bar.top() if shift < 0 else bar.bottom())
        painter.setBrush(theme.color(color))
        up = -7 if shift < 0 else 7
        painter.drawPolygon(QPolygonF([tip, tip + QPointF(-5, up), tip + QPointF(5, up)]))
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _microsteps(self, painter: QPainter, area: QRectF) -> None:
        """For each setting: the torque of one step against friction, and the pulses it needs against the limit."""
        solution = self.state.solution
        now, torque = solution.get("microsteps"), solution.get("set_torque")
        self._title(painter, area.topLeft(),
                    "Microsteps: finer is smoother; it places better only while one step still moves the load")
        if torque is None or now is None:
            return
        creeping = [solution.get(name, 0.0) for name in ("creep_torque_plus", "creep_torque_minus")]
        rate, limit = solution.get("pulse_rate"), solution.get("max_pulse_rate")
        width = area.width() / len(MICROSTEPS)
        for index, count in enumerate(MICROSTEPS):
            cell = QRectF(area.left() + width * index, area.top() + 24, width - 6, area.height() - 26)
            here = count == now
            painter.fillRect(cell, theme.color("terrain" if here else "panel"))
            if here:
                painter.setPen(theme.pen("accent", 2))
                painter.drawLine(cell.bottomLeft(), cell.bottomRight())
            painter.setFont(font(16, bold=True))
            painter.setPen(theme.color("accent" if here else "ink"))
            painter.drawText(QRectF(cell.left() + 6, cell.top() + 2, 60, 22), Qt.AlignmentFlag.AlignVCenter, str(count))
            moves = each_microstep_moves(count, *creeping, torque)
            painter.setFont(font(12))
            needed = None if rate is None else rate * count / now
            fits = limit is None or needed is None or needed <= limit
            painter.setPen(theme.color("short" if not fits else "good" if moves else "tight"))
            painter.drawText(QRectF(cell.left() + 6, cell.top() + 24, width - 12, 16), Qt.AlignmentFlag.AlignVCenter,
                             "too fast" if not fits else "each moves" if moves else "some wait")
            if needed is not None:
                painter.setPen(theme.color("muted" if fits else "short"))
                painter.drawText(QRectF(cell.left() + 6, cell.top() + 42, width - 8, 16), Qt.AlignmentFlag.AlignVCenter,
                                 f"{number_text(needed / 1e3, 3)} kHz")
