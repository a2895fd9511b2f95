"""Chopping: torque over speed while quiet and while strong, with the changeover, the rotor's resonance and where it cruises."""

from __future__ import annotations

import numpy as np
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.core.drive.chopping import below_speed
from urban_mule.core.drive.stepper_checks import cruising_speeds
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.chart import DASH, SOLID, Chart
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.travel_units import drawn_in

GIVES_UP = {
    None: "Quiet loses torque at speed, strong is louder, both change over. Which of them this driver does is not given.",
    "quiet": "Quiet all the way: no whine; it gives up the torque at speed that is marked, and how stiff it stands.",
    "strong": "Strong all the way: all the torque and one steady sound; it gives up silence, at standstill too.",
    "both": "Quiet below, strong above: the change is heard, and felt where it falls on a resonance.",
}


class ChoppingPicture(Picture):
    """The speed line with what each school gives up."""

    needs = frozenset(
        {
            "torque_curve",
            "cycle_torque",
            "chopping",
            "changeover_shaft_speed",
            "quiet_torque_share",
            "resonant_speed",
            "quiet_margin",
            "travel_per_radian",
        }
    )

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.chart = Chart("speed", "torque, N·m", "Torque over speed, quiet and strong")
        self.school = Label(objectName="label", wordWrap=True)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.chart, 1)
        box.addWidget(self.school)

    def redraw(self) -> None:
        solution, chart = self.state.solution, self.chart
        servo = self.state.axis.motor_kind == "servo"
        chopping = None if servo else solution.get("chopping")
        self.school.setText("" if servo else GIVES_UP[chopping])
        curve, c = solution.get("torque_curve"), solution.get("cycle_torque")
        if servo or curve is None or c is None:
            chart.empty(
                "A servo's drive makes sine currents; it does not chop in two ways."
                if servo
                else "Nothing to draw yet: "
                + (self.state.reason_unknown("torque_curve") or self.state.reason_unknown("cycle_torque"))
                + "."
            )
            return
        r = float(solution["travel_per_radian"])
        (per, shown), (torques, unit) = drawn_in(self.state, "[travel]/s"), drawn_in(self.state, "N·m")
        scale = r * per
        top, changeover = float(solution["peak_speed"]), solution.get("changeover_shaft_speed")
        end = 1.25 * max([top] + ([float(changeover)] if changeover is not None else []))
        speeds = np.linspace(0, end, 160)
        torque = np.asarray(curve(speeds), float)
        height = 1.22 * float(np.max(torque))
        chart.name_axes(f"speed, {shown}", f"torque, {unit}", torques)
        chart.restart()
        chart.frame((0, end * scale), (0, height))
        share = solution.get("quiet_torque_share")
        border = {"quiet": end, "both": float(changeover) if changeover is not None else 0.0}.get(chopping or "", 0.0)
        if border:
            inside = speeds[speeds <= border]
            chart.band(inside * scale, np.zeros_like(inside), np.asarray(curve(inside), float) * (share or 1.0), "blue", 40)
        chart.line(speeds * scale, torque, "ink", 1.8, SOLID if chopping != "quiet" else DASH)
        chart.text(0.99 * end * scale, float(torque[-1]), "strong ", "ink", (1, 1), 12)
        if share is not None and border:
            inside = speeds[speeds <= border]
            chart.line(inside * scale, share * torque[: inside.size], "blue", 2.4)
            margin = solution.get("quiet_margin")
            times = "" if margin is None else f": {number_text(float(margin), 3)} times what is needed"
            said = f" quiet, {number_text(100 * share, 3)} % of it{times}"
            chart.text(0, share * float(torque[0]), said, "blue", (0, 0), 13, True)
        self._needed(c, scale, border)
        self._marks(r, scale, changeover, height)

    def _needed(self, c: object, scale: float, border: float) -> None:
        """The cycle's own torque, as dots: filled while the chopping is quiet."""
        for below in (True, False) if border else (False,):
            pieces = below_speed(c, border) if below else c  # type: ignore[arg-type]
            share = np.linspace(0, 1, 5)[:, None]
            speed, torque = pieces.inside(share)  # type: ignore[attr-defined]
            moving = np.broadcast_to(pieces.moving, np.shape(speed))  # type: ignore[attr-defined]
            self.chart.dots(np.abs(speed)[moving] * scale, np.abs(torque)[moving], "violet", 5, filled=below)

    def _marks(self, r: float, scale: float, changeover: object, height: float) -> None:
        solution, chart = self.state.solution, self.chart
        resonant = solution.get("resonant_speed")
        marks = [] if resonant is None else [(float(resonant), "the rotor rings at", "short", 0.95)]
        pieces = solution.get("cycle_pieces")
        marks += [(speed, "cruises at", "violet", 0.7) for speed in (cruising_speeds(pieces, r) if pieces is not None else ())]
        marks += [] if changeover is None else [(float(changeover), "changeover speed", "accent", 0.88)]  # type: ignore[arg-type]
        for speed, word, color, place in marks:
            chart.line(
                [speed * scale] * 2, [0, height], color, 1.2 if color != "accent" else 2.0, DASH if color != "accent" else SOLID
            )
            chart.text(
                speed * scale, place * height, f" {word} {number_text(speed * scale, 3)}", color, (0, 0.5), 12, color == "accent"
            )
