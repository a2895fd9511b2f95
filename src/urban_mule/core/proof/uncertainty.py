"""How sure the figures of a run are: few repeats at the targets that decide, and the gauge.

Source: JCGM 100, 5.1 (uncorrelated inputs); a standard deviation of n readings is uncertain by s/√(2(n − 1)).
"""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.proof.positioning import Bands
from urban_mule.core.readings.gauge import growth_uncertainty
from urban_mule.core.readings.two_way import TwoWayReading, counts
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity

JCGM = ("JCGM 100, 5.1: mean and scatter by so few repeats at the targets that decide, the gauge, drift within the run, and the"
        " temperature")
EVEN = 3.0  # variance of what is evenly likely within ± a half width, under its square
ALL_ALONG = 12.0  # and of what is evenly spread over a range, under the square of the range
GREATEST = 0.75  # of √(2·ln m): the expected greatest of m normal values, for 5 to 20 of them


def _parts(bands: Bands, reading: TwoWayReading) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Means, standard deviations and numbers of repeats, a row each way. Raises NotKnown with single repeats."""
    scatter = np.stack(bands.scatter())
    return np.stack([bands.mean_up, bands.mean_down]), scatter, np.stack([counts(reading.up), counts(reading.down)])


def _systematic(gauge: Reals, hysteresis: Reals, drift: float, thermal: Reals = None, extremes: int = 2) -> float:
    """The variance at so many extremes that repeats do not show [travel²]: of the gauge, its hysteresis, and drift in the run; and
    of the temperature, which stretches the whole.
    """
    by_gauge = extremes * (float(gauge or 0.0) ** 2 + float(hysteresis or 0.0) ** 2 / EVEN)
    return by_gauge + drift**2 / ALL_ALONG + float(thermal or 0.0) ** 2


@quantity("[travel]", symbol="u_ϑ", source="JCGM 100, 5.1; ISO 230-2, annex A: what a doubt of the temperature makes over the run",
          formula="√(α_a² + α_gauge²)·u_T·(x_m − x_1)", label="Standard uncertainty of a run by the temperature", shown=("µm", ""))
def run_temperature_uncertainty(
    expansion: Reals, positioning_reading: TwoWayReading, proof_gauge_expansion: Reals, proof_temperature_uncertainty: Reals,
) -> float:
    """What the temperature leaves open over the length of a run [travel]; expansion of the axis and proof_gauge_expansion [1/K],
    proof_temperature_uncertainty, standard, of each [K].
    """
    share = growth_uncertainty(float(expansion), float(proof_gauge_expansion), float(proof_temperature_uncertainty))
    return share * float(np.ptp(positioning_reading.targets))


def _of_means(scatter: np.ndarray, n: np.ndarray, places: list[tuple[int, ...]], systematic: float) -> float:
    return math.sqrt(sum(float(scatter[at] ** 2 / n[at]) for at in places) + systematic)


@quantity("[travel]", symbol="u_A", source=JCGM,
          formula="√(2·u² + 2·h²/3 + d_r²/12 + u_ϑ² + ∑ s²·(1/n + 2/(n − 1))) at the two extremes",
          label="Standard uncertainty of A", shown=("µm", ""))
def positioning_accuracy_uncertainty(
    positioning_bands: Bands, positioning_reading: TwoWayReading, drift_in_run: float, proof_gauge_uncertainty: Reals = None,
    proof_gauge_hysteresis: Reals = None, run_temperature_uncertainty: Reals = None,
) -> float:
    """Standard uncertainty of the accuracy A [travel]. Raises NotKnown with single repeats."""
    means, scatter, n = _parts(positioning_bands, positioning_reading)
    total = _systematic(proof_gauge_uncertainty, proof_gauge_hysteresis, drift_in_run, run_temperature_uncertainty)
    for extreme in (np.argmax(means + 2 * scatter), np.argmin(means - 2 * scatter)):
        at = np.unravel_index(int(extreme), means.shape)
        total += float(scatter[at] ** 2 * (1 / n[at] + 2 / (n[at] - 1)))
    return math.sqrt(total)


@quantity("[travel]", symbol="u_R", source=JCGM, formula="√(s↑²/n + s↓²/n + 2·s↑²/(n − 1) + 2·s↓²/(n − 1)) where R stands",
          label="Standard uncertainty of R", shown=("µm", ""))
def repeatability_uncertainty(positioning_bands: Bands, positioning_reading: TwoWayReading) -> float:
    """Standard uncertainty of the repeatability R [travel]; the gauge cancels. Raises NotKnown with single repeats."""
    _, scatter, n = _parts(positioning_bands, positioning_reading)
    at = int(np.argmax(2 * scatter.sum(axis=0) + np.abs(positioning_bands.reversal)))
    return float(np.sqrt(np.sum(scatter[:, at] ** 2 * (1 / n[:, at] + 2 / (n[:, at] - 1)))))


def _picked(noise: float, reversal: np.ndarray) -> float:
    """What it makes that the greatest of several noisy values is picked [travel²]: half of by how much the greatest of so many
    normal ones lies above their middle, as far as their differences are noise (E. J. Gumbel, Statistics of Extremes). noise: the
    standard deviation of one.
    """
    if reversal.size < 2 or not noise:
        return 0.0
    above = GREATEST * math.sqrt(2 * math.log(reversal.size)) * noise / 2
    return above**2 * min(1.0, noise**2 / max(float(np.var(reversal, ddof=1)), 1e-300))


@quantity("[travel]", symbol="u_B", source=JCGM, formula="√(mean (s↑² + s↓²)/n + 4·h²/3), and what picking the greatest makes",
          label="Standard uncertainty of B",
          shown=("µm", ""))
def reversal_value_uncertainty(
    positioning_bands: Bands, positioning_reading: TwoWayReading, proof_gauge_hysteresis: Reals = None
) -> float:
    """Standard uncertainty of the reversal value B [travel]; of the gauge only its hysteresis stays. Raises NotKnown with single
    repeats.
    """
    _, scatter, n = _parts(positioning_bands, positioning_reading)
    noise = float(np.mean(np.sum(scatter**2 / n, axis=0)))
    picked = _picked(math.sqrt(noise), np.abs(positioning_bands.reversal))
    return math.sqrt(noise + picked + _systematic(None, 2 * float(proof_gauge_hysteresis or 0.0), 0.0, extremes=1))


@quantity("[travel]", symbol="u_E", source=JCGM, formula="√(s²/n + s²/n + 2·u² + 2·h²/3 + d_r²/12 + u_ϑ²) at the two extremes",
          label="Standard uncertainty of E",
          shown=("µm", ""))
def systematic_deviation_uncertainty(
    positioning_bands: Bands, positioning_reading: TwoWayReading, drift_in_run: float, proof_gauge_uncertainty: Reals = None,
    proof_gauge_hysteresis: Reals = None, run_temperature_uncertainty: Reals = None,
) -> float:
    """Standard uncertainty of the systematic deviation E [travel]. Raises NotKnown with single repeats."""
    means, scatter, n = _parts(positioning_bands, positioning_reading)
    ends = [tuple(int(one) for one in np.unravel_index(int(find(means)), means.shape)) for find in (np.argmax, np.argmin)]
    total = _systematic(proof_gauge_uncertainty, proof_gauge_hysteresis, drift_in_run, run_temperature_uncertainty)
    return _of_means(scatter, n, ends, total)


@quantity("[travel]", symbol="u_M", source=JCGM,
          formula="√(∑ (s↑²/n + s↓²/n)/4 + 2·u² + 2·h²/3 + d_r²/12 + u_ϑ²) at the two extremes",
          label="Standard uncertainty of M",
          shown=("µm", ""))
def mean_deviation_range_uncertainty(
    positioning_bands: Bands, positioning_reading: TwoWayReading, drift_in_run: float, proof_gauge_uncertainty: Reals = None,
    proof_gauge_hysteresis: Reals = None, run_temperature_uncertainty: Reals = None,
) -> float:
    """Standard uncertainty of the mean deviation M [travel]. Raises NotKnown with single repeats."""
    means, scatter, n = _parts(positioning_bands, positioning_reading)
    middle = means.mean(axis=0)
    total = _systematic(proof_gauge_uncertainty, proof_gauge_hysteresis, drift_in_run, run_temperature_uncertainty)
    for at in (int(np.argmax(middle)), int(np.argmin(middle))):
        total += float(np.sum(scatter[:, at] ** 2 / n[:, at])) / 4
    return math.sqrt(total)
