"""What an empty measuring stage shows: the set-up drawn, the plan, how long it takes, what it will tell."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter

from urban_mule.bench.sessions.kinds import PLAN_KINDS, expected_of, possible, words_of
from urban_mule.core.sheet.given import BadValue
from urban_mule.desk.kit.painting import say, say_lines
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.shared.plan_page import summary
from urban_mule.desk.shared.round_view import plan_axis
from urban_mule.desk.shared.setup import draw_setup

LEAST_HEIGHT = 150


def parts_of(subject: Any) -> tuple[str, ...]:
    """Kinds of the links and of the motor of a subject, by which readings make sense or not."""
    return (*(link.kind for link in getattr(subject, "train", None) or ()), getattr(subject, "motor_kind", None) or "")


class SetupView(Painted):
    """The set-up of the first kind of reading of a stage, and what each kind would tell."""

    def __init__(self, session: Scope, kinds: tuple[str, ...]) -> None:
        super().__init__(session)
        self.kinds = kinds
        self.setMinimumHeight(LEAST_HEIGHT)  # the long list of what is not known yet gives way, not what is to be done

    def paint(self, painter: QPainter, area: QRectF) -> None:
        kind, *others = possible(self.kinds, parts_of(self.state.axis)) or self.kinds[:1]
        plan = PLAN_KINDS[kind]
        self.setAccessibleName(f"Nothing is measured yet. {plan.where} It tells {plan.tells}.")
        wide = area.width() * 0.54
        draw_setup(painter, plan.setup, QRectF(area.left(), area.top(), wide, area.height()))
        text = QRectF(area.left() + wide + 24, area.top(), area.width() - wide - 24, area.height())
        say(painter, QRectF(text.left(), text.top(), text.width(), 24), "Nothing is measured yet", "ink", 17, bold=True)
        y = text.top() + 150
        told = text.adjusted(0, 30, 0, 0) if not others or y + 34 > text.bottom() else QRectF(
            text.left(), text.top() + 30, text.width(), 118)
        say_lines(painter, told, f"{plan.where} It tells {plan.tells}. {self._plan(kind)}", "ink", 14)
        for other in others:
            if y + 34 <= text.bottom():
                say(painter, QRectF(text.left(), y, text.width(), 17), f"Also here: {words_of(other)}", "accent", 13)
                say(painter, QRectF(text.left(), y + 17, text.width(), 16), PLAN_KINDS[other].tells, "muted", 12)
                y += 38

    def _plan(self, kind: str) -> str:
        """How much it asks for, by the usual plan."""
        plan, axis = PLAN_KINDS[kind], plan_axis(self.state)
        try:
            return f"The usual plan: {summary(expected_of(kind, axis, plan.usual(axis)), plan.records)}"
        except BadValue:
            return ""
