"""All axes: every motor with both sides of the wire, and a change walked through in order, one side after the other."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.core.drive.waiting import CHARGE
from urban_mule.core.sheet.wording import size
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.model.scope import Whole
from urban_mule.store.settings import SettingRow
from urban_mule.store.sides import BothSides, Side, both_sides

MATRIX = ("motor", "driver is to have", "on the machine", "controller is to have", "on the machine", "so it moves")
WALK = (f"Power off and the plug out. {CHARGE} Set these in this order, on every motor of the axis; then power on, and make"
        " the first move short and slow, with a hand on the stop.")
NOTHING = "Both sides of the wire agree on {}. To change microsteps or pulses a turn, type the new number below: what must" \
    " be set on both sides then stands here, old beside new."


class AllAxesPicture(Picture):
    """Above, a line for each motor and its controller; below, what is still to be set on the shown axis."""

    session: Whole

    def __init__(self, session: Whole, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(12, 6, 12, 6)
        box.setSpacing(4)
        self.matrix = Ranked(MATRIX, (2, 3, 3, 2, 2, 3))
        self.said = Label(objectName="heading", wordWrap=True)
        self.order = Label(WALK, objectName="caution", wordWrap=True)
        self.walk = Ranked(("what is to be set", "old", "new"), (3, 2, 2))
        self.walk.pressed.connect(self._done)
        for widget, share in ((self.matrix, 3), (self.said, 0), (self.order, 0), (self.walk, 2)):
            box.addWidget(widget, share)
        session.book_changed.connect(self._anew)
        self.sides: dict[str, Side] = {}

    def redraw(self) -> None:
        rows: list[RankedRow] = []
        shown: BothSides | None = None
        for axis in self.session.project.axes:
            both = both_sides(self.session.state_of(axis), self.session.follower_of(axis))
            if axis.name == self.state.axis.name:
                shown = both
            rows += self._lines(both)
        self.matrix.show_rows(rows)
        if shown is not None:
            self._walk(shown)

    @staticmethod
    def _lines(both: BothSides) -> list[RankedRow]:
        """A line for each motor: what its driver has, what the controller has, how it moves with both."""
        rows, controller = [], both.controller
        for name in dict.fromkeys(side.where for side in both.drivers):
            mine = [side for side in both.drivers if side.where == name]
            rows.append(RankedRow(name, (
                "; ".join(_said(side.row) for side in mine), "; ".join(side.old or "the same" for side in mine),
                "" if controller is None else _said(controller.row), "" if controller is None else controller.old or "the same",
                _moves(both))))
        if not both.drivers and controller is None:
            rows.append(RankedRow(both.axis, ("nothing is decided yet", "", "", "", "")))
        elif not both.drivers and controller is not None:
            rows.append(RankedRow(both.axis, ("nothing that counts steps", "", _said(controller.row), controller.old or "the same",
                                              _moves(both))))
        return rows

    def _walk(self, both: BothSides) -> None:
        due = both.due
        self.sides = {f"{side.where}: {side.row.title}": side for side in due}
        self.order.setVisible(bool(due))
        self.walk.setVisible(bool(due))
        self.walk.show_rows([RankedRow(name, (side.old, _said(side.row)), ("Done",))
                             for name, side in self.sides.items()])
        if not both.drivers and both.controller is None:
            self.said.setText(f"Nothing of {both.axis} is decided yet: with motor, driver and train both sides of the wire stand"
                              " here.")
        elif both.apart:
            self.said.setText(f"{both.axis}: as it is set now its two motors go apart. Do not move it until both are set alike.")
        elif not due:
            self.said.setText(NOTHING.format(both.axis))
        elif both.moves is not None and both.moves != 1:
            self.said.setText(f"{both.axis}: until all of it is set, it moves {size(both.moves)} times what is commanded.")
        else:
            self.said.setText(f"{both.axis}: still to be set, {len(due)} of {len(both.all)}.")

    def _done(self, name: str, _words: str) -> None:
        """It is on the machine now."""
        side = self.sides[name]
        values = {side.row.name: side.row.value}
        state = self.session.follower_of(self.state.axis) if side.follower else self.session.state
        microsteps = None if state is None else state.solution.get("microsteps")
        if side.row.name == "switches" and microsteps is not None:
            values["microsteps"] = float(microsteps)  # the switches say them
        self.session.hardware.put(values, side.follower)


def _said(row: SettingRow) -> str:
    """The value of a row in a line."""
    if row.banks:
        return "; ".join(f"{bank.name} {bank.positions}" for bank in row.banks)
    return ", ".join(f"{number} {unit}".strip() for number, unit in row.lines) + (" microsteps" if row.name == "microsteps" else "")


def _moves(both: BothSides) -> str:
    if both.apart:
        return "apart: do not move it"
    if both.moves is None:
        return "not known until both are set"
    return "as commanded" if both.moves == 1 else f"{size(both.moves)} times too far" if both.moves > 1 else (
        f"only {size(both.moves)} of the way")
