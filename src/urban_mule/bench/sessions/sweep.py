"""An acceleration sweep with rest before and after it."""

from __future__ import annotations

from urban_mule.bench.devices import RESTING, Accelerometer, Mover
from urban_mule.core.readings.acceleration import AccelerationReading
from urban_mule.core.sheet.progress import Cancelled, Progress


def sweep_session(
    mover: Mover, accelerometer: Accelerometer, low: float, high: float, duration: float, progress: Progress
) -> AccelerationReading:
    """An acceleration sweep from `low` to `high` Hz with rest before and after it. Raises Cancelled, DeviceError."""
    mover.enable()
    if not progress(0, 1):
        raise Cancelled
    mover.shake(low, high, duration)
    times, values = accelerometer.record(duration + 2 * RESTING)
    if not progress(1, 1):
        raise Cancelled
    return AccelerationReading(times, values)
