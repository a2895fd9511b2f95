"""Backlash from readings taken after approaching from both sides."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.readings.gauge import by_both_sides
from urban_mule.core.readings.two_way import TwoWayReading, counts
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity


@quantity("[travel]", symbol="B_i", source="reversal value at each target, as ISO 230-2, clause 3", structure=True,
          formula="mean↑ − mean↓ at each target")
def reversal_profile(reversal_reading: TwoWayReading) -> np.ndarray:
    """Reversal at each target of the last reversal reading [travel]."""
    return reversal_reading.reversal


@quantity("[travel]", symbol="B̄", source="mean reversal over the targets", formula="mean |B_i|", shown=("µm", ""))
def backlash(reversal_profile: np.ndarray) -> float:
    """Lost motion between the two directions, averaged over the targets; reversal_profile [travel]."""
    return float(np.mean(np.abs(reversal_profile)))


@quantity("[travel]", symbol="u_B", source="JCGM 100 (GUM): scatter of the repeats; what the gauge rounds, and differs by from"
          " both sides, evenly within it", label="Standard uncertainty of the backlash", shown=("µm", ""),
          formula="√(∑(s_i↑²/n↑ + s_i↓²/n↓) ÷ m² + r²/6m + 4h²/3), r where repeats scatter less; of single ones s(|B_i|) ÷ √m")
def backlash_uncertainty(
    reversal_reading: TwoWayReading, reversal_profile: np.ndarray, reversal_gauge_resolution: Reals = None,
    reversal_gauge_hysteresis: Reals = None,
) -> float:
    """Standard uncertainty of the backlash [travel]. Raises NotKnown for one target and one repeat.

    reversal_gauge_resolution, reversal_gauge_hysteresis: of its gauge, where they are said [travel].
    """
    scattered, step = _scattered(reversal_reading, reversal_profile), reversal_gauge_resolution or 0.0
    rounded = 0.0 if _of_one(reversal_reading) > step / 2 else step / math.sqrt(6 * reversal_reading.targets.size)
    return math.hypot(scattered, rounded, by_both_sides(reversal_gauge_hysteresis or 0.0))


def _of_one(reading: TwoWayReading) -> float:
    """How single readings at one place scatter [travel]: what is rounded lies in it where it is more than half a step."""
    if min(counts(reading.up).min(), counts(reading.down).min()) < 2:
        return 0.0
    return float(np.sqrt(np.mean([np.nanvar(table, axis=0, ddof=1).mean() for table in (reading.up, reading.down)])))


def _scattered(reversal_reading: TwoWayReading, reversal_profile: np.ndarray) -> float:
    up, down, m = reversal_reading.up, reversal_reading.down, reversal_reading.targets.size
    if min(counts(up).min(), counts(down).min()) > 1:
        total = np.nanvar(up, axis=0, ddof=1) / counts(up) + np.nanvar(down, axis=0, ddof=1) / counts(down)
        return float(math.sqrt(total.sum()) / m)
    if m < 2:
        raise NotKnown("one target and one repeat show no scatter")
    return float(np.std(np.abs(reversal_profile), ddof=1) / math.sqrt(m))


@quantity("[travel]", symbol="ΔB", source="range of the reversal along the travel", formula="max B_i − min B_i", shown=("µm", ""))
def backlash_variation(reversal_profile: np.ndarray) -> float:
    """How much the backlash differs along the travel; reversal_profile [travel]. Raises NotKnown for one target."""
    if reversal_profile.size < 2:
        raise NotKnown("one target shows no variation along the travel")
    return float(np.ptp(reversal_profile))
