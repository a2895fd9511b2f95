"""What the run before the last one promised of each correction, beside what the last run really gave."""

from __future__ import annotations

from urban_mule.core.proof.corrections import (
    accuracy_floor,
    accuracy_with_all,
    accuracy_with_backlash,
    accuracy_with_scale,
    accuracy_with_table,
)
from urban_mule.core.proof.positioning import positioning_accuracy, positioning_bands
from urban_mule.core.proof.promises import accuracy_promised
from urban_mule.core.readings.two_way import TwoWayReading
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class Promised:
    """Accuracy A of a run [travel], and what it promises of each correction."""

    as_it_was: float
    scale: float
    backlash: float
    table: float
    all: float
    floor: float


def promised(reading: TwoWayReading) -> Promised:
    """What a run promises; of too few targets or unlike repeats, by the readings that made the corrections. Raises NotKnown."""
    bands = positioning_bands(reading)
    parts = {"scale": accuracy_with_scale, "backlash": accuracy_with_backlash, "table": accuracy_with_table,
             "all": accuracy_with_all}
    try:
        found = accuracy_promised(reading)
    except NotKnown:
        found = {name: part(bands) for name, part in parts.items()}
    return Promised(positioning_accuracy(bands), **found, floor=accuracy_floor(bands))


@quantity("", symbol="", source="the run before the last one, corrected in every way", structure=True,
          formula="as promised with each correction")
def promised_before(positioning_readings: tuple[TwoWayReading, ...]) -> Promised:
    """What the run before the last one promised. Raises NotKnown where there is one only."""
    if len(positioning_readings) < 2:
        raise NotKnown("one run is nothing to compare with; correct, and run again")
    return promised(positioning_readings[-2])


WAYS = {frozenset(): "as it was", frozenset({"scale"}): "with the scale", frozenset({"backlash"}): "with backlash",
        frozenset({"table"}): "with a table", frozenset({"scale", "table"}): "with a table",
        frozenset({"backlash", "table"}): "with all", frozenset({"scale", "backlash", "table"}): "with all",
        frozenset({"scale", "backlash"}): "with scale and backlash"}


def promised_for(before: Promised, corrected: frozenset[str]) -> tuple[str, float | None]:
    """What a run promised of what was corrected after it (scale, backlash, table), in words, and A [travel]; None for what it does
    not promise together.
    """
    words = WAYS[corrected]
    values = {"as it was": before.as_it_was, "with the scale": before.scale, "with backlash": before.backlash,
              "with a table": before.table, "with all": before.all}
    return words, values.get(words)
