"""Tasks over a year with today: when each was done, when it is due, how it comes again."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime, timedelta

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF

from urban_mule.desk.kit.painting import CENTRE, RIGHT, say
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import draw_mark, theme
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.upkeep import TaskLane
from urban_mule.store.solve import SECONDS_A_DAY

BACK, AHEAD = 100.0, 270.0  # days before today and after it
NAME, SAID, HEAD, LEAST_LANE, MOST_LANE = 250.0, 200.0, 24.0, 22.0, 52.0  # px
SOON = 30.0  # days
MOST_AGAIN = 60  # marks of a task that comes again


class Year(Painted):
    """A lane for each task; what is overdue is a bar up to today."""

    def __init__(self, session: Scope) -> None:
        super().__init__(session)
        self.lanes: tuple[TaskLane, ...] = ()
        self.today = 0.0

    def show_lanes(self, lanes: Sequence[TaskLane], today: float) -> None:
        """Draw these; today: [d]."""
        self.lanes, self.today = tuple(lanes), today
        self.setMinimumHeight(int(HEAD + LEAST_LANE * len(self.lanes) + 34) if self.lanes else 90)
        self.setAccessibleName("The year with today. " + "; ".join(f"{one.name}: {one.said}" for one in self.lanes))
        self.update()

    def paint(self, painter: QPainter, area: QRectF) -> None:
        plot = QRectF(area.left() + NAME, area.top() + HEAD, area.width() - NAME - SAID, area.height() - HEAD)
        self._months(painter, plot)
        lane = min(MOST_LANE, plot.height() / max(len(self.lanes), 1))
        for n, one in enumerate(self.lanes):
            self._lane(painter, one, QRectF(plot.left(), plot.top() + lane * n, plot.width(), lane), area)
        now = self._x(plot, self.today)
        painter.setPen(theme.pen("accent", 2.0))
        painter.drawLine(QPointF(now, plot.top() - 4), QPointF(now, plot.top() + max(lane * len(self.lanes), 40)))
        said = datetime.fromtimestamp(self.today * SECONDS_A_DAY, UTC)
        say(painter, QRectF(now - 80, area.top() - 10, 160, 16), f"today, {said:%-d %b}", "accent", 13, bold=True, align=CENTRE)

    def _x(self, plot: QRectF, day: float) -> float:
        return plot.left() + plot.width() * (day - self.today + BACK) / (BACK + AHEAD)

    def _months(self, painter: QPainter, plot: QRectF) -> None:
        """A line and its name at the begin of each month."""
        day = datetime.fromtimestamp((self.today - BACK) * SECONDS_A_DAY, UTC).replace(day=1, hour=0, minute=0, second=0)
        used = -1e9
        while True:
            day = (day + timedelta(days=32)).replace(day=1)
            x = self._x(plot, day.timestamp() / SECONDS_A_DAY)
            if x > plot.right():
                return
            painter.setPen(theme.pen("line"))
            painter.drawLine(QPointF(x, plot.top()), QPointF(x, plot.bottom()))
            if x - used > 40 and x + 30 < plot.right() + SAID:
                words = f"{day:%Y}" if day.month == 1 else f"{day:%b}"
                say(painter, QRectF(x + 3, plot.top() - 16, 40, 16), words, "muted", 12)
                used = x

    def _lane(self, painter: QPainter, one: TaskLane, place: QRectF, area: QRectF) -> None:
        y = place.center().y()
        level = "unknown"
        if one.due is not None:
            level = "short" if one.due < self.today else "tight" if one.due < self.today + SOON else "good"
        draw_mark(painter, level, QPointF(area.left() + 8, y), 5.5)
        say(painter, QRectF(area.left() + 20, y - 10, NAME - 28, 20), one.name, "ink", 13, bold=True)
        say(painter, QRectF(place.right() + 8, y - 10, SAID - 8, 20), one.said, level if level != "unknown" else "muted", 12,
            align=RIGHT)
        painter.setPen(theme.pen("line"))
        painter.drawLine(QPointF(area.left(), place.bottom()), QPointF(area.right(), place.bottom()))
        if one.due is not None and one.due < self.today:
            begin = max(place.left(), self._x(place, one.due) if one.due > float("-inf") else place.left())
            painter.fillRect(QRectF(begin, y - 4, self._x(place, self.today) - begin, 8), theme.color("short"))
        elif one.due is not None and one.done:
            begin = max(place.left(), self._x(place, one.done[-1]))
            painter.fillRect(QRectF(begin, y - 2, min(self._x(place, one.due), place.right()) - begin, 4), theme.color("wash"))
        for day in one.done:
            x = self._x(place, day)
            if x >= place.left():
                painter.fillRect(QRectF(x - 4, y - 8, 8, 16), theme.color("good"))
        self._coming(painter, one, place, y)

    def _coming(self, painter: QPainter, one: TaskLane, place: QRectF, y: float) -> None:
        """When it is due, and faintly when it comes again after that."""
        if one.due is None:
            return
        day = max(one.due, self.today) if one.due > float("-inf") else self.today
        for n in range(MOST_AGAIN):
            x = self._x(place, day)
            if x > place.right():
                return
            painter.setPen(theme.pen("ink" if n == 0 else "muted", 1.6 if n == 0 else 1.0))
            painter.setBrush(theme.color("tight" if n == 0 else "panel"))
            painter.drawPolygon(QPolygonF([QPointF(x, y + 8), QPointF(x - 6, y - 6), QPointF(x + 6, y - 6)]))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            if not one.each:
                return
            day += one.each
