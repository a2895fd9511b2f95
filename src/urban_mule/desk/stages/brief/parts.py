"""Parts: what is bought, filled from the axes; money, supplier, by when to order, what has come, and whether it fits."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QModelIndex
from PyQt6.QtWidgets import QFileDialog, QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urban_mule.core.brief.fits import PartSizes, fits_of
from urban_mule.core.sheet.given import BadValue, Given, givens
from urban_mule.core.sheet.units import LINEAR_UNITS, number_text, parse, show, unit_shown
from urban_mule.core.sheet.verdict import LEVELS, Verdict
from urban_mule.core.sheet.wording import in_inch
from urban_mule.core.train.links import LINKS
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.table import Table
from urban_mule.desk.model.booked import book, one_step
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.stages.brief.money_and_days import MoneyAndDays
from urban_mule.store.file.project_file import now
from urban_mule.store.shopping import (
    DAY,
    OWN,
    Item,
    as_csv,
    day_of,
    from_csv,
    order_by,
    ordered_with,
    shopping_list,
    summary,
    without,
)
from urban_mule.store.state.axis_state import AxisState
from urban_mule.store.text_files import BadFile, from_file, utf8, write_whole

HEAD = ("what", "part", "number", "each", "days", "supplier", "order by", "ordered", "arrived")
ENTERED = (("quantity", "number"), ("price", "each"), ("lead_time", "days"), ("supplier", "supplier"), ("ordered", "ordered on"),
           ("arrived", "arrived on"))
WORDY = ("supplier", "ordered", "arrived")  # lines that need more room than a number
SIZES = {one.name: one for one in givens(PartSizes)}
OF_KIND = {"motor": ("shaft", "frame"), "controller": ("takes_mode",), **{kind: link.sizes for kind, link in LINKS.items()}}
ALSO_FIT = ("set current", "supply voltage", "pulse rate", "coupling", "bus addresses")  # what other stages judge of parts
FITS = "Give shafts, bores and belts as on their papers: what meets is compared."
LARGEST = 2e6  # bytes of a list of parts


def _told(state: AxisState, name: str, verdict: Verdict) -> str:
    told = state.told(verdict)
    return f"{name}: {told.sentence} {told.next}"


class PartsPicture(Picture):
    """The list; beneath it the row that is chosen, to be typed into."""

    session: Whole

    def __init__(self, session: Whole, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        self.items: list[Item] = []
        box = QVBoxLayout(self)
        box.setContentsMargins(12, 6, 12, 6)
        box.setSpacing(4)
        self.fits = Label(objectName="label", wordWrap=True)
        self.drawn = MoneyAndDays()
        self.table = Table("Parts to be bought", HEAD, 1, (2, 3, 4))
        selection = self.table.selectionModel()
        assert selection is not None
        selection.currentRowChanged.connect(self._row_chosen)
        for widget, share in ((self.drawn, 0), (self.table, 1), (self.fits, 0)):
            box.addWidget(widget, share)
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(8)
        self.grid.setVerticalSpacing(1)
        self.lines = {name: self._line(name, words) for name, words in ENTERED}
        box.addLayout(self.grid)
        box.addLayout(self._keys())
        self.wrong = Label(objectName="wrong", wordWrap=True)
        self.wrong.hide()
        box.addWidget(self.wrong)
        self.key: tuple[str, str] | None = None

    def _line(self, name: str, words: str) -> QLineEdit:
        line = QLineEdit(self, accessibleName=words)
        line.editingFinished.connect(lambda name=name: self.enter(name))
        return line

    def _keys(self) -> QHBoxLayout:
        row = QHBoxLayout()
        row.addWidget(Label("work begins on", objectName="label"))
        self.begin_on = QLineEdit(accessibleName="Day on which the work begins", placeholderText="2027-03-01")
        self.begin_on.editingFinished.connect(self.begin)
        self.begin_on.setMaximumWidth(120)
        self.own = QLineEdit(accessibleName="A part of your own", placeholderText="one more part")
        self.own.returnPressed.connect(self.add)
        keys = {"Add": self.add, "Drop": self.drop, "Write CSV…": self.export, "Read CSV…": self.read}
        self.keys = {word: QPushButton(word, autoDefault=False) for word in keys}
        row.addWidget(self.begin_on)
        row.addWidget(self.own, 1)
        for word, button in self.keys.items():
            button.clicked.connect(keys[word])
            row.addWidget(button)
        return row

    def redraw(self) -> None:
        project = self.session.project
        self.items = shopping_list(project)
        begin_on = day_of(project.begin_on)
        rows = [self._row(one, begin_on) for one in self.items]
        at = self._at()
        self.table.source.show_rows(rows)
        self.table.selectRow(at)
        self.drawn.show_items(self.items, getattr(project, "budget", None), begin_on, now().date())
        if not self.begin_on.hasFocus():
            self.begin_on.setText(project.begin_on)
        self.fits.setText(self._fits())
        self._fill()
        self.said_anew.emit()

    def says(self) -> tuple[str, str] | None:
        """What the list comes to; where parts do not fit, or nobody can say, the verdict on that is the headline."""
        if any(one.check == "parts fit" and one.level != "good" for one in self.state.judged("Brief")):
            return None
        project = self.session.project
        told = summary(shopping_list(project), getattr(project, "budget", None), day_of(project.begin_on), now().date())
        first, _, rest = told.partition("; ")
        return f"{first.rstrip('.')}.", f"{rest[:1].upper()}{rest[1:]}" if rest else FITS

    def _row(self, one: Item, begin_on: Any) -> tuple[Any, ...]:
        last = order_by(one, begin_on)
        late = last is not None and last < now().date()
        return (f"{one.axis}  {one.what}".strip(), one.name, str(one.quantity),
                "" if one.price is None else number_text(one.price, 6),
                "" if one.lead_time is None else number_text(one.lead_time / DAY, 4), one.supplier,
                "" if last is None else f"{last.isoformat()}{', too late' if late else ''}", one.ordered, one.arrived)

    def _at(self) -> int:
        """The row that stays chosen."""
        return next((place for place, one in enumerate(self.items) if (one.axis, one.slot) == self.key), 0)

    @property
    def chosen(self) -> Item | None:
        """The row that is chosen."""
        row = self.table.currentIndex().row()
        place = self.table.order.mapToSource(self.table.order.index(row, 0)).row() if row >= 0 else -1
        return self.items[place] if 0 <= place < len(self.items) else None

    def _fits(self) -> str:
        """What fits and what does not on all axes, what does not first; only what is shown has its advice tried."""
        found: list[tuple[str, Callable[[], str]]] = []
        for axis in self.session.project.axes:
            get = self.session.solution_of(axis).get
            bought, train = get("parts_bought"), get("train")
            if bought is not None and train is not None:
                travel = get("travel") if get("unit") in LINEAR_UNITS else None
                found += [(one.level, f"{axis.name}: {one.said}. {one.do}".strip) for one in fits_of(bought, train, travel)]
            state = self.session.state_of(axis)
            found += [(one.level, partial(_told, state, axis.name, one)) for one in state.all_verdicts
                      if one.check in ALSO_FIT and one.level in ("short", "tight")]
        found.sort(key=lambda one: -LEVELS.index(one[0]))
        more = f"\nand {len(found) - 3} more" if len(found) > 3 else ""
        said = "\n".join(say() for _, say in found[:3]) + more
        return in_inch(said) if self.session.system == "inch" else said

    def _sizes_of(self, one: Item) -> tuple[str, ...]:
        kind = next((kind for kind in OF_KIND if f" {kind} " in f" {one.what} "), "")
        return OF_KIND.get(kind, ())

    def _row_chosen(self, _now: QModelIndex, _before: QModelIndex) -> None:
        self._fill()

    def _fill(self) -> None:
        """Show what the chosen row says, and only the sizes that such a part has."""
        one = self.chosen
        if one is None:
            return
        self.key = (one.axis, one.slot)
        shown = (*(name for name, _ in ENTERED), *self._sizes_of(one))
        while self.grid.count():
            item = self.grid.takeAt(0)
            widget = item.widget() if item is not None else None
            if isinstance(widget, Label):
                widget.hide()
                widget.deleteLater()
        for name in shown:
            if name not in self.lines:  # a line is made when a part first has that size
                self.lines[name] = self._line(name, SIZES[name].label.lower())
        for name, line in self.lines.items():
            line.setVisible(name in shown)
        for column in range(len(shown), self.grid.columnCount()):
            self.grid.setColumnStretch(column, 0)
        for column, name in enumerate(shown):
            line = self.lines[name]
            self.grid.setColumnStretch(column, 3 if name in WORDY else 2)
            self.grid.addWidget(Label(line.accessibleName(), objectName="label"), 0, column)
            self.grid.addWidget(line, 1, column)
            if not line.hasFocus():
                line.setText(self._text(one, name))
        self.keys["Drop"].setEnabled(one.order is not None)

    def _text(self, one: Item, name: str) -> str:
        if name in WORDY:
            return str(getattr(one, name))
        if name == "quantity":
            return str(one.quantity)
        if name in ("price", "lead_time"):
            value = getattr(one, name)
            return "" if value is None else number_text(value / (DAY if name == "lead_time" else 1.0), 6)
        value = getattr(one.order, name, None)
        given = SIZES[name]
        return "" if value is None else str(value) if given.choices else str(show(value, given.unit, self.session.system, 5))

    def enter(self, name: str) -> None:
        """Take what was typed into the chosen row; what is wrong is said beneath and the text stays."""
        one, text = self.chosen, self.lines[name].text().strip()
        if one is None or self.lines[name].isHidden() or text == self._text(one, name):
            return
        try:
            path, orders = ordered_with(self.session.project, one, **{name: self._value(name, text)})
            step = f"parts, {one.axis} {one.what}: {name.replace('_', ' ')}"
            with one_step(self.session, step):
                self.session.edit(path, orders, step)
                if name in ("ordered", "arrived") and text:
                    what = f"{one.what} {one.name}".strip()
                    book(self.session, f"{name.capitalize()}, {text}: {what}.", "note",
                         self.session.project.axis(one.axis).id if one.axis else None)
        except BadValue as why:
            self.wrong.setText(f"{self.lines[name].accessibleName()}: {why}.")
            self.wrong.show()
            return
        self.wrong.hide()

    def _value(self, name: str, text: str) -> Any:
        """A typed text as the document holds it. Raises BadValue."""
        if name in WORDY:
            return text
        if not text:
            return None
        if name in SIZES:
            given: Given = SIZES[name]
            return text if given.choices else parse(text, given.unit, unit_shown(given.unit, self.session.system))[0]
        value = parse(text, "", "")[0]
        return value * DAY if name == "lead_time" else int(value) if name == "quantity" and value == int(value) else value

    def begin(self) -> None:
        """Keep the day on which the work begins."""
        text = self.begin_on.text().strip()
        if text and day_of(text) is None:
            self.wrong.setText(f"“{text[:40]}” is no day; type it as 2027-03-01.")
            self.wrong.show()
        elif text != self.session.project.begin_on:
            self.wrong.hide()
            self.session.edit(("begin_on",), text, "begin on")

    def add(self) -> None:
        """A row of the user's own."""
        name = self.own.text().strip()
        if not name or any(one.slot == name for one in self.items if one.axis == OWN):
            self.wrong.setText(f"“{name}” is on the list already." if name else "Type what the part is.")
            self.wrong.show()
            return
        try:
            path, orders = ordered_with(self.session.project, Item(OWN, name, name, "", 1, None, None, None), quantity=1)
            self.key = (OWN, name)
            self.session.edit(path, orders, f"parts: {name}")
        except BadValue as why:
            self.wrong.setText(f"{why}.")
            self.wrong.show()
            return
        self.own.clear()
        self.wrong.hide()

    def drop(self) -> None:
        """Take away what was entered of the chosen row; what belongs to an axis stays, as the axis says it."""
        one = self.chosen
        if one is not None and one.order is not None:
            self.session.edit(*without(self.session.project, one), f"parts, no more: {one.axis} {one.what}")

    def export(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Write the list of parts", "parts-to-buy.csv", "CSV (*.csv)")
        if name:
            try:
                write_whole(Path(name), as_csv(self.items))
            except BadFile as why:
                self.session.told.emit(str(why))

    def read(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Read a list of parts", "", "CSV (*.csv);;All files (*)")
        if name:
            self.read_from(Path(name))

    def read_from(self, path: Path) -> None:
        """Take prices, days and dates from a list, beside the window; a fault changes nothing."""
        session, project = self.session, self.session.project

        def taken(after: Any) -> None:
            if session.project is project:
                session.replace(after, f"parts read from {path.name}")
            else:
                session.told.emit(f"{path.name} was read while the project was changed; nothing was taken. Read it again.")

        session.works.run(("a list of parts", str(path)), self, lambda _progress: from_file(
            path, LARGEST, lambda raw: from_csv(utf8(raw), project)), taken, session.told.emit)


