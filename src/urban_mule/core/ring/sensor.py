"""What an acceleration record says of its sensor, before anything is computed on it."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.median import median
from urban_mule.core.ring.spectrum import Spectrum, TimeBase
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.record import record

IN_A_ROW = 3  # equal samples at the greatest value of a record: no ringing stays there so long
LEAST_CLIPPED = 4  # such places in a record
FEW_STEPS = 48  # of the sensor within the range of the record: below it rounding makes a floor of its own
HUMS, HUM_WIDTH, HUM_OVER = (50.0, 60.0), 1.0, 30.0  # Hz of the mains; Hz around; power over its neighbours
EMPTY, LOWEST_END = 1e-9, 30.0  # of the greatest density; Hz: above such an end nothing was measured, if it is that low


@record(frozen=True, eq=False, repr=False)
class SensorFaults:
    """Samples at the stops of the sensor; steps of the sensor within the range; mains hum [Hz] or None; end of content [Hz] or"
    " None."""

    clipped: int
    steps: int | None
    hum: float | None
    content_ends: float | None


def clipped(values: np.ndarray) -> int:
    """How many samples stand at the greatest or least value of their direction, several in a row.

    values: samples × directions, any unit.
    """
    found = 0
    for column in values.T:
        for stop in (column.max(), column.min()):
            at = np.flatnonzero(column == stop)
            runs = np.split(at, np.flatnonzero(np.diff(at) > 1) + 1)
            long = [run.size for run in runs if run.size >= IN_A_ROW]
            found += sum(long) if len(long) >= LEAST_CLIPPED else 0
    return found


def steps_of(values: np.ndarray) -> int | None:
    """Steps of the sensor within the range of its loudest direction; None where they cannot be told from numbers at all.

    values: samples × directions, any unit.
    """
    column = values[:, int(np.argmax(np.ptp(values, axis=0)))]
    distinct = np.unique(column)
    if distinct.size < 3 or distinct.size > column.size // 4:
        return None
    return round(float(np.ptp(column) / np.min(np.diff(distinct))))


def hum(spectrum: Spectrum) -> float | None:
    """The mains frequency [Hz] whose line stands alone far above its neighbours; None where neither does."""
    for mains in HUMS:
        near = np.abs(spectrum.frequency - mains) <= HUM_WIDTH
        beside = (np.abs(spectrum.frequency - mains) <= 6 * HUM_WIDTH) & (np.abs(spectrum.frequency - mains) > 2 * HUM_WIDTH)
        if near.any() and beside.any() and spectrum.summed[near].max() > HUM_OVER * median(spectrum.summed[beside]) and (
                spectrum.summed[near].max() > HUM_OVER * spectrum.summed[beside].max() / 3):
            return mains
    return None


def content_ends(spectrum: Spectrum) -> float | None:
    """The frequency [Hz] above which there is nothing at all, where that is so low that modes may lie beyond."""
    there = np.flatnonzero(spectrum.summed > EMPTY * spectrum.summed.max())
    if not there.size or there[-1] >= spectrum.frequency.size - 2:
        return None
    end = float(spectrum.frequency[there[-1]])
    return end if end < 0.8 * float(spectrum.frequency[-1]) and end >= LOWEST_END / 10 else None


@quantity("", symbol="", source="stops that repeat, steps that can be counted, a line of the mains alone, an end of all content",
          structure=True, formula="samples in a row at the extremes; range ÷ least step; density at 50 and 60 Hz over its"
                                  " neighbours",
          slow=True)
def sensor_faults(time_base: TimeBase, spectrum: Spectrum) -> SensorFaults:
    """What the record says of its sensor."""
    return SensorFaults(clipped(time_base.values), steps_of(time_base.values), hum(spectrum), content_ends(spectrum))
