"""First power: the stations from assembly to the first move, made from this axis, and what is set only for now."""

from __future__ import annotations

from collections import Counter
from datetime import datetime
from typing import Any

from PyQt6.QtCore import QPointF, QSize, Qt
from PyQt6.QtGui import QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.moves.stations import STATES, StationStand
from urban_mule.core.sheet.given import BadValue
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.kit.theme import draw_mark, font
from urban_mule.desk.model.booked import book, one_step
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.shared.photograph import Photograph
from urban_mule.store.commissioning import facts_of, station_stands
from urban_mule.store.document.commissioning import ForNow, StationAnswer
from urban_mule.store.file.project_file import now

MARKS = {"done": "good", "not done": "short", "otherwise": "tight", "due again": "tight", "open": "unknown"}
KEYS = dict(zip(STATES, ("1  Done, as expected", "2  Not done", "3  Not as expected"), strict=True))
DEFER = "Local electrical code and a licensed electrician decide; this list certifies nothing."
OPEN = (("due again", "due again"), ("otherwise", "not as expected"), ("not done", "not done"), ("open", "open"))


class FirstPowerPicture(Picture):
    """On the left the stations in their order; on the right the one at hand; beneath, what is set only for now."""

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.stands: tuple[StationStand, ...] = ()
        self._of_axis = ""
        self.listed = QListWidget(accessibleName="Stations in their order")
        self.listed.setIconSize(QSize(16, 16))
        self.listed.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.listed.currentRowChanged.connect(self._show)
        self.name, self.caution = Label(objectName="headline", wordWrap=True), Label(objectName="caution", wordWrap=True)
        self.do, self.see, self.how = (Label(wordWrap=True) for _ in range(3))
        self.how.setObjectName("label")
        for large in (self.do, self.see):  # read from beside the machine
            large.setFont(font(16))
        self.note = QLineEdit(placeholderText="what was seen, where it differs", accessibleName="Note at this station")
        self.by = QLineEdit(placeholderText="by whom", accessibleName="By whom")
        self.photograph = Photograph(session, "station")
        self.photograph.taken.connect(self._photographed)
        self.keys = {state: QPushButton(words, autoDefault=False) for state, words in KEYS.items()}
        for number, (state, button) in enumerate(self.keys.items(), start=1):
            button.setShortcut(str(number))
            button.clicked.connect(lambda _on, state=state: self.answer(state))
        self.only = QLineEdit(placeholderText="a lowered current, a power jumper, a guard off …", accessibleName="Set only for now")
        self.only.returnPressed.connect(self.set_for_now)
        self.back = Ranked(("set only for now", "since"), (4, 2))
        self.back.pressed.connect(lambda name, _words: self.put_back(name))
        self._lay_out()

    def _lay_out(self) -> None:
        whole = QVBoxLayout(self)
        whole.setContentsMargins(12, 8, 12, 6)
        whole.setSpacing(4)
        row, right = QHBoxLayout(), QVBoxLayout()
        row.setSpacing(14)
        right.setSpacing(5)
        for widget in (self.name, self.caution, self.do, self.see, self.how):
            right.addWidget(widget)
        right.addStretch(1)
        typed, keys, below = QHBoxLayout(), QHBoxLayout(), QHBoxLayout()
        typed.addWidget(self.note, 3)
        typed.addWidget(self.by, 2)
        for button in self.keys.values():
            keys.addWidget(button)
        keys.addStretch(1)
        keys.addWidget(self.photograph)
        right.addLayout(typed)
        right.addLayout(keys)
        row.addWidget(self.listed, 2)
        row.addLayout(right, 5)
        whole.addLayout(row, 1)
        below.addWidget(Label("Temporary settings", objectName="heading"))
        below.addWidget(self.only, 1)
        below.addWidget(Label(DEFER, objectName="label"))
        whole.addLayout(below)
        self.back.setMaximumHeight(84)
        whole.addWidget(self.back)

    @property
    def shown(self) -> StationStand | None:
        """The station at hand."""
        at = self.listed.currentRow()
        return self.stands[at] if 0 <= at < len(self.stands) else None

    def says(self) -> tuple[str, str] | None:
        """How many stations are done, and what is set only for now."""
        axis = self.session.axis
        stands = station_stands(self.session.project, axis, self.session.solution)
        counted = Counter(one.state for one in stands)
        others = [f"{counted[state]} {words}" for state, words in OPEN if counted[state]]
        waiting = sum(not one.put_back for one in axis.for_now or ())
        said = f"{counted['done']} of {len(stands)} checks are done{''.join(f', {one}' for one in others)}."
        return said, f"{waiting} {'thing is' if waiting == 1 else 'things are'} set only for now." if waiting else ""

    def redraw(self) -> None:
        state = self.state
        stands = station_stands(self.session.project, state.axis, state.solution)
        if stands != self.stands or self._of_axis != state.axis.name:
            before = self.shown.station.name if self.shown and self._of_axis == state.axis.name else ""
            self.stands, self._of_axis = stands, state.axis.name
            self._list(before)
        self._show()
        waiting = [one for one in state.axis.for_now or () if not one.put_back]
        self.back.setVisible(bool(waiting))
        self.back.show_rows([RankedRow(one.set, (_day(one.since),), ("Put back",)) for one in waiting])

    def _list(self, before: str) -> None:
        """The stations with their marks; the one that was at hand stays, else the first that asks for something."""
        self.listed.blockSignals(True)
        self.listed.clear()
        for number, one in enumerate(self.stands, start=1):
            item = QListWidgetItem(_mark(MARKS[one.state]), f"{number}  {one.station.name}")
            item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{number} {one.station.name}, {one.state}")
            self.listed.addItem(item)
        names = [one.station.name for one in self.stands]
        asking = next((n for n, one in enumerate(self.stands) if one.state != "done"), 0)
        self.listed.setCurrentRow(names.index(before) if before in names else asking)
        self.listed.blockSignals(False)

    def _answer_of(self, name: str) -> Any:
        return next((one for one in self.state.axis.stations or () if one.station == name), None)

    def _show(self, _row: int = 0) -> None:
        stand = self.shown
        for button in self.keys.values():
            button.setEnabled(stand is not None)
        if stand is None:
            self.name.setText("Nothing to put together yet: give the axis a train, a motor and a driver.")
            return
        one, said = stand.station, self._answer_of(stand.station.name)
        self.name.setText(f"{one.name[:1].upper()}{one.name[1:]}")
        self.caution.setText(one.caution)
        self.do.setText(one.do)
        self.see.setText(f"To be seen: {one.see}")
        self.how.setText("" if said is None else f"{stand.state.capitalize()}{f': {stand.since}' if stand.since else ''}."
                         f" Answered {_day(said.taken)}{f' by {said.by}' if said.by else ''}.")
        if not self.note.isModified():
            self.note.setText("" if said is None else said.note)
            self.note.setCursorPosition(0)
        if not self.by.text():
            self.by.setText(next((other.by for other in reversed(self.state.axis.stations or ()) if other.by), ""))
            self.by.setCursorPosition(0)
        self.photograph.about = f"{self.state.axis.name} {one.name}"
        self.photograph.show_photograph("" if said is None else said.photograph)

    def answer(self, state: str) -> None:
        """Write down how the station at hand stands, and go on to the next that asks."""
        stand = self.shown
        if stand is None:
            return
        if state == "otherwise" and not self.note.text().strip():
            self.how.setText("What was seen? Write it beside, or drop a photograph, then press again.")
            said = self._answer_of(stand.station.name)
            if said is None or not said.photograph:
                self.note.setFocus()
                return
        self._keep(stand, state, self.photograph.name)
        self.note.setModified(False)
        after = (*range(self.listed.currentRow() + 1, len(self.stands)), *range(self.listed.currentRow()))
        following = next((n for n in after if self.stands[n].state != "done"), None)
        if state == "done" and following is not None:
            self.listed.setCurrentRow(following)

    def _photographed(self, name: str) -> None:
        """A photograph came in: it belongs to the station at hand, which is answered by it where it was not yet."""
        stand = self.shown
        if stand is not None:
            said = self._answer_of(stand.station.name)
            self._keep(stand, "otherwise" if said is None else said.state, name)

    def _keep(self, stand: StationStand, state: str, photograph: str) -> None:
        axis = self.state.axis
        facts = facts_of(self.session.project, axis, self.state.solution)
        made = StationAnswer.model_validate({
            "station": stand.station.name, "state": state, "by": self.by.text().strip(), "taken": now().isoformat(),
            "note": self.note.text().strip(), "photograph": photograph,
            "conditions": {name: facts[name] for name in stand.station.rests_on if name in facts}})
        others = tuple(one for one in axis.stations or () if one.station != stand.station.name)
        with one_step(self.session, f"{stand.station.name} {state}"):
            self._edit("stations", (*others, made), f"{axis.name}: {stand.station.name} {state}")
            if state == "otherwise":
                book(self.session, f"{stand.station.name.capitalize()}, seen otherwise: {made.note or 'see the photograph'}.")
        self.redraw()

    def _edit(self, key: str, value: Any, label: str) -> None:
        try:
            self.session.edit(self.session.axis_path(key), value, label)
        except BadValue as why:
            self.session.told.emit(f"{why}.")

    def set_for_now(self) -> None:
        """Put something on the list until it is put back."""
        said = " ".join(self.only.text().split())
        waiting = self.state.axis.for_now or ()
        if not said or any(one.set == said and not one.put_back for one in waiting):
            return
        try:
            made = ForNow.model_validate({"set": said, "since": now().isoformat()})
        except ValueError:
            self.session.told.emit("This cannot be written down: one line of at most 200 printable characters is taken.")
            return
        with one_step(self.session, f"only for now, {said}"):
            self._edit("for_now", (*waiting, made), f"{self.state.axis.name}: only for now, {said}")
            book(self.session, f"Only for now: {said}.", "set")
        self.only.clear()

    def put_back(self, said: str) -> None:
        """It is as it belongs again; what was on the list stays on record."""
        waiting = tuple(one if one.set.lower() != said.lower() or one.put_back else one.model_copy(
            update={"put_back": now().isoformat()}) for one in self.state.axis.for_now or ())
        with one_step(self.session, f"put back, {said}"):
            self._edit("for_now", waiting, f"{self.state.axis.name}: put back, {said}")
            book(self.session, f"Put back: {said}.", "set")


def _mark(level: str) -> QIcon:
    pixmap = QPixmap(32, 32)
    pixmap.setDevicePixelRatio(2.0)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    draw_mark(painter, level, QPointF(8, 8), 5)
    painter.end()
    return QIcon(pixmap)


def _day(text: str) -> str:
    """A moment as people say it."""
    try:
        moment = datetime.fromisoformat(text).astimezone()
    except ValueError:
        return "on a day not said"
    return f"{moment.day} {moment:%B}, {moment:%H:%M}"
