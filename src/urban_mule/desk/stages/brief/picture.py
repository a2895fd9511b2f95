"""Brief: the goals against what each axis now reaches."""

from __future__ import annotations

import math
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.core.brief.goals import is_met
from urban_mule.core.brief.limits import Reach
from urban_mule.core.sheet.units import show
from urban_mule.desk.kit.link_looks import draw_train, train_kind
from urban_mule.desk.kit.paged import page_said, page_with
from urban_mule.desk.kit.painting import say, shortened
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import draw_mark, font, theme
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.stages.brief.ways import Ways, nothing_begun
from urban_mule.store.document.project import Axis

GOALS = (("speed", "speed_wanted", "speed_reached", True), ("acceleration", "acceleration_wanted", "acceleration_reached", True),
         ("accuracy", "accuracy_wanted", "accuracy_reached", False))
NARROW = 200.0  # px of a column
FOOT = 22.0  # px below the rows
TALLEST = 104.0  # px of a row
LOWEST = 66.0  # px of a row that can be read
TWO_LINES = 72.0  # px of a row from which on what limits has two


class BriefPicture(Painted):
    """One row an axis, one column a goal: a bar to what is reached, a stroke where the goal stands.

    Where there are more axes than can be read it shows as many as can, the shown one among them.
    """

    session: Whole

    def __init__(self, session: Whole, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.ways = Ways(self)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self.ways)
        self._offer()

    def _offer(self) -> None:
        self.ways.setVisible(self.of is None and nothing_begun(self.session.project))

    def redraw(self) -> None:
        self._offer()
        super().redraw()

    def says(self) -> tuple[str, str] | None:
        if self.ways.isHidden():
            return None
        return "Three ways to begin", "Speed, acceleration and accuracy come before the parts; what is not known yet may stay open."

    def paint(self, painter: QPainter, area: QRectF) -> None:
        if not self.ways.isHidden():
            return
        axes = self.session.project.axes
        self.setAccessibleName("Goals of each axis against what it reaches")
        column = (area.width() - 150) / len(GOALS)
        painter.setFont(font(13, bold=True))
        painter.setPen(theme.color("ink"))
        for index, (title, *_rest) in enumerate(GOALS):
            painter.drawText(QRectF(area.left() + 150 + column * index, area.top(), column, 20),
                             Qt.AlignmentFlag.AlignLeft, title.capitalize())
        room = area.height() - 26
        if len(axes) * LOWEST > room:
            room -= FOOT
        here = next((row for row, axis in enumerate(axes) if axis is self.state.axis), 0)
        page = page_with(here, len(axes), room / LOWEST)
        height = min(TALLEST, room / max(1, len(page)))
        say(painter, QRectF(area.left(), area.bottom() - FOOT + 6, area.width(), FOOT), page_said("Axes", page, len(axes)), "muted")
        for row, axis in enumerate(axes[page.start:page.stop]):
            top = area.top() + 28 + height * row
            painter.setPen(theme.pen("line"))
            painter.drawLine(QPointF(area.left(), top), QPointF(area.right(), top))
            painter.setPen(theme.color("accent" if axis is self.state.axis else "ink"))
            painter.setFont(font(26, bold=True))
            painter.drawText(QRectF(area.left(), top, 60, height), Qt.AlignmentFlag.AlignVCenter, axis.name)
            draw_train(painter, train_kind(axis), QRectF(area.left() + 60, top + height / 2 - 16, 48, 32))
            for index, goal in enumerate(GOALS):
                self._goal(painter, QRectF(area.left() + 150 + column * index, top, column - 24, height), axis, goal)

    def _goal(self, painter: QPainter, area: QRectF, axis: Axis, goal: tuple[str, str, str, bool]) -> None:
        name, wanted_name, reached_name, more_is_better = goal
        solution = self.session.solution_of(axis)
        reached: Any
        wanted, reached, why = solution.get(wanted_name), solution.get(reached_name), ""
        if isinstance(reached, Reach):
            plain = name == "accuracy" and reached.stage == "Proof"
            reached, why = reached.value, "" if plain else f"{reached.stage}: {reached.why}"
        narrow = area.width() < NARROW
        roomy = area.height() >= TWO_LINES
        top = area.center().y() - (35 if roomy else 28 if narrow else 20)
        # narrow: the goal beneath the bar instead of beside the number
        bar = QRectF(area.left(), top + 26, area.width() - 10, 9)

        def text(value: Any) -> str:
            sheet = solution.sheet
            return str(show(float(value), sheet.unit(wanted_name), self.state.system, 3, own=sheet.shown(wanted_name)))

        painter.setFont(font(16, bold=True) if reached is not None else font(12))
        painter.setPen(theme.color("ink" if reached is not None else "muted"))
        said = "not measured yet" if not more_is_better else "not known yet"
        painter.drawText(QRectF(area.left(), top, area.width(), 22), Qt.AlignmentFlag.AlignVCenter,
                         said if reached is None else text(reached))
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        goal_text = "no goal" if wanted is None else f"goal {text(wanted)}"
        if not narrow:
            painter.drawText(QRectF(area.left(), top, area.width() - 28, 22),
                             Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, goal_text)
        beneath = ", ".join(part for part in (goal_text if narrow else "", why) if part)
        lines, room = 2 if roomy else 1, area.width() - 10
        fits = shortened(painter.fontMetrics(), beneath, room * (lines - 0.1))
        painter.drawText(QRectF(area.left(), bar.bottom() + 2, room, 16 * lines), Qt.TextFlag.TextWordWrap, fits)
        painter.fillRect(bar, theme.color("terrain"))
        if wanted is None or reached is None or not wanted:
            return
        share = float(reached) / float(wanted)
        level = "good" if is_met(wanted, reached, more_is_better) else "short"
        end = max(1.25, min(share, 3.0) * 1.05)
        painter.fillRect(QRectF(bar.left(), bar.top(), bar.width() * min(share, end) / end, bar.height()), theme.color("blue"))
        x = bar.left() + bar.width() / end
        painter.setPen(theme.pen("accent", 2.4))
        painter.drawLine(QPointF(x, bar.top() - 4), QPointF(x, bar.bottom() + 4))
        if math.isfinite(share):
            draw_mark(painter, level, QPointF(area.right() - 14, top + 11), 5.5)
