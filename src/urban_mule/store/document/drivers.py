"""Drivers as the document holds them: figures, banks of switches and jumpers, where their signals go; and the controller."""

from __future__ import annotations

from functools import cached_property
from typing import Any, ClassVar, Literal

from urban_mule.core.drive.banks import BANK_KINDS, MOST_SWITCHES, SwitchBank, SwitchTable, bank_faults
from urban_mule.core.drive.banks import SwitchRow as CoreRow
from urban_mule.core.sheet.given import Given, givens
from urban_mule.store.document.base import Name, Strict, Text, after
from urban_mule.store.document.made import ControllerRecords, DriverRecords, Terminals


class SwitchRowBody(Strict):
    what: ClassVar[str] = "a row of the switch bank"
    givens: ClassVar[dict[str, Given]] = {"current_peak": Given("current_peak", "A", "", "peak current set", above=0)}
    switches: Text
    current_peak: Any

    @after
    def binary(self) -> SwitchRowBody:
        """A row of switches whose positions are 0 and 1. Raises ValueError."""
        if not self.switches or set(self.switches) - {"0", "1"}:
            raise ValueError(f"switches is {self.switches!r}; allowed are 0 and 1, one for each switch")
        return self


class TableRowBody(Strict):
    """One row of a table: positions, and what they set."""

    positions: Text = ""


class TableRow(TableRowBody, CoreRow):  # type: ignore[misc]
    what: ClassVar[str] = "a row of a switch table"


class BankTable(Strict):
    """Some of the switches of a bank, and what each of their positions sets."""

    what: ClassVar[str] = "a switch table"
    switches: tuple[int, ...]
    rows: tuple[TableRow, ...] = ()


class Bank(Strict):
    """A row of switches or jumpers as it stands on the board."""

    what: ClassVar[str] = "a bank of switches"
    givens: ClassVar[dict[str, Given]] = {
        "count": Given("count", "", "", "how many there are", whole=True, least=1, most=MOST_SWITCHES)}
    name: Name
    kind: Literal["switches", "jumpers"] = BANK_KINDS[0]  # type: ignore[assignment]
    count: Any
    tables: tuple[BankTable, ...] = ()

    @after
    def fits(self) -> Bank:
        """A bank whose rows answer to its switches. Raises ValueError."""
        faults = bank_faults(self.core)
        if faults:
            raise ValueError(f"{self.name}: {faults[0]}")
        return self

    @property
    def core(self) -> SwitchBank:
        """The bank as the core takes it."""
        return self._core

    @cached_property
    def _core(self) -> SwitchBank:  # its name begins so that it is not taken for a field when the part is edited
        names = ("positions", *(one.name for one in givens(CoreRow)))
        return SwitchBank(self.name, self.kind, int(self.count), tuple(
            SwitchTable(table.switches, tuple(CoreRow(**{name: getattr(row, name) for name in names}) for row in table.rows))
            for table in self.tables))


class DriverBody(Strict):
    """What a driver says of itself beside its figures."""

    name: Text = ""
    switch_bank: tuple[SwitchRowBody, ...] | None = None
    banks: tuple[Bank, ...] | None = None
    terminals: Terminals | None = None

    @after
    def one_way(self) -> DriverBody:
        """A driver whose switches are said in one way. Raises ValueError."""
        if self.switch_bank and self.banks:
            raise ValueError("switch_bank and banks both say how its switches stand; allowed is one of them")
        faults = [fault for bank in self.core_banks if not self.banks for fault in bank_faults(bank)]
        if faults:
            raise ValueError(f"switch_bank: {faults[0]}")
        names = [bank.name for bank in self.banks or ()]
        for place, name in enumerate(names):
            if name in names[:place]:
                raise ValueError(f"banks[{place}].name is {name!r}, which another bank has already")
        return self

    @property
    def core_banks(self) -> tuple[SwitchBank, ...]:
        """Its banks as the core takes them; the short way to say one bank of currents is one of them."""
        return self._core_banks

    @cached_property
    def _core_banks(self) -> tuple[SwitchBank, ...]:
        if self.banks:
            return tuple(bank.core for bank in self.banks)
        rows = self.switch_bank or ()
        if not rows:
            return ()
        count = len(rows[0].switches)
        table = SwitchTable(tuple(range(1, count + 1)), tuple(
            CoreRow(positions=row.switches, current_peak=row.current_peak) for row in rows))
        return (SwitchBank("Current switches", "switches", count, (table,)),)


class ControllerBody(Strict):
    """What a controller says of itself beside its figures."""

    name: Text = ""
    unit: Literal["m", "mm", "in", "rad", "deg", "turn"] | None = None


class DriverModel(DriverBody, DriverRecords):
    what: ClassVar[str] = "a driver"


class ControllerModel(ControllerBody, ControllerRecords):
    what: ClassVar[str] = "a controller"
