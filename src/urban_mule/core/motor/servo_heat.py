"""Copper losses of a servo, which the torque that it gives makes."""

from __future__ import annotations

from urban_mule.core.motor.heat import steady_rise
from urban_mule.core.motor.servo_winding import EQUAL_MACHINE, of_one_phase
from urban_mule.core.motor.warming import loss_while
from urban_mule.core.readings.warming import WarmingReading
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity


def loss_of(torque: Reals, torque_constant_rms: Reals, phase_resistance: Reals, winding_figures_are: str) -> Reals:
    """Heat of three phases at 20 °C that a torque [N·m] costs [W]; torque_constant_rms [N·m/A], phase_resistance [Ω] as stated."""
    return 3 * of_one_phase(winding_figures_are) * phase_resistance * (torque / torque_constant_rms) ** 2


@quantity("W", symbol="P_n", source=EQUAL_MACHINE, formula="3·R_s·(T_n/K_t)², R_s of one phase at 20 °C")
def rated_copper_loss(
    rated_torque: Reals, torque_constant_rms: Reals, phase_resistance: Reals, winding_figures_are: str = "one phase"
) -> Reals:
    """Heat in the winding of one motor that gives its rated torque [N·m] all the time."""
    return loss_of(rated_torque, torque_constant_rms, phase_resistance, winding_figures_are)


@quantity("W", symbol="P_h", source=EQUAL_MACHINE, formula="3·R_s·(T_0/K_t)², R_s of one phase at 20 °C")
def holding_copper_loss(
    static_torque: Reals, torque_constant_rms: Reals, phase_resistance: Reals, winding_figures_are: str = "one phase"
) -> Reals:
    """Heat in the winding while it holds the load without a brake; static_torque [N·m]."""
    return loss_of(static_torque, torque_constant_rms, phase_resistance, winding_figures_are)


@quantity("W", symbol="P_c", source=EQUAL_MACHINE, formula="3·R_s·(T_rms/K_t)², R_s of one phase at 20 °C",
          label="Mean heat in the cycle")
def cycle_copper_loss(
    rms_torque: Reals, torque_constant_rms: Reals, phase_resistance: Reals, winding_figures_are: str = "one phase"
) -> Reals:
    """Mean heat in the winding over the cycle; rms_torque [N·m]."""
    return loss_of(rms_torque, torque_constant_rms, phase_resistance, winding_figures_are)


@quantity("K", symbol="ΔT_n", source="heat balance with copper's temperature coefficient, IEC 60028",
          formula="P_n·R_th·(1 + 0.00393·(T_a − 20)) ÷ (1 − 0.00393·P_n·R_th)")
def rated_temperature_rise(rated_copper_loss: Reals, thermal_resistance: Reals, ambient_temperature: Reals) -> Reals:
    """Rise of the winding over ambient at the rated torque all the time. Raises NotKnown for thermal runaway."""
    return steady_rise(rated_copper_loss, thermal_resistance, ambient_temperature)


@quantity("W", symbol="P_m", source="the loss of what it did meanwhile: what its cycle asks all the time, or what holds it",
          formula="P of moving, or of holding", label="Heat while it warmed")
def warming_loss(warming_reading: WarmingReading, cycle_copper_loss: Reals = None, holding_copper_loss: Reals = None) -> Reals:
    """Heat in the winding at 20 °C while the case was read [W]. Raises NotKnown where it is not known."""
    return loss_while(warming_reading, cycle_copper_loss, holding_copper_loss)
