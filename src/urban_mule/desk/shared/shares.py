"""Where the torque goes, as a bar of its parts: rotor, train, load, friction, gravity, work."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter

from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.theme import font, theme

SHARE_COLORS = {"rotor": "ink", "train": "violet", "load": "blue", "friction": "tight", "gravity": "short", "work": "good"}
LEAST_WORD = 46.0  # px that a part must be wide to bear its name


def draw_shares(painter: QPainter, shares: dict[str, float], bar: QRectF, words: bool = True,
                numbers: float = 0.0) -> None:
    """A bar of the parts of a torque; beneath it their names, where there is room, and their values times `numbers`, unless 0."""
    total = sum(abs(value) for value in shares.values()) or 1.0
    x = bar.left()
    painter.setFont(font(12))
    for name, value in shares.items():
        wide = bar.width() * abs(value) / total
        if wide < 1:
            continue
        painter.fillRect(QRectF(x, bar.top(), max(1.0, wide - 2), bar.height()), theme.color(SHARE_COLORS[name]))
        said = f"{name} {number_text(value * numbers, 2)}" if numbers and wide > 2 * LEAST_WORD else name
        if words and wide > painter.fontMetrics().horizontalAdvance(said) + 4:
            painter.setPen(theme.color("ink"))
            painter.drawText(QRectF(x, bar.bottom() + 2, wide, 16), Qt.AlignmentFlag.AlignLeft, said)
        x += wide
