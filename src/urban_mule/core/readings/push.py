"""The carriage pushed one way and the other by known forces."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.kind import ReadingKind, column
from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class PushReading:
    """Places [travel] under forces to plus and to minus: repeats × forces."""

    forces: np.ndarray = column("[effort]", "how hard it was pushed", "list", above=0)
    plus: np.ndarray = column("[travel]", "where it stood when pushed to plus", "rows")
    minus: np.ndarray = column("[travel]", "where it stood when pushed to minus", "rows")
    direction: str = column("", "along which diagonal of a pair it was pushed: A or B", "text", needed=False)


def fits(reading: PushReading) -> None:
    """Each table has a column for every force; forces are above 0. Raises ValueError."""
    for name in ("plus", "minus"):
        table = getattr(reading, name)
        if table.shape[1] != reading.forces.size:
            raise ValueError(f"{name} has {table.shape[1]} columns for {reading.forces.size} forces")
    if reading.direction not in ("", "A", "B"):
        raise ValueError(f"direction is {reading.direction[:20]!r}; allowed is A or B")
    if np.any(reading.forces <= 0):
        raise ValueError("forces holds a force that is not above 0; which way it pushes is said by plus and minus")


PUSH = ReadingKind(name="push", stage="Slack", words="push readings", record=PushReading, fits=fits, item="force", cell="place",
                   sides=(("plus", ("plus", "+", "up")), ("minus", ("minus", "-", "−", "down"))))
