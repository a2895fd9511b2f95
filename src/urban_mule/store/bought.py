"""What each change bought and what it cost: from the book of an axis, and its readings before and after."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from itertools import pairwise
from typing import Any

from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.store.document.project import Axis
from urban_mule.store.file.project_file import Entry

MEASURED = (("positioning", "positioning_accuracy", "accuracy"), ("reversal", "backlash", "backlash"),
            ("travel", "scale_ratio", "error of the scale"))
CHANGES = ("set", "repaired")


@record(frozen=True)
class Bought:
    """A rung of the ladder. changes: what was done between the two measurements; before, after: the value of `quantity` in SI."""

    changes: tuple[str, ...]
    words: str
    quantity: str
    before: float
    after: float
    cost: float | None

    @property
    def share(self) -> float | None:
        """Share of the error that went; below 0 it grew. None where there was none before."""
        return None if self.before == 0 else 1 - self.after / self.before


def ladder_of_changes(axis: Axis, solution: Solution, book: Iterable[Entry]) -> list[Bought]:
    """Every change of an axis between two measurements of one kind, in the order of the second of them."""
    done = [entry for entry in book if entry.subject == axis.id and entry.kind in CHANGES]
    found: list[tuple[datetime, Bought]] = []
    for kind, quantity, words in MEASURED:
        dated = [(time, reading) for reading in axis.readings if reading.kind == kind and not reading.aside
                 and (time := _time(reading.taken)) is not None]
        values = [(time, _value(solution, kind, quantity, reading)) for time, reading in sorted(dated, key=lambda one: one[0])]
        for (one, before), (other, after) in pairwise(values):
            between = [entry for entry in done if one < entry.time <= other]
            if between and before is not None and after is not None:
                costs = [entry.cost for entry in between if entry.cost is not None]
                made = Bought(tuple(entry.text for entry in between), words, quantity, before, after,
                              sum(costs) if costs else None)
                found.append((other, made))
    return [made for _, made in sorted(found, key=lambda one: one[0])]


def _time(taken: str) -> datetime | None:
    try:
        time = datetime.fromisoformat(taken)
    except ValueError:
        return None
    return time if time.tzinfo else None


def _value(solution: Solution, kind: str, quantity: str, reading: Any) -> float | None:
    """What a set of readings gives; of a scale how far it is from one."""
    core = reading.core
    inputs = {f"{kind}_reading": core, **({"scale_reading": core} if kind == "travel" else {})}
    value = solution.changed(**inputs).get(quantity)
    if value is None:
        return None
    return abs(float(value) - 1) if quantity == "scale_ratio" else float(value)
