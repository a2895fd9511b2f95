"""Reversal: readings from both directions along the travel."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.repeats import mean_of
from urban_mule.desk.kit.chart import ChartPicture
from urban_mule.desk.model.travel_units import small, travel


class ReversalPicture(ChartPicture):
    """Both directions along the travel; the gap between them is the backlash."""

    needs = frozenset({"reversal_reading"})
    about = "Reversal readings along the travel"

    def redraw(self) -> None:
        (to_small, small_unit), (to_travel, unit) = small(self.state), travel(self.state)
        self.chart.name_axes(f"position, {unit}", f"deviation, {small_unit}")
        reading = self.state.solution.get("reversal_reading")
        if reading is None:
            self.chart.empty("No reversal readings yet. Take some, or drop a CSV here.")
            return
        chart = self.chart
        chart.restart()
        targets = reading.targets * to_travel
        order = np.argsort(targets)
        up, down = reading.up[:, order] * to_small, reading.down[:, order] * to_small
        targets = targets[order]
        means = {"up": mean_of(up), "down": mean_of(down)}  # of what is not struck out
        chart.band(targets, means["up"], means["down"], "violet", 36)
        middles = (means["up"] + means["down"]) / 2
        sides = ((up, "blue", "up", "towards plus"), (down, "violet", "down", "towards minus"))
        for table, color, way, name in sides:
            for row in table:
                chart.dots(targets, row, color, 8, way, filled=False)
            chart.line(targets, means[way], color, 2.2)
            above = means[way].mean() > middles.mean()
            edge = float(np.nanmax(table) if above else np.nanmin(table))
            chart.text(float(targets[-1]), edge, name, color, (1, 1.2 if above else -0.2), 13)
        low, high = min(np.nanmin(up), np.nanmin(down)), max(np.nanmax(up), np.nanmax(down))
        room = 0.28 * (high - low or 1.0)
        chart.frame((targets[0] - 0.05 * np.ptp(targets), targets[-1] + 0.05 * np.ptp(targets)), (low - room, high + room))
        middle = len(targets) // 2
        chart.text(float(targets[middle]), float(middles[middle]),
                   f"{self.state.solution['backlash'] * to_small:.3g} {small_unit}", "ink", (0.5, 0.5), 20, True)
