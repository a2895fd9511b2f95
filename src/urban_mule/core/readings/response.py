"""How an axis answers a step or a move: what was commanded and what it did, over time."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.kind import ReadingKind, column
from urban_mule.core.sheet.record import record

OF = ("position", "speed")


@record(frozen=True, eq=False, repr=False)
class ResponseReading:
    """Commanded and actual positions [travel], or speeds [travel/s], over time."""

    time: np.ndarray = column("s", "when each sample was taken", "list")
    commanded: np.ndarray = column("[travel]", "where it was to be, or how fast", "list")
    actual: np.ndarray = column("[travel]", "where it was, or how fast", "list")
    of: str = column("", "whether of position, or of speed; position unless said", "text", needed=False)


def fits(reading: ResponseReading) -> None:
    """Every sample has its time, command and answer; time rises; two samples at least. Raises ValueError."""
    for name in ("commanded", "actual"):
        if getattr(reading, name).size != reading.time.size:
            raise ValueError(f"{name} has {getattr(reading, name).size} samples for {reading.time.size} times")
    if reading.time.size < 2:
        raise ValueError("a response has one sample; two at least are needed")
    if reading.of not in ("", *OF):
        raise ValueError(f"of is {reading.of[:20]!r}; allowed is {' or '.join(OF)}")
    steps = np.diff(reading.time)
    if np.any(steps <= 0):
        raise ValueError(f"time does not rise at sample {int(np.argmax(steps <= 0)) + 1}")


RESPONSE = ReadingKind(name="response", stage="Ring", words="a response to a step or a move", record=ResponseReading, fits=fits)
