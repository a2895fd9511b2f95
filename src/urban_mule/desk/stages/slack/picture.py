"""Slack: readings from both directions along the travel, and the trend of the backlash over the rounds of measuring."""

from __future__ import annotations

from datetime import datetime

import numpy as np
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from urban_mule.core.slack.reversal import backlash, reversal_profile
from urban_mule.desk.kit.chart import DASH, Chart
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.model.session import Session
from urban_mule.desk.model.travel_units import small, travel


class SlackPicture(Picture):
    """Both directions along the travel; the gap between them is the backlash."""

    needs = frozenset({"reversal_reading", "accuracy_wanted"})

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.along = Chart("", "", "Reversal readings along the travel")
        self.trend = Chart("", "", "Backlash over time")
        self.trend.setFixedWidth(270)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(8)
        box.addWidget(self.along, 1)
        box.addWidget(self.trend)

    def redraw(self) -> None:
        (to_small, small_unit), (to_travel, unit) = small(self.state), travel(self.state)
        self.along.name_axes(f"position, {unit}", f"deviation, {small_unit}")
        self.trend.name_axes("rounds of measuring", f"backlash, {small_unit}")
        reading = self.state.solution.get("reversal_reading")
        if reading is None:
            self.along.empty("No reversal readings yet. Take some, or drop a CSV here.")
            self.trend.empty("")
            return
        chart = self.along
        chart.restart()
        targets = reading.targets * to_travel
        order = np.argsort(targets)
        up, down = reading.up[:, order] * to_small, reading.down[:, order] * to_small
        targets = targets[order]
        chart.band(targets, up.mean(axis=0), down.mean(axis=0), "violet", 36)
        sides = ((up, "blue", "up", "approached to plus"), (down, "violet", "down", "approached to minus"))
        for table, color, symbol, name in sides:
            for row in table:
                chart.dots(targets, row, color, 8, symbol, filled=False)
            chart.line(targets, table.mean(axis=0), color, 2.2)
            above = table.mean() > (up.mean() + down.mean()) / 2
            edge = float(table.max() if above else table.min())
            chart.text(float(targets[-1]), edge, name, color, (1, 1.2 if above else -0.2), 13)
        low, high = min(up.min(), down.min()), max(up.max(), down.max())
        room = 0.28 * (high - low or 1.0)
        chart.frame((targets[0] - 0.05 * np.ptp(targets), targets[-1] + 0.05 * np.ptp(targets)), (low - room, high + room))
        middle = len(targets) // 2
        chart.text(float(targets[middle]), float((up[:, middle].mean() + down[:, middle].mean()) / 2),
                   f"{self.state.solution['backlash'] * to_small:.3g} {small_unit}", "ink", (0.5, 0.5), 20, True)
        self._trend(to_small, small_unit)

    def _trend(self, to_small: float, unit: str) -> None:
        readings = [r for r in self.state.axis.readings if r.kind == "reversal"]
        values = [backlash(reversal_profile(r.core)) * to_small for r in readings]
        chart, wanted = self.trend, self.state.solution.get("accuracy_wanted")
        chart.restart()
        places = list(range(1, len(values) + 1))
        near = wanted is not None and wanted * to_small < 3 * max(values)
        chart.frame((0.5, len(values) + 0.7), (0, 1.25 * max(*values, wanted * to_small if near else 0.0)))
        chart.line(places, values, "accent", 2.2)
        chart.dots(places, values, "accent", 9)
        if near:
            chart.horizontal(wanted * to_small, "muted", 1.2, DASH)
            chart.text(0.6, wanted * to_small, "accuracy wanted", "muted", (0, 1), 12)
        days = [_day(r.taken) or f"{i}" for i, r in enumerate(readings, start=1)]
        chart.axes["bottom"].setTicks([list(zip(places, days, strict=True))])
        for place, value in zip(places, values, strict=True):
            chart.text(place, value, f"{value:.3g}", "ink", (0.5, 1.3), 13, True)


def _day(taken: str) -> str:
    try:
        time = datetime.fromisoformat(taken)
    except ValueError:
        return ""
    return f"{time.day} {time:%b}"
