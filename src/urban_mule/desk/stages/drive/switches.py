"""Switches: every driver of every axis side by side as its banks must look, and what its interface wants."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter

from urban_mule.core.drive.banks import BankSetting, said_of
from urban_mule.core.drive.interface import WANTED
from urban_mule.desk.kit.draw_switches import bank_size, draw_bank
from urban_mule.desk.kit.paged import page_said, page_with
from urban_mule.desk.kit.painting import say, say_lines
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.scope import Whole
from urban_mule.store.document.project import Axis
from urban_mule.store.settings import SettingRow, follower_settings, settings_of, switches_of
from urban_mule.store.state.axis_state import AxisState

WIDEST, NARROWEST = 17.0, 7.0  # px of a switch
NARROW = 150.0  # px of an axis
FOOT = 84.0  # px of the words on the interface
OWN_SETTING = ("switches", "current_entry_value", "reference_voltage", "current_register", "current_peak")


def table_words(setting: BankSetting) -> list[str]:
    """What each table of a bank sets: `1–3: 4.2 A peak`, or why it cannot."""
    found = []
    for one in setting.tables:
        switches = one.table.switches
        run = len(switches) > 2 and switches == tuple(range(switches[0], switches[-1] + 1))
        named = f"{switches[0]}–{switches[-1]}" if run else ", ".join(str(number) for number in switches) or "no switch"
        found.append(f"{named}: {said_of(one.row) if one.row else one.why}")
    return found


class SwitchesPicture(Painted):
    """How each driver must be set, leader and follower, with what stands otherwise on the machine."""

    session: Whole
    natural = (600.0, 300.0)

    def says(self) -> tuple[str, str] | None:
        """Why a servo's drive has none; of a stepper's a verdict says what to set."""
        if self.state.axis.motor_kind != "servo":
            return None
        others = [axis.name for axis in self.session.project.axes if axis.motor_kind == "stepper" and axis.driver is not None]
        return ("The drive of a servo is set by its program, not by switches.",
                f"Here stand the switches of {', '.join(others)}." if others else "Nothing to set here.")

    def paint(self, painter: QPainter, area: QRectF) -> None:
        axes = [axis for axis in self.session.project.axes if axis.motor_kind == "stepper" and axis.driver is not None]
        here = next((place for place, axis in enumerate(axes) if axis is self.state.axis), 0)
        page = page_with(here, len(axes), area.width() / NARROW)
        drivers = self._drivers(axes[page.start:page.stop])
        self.setAccessibleName("Switches and jumpers. " + ". ".join(f"{name}: {self._aloud(state)}" for name, state, _ in drivers))
        if not drivers:
            say_lines(painter, area, "No axis has a driver yet.", "muted", 15)
            return
        wide = area.width() / max(len(drivers), 2)
        for place, (name, state, rows) in enumerate(drivers):
            column = QRectF(area.left() + wide * place, area.top(), wide - 14, area.height() - FOOT)
            self._driver(painter, column, name, state, rows)
        below = QRectF(area.left(), area.bottom() - FOOT + 4, area.width(), FOOT - 4)
        say(painter, QRectF(below.left(), below.top() - 20, below.width(), 16), page_said("Axes", page, len(axes)), "muted")
        self._interface(painter, below)

    def _drivers(self, axes: list[Axis]) -> list[tuple[str, AxisState, list[SettingRow]]]:
        """The drivers of these axes: whose each is, its state, and the rows of its tag."""
        found = []
        for axis in axes:
            state, follower = self.session.state_of(axis), self.session.follower_of(axis)
            found.append((axis.name, state, settings_of(state)))
            if follower is not None:
                found.append((f"{axis.name} follower", follower, follower_settings(follower)))
        return found

    @staticmethod
    def _aloud(state: AxisState) -> str:
        row = switches_of(state)
        return "no switches" if row is None else "; ".join(f"{bank.name} {bank.in_words}" for bank in row.banks)

    def _driver(self, painter: QPainter, column: QRectF, name: str, state: AxisState, rows: list[SettingRow]) -> None:
        here = name == self.state.axis.name
        if here:
            painter.fillRect(QRectF(column.left(), column.top() + 22, 60, 2), theme.color("accent"))
        say(painter, QRectF(column.left(), column.top(), column.width(), 22), name, "accent" if here else "ink", 16, bold=True)
        driver = state.axis.driver
        title = driver.name if driver is not None and driver.name else "driver without a name"
        say(painter, QRectF(column.left(), column.top() + 26, column.width(), 16), title, "muted")
        y = column.top() + 46
        row = next((one for one in rows if one.name in OWN_SETTING), None)
        if row is not None and not row.banks:
            number, unit = row.lines[0]
            say(painter, QRectF(column.left(), y, column.width(), 16), row.title, "muted")
            say(painter, QRectF(column.left(), y + 16, column.width(), 28), f"{number} {unit}", "ink", 20, bold=True)
            say(painter, QRectF(column.left(), y + 44, column.width(), 16), row.beneath, "muted")
            y += 66
            if row.differs:
                say(painter, QRectF(column.left(), y, column.width(), 16), row.on_machine, "short")
                y += 20
        switches = next((one for one in rows if one.name == "switches"), None)
        for bank, setting in zip(switches.banks if switches else (), state.solution.get("bank_settings", ()), strict=True):
            wide = min(WIDEST, column.width() / bank_size(len(bank.positions), 1.0)[0])
            say(painter, QRectF(column.left(), y, column.width(), 16), bank.name, "muted")
            draw_bank(painter, bank, QPointF(column.left(), y + 18), wide, numbers=wide > NARROWEST)
            y += 18 + bank_size(1, wide)[1] + 22
            for text in table_words(setting):
                if y + 16 <= column.bottom():
                    say(painter, QRectF(column.left(), y, column.width(), 16), text, "ink")
                y += 16
            y += 4
        if switches is not None and switches.differs and y + 16 <= column.bottom():
            stands = (
                switches.on_machine if switches.on_machine == "not set yet" else "the marked ones stand otherwise on the machine"
            )
            say(painter, QRectF(column.left(), y, column.width(), 16), stands, "short")
            y += 18
        for one in rows:
            if one.leader and y + 16 <= column.bottom():
                say(painter, QRectF(column.left(), y, column.width(), 16), f"{one.title}: {one.leader}", "tight")
                y += 18

    def _interface(self, painter: QPainter, area: QRectF) -> None:
        """What the interface of the shown axis wants, and what comes of a jumper left wrong."""
        driver = self.state.axis.driver
        painter.fillRect(QRectF(area.left(), area.top(), area.width(), 1), theme.color("line"))
        mode = None if driver is None else driver.interface_mode
        if mode is None:
            say_lines(
                painter,
                area.adjusted(0, 6, 0, 0),
                f"{self.state.axis.name}: how its driver takes its settings is not said:"
                " by pulses alone, over a single wire, or on a bus.",
                "muted",
            )
            return
        wants = WANTED[mode]
        assert driver is not None
        logic = {None: "", "of its own": " Logic and motor are fed apart: logic first, motor supply after it."}.get(
            driver.logic_supply, f" Its logic is fed {driver.logic_supply}: with that off it forgets what was typed."
        )
        say_lines(
            painter,
            area.adjusted(0, 6, 0, 0),
            f"{self.state.axis.name}, {mode}: wants {wants.jumpers}; wires: {wants.wires}.{logic} Left wrong: {wants.left_wrong}.",
            "ink",
        )
