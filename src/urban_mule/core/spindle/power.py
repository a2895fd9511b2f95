"""A drive that turns a tool: power and torque of the cut against the motor's, speed, spin-up, inertia, current of the mains."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.spindle.given import SHORT_TIME

POINTS = 48  # of the quadrature: the integrand is smooth beyond the corner
CUTTING = "specific cutting energy times the volume taken off a second"


def phase_share(phases_in: Reals, single_phase_derate: Reals) -> Reals:
    """Share of all powers that the mains leaves: the derating on one phase, all of it on three.

    phases_in: 1 or 3; single_phase_derate: [1].
    """
    return single_phase_derate if phases_in == 1 else 1.0


def power_for_a_moment(rated_power: Reals, short_time_power: Reals, phases_in: Reals, single_phase_derate: Reals) -> Reals:
    """Power that the motor gives for a short time on its mains [W]: as the sheet says, else by the rated power. Raises NotKnown."""
    if short_time_power is None and rated_power is None:
        raise NotKnown("neither rated power nor short-time power is given", "rated_power", "short_time_power")
    whole = SHORT_TIME * rated_power if short_time_power is None else short_time_power
    return phase_share(phases_in, single_phase_derate) * whole


@quantity("W", symbol="P_c", source=CUTTING, formula="k_c·Q", label="Cutting power")
def cutting_power(specific_energy: Reals, removal_rate: Reals) -> Reals:
    """Power that the cut takes; specific_energy [J/m³], removal_rate [m³/s]."""
    return specific_energy * removal_rate


@quantity("N·m", symbol="T_c", source="power over speed", formula="P_c ÷ ω_c", label="Cutting torque")
def cutting_torque(cutting_power: Reals, cut_speed: Reals) -> Reals:
    """Torque at the tool in the cut; cut_speed [rad/s]."""
    return cutting_power / cut_speed


@quantity("", symbol="P_c/P", source="against the power at the tool that the motor gives continuously", formula="P_c ÷ (η·d·P_n)",
          label="Share of the power", shown="%")
def spindle_power_share(
    cutting_power: Reals, efficiency: Reals, rated_power: Reals, phases_in: Reals, single_phase_derate: Reals
) -> Reals:
    """Cutting power over what the motor gives at the tool continuously."""
    return cutting_power / (efficiency * phase_share(phases_in, single_phase_derate) * rated_power)


@quantity("rad/s", symbol="ω_max", source="a drive on less than its rated mains voltage turns slower in proportion",
          formula="ω_m·min(1, U/U_n) ÷ i", label="Speed limit", shown="rpm")
def spindle_speed_limit(max_speed: Reals, ratio: Reals, mains_voltage: Reals = None, rated_voltage: Reals = None) -> Reals:
    """Greatest speed of the tool [rad/s]; as the sheet says where no voltage is known. Raises NotKnown where only one is."""
    if (mains_voltage is None) != (rated_voltage is None):
        raise NotKnown("of mains voltage and rated voltage only one is known",
                       "mains_voltage" if mains_voltage is None else "rated_voltage")
    share = 1.0 if mains_voltage is None else np.minimum(1.0, mains_voltage / rated_voltage)
    return max_speed * share / ratio


@quantity("", symbol="T_c/T", source="against the torque at the tool that the motor gives continuously at that speed",
          formula="T_c ÷ (η·min(T_n·i, d·P_n/ω_c))", label="Share of the torque", shown="%")
def spindle_torque_share(
    cutting_torque: Reals, cut_speed: Reals, efficiency: Reals, rated_torque: Reals, rated_power: Reals, ratio: Reals,
    phases_in: Reals, single_phase_derate: Reals, spindle_speed_limit: Reals,
) -> Reals:
    """Cutting torque over what the motor gives at the tool continuously. Raises NotKnown where the tool cannot turn that fast."""
    if cut_speed > spindle_speed_limit * (1 + 1e-9):
        raise NotKnown("the tool cannot turn as fast as the cut asks")
    there = np.minimum(rated_torque * ratio, phase_share(phases_in, single_phase_derate) * rated_power / cut_speed)
    return cutting_torque / (efficiency * there)


def time_over(corner: float, highest: float, flat: float, power: float, constant: float) -> float:
    """∫ dω/T from 0 to the highest speed [rad/s], per kg·m²: T is flat up to the corner, then power over speed plus a constant.

    flat, constant: torques [N·m]; power [W].
    """
    nodes, weights = np.polynomial.legendre.leggauss(POINTS)
    speeds = corner + (highest - corner) * (nodes + 1) / 2
    beyond = float(np.sum(weights / (power / np.maximum(speeds, 1e-12) + constant))) * (highest - corner) / 2
    return float(corner / flat + beyond)


@quantity("s", symbol="t_up", source="momentum: J·dω = (T − T_f)·dt", label="Spin-up time",
          formula="∫ (J_t + i²·J_r) dω ÷ (T(ω) − T_f), 0 to the highest speed")
def spin_up_time(
    inertia: Reals, rotor_inertia: Reals, ratio: Reals, efficiency: Reals, peak_torque: Reals, friction_torque: Reals,
    highest_speed: Reals, phases_in: Reals, single_phase_derate: Reals, spindle_speed_limit: Reals, rated_power: Reals = None,
    short_time_power: Reals = None,
) -> float:
    """Time from standstill to the highest speed [s]. Raises NotKnown where friction stops it on the way or the limit is lower."""
    if highest_speed > spindle_speed_limit * (1 + 1e-9):
        raise NotKnown("the tool cannot turn that fast")
    power = power_for_a_moment(rated_power, short_time_power, phases_in, single_phase_derate)
    most = peak_torque * ratio
    corner = min(power / most, highest_speed)
    left = efficiency * min(most, power / highest_speed) - friction_torque
    if efficiency * most <= friction_torque or left <= 0:
        raise NotKnown("friction takes all of the torque before that speed is reached")
    whole = inertia + ratio**2 * rotor_inertia
    flat = float(efficiency * most - friction_torque)
    return float(whole) * time_over(float(corner), float(highest_speed), flat, float(efficiency * power), -float(friction_torque))


@quantity("", symbol="J_t/J", source="referred to the motor", formula="J_t ÷ (i²·J_r)", label="Inertia ratio")
def spindle_inertia_ratio(inertia: Reals, ratio: Reals, rotor_inertia: Reals) -> Reals:
    """Inertia of the tool over that of the rotor, at one shaft."""
    return inertia / (ratio**2 * rotor_inertia)


@quantity("rad", symbol="δ_s", source="a spring in torsion", formula="T_c ÷ k_b", label="Lag behind the command")
def synchronism_error(cutting_torque: Reals, belt_stiffness: Reals) -> Reals:
    """How far the tool lags behind the motor in the cut [rad]; belt_stiffness [N·m/rad]."""
    return cutting_torque / belt_stiffness


@quantity("m", symbol="δ_p", source="a turn is a pitch", formula="δ_s ÷ 2π · p", label="Error of a thread", shown=("µm", ""))
def thread_error(synchronism_error: Reals, thread_pitch: Reals) -> Reals:
    """What the lag makes of a thread that is cut [m]; thread_pitch [m]."""
    return synchronism_error / (2 * math.pi) * thread_pitch


@quantity("A", symbol="I_m", source="power over voltage, √3 between lines of three phases",
          formula="d·P_n ÷ (η_m·cos φ·U), ÷ √3 on three phases", label="Current of the mains")
def spindle_input_current(
    rated_power: Reals, motor_efficiency: Reals, motor_power_factor: Reals, mains_voltage: Reals, phases_in: Reals,
    single_phase_derate: Reals,
) -> Reals:
    """What it draws from the mains at its rated power [A]."""
    power = phase_share(phases_in, single_phase_derate) * rated_power
    return power / (motor_efficiency * motor_power_factor * mains_voltage) / (math.sqrt(3) if phases_in == 3 else 1.0)
