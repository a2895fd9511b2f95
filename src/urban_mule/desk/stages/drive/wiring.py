"""Wiring: drivers at both sides of the controller, a line from each signal to its terminal; what is used twice stands out."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath

from urban_mule.core.drive.interface import SIGNALS
from urban_mule.core.drive.wiring import DriverWiring, clashes, signal_words, used_twice
from urban_mule.core.sheet.record import record
from urban_mule.desk.kit.paged import page_said, page_with
from urban_mule.desk.kit.painting import CENTRE, LEFT, RIGHT, say, say_lines
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import draw_mark, theme

LEAST_PIN, MOST_PIN, HEAD = 12.5, 26.0, 22.0  # px from one pin to the next; of the name above the pins of a driver
DRIVER, CONTROLLER = 0.27, 0.2  # of the width: a driver at either side, the controller in the middle
OPEN = "open"


@record(frozen=True)
class Pin:
    """A signal of a driver as it is drawn: its terminal, nothing where it is left open; whether the terminal is another's too."""

    signal: str
    terminal: str
    twice: bool


def pins_of(one: DriverWiring, twice: frozenset[tuple[str, str]]) -> tuple[Pin, ...]:
    """The signals of a driver that go somewhere, or that it cannot do without."""
    return tuple(Pin(signal, one.wired.get(signal, ""), (one.motor, signal) in twice) for signal in SIGNALS
                 if signal in one.wired or signal in one.open)


def at_sides(pins: Sequence[tuple[DriverWiring, tuple[Pin, ...]]]) -> tuple[int, int]:
    """How many drivers stand at the left so that both sides are about as high, and how high the higher one is, in pins."""
    high = [len(some) + 2 for _, some in pins]
    left = min(range(1, len(high) + 1), key=lambda n: max(sum(high[:n]), sum(high[n:])))
    return left, max(sum(high[:left]), sum(high[left:]))


class WiringPicture(Painted):
    """Drivers, controller, and the lines between them."""

    def paint(self, painter: QPainter, area: QRectF) -> None:
        wirings: tuple[DriverWiring, ...] = self.session.together.get("wirings", ())
        if not wirings:
            say_lines(painter, area, "No axis has a driver yet.", "muted", 15)
            return
        twice = clashes(wirings)
        clashing = frozenset(place for one, signal, other, second in used_twice(wirings)
                             for place in ((one.motor, signal), (other.motor, second)))
        self.setAccessibleName("Wiring. " + (" ".join(f"{one}." for one in twice) or " ".join(
            f"{one.motor}: {', '.join(f'{signal_words(s)} {t}' for s, t in one.wired.items()) or 'nothing typed'}."
            for one in wirings)))
        pins = [(one, pins_of(one, clashing)) for one in wirings]
        first = next((place for place, one in enumerate(wirings) if one.axis == self.state.axis.name), 0)
        page = page_with(first, len(wirings), self._fitting(pins, first, area.height() - 20))
        shown = pins[page.start:page.stop]
        left, high = at_sides(shown)
        pitch = min(MOST_PIN, (area.height() - 20) / max(high, 1))
        controller = QRectF(area.center().x() - CONTROLLER / 2 * area.width(), area.top(), CONTROLLER * area.width(),
                            area.height() - 20)
        painter.setPen(theme.pen("ink", 1.6))
        painter.setBrush(theme.color("terrain"))
        painter.drawRoundedRect(controller, 4, 4)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        say(painter, QRectF(controller.left(), controller.top() + 2, controller.width(), 20), "controller", "ink", 13, bold=True,
            align=CENTRE)
        for side, some in ((-1, shown[:left]), (1, shown[left:])):
            self._side(painter, some, side, controller, QRectF(area.left(), area.top(), area.width(), area.height() - 20), pitch)
        foot = QRectF(area.left(), area.bottom() - 16, area.width(), 18)
        if twice:
            say(painter, foot, f"Terminal {twice[0]}{f'; and {len(twice) - 1} more' if len(twice) > 1 else ''}.", "short", 13)
        else:
            say(painter, foot, page_said("Drivers", page, len(wirings)), "muted")

    @staticmethod
    def _fitting(pins: list[tuple[DriverWiring, tuple[Pin, ...]]], first: int, room: float) -> float:
        """How many drivers can be drawn at once, counted from the one that is shown."""
        order = [*pins[first:], *pins[:first]]
        return next((n for n in range(len(order), 1, -1) if at_sides(order[:n])[1] * LEAST_PIN <= room), 1)

    def _side(self, painter: QPainter, drivers: Sequence[tuple[DriverWiring, tuple[Pin, ...]]], side: int, controller: QRectF,
              area: QRectF, pitch: float) -> None:
        """The drivers at one side, -1 left or 1 right, from the top."""
        wide = DRIVER * area.width()
        near = area.left() + wide if side < 0 else area.right() - wide  # the edge at which the pins are
        places: list[tuple[Pin, float, bool]] = []
        y = area.top()
        for one, pins in drivers:
            here = one.axis == self.state.axis.name
            box = QRectF(area.left() if side < 0 else near, y, wide, HEAD + pitch * len(pins))
            painter.setPen(theme.pen("accent" if here else "ink", 2.0 if here else 1.4))
            painter.setBrush(theme.color("panel"))
            painter.drawRoundedRect(box, 4, 4)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            say(painter, box.adjusted(8, 2, -8, -(box.height() - HEAD)), one.motor, "accent" if here else "ink", 14, bold=True,
                align=LEFT if side < 0 else RIGHT)
            for n, pin in enumerate(pins):
                at = y + HEAD + pitch * (n + 0.4)
                text = QRectF(box.left() + 8, at - pitch / 2, wide - 22, pitch)
                say(painter, text, signal_words(pin.signal), "ink" if here else "muted", 12, align=RIGHT if side < 0 else LEFT)
                places.append((pin, at, here))
            if not pins:
                say(painter, box.adjusted(8, HEAD - 4, -8, 12), "nothing typed", "muted", 12)
            y = box.bottom() + max(8.0, 2 * pitch - HEAD)
        self._lines(painter, places, near, side, controller, pitch)

    @staticmethod
    def _lines(painter: QPainter, places: list[tuple[Pin, float, bool]], near: float, side: int, controller: QRectF,
               pitch: float) -> None:
        """A line from each pin to its terminal; a terminal that serves several stands in the middle of their heights."""
        edge = controller.left() if side < 0 else controller.right()
        heights: dict[str, list[float]] = {}
        for pin, at, _ in places:
            if pin.terminal:
                heights.setdefault(pin.terminal.casefold(), []).append(at)
        ends = {name: sum(some) / len(some) for name, some in heights.items()}
        last = controller.top() + HEAD - pitch / 2
        for name in sorted(ends, key=lambda one: ends[one]):
            ends[name] = last = max(ends[name], last + min(pitch, 15.0))
        written: set[str] = set()
        for pin, at, here in places:
            if not pin.terminal:
                draw_mark(painter, "unknown", QPointF(near - 12 * side, at), 4.5)
                say(painter, QRectF(near - 20 * side - (60 if side > 0 else 0), at - 9, 60, 18), OPEN, "tight", 12,
                    align=RIGHT if side > 0 else LEFT)
                continue
            color = "short" if pin.twice else "accent" if here else "blue"
            end = QPointF(edge, ends[pin.terminal.casefold()])
            line = QPainterPath(QPointF(near, at))
            third = (edge - near) / 2
            line.cubicTo(QPointF(near + third, at), QPointF(edge - third, end.y()), end)
            painter.setPen(theme.pen(color, 2.4 if here or pin.twice else 1.3))
            painter.drawPath(line)
            painter.setBrush(theme.color(color))
            painter.drawEllipse(QPointF(near, at), 3, 3)
            painter.drawEllipse(end, 3, 3)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            if pin.terminal.casefold() not in written:
                written.add(pin.terminal.casefold())
                room = QRectF(controller.left() + 8, end.y() - 9, controller.width() / 2 - 10, 18)
                say(painter, room if side < 0 else room.translated(controller.width() / 2 - 6, 0), pin.terminal,
                    "short" if pin.twice else "ink", 12, bold=here, align=LEFT if side < 0 else RIGHT)
