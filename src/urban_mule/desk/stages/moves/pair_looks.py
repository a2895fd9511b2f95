"""Two looks at a pair: where the gantry goes for plus on each axis; the eight wirings drawn, the one that fits told."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.moves.directions import SEEN
from urban_mule.core.moves.pair_looks import WAYS, WIRINGS, Way, Wiring, wiring_of
from urban_mule.desk.kit.painting import CENTRE, Label, painted, say, say_lines
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.booked import book, one_step
from urban_mule.desk.model.scope import Scope
from urban_mule.store.document.shared_motors import SharedMotors

NEITHER: Way = (0, 0)
CAUTION = ("First power: low current, mid-travel, short and slow, a hand on the stop. Nobody's fingers between belt and pulley;"
           " either motor may move the gantry along either axis.")


class PairLooks(QWidget):
    """Two rows of keys, one for a short move to plus of each axis, and the eight wirings that they tell apart."""

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.looks: dict[int, Way] = {}
        self.of: tuple[str, str] | None = None  # the axes that they are looks of
        self.asked = tuple(Label(wordWrap=True) for _ in range(2))
        self.keys: tuple[dict[Way, QPushButton], ...] = ({}, {})
        self.told = Label(wordWrap=True)
        self.drawn = Wirings()
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(Label(CAUTION, objectName="caution", wordWrap=True))
        for place, (asked, keys) in enumerate(zip(self.asked, self.keys, strict=True)):
            row = QHBoxLayout()
            for way in (*WAYS, NEITHER):
                keys[way] = QPushButton(autoDefault=False, checkable=True)
                keys[way].clicked.connect(lambda _on, place=place, way=way: self.answer(place, way))
                row.addWidget(keys[way])
            row.addStretch(1)
            box.addWidget(asked)
            box.addLayout(row)
        box.addWidget(self.told)
        box.addWidget(self.drawn, 1)

    @property
    def pair(self) -> SharedMotors | None:
        """The pair that the axis belongs to."""
        return self.session.project.pair_of(self.session.axis)

    def answer(self, place: int, way: Way) -> None:
        """Take a look: where it went for plus on the first (place 0) or second axis; with both the wiring is written down.

        The next answer after that begins anew: an old look beside a new one would tell of no wiring that ever was.
        """
        self.looks = {**({} if len(self.looks) == 2 else self.looks), place: way}
        if len(self.looks) == 2 and self.pair is not None:
            self._write_down(self.pair)
        self.refresh()

    def _write_down(self, pair: SharedMotors) -> None:
        first, second = self.looks[0], self.looks[1]
        found = wiring_of(first, second)
        said = "no wiring goes so" if found is None else found.name(pair.turned)
        with one_step(self.session, f"two looks at {pair.axes[0]} and {pair.axes[1]}: {said}"):
            for name, seen, right in zip(pair.axes, (first, second), WIRINGS[0].looks, strict=True):
                place = next(at for at, axis in enumerate(self.session.project.axes) if axis.name == name)
                answer = SEEN[0] if seen == right else SEEN[2] if seen == NEITHER else SEEN[1]
                self.session.edit(("axes", place, "direction_seen"), answer, f"{name}: on a short move it went {answer}")
            book(self.session, f"A short move to plus {pair.axes[0]} went {self._where(first)}, to plus {pair.axes[1]}"
                               f" {self._where(second)}: {said}.")

    def _where(self, way: Way) -> str:
        names = self.pair.axes if self.pair is not None else ("", "")
        if way == NEITHER:
            return "nowhere, or aslant"
        along = 0 if way[0] else 1
        return f"to {'plus' if way[along] > 0 else 'minus'} {names[along]}"

    def refresh(self) -> None:
        """Say what to command and what both looks tell."""
        pair = self.pair
        if pair is None:
            return
        if pair.axes != self.of:
            self.of, self.looks = pair.axes, {}
        for place, (asked, keys) in enumerate(zip(self.asked, self.keys, strict=True)):
            asked.setText(f"Command a short move to plus {pair.axes[place]} alone. Where did the gantry go?")
            for way, key in keys.items():
                where = self._where(way)
                key.setText(f"{where[:1].upper()}{where[1:]}")
                key.setChecked(self.looks.get(place) == way)
        self.drawn.show_looks(self.looks, pair)
        self.told.setText(self._told(pair))

    def _told(self, pair: SharedMotors) -> str:
        if len(self.looks) < 2:
            return (f"Motor A is the one entered on {pair.axes[0]}, motor B the one on {pair.axes[1]}. Two looks tell all eight"
                    " ways of wiring them.")
        found = wiring_of(self.looks[0], self.looks[1])
        if found is None:
            return ("No way of wiring goes so: a motor stands still, a coil is connected wrongly (see coils), or a belt slips."
                    " Power off, and look at both.")
        name = found.name(pair.turned)
        return f"{name[:1].upper()}{name[1:]}. {found.mend(pair.turned) or 'Written down for both axes.'}"


class Wirings(QWidget):
    """The eight ways: for each where the gantry goes for plus on either axis. What the looks leave is drawn strong."""

    def __init__(self) -> None:
        super().__init__()
        self.looks: dict[int, Way] = {}
        self.pair: SharedMotors | None = None
        self.setMinimumHeight(180)

    def show_looks(self, looks: dict[int, Way], pair: SharedMotors) -> None:
        """Take over what was seen."""
        self.looks, self.pair = dict(looks), pair
        left = [one.name(pair.turned) for one in WIRINGS if self._fits(one)]
        self.setAccessibleName(f"What the looks leave: {'; '.join(left) or 'no wiring'}")
        self.update()

    def _fits(self, one: Wiring) -> bool:
        return all(one.looks[place] == way for place, way in self.looks.items())

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        if self.pair is None:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        wide, high = self.width() / 4, self.height() / 2
        for place, one in enumerate(WIRINGS):
            box = QRectF(place % 4 * wide + 4, place // 4 * high + 4, wide - 8, high - 8)
            fits = self._fits(one)
            painter.setOpacity(1.0 if fits else 0.3)
            painter.setPen(theme.pen("accent" if fits and self.looks else "line", 2.0 if fits and self.looks else 1.0))
            painter.setBrush(theme.color("panel"))
            painter.drawRoundedRect(box, 4, 4)
            self._arrows(painter, one, QPointF(box.center().x(), box.top() + (box.height() - 34) / 2), box.height() - 50)
            painter.setPen(theme.pen("ink"))
            name = one.name(self.pair.turned)
            below = QRectF(box.left() + 6, box.bottom() - 38, box.width() - 12, 36)
            say_lines(painter, below, f"{name[:1].upper()}{name[1:]}", "ink", 12)
        painter.setOpacity(1.0)

    def _arrows(self, painter: QPainter, one: Wiring, middle: QPointF, room: float) -> None:
        """Where it goes for plus on either axis, seen from above: plus of the first to the right, of the second up."""
        assert self.pair is not None
        length = max(18.0, room / 2 - 8)
        for way, axis, ink in zip(one.looks, self.pair.axes, ("accent", "ink"), strict=True):
            along = QPointF(way[0], -way[1])
            end = middle + along * length
            aside = QPointF(-along.y(), along.x())
            painter.setPen(theme.pen(ink, 2.2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawLine(middle, end)
            for side in (-1, 1):
                painter.drawLine(end, end - along * 7 + aside * 4 * side)
            spot = end + (QPointF(16 * way[0], 0) if way[0] else QPointF(18, 4 * way[1]))
            say(painter, QRectF(spot.x() - 16, spot.y() - 9, 32, 18), f"+{axis}", ink, 13, bold=True, align=CENTRE)
        painter.setBrush(theme.color("panel"))
        painter.drawEllipse(middle, 4, 4)
