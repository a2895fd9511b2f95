"""Colours, type and marks: one palette object, its night sister, and the style sheet made from it."""

from __future__ import annotations

from dataclasses import fields
from functools import cache

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QFont, QFontDatabase, QPainter, QPainterPath, QPen, QPolygonF
from PyQt6.QtWidgets import QApplication, QWidget

from urban_mule.core.sheet.record import record
from urban_mule.desk.resources import RESOURCES


@record(frozen=True, eq=False)
class Palette:
    """Warm paper and ink, one accent; text keeps a contrast of 4.5:1 on paper and panel."""

    paper: str = "#F3EFE6"
    panel: str = "#FBF9F4"
    ink: str = "#1F2421"
    muted: str = "#5E635D"
    line: str = "#CFC8B8"
    accent: str = "#8A3B12"
    blue: str = "#1B5E73"
    violet: str = "#5A4A78"
    good: str = "#3E6B3A"
    tight: str = "#8F5B00"
    short: str = "#A3201D"
    terrain: str = "#E6DECE"
    wash: str = "#E3E9E6"

    @cache  # noqa: B019 - there are two palettes, and they stay
    def color(self, name: str, alpha: int = 255) -> QColor:
        """A colour of the palette by its name; levels of verdicts are names too, unknown is muted."""
        color = QColor(getattr(self, "muted" if name == "unknown" else name))
        color.setAlpha(alpha)
        return color


LIGHT = Palette()
NIGHT = Palette(
    paper="#1B1E1C", panel="#232725", ink="#EDE7DA", muted="#A5A698", line="#444A45", accent="#E08A55", blue="#6DB6CC",
    violet="#B3A2D6", good="#8CC084", tight="#DDA847", short="#F0807A", terrain="#2C302D", wash="#26302F")
FAMILY = "B612"


class Theme:
    """The palette in use. Painters ask it each time, so that night falls everywhere at once."""

    def __init__(self) -> None:
        self.palette = LIGHT

    def color(self, name: str, alpha: int = 255) -> QColor:
        return self.palette.color(name, alpha)

    def pen(self, name: str, width: float = 1.0, style: Qt.PenStyle = Qt.PenStyle.SolidLine) -> QPen:
        pen = QPen(self.color(name), width, style)
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
        return pen


theme = Theme()


@cache
def font(size: int, bold: bool = False, italic: bool = False, crossed: bool = False) -> QFont:
    """The application's face at a size in px; kept, since Qt looks a new font up in its database at every stroke."""
    made = QFont(FAMILY)
    made.setPixelSize(size)
    made.setBold(bold)
    made.setItalic(italic)
    made.setStrikeOut(crossed)
    return made


def install(app: QApplication, palette: Palette = LIGHT) -> None:
    """Load the shipped fonts and dress the application."""
    for file in RESOURCES.joinpath("fonts").iterdir():
        if file.name.endswith(".otf"):
            QFontDatabase.addApplicationFontFromData(file.read_bytes())
    app.setStyle("Fusion")
    app.setFont(font(13))
    dress(app, palette)


def dress(app: QApplication, palette: Palette) -> None:
    """Put a palette on: style sheet and painters."""
    theme.palette = palette
    app.setStyleSheet(style_sheet(palette))


def polish_again(widget: QWidget) -> None:
    """Let the style sheet look at a widget's properties again; Qt does so only when a widget is polished anew."""
    style = widget.style()
    if style is not None:
        style.unpolish(widget)
        style.polish(widget)


def style_sheet(palette: Palette) -> str:
    """The style sheet in the colours of a palette."""
    sheet = RESOURCES.joinpath("style.qss").read_text(encoding="utf-8")
    sheet = sheet.replace("@arrow@", RESOURCES.joinpath("arrow.svg").as_posix())
    for field in fields(palette):
        sheet = sheet.replace(f"@{field.name}@", getattr(palette, field.name))
    return sheet


def draw_mark(painter: QPainter, level: str, centre: QPointF, radius: float = 6.0) -> None:
    """The state of something by its shape: filled disc, half disc, open triangle, dotted ring. radius: [px]."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    color = theme.color(level)
    painter.setPen(QPen(color, 1.6))
    painter.setBrush(QBrush(theme.color("paper")))
    box = QRectF(centre.x() - radius, centre.y() - radius, 2 * radius, 2 * radius)
    match level:
        case "good":
            painter.setBrush(QBrush(color))
            painter.drawEllipse(box)
        case "tight":
            painter.drawEllipse(box)
            half = QPainterPath(QPointF(box.left(), centre.y()))
            half.arcTo(box, 180, 180)
            half.closeSubpath()
            painter.fillPath(half, color)
        case "short":
            high = radius * 1.15
            painter.drawPolygon(QPolygonF([
                QPointF(centre.x() - high, centre.y() + high * 0.8), QPointF(centre.x() + high, centre.y() + high * 0.8),
                QPointF(centre.x(), centre.y() - high)]))
        case _:
            painter.setPen(QPen(color, 1.6, Qt.PenStyle.DotLine))
            painter.drawEllipse(box)
    painter.restore()
