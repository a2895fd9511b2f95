"""Copper losses of a stepper, which its set current makes whether it works or not."""

from __future__ import annotations

from urban_mule.core.motor.heat import steady_rise
from urban_mule.core.motor.warming import loss_while
from urban_mule.core.readings.warming import WarmingReading
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity


@quantity("W", symbol="P₀", source="two sine phases of this peak current, resistance at 20 °C", label="Heat in the winding")
def copper_loss(current_peak: Reals, winding_resistance: Reals) -> Reals:
    """Heat in the winding of one motor at its set current; current_peak [A], winding_resistance [Ω]."""
    return current_peak**2 * winding_resistance


@quantity("W", symbol="P_h", source="copper loss at the idle current")
def holding_copper_loss(copper_loss: Reals, hold_fraction: Reals) -> Reals:
    """Heat in the winding while idle; copper_loss [W], hold_fraction [-]."""
    return copper_loss * hold_fraction**2


@quantity("W", symbol="P_c", source="copper loss while moving and while idle, by their shares of the cycle",
          label="Mean heat in the cycle")
def cycle_copper_loss(copper_loss: Reals, holding_copper_loss: Reals, moving_share: Reals) -> Reals:
    """Mean heat in the winding over the cycle, the current cut in its dwells; losses [W]."""
    return copper_loss * moving_share + holding_copper_loss * (1 - moving_share)


@quantity("K", symbol="ΔT", source="heat balance with copper's temperature coefficient, IEC 60028",
          formula="P₀·R_th·(1 + 0.00393·(T_a − 20)) ÷ (1 − 0.00393·P₀·R_th)", label="Temperature rise at full current")
def temperature_rise(copper_loss: Reals, thermal_resistance: Reals, ambient_temperature: Reals) -> Reals:
    """Rise over ambient at the full setting all the time. Raises NotKnown for thermal runaway."""
    return steady_rise(copper_loss, thermal_resistance, ambient_temperature)


@quantity("°C", symbol="T_w", source="ambient plus rise")
def winding_temperature(ambient_temperature: Reals, temperature_rise: Reals) -> Reals:
    """Temperature of the winding at the full setting all the time; ambient [°C], rise [K]."""
    return ambient_temperature + temperature_rise


@quantity("W", symbol="P_m", source="the loss of what it did meanwhile: its set current all the time, or what holds it",
          formula="P of moving, or of holding", label="Heat while it warmed")
def warming_loss(warming_reading: WarmingReading, copper_loss: Reals = None, holding_copper_loss: Reals = None) -> Reals:
    """Heat in the winding at 20 °C while the case was read [W]. Raises NotKnown where it is not known."""
    return loss_while(warming_reading, copper_loss, holding_copper_loss)
