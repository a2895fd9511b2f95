"""Load: the train drawn as a chain from motor to load, each link a place to click, drag or drop; beneath it where the
torque goes."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QMimeData, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QDragEnterEvent, QDragLeaveEvent, QDragMoveEvent, QDropEvent, QKeyEvent, QMouseEvent, QPainter

from urban_mule.core.load.shares import torque_shares
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.units import RPM, number_text, show
from urban_mule.desk.kit.link_drawings import USUAL_FRAME, draw_load, draw_motor, outline
from urban_mule.desk.kit.link_looks import look_of
from urban_mule.desk.kit.painting import on_paper, paper, shortened
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import draw_mark, font, theme
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.travel_units import drawn_in
from urban_mule.desk.shared.shares import draw_shares

LOAD, MOTOR, FOLLOWER = -1, -2, -3  # what can be chosen beside a link, which is chosen by its place
LINK_TYPE = "application/x-urban-mule-link"  # what is dragged into the chain: the kind of a link
SHIFT = 10.0  # px that the mouse must move before a press is a drag
MILLIMETRES, INCHES = (200, 100, 50, 20, 10, 5), (8, 4, 2, 1, 0.5, 0.25)  # lengths that the ruler of the drawing may have


class ChainPicture(Painted):
    """The chain. Left and Right choose, with Ctrl they move a link; Insert and Delete put one in and take one out.

    Signals: chosen(what); moved(from, to): a link is to stand before the place `to`; wanted(kind, place): a link of a
    kind, or of any kind when empty, is to be put before a place; gone(place): a link is to be taken out.
    """

    needs = frozenset({"train", "link_loads", "cycle_torque", "moved_inertia", "top_speed", "motor_count", "incline", "moving_mass",
                       "shaft_inertia", "follower_differences", "axial_inertia_at_motor", "pair_peak_torque"})
    chosen = pyqtSignal(int)
    moved = pyqtSignal(int, int)
    wanted = pyqtSignal(str, int)
    gone = pyqtSignal(int)

    def __init__(self, session: Scope, parent: Any = None) -> None:
        super().__init__(session, parent)
        self.link = LOAD
        self._pressed: tuple[int, QPointF] | None = None
        self._gap: int | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAcceptDrops(True)
        self._describe()
        session.axis_changed.connect(self._first)

    def _first(self) -> None:
        self.link = LOAD  # the link follows by itself
        self._describe()
        self.update()

    def _describe(self) -> None:
        links = ["motor", *(["follower"] if self.motors > 1 else []), *(link.kind for link in self.links()), "load"]
        names = {LOAD: "load", MOTOR: "motor", FOLLOWER: "follower"}
        here = names.get(self.link) or self.links()[self.link].kind
        self.setAccessibleName(f"Chain: {', '.join(links)}. Chosen: {here}. Left and Right choose, with Ctrl they move the link,"
                               " Insert and Delete put one in and take one out.")

    @property
    def motors(self) -> int:
        return int(self.state.axis.motor_count or 1)

    def links(self) -> tuple[Any, ...]:
        """The links as the core has them, with what they are taken for where nothing is said."""
        return self.state.solution.inputs["train"] or ()

    def order(self) -> list[int]:
        """What can be chosen, from the motor on."""
        return [MOTOR, *([FOLLOWER] if self.motors > 1 else []), *range(len(self.links())), LOAD]

    def choose(self, what: int) -> None:
        """Choose a link by its place in the train, or LOAD, MOTOR, FOLLOWER."""
        self.link = what if what in self.order() else LOAD
        self._describe()
        self.update()
        self.chosen.emit(self.link)

    def area(self) -> QRectF:
        return paper(self).adjusted(16, 10, -16, -8)

    def spots(self, area: QRectF) -> list[QRectF]:
        """Where motor, links and load are drawn."""
        count = len(self.links()) + 2
        width = min(210.0, area.width() / count)
        left = area.center().x() - width * count / 2
        return [QRectF(left + width * i, area.top(), width, area.height() - 52) for i in range(count)]

    def scale(self, spot: QRectF) -> float:
        """px per m: the largest part across the shaft fills what there is above the words."""
        largest = max([self._frame() or USUAL_FRAME, *(look_of(link.kind).across(link) for link in self.links())])
        return (spot.height() - 88) * 0.8 / largest

    def _frame(self) -> float | None:
        return getattr(self.state.axis.motor, "frame", None)

    def paint(self, painter: QPainter, area: QRectF) -> None:
        area = self.area()
        spots = self.spots(area)
        scale = self.scale(spots[0])
        axle = spots[0].top() + (spots[0].height() - 88) * 0.5 + 8
        painter.setPen(theme.pen("muted", 3))
        painter.drawLine(QPointF(spots[0].center().x(), axle), QPointF(spots[-1].center().x(), axle))
        self._motor(painter, spots[0], axle, scale)
        for index, (link, spot) in enumerate(zip(self.links(), spots[1:], strict=False)):
            self._link(painter, link, QPointF(spot.center().x(), axle), spot, scale)
            self._words(painter, spot, link.kind, *self._facts(link, index), strong=index == self.link)
        self._load(painter, spots[-1], axle)
        self._marks(painter, spots)
        self._ruler(painter, area, scale)
        self._shares(painter, QRectF(area.left(), area.bottom() - 46, area.width(), 46))

    def _marks(self, painter: QPainter, spots: list[QRectF]) -> None:
        """What is chosen, and where a dragged link would go."""
        chosen = spots[{LOAD: -1, MOTOR: 0, FOLLOWER: 0}.get(self.link, self.link + 1)]
        painter.setPen(theme.pen("accent", 3))
        painter.drawLine(QPointF(chosen.left() + 14, chosen.bottom()), QPointF(chosen.right() - 14, chosen.bottom()))
        if self.hasFocus():
            painter.setPen(theme.pen("accent", 1))
            painter.drawRoundedRect(chosen.adjusted(6, 0, -6, -3), 4, 4)
        if self._gap is not None:
            x = spots[self._gap + 1].left()
            painter.setPen(theme.pen("accent", 3, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(x, spots[0].top()), QPointF(x, spots[0].bottom()))

    def _words(self, painter: QPainter, spot: QRectF, title: str, *lines: str, strong: bool = False) -> None:
        painter.setFont(font(13, bold=True))
        painter.setPen(theme.color("accent" if strong else "ink"))
        painter.drawText(QRectF(spot.left(), spot.bottom() - 76, spot.width(), 18), Qt.AlignmentFlag.AlignCenter, title)
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        for row, text in enumerate(lines):
            painter.drawText(QRectF(spot.left(), spot.bottom() - 59 + 17 * row, spot.width(), 17),
                             Qt.AlignmentFlag.AlignCenter, shortened(painter.fontMetrics(), text, spot.width()))

    def _inertia(self, value: float | None) -> str:
        """A part's share of all the inertia that the motor turns, its rotor among it."""
        whole = self.state.solution.get("axial_inertia_at_motor"), self.state.solution.get("shaft_inertia")
        if value is None or None in whole:
            return ""
        return f"inertia {number_text(100 * value / sum(whole), 2)} %"

    def _motor(self, painter: QPainter, spot: QRectF, axle: float, scale: float) -> None:
        motor = self.state.axis.motor
        middle = QPointF(spot.center().x(), axle)
        if self.motors > 1:
            draw_motor(painter, self._frame(), getattr(motor, "length", None), middle + QPointF(-12, -12), scale, spot.width())
        draw_motor(painter, self._frame(), getattr(motor, "length", None), middle, scale, spot.width())
        solution = self.state.solution
        speed, torque = solution.get("peak_speed"), solution.get("peak_torque")
        self._words(
            painter, spot, self._motor_title(),
            f"{number_text(speed / RPM, 3)} rpm" if speed is not None else "speed not known",
            f"{show(torque, 'N·m', self.state.system, 3)} at worst" if torque is not None else "torque not known",
            self._inertia(solution.get("shaft_inertia")), strong=self.link in (MOTOR, FOLLOWER))
        if self.state.solution.inputs.get("follower_differences"):
            draw_mark(painter, "short", QPointF(spot.right() - 12, spot.top() + 24), 6)

    @staticmethod
    def _link(painter: QPainter, link: Any, middle: QPointF, spot: QRectF, scale: float) -> None:
        """A link centred on its shaft; scale: px per m."""
        painter.setPen(outline())
        painter.setBrush(theme.color("panel"))
        look_of(link.kind).draw(painter, link, middle, spot, scale)
        painter.setBrush(Qt.BrushStyle.NoBrush)

    @property
    def sharing(self) -> int:
        """How many motors share the load: of its own, or both of a pair."""
        return int(self.state.solution.get("motor_count") or self.motors)

    def _motor_title(self) -> str:
        if self.sharing > self.motors:
            return "1 of both motors"
        if self.motors == 1:
            return "motor"
        return "follower" if self.link == FOLLOWER else f"{self.motors} motors, 1/{self.motors} each"

    def _facts(self, link: Any, index: int) -> tuple[str, ...]:
        """Size of a link in a few words, how fast its input turns, what it carries, and its share of the inertia."""
        system = self.state.system
        facts = look_of(link.kind).facts(link, system)
        loads = self.state.solution.get("link_loads")
        if loads is None:
            return (facts,)
        load = loads[index]
        carried = f"{number_text(load.speed / RPM, 3)} rpm, {show(load.torque_in, 'N·m', system, 2)}"
        return tuple(text for text in (facts, carried, self._inertia(load.inertia)) if text)

    def _load(self, painter: QPainter, spot: QRectF, axle: float) -> None:
        axis, solution = self.state.axis, self.state.solution
        middle = QPointF(spot.center().x(), axle)
        # a vertical axis must not stand on its own words
        draw_load(painter, axis.motion == "rotary", axis.incline or 0.0, middle, min(1.0, (spot.height() - 84) / 112))
        word, value, unit = ("inertia", axis.load_inertia, "kg·m²") if axis.motion == "rotary" else ("mass", axis.moving_mass, "kg")
        fact = f"{word} not known" if value is None else str(show(value, unit, self.state.system))
        sheet, speed, force = solution.sheet, solution.get("top_speed"), solution.get("peak_load")
        lines = [fact]
        if speed is not None and force is not None:
            lines.append(", ".join(str(show(v, sheet.unit(n), self.state.system, 3, own=sheet.shown(n))) for v, n in (
                (speed, "top_speed"), (force * self.sharing, "peak_load"))))
        moved, r = solution.get("moved_inertia"), solution.get("travel_per_radian")
        if moved is not None and r is not None:
            lines.append(self._inertia(moved / self.sharing * r**2))
        self._words(painter, spot, "load", *lines, strong=self.link == LOAD)

    def _ruler(self, painter: QPainter, area: QRectF, scale: float) -> None:
        """How long a length is in this drawing, so that it can be called to scale."""
        times, unit = drawn_in(self.state, "m")
        lengths = INCHES if unit == "in" else MILLIMETRES
        metres = next((one for one in lengths if one / times * scale < 90), lengths[-1]) / times
        left = area.right() - metres * scale - 52
        painter.setPen(theme.pen("muted", 1.4))
        for a, b in (((0, 6), (metres * scale, 6)), ((0, 2), (0, 10)), ((metres * scale, 2), (metres * scale, 10))):
            painter.drawLine(QPointF(left + a[0], area.top() + a[1]), QPointF(left + b[0], area.top() + b[1]))
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        painter.drawText(QRectF(left + metres * scale + 6, area.top() - 3, 60, 18), Qt.AlignmentFlag.AlignVCenter,
                         f"{metres * times:g} {unit}")

    def _shares(self, painter: QPainter, area: QRectF) -> None:
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        try:
            shares = torque_shares(self.state.solution)
        except NotKnown as why:
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, f"Where the torque goes: {why}.")
            return
        both, own = self.state.solution.get("pair_peak_torque"), show(sum(shares.values()), "N·m", self.state.system, 3)
        said = f"at the hardest moment, {own}" if both is None else (
            f"while this axis moves alone, {own} at the hardest; {show(float(both), 'N·m', self.state.system, 3)} when both do")
        painter.drawText(QRectF(area.left(), area.top() - 2, area.width(), 16), Qt.AlignmentFlag.AlignVCenter,
                         f"Where the torque goes {said}")
        draw_shares(painter, shares, QRectF(area.left(), area.top() + 16, area.width(), 13),
                    numbers=drawn_in(self.state, "N·m")[0])

    def _spot_at(self, place: QPointF) -> int | None:
        """What is drawn at a place, as `choose` takes it."""
        for index, spot in enumerate(self.spots(self.area())):
            if spot.left() <= place.x() < spot.right() and place.y() < spot.bottom() + 8:
                if index == 0:
                    behind = self.motors > 1 and place.x() < spot.center().x() - 12 and self.link != FOLLOWER
                    return FOLLOWER if behind else MOTOR
                return LOAD if index == len(self.links()) + 1 else index - 1
        return None

    def gap_at(self, x: float) -> int:
        """The place in the train before which something dropped at x goes."""
        spots = self.spots(self.area())[1:-1]
        return next((index for index, spot in enumerate(spots) if x < spot.center().x()), len(spots))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self.setFocus()
        what = self._spot_at(on_paper(self, event.position()))
        if what is not None:
            self._pressed = (what, on_paper(self, event.position()))
            self.choose(what)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._pressed is None or self._pressed[0] < 0:
            return
        if self._gap is not None or abs(on_paper(self, event.position()).x() - self._pressed[1].x()) > SHIFT:
            self._gap = self.gap_at(on_paper(self, event.position()).x())
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            self.update()

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        pressed, gap = self._pressed, self._gap
        self._pressed = self._gap = None
        self.unsetCursor()
        self.update()
        if pressed is not None and gap is not None and gap not in (pressed[0], pressed[0] + 1):
            self.moved.emit(pressed[0], gap)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is not None and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            to = self.link + step
            if self.link >= 0 and 0 <= to < len(self.links()):
                self.moved.emit(self.link, to if step < 0 else to + 1)
        elif step is not None:
            order = self.order()
            self.choose(order[max(0, min(len(order) - 1, order.index(self.link) + step))])
        elif event.key() == Qt.Key.Key_Insert:
            self.wanted.emit("", self.link if self.link >= 0 else (0 if self.link != LOAD else len(self.links())))
        elif event.key() == Qt.Key.Key_Delete and self.link >= 0:
            self.gone.emit(self.link)
        else:
            super().keyPressEvent(event)

    def _kind_in(self, data: QMimeData | None) -> str:
        return bytes(data.data(LINK_TYPE).data()).decode() if data is not None and data.hasFormat(LINK_TYPE) else ""

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and self._kind_in(event.mimeData()):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent | None) -> None:
        if event is not None:
            self._gap = self.gap_at(on_paper(self, event.position()).x())
            self.update()

    def dragLeaveEvent(self, _event: QDragLeaveEvent | None) -> None:
        self._gap = None
        self.update()

    def dropEvent(self, event: QDropEvent | None) -> None:
        kind = self._kind_in(event.mimeData()) if event is not None else ""
        self._gap = None
        self.update()
        if event is not None and kind:
            event.acceptProposedAction()
            self.wanted.emit(kind, self.gap_at(on_paper(self, event.position()).x()))
