"""The best train: what to try of each link, the trains that none beats, and one of them taken."""

from __future__ import annotations

import math
import re
from typing import Any

import numpy as np
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from urban_mule.core.brief.settings_room import BREAKS
from urban_mule.core.sheet.given import BadValue, Given, givens, words
from urban_mule.core.sheet.units import FACTORS, number_text, unit_shown
from urban_mule.core.studies.scan import place_of_reduction
from urban_mule.core.studies.trains import IN_FRONT, VARIED, Choice, TriedTrain, all_fields, beaten, search_trains
from urban_mule.core.train.links import LINKS
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.table import Table
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.shared.searching import Searching
from urban_mule.desk.stages.load.train_plane import TrainPlane
from urban_mule.store.document.made import LINK_MODELS
from urban_mule.store.library.parts import all_parts
from urban_mule.store.text_files import BadFile

USUAL = {"lead": "4 5 8 10 16 20", "belt": "16 18 20 24 30 36", "rack": "16 18 20 22 25 30", "diameter": "", "ratio": ""}
TOKEN = re.compile(r"\s*([0-9]+(?:[.,][0-9]+)?)\s*(?:\(\s*([0-9]+(?:[.,][0-9]+)?)\s*\))?\s*[,;]?")
HEADS = ("train", "cycle, s", "odds", "price", "accuracy", "margin", "what binds")
NAMES = {"odds": "odds that no step is lost, %", "price": "price", "accuracy": "accuracy to expect"}
LIMITS = {**BREAKS, "cycle": "the cycle asks no more", "swing": "more would swing longer"}
AS_COMPUTED = ("All as computed: what was measured on the train there is counts for none. Pulleys and pinions of another size have"
               " another inertia; efficiencies stay.")
ASKED = 268  # px of the column at the left


def choices_in(text: str, given: Given, kind: str, unit: str) -> list[Choice]:
    """What is typed of a link: values, each with its price in brackets where it has one. Raises BadValue."""
    found, rest = [], text.strip()
    while rest:
        match = TOKEN.match(rest)
        if match is None:
            raise BadValue(f"{rest[:12]!r} is no value; such as 16 or 16 (9.50), a price in brackets, is needed", given.name)
        typed, price = match[1].replace(",", "."), match[2]
        value: Any = float(typed) * FACTORS.get(unit, 1.0)
        value = int(value) if given.whole and float(typed).is_integer() else value
        given.check(value)
        name = {"teeth": f"{kind} {typed} teeth", "ratio": f"{kind} {typed}:1"}.get(
            given.name, f"{kind}, {words(given.name).lower()} {typed} {unit}")
        found.append(Choice({given.name: value}, name, None if price is None else float(price.replace(",", "."))))
        rest = rest[match.end():]
    return found


class TrainWindow(Searching):
    """The search for the train of the shown axis."""

    begins = "Try them"

    def __init__(self, session: Whole, parent: QWidget | None = None) -> None:
        super().__init__(session, f"Other trains for {session.axis.name}", parent)
        self.resize(1180, 720)
        self.trains: tuple[TriedTrain, ...] = ()
        self.searched: tuple[Any, ...] | None = None  # the links that others were tried in place of
        self.beaten: np.ndarray = np.zeros(0, dtype=bool)
        self.place = -1
        first = f"Each is tried with the best settings that it allows. {AS_COMPUTED}"
        self.said = Label(first, objectName="subline", wordWrap=True)
        self.plane = TrainPlane()
        self.plane.chosen.connect(self.choose)
        self.across = QComboBox(accessibleName="What is drawn upwards")
        self.across.addItems(NAMES)
        self.across.activated.connect(lambda _place: self._draw())
        self.table = Table("Trains that are worth a choice", HEADS, 0, (1, 2, 3, 4, 5))
        selection = self.table.selectionModel()
        assert selection is not None
        selection.selectionChanged.connect(lambda _now, _before: self._row_chosen())
        self.binds = Label(objectName="subline", wordWrap=True)
        right = QVBoxLayout()
        top = QHBoxLayout()
        top.addWidget(Label("Against the time of the cycle:", objectName="label"))
        top.addWidget(self.across)
        top.addStretch(1)
        right.addLayout(top)
        for widget, share in ((self.plane, 5), (self.table, 4), (self.binds, 0)):
            right.addWidget(widget, share)
        lower = QHBoxLayout()
        lower.setSpacing(18)
        lower.addLayout(self._left())
        lower.addLayout(right, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(20, 14, 20, 16)
        box.addWidget(self.headline)
        box.addWidget(self.said)
        box.addLayout(lower, 1)

    def _left(self) -> QVBoxLayout:
        column, grid = QVBoxLayout(), QGridLayout()
        grid.setVerticalSpacing(3)
        self.lines: dict[int, tuple[QLineEdit, Given, str, str]] = {}
        train = self.session.solution.get("train") or ()
        rows = [(place, link.kind) for place, link in enumerate(train) if link.kind in VARIED]
        if place_of_reduction(train) is None:
            rows.insert(0, (IN_FRONT, "reduction"))
        for row, (place, kind) in enumerate(rows):
            key = VARIED[kind]
            given = next(one for one in givens(LINKS[kind]) if one.name == key)
            unit = unit_shown(given.unit, self.session.state.system, given.shown) if given.unit else ""
            named = f"{kind} in front" if place == IN_FRONT else kind
            grid.addWidget(Label(f"{named}: {words(key).lower()}{f', {unit}' if unit else ''}", objectName="label"), 2 * row, 0)
            line = QLineEdit(USUAL.get(key) or USUAL.get(kind, ""), accessibleName=f"{named}: what to try")
            line.setPlaceholderText("as it is" if place != IN_FRONT else "none")
            line.setFixedWidth(ASKED)
            self.lines[place] = line, given, kind, unit
            grid.addWidget(line, 2 * row + 1, 0)
        self.library = QCheckBox("the reductions of the library")
        self.library.setVisible(any(kind in ("reduction", "worm") for _, kind in rows))
        hint = Label("Values apart by spaces; a price in brackets: 16 (9.50) 20 (11).", objectName="label", wordWrap=True)
        hint.setFixedWidth(ASKED)
        column.addLayout(grid)
        column.addWidget(self.library)
        column.addWidget(hint)
        column.addStretch(1)
        for widget in (self.fault, self.bar, self.go, self.taking):
            column.addWidget(widget)
            widget.setFixedWidth(ASKED)
        return column

    def asked(self) -> dict[int, list[Choice]]:
        """What to try of each link. Raises BadValue."""
        found: dict[int, list[Choice]] = {}
        for place, (line, given, kind, unit) in self.lines.items():
            made = choices_in(line.text(), given, kind, unit)
            if kind == "reduction" and self.library.isChecked():
                made += _of_library()
            if place == IN_FRONT and made:
                made.insert(0, Choice({}, "", 0.0))
            found[place] = made
        return found

    def search(self) -> None:
        try:
            choices = self.asked()
        except (BadValue, BadFile) as why:
            self.failed(str(why))
            return
        axis = self.session.axis_of(self.key)
        if axis is not None:
            self.searched, solution = axis.train, self.session.solution_of(axis).own()
            self.work_at("the search for a train", lambda progress: search_trains(solution, choices, progress), self._came)

    def _came(self, trains: tuple[TriedTrain, ...]) -> None:
        self.trains, self.beaten = trains, beaten(trains)
        able = sum(math.isfinite(one.settled_cycle_time) for one in trains)
        kept = [one for one, gone in zip(trains, self.beaten, strict=True) if not gone]
        there = "" if not kept or not any(one.there for one in kept) else ", the one there is among them"
        self.headline.setText(f"{len(kept)} of {len(trains)} trains are worth a choice{there}.")
        self.said.setText(f"Each other one is beaten: another is no worse in time, odds, price and accuracy. {AS_COMPUTED}")
        self.binds.setText("" if able == len(trains) else f"{len(trains) - able} can do nothing: "
                           + next(one.why for one in trains if one.why) + ".")
        self._draw()
        rows = [place for place in np.argsort([one.settled_cycle_time for one in trains]) if not self.beaten[place]]
        self.rows = [int(place) for place in rows]
        self.table.source.show_rows([self._row(trains[place]) for place in self.rows])
        if self.rows:
            self.table.selectRow(0)

    def _row(self, one: TriedTrain) -> tuple[str, ...]:
        accuracy, unit = self._accuracy(one.expected_accuracy)
        return (self._name(one), number_text(one.settled_cycle_time, 4), _known(100 * one.odds, "%"), _known(one.price, ""),
                _known(accuracy, unit), _known(one.working_margin, "×"), LIMITS.get(one.binds, one.binds))

    @staticmethod
    def _name(one: TriedTrain) -> str:
        return "as it is" if one.there else one.words

    def _accuracy(self, value: float) -> tuple[float, str]:
        solution = self.session.solution
        unit = unit_shown(solution.sheet.unit("expected_accuracy"), self.session.state.system,
                          solution.sheet.shown("expected_accuracy"))
        return value * FACTORS.get(solution.sheet.unit("expected_accuracy"), 1.0) / FACTORS.get(unit, 1.0), unit

    def _draw(self) -> None:
        which = self.across.currentText()
        heights = np.array([self._upwards(which, one) for one in self.trains], dtype=float)
        unit = f", {self._accuracy(0.0)[1]}" if which == "accuracy" else ""
        self.plane.show_trains(self.trains, self.beaten, heights, f"{NAMES[which]}{unit}", self.place)

    def _upwards(self, which: str, one: TriedTrain) -> float:
        if which == "accuracy":
            return self._accuracy(one.expected_accuracy)[0]
        return 100 * one.odds if which == "odds" else one.price

    def _row_chosen(self) -> None:
        selection = self.table.selectionModel()
        rows = selection.selectedRows() if selection is not None else []
        if rows and rows[0].row() < len(self.rows):
            self.choose(self.rows[self.table.order.mapToSource(rows[0]).row()])

    def choose(self, place: int) -> None:
        """Mark a train, say what binds it, and let it be taken."""
        self.place = place
        one = self.trains[place]
        self.taking.setEnabled(not one.there and not one.why)
        beaten_by = " Another one beats it." if self.beaten[place] else ""
        bound = LIMITS.get(one.binds, one.why or one.binds)
        name, time = self._name(one), number_text(one.settled_cycle_time, 4)
        self.binds.setText(f"{name[:1].upper()}{name[1:]}: {time} s a cycle; what binds: {bound}.{beaten_by}")
        self._draw()

    def take(self) -> None:
        session, one = self.session, self.trains[self.place]
        axis = session.axis_of(self.key)
        if axis is None:
            return
        if axis.train != self.searched:
            self.failed(f"The train of {axis.name} was changed since these were tried; try them again")
            return
        made = list(axis.train or ())
        front = [LINK_MODELS["reduction"](kind="reduction", **fields) for place, fields in one.changes if place == IN_FRONT]
        train = self.session.solution_of(axis)["train"]
        for place, fields in one.changes:
            if place != IN_FRONT:
                made[place] = type(made[place]).model_validate({**dict(made[place]), **all_fields(train[place], fields)})
        index = self.index
        changes: list[tuple[tuple[str | int, ...], Any]] = [(("axes", index, "train"), (*front, *made))]
        if axis.measured_stiffness is not None:
            changes.append((("axes", index, "measured_stiffness"), None))
        try:
            session.edit_all(changes, f"{axis.name}: {one.words} taken")
        except BadValue as why:
            self.failed(str(why))
            return
        session.noted.emit(f"{one.words} {'is' if len(one.changes) == 1 else 'are'} now on {axis.name}. Ctrl+Z takes that back.")
        self.close()


def _known(value: float, unit: str) -> str:
    return f"{number_text(value, 3)} {unit}".strip() if math.isfinite(value) else "not known"


def _of_library() -> list[Choice]:
    """The reductions of the library with all that they say."""
    found, fields = [], {one.name for one in givens(LINKS["reduction"])}
    for part in all_parts():
        if part.kind == "reduction":
            price = part.row.get("price")
            found.append(Choice({name: value for name, value in part.values.items() if name in fields and value is not None},
                                part.name, None if price is None else float(price)))
    return found


def open_trains(session: Whole, parent: QWidget | None) -> TrainWindow:
    """Open the search for another train."""
    window = TrainWindow(session, parent)
    window.show()
    return window
