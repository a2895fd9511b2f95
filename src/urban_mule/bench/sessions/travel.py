"""One long travel, measured several times."""

from __future__ import annotations

import numpy as np

from urban_mule.bench.devices import Indicator, Mover
from urban_mule.core.sheet.progress import Cancelled, Progress


def travel_session(mover: Mover, indicator: Indicator, travel: float, repeats: int, progress: Progress) -> np.ndarray:
    """Measured lengths [travel] of one commanded travel, approached from the same side. Raises Cancelled, DeviceError."""
    start, measured = 0.05 * travel, []
    mover.enable()
    for repeat in range(repeats):
        mover.move(0.0)
        mover.move(start)
        before = indicator.read()
        mover.move(start + 0.8 * travel)
        measured.append(0.8 * travel + indicator.read() - before)
        if not progress(repeat + 1, repeats):
            mover.stop()
            raise Cancelled
    return np.array(measured)
