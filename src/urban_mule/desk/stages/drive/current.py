"""Current: one bar in peak and RMS with every limit, what is meant beside what flows, and how this driver takes it."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from urban_mule.core.drive.current import Language
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.painting import CENTRE, RIGHT, say, say_heading, say_lines
from urban_mule.desk.kit.picture import Painted, round_step
from urban_mule.desk.kit.theme import theme

THICKEST = 40.0  # px of a bar
MOST_NUMBERS = 8  # along a scale
LIMITS = (
    ("rated_current_peak", "motor rated", "good"),
    ("current_limit", "driver gives", "tight"),
    ("driver_current_limit", "limit as cooled", "violet"),
)
LANGUAGE = {
    ("number", True): "a number, RMS",
    ("number", False): "a number, peak",
    ("trimmer", False): "the trimmer",
    ("switches", False): "the switches",
    ("register", False): "a register",
}


def language_text(language: Language) -> str:
    """The value of a language as it is set."""
    value = language.value
    if value is None:
        return ""
    if language.way == "number":
        return f"{number_text(float(value), 3)} A {'RMS' if language.rms else 'peak'}"
    if language.way == "trimmer":
        return f"{number_text(float(value), 3)} V"
    return " ".join(str(value)) if language.way == "switches" else f"step {value}"


class CurrentPicture(Painted):
    """What to set so that the current meant flows."""

    def says(self) -> tuple[str, str] | None:
        """What a servo's drive does by itself; of a stepper's a verdict says it."""
        if self.state.axis.motor_kind != "servo" or self.state.solution.get("pulse_rate") is None:
            return None
        return ("The drive of a servo sets the current by itself, as much as the load asks.",
                "Set its limit to what the motor is rated for.")

    def paint(self, painter: QPainter, area: QRectF) -> None:
        solution = self.state.solution
        languages = solution.get("current_languages", ())
        own = next((one for one in languages if one.own), None)
        self.setAccessibleName("Driver current in every language" + (f"; this driver takes {language_text(own)}" if own else ""))
        if self.state.axis.motor_kind == "servo":
            say_lines(
                painter,
                area,
                "A servo's drive commutates its own current: nothing is set by hand. Its electronic gear says how"
                " many counts a pulse moves.",
                "muted",
                15,
            )
            return
        if solution.get("current_peak") is None and solution.get("rated_current_peak") is None:
            say_lines(painter, area, "No current is set and none is rated. Type the current that is to flow in a phase, as peak;"
                      " this shows it as RMS, as volts of a trimmer, as switches and as a register step, and against what motor and"
                      " driver are rated for.", "muted", 15)
            return
        wide = area.width() * 0.56
        self._bars(painter, QRectF(area.left(), area.top(), wide, area.height()))
        self._languages(painter, languages, QRectF(area.left() + wide + 32, area.top(), area.width() - wide - 32, area.height()))

    def _bars(self, painter: QPainter, area: QRectF) -> None:
        solution = self.state.solution
        peak, flows = solution.get("current_peak"), solution.get("current_as_typed")
        wrong = peak is not None and flows is not None and abs(flows / peak - 1) > 1e-3
        limits = [(value, word, color) for name, word, color in LIMITS if (value := solution.get(name)) is not None]
        end = 1.16 * max([value for value, _, _ in limits] + [value for value in (peak, flows) if value is not None])
        say_heading(painter, area, "One current, peak above and RMS beneath")
        thick = min(THICKEST, max(18.0, 0.12 * area.height()))
        bar = QRectF(area.left() + 44, area.top() + max(72.0, 0.3 * area.height()), area.width() - 60, thick)

        def x(ampere: float) -> float:
            return float(bar.left() + bar.width() * min(ampere / end, 1.0))

        painter.fillRect(bar, theme.color("terrain"))
        if peak is not None:
            painter.fillRect(QRectF(bar.left(), bar.top(), x(peak) - bar.left(), bar.height()), theme.color("blue"))
        below = bar.bottom()
        if wrong:
            assert flows is not None and peak is not None
            second = bar.translated(0, bar.height() + 3)
            painter.fillRect(second, theme.color("terrain"))
            painter.fillRect(QRectF(second.left(), second.top(), x(flows) - second.left(), second.height()), theme.color("short"))
            self._in_bar(painter, bar, x(peak), "meant")
            self._in_bar(painter, second, x(flows), f"current if typed unchanged: {number_text(flows / peak, 3)} times")
            below = second.bottom()
        self._scales(painter, bar, below, end)
        if peak is not None:
            self._pointer(painter, x(peak), bar, f"{number_text(peak, 3)} A peak = {number_text(peak / math.sqrt(2), 3)} A RMS")
        labels = []
        for row, (value, word, color) in enumerate(sorted(limits)):
            y = below + 34 + max(20.0, min(30.0, 0.09 * area.height())) * row
            painter.setPen(theme.pen(color, 1.4))
            painter.drawLine(QPointF(x(value), below), QPointF(x(value), y + 8))
            text = f"{word} {number_text(value, 3)} A peak"
            left = x(value) - bar.left() > 8 * len(text)  # then no stroke of a greater limit runs through the words
            place = QRectF(x(value) - 306, y, 300, 16) if left else QRectF(x(value) + 6, y, 300, 16)
            labels.append((place, text, color, RIGHT if left else Qt.AlignmentFlag.AlignLeft))
        for place, text, color, side in labels:
            say(painter, place, text, color, 12, align=side, clear=True)

    @staticmethod
    def _in_bar(painter: QPainter, bar: QRectF, end: float, text: str) -> None:
        """Words in a bar, or behind it where they do not fit into it."""
        room = end - bar.left() - 10
        fits = room > 7 * len(text)
        place = QRectF(bar.left() + 6, bar.top(), room, bar.height()) if fits else QRectF(end + 6, bar.top(), 320, bar.height())
        say(painter, place, text, "panel" if fits else "ink", 12)

    def _scales(self, painter: QPainter, bar: QRectF, below: float, end: float) -> None:
        for factor, y, up, word in ((1.0, bar.top() - 4, True, "peak"), (math.sqrt(2), below + 4, False, "RMS")):
            say(painter, QRectF(bar.left() - 46, y - 14 if up else y - 2, 40, 18), word, "muted", align=RIGHT)
            step = round_step(end / factor, MOST_NUMBERS)
            for number in range(int(end / factor / step) + 1):
                place = bar.left() + bar.width() * number * step * factor / end
                painter.setPen(theme.color("muted"))
                painter.drawLine(QPointF(place, y - 2), QPointF(place, y + 2))
                say(painter, QRectF(place - 20, y - 18 if up else y + 2, 40, 14), f"{number * step:g}", "muted", 12, align=CENTRE)

    @staticmethod
    def _pointer(painter: QPainter, x: float, bar: QRectF, text: str) -> None:
        y = bar.top() - 40
        left = min(max(x - 150, bar.left() - 40), bar.right() - 296)
        say(painter, QRectF(left, y - 8, 300, 20), text, "accent", 15, bold=True, align=CENTRE)
        painter.setPen(theme.pen("accent", 1.6))
        painter.drawLine(QPointF(x, y + 12), QPointF(x, bar.top()))
        painter.setBrush(theme.color("accent"))
        painter.drawPolygon(QPolygonF([QPointF(x, bar.top()), QPointF(x - 5, bar.top() - 7), QPointF(x + 5, bar.top() - 7)]))
        painter.setBrush(Qt.BrushStyle.NoBrush)

    @staticmethod
    def _languages(painter: QPainter, languages: tuple[Language, ...], area: QRectF) -> None:
        """How this driver takes it, large; a row for each way while nobody has said which it is."""
        unsaid = not any(one.own for one in languages)
        say_heading(painter, area, "The same current, as it may be set" if unsaid else "To be set")
        languages = tuple(one for one in languages if one.own or unsaid)  # the others this driver does not take
        top = area.top() + (26 if unsaid else max(40.0, 0.3 * area.height() - 12))
        room = min(64.0 if not unsaid else 42.0, (area.height() - 30) / max(len(languages), 1))
        for one in languages:
            row = QRectF(area.left(), top, area.width(), room)
            if one.own:
                painter.fillRect(row, theme.color("terrain"))
                painter.fillRect(QRectF(row.left(), row.top(), 4, row.height()), theme.color("accent"))
            say(
                painter,
                QRectF(row.left() + 12, row.top(), 110, room),
                LANGUAGE[one.way, one.rms],
                "ink" if one.own else "muted",
                13,
            )
            text = language_text(one)
            place = QRectF(row.left() + 124, row.top(), row.width() - 132, room)
            if text:
                say(painter, place, text, "accent" if one.own else "ink", 30 if one.own else 14, bold=one.own)
            else:
                say_lines(painter, place.adjusted(0, 8, 0, 0), one.why, "muted", 12)
            top += room
        if unsaid and languages:
            say_lines(
                painter,
                QRectF(area.left(), top + 4, area.width(), max(16.0, area.bottom() - top)),
                "How this driver takes it is not said: choose it, and whether a number means RMS or peak.",
                "muted",
            )
