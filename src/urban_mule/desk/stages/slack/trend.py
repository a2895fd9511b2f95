"""Trend: the backlash over the days, where its line meets the limit, and what was repaired in between."""

from __future__ import annotations

from datetime import UTC, datetime
from textwrap import wrap

import numpy as np
from PyQt6.QtWidgets import QWidget

from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.slack.reversal import backlash, reversal_profile
from urban_mule.core.slack.trend import limit_of
from urban_mule.desk.kit.chart import DASH, ChartPicture
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.travel_units import small
from urban_mule.store.solve import SECONDS_A_DAY

AHEAD = 0.6  # of the time measured so far that is looked ahead, more where the limit is further
MOST_AHEAD = 3.0
WORDS = 26  # letters of a line of what was repaired
NUMBERED = 24  # sets, the newest, whose number stands beside its mark: of more nobody could read one


class TrendPicture(ChartPicture):
    """Sets by their day, the line through them on to the limit, repairs as strokes."""

    needs = frozenset({"reversal_history", "backlash_limit", "accuracy_wanted"})
    about = "Backlash over the days"

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        session.book_changed.connect(self._anew)

    def redraw(self) -> None:
        (to_small, unit), solution, chart = small(self.state), self.state.solution, self.chart
        chart.name_axes("", f"backlash, {unit}")
        sets = solution.get("reversal_history")
        if sets is None:
            chart.empty("No dated reversal readings yet. Three sets or more, weeks apart, show a trend.")
            return
        chart.restart()
        days = np.array([one.day for one in sets])
        sizes = np.array([backlash(reversal_profile(one.reading)) for one in sets]) * to_small
        line, limit = solution.get("wear_line"), self._limit()
        span = float(np.ptp(days)) or 30.0
        left = solution.get("wear_days_left")
        ahead = AHEAD * span if left is None else min(max(1.15 * left, AHEAD * span), MOST_AHEAD * span)
        end = float(days.max()) + ahead
        high = max(float(sizes.max()), 0.0 if limit is None else limit * to_small)
        begin = float(days.min()) - 0.1 * (span + ahead)
        chart.frame((begin, end), (0.0, 1.25 * high))
        if limit is not None:
            chart.horizontal(limit * to_small, "short", 1.4, DASH)
            chart.text(end, limit * to_small, "mend it from here on ", "short", (1, 1), 12)
        if line is not None:
            at = np.array([float(line.days.min()), float(days.max()), end])
            there = line.line.at(at) * to_small
            chart.line(at[:2], there[:2], "accent", 2.2)
            chart.line(at[1:], there[1:], "accent", 1.6, DASH)
        chart.dots(days, sizes, "accent", 9)
        for day, size in list(zip(days, sizes, strict=True))[-NUMBERED:]:
            chart.text(float(day), float(size), f"{size:.3g}", "ink", (0.5, 1.3), 13, True)
        ticks = [(float(day), f"{dated(day):%-d %b %Y}") for day in (days.min(), days.max())]
        if left is not None and days.max() + left <= end:
            due = float(days.max() + left)
            chart.line([due, due], [0, 1.25 * high], "tight", 1.4)
            chart.text(due, 1.2 * high, f"due {dated(due):%-d %b %Y}", "tight", (1.05, 0), 13, True)
        self._repairs(begin, end, 1.25 * high)
        chart.axes["bottom"].setTicks([ticks])

    def _limit(self) -> float | None:
        solution = self.state.solution
        try:
            return limit_of(solution.get("backlash_limit"), solution.get("accuracy_wanted"))
        except NotKnown:
            return None

    def _repairs(self, first: float, end: float, high: float) -> None:
        """What the log says was repaired on this axis, at its day."""
        for entry in self.session.entries():
            day = entry.time.timestamp() / SECONDS_A_DAY
            if entry.kind == "repaired" and entry.subject == self.state.id and first <= day <= end:
                self.chart.line([day, day], [0, high], "good", 1.4)
                self.chart.text(day, high, "\n".join(wrap(entry.text, WORDS)), "good", (-0.06, 0), 12)


def dated(day: float) -> datetime:
    """The date of a day as the history of the readings counts it."""
    return datetime.fromtimestamp(float(day) * SECONDS_A_DAY, UTC)
