"""A shaper as it is set: what it leaves, costs and allows."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from urban_mule.core.readings.shapers import NONE, TWO_MODES
from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.shaper import Shaper, shaper_sequences
from urban_mule.core.ring.swing import left_by
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class Tried:
    """A shaper that may be set: its name, frequency [Hz], what it leaves [1], how much longer it makes a move [s], which
    acceleration it allows [travel/s²].
    """

    name: str
    frequency: float | None
    left: float
    delay: float
    allowed: float


def impulses_of(name: str, frequency: float | None, mode: Mode, two_modes: dict[str, Any] | None) -> Shaper:
    """The impulses of a shaper as it is set; none is one impulse. Raises NotKnown for one for two modes where the record has none
    such.
    """
    if name == NONE:
        return Shaper(NONE, np.zeros(1), np.ones(1))
    if name == TWO_MODES:
        if two_modes is None:
            raise NotKnown("a shaper for two modes wants a record with two modes", "acceleration_reading")
        return Shaper(name, np.array(two_modes["times"]), np.array(two_modes["amplitudes"]))
    assert frequency is not None
    return next(one for one in shaper_sequences(frequency, mode.damping_ratio) if one.name == name)


def shaper_of(name: str, frequency: float | None, mode: Mode, path_tolerance: float, two_modes: dict[str, Any] | None) -> Tried:
    """A shaper as it is set. Raises NotKnown for one for two modes where the record has none such."""
    if name == NONE:
        return Tried(NONE, None, 1.0, 0.0, math.inf)
    made = impulses_of(name, frequency, mode, two_modes)
    return Tried(name, frequency, left_by(made, mode), float(made.times[-1]), 2 * path_tolerance / made.variance)
