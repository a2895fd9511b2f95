"""What a kind of reading is: its columns with units, its stage, its words. Document, sheet, files and rounds follow from it."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from functools import cache
from typing import Any, Literal

from urban_mule.core.sheet.given import Given
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.stages import StageName

Shape = Literal["one", "list", "rows", "text"]


@record(frozen=True, eq=False, repr=False)
class Column:
    """One key of a reading: a number, a list of numbers, rows of numbers, or a text; whether it is needed."""

    given: Given
    shape: Shape
    needed: bool

    @property
    def name(self) -> str:
        return self.given.name


def column(unit: str, doc: str, shape: Shape = "one", needed: bool = True, **rules: Any) -> Any:
    """Declare a field of a reading's record as one of its columns; rules: what Given takes, for each number in it."""
    default = dataclasses.MISSING if needed else "" if shape == "text" else None
    made: Any = dataclasses.field(default=default, metadata={"column": Column(Given("", unit, "", doc, **rules), shape, needed)})
    return made


@cache
def columns_of(kind: type) -> tuple[Column, ...]:
    """The columns of a reading's record, in order."""
    return tuple(
        dataclasses.replace(one, given=dataclasses.replace(one.given, name=field.name))
        for field in dataclasses.fields(kind) if (one := field.metadata.get("column")) is not None)


def nothing_more(_reading: Any) -> None:
    """The columns alone say all that such a reading must hold."""


@record(frozen=True, kw_only=True, eq=False, repr=False)
class ReadingKind:
    """A kind of reading.

    name: its key; stage: where it is looked at; words: what is taken (`a positioning run`); record: a frozen record whose
    fields are made by `column`. fits: raises ValueError for columns that do not fit each other. In a file with one row a
    number `item` names the list that the rows go over, `cell` the number, `sides` the words that tell one table of rows from
    the other; `wide`: one row a sample instead, one column for each of its directions. apart: a text column; a reading that says
    it is another matter than the rest, and stands on the sheet as `<apart>_reading`.
    """

    name: str
    stage: StageName
    words: str
    record: type
    fits: Callable[[Any], None] = nothing_more
    item: str = ""
    cell: str = ""
    sides: tuple[tuple[str, tuple[str, ...]], ...] = ()
    wide: bool = False
    apart: str = ""

    @property
    def columns(self) -> tuple[Column, ...]:
        return columns_of(self.record)

    def is_apart(self, reading: Any) -> bool:
        """Whether a reading of this kind does not count among the others."""
        return bool(self.apart and getattr(reading, self.apart))

    @property
    def what(self) -> str:
        """Such a reading, as a sentence names it."""
        return f"{'an' if self.name[0] in 'aeiou' else 'a'} {self.name} reading"
