"""Approaching targets from both sides: reversal and positioning."""

from __future__ import annotations

import numpy as np

from urban_mule.bench.devices import Indicator, Mover
from urban_mule.core.readings.two_way import TwoWayReading
from urban_mule.core.sheet.progress import Cancelled, Progress


def spread_targets(travel: float, count: int, seed: int) -> np.ndarray:
    """Targets [travel] over the travel with a random part in their spacing, so that a periodic error is not hidden.

    Source: ISO 230-2, choice of target positions.
    """
    interval = 0.9 * travel / (count - 1)
    random = np.random.default_rng(seed).uniform(-0.25, 0.25, count)
    return np.asarray(np.round(0.05 * travel + (np.arange(count) + random) * interval, 6))


def two_way_session(
    mover: Mover, indicator: Indicator, targets: np.ndarray, repeats: int, overrun: float, progress: Progress
) -> TwoWayReading:
    """Approach every target from both sides, several times over; used for reversal and for positioning.

    targets [travel]; overrun [travel]: how far each end is passed before turning. Raises Cancelled, DeviceError.
    """
    up, down = np.zeros((repeats, targets.size)), np.zeros((repeats, targets.size))
    total, done = 2 * repeats * targets.size, 0
    mover.enable()
    for repeat in range(repeats):
        for table, order, turn in ((up, range(targets.size), targets[0] - overrun),
                                   (down, reversed(range(targets.size)), targets[-1] + overrun)):
            mover.move(float(turn))
            for place in order:
                mover.move(float(targets[place]))
                table[repeat, place] = indicator.read()
                done += 1
                if not progress(done, total):
                    mover.stop()
                    raise Cancelled
    return TwoWayReading(targets, up, down)
