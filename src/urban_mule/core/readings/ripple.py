"""The ripple that a resonance leaves on a test piece."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.kind import ReadingKind, column
from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class RippleReading:
    """Spacing and heights of successive crests behind a sharp turn taken at a speed."""

    speed: float = column("[travel]/s", "speed at which the piece was made", above=0)
    spacing: float = column("[travel]", "from one crest to the next", above=0)
    heights: np.ndarray | None = column("[travel]", "heights of successive crests", "list", needed=False, above=0)


def fits(reading: RippleReading) -> None:
    """Crests have a height. Raises ValueError."""
    if reading.heights is not None and np.any(reading.heights <= 0):
        raise ValueError("heights holds a crest that is not above 0")


RIPPLE = ReadingKind(name="ripple", stage="Ring", words="the ripple on a test piece", record=RippleReading, fits=fits)
