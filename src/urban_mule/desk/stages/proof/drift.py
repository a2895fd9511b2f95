"""Drift: how a place wanders while the machine warms, the rise through it, and how long to wait."""

from __future__ import annotations

import numpy as np

from urban_mule.desk.kit.chart import DASH, ChartPicture
from urban_mule.desk.model.travel_units import small


class DriftPicture(ChartPicture):
    """Readings over the minutes from cold."""

    needs = frozenset({"drift_reading", "drift_rise", "warm_up_time_needed"})
    about = "Drift while it warms"

    def redraw(self) -> None:
        (to_small, unit), get, chart = small(self.state), self.state.solution.get, self.chart
        chart.name_axes("minutes from the cold start", f"drift, {unit}")
        reading, rise, wait = get("drift_reading"), get("drift_rise"), get("warm_up_time_needed")
        if reading is None:
            chart.empty("No warm-up run yet: stand the indicator at one place from cold, and read it as it warms. Measure warm-up"
                        " drift, below.")
            return
        chart.restart()
        minutes, values = reading.time / 60, reading.deviation * to_small
        end = 1.05 * max(float(minutes[-1]), float(wait or 0.0) / 60)
        low, high = min(0.0, float(values.min())), max(0.0, float(values.max()))
        if rise is not None:
            start, final = rise.start * to_small, (rise.start + rise.rise) * to_small
            low, high = min(low, start, final), max(high, start, final)
        room = 0.15 * (high - low or 1.0)
        chart.frame((0.0, end), (low - room, high + room))
        if rise is not None:
            time = np.linspace(0, end, 200)
            chart.line(time, start - rise.rise * to_small * np.expm1(-time * 60 / rise.time_constant), "accent", 2.0)
            chart.horizontal(final, "muted", 1.0, DASH)
            began = f", from {start:.3g} {unit} at the start" if start else ""
            chart.text(0.02 * end, final, f"final drift {rise.rise * to_small:.3g} {unit}{began}", "muted", (0, 1.1), 12)
        if wait is not None:
            chart.line([wait / 60] * 2, [low - room, high + room], "good", 1.2, DASH)
            chart.text(wait / 60, low, f"warm after {wait / 60:.0f} minutes ", "good", (1, 1), 13)
        chart.dots(minutes, values, "blue", 9, "o")
