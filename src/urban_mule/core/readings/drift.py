"""How a place wanders while the machine warms."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.kind import ReadingKind, column
from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class DriftReading:
    """Deviations from the cold place over the time since the cold start."""

    time: np.ndarray = column("s", "time since the cold start", "list", least=0)
    deviation: np.ndarray = column("[travel]", "how far it stands from its cold place", "list")


def fits(reading: DriftReading) -> None:
    """As many deviations as times, which rise from 0 on. Raises ValueError."""
    if reading.time.size != reading.deviation.size:
        raise ValueError(f"deviation has {reading.deviation.size} values for {reading.time.size} times")
    if reading.time[0] < 0 or np.any(np.diff(reading.time) <= 0):
        raise ValueError("time does not rise from the cold start on, which is 0")


DRIFT = ReadingKind(name="drift", stage="Proof", words="the drift while it warms", record=DriftReading, fits=fits)
