"""Switches and jumpers of a driver: tables from positions to what they set, and the row to set for what is meant.

A bank is a row of switches or jumpers as they stand on the board; each of its tables belongs to some of them and sets one or
several values. A position is 1 for on (or fitted), 0 for off (or open).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from urban_mule.core.drive.chopping import CHOPPINGS
from urban_mule.core.drive.interface import INTERFACE_MODES
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

EQUAL = 1 + 1e-9  # a billionth above counts as equal
BANK_KINDS = ("switches", "jumpers")
MOST_SWITCHES = 24  # of a bank: more stand on no driver, and a table of 2²⁴ rows is a slip of the pen
MOST_NAMED = 3  # rows that a sentence names
EXACT = ("microsteps", "chopping", "interface_mode")  # what a row sets either right or wrong
IN_WORDS = {"microsteps": "{:g} microsteps", "chopping": "{} chopping", "interface_mode": "interface {}",
            "hold_fraction": "idle at {:.0%}", "current_peak": "{:.3g} A peak"}
NOT_GIVEN = {"microsteps": "the microsteps, which are not given", "chopping": "the chopping, which is not given",
             "interface_mode": "the interface, which is not given"}


@record(frozen=True, kw_only=True, eq=False, repr=False)
class SwitchRow:
    """One row of a table: the positions, and what they set."""

    positions: str
    current_peak: Reals = given("A", "I", "peak current that it sets", above=0)
    microsteps: Reals = given("", "N", "microsteps for one full step that it sets", whole=True, least=1, plural=True)
    hold_fraction: Reals = given("", "h", "share of the current while idle that it sets", least=0, most=1)
    chopping: str | None = given("", "", "chopping that it sets", choices=CHOPPINGS)
    interface_mode: str | None = given("", "", "interface that it sets", choices=INTERFACE_MODES)


@record(frozen=True, eq=False, repr=False)
class SwitchTable:
    """Some of the switches of a bank, by their numbers from 1 on, and what each of their positions sets."""

    switches: tuple[int, ...]
    rows: tuple[SwitchRow, ...]

    def sets(self, name: str) -> bool:
        """Whether any row says a value."""
        return any(getattr(row, name) is not None for row in self.rows)


@record(frozen=True, eq=False, repr=False)
class SwitchBank:
    """A row of switches or jumpers as it stands on the board."""

    name: str
    kind: str
    count: int
    tables: tuple[SwitchTable, ...]


@record(frozen=True, eq=False, repr=False)
class TableSetting:
    """What is to be set with one table: its row, or None and why, and what is not given where that is the reason."""

    table: SwitchTable
    row: SwitchRow | None
    why: str = ""
    lacks: str = ""


@record(frozen=True, eq=False, repr=False)
class BankSetting:
    """How a bank must look: 1, 0, or ? for each switch; ? where no table says, or none of its rows will do."""

    bank: SwitchBank
    positions: str
    tables: tuple[TableSetting, ...]


def said_of(row: SwitchRow) -> str:
    """What a row sets, in a few words."""
    return ", ".join(words.format(getattr(row, name)) for name, words in IN_WORDS.items() if getattr(row, name) is not None)


def bank_faults(bank: SwitchBank) -> list[str]:
    """What cannot be right with a bank: a sentence each, without an end."""
    faults, taken = [], dict[int, int]()
    for place, table in enumerate(bank.tables, start=1):
        of = f"table {place}" if len(bank.tables) > 1 else "the table"
        for switch in table.switches:
            if not 1 <= switch <= bank.count:
                faults.append(f"{of} names {bank.kind[:-2] if bank.kind == 'switches' else 'jumper'} {switch}; there are"
                              f" {bank.count}")
            elif switch in taken:
                faults.append(f"{of} names number {switch}, which table {taken[switch]} has already")
            taken.setdefault(switch, place)
        seen: dict[str, int] = {}
        for number, row in enumerate(table.rows, start=1):
            if len(row.positions) != len(table.switches) or set(row.positions) - {"0", "1"}:
                faults.append(f"row {number} of {of} is {row.positions!r}; allowed are {len(table.switches)} signs, 1 for on and"
                              " 0 for off")
            elif row.positions in seen:
                faults.append(f"rows {seen[row.positions]} and {number} of {of} are both {row.positions}")
            elif not said_of(row):
                faults.append(f"row {number} of {of} sets nothing")
            seen.setdefault(row.positions, number)
    return faults


def missing_rows(table: SwitchTable) -> list[str]:
    """Positions of which a table says nothing."""
    there = {row.positions for row in table.rows}
    return [positions for number in range(2 ** len(table.switches))
            if (positions := f"{number:0{len(table.switches)}b}") not in there]


def listed_rows(positions: list[str]) -> str:
    """Positions as a sentence names them, the rest counted."""
    more = len(positions) - MOST_NAMED
    said = ", ".join(positions[:MOST_NAMED])
    return f"{said} and {more} more" if more > 0 else said


def setting_of(table: SwitchTable, meant: Mapping[str, Any]) -> TableSetting:
    """The row of a table for what is meant: equal where it can only be right or wrong, idle not below, current not above."""
    rows = list(table.rows)
    for name in EXACT:
        if table.sets(name) and meant.get(name) is not None:
            kept = [row for row in rows if getattr(row, name) in (None, meant[name])]
            if not kept:
                return TableSetting(table, None, f"no position gives {IN_WORDS[name].format(meant[name])}")
            rows = kept
        elif table.sets(name):
            return TableSetting(table, None, f"its position depends on {NOT_GIVEN[name]}", name)
    if table.sets("hold_fraction") and meant.get("hold_fraction") is not None:
        enough = [row for row in rows if row.hold_fraction is None or row.hold_fraction * EQUAL >= meant["hold_fraction"]]
        best = (min if enough else max)(row.hold_fraction or 0.0 for row in enough or rows)
        rows = [row for row in enough or rows if (row.hold_fraction or 0.0) == best]
    if table.sets("current_peak"):
        if meant.get("current_peak") is None:
            return TableSetting(table, None, "its position depends on the current to set, which is not given", "current_peak")
        below = [row for row in rows if row.current_peak is not None and row.current_peak <= meant["current_peak"] * EQUAL]
        if not below:
            return TableSetting(table, None, "every position of the switch bank gives more current than is wanted")
        return TableSetting(table, max(below, key=lambda row: row.current_peak))
    return TableSetting(table, rows[0]) if rows else TableSetting(table, None, "the table has no row")


@quantity("", symbol="", source="each table's row for what is meant", structure=True,
          formula="equal microsteps, chopping and interface; idle not below; highest current ≤ I", label="Switches")
def bank_settings(
    switch_banks: tuple[SwitchBank, ...], current_peak: Reals = None, microsteps: Reals = None, hold_fraction: Reals = None,
    chopping: str | None = None, interface_mode: str | None = None,
) -> tuple[BankSetting, ...]:
    """How every bank of the driver must look; current_peak [A]."""
    meant = {"current_peak": current_peak, "microsteps": microsteps, "hold_fraction": hold_fraction, "chopping": chopping,
             "interface_mode": interface_mode}
    found = []
    for bank in switch_banks:
        settings = tuple(setting_of(table, meant) for table in bank.tables)
        positions = ["?"] * bank.count
        for one in settings:
            for switch, sign in zip(one.table.switches, one.row.positions if one.row else "", strict=False):
                positions[switch - 1] = sign
        found.append(BankSetting(bank, "".join(positions), settings))
    return tuple(found)


def row_for(settings: tuple[BankSetting, ...], name: str) -> SwitchRow:
    """The row to set of the first table that sets a value. Raises NotKnown with the reason, also without such a table."""
    tables = [one for setting in settings for one in setting.tables if one.table.sets(name)]
    if not tables:
        raise NotKnown(f"no switch or jumper of this driver sets its {name.replace('_', ' ')}", "switch_banks")
    if tables[0].row is None:
        raise NotKnown(tables[0].why)
    return tables[0].row


def set_by_banks(switch_banks: tuple[SwitchBank, ...] | None, name: str) -> bool:
    """Whether a driver has a table that sets a value."""
    return any(table.sets(name) for bank in switch_banks or () for table in bank.tables)


def said_by_switches(switch_banks: tuple[SwitchBank, ...], positions: Sequence[str], name: str) -> Any:
    """What switches as they stand set of a value, bank by bank; None where no table says it or a position is not said."""
    for bank, stand in zip(switch_banks, positions, strict=False):
        for table in bank.tables:
            if not table.sets(name) or any(not 1 <= switch <= len(stand) for switch in table.switches):
                continue
            signs = "".join(stand[switch - 1] for switch in table.switches)
            row = next((row for row in table.rows if row.positions == signs), None)
            return None if row is None else getattr(row, name)
    return None
