"""Accuracy and repeatability of positioning, both directions, as ISO 230-2 defines them (k = 2)."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.repeats import mean_of, scatter_of
from urban_mule.core.readings.two_way import SPREAD, TwoWayReading, counts
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

ISO = "ISO 230-2, clause 3 (definitions)"


@record(frozen=True, eq=False, repr=False)
class Bands:
    """Per target: means, standard deviations (None with single repeats) and reversal, each direction [travel]."""

    targets: np.ndarray
    mean_up: np.ndarray
    mean_down: np.ndarray
    s_up: np.ndarray | None
    s_down: np.ndarray | None

    @property
    def reversal(self) -> np.ndarray:
        return np.asarray(self.mean_up - self.mean_down)

    @property
    def middle(self) -> np.ndarray:
        """Mean of both ways at each target."""
        return np.asarray((self.mean_up + self.mean_down) / 2)

    def scatter(self) -> tuple[np.ndarray, np.ndarray]:
        """Standard deviations up and down. Raises NotKnown with single repeats."""
        if self.s_up is None or self.s_down is None:
            raise NotKnown("one repeat shows no scatter; take at least two, better five")
        return self.s_up, self.s_down


@quantity("[travel]", symbol="x̄_i, s_i", source=ISO, structure=True, formula="mean and s at each target, each way")
def positioning_bands(positioning_reading: TwoWayReading) -> Bands:
    """Means and standard deviations of the last positioning reading."""
    up, down = positioning_reading.up, positioning_reading.down
    several = min(counts(up).min(), counts(down).min()) > 1
    return Bands(
        positioning_reading.targets, mean_of(up), mean_of(down), scatter_of(up) if several else None,
        scatter_of(down) if several else None)


@quantity("[travel]", symbol="B", source=ISO, formula="max |x̄_i↑ − x̄_i↓|", label="Reversal value B", shown=("µm", ""))
def reversal_value(positioning_bands: Bands) -> float:
    """Reversal value of the axis."""
    return float(np.max(np.abs(positioning_bands.reversal)))


@quantity("[travel]", symbol="R", source=ISO,
          formula="max over targets of max(2s↑ + 2s↓ + |B_i|, 4s↑, 4s↓)", label="Repeatability R", shown=("µm", ""))
def repeatability(positioning_bands: Bands) -> float:
    """Bidirectional repeatability of positioning. Raises NotKnown with single repeats."""
    s_up, s_down = positioning_bands.scatter()
    both = 2 * s_up + 2 * s_down + np.abs(positioning_bands.reversal)
    return float(np.max([both, SPREAD * s_up, SPREAD * s_down]))


@quantity("[travel]", symbol="E", source=ISO, formula="max(x̄↑, x̄↓) − min(x̄↑, x̄↓)",
          label="Systematic deviation E", shown=("µm", ""))
def systematic_deviation(positioning_bands: Bands) -> float:
    """Bidirectional systematic deviation of positioning."""
    means = np.stack([positioning_bands.mean_up, positioning_bands.mean_down])
    return float(np.ptp(means))


@quantity("[travel]", symbol="M", source=ISO, formula="range of (x̄_i↑ + x̄_i↓)/2", label="Mean deviation M", shown=("µm", ""))
def mean_deviation_range(positioning_bands: Bands) -> float:
    """Range of the mean bidirectional deviation."""
    return float(np.ptp(positioning_bands.middle))


def accuracy_of(up: np.ndarray, down: np.ndarray, bands: Bands) -> float:
    """Accuracy A of means up and down [travel] with the scatter of bands [travel]. Raises NotKnown with single repeats."""
    return accuracy_by(up, down, *bands.scatter())


def accuracy_by(up: np.ndarray, down: np.ndarray, s_up: np.ndarray, s_down: np.ndarray) -> float:
    """Accuracy A of means and standard deviations of both ways [travel]."""
    high, low = np.stack([up + 2 * s_up, down + 2 * s_down]), np.stack([up - 2 * s_up, down - 2 * s_down])
    return float(high.max() - low.min())


@quantity("[travel]", symbol="A", source=ISO, formula="max(x̄_i + 2s_i) − min(x̄_i − 2s_i), both ways",
          label="Accuracy A", shown=("µm", ""))
def positioning_accuracy(positioning_bands: Bands) -> float:
    """Bidirectional accuracy of positioning. Raises NotKnown with single repeats."""
    return accuracy_of(positioning_bands.mean_up, positioning_bands.mean_down, positioning_bands)
