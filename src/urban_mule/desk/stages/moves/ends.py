"""Ends: the axis with its hard ends, switches, soft limits and zero; beneath it, where it stands after each homing."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPolygonF
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.core.moves.ends import ANYWHERE
from urban_mule.core.sheet.wording import distance
from urban_mule.desk.kit.painting import CENTRE, LEFT, RIGHT, Label, painted, paper, say
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.stages.moves.homings import HomingsPicture

CAUTION = "Home with a hand on the stop, slowly, first from mid-travel; when it does not slow down, or grinds, remove the power."
NOT_YET = ("Not homed yet for the record: ten homings with an indicator tell whether it comes back to one place. Measure homing,"
           " below; approach no faster than the highest homing speed.")
LEAST_SHARE = 0.035  # of the length at which what is small is still seen


class EndsPicture(Picture):
    """The axis from end to end over the homings taken for the record."""

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 4)
        box.setSpacing(2)
        self.drawn = AxisDrawn()
        self.homings = HomingsPicture(session)
        self.caution = Label(CAUTION, objectName="caution", wordWrap=True)
        self.caution.setContentsMargins(12, 0, 12, 0)
        self.not_yet = Label(NOT_YET, objectName="label", wordWrap=True)
        self.not_yet.setContentsMargins(12, 0, 12, 0)
        for widget, share in ((self.drawn, 5), (self.homings, 6), (self.not_yet, 0), (self.caution, 0)):
            box.addWidget(widget, share)

    def says(self) -> tuple[str, str] | None:
        """That nothing is known of the ends yet; what is known a verdict says."""
        get = self.state.solution.get
        if get("home_by") or get("homing_reading") is not None:
            return None
        return "What finds the end of this axis is not said yet.", "A switch, the stall that the driver senses, both, or nothing."

    def redraw(self) -> None:
        self.drawn.show_axis(self.state)
        homed = self.state.solution.get("homing_reading") is not None
        self.homings.setVisible(homed)
        self.not_yet.setVisible(not homed)
        self.homings.of = self.of
        self.homings.redraw()


class AxisDrawn(QWidget):
    """A rail with its ends; lengths are true to each other as far as they can be seen."""

    natural = (560.0, 124.0)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(124)
        self.state: Any = None

    def show_axis(self, state: Any) -> None:
        """Take the numbers over."""
        self.state = state
        get, unit = state.solution.get, state.axis.unit
        said = [f"{words} {distance(float(value), unit)}" for words, name in (
            ("travel", "travel"), ("lower soft limit", "soft_limit_low"), ("upper soft limit", "soft_limit_high"),
            ("overtravel behind the switch", "switch_overtravel")) if (value := get(name)) is not None]
        self.setAccessibleName(f"The axis: homes by {get('home_by') or 'what is not said'}, at"
                               f" {get('home_end') or 'an end that is not said'}; {'; '.join(said)}")
        self.update()

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(paper(self), theme.color("panel"))
        get, unit = self.state.solution.get, self.state.axis.unit
        travel = get("travel")
        if travel is None:
            say(painter, paper(self).adjusted(16, 0, -16, 0), "The axis is drawn once its travel is given, on Load.", "muted", 14,
                align=CENTRE)
            return
        travel, by, end = float(travel), get("home_by"), get("home_end")
        over = max(float(get("switch_overtravel") or 0.0), LEAST_SHARE * travel)
        left, right, y = 30.0, paper(self).width() - 30.0, 0.5 * paper(self).height()
        scale = (right - left) / (travel + 2 * over)

        def at(place: float) -> float:
            """Where a place lies, counted from the switch of the minus end."""
            return left + (place + over) * scale

        known = get("switch_overtravel")
        behind = "" if known is None or end is None or by in (None, ANYWHERE, "stall") else (
            f", {distance(float(known), unit)} behind the switch")
        self._rail(painter, left, right, y, {end: behind})
        ends = {"minus": 0.0, "plus": travel}
        for name, place in ends.items():
            self._end(painter, at(place), y, name, by if name == end else None, by == ANYWHERE)
        low, high = get("soft_limit_low"), get("soft_limit_high")
        offset = float(get("zero_offset") or 0.0)
        if low is not None and high is not None and end is not None:
            zero = offset if end == "minus" else travel - offset
            self._allowed(painter, at(zero + float(low)), at(zero + float(high)), y,
                          (distance(float(low), unit), distance(float(high), unit)))
            self._zero(painter, at(zero), y, "zero")
        elif by == ANYWHERE:
            self._zero(painter, at(0.42 * travel), y, "zero, wherever it is set")

    def _rail(self, painter: QPainter, left: float, right: float, y: float, behind: dict[str | None, str]) -> None:
        """The rail between its hard ends; behind: what is said of the one at that end."""
        painter.setPen(theme.pen("ink", 3.0))
        painter.drawLine(QPointF(left, y), QPointF(right, y))
        painter.setBrush(theme.color("ink"))
        painter.drawRect(QRectF(left - 7, y - 20, 7, 40))
        painter.drawRect(QRectF(right, y - 20, 7, 40))
        half = (right - left) / 2
        say(painter, QRectF(left - 7, y + 46, half, 16), f"hard end{behind.get('minus', '')}", "muted", 12)
        say(painter, QRectF(right + 7 - half, y + 46, half, 16), f"hard end{behind.get('plus', '')}", "muted", 12, align=RIGHT)

    def _end(self, painter: QPainter, x: float, y: float, name: str, by: str | None, anywhere: bool) -> None:
        """What finds an end, where it is used; else only where the travel ends."""
        used = by is not None and not anywhere
        painter.setPen(theme.pen("accent" if used else "line", 2.0 if used else 1.2))
        painter.setBrush(theme.color("accent" if used else "panel"))
        if used and by is not None and "switch" in by:
            painter.drawPolygon(QPolygonF([QPointF(x - 8, y - 26), QPointF(x + 8, y - 26), QPointF(x, y - 8)]))
        else:
            painter.drawLine(QPointF(x, y - 14), QPointF(x, y + 14))
        said = f"{name}: homes here by {by}" if used else name
        room, color = 280.0, "accent" if used else "muted"
        left = name == "minus"
        say(painter, QRectF(x - 10 if left else x + 10 - room, y - 48, room, 16), said, color, 12, align=LEFT if left else RIGHT)

    def _allowed(self, painter: QPainter, low: float, high: float, y: float, said: tuple[str, str]) -> None:
        painter.fillRect(QRectF(low, y - 5, high - low, 10), theme.color("good", 90))
        painter.setPen(theme.pen("good", 2.0))
        for x, words, back in ((low, said[0], 0.0), (high, said[1], 90.0)):
            painter.setPen(theme.pen("good", 2.0))
            painter.drawLine(QPointF(x, y - 12), QPointF(x, y + 12))
            say(painter, QRectF(x - back, y + 12, 90, 16), words, "good", 12, bold=True, align=RIGHT if back else LEFT)
        say(painter, QRectF(low, y - 26, high - low, 16), "the controller lets it go here", "good", 12, align=CENTRE)

    def _zero(self, painter: QPainter, x: float, y: float, words: str) -> None:
        painter.setPen(theme.pen("ink", 1.6))
        painter.setBrush(theme.color("paper"))
        painter.drawEllipse(QPointF(x, y), 6, 6)
        say(painter, QRectF(x - 80, y + 30, 160, 16), words, "ink", 12, bold=True, align=CENTRE)

