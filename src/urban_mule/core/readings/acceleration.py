"""An acceleration record near the tool."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.kind import ReadingKind, column
from urban_mule.core.readings.warming import STATES
from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class AccelerationReading:
    """Accelerations over time: one row a sample, one column a direction of the sensor."""

    time: np.ndarray = column("s", "when each sample was taken", "list")
    values: np.ndarray = column("m/s²", "acceleration in each direction of the sensor", "rows")
    direction: str = column("", "the directions of the sensor, by column", "text", needed=False)
    state: str = column("", "what the motor did meanwhile: moving, or holding at its idle current", "text", needed=False)
    train_mode: float | None = column("Hz", "the mode that somebody named as the train's", needed=False, above=0)


def fits(reading: AccelerationReading) -> None:
    """Every sample has its time, time rises, and the state is known. Raises ValueError."""
    if len(reading.values) != reading.time.size:
        raise ValueError(f"values has {len(reading.values)} rows for {reading.time.size} times")
    if reading.state not in ("", *STATES):
        raise ValueError(f"state is {reading.state[:20]!r}; allowed is moving or holding")
    steps = np.diff(reading.time)
    if np.any(steps <= 0):
        raise ValueError(f"time does not rise at sample {int(np.argmax(steps <= 0)) + 1}")


ACCELERATION = ReadingKind(name="acceleration", stage="Ring", words="an acceleration sweep", record=AccelerationReading, fits=fits,
                           wide=True)
