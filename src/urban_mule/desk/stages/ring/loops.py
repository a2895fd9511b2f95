"""Loops of a servo: both loops over frequency with the dip and the peak of the train, the gains as this drive takes them, and the
three ways to come by them with what each risks on this axis.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.ring.gains import APPROACHES, Loops, integral_as, position_gain_as, velocity_gain_as
from urban_mule.core.ring.loop_plant import INTEGRALS, POSITION_GAINS, VELOCITY_GAINS
from urban_mule.core.ring.notch import Notch, tuned_notch
from urban_mule.core.sheet.progress import Progress
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.painting import RIGHT, Label, say, say_heading
from urban_mule.desk.kit.picture import Painted, Picture
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.later import Later
from urban_mule.desk.model.scope import Scope
from urban_mule.store.document.project import Axis, Project

LOWEST, LOUD, QUIET = 1.0, 40.0, -40.0  # Hz; dB of the picture
EVERY = 20.0  # dB from line to line
BEYOND = 3.0  # times what is fastest of loops and train that the picture reaches
GAINS = ("velocity_gain", "velocity_integral", "position_gain")
NEAR_LIMIT = 1.2  # times what holds: a gain above rings
NEEDS = frozenset({"loops_to_set", "velocity_gain_limit", "velocity_gain_unit", "velocity_integral_unit", "position_gain_unit",
                   "gains_by", "tuning_reading"})


class LoopCurves(Painted):
    """How much each open loop makes of what goes in, over frequency."""

    natural = (460.0, 220.0)
    needs = NEEDS

    def _plot(self, area: QRectF) -> QRectF:
        return area.adjusted(36, 24, -8, -26)

    def paint(self, painter: QPainter, area: QRectF) -> None:
        loops: Loops | None = self.state.solution.get("loops_to_set")
        if loops is None:
            say(painter, area, f"No loops yet: {self.state.reason_unknown('loops_to_set')}.", "muted", 15)
            return
        plant, plot = loops.velocity.plant, self._plot(area)
        crossing = loops.velocity.crossing / (2 * math.pi)
        top = BEYOND * max(crossing, 1 / (2 * math.pi * plant.current), 0.0 if plant.peak is None else plant.peak / (2 * math.pi))
        self._axes(painter, plot, top)

        def x(frequency: float) -> float:
            return float(plot.left() + plot.width() * math.log(frequency / LOWEST) / math.log(top / LOWEST))

        def y(level: float) -> float:
            return float(plot.bottom() - plot.height() * (min(max(level, QUIET), LOUD) - QUIET) / (LOUD - QUIET))

        for at, word in ((plant.dip, "dip"), (plant.peak, "peak")):
            if at is not None:
                swings, side = at / (2 * math.pi), RIGHT if word == "dip" else Qt.AlignmentFlag.AlignLeft
                painter.setPen(theme.pen("muted", 1.2, Qt.PenStyle.DashLine))
                painter.drawLine(QPointF(x(swings), plot.top()), QPointF(x(swings), plot.bottom()))
                place = QRectF(x(swings) - 92 if word == "dip" else x(swings) + 4, plot.top(), 88, 16)
                say(painter, place, f"{word} {number_text(swings, 3)} Hz", "muted", 12, align=side)
        frequency = np.geomspace(LOWEST, top, 500)
        velocity = loops.velocity.opened(frequency)
        position = loops.position_gain / (2j * math.pi * frequency) * velocity / (1 + velocity)
        painter.setClipRect(plot)
        for opened, color in ((position, "blue"), (velocity, "ink")):
            level = 20 * np.log10(np.abs(opened) + 1e-12)
            painter.setPen(theme.pen(color, 2.2))
            painter.drawPolyline(QPolygonF([QPointF(x(a), y(b)) for a, b in zip(frequency.tolist(), level.tolist(), strict=True)]))
        painter.setClipping(False)
        limit = self.state.solution.get("velocity_bandwidth_limit")
        outer = loops.position_gain / (2 * math.pi)
        marks = ((outer, "blue", "position", True), (crossing, "ink", "velocity", False))
        for at, color, loop, left in marks:
            words = f"{loop} {number_text(at, 3)} Hz"
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.color(color))
            painter.drawEllipse(QPointF(x(max(at, LOWEST)), y(0.0)), 4.5, 4.5)
            place = QRectF(x(max(at, LOWEST)) - (128 if left else -8), y(0.0) + (4 if left else -20), 120, 16)
            say(painter, place, words, color, 13, bold=True, align=RIGHT if left else Qt.AlignmentFlag.AlignLeft, clear=True)
        if limit is not None and abs(limit / crossing - 1) > 0.02:
            painter.setPen(theme.pen("short", 1.6))
            painter.drawLine(QPointF(x(limit), plot.top() + 18), QPointF(x(limit), plot.bottom()))
            say(painter, QRectF(x(limit) - 126, plot.bottom() - 18, 120, 16), f"limit {number_text(limit, 3)} Hz", "short", 12,
                align=RIGHT)

    @staticmethod
    def _axes(painter: QPainter, plot: QRectF, top: float) -> None:
        for level in np.arange(QUIET, LOUD + 1, EVERY).tolist():
            y = plot.bottom() - plot.height() * (level - QUIET) / (LOUD - QUIET)
            painter.setPen(theme.pen("line", 1.6 if level == 0 else 0.8))
            painter.drawLine(QPointF(plot.left(), y), QPointF(plot.right(), y))
            say(painter, QRectF(plot.left() - 40, y - 8, 34, 16), f"{level:g}", "muted", 12, align=RIGHT)
        for decade in range(int(math.log10(top)) + 1):
            x = plot.left() + plot.width() * math.log(10.0**decade / LOWEST) / math.log(top / LOWEST)
            painter.setPen(theme.pen("line", 0.8))
            painter.drawLine(QPointF(x, plot.top()), QPointF(x, plot.bottom()))
            say(painter, QRectF(x - 32, plot.bottom() + 3, 64, 16), f"{10**decade} Hz", "muted", 12,
                align=Qt.AlignmentFlag.AlignHCenter)
        say(painter, QRectF(plot.left() - 36, plot.top() - 22, 320, 16), "open loops: gain, dB", "muted", 12)


class GainsPanel(Painted):
    """Each gain in every way a drive takes it; the way of this drive is large."""

    natural = (300.0, 220.0)
    needs = NEEDS

    def paint(self, painter: QPainter, area: QRectF) -> None:
        loops: Loops | None = self.state.solution.get("loops_to_set")
        if loops is None:
            return
        solution, inertia = self.state.solution, loops.velocity.plant.inertia
        gain = loops.velocity.crossing * inertia
        one, two, three = ([velocity_gain_as(way, gain, inertia) for way in VELOCITY_GAINS],
                           [integral_as(way, loops.velocity.integral) for way in INTEGRALS],
                           [position_gain_as(way, loops.position_gain) for way in POSITION_GAINS])
        rows = (("velocity gain", "velocity_gain_unit", VELOCITY_GAINS, one),
                ("integral", "velocity_integral_unit", INTEGRALS, two),
                ("position gain", "position_gain_unit", POSITION_GAINS, three))
        say_heading(painter, area, "To be set")
        each = (area.height() - 24) / len(rows)
        spoken = []
        for n, (word, unit, ways, values) in enumerate(rows):
            top = area.top() + 24 + each * n
            own = solution.get(unit)
            say(painter, QRectF(area.left(), top, 96, 20), word, "muted", 13)
            shown = [f"{number_text(value, 3)} {way}" for value, way in zip(values, ways, strict=True)]
            if own is None:
                say(painter, QRectF(area.left() + 96, top, area.width() - 96, 20), ",  ".join(shown), "ink", 13)
                unsaid = QRectF(area.left() + 96, top + 18, area.width() - 96, 18)
                say(painter, unsaid, "which of them the drive takes is not said", "muted", 12)
            else:
                large = shown[ways.index(own)]
                say(painter, QRectF(area.left() + 96, top - 6, area.width() - 96, 30), large, "accent", 22, bold=True)
                others = ",  ".join(one for one in shown if one != large)
                say(painter, QRectF(area.left() + 96, top + 24, area.width() - 96, 18), f"that is {others}", "muted", 12)
            spoken.append(f"{word} {shown[ways.index(own)] if own else shown[0]}")
        self.setAccessibleName(f"Gains to be set: {', '.join(spoken)}")


def _notch_of(_project: Project, _axis: Axis, solution: Solution, progress: Progress) -> tuple[Notch | None]:
    plant = solution.get("loop_plant")
    return (None if plant is None else tuned_notch(plant, progress),)


class LoopsPicture(Picture):
    """Curves, gains, and beneath them how people come by them."""

    needs = NEEDS

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.curves, self.gains = LoopCurves(session), GainsPanel(session)
        self.best: Notch | None = None
        self.ways = [Label(wordWrap=True, objectName="label") for _ in range(3)]
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        row.addWidget(self.curves, 3)
        row.addWidget(self.gains, 2)
        box.addLayout(row, 1)
        beneath = QHBoxLayout()
        beneath.setSpacing(18)
        for one in self.ways:
            beneath.addWidget(one, 1)
        box.addLayout(beneath)
        keys = QHBoxLayout()
        self.take = {word: QPushButton(text, objectName="plain") for word, text in (
            ("by hand", "Take the gains found by hand"), ("computed", "Take the computed gains"), ("notch", "Set this notch"))}
        for word, key in self.take.items():
            key.clicked.connect(lambda _on, word=word: self.take_gains(word))
            keys.addWidget(key)
        self.notch = Label(objectName="label")
        keys.addWidget(self.notch)
        keys.addStretch(1)
        self.later: Later[tuple[Notch | None]] = Later(session.works, "notch", _notch_of, self)
        self.later.found.connect(lambda _before, _now: self._anew())
        box.addLayout(keys)

    def says(self) -> tuple[str, str] | None:
        """How fast the velocity loop may be, and what the train costs of it."""
        get = self.state.solution.get
        limit, lost, ratio = get("velocity_bandwidth_limit"), get("bandwidth_lost"), get("inertia_ratio")
        if limit is None:
            return (f"The loops are not known: {self.state.reason_unknown('velocity_bandwidth_limit')}.",
                    "The papers of the drive give the bandwidth of its current loop and its sample time.")
        costs = f", the spring of the train costs {100 * float(lost):.0f} %" if lost is not None and lost > 0.01 else ""
        rule = "" if ratio is None else (f" The load is {number_text(float(ratio), 3)} times the rotor: that rule of thumb knows"
                                         " neither spring nor delay, this does.")
        return (f"The velocity loop holds up to {number_text(limit, 3)} Hz{costs}.",
                f"By spring and delay, with a margin of two.{rule}")

    def redraw(self) -> None:
        self.curves.bring_up_to_date()
        self.gains.bring_up_to_date()
        for label, text in zip(self.ways, self._approaches(), strict=True):
            label.setText(text)
        self._seek_notch()
        for word, key in self.take.items():
            key.setVisible(bool(self._changes(word)))
        self.said_anew.emit()

    def _changes(self, word: str) -> list[tuple[tuple[str | int, ...], Any]]:
        """What taking gains changes: those found by hand, or none typed, so that the computed ones stand."""
        get, path = self.state.solution.get, self.session.axis_path
        if word == "notch":
            best = self.best
            said = () if best is None else (
                ("notch_frequency", round(best.frequency, 1)), ("notch_width", best.width), ("notch_depth", best.depth))
            return [(path("driver", name), value) for name, value in said if self.session.value(path("driver", name)) != value]
        found = {name: None if (value := get(f"tuned_{name}")) is None else float(f"{float(value):.4g}") for name in GAINS}
        if word == "by hand" and any(value is None for value in found.values()):
            return []
        every = ((path("driver", name), found[name] if word == "by hand" else None) for name in GAINS)
        return [(where, value) for where, value in every if self.session.value(where) != value]

    def _seek_notch(self) -> None:
        """What a notch would buy, once many were tried for it."""
        state = self.state
        self.best = None
        self.notch.setText("")
        if state.solution.get("loop_plant") is None:
            return
        told = self.later.of(state.axis, state.solution)
        if told is None:
            self.later.follow(self.session.project, state.axis, state.solution)
            return
        (self.best,) = told
        buys, best = state.solution.get("notch_buys"), self.best
        said = "" if buys is None else f"The notch set makes the limit {number_text(float(buys), 3)} times that without. "
        self.notch.setText(said + ("No notch buys anything here." if best is None else (
            f"A notch at {best.frequency:.0f} Hz, width {best.width:g}, would make it {number_text(best.buys, 3)} times:"
            f" {number_text(best.limit, 3)} Hz.")))

    def take_gains(self, word: str) -> None:
        """Take gains over, undone in one step."""
        if self.session.may_write():
            self.session.edit_all(self._changes(word), f"{self.state.axis.name}: gains {word}")

    def _approaches(self) -> tuple[str, str, str]:
        """How people come by gains, each with what it risks here."""
        get = self.state.solution.get
        limit, rule, sings, lost = (get(name) for name in (
            "velocity_gain_limit", "velocity_gain_rule", "singing_gain", "bandwidth_lost"))
        if limit is None or rule is None:
            return "", "", ""
        spring = "" if lost is None or lost < 0.1 else f" Its spring costs {100 * float(lost):.0f} % here, which leaves it little."
        auto = ("Auto-tune and leave it: the drive shakes the axis and takes what that day's load let it." + spring
                + " Take a response afterwards, with the least and with the greatest load.")
        times = float(rule) / float(limit)
        comes = "it sings" if sings is not None and rule > sings else "it rings" if times > NEAR_LIMIT else "it holds"
        two = (f"By the inertia ratio and one number of stiffness: that rule gives {number_text(float(rule), 3)} N·m·s/rad,"
               f" {number_text(times, 2)} times what holds here: {comes}.")
        hand = "By hand, gain up until it sings, then half: "
        if sings is None:
            hand += "nothing in this loop makes it sing."
        else:
            half = 0.5 * float(sings) / float(limit)
            hand += (f"it sings at {number_text(float(sings), 3)} N·m·s/rad, friction hides some of it; half is"
                     f" {number_text(half, 2)} times the gain with a margin. Low torque limit first.")
        chosen = APPROACHES.index(get("gains_by")) if get("gains_by") in APPROACHES else -1
        one, two_, three = (f"Yours. {text}" if n == chosen else text for n, text in enumerate((auto, two, hand)))
        return one, two_, three
