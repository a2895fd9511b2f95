"""Push: how far apart the carriage stands when pushed both ways, over the force; what it moves freely is free play."""

from __future__ import annotations

import numpy as np

from urban_mule.core.slack.push import play_at
from urban_mule.desk.kit.chart import DASH, ChartPicture
from urban_mule.desk.model.travel_units import drawn_in, small


class PushPicture(ChartPicture):
    """The play at each force, the line through it, and where it begins: the force that overcomes friction."""

    needs = frozenset({"push_reading"})
    about = "Play over the force of the push"

    def redraw(self) -> None:
        (to_small, unit), solution, chart = small(self.state), self.state.solution, self.chart
        newtons, effort = drawn_in(self.state, "N" if self.state.axis.motion == "linear" else "N·m")
        chart.name_axes(f"force each way, {effort}", f"apart, {unit}")
        reading = solution.get("push_reading")
        if reading is None:
            chart.empty("Not pushed yet. Make a push test: the carriage by a spring scale, both ways, with rising force.")
            return
        chart.restart()
        forces, apart = reading.forces * newtons, play_at(reading) * to_small
        line = solution.get("push_line")
        free = 0.0 if line is None else line.clearance * to_small
        last = float(forces.max())
        held, far = (solution.get("friction_load") or 0.0) * newtons, 1.15 * last
        gives = 0.0 if line is None else line.compliance * 2 * (last - held) / newtons * to_small
        low, high = min(0.0, free, float(apart.min())), max(float(apart.max()), free + gives, 0.0)
        room = 0.2 * (high - low or 1.0)
        chart.frame((0.0, far), (low - 0.3 * room, high + room))
        for plus, minus in zip(reading.plus, reading.minus, strict=False):  # of repeats that were taken both ways
            chart.dots(forces, (plus - minus) * to_small, "blue", 7, "o", filled=False)
        chart.dots(forces, apart, "blue", 10, "o")
        if line is None:
            return
        at = np.array([0.0, far])
        if free > 0:
            chart.band(at, np.zeros(2), np.full(2, free), "violet", 36)
            chart.text(0.97 * far, free / 2, f"free play {free:.3g} {unit}", "violet", (1, 0.5), 13)
        chart.horizontal(free, "muted", 1.2, DASH)
        chart.line(np.array([held, last]), free + np.array([0.0, gives]), "accent", 2.2)
        if held:
            chart.line([held, held], [low - 0.3 * room, high + room], "muted", 1.2, DASH)
            chart.text(held, high + 0.6 * room, f" friction {held:.3g} {effort}: below, nothing moves", "muted", (0, 0.5), 13)
        chart.text(last, free + gives, f"spring {gives:.3g} {unit} at {last:.3g} {effort}", "accent", (1, 1.4), 13, True)
