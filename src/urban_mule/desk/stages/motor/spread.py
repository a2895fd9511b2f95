"""Spread: what the tolerances of the inputs do to the torque margin, and which input is worth measuring better."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from urban_mule.core.sheet.progress import Progress
from urban_mule.core.sheet.units import number_text
from urban_mule.core.studies.doubts import really_gives, share_without_loss
from urban_mule.core.studies.tolerance import Spread, Swing, spread
from urban_mule.desk.kit.chart import DASH, Chart
from urban_mule.desk.kit.painting import painted, paper
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.theme import font, theme
from urban_mule.desk.model.scope import Scope
from urban_mule.store.doubts import axis_inputs_in_doubt

BINS, CLEAR = 60, 0.95  # share from which odds say no more


class SpreadPicture(Picture):
    """Ten thousand builds of this axis within the tolerances: how many pull, and how bad the worst plausible one is."""

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.chart = Chart("torque margin", "", "Spread of the torque margin over ten thousand builds")
        self.chart.axes["left"].setStyle(showValues=False)
        self.swings = Swings(self)
        self.found: Spread | None = None
        self._odds: float | None = None
        self._asked: Any = None
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(8)
        box.addWidget(self.chart, 3)
        box.addWidget(self.swings, 2)

    def redraw(self) -> None:
        solution = self.state.solution
        self.found, self._odds, self._asked = None, None, None
        self._show()
        if solution.get("working_margin") is None:
            self.chart.empty(f"No margin yet: {self.state.reason_unknown('working_margin')}.")
            return
        self.chart.empty("Building ten thousand of it…")
        self._asked = solution
        own, project, axis = solution.own(), self.session.project, self.state.axis

        def work(progress: Progress) -> tuple[Spread, float]:
            inputs, said, correlation = axis_inputs_in_doubt(project, axis, own)
            found = spread(own, "working_margin", inputs, progress=progress, correlation=correlation)
            return found, share_without_loss(found, *really_gives(own, said))

        self.session.works.run(("the spread", id(self)), self, work, lambda found: self._came(solution, *found),
                               lambda why: self.chart.empty(why) if why else None)

    def _came(self, asked: Any, found: Spread, odds: float) -> None:
        if asked is self._asked:
            self.found, self._odds = found, odds
            self._show()

    def says(self) -> tuple[str, str] | None:
        """How many builds pull with the margin wanted."""
        if self.found is None:
            return "What tolerances do to the torque margin.", ""
        hand = float(self.state.solution["safety_factor"])
        share = self.found.share_above(hand)
        said = "All builds pull" if share == 1 else f"{number_text(100 * share, 3)} % of the builds pull"
        return (f"{said} with {number_text(hand, 2)} times the torque needed; one in 200 is below"
                f" {number_text(self.found.worst_plausible, 3)}.", "Ten thousand builds, each input as sure as you said, or as such"
                f" numbers usually are. {self._lost()}")

    def _lost(self) -> str:
        """How many of these builds lose no step, with what such motors really give."""
        if self._odds is None or self.state.axis.motor_kind != "stepper":
            return ""
        share = "nearly all" if self._odds > CLEAR else f"{round(20 * self._odds)} of 20"
        return f"With what steppers really give, no step is lost in {share} of them."

    def _show(self) -> None:
        self.said_anew.emit()
        self.swings.show_swings(self.found)
        if self.found is None:
            return
        chart, found = self.chart, self.found
        hand = float(self.state.solution["safety_factor"])
        count, edges = np.histogram(found.values, BINS)
        low, high = min(0.92 * edges[0], 0.9), max(1.05 * edges[-1], 1.1 * hand)
        top = 1.35 * count.max()
        chart.restart()
        chart.frame((low, high), (0, top))
        chart.line(np.repeat(edges, 2)[1:-1], np.repeat(count, 2), "blue", 1.8, fill_to=0)
        for limit, word in ((1.0, "stalls below"), (hand, f"safety factor {number_text(hand, 2)}")):
            chart.line([limit, limit], [0, top], "short" if limit == 1.0 else "accent", 1.4, DASH)
            chart.text(limit, top, f" {word}", "short" if limit == 1.0 else "accent", (0, 0), 12)
        worst = found.worst_plausible
        chart.line([worst, worst], [0, 0.55 * top], "ink", 1.4)
        chart.text(worst, 0.55 * top, f"one in 200 is below {number_text(worst, 3)} ", "ink", (1, 0.5), 13, True)


def _sure_to(swing: Swing) -> str:
    """What an input is good for, after its name; nothing where it is not a share of anything."""
    return f" ±{number_text(100 * swing.sure_to, 2)} %" if np.isfinite(swing.sure_to) else ""


class Swings(QWidget):
    """What each toleranced input does alone to the margin, the widest first."""

    natural = (220.0, 240.0)

    def __init__(self, picture: Picture) -> None:
        super().__init__(picture)
        self.picture = picture
        self.found: Spread | None = None

    def show_swings(self, found: Spread | None) -> None:
        self.found = found
        said = "" if found is None else ", ".join(
            f"{self.picture.state.solution.label(s.name)} {number_text(s.low, 3)} to {number_text(s.high, 3)}"
            for s in found.swings)
        self.setAccessibleName(f"Worth measuring better, the widest first: {said}")
        self.update()

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(paper(self), theme.color("panel"))
        painter.setFont(font(13, bold=True))
        painter.setPen(theme.color("ink"))
        painter.drawText(QRectF(14, 10, paper(self).width() - 20, 18), Qt.AlignmentFlag.AlignVCenter, "Worth measuring better")
        if self.found is None or not self.found.swings:
            return
        ends = [end for swing in self.found.swings for end in (swing.low, swing.high)]
        low, room = min(ends), (max(ends) - min(ends)) or 1.0
        bar = QRectF(14, 0, paper(self).width() - 34, 9)

        def x(value: float) -> float:
            return bar.left() + bar.width() * (value - low) / room

        y = 38.0
        for swing in self.found.swings[:int((paper(self).height() - 40) // 38)]:
            painter.setFont(font(12))
            painter.setPen(theme.color("ink"))
            line = QRectF(14, y, paper(self).width() - 24, 16)
            reach = f"{number_text(min(swing.low, swing.high), 3)} to {number_text(max(swing.low, swing.high), 3)} ×"
            metrics, sure = painter.fontMetrics(), _sure_to(swing)
            room_left = line.width() - metrics.horizontalAdvance(reach) - metrics.horizontalAdvance(sure) - 10
            named = metrics.elidedText(self.picture.state.solution.label(swing.name), Qt.TextElideMode.ElideRight, int(room_left))
            painter.drawText(line, Qt.AlignmentFlag.AlignVCenter, f"{named}{sure}")
            painter.setPen(theme.color("muted"))
            painter.drawText(line, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, reach)
            a, b = sorted((x(swing.low), x(swing.high)))
            painter.fillRect(QRectF(a, y + 18, max(2.0, b - a), 9), theme.color("blue" if swing.high > swing.low else "violet"))
            painter.setPen(theme.pen("ink", 1.2))
            painter.drawLine(QPointF(x(self.found.nominal), y + 16), QPointF(x(self.found.nominal), y + 30))
            y += 38
