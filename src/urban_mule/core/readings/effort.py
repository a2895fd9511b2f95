"""The torque of a motor over a few moves."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.kind import ReadingKind, column
from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class EffortReading:
    """Speed, acceleration and torque of one motor at its shaft, row by row."""

    speed: np.ndarray = column("rad/s", "speed of the shaft", "list")
    acceleration: np.ndarray = column("rad/s²", "acceleration of the shaft", "list")
    torque: np.ndarray = column("N·m", "torque of the motor", "list")


def fits(reading: EffortReading) -> None:
    """Every row has all three. Raises ValueError."""
    for name in ("acceleration", "torque"):
        if getattr(reading, name).size != reading.speed.size:
            raise ValueError(f"{name} has {getattr(reading, name).size} rows for {reading.speed.size} speeds")


EFFORT = ReadingKind(name="effort", stage="Ring", words="torque over a few moves", record=EffortReading, fits=fits)
