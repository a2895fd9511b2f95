"""A pair from above: both belts in their paths to scale, and what either motor does for a move along one axis, or along both."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer
from PyQt6.QtGui import QHideEvent, QPainter, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.load.pair import Drive, torques_of_move
from urban_mule.core.sheet.units import number_text, show
from urban_mule.desk.kit.painting import CENTRE, LEFT, Label, painted, say
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.scope import Scope
from urban_mule.store.document.shared_motors import SharedMotors

TICK, LASTS = 40, 2.4  # ms between two pictures; s of a move there and back
MOVES: dict[str, tuple[float, float]] = {
    "along {0}": (1, 0), "along {1}": (0, 1), "both, to plus": (1, 1), "{0} to plus, {1} to minus": (1, -1)}
SQUARE = 0.4  # m, of a side that nobody has given


class BothAxes(Picture):
    """The plan with its belts, keys for four moves, and the torque of both motors for the one that is shown."""

    needs = frozenset({"pair_peak_torque", "travel_per_radian", "peak_load", "top_acceleration", "shaft_inertia", "train", "travel",
                       "fellow"})

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box, row = QVBoxLayout(self), QHBoxLayout()
        box.setContentsMargins(12, 8, 12, 8)
        self.keys = {name: QPushButton(autoDefault=False, checkable=True) for name in MOVES}
        for name, key in self.keys.items():
            key.clicked.connect(lambda _on, name=name: self.show_move(name))
            row.addWidget(key)
        row.addStretch(1)
        self.plan = Plan()
        self.told = Label(wordWrap=True)
        box.addLayout(row)
        box.addWidget(self.plan, 1)
        box.addWidget(self.told)
        self.move_shown = "both, to plus"
        self._timer = QTimer(self, interval=TICK)
        self._timer.timeout.connect(self._on)

    def show_move(self, name: str) -> None:
        """Run a move there and back."""
        self.move_shown = name
        self.plan.phase = 0.0
        self._timer.start()
        self.redraw()

    def _on(self) -> None:
        self.plan.phase = min(1.0, self.plan.phase + TICK / 1000 / LASTS)
        if self.plan.phase >= 1.0:
            self._timer.stop()
        self.plan.update()

    def hideEvent(self, event: QHideEvent | None) -> None:
        self._timer.stop()
        super().hideEvent(event)

    def torques(self) -> dict[str, tuple[float, float]] | None:
        """Of each move the torques of A and B [N·m], both axes at their hardest; None while something of them is not known."""
        solution, pair = self.state.solution, self.pair
        fellow, train = solution.get("fellow"), solution.get("train")
        numbers = [solution.get(name) for name in ("peak_load", "top_acceleration", "travel_per_radian", "shaft_inertia")]
        if pair is None or fellow is None or train is None or None in (*numbers, fellow.peak_load, fellow.top_acceleration):
            return None
        load, acceleration, r, inertia = map(float, numbers)  # type: ignore[arg-type]
        drives: tuple[Drive, Drive] = ((load, acceleration), (fellow.peak_load, fellow.top_acceleration))
        first, second = drives if pair.axes[0] == self.state.axis.name else drives[::-1]
        return {name: torques_of_move(train, first, second, share, r, inertia) for name, share in MOVES.items()}

    @property
    def pair(self) -> SharedMotors | None:
        """The pair that the axis belongs to."""
        return self.session.project.pair_of(self.state.axis)

    def redraw(self) -> None:
        project = self.session.project
        if self.pair is None:
            return
        pair, turned = self.pair.axes, self.pair.turned
        for name, key in self.keys.items():
            text = name.format(*pair)
            key.setText(f"{text[:1].upper()}{text[1:]}")
            key.setChecked(name == self.move_shown)
        torques = self.torques()
        sides = tuple(project.axis(name).travel for name in pair)
        self.plan.show_pair(pair, (sides[0], sides[1]), float(self.state.solution.get("travel_per_radian") or 0.0),
                            MOVES[self.move_shown], None if torques is None else torques[self.move_shown],
                            max((abs(one) for both in (torques or {}).values() for one in both), default=1.0), turned)
        lacking = [name for name, side in zip(pair, sides, strict=True) if side is None]
        self.told.setText(f"Travel of {' and '.join(lacking)} is not given: drawn as {number_text(1e3 * SQUARE)} mm."
                          if lacking else "")
        self.said_anew.emit()

    def says(self) -> tuple[str, str] | None:
        """Which move is the hardest, and for which motor."""
        if self.pair is None:
            return None
        pair, torques = self.pair.axes, self.torques()
        if torques is None:
            return (f"What {pair[0]} and {pair[1]} ask of the motors is not known yet.", "Load, train and cycle of both tell it.")
        hardest = max(torques, key=lambda name: max(map(abs, torques[name])))
        a, b = torques[hardest]
        one, other = self.plan.letters if abs(a) >= abs(b) else self.plan.letters[::-1]
        return (f"Hardest: {hardest.format(*pair)}; motor {one} gives {show(max(abs(a), abs(b)), 'N·m', self.state.system, 3)}.",
                f"Along the other diagonal it is motor {other}. Each axis at its greatest force and acceleration.")


class Plan(QWidget):
    """Frame, bridge and carriage from above, with the two belts. A turns by x + y, B by x − y."""

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumHeight(170)
        self.phase = 1.0
        self.pair, self.sides, self.radius = ("", ""), (SQUARE, SQUARE), 0.0
        self.share, self.torques, self.most, self.letters = (0.0, 0.0), (None, None), 1.0, ("A", "B")

    def show_pair(self, pair: tuple[str, str], sides: tuple[float | None, float | None], radius: float, share: tuple[float, float],
                  torques: tuple[float, float] | None, most: float, turned: bool) -> None:
        """Take over names, travels [m], radius of the pulleys [m], the move, and what it asks of A and B [N·m]."""
        self.pair, self.sides, self.radius = pair, (sides[0] or SQUARE, sides[1] or SQUARE), radius
        self.share, self.most, self.letters = share, most or 1.0, ("B", "A") if turned else ("A", "B")
        self.torques = (None, None) if torques is None else torques  # type: ignore[assignment]
        self.setAccessibleName("Both belts from above." + ("" if torques is None else " " + " ".join(
            f"Motor {letter}: {number_text(value, 3)} N·m." for letter, value in zip(self.letters, torques, strict=True))))
        self.update()

    @property
    def travelled(self) -> float:
        """How far along its move the carriage is, there and back, from 0 to 1."""
        return (1 - math.cos(2 * math.pi * self.phase)) / 2

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        room = QRectF(self.rect()).adjusted(150, 26, -150, -26)
        scale = min(room.width() / self.sides[0], room.height() / self.sides[1])
        frame = QRectF(0, 0, self.sides[0] * scale, self.sides[1] * scale)
        frame.moveCenter(room.center())
        r = max(4.0, min(self.radius * scale, 14.0))
        reach = 0.3 * self.travelled
        at = QPointF(frame.center().x() + reach * self.share[0] * frame.width(),
                     frame.center().y() - reach * self.share[1] * frame.height())
        painter.setPen(theme.pen("line", 1.0))
        painter.setBrush(theme.color("terrain"))
        painter.drawRect(QRectF(at.x() - 9, frame.top() - 6, 18, frame.height() + 12))
        for belt, ink in zip(self._belts(frame, at, r), ("accent", "blue"), strict=True):
            painter.setPen(theme.pen(ink, 2.0))
            painter.drawPolyline(belt)
        painter.setPen(theme.pen("muted", 1.2))
        painter.setBrush(theme.color("panel"))
        for spot in (frame.topRight(), frame.bottomRight(), QPointF(at.x(), frame.top()), QPointF(at.x(), frame.bottom())):
            painter.drawEllipse(spot, r / 2, r / 2)
        painter.setPen(theme.pen("ink", 1.4))
        painter.drawRoundedRect(QRectF(at.x() - 16, at.y() - 13, 32, 26), 3, 3)
        for corner, letter, ink, turns, level in (
                (frame.bottomLeft(), self.letters[0], "accent", self.share[0] + self.share[1], 0),
                (frame.topLeft(), self.letters[1], "blue", self.share[0] - self.share[1], 1)):
            self._motor(painter, corner, r, letter, ink, turns, self.torques[level], level)
        for name, place in ((f"+{self.pair[0]} →", QRectF(frame.right() + 14, frame.center().y() - 10, 90, 20)),
                            (f"+{self.pair[1]} ↑", QRectF(at.x() - 40, frame.top() - 26, 80, 18))):
            say(painter, place, name, "muted", 13, align=LEFT if "→" in name else CENTRE)

    @staticmethod
    def _belts(frame: QRectF, at: QPointF, r: float) -> tuple[QPolygonF, QPolygonF]:
        """Both belts from carriage to carriage, each by its motor at the left and round the far corners: as long wherever it is."""
        found = []
        for near, far, gap in ((frame.bottom(), frame.top(), 0.0), (frame.top(), frame.bottom(), 4.0)):
            out = 1 if near > far else -1  # towards the motor's own edge
            found.append(QPolygonF([
                QPointF(at.x() - 4 - gap / 2, at.y() + 13 * out), QPointF(at.x() - 4 - gap / 2, near - r * out),
                QPointF(frame.left(), near - r * out),
                QPointF(frame.left() - r, near), QPointF(frame.left(), near + r * out),
                QPointF(frame.right() + gap, near + r * out), QPointF(frame.right() + r + gap, near),
                QPointF(frame.right() + r + gap, far), QPointF(frame.right() + gap, far + (r - 4 - gap) * out),
                QPointF(at.x() + 4 + gap / 2, far + (r - 4 - gap) * out), QPointF(at.x() + 4 + gap / 2, at.y() - 13 * out)]))
        return found[0], found[1]

    def _motor(self, painter: QPainter, at: QPointF, r: float, letter: str, ink: str, turns: float, torque: float | None,
               level: int) -> None:
        """A motor at its corner, turned as far as its belt has gone, its torque as a bar beside it."""
        painter.setPen(theme.pen(ink, 2.0))
        painter.setBrush(theme.color("panel"))
        painter.drawEllipse(at, r, r)
        angle = -turns * self.travelled * 2 * math.pi
        painter.drawLine(at, at + QPointF(math.cos(angle), math.sin(angle)) * r)
        top = at.y() - 20 if level else at.y() - 16
        say(painter, QRectF(at.x() - 150, top, 26, 34), letter, ink, 22, bold=True, align=LEFT)
        words = "stands still" if torque is not None and not turns and abs(torque) < 1e-3 * self.most else (
            "not known" if torque is None else f"{number_text(torque, 3)} N·m")
        say(painter, QRectF(at.x() - 124, top + 2, 96, 16), words, "ink", 13, align=LEFT)
        if torque is not None:
            painter.fillRect(QRectF(at.x() - 124, top + 21, 84 * abs(torque) / self.most, 7), theme.color(ink))
        painter.setBrush(Qt.BrushStyle.NoBrush)
