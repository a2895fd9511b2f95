"""Wiring: the signals of every driver and the controller's terminals; what is used twice or left open stands out."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter

from urban_mule.core.drive.interface import SIGNALS
from urban_mule.core.drive.wiring import DriverWiring, clashes, signal_words, used_twice
from urban_mule.desk.kit.paged import page_said, page_with
from urban_mule.desk.kit.painting import say, say_lines
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import draw_mark, theme

NAMES = 120.0  # px of the column of signals
NARROWEST = 70.0  # px of the column of a driver


class WiringPicture(Painted):
    """A row a signal, a column a driver."""

    def paint(self, painter: QPainter, area: QRectF) -> None:
        wirings: tuple[DriverWiring, ...] = self.session.together.get("wirings", ())
        twice = clashes(wirings)
        clashing = {place for one, signal, other, second in used_twice(wirings)
                    for place in ((one.motor, signal), (other.motor, second))}
        if not wirings:
            say_lines(painter, area, "No axis has a driver yet.", "muted", 15)
            return
        self.setAccessibleName(
            "Wiring. "
            + (
                " ".join(f"{one}." for one in twice)
                or " ".join(
                    f"{one.motor}: {', '.join(f'{signal_words(s)} {t}' for s, t in one.wired.items()) or 'nothing typed'}."
                    for one in wirings
                )
            )
        )
        lines = SIGNALS
        high = min(24.0, (area.height() - 44) / len(lines))
        first = next((place for place, one in enumerate(wirings) if one.axis == self.state.axis.name), 0)
        page = page_with(first, len(wirings), (area.width() - NAMES) / NARROWEST)
        columns = wirings[page.start:page.stop]
        wide = (area.width() - NAMES) / len(columns)
        for place, one in enumerate(columns):
            here = one.axis == self.state.axis.name
            say(
                painter,
                QRectF(area.left() + NAMES + wide * place, area.top(), wide - 8, 20),
                one.motor,
                "accent" if here else "ink",
                14,
                bold=True,
            )
        for row, signal in enumerate(lines):
            y = area.top() + 26 + high * row
            say(painter, QRectF(area.left(), y, NAMES - 8, high), signal_words(signal), "muted", 13)
            painter.fillRect(QRectF(area.left(), y + high - 1, area.width(), 1), theme.color("line"))
            for place, one in enumerate(columns):
                cell = QRectF(area.left() + NAMES + wide * place, y, wide - 8, high)
                self._cell(painter, cell, one, signal, (one.motor, signal) in clashing)
        foot = QRectF(area.left(), area.top() + 30 + high * len(lines), area.width(), 18)
        if twice:
            say(painter, foot, f"Terminal {twice[0]}{f'; and {len(twice) - 1} more' if len(twice) > 1 else ''}.", "short", 13)
        else:
            say(painter, foot, page_said("Drivers", page, len(wirings)), "muted")

    @staticmethod
    def _cell(painter: QPainter, place: QRectF, one: DriverWiring, signal: str, clashes_here: bool) -> None:
        text = dict(one.terminals).get(signal, "").strip()
        clash = bool(text) and clashes_here
        needed = not text and signal in one.needed
        if clash or needed:
            draw_mark(painter, "short" if clash else "unknown", QPointF(place.left() + 6, place.center().y()), 4.5)
            place = place.adjusted(16, 0, 0, 0)
        say(painter, place, text or ("open" if needed else "–"), "short" if clash else "ink" if text else "muted", 13)
