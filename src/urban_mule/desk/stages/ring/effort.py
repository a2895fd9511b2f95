"""Effort: torque over a few moves, and the inertia and friction that it gives beside those computed."""

from __future__ import annotations

import numpy as np

from urban_mule.core.sheet.units import number_text, with_doubt
from urban_mule.desk.kit.chart import ChartPicture

BESIDE = (  # what is measured, what is computed beside it, its name, what an SI unit is in the one shown
    ("measured_inertia", "loop_inertia", "inertia", 1e4, "kg·cm²"),
    ("measured_coulomb", "creep_friction", "dry friction", 1.0, "N·m"),
    ("measured_viscous", "", "viscous friction", 1e3, "mN·m·s/rad"),
    ("measured_gravity_torque", "creep_gravity", "steady", 1.0, "N·m"))


class EffortPicture(ChartPicture):
    """Torque less what inertia takes, over speed: friction is a step at standstill."""

    needs = frozenset({"effort_reading", "effort_fit", "loop_inertia", "creep_friction", "creep_gravity"})
    about = "Torque without that of inertia over speed"

    def says(self) -> tuple[str, str] | None:
        """Inertia measured beside computed, and the rest beneath."""
        get = self.state.solution.get
        if get("effort_reading") is None:
            return "The torque of a move was not recorded.", "A few moves both ways at two accelerations tell inertia and friction."
        if get("effort_fit") is None:
            return f"It tells nothing: {self.state.reason_unknown('effort_fit')}.", ""
        told = [said for name, computed, words, scale, unit in BESIDE if (said := self._beside(name, computed, words, scale, unit))]
        return f"{told[0][:1].upper()}{told[0][1:]}." if told else "It tells nothing.", "; ".join(told[1:])

    def _beside(self, name: str, computed: str, words: str, scale: float, unit: str) -> str:
        get = self.state.solution.get
        value, doubt, other = get(name), get(f"{name}_uncertainty"), get(computed) if computed else None
        if value is None or doubt is None:
            return ""
        beside = "" if other is None else f", {number_text(scale * float(other), 3)} computed"
        return f"{words} {with_doubt(scale * float(value), scale * float(doubt))} {unit}{beside}"

    def redraw(self) -> None:
        chart, reading = self.chart, self.state.solution.get("effort_reading")
        self.said_anew.emit()
        chart.name_axes("speed of the motor, rad/s", "torque without inertia, N·m")
        if reading is None:
            chart.empty("No torque was recorded yet. Take it: effort, below.")
            return
        chart.restart()
        inertia = self.state.solution.get("measured_inertia") or self.state.solution.get("loop_inertia") or 0.0
        left = reading.torque - float(inertia) * reading.acceleration
        most, high = 1.1 * float(np.abs(reading.speed).max()) or 1.0, 1.3 * float(np.abs(left).max()) or 1.0
        chart.frame((-most, most), (-high, high))
        chart.horizontal(0.0, "line")
        chart.dots(reading.speed, left, "accent", 6)
        friction, viscous, steady = (self.state.solution.get(name) for name in (
            "measured_coulomb", "measured_viscous", "measured_gravity_torque"))
        if friction is not None:
            for way in (-1.0, 1.0):
                speed = way * np.linspace(0, most, 2)
                chart.line(speed, way * friction + (viscous or 0.0) * speed + (steady or 0.0), "ink", 2.0)
            chart.text(most, friction + (steady or 0.0), f"friction {number_text(float(friction), 3)} N·m ", "ink", (1, 1), 13)
