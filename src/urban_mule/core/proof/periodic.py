"""What repeats along the travel: errors with the period of the lead, the pitch, the tooth or the motor's turn, and drift in a"
" run."""

from __future__ import annotations

from typing import Any

import numpy as np

from urban_mule.core.proof.positioning import ISO, Bands, accuracy_of
from urban_mule.core.readings.repeats import mean_of
from urban_mule.core.readings.straight_line import straight_line
from urban_mule.core.readings.two_way import TwoWayReading
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.train.link import Link

LEAST_STEPS, WALKS = 2, 2.0  # steps from repeat to repeat; times their scatter that their mean must be
LEAST_TARGETS = 8  # from which a line, a wave and chance can be told apart
SURE = 4.0  # times what chance alone would take away, for two parameters, that a wave must take away
TOLD_APART = 100.0  # condition of the fit, columns of one length, above which rounding of the targets makes the wave
SAME_PERIOD = 1e-3  # share within which two periods are one


@record(frozen=True, eq=False, repr=False)
class Period:
    """A period [travel], and what makes it."""

    name: str
    length: float


@record(frozen=True, eq=False, repr=False)
class Wave:
    """An error that repeats: what has its period, the period [travel], its amplitude with its standard uncertainty [travel], and
    its phase where the travel is 0 [rad], of amplitude · sin(2πx/length + phase).
    """

    name: str
    length: float
    amplitude: float
    amplitude_uncertainty: float
    phase: float


def periods_of(train: tuple[Link, ...], travel_per_turn: float) -> tuple[Period, ...]:
    """What can repeat in this train, each period once. travel_per_turn: [travel]."""
    found = [Period("each turn of the motor", travel_per_turn)]
    for link in train:
        turn = float(2 * np.pi * link.gain)
        found += [Period(name, float(share) * turn) for name, share in link.periods()]
    kept: list[Period] = []
    for one in found[::-1]:  # what is nearer to the load gives the name
        if all(abs(one.length / other.length - 1) > SAME_PERIOD for other in kept):
            kept.append(one)
    return tuple(kept[::-1])


def _fitted(shapes: np.ndarray, values: np.ndarray) -> tuple[np.ndarray, float]:
    found, *_ = np.linalg.lstsq(shapes, values, rcond=None)
    return found, float(np.sum((values - shapes @ found) ** 2))


@quantity("", symbol="â_p", structure=True,
          source="least squares of a line and a wave of each period through the mean of both ways",
          formula="√(a² + b²) of a·sin 2πx/p + b·cos 2πx/p, kept where it takes away four times what chance would")
def periodic_errors(positioning_bands: Bands, train: tuple[Link, ...], travel_per_turn: float) -> tuple[Wave, ...]:
    """What repeats along the travel beyond chance, the largest first; nothing where the targets are too few to tell."""
    x, middle = positioning_bands.targets, positioning_bands.middle
    if x.size < LEAST_TARGETS:
        return ()
    base = np.column_stack([np.ones_like(x), x])
    found: list[Wave] = []
    for _ in range(3):
        left = [one for one in periods_of(train, travel_per_turn) if all(one.name != wave.name for wave in found)]
        _, rest = _fitted(base, middle)
        best = None
        for one in left:
            turn = 2 * np.pi * x / one.length
            waved = np.column_stack([base, np.sin(turn), np.cos(turn)])
            if x.size - waved.shape[1] < 2 or np.linalg.cond(waved / np.linalg.norm(waved, axis=0)) > TOLD_APART:
                continue  # the targets all meet it at the same few places: it cannot be told from the line
            found_here, less = _fitted(waved, middle)
            if np.hypot(*found_here[-2:]) > np.ptp(middle):
                continue
            gain = (rest - less) / 2 / max(less / (x.size - waved.shape[1]), 1e-300)
            if gain > SURE and (best is None or gain > best[0]):
                best = gain, _wave(one, waved, found_here, less), waved
        if best is None:
            break
        found.append(best[1])
        base = best[2]
    return tuple(sorted(found, key=lambda wave: -wave.amplitude))


def _wave(period: Period, shapes: np.ndarray, found: np.ndarray, less: float) -> Wave:
    """The wave of a fit: amplitude, how sure it is by what is left of the means, and phase."""
    a, b = float(found[-2]), float(found[-1])
    amplitude = float(np.hypot(a, b))
    covariance = np.linalg.inv(shapes.T @ shapes)[-2:, -2:] * less / max(1, len(shapes) - shapes.shape[1])
    along = np.array([a, b]) / amplitude
    return Wave(period.name, period.length, amplitude, float(np.sqrt(along @ covariance @ along)), float(np.arctan2(b, a)))


POINTS_A_PERIOD = 4  # of a table that follows a wave


@quantity("", symbol="â_p, φ_p", source="the fitted waves, as a controller takes them: −â·sin(2πx/p + φ) in addition",
          formula="amplitude, period and phase where the travel is 0")
def wave_corrections(periodic_errors: tuple[Wave, ...]) -> list[dict[str, Any]]:
    """Each wave that repeats, the largest first: name, period, amplitude with its uncertainty [travel], phase [rad]."""
    return [{"name": one.name, "period": one.length, "amplitude": one.amplitude, "amplitude_uncertainty": one.amplitude_uncertainty,
             "phase": one.phase} for one in periodic_errors]


def wave_at(waves: list[dict[str, Any]], x: np.ndarray) -> np.ndarray:
    """What the waves of `wave_corrections` err at places x [travel]."""
    return np.asarray(sum((one["amplitude"] * np.sin(2 * np.pi * x / one["period"] + one["phase"]) for one in waves),
                          np.zeros_like(x, dtype=float)))


@quantity("[travel]", symbol="A_w", source=f"{ISO}; scale, mean reversal and every wave that repeats taken off",
          formula="A of x̄_i − b·x_i ± B̄/2 − ∑ â·sin(2πx_i/p + φ)", label="Accuracy with waves corrected", shown=("µm", ""))
def accuracy_with_waves(positioning_bands: Bands, wave_corrections: list[dict[str, Any]]) -> float:
    """Accuracy when scale, backlash and what repeats are compensated. Raises NotKnown where nothing repeats beyond chance."""
    if not wave_corrections:
        raise NotKnown("nothing repeats beyond chance in this run")
    x, half = positioning_bands.targets, float(positioning_bands.reversal.mean()) / 2
    wave = wave_at(wave_corrections, x)
    left = positioning_bands.middle - wave
    off = wave + straight_line(x, left).slope * x
    return accuracy_of(positioning_bands.mean_up - off - half, positioning_bands.mean_down - off + half, positioning_bands)


def repeat_means(reading: TwoWayReading) -> np.ndarray:
    """The mean of all targets and both ways at each repeat that both ways have [travel]."""
    both = min(len(reading.up), len(reading.down))
    return np.asarray((mean_of(reading.up[:both], axis=1) + mean_of(reading.down[:both], axis=1)) / 2)


@quantity("", symbol="", source="every repeat farther than the one before it, and far beyond what a repeat scatters by itself",
          structure=True, formula="|x̄_n − x̄_1| > 4·s of the steps about their mean, all steps one way",
          label="Steady shift of the mean")
def walks_one_way(positioning_reading: TwoWayReading) -> bool:
    """Whether the whole axis stands farther at each repeat than before, by much the same: something slips."""
    steps = np.diff(repeat_means(positioning_reading))
    return bool(steps.size >= LEAST_STEPS and (np.all(steps > 0) or np.all(steps < 0))
                and abs(steps.mean()) > WALKS * steps.std())


@quantity("[travel]", symbol="d_r", source="least squares over the repeats, the mean of all targets and both ways",
          formula="slope over the repeats × their number", label="Drift during the run", shown=("µm", ""))
def drift_in_run(positioning_reading: TwoWayReading) -> float:
    """How far the whole axis wandered from the first repeat to the last [travel]; 0 for one repeat."""
    means = repeat_means(positioning_reading)
    if means.size < 2:
        return 0.0
    turns = np.arange(means.size) - (means.size - 1) / 2
    return float(turns @ means / (turns @ turns) * (means.size - 1))
