"""All axes: every motor with both sides of the wire, and a change walked through in order, one side after the other."""

from __future__ import annotations

from PyQt6.QtWidgets import QScrollArea, QVBoxLayout, QWidget

from urban_mule.core.drive.waiting import CHARGE
from urban_mule.core.sheet.wording import size
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.kit.ranked import Ranked, RankedRow
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.stages.scale.from_above import FromAbove, Wire
from urban_mule.store.settings import SettingRow
from urban_mule.store.sides import BothSides, Side, both_sides

WALK = (f"Power off and the plug out. {CHARGE} Set these in this order, on every motor of the axis; then power on, and make"
        " the first move short and slow, with a hand on the stop.")
CHANGE = ("To change microsteps or pulses a turn, type the new number below: what must be set on both sides then stands here, old"
          " beside new.")
STEEP = 0.5  # rad from level, from which on an axis goes up and down


class AllAxesPicture(Picture):
    """Above, the machine with each motor's wire to the controller; below, what is still to be set on the shown axis."""

    session: Whole

    def __init__(self, session: Whole, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(12, 6, 12, 6)
        box.setSpacing(4)
        self.drawn = FromAbove(session)
        above = QScrollArea(widgetResizable=True, accessibleName="All motors, with both sides of the wire")
        above.setFrameShape(QScrollArea.Shape.NoFrame)
        above.setWidget(self.drawn)
        self._words = ("", "")
        self.order = Label(WALK, objectName="caution", wordWrap=True)
        self.walk = Ranked(("what is to be set", "old", "new"), (3, 2, 2))
        self.walk.pressed.connect(self._done)
        for widget, share in ((above, 5), (self.order, 0), (self.walk, 3)):
            box.addWidget(widget, share)
        session.book_changed.connect(self._anew)
        self.sides: dict[str, Side] = {}

    def redraw(self) -> None:
        wires: list[Wire] = []
        shown: BothSides | None = None
        level = 0
        for axis in self.session.project.axes:
            both = both_sides(self.session.state_of(axis), self.session.follower_of(axis))
            if axis.name == self.state.axis.name:
                shown = both
            if axis.motion == "rotary":
                lies = "turns"
            elif abs(axis.incline or 0.0) > STEEP:
                lies = "up"
            else:
                lies = ("along", "across")[level % 2]
                level += 1
            wires += self._wires(both, lies, axis.name == self.state.axis.name)
        self.drawn.show_wires(wires)
        if shown is not None:
            self._walk(shown)
        self.said_anew.emit()

    def says(self) -> tuple[str, str] | None:
        """What is still to be set on the shown axis, or that both sides agree."""
        return self._words

    @staticmethod
    def _wires(both: BothSides, lies: str, here: bool) -> list[Wire]:
        """A wire for each motor: what its driver has, what the controller has, how it moves with both."""
        controller = both.controller
        held = ("", "") if controller is None else (_said(controller.row), controller.old)
        level = "short" if both.apart or both.moves not in (None, 1) else "unknown" if both.moves is None else "good"
        found = []
        for name in dict.fromkeys(side.where for side in both.drivers):
            mine = [side for side in both.drivers if side.where == name]
            before = "; ".join(side.old for side in mine if side.old)
            found.append(Wire(name, lies, "; ".join(_said(side.row) for side in mine), before, *held, _moves(both), level, here))
        if not both.drivers:
            empty = controller is None
            found.append(Wire(both.axis, lies, "" if empty else "nothing that counts steps", "", *held,
                              "nothing is decided yet" if empty else _moves(both), "unknown" if empty else level, here))
        return found

    def _walk(self, both: BothSides) -> None:
        due = both.due
        self.sides = {f"{side.where}: {side.row.title}": side for side in due}
        self.order.setVisible(bool(due))
        self.walk.setVisible(bool(due))
        self.walk.show_rows([RankedRow(name, (side.old, _said(side.row)), ("Done",))
                             for name, side in self.sides.items()])
        self._words = self._sentence(both), CHANGE if not due and both.all else ""

    @staticmethod
    def _sentence(both: BothSides) -> str:
        if not both.drivers and both.controller is None:
            return f"Nothing of {both.axis} is decided yet: with motor, driver and train both sides of the wire stand here."
        if both.apart:
            return f"{both.axis}: as it is set now its two motors go apart. Do not move it until both are set alike."
        if not both.due:
            return f"Both sides of the wire agree on {both.axis}."
        if both.moves is not None and both.moves != 1:
            return f"{both.axis}: until all of it is set, it moves {size(both.moves)} times what is commanded."
        return f"{both.axis}: still to be set, {len(both.due)} of {len(both.all)}."

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
        return "not known yet"
    return "as commanded" if both.moves == 1 else f"{size(both.moves)} times too far" if both.moves > 1 else (
        f"only {size(both.moves)} of the way")
