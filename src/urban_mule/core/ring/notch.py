"""A notch in the torque command, tuned as a shaper is: where it lets the velocity loop be fastest, and what it buys there.

Source: G. Ellis, Control System Design Guide: a notch takes the peak of the train out of the loop and adds delay below it.
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from urban_mule.core.motor.loop import LoopPlant, velocity_limit
from urban_mule.core.sheet.progress import Cancelled, Progress
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

AROUND = np.geomspace(0.6, 1.7, 15)  # times the peak of the train: where a notch is tried
WIDTHS = (0.3, 0.6, 1.0)
DEPTH = 0.1
WORTH = 1.03  # times the limit without: a notch that buys less is none


@record(frozen=True, eq=False, repr=False)
class Notch:
    """frequency [Hz], width and depth as shares; limit: of the velocity loop with it, and without [Hz]."""

    frequency: float
    width: float
    depth: float
    limit: float
    without: float

    @property
    def buys(self) -> float:
        """Times the limit without it."""
        return self.limit / self.without


def _limit(plant: LoopPlant) -> float:
    try:
        return velocity_limit(plant)
    except NotKnown:
        return 0.0


def tuned_notch(plant: LoopPlant, progress: Progress | None = None) -> Notch | None:
    """The notch with which the velocity loop may be fastest; None where none is worth it, or without a spring. Raises Cancelled."""
    without = _limit(replace(plant, notch=None))
    if plant.peak is None or not without:
        return None
    best, tried = None, [(float(share), width) for share in AROUND for width in WIDTHS]
    for done, (share, width) in enumerate(tried):
        if progress is not None and not progress(done, len(tried)):
            raise Cancelled
        limit = _limit(replace(plant, notch=(share * plant.peak, width, DEPTH)))
        if limit > max(WORTH * without, 0.0 if best is None else best.limit):
            best = Notch(share * plant.peak / (2 * math.pi), width, DEPTH, limit, without)
    return best


@quantity("", symbol="f_x ÷ f_x0", source="the limit of the velocity loop with the notch over that without", sought=True,
          formula="limit with ÷ limit without", label="Bandwidth bought by the notch")
def notch_buys(loop_plant: LoopPlant, velocity_bandwidth_limit: float) -> float:
    """What the notch that is set does to the limit; below 1 it costs. Raises NotKnown without a notch."""
    if loop_plant.notch is None:
        raise NotKnown("no notch is set", "notch_frequency")
    return velocity_bandwidth_limit / velocity_limit(replace(loop_plant, notch=None))
