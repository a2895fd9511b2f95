"""Lengths: how far each was off, the line whose slope is the scale, its offset apart, and what the temperature explains."""

from __future__ import annotations

import numpy as np

from urban_mule.core.sheet.shown import solved_text
from urban_mule.desk.kit.chart import DASH, ChartPicture
from urban_mule.desk.model.travel_units import small, travel


class LengthsPicture(ChartPicture):
    """Measured less commanded over the commanded length."""

    needs = frozenset({"lengths_reading", "thermal_scale", "length_slope_uncertainty"})
    about = "Lengths: measured less commanded"

    def says(self) -> tuple[str, str] | None:
        """Scale and offset by the line through the lengths."""
        solution, system = self.state.solution, self.state.system
        if solution.get("length_slope") is None:
            return "No lengths are measured yet.", "Two or more lengths tell the scale from the zero of the gauge."
        scale, offset = (solved_text(solution, name, system) for name in ("length_slope", "length_offset"))
        return f"Over these lengths it moved {scale} of what was commanded; {offset} is the zero of the gauge, no scale.", ""

    def redraw(self) -> None:
        (to_small, small_unit), (to_travel, unit) = small(self.state), travel(self.state)
        solution, chart = self.state.solution, self.chart
        chart.name_axes(f"commanded, {unit}", f"measured less commanded, {small_unit}")
        reading = solution.get("lengths_reading")
        if reading is None:
            chart.empty("No lengths yet. Two or more lengths tell the scale from the zero of the gauge: take lengths, below.")
            return
        chart.restart()
        lengths = reading.commanded
        off = (reading.measured - lengths) * to_small
        line = solution["length_line"]
        ends = np.array([0.0, float(lengths.max()) * 1.06])
        straight = (line.at(ends) - ends) * to_small
        heat = solution.get("thermal_scale")
        warm = straight if heat is None else straight[0] + heat * ends * to_small
        low = min(float(np.nanmin(off)), float(straight.min()), float(warm.min()), 0.0)
        high = max(float(np.nanmax(off)), float(straight.max()), float(warm.max()), 0.0)
        room = 0.25 * (high - low or 1.0)
        chart.frame((0.0, float(ends[1] * to_travel)), (low - room, high + room))
        chart.horizontal(0.0, "muted", 1.0)
        u = solution.get("length_slope_uncertainty")
        if u is not None:
            wide = 2 * u * np.abs(ends - lengths.mean()) * to_small
            chart.band(ends * to_travel, straight - wide, straight + wide, "accent", 36)
        for row in off:
            chart.dots(lengths * to_travel, row, "blue", 8, "o", filled=False)
        chart.line(ends * to_travel, straight, "accent", 2.2)
        slope = (line.slope - 1) * 100
        clear = -0.3 if line.slope < 1 else 1.3  # of the readings, which lie on the other side of a line that falls
        chart.text(float(ends[1] * to_travel), float(straight[1]), f"scale {slope:+.3g} %", "accent", (1, clear), 15, True)
        chart.text(0.0, float(straight[0]), f"offset {straight[0]:+.3g} {small_unit}, no scale", "ink", (0, 1.3), 12)
        if heat is not None:
            chart.line(ends * to_travel, warm, "violet", 1.6, DASH)
            chart.text(float(ends[1] * to_travel), float(warm[1]), "temperature alone", "violet", (1, 1.3), 12)
