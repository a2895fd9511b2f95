"""Acceleration records: is the time base even, and where does the energy lie.

NumPy's own transforms serve: SciPy's signal package takes a second to import.
"""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.acceleration import AccelerationReading
from urban_mule.core.readings.median import median
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

LEAST_SAMPLES = 256
ONE_LOST = 1.5  # usual steps from which on a step is two
MOST_LOST = 0.05  # share of samples that may be filled in before the record is refused
LONGEST_GAP = 8  # samples in a row; a longer hole cannot be bridged by a curve
JITTER_TAKEN_AS_EVEN = 0.01  # of the sample interval: rounding of time stamps
ROUNDED = 1e-6  # of a step: by which the end of a record may be off for rounding
WELCH_SEGMENT_TIME = 1.3  # s, about 0.8 Hz apart: narrow enough for the modes of a gantry


@record(frozen=True, eq=False, repr=False)
class TimeBase:
    """An even record and how even it was: rate [Hz], values, lost samples, longest gap, jitter as a share of a step."""

    sample_rate: float
    values: np.ndarray
    lost: int
    longest_gap: int
    jitter: float
    resampled: bool


@record(frozen=True, eq=False, repr=False)
class Spectrum:
    """Power spectral density: frequency [Hz]; density [(m/s²)²/Hz], one column a direction; summed over them."""

    frequency: np.ndarray
    density: np.ndarray
    summed: np.ndarray


@quantity("", symbol="t_k", source="median interval; gaps counted in whole intervals", structure=True,
          formula="lost = ∑(round(Δt/median Δt) − 1)", slow=True)
def time_base(acceleration_reading: AccelerationReading) -> TimeBase:
    """The last acceleration record on an even time base. Raises NotKnown when it is too short or too torn."""
    time, values = acceleration_reading.time, acceleration_reading.values
    if time.size < LEAST_SAMPLES:
        raise NotKnown(f"the acceleration record has {time.size} samples; at least {LEAST_SAMPLES} are needed")
    steps = np.diff(time)
    whole, usual, lost, longest = _without_gaps(steps)
    interval = float(whole.mean()) if whole.size else usual
    jitter = float(np.abs(whole - interval).max() / interval) if whole.size else 0.0
    if lost > MOST_LOST * time.size or longest > LONGEST_GAP:
        raise NotKnown(
            f"the acceleration record lost {lost} of {time.size + lost} samples, up to {longest} in a row;"
            " the sensor link is too slow")
    if lost == 0 and jitter <= JITTER_TAKEN_AS_EVEN:
        return TimeBase(1 / interval, values, 0, 0, jitter, False)
    count = int(np.floor((time[-1] - time[0]) / interval + ROUNDED)) + 1
    even = time[0] + interval * np.arange(count)
    filled = np.column_stack([np.interp(even, time, column) for column in values.T])
    return TimeBase(1 / interval, filled, lost, longest, jitter, True)


@quantity("Hz", symbol="f_s", source="definition", formula="1 ÷ mean interval")
def sample_rate(time_base: TimeBase) -> float:
    """Samples a second of the acceleration record."""
    return time_base.sample_rate


def segment_length(samples: int, rate: float) -> int:
    """Samples in one Welch segment: a power of two near the segment time, at least four segments in the record.

    rate: samples a second [Hz].
    """
    wanted = min(WELCH_SEGMENT_TIME * rate, samples / 2.5)
    return max(LEAST_SAMPLES // 2, 1 << int(np.log2(max(wanted, 2.0))))


def _without_gaps(steps: np.ndarray) -> tuple[np.ndarray, float, int, int]:
    """The steps between samples that lost none, the usual one, samples lost in the others, most of them in a row. steps: n [s]."""
    least, most = float(steps.min()), float(steps.max())
    if most < ONE_LOST * least:
        return steps, most, 0, 0  # so near to each other that none is two of the usual ones
    usual = median(steps)
    missing = np.rint(steps / usual).astype(np.int64) - 1
    holes = missing > 0
    return steps[~holes], usual, int(missing[holes].sum()), int(missing.max(initial=0))


@quantity("(m/s²)²/Hz", symbol="S(f)", structure=True,
          source="P. D. Welch, The Use of Fast Fourier Transform for the Estimation of Power Spectra, 1967",
          formula="mean |FFT|² of half-overlapping Hann segments, each less its mean, ÷ (f_s·∑w²)", slow=True)
def spectrum(time_base: TimeBase) -> Spectrum:
    """Power spectral density of each direction and their sum."""
    values, rate = time_base.values, time_base.sample_rate
    length = segment_length(len(values), rate)
    window = 0.5 - 0.5 * np.cos(2 * np.pi * np.arange(length) / length)
    columns = []
    for column in values.T:
        segments = np.lib.stride_tricks.sliding_window_view(np.ascontiguousarray(column), length)[:: length // 2]
        centred = (segments - segments.mean(axis=1, keepdims=True)) * window
        transform = np.fft.rfft(centred, axis=1)
        power = (transform.real**2 + transform.imag**2).mean(axis=0) / (rate * np.sum(window**2))
        power[1:-1] *= 2
        columns.append(power)
    density = np.column_stack(columns)
    return Spectrum(np.fft.rfftfreq(length, 1 / rate), density, density.sum(axis=1))
