"""Heat: how the winding warms from cold, moving, holding, and fully on all the time, against what it bears."""

from __future__ import annotations

import numpy as np
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.core.motor.heat import INSULATION_CLASS, rise_over_time
from urban_mule.core.motor.stepper_checks import HOT, WARM
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.chart import DASH, Chart
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.model.scope import Scope

RISES = (  # quantity, words, colour, where along the picture the words stand: apart, since the curves may lie close
    ("temperature_rise", "fully on all the time", "short", 0.06),
    ("rated_temperature_rise", "at the rated torque", "short", 0.06), ("cycle_temperature_rise", "in this cycle", "accent", 0.42),
    ("holding_temperature_rise", "only holding", "blue", 0.72))
CLOSE = 0.12  # of the picture's height
SPANS = 1.5  # of the time to 95 % that the picture shows


class HeatPicture(Picture):
    """Winding temperature over time; flat lines where the time constant is not known."""

    needs = frozenset({*(rise[0] for rise in RISES), "warm_up_time", "ambient_temperature", "warming_reading"})

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.chart = Chart("minutes from cold", "winding, °C", "Winding temperature over time")
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.chart)

    def says(self) -> tuple[str, str] | None:
        """How warm a servo gets in its cycle; of a stepper's winding a verdict says it."""
        get = self.state.solution.get
        if self.state.axis.motor_kind != "servo" or (rise := get("cycle_temperature_rise")) is None:
            return None
        whole = get("rated_temperature_rise")
        most = "" if whole is None else f"At its rated torque all the time it would warm by {number_text(float(whole), 3)} K."
        return f"In this cycle the winding warms by {number_text(float(rise), 3)} K.", most

    def redraw(self) -> None:
        solution, chart = self.state.solution, self.chart
        rises = [(float(value), word, color, place) for name, word, color, place in RISES
                 if (value := solution.get(name)) is not None]
        if not rises:
            why = self.state.reason_unknown("cycle_temperature_rise")
            chart.empty(f"No temperatures: {why}.")
            return
        chart.restart()
        ambient, whole = float(solution["ambient_temperature"]), solution.get("warm_up_time")
        end = SPANS * whole / 60 if whole is not None else 60.0
        kind = self.state.axis.motor_kind
        insulation, bears = INSULATION_CLASS[kind]
        top = max(bears + 12, ambient + 1.12 * max(rise[0] for rise in rises))
        chart.frame((0, end), (0, top))
        wise = ((HOT, "the most that is wise"),) if kind == "stepper" else ()
        for limit, word in ((WARM, "the case can still be touched"), *wise, (bears, insulation)):
            chart.line([0, end], [limit, limit], "muted", 1.0, DASH)
            chart.text(end, limit, f"{word}, {limit:g} °C ", "muted", (1, 1.0), 12)
        minutes = np.linspace(0, end, 200)
        above = np.inf
        for rise, word, color, place in sorted(rises, reverse=True):
            curve = np.full_like(minutes, rise) if whole is None else rise_over_time(minutes * 60, rise, whole)
            chart.line(minutes, ambient + curve, color, 2.4 if color == "accent" else 1.8)
            side = 1.1 if above - rise > CLOSE * top else -0.1  # words stand under their curve where the next one is close above
            chart.text(place * end, ambient + float(curve.max()), f"{word}: {number_text(ambient + rise, 3)} °C in the end", color,
                       (0, side), 13, color == "accent")
            above = rise
        self._measured(end)
        if whole is None:
            chart.text(0.02 * end, 0.05 * top, "How long it takes is not known: give the thermal time constant.", "muted",
                       (0, 1), 13)
        else:
            chart.line([whole / 60] * 2, [0, top], "accent", 1.0, DASH)
            chart.text(whole / 60, 0.85 * top, f"95 % warm after {number_text(whole / 60, 2)} minutes ", "accent", (1, 1), 12)

    def _measured(self, end: float) -> None:
        """The case as it was read, and the rise through it."""
        solution = self.state.solution
        reading, curve = solution.get("warming_reading"), solution.get("warming_curve")
        if reading is None:
            return
        self.chart.dots(reading.time / 60, reading.temperature, "violet", 8, "o")
        if curve is not None:
            time = np.linspace(0, end * 60, 200)
            self.chart.line(time / 60, curve.start - curve.rise * np.expm1(-time / curve.time_constant), "violet", 1.6, DASH)
        said = f"case, measured {reading.state or 'moving'} "
        self.chart.text(float(reading.time[-1]) / 60, float(reading.temperature[-1]), said, "violet", (1, 1.3), 13)
