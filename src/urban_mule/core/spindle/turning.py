"""What lies between motor and tool, how the tool stops, and what that carries away."""

from __future__ import annotations

import math

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.spindle.power import power_for_a_moment, time_over

MOMENTUM = "momentum: J·dω = −T·dt"


@quantity("Hz", symbol="f_z", source="teeth of the tool's pulley that pass a second", formula="z_t·ω_hi ÷ 2π",
          label="Tooth meshing frequency",
          shown="kHz")
def tooth_frequency(tool_teeth: Reals, highest_speed: Reals, transmission: str | None = None) -> Reals:
    """How often teeth meet at the highest speed [Hz]. Raises NotKnown where there are none between motor and tool."""
    if transmission in ("direct", "v-belt"):
        raise NotKnown(f"{transmission} has no teeth", "transmission")
    return tool_teeth * highest_speed / (2 * math.pi)


@quantity("rad/s", symbol="Δω_s", source="a belt creeps by a share of its speed", formula="s·ω_c", label="Speed lost by slip",
          shown="rpm")
def speed_lost_to_slip(slip: Reals, cut_speed: Reals) -> Reals:
    """By how much the tool is slower in the cut [rad/s]; slip: a share."""
    return slip * cut_speed


@quantity("kg·m²", symbol="J", source="referred to the tool", formula="J_t + i²·J_r", label="Inertia of what turns")
def spindle_inertia(inertia: Reals, ratio: Reals, rotor_inertia: Reals) -> Reals:
    """All that turns, as the tool has it [kg·m²]."""
    return inertia + ratio**2 * rotor_inertia


@quantity("J", symbol="E_s", source="energy of what turns", formula="½·J·ω_hi²", label="Energy of what turns")
def spindle_stopping_energy(spindle_inertia: Reals, highest_speed: Reals) -> Reals:
    """What a stop from the highest speed has to take [J]."""
    return spindle_inertia * highest_speed**2 / 2


@quantity("s", symbol="t_st", source=MOMENTUM, formula="J·ω_hi ÷ (T_b + T_f), or ∫ J·dω ÷ (T(ω)/η + T_f) by the drive",
          label="Stopping time")
def spindle_stop_time(
    spindle_inertia: Reals, highest_speed: Reals, stop_by: str, friction_torque: Reals, efficiency: Reals, ratio: Reals,
    brake_torque: Reals = None, peak_torque: Reals = None, rated_power: Reals = None, short_time_power: Reals = None,
    phases_in: Reals = 1, single_phase_derate: Reals = 1.0,
) -> float:
    """Time from the highest speed to standstill [s]; on the way out the losses help. Raises NotKnown for what the way lacks."""
    if stop_by == "drive":
        if peak_torque is None:
            raise NotKnown("what the drive can brake with is not known", "peak_torque")
        power = power_for_a_moment(rated_power, short_time_power, phases_in, single_phase_derate)
        most = peak_torque * ratio
        corner = min(float(power / most), float(highest_speed))
        return float(spindle_inertia) * time_over(corner, float(highest_speed), most / efficiency + friction_torque,
                                                  power / efficiency, friction_torque)
    if stop_by == "brake" and brake_torque is None:
        raise NotKnown("the torque of the brake is not given", "brake_torque")
    against = friction_torque + (brake_torque if stop_by == "brake" else 0.0)
    if not against:
        raise NotKnown("without friction it would turn for ever", "friction_torque")
    return float(spindle_inertia * highest_speed / against)


@quantity("s", symbol="t_co", source=MOMENTUM, formula="J·ω_hi ÷ T_f", label="Coasting time")
def spindle_coast_time(spindle_inertia: Reals, highest_speed: Reals, friction_torque: Reals) -> float:
    """How long the tool turns on from its highest speed when the power goes and nothing brakes it [s]. Raises NotKnown."""
    if not friction_torque:
        raise NotKnown("the friction of the tool's bearings is not given", "friction_torque")
    return float(spindle_inertia * highest_speed / friction_torque)
