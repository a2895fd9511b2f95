"""Both motors of a pair over time: one straight move, and one diagonal, with what the motor can give at each instant."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from urban_mule.core.load.pair_moves import Drive, PairMove, pair_move
from urban_mule.core.sheet.units import show
from urban_mule.desk.kit.chart import DASH, Chart, ceiling
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.travel_units import drawn_in

FARTHEST = 6.0  # times the greatest torque: a motor that can give more is drawn as far as there
INKS = {"A": "accent", "B": "blue"}


class BothMotorsPicture(Picture):
    """Torque of A and B over the first move along the shown axis, and over both first moves begun at once."""

    needs = frozenset({"fellow", "cycle_pieces", "cycle_loads", "train", "travel_per_radian", "shaft_inertia", "torque_curve"})

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        self.charts = tuple(Chart("", "", name) for name in ("Torque of both motors, one axis moves",
                                                             "Torque of both motors, both axes move at once"))
        for chart in self.charts:
            box.addWidget(chart)

    def moves(self) -> tuple[PairMove, PairMove] | None:
        """Along the shown axis, and along both; None while something of them is not known."""
        solution, pair = self.state.solution, self.session.project.pair_of(self.state.axis)
        fellow, train = solution.get("fellow"), solution.get("train")
        own = [solution.get(name) for name in ("cycle_pieces", "cycle_loads", "travel_per_radian", "shaft_inertia")]
        if pair is None or fellow is None or train is None or any(one is None for one in (*own, fellow.pieces, fellow.loads)):
            return None
        pieces, loads, r, inertia = own
        here: Drive = (pieces, loads)
        first, found = pair.axes[0] == self.state.axis.name, []
        for there in (None, (fellow.pieces, fellow.loads)):
            one, other = (here, there) if first else (there, here)
            found.append(pair_move(train, one, other, float(r), float(inertia)))
        return found[0], found[1]

    @property
    def letters(self) -> tuple[str, str]:
        """Which motor turns by the sum of both axes, and which by their difference."""
        pair = self.session.project.pair_of(self.state.axis)
        return ("B", "A") if pair is not None and pair.turned else ("A", "B")

    def redraw(self) -> None:
        moves, solution = self.moves(), self.state.solution
        times, unit = drawn_in(self.state, "N·m")
        self.said_anew.emit()
        if moves is None:
            for chart in self.charts:
                chart.empty(f"Not known yet: {self.state.reason_unknown('pair_peak_torque')}.")
            return
        curve = solution.get("torque_curve")
        most = max(float(np.abs(one.torque).max()) for one in moves)
        gives = 0.0 if curve is None else 1.05 * max(float(np.max(curve(np.abs(one.speed)))) for one in moves)
        top = ceiling(times * min(max(1.5 * most, gives), FARTHEST * most))
        fellow = solution["fellow"].name
        titles = f"{self.state.axis.name} moves, {fellow} stands", f"{self.state.axis.name} and {fellow} at once"
        for chart, move, title in zip(self.charts, moves, titles, strict=True):
            chart.name_axes(f"{title}: seconds", f"torque of one motor, {unit}")
            chart.restart()
            chart.frame((0.0, 1.02 * float(move.time[-1])), (-top, top))
            chart.horizontal(0.0, "line", 1.0)
            self._curves(chart, move, curve, times)

    def _curves(self, chart: Chart, move: PairMove, curve: Callable[[np.ndarray], np.ndarray] | None, times: float) -> None:
        """Both torques; dashed what the busier motor can give at its speed."""
        busier = int(np.argmax(np.abs(move.torque).max(axis=1)))
        if curve is not None:
            gives = np.asarray(curve(np.abs(move.speed[busier]))) * times
            for sign in (1, -1):
                chart.line(move.time, sign * gives, "muted", 1.2, DASH)
            chart.text(float(move.time[-1]), float(gives[-1]), "what a motor can give ", "muted", (1, 1.1), 12)
        alike = bool(np.allclose(move.torque[0], move.torque[1]))
        for row, letter in zip(move.torque, self.letters, strict=True):
            if not alike or letter == self.letters[0]:
                at = int(np.argmax(np.abs(row)))
                chart.line(move.time, row * times, INKS[letter], 2.0)
                said = "A and B alike" if alike else f"motor {letter}"
                chart.text(float(move.time[at]), float(row[at]) * times, f"{said}: {abs(row[at]) * times:.3g}", INKS[letter],
                           (0, 1.1) if row[at] > 0 else (0, -0.1), 13, True)

    def says(self) -> tuple[str, str] | None:
        """How much more the busier motor gives when both axes move."""
        moves = self.moves()
        if moves is None:
            return "What both motors give is not known yet.", "Load, train and cycle of both axes tell it."
        straight, both = (np.abs(one.torque).max(axis=1) for one in moves)
        letter = self.letters[int(np.argmax(both))]
        one, more = (show(float(value), "N·m", self.state.system, 3) for value in (straight.max(), both.max()))
        return (f"One axis: {one} of either motor. Both at once: {more} of motor {letter}.",
                "The first move of each cycle, both begun at the same instant; towards the other side it is the other motor.")
