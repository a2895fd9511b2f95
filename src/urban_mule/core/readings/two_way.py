"""Deviations read after approaching from both sides: reversal readings and positioning runs."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.kind import ReadingKind, column
from urban_mule.core.readings.repeats import mean_of
from urban_mule.core.sheet.once import once
from urban_mule.core.sheet.record import record

SPREAD = 4.0  # standard deviations that a place spreads over, two to either side (ISO 230-2:2014, 2.16 to 2.18)


@record(frozen=True, eq=False, repr=False)
class TwoWayReading:
    """Deviations [travel] at targets [travel], approached to plus (`up`) and to minus (`down`): repeats × targets."""

    targets: np.ndarray = column("[travel]", "where it was sent", "list")
    up: np.ndarray = column("[travel]", "deviations after approaching to plus", "rows")
    down: np.ndarray = column("[travel]", "deviations after approaching to minus", "rows")

    @once
    def reversal(self) -> np.ndarray:
        """Mean to plus less mean to minus at each target [travel]; what was struck out does not count."""
        return np.asarray(mean_of(self.up) - mean_of(self.down))


def counts(table: np.ndarray) -> np.ndarray:
    """How many repeats count at each target: those that are not struck out."""
    return np.asarray(np.sum(~np.isnan(table), axis=0))


def fits(reading: TwoWayReading) -> None:
    """Each table has a column for every target, and no target stands twice. Raises ValueError."""
    for name in ("up", "down"):
        table = getattr(reading, name)
        if table.shape[1] != reading.targets.size:
            raise ValueError(f"{name} has {table.shape[1]} columns for {reading.targets.size} targets")
    if len(set(reading.targets.tolist())) != reading.targets.size:
        raise ValueError("targets holds a target twice")


SIDES = (("up", ("up", "+", "plus")), ("down", ("down", "-", "minus", "−")))
POSITIONING = ReadingKind(name="positioning", stage="Proof", words="a positioning run", record=TwoWayReading, fits=fits,
                          item="target", cell="deviation", sides=SIDES)
REVERSAL = ReadingKind(name="reversal", stage="Slack", words="reversal readings", record=TwoWayReading, fits=fits,
                       item="target", cell="deviation", sides=SIDES)
