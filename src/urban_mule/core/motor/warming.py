"""How a motor really warms: its rise, its time constant, and the thermal resistance that follows."""

from __future__ import annotations

from urban_mule.core.motor.heat import COPPER_COEFFICIENT, REFERENCE_TEMPERATURE
from urban_mule.core.readings.first_order import RISE, FirstOrder, first_order
from urban_mule.core.readings.warming import WarmingReading
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity


def loss_while(reading: WarmingReading, moving: Reals | None, holding: Reals | None) -> Reals:
    """Heat in the winding at 20 °C while the case was read, of the two losses [W]. Raises NotKnown where it is not known."""
    state = reading.state or "moving"
    loss = holding if state == "holding" else moving
    if loss is None:
        raise NotKnown(f"the heat in the winding while {state} is not known")
    return loss


@quantity("", symbol="T(t)", source=RISE, structure=True, formula="T_0 + ΔT·(1 − e^(−t/τ)) by least squares")
def warming_curve(warming_reading: WarmingReading) -> FirstOrder:
    """The rise that fits the case. Raises NotKnown as `first_order` does."""
    return first_order(warming_reading.time, warming_reading.temperature, False)


@quantity("K", symbol="ΔT_m", source=RISE, formula="ΔT", label="Temperature rise of the case")
def warming_rise(warming_curve: FirstOrder) -> float:
    """How far the case rises in the end [K]."""
    return warming_curve.rise


@quantity("s", symbol="τ_m", source=RISE, formula="τ", label="Thermal time constant, measured", shown="min")
def warming_time_constant(warming_curve: FirstOrder) -> float:
    """Time constant of the case [s]."""
    return warming_curve.time_constant


@quantity("K", symbol="u_ΔT", source="covariance of the fit", formula="by least squares",
          label="Standard uncertainty of the case's rise")
def warming_rise_uncertainty(warming_curve: FirstOrder) -> float:
    """Standard uncertainty of how far the case rises [K]."""
    return warming_curve.rise_uncertainty


@quantity("s", symbol="u_τm", source="covariance of the fit", formula="by least squares", shown="min",
          label="Standard uncertainty of the case's time constant")
def warming_time_constant_uncertainty(warming_curve: FirstOrder) -> float:
    """Standard uncertainty of the time constant of the case [s]."""
    return warming_curve.time_constant_uncertainty


@quantity("K/W", symbol="R_m", source="rise of the case over the copper loss at its final temperature; the winding is warmer"
          " than the case, so it is a lower bound", formula="ΔT ÷ P₀·(1 + 0.00393·(T_end − 20))",
          label="Thermal resistance, measured at least")
def measured_thermal_resistance(warming_curve: FirstOrder, warming_loss: Reals) -> float:
    """Thermal resistance by the case [K/W]; warming_loss: in the winding at 20 °C [W]. Raises NotKnown where nothing heats it."""
    if warming_loss <= 0:
        raise NotKnown("nothing heats the winding in that state")
    if warming_curve.rise <= 0:
        raise NotKnown("the case did not warm: begin with a cold motor")
    final = warming_curve.start + warming_curve.rise
    return float(warming_curve.rise / (warming_loss * (1 + COPPER_COEFFICIENT * (final - REFERENCE_TEMPERATURE))))
