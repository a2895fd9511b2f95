"""How a driver really warms: its rise and its time constant."""

from __future__ import annotations

from urban_mule.core.readings.first_order import RISE, FirstOrder, first_order
from urban_mule.core.readings.warming import CoolingReading
from urban_mule.core.sheet.quantity import quantity


@quantity("", symbol="T_d(t)", source=RISE, structure=True, formula="T_0 + ΔT·(1 − e^(−t/τ)) by least squares")
def driver_warming_curve(cooling_reading: CoolingReading) -> FirstOrder:
    """The rise that fits the driver. Raises NotKnown as `first_order` does."""
    return first_order(cooling_reading.time, cooling_reading.temperature, False)


@quantity("K", symbol="ΔT_d", source=RISE, formula="ΔT", label="Temperature rise of the driver")
def driver_warming_rise(driver_warming_curve: FirstOrder) -> float:
    """How far the driver rises in the end [K]."""
    return driver_warming_curve.rise


@quantity("s", symbol="τ_d", source=RISE, formula="τ", label="Thermal time constant of the driver", shown="min")
def driver_warming_time_constant(driver_warming_curve: FirstOrder) -> float:
    """Time constant of the driver [s]."""
    return driver_warming_curve.time_constant
