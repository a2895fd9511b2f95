"""Response: what was commanded and what the axis did, laid over each other, with overshoot, settling and ringing marked."""

from __future__ import annotations

import numpy as np
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.core.ring.response import BAND, Answer
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.chart import DASH, Chart
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.travel_units import drawn_in, small

LONG = 4.0  # times the settling that is seen after the command rests
BEFORE = 0.15  # of what is seen, before the command rests


class AnswerPicture(Picture):
    """The last response, and beneath it how far it was from its command; a verdict says what to turn next."""

    needs = frozenset({"response_answer", "response_ringing", "response_settling_time", "response_overshoot"})

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.chart = Chart("", "", "The last response, command and actual value over time")
        self.error = Chart("", "", "How far the actual value is from the command, over time")
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        box.addWidget(self.chart, 3)
        box.addWidget(self.error, 2)

    def says(self) -> tuple[str, str] | None:
        """Where nothing was taken, what to take; else a verdict says it."""
        if self.state.solution.get("response_answer") is None:
            return ("No response was taken.",
                    "A short move, command and actual value as the drive's trace shows them: by wire or as CSV.")
        return None

    def redraw(self) -> None:
        chart = self.chart
        answer: Answer | None = self.state.solution.get("response_answer")
        self.said_anew.emit()
        if answer is None:
            chart.name_axes("", "")
            chart.empty("No response was taken yet. Take one: response, below.")
            self.error.hide()
            return
        self.error.show()
        one, speed = answer.reading, answer.reading.of == "speed"
        scale, unit = drawn_in(self.state, "[travel]/s" if speed else "[travel]")
        chart.name_axes("", f"{'speed' if speed else 'position'}, {unit}", scale)
        chart.restart()
        time = 1000 * one.time
        rest = time[min(answer.rest, time.size - 1)]
        low, high = (float(end(np.concatenate([one.commanded, one.actual]))) for end in (np.min, np.max))
        room = 0.12 * (high - low or 1.0)
        chart.frame((float(time[0]), float(time[-1])), (low - room, high + 1.6 * room))
        last, within = float(one.commanded[-1]), BAND * abs(answer.change)
        if answer.change:
            chart.band([rest, time[-1]], [last - within] * 2, [last + within] * 2, "good", 50)
        chart.line(time, one.commanded, "muted", 1.6, DASH)
        chart.line(time, one.actual, "accent", 2.2)
        chart.text(float(time[0]), high + 1.4 * room, " dashed: command; full: actual", "muted", (0, 0), 12)
        self._marks(answer, float(rest), low - room, high + room)
        self._error(answer, time, float(rest), *((scale, unit) if speed else small(self.state)))

    def _error(self, answer: Answer, time: np.ndarray, rest: float, scale: float, unit: str) -> None:
        """How far it is from its command."""
        chart, off = self.error, answer.reading.actual - answer.reading.commanded
        chart.name_axes("time, ms", f"off, {unit}", scale)
        chart.restart()
        most = 1.15 * float(np.abs(off).max()) or 1.0
        chart.frame((float(time[0]), float(time[-1])), (-most, most))
        chart.horizontal(0.0, "line")
        chart.line([rest, rest], [-most, most], "muted", 1.0, DASH)
        chart.line(time, off, "blue", 1.8)
        chart.text(float(time[0]), most, " actual less command", "muted", (0, 0), 12)

    def _marks(self, answer: Answer, rest: float, low: float, high: float) -> None:
        get, chart, last = self.state.solution.get, self.chart, float(answer.reading.commanded[-1])
        chart.line([rest, rest], [low, high], "muted", 1.0, DASH)
        chart.text(rest, low, " command rests", "muted", (1, 1), 12)
        settles = get("response_settling_time")
        if settles:
            at = rest + 1000 * float(settles)
            chart.line([at, at], [low, high], "good", 1.8)
            chart.text(at, high, f" settled after {number_text(1000 * float(settles), 3)} ms", "good", (0, 0), 13, True)
        over = get("response_overshoot")
        if over and over > BAND:
            peak = int(np.argmax(answer.error))
            value = float(answer.reading.actual[peak])
            chart.dots([1000 * answer.reading.time[peak]], [value], "short", 9)
            said = f" overshoots by {number_text(100 * float(over), 3)} %"
            chart.text(1000 * float(answer.reading.time[peak]), value, said, "short", (0, 1), 13, True)
        rings = get("response_ringing")
        if rings is not None:
            chart.text(rest, last, f" rings at {number_text(float(rings), 3)} Hz", "short", (0, 1), 13, True)
