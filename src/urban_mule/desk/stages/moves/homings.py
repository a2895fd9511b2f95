"""Homings: where the axis stands after each, beside the size of a full step."""

from __future__ import annotations

import numpy as np

from urban_mule.desk.kit.chart import DASH, ChartPicture
from urban_mule.desk.model.travel_units import small


class HomingsPicture(ChartPicture):
    """Places over the number of the homing; full steps as lines."""

    needs = frozenset({"homing_reading", "homing_scatter", "step_angle", "travel_per_radian"})
    about = "Homing: where it stands, time after time"

    def redraw(self) -> None:
        (to_small, unit), solution, chart = small(self.state), self.state.solution, self.chart
        chart.name_axes("homing", f"place, {unit}")
        reading = solution.get("homing_reading")
        if reading is None:
            return
        chart.restart()
        places = reading.places * to_small
        step, r = solution.get("step_angle"), solution.get("travel_per_radian")
        full = None if step is None or r is None else float(step * r * to_small)
        middle = float(np.median(places))
        span = max(float(np.ptp(places)), 1e-9)
        if full is not None and 0.2 * full < span:
            span = max(span, 1.2 * full)
        chart.frame((0.5, places.size + 0.5), (middle - 0.9 * span, middle + 0.9 * span))
        if full is not None and full < 1.8 * span:
            for n in range(-4, 5):
                if abs(n * full) < 0.9 * span:
                    chart.horizontal(middle + n * full, "muted", 1.0, DASH)
            chart.text(places.size + 0.5, middle + (full if full < 0.9 * span else 0), "a full step", "muted", (1, 1.2), 12)
        numbers = np.arange(1, places.size + 1)
        chart.line(numbers, places, "line", 1.2)
        chart.dots(numbers, places, "blue", 9, "o")
        scatter = solution.get("homing_scatter")
        if scatter is not None:
            s = scatter * to_small
            mean = float(places.mean())
            chart.band(np.array([0.5, places.size + 0.5]), np.full(2, mean - 2 * s), np.full(2, mean + 2 * s), "accent", 30)
            chart.text(0.6, mean + 2 * s, f"scatters by {s:.3g} {unit}", "accent", (0, 1.2), 13)
