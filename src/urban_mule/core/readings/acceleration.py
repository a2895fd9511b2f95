"""An acceleration record near the tool, and that of a move made with the shaper set."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.kind import ReadingKind, column
from urban_mule.core.readings.shapers import KINDS, NONE, TWO_MODES
from urban_mule.core.readings.warming import STATES
from urban_mule.core.sheet.record import record

SHAPED = (*KINDS, TWO_MODES, NONE)


@record(frozen=True, eq=False, repr=False)
class AccelerationReading:
    """Accelerations over time: one row a sample, one column a direction of the sensor."""

    time: np.ndarray = column("s", "when each sample was taken", "list")
    values: np.ndarray = column("m/s²", "acceleration in each direction of the sensor", "rows")
    direction: str = column("", "the directions of the sensor, by column", "text", needed=False)
    state: str = column("", "what the motor did meanwhile: moving, or holding at its idle current", "text", needed=False)
    train_mode: float | None = column("Hz", "the mode that somebody named as the train's", needed=False, above=0)
    shaped: str = column("", "the shaper that was set; it begins when a move ends that was made with it", "text", needed=False)
    shaped_frequency: float | None = column("Hz", "frequency that the shaper was set to", needed=False, above=0)
    move_distance: float | None = column("[travel]", "how far that move went", needed=False, above=0)
    move_speed: float | None = column("[travel]/s", "its speed", needed=False, above=0)
    move_acceleration: float | None = column("[travel]/s²", "its acceleration", needed=False, above=0)


def fits(reading: AccelerationReading) -> None:
    """Every sample has its time, time rises, state and shaper are known, and so is a shaped move. Raises ValueError."""
    if len(reading.values) != reading.time.size:
        raise ValueError(f"values has {len(reading.values)} rows for {reading.time.size} times")
    if reading.state not in ("", *STATES):
        raise ValueError(f"state is {reading.state[:20]!r}; allowed is moving or holding")
    if reading.shaped:
        _fits_shaped(reading)
    steps = np.diff(reading.time)
    if np.any(steps <= 0):
        raise ValueError(f"time does not rise at sample {int(np.argmax(steps <= 0)) + 1}")


def _fits_shaped(reading: AccelerationReading) -> None:
    if reading.shaped not in SHAPED:
        raise ValueError(f"shaped is {reading.shaped[:20]!r}; allowed is {', '.join(SHAPED)}")
    needed = ("move_distance", "move_speed", "move_acceleration", *(("shaped_frequency",) if reading.shaped in KINDS else ()))
    missing = next((name for name in needed if getattr(reading, name) is None), None)
    if missing is not None:
        raise ValueError(f"shaped is {reading.shaped}, and {missing} is missing: what was left is held against that move")


ACCELERATION = ReadingKind(name="acceleration", stage="Ring", words="an acceleration sweep", record=AccelerationReading, fits=fits,
                           wide=True, apart="shaped")
