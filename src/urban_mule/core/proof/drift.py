"""How a place wanders while it warms: where it ends, how fast, how long to wait."""

from __future__ import annotations

from urban_mule.core.readings.drift import DriftReading
from urban_mule.core.readings.first_order import RISE, FirstOrder, first_order
from urban_mule.core.sheet.quantity import quantity

WAITS = 3.0  # time constants until 95 % is reached


@quantity("", symbol="d(t)", source=RISE, structure=True, formula="d_∞·(1 − e^(−t/τ)) by least squares")
def drift_rise(drift_reading: DriftReading) -> FirstOrder:
    """The rise that fits the drift. Raises NotKnown as `first_order` does."""
    return first_order(drift_reading.time, drift_reading.deviation, True)


@quantity("[travel]", symbol="d_∞", source=RISE, formula="d_∞", label="Drift in the end", shown=("µm", ""))
def drift_final(drift_rise: FirstOrder) -> float:
    """Where the place ends once all is warm."""
    return drift_rise.rise


@quantity("s", symbol="τ_d", source=RISE, formula="τ", label="Its time constant", shown="min")
def drift_time_constant(drift_rise: FirstOrder) -> float:
    """Time constant of the drift."""
    return drift_rise.time_constant


@quantity("s", symbol="t_w", source="95 % are reached after three time constants", formula="3·τ", label="Warm up for", shown="min")
def warm_up_time_needed(drift_time_constant: float) -> float:
    """How long to wait until the drift has done 95 % of its way."""
    return WAITS * drift_time_constant
