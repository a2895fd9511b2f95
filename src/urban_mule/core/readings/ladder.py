"""Rungs of speed and acceleration, each answered by whether the axis came back to where it began."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.kind import ReadingKind, column
from urban_mule.core.sheet.record import record

DIRECTIONS = ("both", "plus", "minus")
A_CYCLE = 4  # full steps in which the rotor falls back when it loses its field: steps are lost in fours


@record(frozen=True, eq=False, repr=False)
class LadderReading:
    """Speeds and accelerations in the order in which they were tried, and how far off the axis came back after each."""

    speed: np.ndarray = column("[travel]/s", "speed of each ladder step", "list", above=0)
    acceleration: np.ndarray = column("[travel]/s²", "acceleration of each ladder step", "list", above=0)
    returned: np.ndarray = column("[travel]", "how far off it came back", "list")
    direction: str = column("", "the direction moved at these: both, plus or minus; the return is slow", "text", needed=False)


def steps_lost(returned: np.ndarray | float, full_step: float) -> np.ndarray:
    """Full steps that were lost where it came back so far off; returned, full_step: [travel]."""
    return A_CYCLE * np.round(np.abs(returned) / (A_CYCLE * full_step))


def fits(reading: LadderReading) -> None:
    """As many speeds, accelerations and returns; a known way. Raises ValueError."""
    if not reading.speed.size == reading.acceleration.size == reading.returned.size:
        raise ValueError(f"speed, acceleration and returned have {reading.speed.size}, {reading.acceleration.size} and"
                         f" {reading.returned.size} values; each ladder step needs one of each")
    for name in ("speed", "acceleration"):
        if np.any(getattr(reading, name) <= 0):
            raise ValueError(f"{name} holds a value that is not above 0")
    if reading.direction not in ("", *DIRECTIONS):
        raise ValueError(f"direction is {reading.direction[:20]!r}; allowed is both, plus or minus")


LADDER = ReadingKind(name="ladder", stage="Moves", words="a ladder of speeds", record=LadderReading, fits=fits)
