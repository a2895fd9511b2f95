"""Drives that turn a tool, as the document holds them."""

from __future__ import annotations

from typing import Any, ClassVar, Literal, Self

import numpy as np

from urban_mule.core.sheet.units import number_text
from urban_mule.core.spindle.command import SpeedTable
from urban_mule.store.document.base import Numbers, Strict, Text, after
from urban_mule.store.document.identity import Named
from urban_mule.store.document.made import CutRecords, SpeedsRecords, SpindleMotorRecords, SpindleRecords


class SpindleMotorBody(Strict):
    """The motor of a spindle."""

    kind: Literal["servo", "induction", "brushless"]
    name: Text = ""


class SpeedsBody(Strict):
    """Speeds of the tool."""

    @after
    def in_order(self) -> Self:
        """A range whose ends are in order. Raises ValueError."""
        lowest, highest = getattr(self, "lowest", None), getattr(self, "highest", None)
        if lowest is not None and highest is not None and lowest > highest:
            raise ValueError(f"lowest is {lowest:g} rad/s, above highest, {highest:g} rad/s")
        return self


class SpeedTableBody(Strict):
    """Commands and the speeds that they made. stands_at: the key of the spindle that it fills when it comes of a round."""

    what: ClassVar[str] = "a table of speeds"
    kind: ClassVar[str] = "command"
    stands_at: ClassVar[str] = "speed_table"
    practice: ClassVar[bool] = False
    command: Numbers
    speed: Numbers

    @after
    def rises(self) -> Self:
        """A table that rises from row to row. Raises ValueError."""
        if self.command.size != self.speed.size:
            raise ValueError(f"speed has {self.speed.size} values for {self.command.size} of command")
        if self.command.size < 2:
            raise ValueError("has one row; at least two are needed")
        for name in ("command", "speed"):
            if np.any(np.diff(getattr(self, name)) <= 0):
                raise ValueError(f"{name} does not rise from row to row")
        return self

    @property
    def said(self) -> str:
        """What the log says of its being measured."""
        first, last = (number_text(float(self.command[at])) for at in (0, -1))
        return f"Measured the command: {self.command.size} voltages from {first} to {last} V."

    @property
    def core(self) -> SpeedTable:
        """The table as the core takes it."""
        return SpeedTable(self.command, self.speed)


class SpindleMotorModel(SpindleMotorBody, SpindleMotorRecords):
    what: ClassVar[str] = "the motor of a spindle"


class SpeedsModel(SpeedsBody, SpeedsRecords):
    what: ClassVar[str] = "the speeds of a tool"


class CutModel(Strict, CutRecords):
    what: ClassVar[str] = "a cut"


class SpindleBody(Named):
    """A drive that turns a tool."""

    word: ClassVar[str] = "spindle"
    kind_name: ClassVar[str] = "spindle"
    own_keys: ClassVar[tuple[str, ...]] = (*Named.own_keys, "command_round")  # which was in files up to format 5
    motor: SpindleMotorModel
    speeds: SpeedsModel | None = None
    cut: CutModel | None = None
    speed_table: SpeedTableBody | None = None

    @after
    def one_phase_or_three(self) -> Self:
        """A spindle fed by one phase or three. Raises ValueError."""
        phases: Any = getattr(self, "phases_in", None)
        if phases not in (None, 1, 3):
            raise ValueError(f"phases_in is {phases:g}; allowed is 1 or 3")
        return self


class SpindleModel(SpindleBody, SpindleRecords):
    what: ClassVar[str] = "a spindle"
