"""The Load stage: the chain with the fields of what is chosen in it, or the cycle with its moves."""

from __future__ import annotations

from typing import Any, cast

from PyQt6.QtCore import QByteArray, QMimeData, Qt
from PyQt6.QtGui import QDrag, QMouseEvent
from PyQt6.QtWidgets import QMenu, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.motor.shaft import BRAKE
from urban_mule.core.sheet.given import BadValue, Given, givens
from urban_mule.core.sheet.units import number_text, show
from urban_mule.core.train.known import GUIDES, Usual
from urban_mule.core.train.links import LINKS
from urban_mule.desk.kit.field import Field
from urban_mule.desk.kit.flow import Flow
from urban_mule.desk.kit.link_looks import look_of
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.text_field import TextField
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.shared.cycle_editor import CycleEditor
from urban_mule.desk.stages.load.chain import FOLLOWER, LINK_TYPE, LOAD, MOTOR, ChainPicture
from urban_mule.desk.stages.load.together import TogetherRow
from urban_mule.desk.stages.view import StageView
from urban_mule.store.document.base import RENAMED
from urban_mule.store.document.made import LINK_MODELS
from urban_mule.store.document.parts import Follower
from urban_mule.store.experience import FRICTION, GUIDE, OF_LINKS, offered

CYCLE = 560  # px that the rows of moves need
MOTOR_FIELDS = (("axis", "motor_count"), *(("motor", name) for name in BRAKE))
FOLLOWER_FIELDS = {
    "driver": ("current_peak", "microsteps", "hold_fraction", "supply_voltage"),
    "motor": ("holding_torque", "rated_current", "phase_resistance", "phase_inductance", "rated_torque", "counts_per_turn"),
    "train": ("ratio", "lead", "teeth", "pitch", "module", "diameter"),
}


class Chip(QPushButton):
    """A kind of link: click to put it before what is chosen, or drag it into the chain."""

    def __init__(self, kind: str, parent: QWidget | None = None) -> None:
        super().__init__(kind, parent, objectName="plain")
        self.kind = kind
        self.setAccessibleName("Insert a direct drive" if kind == "direct" else f"Insert a {kind}")

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.buttons() & Qt.MouseButton.LeftButton and not self.rect().contains(event.pos()):
            self.setDown(False)
            data = QMimeData()
            data.setData(LINK_TYPE, QByteArray(self.kind.encode()))
            drag = QDrag(self)
            drag.setMimeData(data)
            drag.exec(Qt.DropAction.CopyAction)
        else:
            super().mouseMoveEvent(event)


class LoadStage(StageView):
    """Load, links, motor and follower, each with its fields; the moves behind the leaf of the cycle."""

    session: Whole

    def build_fields(self, know: QVBoxLayout) -> None:
        self.link, self.more = LOAD, False
        self.chain = cast(ChainPicture, self.leaves.leaf("chain"))
        self.cycle = CycleEditor(self.session)
        self.cycle.wanted.connect(self.wanted)
        self.cycle.hide()
        know.addWidget(self.cycle, 1)
        self.ahead.append(self.cycle.rebuild)
        self.chips = {kind: Chip(kind) for kind in LINKS}
        for kind, chip in self.chips.items():
            chip.clicked.connect(lambda _checked, kind=kind: self._insert(kind, self._place()))
        self.remove = QPushButton("Remove it", objectName="plain")
        self.remove.clicked.connect(lambda: self._remove(self.link))
        self.all = QPushButton("More of it", objectName="plain")
        self.all.clicked.connect(self._turn_more)
        self.pick = QPushButton("", objectName="plain")
        self.pick.clicked.connect(self._pick)
        self.usual = QPushButton("Usual values…", objectName="plain")
        self.usual.clicked.connect(self._offer_usual)
        self.others = QPushButton("Other trains…", objectName="plain")
        self.others.clicked.connect(self.search_trains)
        insert = Label("Insert", objectName="label")
        self.together = TogetherRow(self.session, self)
        self.tools = Flow.of((insert, *self.chips.values(), self.usual, self.others, self.pick, self.all, self.remove,
                              self.together))
        self.box.insertWidget(self.box.indexOf(self.leaves) + 1, self.tools)
        self.fault = Label(objectName="wrong", wordWrap=True)
        self.fault.hide()
        know.addWidget(self.fault)
        know.addWidget(self.together.said)
        self.chain.chosen.connect(self.choose)
        self.chain.moved.connect(self._move)
        self.chain.wanted.connect(self._insert)
        self.chain.gone.connect(self._remove)
        self.leaves.turned.connect(self._lay)
        self.watch_leaves()
        self.refill_fields()

    def search_trains(self) -> None:
        """Open the search for other leads, teeth and ratios."""
        from urban_mule.desk.stages.load.train_window import open_trains  # made only when somebody searches

        open_trains(self.session, self.window())

    def _lay(self, word: str) -> None:
        self.tools.setVisible(word == "chain")
        self.cycle.setVisible(word == "cycle")
        self.together.refresh()
        self.together.said.setVisible(word == "chain" and bool(self.together.said.text()))
        self.least_left = CYCLE if word == "cycle" else 0
        if word == "chain" and self.shown_kinds != self.kinds():
            self.chain.choose(self.link)
        self._head()

    def choose(self, link: int) -> None:
        """Show the fields of a link by its place in the train, or of LOAD, MOTOR, FOLLOWER."""
        self.link = link
        self._fault("")
        self.fields.empty()
        self.refill_fields()
        self.lay()

    def rebuild(self) -> None:
        self.link = LOAD
        self._fault("")
        super().rebuild()

    def refill_fields(self) -> None:
        train = self.session.axis.train or ()
        self.shown_kinds = self.kinds()
        if self.link >= len(train):
            self.link = LOAD
        if self.link == LOAD:
            super().refill_fields()
        elif self.link == MOTOR:
            for part, name in MOTOR_FIELDS:
                self.add_field(part, name)
        elif self.link == FOLLOWER:
            self._follower_fields()
        else:
            self._link_fields(train[self.link])
        self._head()

    def _link_fields(self, stage: Any) -> None:
        known = {one.name: one for one in givens(LINKS[stage.kind])}
        first = look_of(stage.kind).first
        names = [*first, *(name for name in known if name not in first)] if self.more else first
        for name in names:
            self.fields.add(Field(self.session, self.session.axis_path("train", self.link, name), known[name],
                                  name="Drag" if name == "drag_torque" else ""))

    def _follower_fields(self) -> None:
        """What may differ on the follower; an empty field is as the leader's."""
        axis = self.session.axis
        if axis.follower is None:
            return
        for part, names in FOLLOWER_FIELDS.items():
            if part == "train":
                for place, stage in enumerate(axis.follower.train or ()):
                    known = {one.name: one for one in givens(LINKS[stage.kind])}
                    for name in names:
                        if name in known:
                            self._follower_field(("follower", "train", place, name), known[name], f"{stage.kind} {name}")
                continue
            for name in names:
                given = self.session.sheet.inputs.get(name)
                if given is not None:
                    self._follower_field(("follower", part, RENAMED.get(name, name)), given, "")

    def _follower_field(self, path: tuple[str | int, ...], given: Given, name: str) -> None:
        self.fields.add(Field(self.session, self.session.axis_path(*path), given, name=name.replace("_", " ").capitalize(),
                              hint="as leader"))

    def _head(self) -> None:
        """The heading and the buttons for what is chosen."""
        train, axis = self.session.axis.train or (), self.session.axis
        linked = 0 <= self.link < len(train)
        names = {LOAD: "load", MOTOR: "motor as a whole", FOLLOWER: "follower"}
        self.know_heading.setText("The cycle: one row a move" if self.leaves.word == "cycle" else
                                  f"What you know of the {names.get(self.link) or train[self.link].kind}")
        self.remove.setVisible(linked)
        self.usual.setVisible(bool(self._usual()))
        self.all.setVisible(linked and len(givens(LINKS[train[self.link].kind])) > len(look_of(train[self.link].kind).first))
        self.all.setText("Less of it" if self.more else "More of it")
        words = {MOTOR: "Fit a brake…", FOLLOWER: "The follower differs" if axis.follower is None else
                 "The follower is as its leader"}
        word = words.get(self.link, "")
        if linked and look_of(train[self.link].kind).library:
            word = "Library…"
        self.pick.setText(word)
        self.pick.setVisible(bool(word))

    def _usual(self) -> list[tuple[str, str, Usual]]:
        """What is usual for what is chosen and has not been said: (part of the axis, given, value)."""
        axis, train = self.session.axis, self.session.solution.get("train", ())
        if self.link == LOAD and axis.motion == "linear" and axis.friction_coefficient is None:
            return [("", FRICTION, one) for one in (*offered(GUIDE, FRICTION), *GUIDES)]
        if not 0 <= self.link < len(train):
            return []
        link, said = train[self.link], (axis.train or ())[self.link]
        books = [("train", "efficiency", one) for one in link.usual_efficiencies if getattr(said, "efficiency", 1.0) is None]
        own = [("train", name, one) for name in OF_LINKS if getattr(said, name, 1.0) is None for one in offered(link.kind, name)]
        return [*own, *books]

    def _offer_usual(self) -> None:
        """A menu of usual values with their sources; choosing one takes it."""
        menu = QMenu(self)
        for part, name, one in self._usual():
            path = self.session.axis_path(*((part, self.link, name) if part else (name,)))
            action = menu.addAction(f"{self._usual_text(name, one)}: {one.words}  ({one.source})")
            assert action is not None
            action.triggered.connect(lambda _checked, path=path, value=one.value: self._take_usual(path, value))
        menu.popup(self.usual.mapToGlobal(self.usual.rect().bottomLeft()))

    def _usual_text(self, name: str, one: Usual) -> str:
        if name == FRICTION:
            return number_text(one.value, 3)
        given = next(known for known in givens(LINKS[(self.session.axis.train or ())[self.link].kind]) if known.name == name)
        said = show(one.value, given.unit, self.session.system, own=given.shown)
        return str(said) if name == "efficiency" else f"{given.label} {said}"

    def _take_usual(self, path: tuple[str | int, ...], value: float) -> None:
        marks = (*path[:-1], "usual")
        self.session.edit_all([(path, value), (marks, (*(self.session.value(marks) or ()), path[-1]))])
        self._head()

    def _turn_more(self) -> None:
        self.more = not self.more
        self.choose(self.link)

    def _pick(self) -> None:
        """Fit a part of the library to what is chosen, or say whether the follower differs."""
        from urban_mule.desk.shared.pick_part import pick_brake, pick_reduction  # the library is read when somebody looks into it

        if self.link == MOTOR:
            self.after(pick_brake(self.session, self))
        elif self.link == FOLLOWER:
            self._follower_differs()
        else:
            self.after(pick_reduction(self.session, self.link, self))

    def _follower_differs(self) -> None:
        axis, follower = self.session.axis, None
        if axis.follower is None:
            train = [{"kind": stage.kind} for stage in axis.train or ()]
            follower = Follower.model_validate({"train": train, "motor": {"kind": axis.motor_kind}, "driver": {}})
        self.session.edit(self.session.axis_path("follower"), follower, f"{axis.name}: the follower")
        self.choose(FOLLOWER)

    def _place(self) -> int:
        """Where a link goes that is inserted by its chip: before the chosen one, in front of all, or before the load."""
        return self.link if self.link >= 0 else len(self.session.axis.train or ()) if self.link == LOAD else 0

    def _insert(self, kind: str, place: int) -> None:
        train = list(self.session.axis.train or ())
        kind = kind or "coupling"
        train.insert(place, LINK_MODELS[kind].model_validate({"kind": kind}))
        self._take(tuple(train), f"{kind} inserted", place)
        self._focus_first()

    def _focus_first(self) -> None:
        """The cursor into the first field that is still empty, of the link that is chosen."""
        empty = [field for field in self.fields.fields if self.session.value(field.path) is None]
        if empty or self.fields.fields:
            (empty or self.fields.fields)[0].setFocus()

    def show_field(self, name: str, part: str = "") -> Field | TextField | None:
        self.leaves.turn("chain")
        for link in (self.link, LOAD, MOTOR):
            self.chain.choose(link)
            found = self.field(name, part)
            if found is not None:
                found.show()
                return found
        return super().show_field(name, part)

    def begin_here(self) -> None:
        """The cursor into the first field that a link of the train still lacks, or onto the kinds of link where there is none."""
        for place, link in enumerate(self.session.solution.get("train", ())):
            if link.unsaid():
                self.begin_at(place, link.unsaid()[0])
                return
        self.chips["belt"].setFocus()

    def begin_at(self, place: int, name: str) -> None:
        """The cursor into a field of a link."""
        self.leaves.turn("chain")
        self.chain.choose(place)
        if self.field(name) is None:
            self._turn_more()
        field = self.field(name)
        if field is not None:
            field.show()
            field.setFocus()

    def _remove(self, place: int) -> None:
        train = list(self.session.axis.train or ())
        if 0 <= place < len(train):
            gone = train.pop(place)
            self._take(tuple(train), f"{gone.kind} removed", min(place, len(train) - 1))

    def _move(self, start: int, before: int) -> None:
        train = list(self.session.axis.train or ())
        link = train.pop(start)
        place = before - (before > start)
        train.insert(place, link)
        self._take(tuple(train), f"{link.kind} moved", place)

    def _take(self, train: tuple[Any, ...], label: str, link: int) -> None:
        try:
            self.session.edit(self.session.axis_path("train"), train, f"{self.session.axis.name}: {label}")
        except BadValue as why:
            self._fault(f"It cannot stand there: {why}")
            return
        self.chain.choose(link)

    def _fault(self, why: str) -> None:
        self.fault.setText(why)
        self.fault.setVisible(bool(why))

    def kinds(self) -> tuple[Any, ...]:
        """What the fields depend on beside their values: the links, and whether a follower is entered."""
        axis = self.session.axis
        return (*(stage.kind for stage in axis.train or ()), axis.follower is None, self.session.index)

    def refresh(self, names: object = None) -> None:
        super().refresh(names)
        if self.shown_kinds != self.kinds() and not self.shown_set:  # the chain itself changed, perhaps by an undo
            self.chain.choose(self.link)
