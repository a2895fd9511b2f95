"""Torque at the tool over its speed, continuous and for a short time, with the cut on it and where the mains ends it."""

from __future__ import annotations

import numpy as np

from urban_mule.core.sheet.units import RPM
from urban_mule.core.spindle.given import SHORT_TIME
from urban_mule.core.spindle.power import phase_share
from urban_mule.desk.kit.chart import DASH, ChartPicture, ceiling
from urban_mule.desk.model.travel_units import drawn_in

POINTS = 160


class CurvePicture(ChartPicture):
    """Two curves of the motor at the tool; the cut is a point."""

    about = "Torque at the tool over its speed"

    def redraw(self) -> None:
        chart, get = self.chart, self.state.solution.get
        times, unit = drawn_in(self.state, "N·m")
        chart.name_axes("speed of the tool, turns a minute", f"torque at the tool, {unit}", times)
        power, torque, limit = get("rated_power"), get("rated_torque"), get("spindle_speed_limit")
        if power is None or torque is None or limit is None:
            chart.empty("Give rated power, rated torque and greatest speed of the motor: they make its curve.")
            return
        chart.restart()
        ratio, efficiency = float(get("ratio")), float(get("efficiency"))
        share = float(phase_share(get("phases_in"), get("single_phase_derate")))
        speeds = np.linspace(0.0, float(limit), POINTS)
        turning = np.maximum(speeds, 1e-9)
        day = efficiency * np.minimum(torque * ratio, share * power / turning)
        peak = get("peak_torque")
        short = None if peak is None else efficiency * np.minimum(
            peak * ratio, share * (get("short_time_power") or SHORT_TIME * power) / turning)
        cut_torque, cut_speed = get("cutting_torque"), get("cut_speed")
        wanted = float(get("highest_speed") or 0.0)
        high = ceiling(1.12 * max(float((day if short is None else short).max()), float(cut_torque or 0.0)))
        far = ceiling(1.12 * max(float(limit), wanted, float(cut_speed or 0.0)) / RPM)
        chart.frame((0.0, far), (0.0, high))
        chart.line(speeds / RPM, day, "blue", 2.4, fill_to=0.0)
        middle = POINTS // 2
        chart.text(speeds[middle] / RPM, day[middle], "continuous", "blue", (0, 1), 13)
        if short is not None:
            chart.line(speeds / RPM, short, "violet", 1.8)
            chart.text(speeds[middle] / RPM, short[middle], "for a short time", "violet", (0, 1), 13)
        bare = get("share_without_fan")
        if bare is not None:
            chart.line(speeds / RPM, day * float(bare), "muted", 1.4, DASH)
            chart.text(speeds[middle // 2] / RPM, float(day[middle // 2] * bare), "without its fan", "muted", (0, 0), 12)
        self._end(float(limit) / RPM, "speed limit", "short", high)
        if wanted:
            self._end(wanted / RPM, "highest wanted", "accent", high * 0.9)
        if cut_torque is not None and cut_speed is not None:
            chart.dots([float(cut_speed) / RPM], [float(cut_torque)], "accent", 13, "d")
            chart.text(float(cut_speed) / RPM, float(cut_torque), "the cut", "accent", (0, 1), 14, True)

    def _end(self, at: float, words: str, color: str, high: float) -> None:
        """An upright stroke at a speed."""
        self.chart.line([at, at], [0.0, high], color, 1.4, DASH)
        self.chart.text(at, high, words, color, (1, 0), 12)
