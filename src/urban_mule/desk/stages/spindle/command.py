"""Analog command: the table that a round of commands measured, its line, and where the cut stands on it."""

from __future__ import annotations

import numpy as np
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.core.readings.straight_line import straight_line
from urban_mule.core.sheet.units import RPM, number_text
from urban_mule.desk.kit.chart import DASH, Chart, ceiling
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.model.scope import Scope


class CommandPicture(Picture):
    """Speeds over the commands that made them."""

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 4)
        self.chart = Chart("command, V", "speed of the tool, turns a minute", "Speed over command")
        box.addWidget(self.chart, 1)

    def redraw(self) -> None:
        solution, chart = self.state.solution, self.chart
        table = solution.get("speed_table")
        if table is None:
            chart.empty("Nothing is measured yet: a voltage is not a speed until somebody has looked.")
            return
        command, speed = table.command, table.speed
        chart.restart()
        low, high = float(min(0.0, command.min())), float(command.max())
        chart.frame((low, ceiling(high * 1.05)), (0.0, ceiling(1.15 * max(float(speed.max()) / RPM, 1.0))))
        line, ends = straight_line(command, speed), np.array([low, high])
        chart.line(ends, line.at(ends) / RPM, "muted", 1.4, DASH)
        chart.line(command, speed / RPM, "blue", 2.0)
        chart.dots(command, speed / RPM, "accent", 9)
        wanted, at = solution.get("command_for_speed"), solution.get("cut_speed")
        if wanted is not None and at is not None:
            chart.dots([float(wanted)], [float(at) / RPM], "violet", 13, "d")
            chart.text(float(wanted), float(at) / RPM, f"the cut: {number_text(float(wanted), 3)} V", "violet", (0, 1), 13, True)
