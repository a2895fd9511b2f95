"""Proof: deviation along the travel, both directions with their bands, and what the error is made of."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.desk.kit.chart import DASH, Chart
from urban_mule.desk.kit.painting import painted, paper
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.theme import font, theme
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.travel_units import small, travel


class ProofPicture(Picture):
    """Deviations of the last positioning run, the band of two standard deviations, and the width of A."""

    needs = frozenset({"positioning_reading", "accuracy_wanted"})

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.chart = Chart("", "", "Deviation along the travel")
        self.shares = Shares(self)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(8)
        box.addWidget(self.chart, 1)
        box.addWidget(self.shares)

    def redraw(self) -> None:
        self.shares.update()
        (to_small, small_unit), (to_travel, unit) = small(self.state), travel(self.state)
        chart = self.chart
        chart.name_axes(f"position, {unit}", f"deviation, {small_unit}")
        bands = self.state.solution.get("positioning_bands")
        if bands is None:
            chart.empty("No positioning run yet. Take one, or drop a CSV here.")
            return
        chart.restart()
        order = np.argsort(bands.targets, kind="stable")
        x = bands.targets[order] * to_travel
        means = {"towards plus": bands.mean_up[order] * to_small, "towards minus": bands.mean_down[order] * to_small}
        try:
            scatter = [s[order] * to_small for s in bands.scatter()]
        except NotKnown:
            scatter = [np.zeros_like(x), np.zeros_like(x)]
        low, high = np.inf, -np.inf
        for mean, s in zip(means.values(), scatter, strict=True):
            low, high = min(low, float((mean - 2 * s).min())), max(high, float((mean + 2 * s).max()))
        room = 0.3 * (high - low or 1.0)
        chart.frame((float(x[0]) - 0.03 * float(np.ptp(x)), float(x[-1]) + 0.03 * float(np.ptp(x))), (low - room, high + room))
        for (name, mean), s, color, symbol in zip(means.items(), scatter, ("blue", "violet"), ("up", "down"), strict=True):
            chart.band(x, mean - 2 * s, mean + 2 * s, color)
            chart.line(x, mean, color, 2.2)
            chart.dots(x, mean, color, 8, symbol)
            above = mean.mean() >= np.mean(list(means.values()))
            place = len(x) * 2 // 3
            chart.text(float(x[place]), float(mean[place] + (2 if above else -2) * s[place]), name, color,
                       (0.5, 1.35 if above else -0.35), 13)
        for y in (low, high):
            chart.horizontal(y, "accent", 1.2, DASH)
        accuracy = self.state.solution.get("positioning_accuracy")
        if accuracy is not None:
            chart.text(float(x[0]), high, f"A = {accuracy * to_small:.3g} {small_unit}", "accent", (0, 1.05), 20, True)


class Shares(QWidget):
    """What the error is made of, as bars against the accuracy wanted."""

    natural = (0.0, 292.0)

    def __init__(self, picture: Picture) -> None:
        super().__init__(picture)
        self.picture = picture
        self.setFixedWidth(232)

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(paper(self), theme.color("panel"))
        shares = self.picture.state.solution.get("error_shares")
        if not shares:
            return
        to_small, unit = small(self.picture.state)
        wanted = self.picture.state.solution.get("accuracy_wanted")
        largest = max([*shares.values(), wanted or 0.0]) or 1.0  # where nothing errs no bar has a length
        painter.setFont(font(13, bold=True))
        painter.setPen(theme.color("ink"))
        painter.drawText(QRectF(12, 8, 200, 20), Qt.AlignmentFlag.AlignVCenter, "What the error is made of")
        top, high = 40.0, min(48.0, (paper(self).height() - 64.0) / len(shares))
        limit = None if not wanted else 12 + 146 * wanted / largest
        for name, value in sorted(shares.items(), key=lambda one: -one[1]):
            painter.setFont(font(12))
            painter.setPen(theme.color("muted"))
            painter.drawText(QRectF(12, top, 210, 18), Qt.AlignmentFlag.AlignVCenter, name)
            bar = QRectF(12, top + 0.44 * high, 146 * value / largest, 10)
            painter.fillRect(bar, theme.color("blue"))
            said, beside = f"{value * to_small:.3g} {unit}", bar.right() + 6
            if limit is not None:
                painter.setPen(theme.pen("accent", 1.4))
                painter.drawLine(QPointF(limit, bar.top() - 2), QPointF(limit, bar.bottom() + 2))
                if beside - 4 <= limit <= beside + painter.fontMetrics().horizontalAdvance(said) + 4:
                    beside = limit + 6
            painter.setPen(theme.color("ink"))
            painter.drawText(QRectF(beside, bar.center().y() - 10, 80, 20), Qt.AlignmentFlag.AlignVCenter, said)
            top += high
        if wanted:
            painter.setFont(font(12))
            painter.setPen(theme.color("accent"))
            painter.drawText(QRectF(12, top + 2, 204, 18), Qt.AlignmentFlag.AlignRight, f"wanted {wanted * to_small:.3g} {unit}")
