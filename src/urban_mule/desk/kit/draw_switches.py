"""A bank of switches or jumpers as it must look on the board; what stands otherwise on the machine is marked."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from urban_mule.desk.kit.theme import font, theme
from urban_mule.store.settings import BankShown

GAP = 0.36  # of a switch's width, between two


def bank_size(count: int, wide: float) -> tuple[float, float]:
    """Width and height of a bank whose switches are so wide [px]."""
    return count * wide * (1 + GAP) + wide * GAP, wide * 2.5


def draw_bank(painter: QPainter, bank: BankShown, corner: QPointF, wide: float, numbers: bool = True) -> None:
    """Draw a bank; a switch stands up for on, a jumper is a bridge over its two pins. A mark beneath: other on the machine."""
    painter.save()
    width, height = bank_size(len(bank.positions), wide)
    body = QRectF(corner.x(), corner.y(), width, height)
    painter.setPen(theme.pen("muted", 1.2))
    painter.setBrush(theme.color("terrain"))
    painter.drawRect(body)
    for place, sign in enumerate(bank.positions):
        slot = QRectF(body.left() + wide * GAP + place * wide * (1 + GAP), body.top() + wide * 0.25, wide, wide * 2.0)
        (_jumper if bank.kind == "jumpers" else _switch)(painter, sign, slot)
        other = place < len(bank.on_machine) and bank.on_machine[place] != sign
        if other:
            painter.setPen(theme.pen("short", 2.0))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawLine(QPointF(slot.left(), body.bottom() + 3), QPointF(slot.right(), body.bottom() + 3))
        if numbers:
            painter.setFont(font(12, bold=other))
            painter.setPen(theme.color("short" if other else "muted"))
            painter.drawText(QRectF(slot.left() - 6, body.bottom() + 4, wide + 12, 15), Qt.AlignmentFlag.AlignCenter,
                             str(place + 1))
    painter.restore()


def _switch(painter: QPainter, sign: str, slot: QRectF) -> None:
    painter.setPen(theme.pen("muted", 1.0))
    painter.setBrush(theme.color("paper"))
    painter.drawRect(slot)
    half = slot.height() / 2
    if sign == "?":
        painter.setPen(theme.pen("muted", 1.2, Qt.PenStyle.DotLine))
        painter.drawRect(slot.adjusted(2, half * 0.5, -2, -half * 0.5))
        return
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.color("ink"))
    painter.drawRect(QRectF(slot.left() + 2, slot.top() + 2 if sign == "1" else slot.top() + half, slot.width() - 4, half - 2))


def _jumper(painter: QPainter, sign: str, slot: QRectF) -> None:
    middle, size = slot.center().x(), slot.width() * 0.28
    painter.setPen(theme.pen("ink", 1.2))
    if sign == "1":
        painter.setBrush(theme.color("ink"))
        painter.drawRoundedRect(slot.adjusted(slot.width() * 0.15, 2, -slot.width() * 0.15, -2), 3, 3)
    painter.setBrush(theme.color("paper"))
    if sign == "?":
        painter.setPen(theme.pen("muted", 1.2, Qt.PenStyle.DotLine))
    for y in (slot.top() + slot.height() * 0.25, slot.top() + slot.height() * 0.75):
        painter.drawRect(QRectF(middle - size / 2, y - size / 2, size, size))
