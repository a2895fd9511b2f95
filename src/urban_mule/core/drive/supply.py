"""Which supply a stepper needs: from the torque at speed, beside the rule of thumb from its inductance."""

from __future__ import annotations

import numpy as np

from urban_mule.core.load.cycle import lift
from urban_mule.core.load.moments import CycleTorque, greatest
from urban_mule.core.motor.stepper import DQ, Running, wound
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity


def least_voltage(
    quadrature_current: Reals, speed: Reals, torque_constant: Reals, rotor_teeth: Reals, phase_resistance: Reals,
    phase_inductance: Reals, current_peak: Reals,
) -> Reals:
    """Least voltage amplitude [V] that drives a torque-making current [A] at a shaft speed [rad/s]; nan beyond the setting.

    The direct current is free within the current circle: i_d = −E·X/Z², or as near to it as the circle lets.
    """
    x, e = rotor_teeth * speed * phase_inductance, torque_constant * speed
    room = np.sqrt(np.where(quadrature_current <= current_peak, current_peak**2 - quadrature_current**2, np.nan))
    direct = np.clip(-e * x / (phase_resistance**2 + x**2), -room, 0.0)
    return np.hypot(phase_resistance * direct - x * quadrature_current,
                    phase_resistance * quadrature_current + x * direct + e)


@quantity("V", symbol="V_need", source=DQ,
          formula="max |v| over the moving pieces with i_q = (S_f·|T|/f_T + T_d + c·ω)/K, + V_d", label="Supply voltage needed")
def voltage_needed(
    cycle_torque: CycleTorque, running_winding: Running, current_peak: Reals, drag_torque: Reals, voltage_drop: Reals,
    safety_factor: Reals, torque_factor: Reals,
) -> Reals:
    """Supply with which the cycle keeps the safety factor in hand everywhere. Raises NotKnown when none does."""
    w, hand = wound(running_winding), lift(safety_factor / torque_factor)
    motor = [lift(v) for v in (w.torque_constant, w.rotor_teeth, w.resistance, w.inductance, current_peak)]
    drag, loss = lift(drag_torque), lift(w.speed_loss)
    needed = greatest(cycle_torque, lambda speed, torque: least_voltage(
        (hand * torque + drag + loss * np.abs(speed)) / motor[0], speed, *motor))[0] + voltage_drop
    if np.all(np.isnan(needed)):
        raise NotKnown("at the set current no voltage gives the torque with the safety factor")
    return needed
