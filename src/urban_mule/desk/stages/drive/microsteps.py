"""Microsteps: what each count costs and gives, the three schools with the number that decides, and which of them wins here."""

from __future__ import annotations

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter

from urban_mule.core.drive.microsteps import COUNTS, MicrostepSchool
from urban_mule.core.drive.stepper import each_microstep_moves
from urban_mule.core.sheet.units import number_text, show
from urban_mule.desk.kit.painting import say, say_heading, say_lines
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import theme

CELL = 78.0  # px in height of what stands beneath a count


class MicrostepsPicture(Painted):
    """The trade-off, and the schools."""

    def paint(self, painter: QPainter, area: QRectF) -> None:
        solution = self.state.solution
        schools: tuple[MicrostepSchool, ...] = solution.get("microstep_schools", ())
        wins = next((one for one in schools if one.wins), None)
        self.setAccessibleName("Microsteps" + (f": {wins.words}, {wins.decides}" if wins else ""))
        if self.state.axis.motor_kind == "servo":
            say_lines(
                painter, area, "A servo counts its encoder; its electronic gear says how many counts a pulse moves.", "muted", 15
            )
            return
        self._counts(painter, QRectF(area.left(), area.top(), area.width(), CELL + 26))
        self._schools(painter, schools, QRectF(area.left(), area.top() + CELL + 36, area.width(), area.height() - CELL - 36))

    def _counts(self, painter: QPainter, area: QRectF) -> None:
        """For each count: whether one pulse still moves the load, and the pulses it needs against the limit."""
        solution = self.state.solution
        now, torque = solution.get("microsteps"), solution.get("set_torque")
        say_heading(painter, area, "Finer is smoother; it places better only while one step still moves the load")
        if now is None:
            say(
                painter, QRectF(area.left(), area.top() + 24, area.width(), 18), "No count of microsteps is given yet.", "muted", 13
            )
            return
        creeping = [solution.get(name, 0.0) for name in ("creep_torque_plus", "creep_torque_minus")]
        rate, limit, length = (solution.get(name) for name in ("pulse_rate", "pulse_rate_limit", "step_length"))
        wide = area.width() / len(COUNTS)
        for place, count in enumerate(COUNTS):
            cell = QRectF(area.left() + wide * place, area.top() + 24, wide - 6, CELL)
            here = count == now
            painter.fillRect(cell, theme.color("terrain" if here else "panel"))
            painter.fillRect(QRectF(cell.left(), cell.bottom() - 2, cell.width(), 2), theme.color("accent" if here else "line"))
            say(
                painter,
                QRectF(cell.left() + 6, cell.top() + 2, wide - 12, 22),
                str(count),
                "accent" if here else "ink",
                17,
                bold=True,
            )
            needed = None if rate is None else rate * count / now
            fits = limit is None or needed is None or needed <= limit
            if torque is not None:
                moves = bool(each_microstep_moves(count, *creeping, torque))
                word, color = ("too fast", "short") if not fits else ("each moves", "good") if moves else ("some wait", "tight")
                say(painter, QRectF(cell.left() + 6, cell.top() + 24, wide - 12, 16), word, color)
            if length is not None:
                said = show(
                    float(length * now / count),
                    self.state.sheet.unit("step_length"),
                    self.state.system,
                    2,
                    own=self.state.sheet.shown("step_length"),
                )
                say(painter, QRectF(cell.left() + 6, cell.top() + 41, wide - 12, 16), str(said), "muted")
            if needed is not None:
                say(
                    painter,
                    QRectF(cell.left() + 6, cell.top() + 58, wide - 12, 16),
                    f"{number_text(needed / 1e3, 3)} kHz",
                    "muted" if fits else "short",
                )

    def _schools(self, painter: QPainter, schools: tuple[MicrostepSchool, ...], area: QRectF) -> None:
        """A row a school: what it sets, the number that decides, and which wins."""
        say_heading(painter, area, "Three approaches, each right under its condition")
        high = min(44.0, (area.height() - 24) / 4)
        for row, one in enumerate(schools):
            line = QRectF(area.left(), area.top() + 22 + high * row, area.width(), high)
            if one.wins:
                painter.fillRect(line, theme.color("terrain"))
                painter.fillRect(QRectF(line.left(), line.top(), 4, high), theme.color("accent"))
            color = "accent" if one.wins else "ink" if one.holds else "muted"
            say(painter, QRectF(line.left() + 12, line.top(), 200, high), one.words, color, 13, bold=one.wins)
            say(
                painter,
                QRectF(line.left() + 212, line.top(), 60, high),
                "–" if one.microsteps is None else str(one.microsteps),
                color,
                15,
                bold=True,
            )
            say(
                painter,
                QRectF(line.left() + 266, line.top(), line.width() - 356, high),
                one.decides,
                "ink" if one.holds else "muted",
            )
            say(
                painter,
                QRectF(line.right() - 84, line.top(), 84, high),
                "wins here" if one.wins else "would do" if one.holds else "does not do",
                color,
                12,
                bold=one.wins,
            )
        smooth, lag = self.state.solution.get("smooth_step_length"), self.state.solution.get("interpolation_lag")
        if smooth is not None and lag is not None:
            made = show(
                float(smooth),
                self.state.sheet.unit("smooth_step_length"),
                self.state.system,
                2,
                own=self.state.sheet.shown("smooth_step_length"),
            )
            say(
                painter,
                QRectF(area.left(), area.top() + 24 + high * len(schools), area.width(), 18),
                f"Interpolated, it moves in steps of {made} and lags by one pulse, {number_text(lag * 1e6, 2)} µs at top speed;"
                " places are still whole pulses.",
                "muted",
            )
