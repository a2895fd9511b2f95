"""The schools of a drive that turns a tool, side by side: what each gives, what it gives up, and which one is chosen."""

from __future__ import annotations

from typing import ClassVar

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter

from urban_mule.core.spindle.schools import BRAKES, CONTROL_MODES, ENCODERS, LOOP_IN_LOOP, TRANSMISSIONS, Option
from urban_mule.desk.kit.painting import say, say_lines
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import theme


class Ways(Painted):
    """A column for each way. given: the choice that it belongs to. beneath: what holds for all of them."""

    ways: ClassVar[tuple[Option, ...]]
    given: ClassVar[str]
    beneath: ClassVar[str] = ""

    def paint(self, painter: QPainter, area: QRectF) -> None:
        chosen = self.state.solution.get(self.given)
        self.setAccessibleName(". ".join(
            f"{one.name}{', chosen' if one.name == chosen else ''}: {one.gives}; gives up: {one.gives_up}" for one in self.ways))
        low = area.bottom() - (40 if self.beneath else 0)
        wide = area.width() / len(self.ways)
        for place, one in enumerate(self.ways):
            box = QRectF(area.left() + wide * place, area.top(), wide - 24, low - area.top())
            here = one.name == chosen
            painter.fillRect(QRectF(box.left(), box.top(), box.width(), 3), theme.color("accent" if here else "line"))
            say(painter, QRectF(box.left(), box.top() + 10, box.width(), 26), one.name, "accent" if here else "ink", 18, bold=True)
            say(painter, QRectF(box.left(), box.top() + 36, box.width(), 16), "chosen" if here else "", "accent", 12)
            for part, (word, text) in enumerate((("gives", one.gives), ("gives up", one.gives_up))):
                each = min(112.0, (box.height() - 58) / 2)
                top = box.top() + 58 + part * each
                say(painter, QRectF(box.left(), top, box.width(), 16), word, "muted", 12)
                say_lines(painter, QRectF(box.left(), top + 18, box.width(), each - 20), text, "ink", 14)
        if self.beneath:
            painter.fillRect(QRectF(area.left(), low + 8, 4, 32), theme.color("tight"))
            say_lines(painter, QRectF(area.left() + 14, low + 8, area.width() - 14, 34), self.beneath, "ink", 12)


class ChosenWay(Ways):
    """Ways of which no check judges the chosen one: it is the headline itself."""

    def says(self) -> tuple[str, str] | None:
        """What the chosen way gives, and what it gives up."""
        chosen = self.state.solution.get(self.given)
        one = next((way for way in self.ways if way.name == chosen), None)
        if one is None:
            return f"{len(self.ways)} ways, each with what it gives and gives up.", "Choose one beneath."
        return f"{one.name[:1].upper()}{one.name[1:]}: {one.gives}.", f"It gives up: {one.gives_up}."


class TransmissionWays(ChosenWay):
    """What may lie between motor and tool."""

    ways, given = TRANSMISSIONS, "transmission"


class ControlWays(Ways):
    """What the drive is told."""

    ways, given, beneath = CONTROL_MODES, "control_mode", LOOP_IN_LOOP


class BrakeWays(Ways):
    """What stops the tool."""

    ways, given = BRAKES, "stop_by"


class EncoderWays(ChosenWay):
    """Where the encoder sits."""

    ways, given = ENCODERS, "encoder_at"
