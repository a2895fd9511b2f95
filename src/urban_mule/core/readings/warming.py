"""How the case of a motor warms, moving or holding, and how its driver does."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.kind import ReadingKind, column
from urban_mule.core.sheet.record import record

STATES = ("moving", "holding")


@record(frozen=True, eq=False, repr=False)
class WarmingReading:
    """Temperatures of the motor's case over the time since the cold start."""

    time: np.ndarray = column("s", "time since the cold start", "list", least=0)
    temperature: np.ndarray = column("°C", "temperature of the case", "list", least=-273.15)
    state: str = column("", "what it did meanwhile: moving all the time, or holding", "text", needed=False)


@record(frozen=True, eq=False, repr=False)
class CoolingReading:
    """Temperatures of the driver's fin or case over the time since the cold start, at its set current all the time."""

    time: np.ndarray = column("s", "time since the cold start", "list", least=0)
    temperature: np.ndarray = column("°C", "temperature of the driver's fin or case", "list", least=-273.15)


def fits_rise(reading: WarmingReading | CoolingReading) -> None:
    """As many temperatures as times, which rise from the cold start on. Raises ValueError."""
    if reading.time.size != reading.temperature.size:
        raise ValueError(f"temperature has {reading.temperature.size} values for {reading.time.size} times")
    if reading.time[0] < 0 or np.any(np.diff(reading.time) <= 0):
        raise ValueError("time does not rise from the cold start on, which is 0")
    if np.any(reading.temperature < -273.15):
        raise ValueError("temperature holds a value below -273.15 °C")


def fits(reading: WarmingReading) -> None:
    """As `fits_rise`, and a known state. Raises ValueError."""
    fits_rise(reading)
    if reading.state not in ("", *STATES):
        raise ValueError(f"state is {reading.state[:20]!r}; allowed is moving or holding")


WARMING = ReadingKind(name="warming", stage="Motor", words="how the motor warms", record=WarmingReading, fits=fits)
COOLING = ReadingKind(name="cooling", stage="Drive", words="how the driver warms", record=CoolingReading,
                             fits=fits_rise)
