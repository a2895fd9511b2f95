"""Cooling: how warm the driver gets over its current, bare, finned and with a fan, and what each lets it give."""

from __future__ import annotations

import numpy as np
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.core.drive.driver_heat import COOLINGS
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.chart import DASH, SOLID, Chart
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.model.scope import Scope

COLORS = dict(zip(COOLINGS, ("short", "tight", "good"), strict=True)) | {"as it is": "blue"}
LESS = 0.9  # of the current: what is tried first when something gets too hot
RIGHTMOST = 0.75  # of the picture's width: words right of that stand left of their point
BINDS = 1.5  # times the torque that is needed: with so much in hand lost steps have another cause


class CoolingPicture(Picture):
    """Driver temperature over its current, and what to do by the signs that people see."""

    needs = frozenset(
        {
            "cooling_schools",
            "driver_temperature",
            "driver_warming_curve",
            "current_peak",
            "working_margin",
            "driver_current_limit",
            "rated_current_peak",
            "driver_temperature_limit",
            *(f"thermal_resistance_{way}" for way in COOLINGS),
        }
    )

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.chart = Chart("current, A peak", "driver, °C", "Driver temperature over its current")
        self.hot, self.lost = Label(objectName="label", wordWrap=True), Label(objectName="label", wordWrap=True)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        box.addWidget(self.chart, 1)
        box.addWidget(self.hot)
        box.addWidget(self.lost)

    def redraw(self) -> None:
        solution, chart = self.state.solution, self.chart
        self._signs()
        schools = solution.get("cooling_schools")
        if not schools:
            chart.empty("How warm the driver gets is not known: " + self.state.reason_unknown("cooling_schools") + ".")
            return
        limit, ambient = float(solution["driver_temperature_limit"]), float(solution["ambient_temperature"])
        bridge, standing = float(solution["bridge_resistance"]), float(solution["driver_standing_loss"])
        peak = solution.get("current_peak")
        end = 1.15 * max([one.current_limit for one in schools] + ([float(peak)] if peak is not None else []))
        chart.restart()
        chart.frame((0, end), (0, 1.35 * limit))
        chart.line([0, end], [limit, limit], "short", 1.2, DASH)
        chart.text(0.01 * end, limit, f"temperature limit, {number_text(limit, 3)} °C", "short", (0, 1), 12)
        current = np.linspace(0, end, 120)
        for one in schools:
            name = "driver_thermal_resistance" if one.cooling == "as it is" else f"thermal_resistance_{one.cooling}"
            curve = ambient + float(solution[name]) * (current**2 * bridge + standing)
            chart.line(current, curve, COLORS[one.cooling], 2.6 if one.used else 1.6, SOLID if one.used else DASH)
            chart.dots([one.current_limit], [limit], COLORS[one.cooling], 8, filled=one.used)
            word = {"fan": "with a fan"}.get(one.cooling, one.cooling)
            chart.text(
                one.current_limit,
                limit,
                f"{word}: {number_text(one.current_limit, 3)} A{', as it is' * one.used}",
                COLORS[one.cooling],
                (0, 0) if one.used and one.current_limit < RIGHTMOST * end else (1, 1),
                13,
                one.used,
            )
        if peak is not None:
            chart.line([peak, peak], [0, 1.35 * limit], "accent", 1.4)
            warm = solution.get("driver_temperature")
            said = f" set {number_text(float(peak), 3)} A" + ("" if warm is None else f": {number_text(float(warm), 3)} °C")
            chart.text(float(peak), 0.04 * limit, said, "accent", (0 if peak < 0.7 * end else 1, 1), 14, True)

            self._measured(float(peak), 0.94 * end)

    def _measured(self, peak: float, most: float) -> None:
        """Where the driver really ends, by its warming: the fin, which is cooler than what it cools."""
        curve = self.state.solution.get("driver_warming_curve")
        if curve is None:
            return
        warm = curve.start + curve.rise
        self.chart.dots([peak], [warm], "violet", 10)
        self.chart.text(min(peak, most), warm, f"its fin, measured: {number_text(warm, 3)} °C ", "violet", (1, 0.5), 13, True)

    def _signs(self) -> None:
        """What to do when the motor or the driver gets too hot, and when steps are lost."""
        solution = self.state.solution
        peak, margin = solution.get("current_peak"), solution.get("working_margin")
        if peak is None:
            self.hot.setText("")
            self.lost.setText("")
            return
        self.hot.setText(
            f"If motor or driver is too hot, lower the current: {number_text(LESS * peak, 3)} A peak, a tenth less, makes"
            f" {100 * (1 - LESS**2):.0f} % less heat."
        )
        bounds = [
            float(value)
            for name in ("rated_current_peak", "driver_current_limit", "current_limit")
            if (value := solution.get(name)) is not None
        ]
        more = min(bounds, default=0.0)
        room = (
            f"More current: up to {number_text(more, 3)} A peak."
            if more > peak * 1.01
            else ("No more current is to be had from this motor and driver." if bounds else "")
        )
        if margin is not None and margin >= BINDS:
            self.lost.setText(
                f"Losing steps: something binds; look there first, since the motor gives {number_text(float(margin), 3)}"
                f" times what is needed. {room}"
            )
        else:
            self.lost.setText(f"Losing steps: {room} If that does not help, something binds.")
