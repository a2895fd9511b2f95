"""Ladder: the rungs on the computed torque over speed, where it held, where it lost steps, and what the motor really gives."""

from __future__ import annotations

import numpy as np
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.moves.ladder import as_computed
from urban_mule.core.sheet.wording import size
from urban_mule.desk.kit.chart import DASH, Chart
from urban_mule.desk.kit.painting import Label, tip
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.travel_units import drawn_in

POINTS = 90
CAUTION = ("Begin low, with a hand on the stop and nothing in the way: on the last steps the motor stalls. Vertical axes are caught"
           " by a block or a brake first.")


class LadderPicture(Picture):
    """Torque over the speed of the axis."""

    needs = frozenset({"ladder_rungs", "torque_by_speed", "ladder_torque_curve", "torque_curve", "asked_torque", "torque_factor",
                       "top_speed", "resonant_band"})
    about = "The ladder on the torque curve"

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.chart = Chart("speed", "torque, N·m", self.about)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 4)
        box.addWidget(self.chart, 1)
        row = QHBoxLayout()
        row.setContentsMargins(12, 0, 12, 0)
        self.adopt = QPushButton("", objectName="strong")
        tip(self.adopt, "Take the middle of the bounds for what the motor gives; undo gives the former value back")
        self.adopt.clicked.connect(self.take_over)
        row.addWidget(Label(CAUTION, objectName="caution", wordWrap=True), 1)
        row.addWidget(self.adopt)
        box.addLayout(row)
        self.adopt.hide()

    @property
    def middle(self) -> float | None:
        """The middle of the bounds at the speed at which the motor gives least."""
        bounds = self.state.solution.get("torque_bounds")
        return None if bounds is None else sum(bounds) / 2

    def take_over(self) -> None:
        """Reckon with what was measured."""
        if self.middle is not None:
            self.session.edit(self.session.axis_path("motor", "torque_factor"), round(self.middle, 3),
                              f"{self.state.axis.name}: torque as the ladder measured it")

    def redraw(self) -> None:
        solution, chart = self.state.solution, self.chart
        (scale, unit), (times, torque) = drawn_in(self.state, "[travel]/s"), drawn_in(self.state, "N·m")
        chart.name_axes(f"speed, {unit}", f"torque, {torque}", times)
        middle, factor = self.middle, solution.get("torque_factor", 1.0)
        self.adopt.setVisible(middle is not None and abs(middle - factor) > 0.005)
        self.adopt.setText("" if middle is None else f"Calculate with {size(100 * middle)} %")
        curve, top, r = (solution.get(name) for name in ("torque_curve", "top_speed", "travel_per_radian"))
        if curve is None or r is None:
            chart.empty("The ladder climbs on the torque curve of a stepper: give its motor, driver and train first.")
            return
        reading, rungs = solution.get("ladder_reading"), solution.get("ladder_rungs")
        far = 1.25 * max([float(top or 0.0), *(reading.speed.tolist() if reading is not None else [])]) or 1.0
        speeds = np.linspace(0.0, far, POINTS)
        there = np.asarray(as_computed(curve)(speeds / r))
        chart.restart()
        most = max([float(there.max()), *(rungs.torque.tolist() if rungs is not None else [])]) or 1.0
        chart.frame((0.0, far * scale), (0.0, 1.12 * most))
        band = solution.get("resonant_band")
        if band is not None and band[0] < far:
            chart.band(np.minimum(np.array(band), far) * scale, [0.0, 0.0], [1.12 * most] * 2, "short", 28)
            chart.text(min(band[1], far) * scale, 1.1 * most, " resonates: cross quickly", "short", (0, 0), 12)
        measured, beside = solution.get("ladder_torque_curve"), solution.get("torque_by_speed") or ()
        if measured is not None:
            least = np.interp(speeds, [one.speed for one in beside],
                              [one.factor if one.least is None else one.least for one in beside])
            chart.band(speeds * scale, least * there, np.asarray(measured(speeds / r)), "violet", 46)
            chart.text(0.98 * far * scale, float(measured(speeds[-1:] / r)[0]), "loses steps from here on", "violet", (1, 1.2), 12)
        chart.line(speeds * scale, there, "ink", 2.0)
        chart.text(0.02 * far * scale, float(there[1]), "as computed", "ink", (0, 1.2), 12)
        if factor != 1.0:
            chart.line(speeds * scale, factor * there, "accent", 1.8, DASH)
            said = f"calculated with, {size(100 * factor)} %"
            chart.text(0.02 * far * scale, factor * float(there[1]), said, "accent", (0, -0.2), 12)
        if reading is None or rungs is None:
            chart.text(0.5 * far * scale, 0.5 * most, "No ladder yet: take ladder, below", "muted", (0.5, 0.5), 14)
            return
        held = rungs.lost == 0
        for which, color, symbol in ((held, "good", "o"), (~held, "short", "t")):
            if which.any():
                chart.dots(reading.speed[which] * scale, rungs.torque[which], color, 11, symbol, filled=bool(which is held))
        for one in beside:
            if one.dips:
                chart.text(one.speed * scale, one.factor * float(as_computed(curve)(np.array([one.speed / r]))[0]),
                           "resonates: cross quickly", "short", (0.5, -0.3), 12)
        for n in np.flatnonzero(~held):
            at = float(reading.speed[n] * scale), float(rungs.torque[n])
            chart.text(*at, f"lost {rungs.lost[n]:.0f} steps", "short", (0, 1.3), 12)
