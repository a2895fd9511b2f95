"""The readings of an axis: every set with what it says of itself, its numbers, what is struck out or set aside, two compared."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import QItemSelection, Qt
from PyQt6.QtWidgets import QAbstractItemView, QHBoxLayout, QInputDialog, QPushButton, QSplitter, QVBoxLayout, QWidget

from urban_mule.core.readings.gauge import Gauge
from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue, givens
from urban_mule.core.sheet.shown import doubted_text, uncertainty_of
from urban_mule.core.sheet.wording import counted
from urban_mule.desk.kit.dialog import Dialog
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.table import Table
from urban_mule.desk.model.session import Session
from urban_mule.desk.model.words import label
from urban_mule.store.book import Number, SetNumbers, changed_conditions, comes_to, source_of, state_of
from urban_mule.store.document.edit import edited
from urban_mule.store.document.plain import plain
from urban_mule.store.document.readings import Reading

GAUGE = {one.name: one for one in givens(Gauge)}
HEAD = ("taken", "kind", "source", "gauge", "numbers", "counts", "note")


class NumberRows(Sequence[tuple[Any, ...]]):
    """The rows of a table of numbers, each made when it is drawn. unit_of: the unit in which a column is shown, and its SI."""

    def __init__(self, reading: Reading, numbers: Sequence[Number], unit_of: Callable[[str], tuple[str, float]]) -> None:
        self.reading, self.numbers = reading, numbers
        self.units = {one.name: unit_of(one.given.unit) for one in reading.declared.columns}
        self.over = next((one.name for one in reading.declared.columns if one.shape == "list"), "")

    def __len__(self) -> int:
        return len(self.numbers)

    def __getitem__(self, n: Any) -> Any:
        one = self.numbers[n]
        unit, factor = self.units[one.name]
        return ((self._place(one), n), (units.number_text(one.value / factor, 6), one.value), unit, one.source, one.struck)

    def _place(self, one: Number) -> str:
        """Where a number stands in its set, as people say it."""
        if len(one.at) == 1:
            return f"{one.name} {one.at[0] + 1}"
        if self.reading.declared.wide:
            return f"sample {one.at[0] + 1}, direction {one.at[1] + 1}"
        unit, factor = self.units[self.over]
        stands = units.number_text(float(getattr(self.reading, self.over)[one.at[1]]) / factor, 6)
        return f"{one.name}, run {one.at[0] + 1}, at {stands} {unit}"


class ReadingsWindow(Dialog):
    """A list of sets over the numbers of the chosen one. Everything done here can be undone."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.key = session, session.state.id
        self.reading: Reading | None = None
        self._listed_of: tuple[Reading, ...] | None = None
        self.listed: Sequence[Number] = ()
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle(f"Readings of {session.axis.name}")
        self.resize(920, 640)
        box = QVBoxLayout(self)
        box.setContentsMargins(20, 16, 20, 16)
        box.addWidget(Label(f"Readings of {session.axis.name}", objectName="heading"))
        self.sets = Table("Sets of readings", HEAD, len(HEAD) - 1, (4,))
        self.sets.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.numbers = Table("Numbers of the chosen set", ("place", "value", "unit", "source", "struck out because"), 4, (1,))
        split = QSplitter(Qt.Orientation.Vertical)
        split.addWidget(self.sets)
        split.addWidget(self.numbers)
        split.setSizes([200, 320])
        box.addWidget(split, 1)
        self.said = Label(objectName="label", wordWrap=True)
        box.addWidget(self.said)
        self.fault = Label(objectName="wrong", wordWrap=True)
        box.addWidget(self.fault)
        row = QHBoxLayout()
        self.buttons: dict[str, QPushButton] = {}
        for words, action in (("Strike out…", self.strike), ("Count it again", self.unstrike), ("Set aside…", self.aside),
                              ("Bring back", self.bring_back), ("Gauge…", self.gauge), ("Note…", self.note),
                              ("Delete", self.delete), ("Close", self.close)):
            button = self.buttons[words] = QPushButton(words, objectName="plain", autoDefault=False)
            button.clicked.connect(action)
            row.addWidget(button)
        row.addStretch(1)
        box.addLayout(row)
        for table, heard in ((self.sets, self._chosen), (self.numbers, self._offer)):
            selection, across = table.selectionModel(), table.horizontalHeader()
            assert selection is not None and across is not None
            across.setResizeContentsPrecision(8)  # rows that widths are found by: a long book opens as quickly as a short one
            selection.selectionChanged.connect(heard)
        session.changed.connect(self.refresh)
        session.axis_changed.connect(self.refresh)
        self.refresh()

    @property
    def place_of_axis(self) -> int | None:
        """Where the axis of this list stands now, or None when it is gone."""
        axis = self.session.axis_of(self.key)
        return None if axis is None else self.session.project.axes.index(axis)

    @property
    def readings(self) -> tuple[Reading, ...]:
        axis = self.session.axis_of(self.key)
        return () if axis is None else axis.readings

    def refresh(self, _names: object = None) -> None:
        """List the sets again where one changed; those chosen stay chosen."""
        if self.readings is self._listed_of:
            self.said.setText(self._words(self.places()))  # conditions may have changed
            return
        self._listed_of = self.readings
        chosen = self.places()
        rows = []
        for place, reading in reversed(list(enumerate(self.readings))):
            taken = reading.taken[:16].replace("T", " ")
            count = len(SetNumbers(reading))
            rows.append(((taken or "not said", (reading.taken, place)), reading_kinds()[reading.kind].words, source_of(reading),
                         reading.gauge or "–", (str(count), count), state_of(reading), reading.note))
        self.sets.source.show_rows(rows)
        if rows:
            for place in chosen or [len(rows) - 1]:
                if place < len(rows):
                    self.sets.selectRow(len(rows) - 1 - place)
        self._show_numbers()

    def places(self) -> list[int]:
        """The places of the chosen sets among the readings of the axis."""
        selection = self.sets.selectionModel()
        rows = [] if selection is None else [self.sets.order.mapToSource(index).row() for index in selection.selectedRows()]
        return sorted(len(self.sets.source.rows) - 1 - row for row in rows)

    def _chosen(self, _now: QItemSelection, _before: QItemSelection) -> None:
        self._show_numbers()

    def _show_numbers(self) -> None:
        """The numbers of the one set that is chosen, or what two come to beside each other."""
        places = [place for place in self.places() if place < len(self.readings)]
        self.fault.setText("")
        one = self.readings[places[0]] if len(places) == 1 else None
        if one is not self.reading:
            self.reading, self.listed = one, () if one is None else SetNumbers(one)
            self.numbers.source.show_made(() if one is None else NumberRows(one, self.listed, self._unit),
                                          lambda row: bool(self.listed[row].struck))
        self.said.setText(self._words(places))
        self._offer()

    def _unit(self, unit: str) -> tuple[str, float]:
        """Unit in which a column is shown, and what one of it is in SI."""
        for placeholder, real in self.session.sheet.units.items():
            unit = unit.replace(placeholder, real)
        own = ("mm", "in") if unit == "m" else ""
        shown = units.unit_shown(unit, self.session.system, own)
        return shown, units.factor(shown, unit)

    def _words(self, places: list[int]) -> str:
        """Of one set what has changed since; of two what each comes to."""
        axis = self.session.axis_of(self.key)
        if axis is None or not places:
            return "Nothing is measured on this axis yet."
        solution = self.session.solution_of(axis)
        if len(places) == 2 and self.readings[places[0]].kind == self.readings[places[1]].kind:
            first, second = (comes_to(self.readings[place], solution) for place in places)
            told = []
            for name in [one for one in first if not one.endswith(uncertainty_of(""))]:
                one, other = (doubted_text(solution.sheet, name, found.get(name), found.get(uncertainty_of(name)),
                                           self.session.system, axis.unit) for found in (first, second))
                told.append(f"{label(name)}: {one}, then {other}")
            stands = [(self.readings[place].conditions or {}).get("sensor_place", "") for place in places]
            if stands[0] != stands[1]:
                told.append(f"the sensor stood at {stands[0] or 'a place not said'}, then at {stands[1] or 'a place not said'}")
            return "; ".join(told) or "These two come to no number yet."
        if len(places) > 1:
            return "Two sets of one kind are compared; choose two."
        reading = self.readings[places[0]]
        since = changed_conditions(reading, solution, self.session.system, axis.unit)
        place = (reading.conditions or {}).get("sensor_place")
        stood = f" The sensor stood at {place}." if place else ""
        return (f"Taken under other conditions: {'; '.join(since)}." if since else "Taken under the conditions of now."
                if reading.conditions else "Its conditions were not written down.") + stood

    def _offer(self, *_ignored: object) -> None:
        places = self.places()
        one = self.readings[places[0]] if len(places) == 1 and places[0] < len(self.readings) else None
        struck = [one for one in self._chosen_numbers() if one.struck]
        for words, on in (("Strike out…", bool(self._chosen_numbers())), ("Count it again", bool(struck)),
                          ("Set aside…", one is not None and not one.aside), ("Bring back", one is not None and bool(one.aside)),
                          ("Gauge…", one is not None), ("Note…", one is not None), ("Delete", bool(places))):
            self.buttons[words].setEnabled(on)

    def _chosen_numbers(self) -> list[Number]:
        selection = self.numbers.selectionModel()
        if selection is None:
            return []
        return [self.listed[self.numbers.order.mapToSource(index).row()] for index in selection.selectedRows()]

    def _edit(self, name: str, value: Any, words: str) -> None:
        axis, places = self.place_of_axis, self.places()
        if axis is None or not places:
            return
        try:
            self.session.edit(("axes", axis, "readings", places[0], name), value, words)
        except BadValue as why:
            self.fault.setText(f"{str(why).rstrip('.')}.")

    def _ask(self, question: str, then: Callable[[str], None], text: str = "") -> None:
        ask = QInputDialog(self)
        ask.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        ask.setWindowTitle(self.windowTitle())
        ask.setLabelText(question)
        ask.setTextValue(text)
        ask.textValueSelected.connect(then)
        ask.open()

    def strike(self) -> None:
        """Strike the chosen numbers out, with a reason; they stay, and do not count."""
        chosen = [one.place for one in self._chosen_numbers()]
        if not chosen:
            return
        reading = self.readings[self.places()[0]]

        def then(why: str) -> None:
            if why.strip():
                self._edit("struck", {**(reading.struck or {}), **dict.fromkeys(chosen, why.strip())}, f"{len(chosen)} struck out")

        self._ask(f"Why do {len(chosen)} numbers not count?" if len(chosen) > 1 else "Why does this number not count?", then)

    def unstrike(self) -> None:
        """Let the chosen numbers count again."""
        chosen = {one.place for one in self._chosen_numbers()}
        reading = self.readings[self.places()[0]]
        self._edit("struck", {k: v for k, v in (reading.struck or {}).items() if k not in chosen} or None, "counted again")

    def aside(self) -> None:
        """Set the whole set aside, with a reason."""

        def then(why: str) -> None:
            if why.strip():
                self._edit("aside", why.strip(), "a set put aside")

        self._ask("Why does this set not count?", then)

    def bring_back(self) -> None:
        self._edit("aside", "", "a set brought back")

    def gauge(self) -> None:
        """Say which gauge the set was read with, and how good that one is."""
        reading = self.readings[self.places()[0]]
        known = next((one for one in self.session.project.gauges or () if one.name == reading.gauge), None)
        sure = getattr(known, "gauge_uncertainty", None)
        unit = "m" if self.session.axis.motion == "linear" else "rad"
        said = "" if sure is None else f", {units.show(sure, unit, self.session.system)}"
        self._ask("Which gauge was it, and to how much is it sure (standard uncertainty)? Such as: glass scale, 2 µm",
                  self._take_gauge, f"{reading.gauge}{said}")

    def _take_gauge(self, said: str) -> None:
        axis, places, project = self.place_of_axis, self.places(), self.session.project
        if axis is None or not places:
            return
        name, comma, sure = (part.strip() for part in said.rpartition(", "))
        if not comma:
            name, sure = said.strip(), ""
        try:
            if sure:
                unit = "m" if project.axes[axis].motion == "linear" else "rad"
                value = GAUGE["gauge_uncertainty"].check(units.parse(sure, unit, "µm" if unit == "m" else "°")[0])
                gauges = {one.name: plain(one) for one in project.gauges or ()}
                gauges[name] = {"name": name, **gauges.get(name, {}), "gauge_uncertainty": value}
                project = edited(project, ("gauges",), tuple(gauges.values()))
            named = edited(project, ("axes", axis, "readings", places[0], "gauge"), name)
            self.session.replace(named, f"gauge {name or 'not said'}")
        except BadValue as why:
            self.fault.setText(f"{str(why).rstrip('.')}.")

    def note(self) -> None:
        """A note on the set."""
        reading = self.readings[self.places()[0]]
        self._ask("A note on this set:", lambda text: self._edit("note", text.strip(), "a note on readings"), reading.note)

    def delete(self) -> None:
        """Take the chosen sets out of the axis; undo brings them back."""
        axis, gone = self.place_of_axis, set(self.places())
        if axis is not None and gone:
            kept = tuple(one for place, one in enumerate(self.readings) if place not in gone)
            self.session.edit(("axes", axis, "readings"), kept, f"{counted(len(gone), 'set')} of readings deleted")
