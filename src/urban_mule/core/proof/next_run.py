"""What the run before the last one promised of each correction, beside what the last run really gave; the uncertainty of both."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.proof.corrections import (
    accuracy_floor,
    accuracy_with_all,
    accuracy_with_backlash,
    accuracy_with_scale,
    accuracy_with_table,
)
from urban_mule.core.proof.positioning import Bands, positioning_accuracy, positioning_bands
from urban_mule.core.readings.two_way import TwoWayReading, counts
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record


@record(frozen=True)
class Promised:
    """Accuracy A of a run [travel], and what it promises of each correction."""

    as_it_was: float
    scale: float
    backlash: float
    table: float
    all: float
    floor: float


def promised(bands: Bands) -> Promised:
    """What a run promises. Raises NotKnown as its parts do."""
    return Promised(*(part(bands) for part in (positioning_accuracy, accuracy_with_scale, accuracy_with_backlash,
                                               accuracy_with_table, accuracy_with_all, accuracy_floor)))


@quantity("", symbol="", source="the run before the last one, corrected in every way", structure=True,
          formula="as the accuracies with each correction")
def promised_before(positioning_readings: tuple[TwoWayReading, ...]) -> Promised:
    """What the run before the last one promised. Raises NotKnown where there is one only."""
    if len(positioning_readings) < 2:
        raise NotKnown("one run is nothing to compare with; correct, and run again")
    return promised(positioning_bands(positioning_readings[-2]))


@quantity("[travel]", symbol="u_A", source="the mean and the scatter at both extremes by so few repeats, and the gauge at both",
          formula="√(2·u² + ∑ s²·(1/n + 2/(n − 1))) at the two extremes", label="Uncertainty of A", shown=("µm", ""))
def accuracy_uncertainty(
    positioning_bands: Bands, positioning_reading: TwoWayReading, proof_gauge_uncertainty: Reals = None
) -> float:
    """Standard uncertainty of the accuracy A [travel]. Raises NotKnown with single repeats."""
    s_up, s_down = positioning_bands.scatter()
    means, scatter = np.stack([positioning_bands.mean_up, positioning_bands.mean_down]), np.stack([s_up, s_down])
    n = np.stack([counts(positioning_reading.up), counts(positioning_reading.down)])
    total = 2 * float(proof_gauge_uncertainty or 0.0) ** 2
    for extreme in (np.argmax(means + 2 * scatter), np.argmin(means - 2 * scatter)):
        at = np.unravel_index(int(extreme), means.shape)
        total += float(scatter[at] ** 2 * (1 / n[at] + 2 / (n[at] - 1)))
    return math.sqrt(total)
