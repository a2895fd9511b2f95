"""Sag: the speed of a tool when the cut begins, as the velocity loop takes it up; with half the gain, with twice the inertia."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.sheet.units import RPM, number_text
from urban_mule.desk.kit.chart import DASH, SOLID, ChartPicture

SEEN, POINTS = 16.0, 300  # times 1/ω_x that the picture shows
BEFORE = 2.0  # times 1/ω_x before the cut


class SagPicture(ChartPicture):
    """Speed over time around the beginning of the cut."""

    needs = frozenset({"speed_sag", "spindle_bandwidth", "spindle_bandwidth_limit", "cutting_torque", "spindle_inertia",
                       "cut_speed"})
    about = "Speed of the tool as the cut begins"

    def says(self) -> tuple[str, str] | None:
        """How far it sags, how soon it is back, and what helps."""
        get = self.state.solution.get
        sag, back, speed, share = (get(name) for name in ("speed_sag", "sag_recovery_time", "cut_speed", "speed_sag_share"))
        if sag is None or back is None:
            return (f"The sag is not known: {self.state.reason_unknown('speed_sag')}.",
                    "It asks for the cut, the inertia and the loop.")
        of = "" if speed is None or share is None else f", {100 * float(share):.2g} % of the speed,"
        limit, now = get("spindle_bandwidth_limit"), get("spindle_bandwidth")
        over = ("" if limit is None or now is None or now <= 1.02 * limit else
                f" The loop is set faster than it holds: {number_text(float(limit), 3)} Hz.")
        after = number_text(1000 * float(back), 3)
        return (f"The speed sags by {number_text(float(sag) / RPM, 3)} rpm{of} and is back after {after} ms.",
                f"Twice the gain halves the sag and the time; twice the inertia, the loop as fast, halves the sag.{over}")

    def redraw(self) -> None:
        chart, get = self.chart, self.state.solution.get
        self.said_anew.emit()
        chart.name_axes("time from the beginning of the cut, ms", "speed, rpm")
        torque, speed, inertia, loop = (get(name) for name in (
            "cutting_torque", "cut_speed", "spindle_inertia", "spindle_bandwidth"))
        if torque is None or speed is None or inertia is None or loop is None:
            chart.empty(f"Nothing to draw yet: {self.state.reason_unknown('speed_sag')}.")
            return
        chart.restart()
        crossing, most = 2 * math.pi * float(loop), 0.0
        time = np.linspace(-BEFORE, SEEN, POINTS) / crossing
        curves = []
        for w, j, color, words, style in (
                (crossing, inertia, "accent", "as it is", SOLID), (crossing / 2, inertia, "ink", "half the gain", DASH),
                (crossing, 2 * inertia, "blue", "twice the inertia, as fast a loop", DASH)):
            sagging = float(torque) / float(j) * np.maximum(time, 0.0) * np.exp(-w * np.maximum(time, 0.0) / 2)
            most = max(most, float(sagging.max()))
            curves.append((sagging, color, words, style))
        base = float(speed) / RPM
        chart.frame((float(1000 * time[0]), float(1000 * time[-1])), (base - 1.25 * most / RPM, base + 0.35 * most / RPM))
        chart.horizontal(base, "line")
        for sagging, color, words, style in curves:
            low = int(np.argmax(sagging))
            line = base - sagging / RPM
            chart.line(1000 * time, line, color, 2.6 if style is SOLID else 1.8, style)
            chart.text(1000 * float(time[low]), float(line[low]), f" {words}", color, (0, 0), 13, style is SOLID)
