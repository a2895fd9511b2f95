"""How a place wanders while it warms: where it ends, how fast, how long to wait."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.drift import DriftReading
from urban_mule.core.readings.first_order import LEAST_PLACES, RISE, FirstOrder, first_order
from urban_mule.core.sheet.quantity import quantity

EARLY, FIRST, OFF = 0.1, 3, 3.0  # of the record: its beginning; readings of it; times their steps that an offset is more than
WAITS = 3.0  # time constants until 95 % is reached


@quantity("", symbol="d(t)", source=RISE, structure=True, formula="d_∞·(1 − e^(−t/τ)) by least squares")
def drift_rise(drift_reading: DriftReading) -> FirstOrder:
    """The rise that fits the drift: from nothing, or from where it stood where the first readings say that it did not begin at 0.

    Raises NotKnown as `first_order` does.
    """
    time, deviation = drift_reading.time, drift_reading.deviation
    if stood_off(time, deviation):
        return first_order(time, deviation, False)
    return first_order(time, deviation, True)


def stood_off(time: np.ndarray, deviation: np.ndarray) -> bool:
    """Whether a record begins somewhere else than at 0: its first readings lie off 0 by much more than they differ.

    time: [s]; deviation: [travel].
    """
    if time.size <= LEAST_PLACES or time[0] > EARLY * time[-1]:
        return False
    return bool(abs(deviation[0]) > OFF * np.max(np.abs(np.diff(deviation[:FIRST]))))


@quantity("[travel]", symbol="d_∞", source=RISE, formula="d_∞", label="Final drift", shown=("µm", ""))
def drift_final(drift_rise: FirstOrder) -> float:
    """Where the place ends once all is warm."""
    return drift_rise.rise


@quantity("s", symbol="τ_d", source=RISE, formula="τ", label="Time constant of the drift", shown="min")
def drift_time_constant(drift_rise: FirstOrder) -> float:
    """Time constant of the drift."""
    return drift_rise.time_constant


@quantity("[travel]", symbol="u_d", source="covariance of the fit", formula="by least squares", shown=("µm", ""),
          label="Standard uncertainty of the final drift")
def drift_final_uncertainty(drift_rise: FirstOrder) -> float:
    """Standard uncertainty of where the place ends [travel]."""
    return drift_rise.rise_uncertainty


@quantity("s", symbol="u_τ", source="covariance of the fit", formula="by least squares", shown="min",
          label="Standard uncertainty of the drift's time constant")
def drift_time_constant_uncertainty(drift_rise: FirstOrder) -> float:
    """Standard uncertainty of the time constant of the drift [s]."""
    return drift_rise.time_constant_uncertainty


@quantity("s", symbol="t_w", source="95 % are reached after three time constants", formula="3·τ", label="Warm-up time needed",
          shown="min")
def warm_up_time_needed(drift_time_constant: float) -> float:
    """How long to wait until the drift has done 95 % of its way."""
    return WAITS * drift_time_constant


@quantity("s", symbol="u_tw", source="three times that of the time constant", formula="3·u_τ", shown="min",
          label="Standard uncertainty of the warm-up time")
def warm_up_time_needed_uncertainty(drift_time_constant_uncertainty: float) -> float:
    """Standard uncertainty of how long to wait [s]."""
    return WAITS * drift_time_constant_uncertainty
