"""Motor: torque over speed with the cycle walked through it as a loop, the supply and current on their scales, and the
inertia ratio as a balance beam."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from urban_mule.core.load.moments import CycleTorque
from urban_mule.core.motor.margin import COMFORTABLE_RATIO, USABLE_RATIO
from urban_mule.core.motor.printed import same_setting
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.units import COVERAGE, RPM, number_text, show
from urban_mule.desk.kit.chart import DASH, Chart, ceiling
from urban_mule.desk.kit.painting import painted, paper
from urban_mule.desk.kit.picture import OUT_OF_PROPORTION, Picture
from urban_mule.desk.kit.scale_slider import Mark, ScaleSlider
from urban_mule.desk.kit.theme import font, theme
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.model.sureness import Sure
from urban_mule.desk.model.travel_units import drawn_in
from urban_mule.desk.model.words import sentence

NO_ROTOR = 1e-12  # kg·m²: too little to be seen
POINTS = 80  # of a curve, and its corner: an edit is drawn within a frame
WITH_SLIDERS = 230  # px of the picture
BOTH_WORDS = 56  # px of chart between need and offer in which the margin and the need can both be written
ROOMY = 540  # px of the chart, from which on the label of the RMS torque says the speed too


class MotorPicture(Picture):
    """What the motor can give at this supply and current, what is usable, and what the cycle asks; the former curve faint."""

    session: Whole

    needs = frozenset({
        "torque_curve", "continuous_curve", "cycle_torque", "tightest_moment", "working_margin", "inertia_ratio", "peak_speed",
        "supply_voltage", "current_peak", "safety_factor", "voltage_needed", "voltage_limit", "current_limit", "rms_torque",
        "resonant_band", "travel_per_radian", "printed_curves"})

    def __init__(self, session: Whole, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.chart = Chart("motor speed, rpm", "torque, N·m", "Torque over motor speed")
        self.beam = Beam(self)
        self.volts = ScaleSlider("Supply", "V", 1.0)
        self.current = ScaleSlider("Current", "A", 0.1)
        self.volts.moving.connect(lambda value: self._try(supply_voltage=value))
        self.current.moving.connect(lambda value: self._try(current_peak=value))
        self.volts.settled.connect(lambda value: self._settle("supply_voltage", value))
        self.current.settled.connect(lambda value: self._settle("current_peak", value))
        self._drawn: Any = None
        self._former: Any = None
        left = QVBoxLayout()
        left.setSpacing(0)
        left.addWidget(self.chart, 1)
        scales = QHBoxLayout()
        scales.setSpacing(0)
        scales.addWidget(self.volts)
        scales.addWidget(self.current)
        left.addLayout(scales)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addLayout(left, 1)
        box.addWidget(self.beam)
        session.axis_changed.connect(self._forget)
        session.sure_changed.connect(self._surer)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        for slider in (self.volts, self.current):  # in little room the fields beneath say the same
            slider.setVisible(self.height() >= WITH_SLIDERS)

    def _surer(self, _names: object) -> None:
        """Draw how sure it is, unless somebody looks closer just now."""
        if self.isVisible() and self._drawn is not None and self.chart.shows_all:
            self._draw(self.state.solution, self._former)

    def _forget(self) -> None:
        self._drawn = self._former = None

    def _try(self, **given: float) -> None:
        """Show what another supply or current would give, without taking it."""
        try:
            with np.errstate(all="ignore"):
                self._draw(self.state.solution.changed(**given), self.state.solution.get("torque_curve"))
        except BadValue:
            return

    def _settle(self, name: str, value: float) -> None:
        shared, own = self.session.project.supply_path(self.session.index), self.session.axis_path("driver", name)
        try:
            self.session.edit(shared if name == "supply_voltage" else own, round(value, 4))
        except BadValue:
            self._stale = True
        self.bring_up_to_date()

    def redraw(self) -> None:
        self.beam.update()
        solution = self.state.solution
        curve = solution.get("torque_curve")
        if curve is not self._drawn:
            self._former, self._drawn = self._drawn, curve
        self._scales(solution)
        if curve is None:
            self._ask(solution)
            return
        self._draw(solution, self._former)

    def _name(self) -> None:
        times, unit = drawn_in(self.state, "N·m")
        self.chart.name_axes("motor speed, rpm", f"torque, {unit}", times)

    def _torque(self, value: float) -> str:
        return str(show(value, "N·m", self.state.system, 3))

    def _ask(self, solution: Solution) -> None:
        """Before a motor is chosen: what it would have to do, its own rotor not counted."""
        bare = solution if solution.get("shaft_inertia") is not None else solution.changed(rotor_inertia=NO_ROTOR)
        cycle = bare.get("cycle_torque")
        if cycle is None:
            self.chart.empty(f"No curve yet: {self.state.reason_unknown('torque_curve')}.")
            return
        x, y = loop(cycle)
        if not (np.isfinite(x).all() and np.isfinite(y).all() and x.size):
            self.chart.empty(OUT_OF_PROPORTION)
            return
        end, high = ceiling(1.6 * float(x.max())), ceiling(1.6 * float(y.max()))
        chart = self.chart
        self._name()
        chart.restart()
        chart.frame((-0.01 * end, end), (0, high))
        chart.line(np.append(x, x[0]), np.append(y, y[0]), "accent", 2.4)
        top = int(np.argmax(y))
        rotor = "" if bare is solution else ", its rotor not counted"
        asked = f"to give {self._torque(y[top])}, up to {number_text(float(x.max()), 3)} rpm{rotor}"
        chart.text(0.01 * end, 0.98 * high, asked, "accent", (0, 0), 13)
        chart.text(0.99 * end, 0.03 * high, f"No motor yet: {self.state.reason_unknown('torque_curve')}.", "muted", (1, 1), 12)

    def _scales(self, solution: Solution) -> None:
        """The three schools of the supply in one place, and the current between rating and limit."""
        marks = [(solution.get("voltage_needed"), "top speed needs", "accent"),
                 (solution.get("voltage_by_inductance"), "rule", "violet"),
                 (solution.get("rated_voltage"), "stated at", "violet"),
                 (solution.get("voltage_limit"), "driver", "short")]
        self.volts.show_value(solution.get("supply_voltage"), _marks(marks))
        stepper = "current_peak" in solution.sheet.inputs
        self.current.setVisible(stepper)
        if stepper:
            peak = solution.get("current_peak")
            marks = [(solution.get("rated_current_peak"), "rated", "good"),
                     (solution.get("current_limit"), "driver", "short")]
            self.current.show_value(peak, _marks(marks), "" if peak is None else f"{number_text(peak / math.sqrt(2), 3)} A RMS")

    def _draw(self, solution: Solution, former: Any) -> None:
        """The curves of a solution, and a former curve faint behind them."""
        chart, curve = self.chart, solution.get("torque_curve")
        if curve is None:
            return
        self._name()
        chart.restart()
        top = solution.get("peak_speed", 60.0)
        end = ceiling(max(2.6 * top, 1.6 * solution.get("corner_speed", top), 30.0))
        speed = np.union1d(np.linspace(0, end, POINTS), min(solution.get("corner_speed", end), end))
        gives, hand = curve(speed), float(solution["safety_factor"])
        if not np.isfinite(gives).all():
            chart.empty(OUT_OF_PROPORTION)
            return
        printed = max((float(one.torques.max()) for one in solution.get("printed_curves") or ()), default=0.0)
        most = max(float(gives.max()), solution.get("peak_torque", 0.0), printed)
        high = ceiling(most * 1.25)  # a line of words above the curve
        chart.frame((-0.01 * end / RPM, end / RPM), (0, high))
        continuous = solution.get("continuous_curve")
        if former is not None and former is not curve:
            chart.line(speed / RPM, former(speed), "blue", 1.6, alpha=80)
        if continuous is None:
            chart.line(speed / RPM, gives / hand, "blue", 1.4, DASH, fill_to=0)
        else:
            chart.line(speed / RPM, continuous(speed), "blue", 1.4, DASH, fill_to=0)
        sure = self.session.sure if solution is self.state.solution else None
        self._sure_to(sure, solution, speed, gives)
        chart.line(speed / RPM, gives, "blue", 2.6)
        self._resonance(solution, high)
        self._printed(solution, end)
        self._words(solution, speed, gives, end, hand)
        self._cycle(solution, high)

    def _sure_to(self, sure: Sure | None, solution: Solution, speed: np.ndarray, gives: np.ndarray) -> None:
        """A band about the curve and a stroke about what is needed, in which 95 of 100 such builds lie."""
        given, needed = solution.get("available_torque_at_peak_speed"), solution.get("peak_torque")
        there = None if sure is None or not given else sure.standard("available_torque_at_peak_speed", given)
        asked = None if sure is None or not needed else sure.standard("peak_torque", needed)
        if there and given:
            share = min(COVERAGE * there / float(given), 1.0)
            self.chart.band(speed / RPM, gives * (1 - share), gives * (1 + share), "blue", 26)
        tightest = solution.get("tightest_moment")
        if asked and tightest is not None:
            x, y = abs(tightest[0]) / RPM, abs(tightest[1])
            wide, end = COVERAGE * asked * y / float(needed), 0.006 * float(speed[-1]) / RPM  # type: ignore[arg-type]
            self.chart.line([x, x], [y - wide, y + wide], "accent", 1.6)
            for at in (y - wide, y + wide):
                self.chart.line([x - end, x + end], [at, at], "accent", 1.6)

    def _printed(self, solution: Solution, end: float) -> None:
        """The points that the data sheet prints, and where they hold."""
        for one in solution.get("printed_curves") or ():
            volts, set_to = solution.get("supply_voltage"), solution.get("current_peak")
            fit = solution.get("printed_fit")
            here = volts is not None and same_setting(volts, one.printed_voltage) and (
                set_to is None or fit is None or same_setting(set_to, float(getattr(fit, "current_peak", set_to))))
            shown = one.speeds <= end
            if not shown.any():
                continue
            self.chart.dots(one.speeds[shown] / RPM, one.torques[shown], "violet", 7, "turned", filled=here)
            last = int(np.flatnonzero(shown)[-1])
            where = "" if here else f", at {number_text(one.printed_voltage, 3)} V"
            self.chart.text(one.speeds[last] / RPM, one.torques[last], f"{one.shows} as printed{where}", "violet", (1, 1.2), 12)

    def _resonance(self, solution: Solution, high: float) -> None:
        """The speeds at which its own steps ring the axis."""
        band, r = solution.get("resonant_band"), solution.get("travel_per_radian")
        if band is None or r is None:
            return
        low, up = (float(one) / r / RPM for one in band)
        self.chart.band([low, up], [0.0, 0.0], [high, high], "short", 28)
        self.chart.text(up, 0.985 * high, " resonates: cross quickly", "short", (0, 0), 12)

    def _words(self, solution: Solution, speed: np.ndarray, gives: np.ndarray, end: float, hand: float) -> None:
        volts, current = solution.get("supply_voltage"), solution.get("current_peak")
        at = f" at {number_text(volts, 3)} V" if volts else ""
        at += f", {number_text(current, 3)} A peak" if current else ""
        held = solution.get("peak_time")
        at += f", {number_text(held, 2)} s at a time" if held else ""
        corner = min(solution.get("corner_speed", end), end)
        place = 0.012 * end if corner > 0.35 * end else 0.5 * end
        y = float(np.interp(place, speed, gives))
        self.chart.text(place / RPM, y, f"what it can give{at}", "blue", (0, 1.1), 13)
        continuous = solution.get("continuous_curve")
        if continuous is None:
            self.chart.text(place / RPM, y / hand, f"usable, with a safety factor of {number_text(hand, 2)}", "blue", (0, 1.05), 12)
        else:
            self.chart.text(place / RPM, float(continuous(np.array([place]))[0]), "all the time", "blue", (0, 1.05), 12)
        if 0 < corner < end and "corner_speed" in solution.sheet.quantities:
            self.chart.dots([corner / RPM], [float(np.interp(corner, speed, gives))], "blue", 7, filled=False)

    def _cycle(self, solution: Solution, high: float) -> None:
        """The cycle as a closed loop of |speed| and |torque|, with its tightest moment."""
        try:
            cycle, (speed, torque) = solution["cycle_torque"], solution["tightest_moment"]
        except NotKnown as why:
            self.chart.text(0, 0.04 * high, sentence(str(why)), "muted", (0, 1), 13)
            return
        x, y = loop(cycle)
        self.chart.line(np.append(x, x[0]), np.append(y, y[0]), "accent", 2.4)
        x0, y0 = abs(speed) / RPM, abs(torque)
        available = float(solution["torque_curve"](np.array([abs(speed)]))[0])
        self.chart.line([x0, x0], [y0, available], "accent", 1.4)
        self.chart.dots([x0], [y0], "accent", 9)
        margin = number_text(solution["working_margin"], 2)
        self.chart.text(x0, 0.6 * y0 + 0.4 * available, f" {margin} ×", "accent", (0, 0.5), 20, True)
        tight = (available - y0) / high * self.chart.height() < BOTH_WORDS
        needs = f" needs {self._torque(y0)} at {number_text(x0, 3)} rpm"
        self.chart.text(x0, y0, needs, "accent", (0, -0.1 if tight else 0.6), 12)
        if "continuous_curve" in solution.sheet.quantities:
            rms, mean = float(solution["rms_torque"]), float(solution["mean_speed"]) / RPM
            self.chart.dots([mean], [rms], "violet", 10, "turned")
            at = f", mean {number_text(mean, 3)} rpm" if self.chart.width() >= ROOMY else ""  # else no place is free of lines
            self.chart.text(mean, rms, f" RMS {self._torque(rms)}{at}", "violet", (0, 1.1), 12)


def loop(cycle: CycleTorque) -> tuple[np.ndarray, np.ndarray]:
    """The moving pieces of a cycle as points of |speed| [rpm] and |torque| [N·m]."""
    moving = cycle.moving
    return (np.abs(np.column_stack([cycle.speed_start[moving], cycle.speed_end[moving]])).ravel() / RPM,
            np.abs(np.column_stack([cycle.start[moving], cycle.end[moving]])).ravel())


def _marks(marks: list[tuple[Any, str, str]]) -> tuple[Mark, ...]:
    return tuple(Mark(float(value), word, color) for value, word, color in marks if value is not None)


class Beam(QWidget):
    """The inertia ratio as a balance: rotor on one side, load on the other, over its three ranges."""

    natural = (0.0, 250.0)

    def __init__(self, picture: Picture) -> None:
        super().__init__(picture)
        self.picture = picture
        self.setFixedWidth(196)

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(paper(self), theme.color("panel"))
        width, ratio = float(paper(self).width()), self.picture.state.solution.get("inertia_ratio")
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        painter.drawText(QRectF(0, 10, width, 18), Qt.AlignmentFlag.AlignCenter, "inertia, load to rotor")
        if ratio is None:
            painter.drawText(QRectF(8, 60, width - 16, 60), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap,
                             self.picture.state.reason_unknown("inertia_ratio"))
            return
        painter.setPen(theme.color("ink"))
        painter.setFont(font(22, bold=True))
        painter.drawText(QRectF(0, 30, width, 30), Qt.AlignmentFlag.AlignCenter, f"{number_text(float(ratio), 3)} to 1")
        if paper(self).height() > 240:
            self._balance(painter, float(ratio), QPointF(width / 2, 0.40 * paper(self).height() + 12))
        self._ranges(painter, float(ratio), QRectF(18, paper(self).height() - 84, width - 36, 10))
        painter.setPen(theme.color("muted"))
        painter.setFont(font(12))
        centre = float(self.picture.state.solution["centring_reduction"])
        more = f"a reduction of {number_text(centre, 2)}:1 more would balance them"
        said = more if ratio > 1.5 else "the rotor outweighs the load"
        painter.drawText(QRectF(4, paper(self).height() - 40, width - 8, 34),
                         Qt.AlignmentFlag.AlignHCenter | Qt.TextFlag.TextWordWrap, said)

    def _balance(self, painter: QPainter, ratio: float, pivot: QPointF) -> None:
        tilt = math.radians(max(-14.0, min(14.0, 14 * math.log10(max(ratio, 1e-3)) / math.log10(15))))
        arm = 72.0
        painter.setPen(theme.pen("ink", 2.4))
        left = pivot + QPointF(-arm * math.cos(tilt), -arm * math.sin(tilt))
        right = pivot + QPointF(arm * math.cos(tilt), arm * math.sin(tilt))
        painter.drawLine(left, right)
        painter.setBrush(theme.color("ink"))
        painter.drawPolygon(QPolygonF([pivot, pivot + QPointF(-10, 24), pivot + QPointF(10, 24)]))
        # Weights are drawn as cubes, so their sides go with the cube root of the inertia.
        side = 30 / max(1.0, ratio ** (1 / 3))
        for foot, size, color, word in ((left, side, "blue", "rotor"), (right, side * ratio ** (1 / 3), "accent", "load")):
            size = min(46.0, max(6.0, size * 1.2))
            painter.fillRect(QRectF(foot.x() - size / 2, foot.y() - size, size, size), theme.color(color))
            painter.setPen(theme.color("muted"))
            painter.setFont(font(12))
            painter.drawText(QRectF(foot.x() - 26, pivot.y() + 30, 52, 18), Qt.AlignmentFlag.AlignCenter, word)

    def _ranges(self, painter: QPainter, ratio: float, bar: QRectF) -> None:
        """Easy, usable, careful: told apart by how far they are filled as well as by colour."""
        def x(value: float) -> float:
            return bar.left() + bar.width() * min(1.0, math.log10(1 + value) / math.log10(41))

        edges = (0.0, COMFORTABLE_RATIO, USABLE_RATIO, 40.0)
        painter.setFont(font(12))
        ranges = zip(pairwise(edges), ("good", "tight", "short"), ("easy", "usable", "careful"), (10.0, 7.0, 4.0), strict=True)
        for (low, high), color, word, tall in ranges:
            painter.fillRect(QRectF(x(low), bar.bottom() - tall, x(high) - x(low) - 2, tall), theme.color(color, 150))
            painter.setPen(theme.color("muted"))
            painter.drawText(QRectF(x(low) - 12, bar.bottom() + 3 + (14 if word == "usable" else 0), x(high) - x(low) + 24, 16),
                             Qt.AlignmentFlag.AlignCenter, word)
        for value in (COMFORTABLE_RATIO, USABLE_RATIO):
            painter.drawText(QRectF(x(value) - 15, bar.top() - 20, 30, 16), Qt.AlignmentFlag.AlignCenter, f"{value:g}")
        painter.setBrush(theme.color("ink"))
        tip = QPointF(x(ratio), bar.top() - 1)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawPolygon(QPolygonF([tip, tip + QPointF(-5, -9), tip + QPointF(5, -9)]))
