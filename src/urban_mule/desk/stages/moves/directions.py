"""Directions: what a short move each way must look like on this axis, answered by one key; where it is turned round."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.moves.directions import SEEN, expected_motion, where_to_turn
from urban_mule.desk.kit.painting import CENTRE, LEFT, RIGHT, Label, painted, say
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.booked import book, one_step
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.stages.moves.pair_looks import PairLooks

CAUTION = ("Short and slow, from mid-travel, a hand on the stop: when it goes the other way it must not reach an end. A beam with"
           " two motors is moved only when both are set alike, else it racks.")
KEYS = dict(zip(SEEN, ("1  As it says", "2  The other way", "3  Not at all"), strict=True))


class DirectionsPicture(Picture):
    """What to command, what must be seen, and three keys to answer."""

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(12, 8, 12, 8)
        self.plus, self.minus = (Label(objectName="headline", wordWrap=True) for _ in range(2))
        self.arrow = Arrow()
        self.turn = Label(wordWrap=True)
        row = QHBoxLayout()
        self.keys = {name: QPushButton(words, autoDefault=False) for name, words in KEYS.items()}
        for number, (name, button) in enumerate(self.keys.items(), start=1):
            button.clicked.connect(lambda _on, name=name: self.answer(name))
            button.setShortcut(str(number))
            row.addWidget(button)
        row.addStretch(1)
        for widget in (self.plus, self.minus, self.arrow):
            box.addWidget(widget, int(widget is self.arrow))
        box.addLayout(row)
        self.caution = Label(CAUTION, objectName="caution", wordWrap=True)
        box.addWidget(self.turn)
        box.addWidget(self.caution)
        self.both = PairLooks(session)
        box.addWidget(self.both, 1)

    def answer(self, name: str) -> None:
        """Write down which way it went."""
        with one_step(self.session, f"on a short move it went {name}"):
            self.session.edit(self.session.axis_path("direction_seen"), name,
                              f"{self.state.axis.name}: on a short move it went {name}")
            book(self.session, f"A short move each way: it went {name}.")

    def says(self) -> tuple[str, str] | None:
        """That it was not tried yet; what was seen a verdict says."""
        seen = self.state.solution.get("direction_seen")
        return None if seen else ("Which way a short move goes was not tried yet.", "Before anything longer: a turned direction"
                                  " runs into the end that it should leave.")

    def redraw(self) -> None:
        axis, get = self.state.axis, self.state.solution.get
        shared = self.session.project.fellow_of(axis) is not None
        for widget in (self.plus, self.minus, self.arrow, self.turn, self.caution, *self.keys.values()):
            widget.setVisible(not shared)
        self.both.setVisible(shared)
        if shared:
            self.both.refresh()
            return
        moved = get("moves_what")
        for button in self.keys.values():
            button.setEnabled(moved is not None)
        self.arrow.show_way(axis.motion, moved)
        if moved is None:
            self.plus.setText("Say first whether this axis carries the tool or the work: the work goes the other way.")
            self.minus.setText("")
            self.turn.setText("")
            return
        plus, minus = expected_motion(axis.motion, str(moved), float(get("incline") or 0.0))
        self.plus.setText(f"Command a short move to plus: {plus}.")
        self.minus.setText(f"Then to minus: {minus}.")
        seen = get("direction_seen")
        turned = get("direction_turned_in")
        self.turn.setText("" if seen is None else where_to_turn(turned) + " Then move it again, and answer anew."
                          if seen == SEEN[1] else "Buzzing without turning is a crossed pair: see coils. Silent: enable, supply,"
                          " step wire." if seen == SEEN[2] else "Written down. When motor, driver or controller is replaced,"
                          " move it again.")


LARGEST = 2.2  # times that the drawing grows where there is room


class Arrow(QWidget):
    """The way that plus is, with tool and work as two plain blocks."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(96)
        self.shown: tuple[str, str | None] = ("linear", None)

    def show_way(self, motion: str, moved: str | None) -> None:
        """Take over what moves."""
        self.shown = motion, moved
        self.setAccessibleName(f"What moves to plus: {moved or 'not said yet'}")
        self.update()

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        motion, moved = self.shown
        if moved is None:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        large = max(1.0, min(LARGEST, self.height() / 110, self.width() / 420))
        painter.scale(large, large)
        middle, y = self.width() / 2 / large, self.height() / 2 / large
        tool, work = QRectF(middle - 22, y - 44, 44, 34), QRectF(middle - 110, y + 4, 220, 22)
        for block, name in ((tool, "tool"), (work, "work")):
            painter.setPen(theme.pen("accent" if name == moved else "line", 2.0))
            painter.setBrush(theme.color("accent" if name == moved else "terrain", 60 if name == moved else 255))
            painter.drawRoundedRect(block, 3, 3)
            say(painter, block, name, "ink", 13, bold=name == moved, align=CENTRE)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(theme.pen("accent", 2.6))
        way = 1.0 if moved == "tool" else -1.0
        block = tool if moved == "tool" else work
        start = QPointF(block.right() + 14 if way > 0 else block.left() - 14, block.center().y())
        if motion == "rotary":
            painter.drawArc(QRectF(start.x() - 18, start.y() - 18, 36, 36), -60 * 16, int(120 * 16 * way))
            say(painter, QRectF(start.x() + 26 * way - 60, start.y() - 8, 120, 16), "plus", "accent", 13, bold=True, align=CENTRE)
            return
        end = start + QPointF(70 * way, 0)
        painter.drawLine(start, end)
        painter.drawLine(end, end + QPointF(-9 * way, -6))
        painter.drawLine(end, end + QPointF(-9 * way, 6))
        said = "plus" if way > 0 else "commanded to plus"
        say(painter, QRectF(end.x() + (8 if way > 0 else -168), end.y() - 8, 160, 16), said, "accent", 13, bold=True,
            align=LEFT if way > 0 else RIGHT)
