"""Moves: speed and torque over the time of one cycle, one above the other, with a cursor that reads both."""

from __future__ import annotations

import numpy as np
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.core.profile import sampled
from urban_mule.core.units import number_text
from urban_mule.desk.chart import Chart
from urban_mule.desk.pictures.picture import Picture
from urban_mule.desk.session import Session


class MovesPicture(Picture):
    """The cycle as the axis will run it."""

    needs = frozenset({"cycle_pieces", "cycle_torque"})

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.speed = Chart("", "", "Speed over the cycle")
        self.torque = Chart("time, s", "torque, N·m", "Torque over the cycle")
        self.torque.setXLink(self.speed)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(4)
        box.addWidget(self.speed, 1)
        box.addWidget(self.torque, 1)

    def redraw(self) -> None:
        solution = self.session.solution
        factor, unit = (1.0, "m/s") if self.session.axis.motion == "linear" else (180 / np.pi, "°/s")
        self.speed.name_axes("", f"speed, {unit}")
        pieces = solution.get("cycle_pieces")
        if pieces is None:
            self.speed.empty("No move yet: give distance, speed and acceleration below.")
            self.torque.empty("")
            return
        time, _, speed, _ = sampled(pieces)
        for chart in (self.speed, self.torque):
            chart.restart()
        end = float(time[-1])
        high = 1.25 * float(np.abs(speed).max()) * factor
        self.speed.frame((-0.01 * end, end * 1.01), (-high, high))
        self.speed.line(time, speed * factor, "blue", 2.4, fill_to=0)
        self.speed.horizontal(0, "line")
        cycle = solution.get("cycle_torque")
        if cycle is None:
            self.torque.empty(f"No torque yet: {self.session.reason_unknown('cycle_torque')}.")
            return
        edges = np.concatenate([[0.0], np.cumsum(pieces.duration)])
        x = np.column_stack([edges[:-1], edges[1:]]).ravel()
        y = np.column_stack([cycle.start, cycle.end]).ravel()
        top = 1.3 * max(float(np.abs(y).max()), 1e-6)
        self.torque.frame((-0.01 * end, end * 1.01), (-top, top))
        self.torque.line(x, y, "accent", 2.2, fill_to=0, fill="terrain")
        self.torque.horizontal(0, "line")
        rms = solution.get("rms_torque")
        if rms is not None:
            self.torque.line([0, end], [rms, rms], "violet", 1.4)
            self.torque.text(end, rms, f"RMS {number_text(float(rms), 3)} N·m ", "violet", (1, 1.1), 12)
