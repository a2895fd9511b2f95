"""Servo: peak and continuous torque over speed, limited by the supply. Gives the names of stepper where they apply."""

from __future__ import annotations

import numpy as np

from urban_mule.core.given import Reals, given
from urban_mule.core.load import CycleTorque
from urban_mule.core.margin import TorqueCurve
from urban_mule.core.profile import Pieces, lift
from urban_mule.core.record import record
from urban_mule.core.sheet import NotKnown, quantity


class ServoMotor:
    """What the data sheet of a servo says."""

    rated_torque: Reals = given("N·m", "T_n", "torque it may give all the time", above=0)
    motor_peak_torque: Reals = given("N·m", "T_p", "torque it may give for a short time", above=0)
    rated_speed: Reals = given("rad/s", "ω_n", "speed up to which the peak torque holds", above=0)
    max_speed: Reals = given("rad/s", "ω_0", "speed at which the torque has gone", above=0)
    rated_voltage: Reals = given("V", "V_n", "supply at which the speeds are stated", above=0)
    peak_time: Reals = given("s", "t_p", "how long the peak torque may last at a time", above=0)
    counts_per_turn: Reals = given("", "N_c", "encoder counts in one turn", whole=True, least=1)


class ServoDriver:
    """What is set on a servo driver: its electronic gear, encoder counts moved by a number of pulses."""

    electronic_gear_numerator: Reals = given("", "g_n", "encoder counts", default=1, whole=True, least=1)
    electronic_gear_denominator: Reals = given("", "g_d", "pulses that move them", default=1, whole=True, least=1)


@record(frozen=True, eq=False, repr=False)
class ServoCurve:
    """Flat to the rated speed, then straight to zero at the maximum speed; call it with speeds [rad/s] on the last axis."""

    torque: Reals
    flat_to: Reals
    zero_at: Reals

    def __call__(self, speed: Reals) -> Reals:
        flat, zero = lift(self.flat_to), lift(self.zero_at)
        return lift(self.torque) * np.clip((zero - speed) / (zero - flat), 0.0, 1.0)


@quantity("", symbol="k_V", source="speed limits scale with the voltage there is, at most 1",
          formula="min(1, (supply − drop) ÷ rated voltage)")
def voltage_share(supply_voltage: Reals, voltage_drop: Reals, rated_voltage: Reals) -> Reals:
    """Share of the stated speeds that this supply allows; all [V]. Raises NotKnown when nothing is left."""
    share = np.minimum(1.0, (supply_voltage - voltage_drop) / rated_voltage)
    if np.all(np.asarray(share) <= 0):
        raise NotKnown("the voltage drop leaves nothing of the supply")
    return share


def curve(torque: Reals, rated_speed: Reals, max_speed: Reals, voltage_share: Reals) -> ServoCurve:
    """A torque limit over speed at this supply. Raises NotKnown when the maximum speed is not above the rated one."""
    if np.any(np.asarray(max_speed) <= rated_speed):
        raise NotKnown("the maximum speed is not above the rated speed")
    return ServoCurve(torque, rated_speed * voltage_share, max_speed * voltage_share)


@quantity("", symbol="T_p(ω)", source="data sheet limits, straight between them", structure=True,
          formula="peak torque to ω_n·k_V, straight to 0 at ω_0·k_V")
def torque_curve(
    motor_peak_torque: Reals, rated_speed: Reals, max_speed: Reals, voltage_share: Reals
) -> TorqueCurve:
    """What the servo can give for a short time; torque [N·m], speeds [rad/s]."""
    return curve(motor_peak_torque, rated_speed, max_speed, voltage_share)


@quantity("", symbol="T_n(ω)", source="data sheet limits, straight between them", structure=True,
          formula="rated torque to ω_n·k_V, straight to 0 at ω_0·k_V")
def continuous_curve(rated_torque: Reals, rated_speed: Reals, max_speed: Reals, voltage_share: Reals) -> TorqueCurve:
    """What the servo can give all the time; torque [N·m], speeds [rad/s]."""
    return curve(rated_torque, rated_speed, max_speed, voltage_share)


@quantity("N·m", symbol="T_st", source="data sheet limit")
def stall_torque(motor_peak_torque: Reals) -> Reals:
    """What the motor could put into the train when it stalls; motor_peak_torque [N·m]."""
    return motor_peak_torque


@quantity("rad/s", symbol="ω_m", source="time mean over the whole cycle, dwells included", formula="∑ |Δθ| ÷ T")
def mean_speed(cycle_pieces: Pieces, cycle_duration: Reals, travel_per_radian: Reals) -> Reals:
    """Mean shaft speed of the cycle, where its RMS torque is held against what the servo may give all the time."""
    way = np.sum(np.abs(cycle_pieces.distance) * cycle_pieces.times, axis=-1)
    return way / travel_per_radian / cycle_duration


@quantity("", symbol="m_c", source="continuous limit over RMS torque")
def continuous_margin(rated_torque: Reals, rms_torque: Reals) -> Reals:
    """How many times the RMS torque the servo may give all the time; both [N·m]."""
    return rated_torque / rms_torque


@quantity("[travel]", symbol="s", source="kinematics: one pulse moves as many counts as the electronic gear says")
def step_length(
    travel_per_turn: Reals, counts_per_turn: Reals, electronic_gear_numerator: Reals, electronic_gear_denominator: Reals
) -> Reals:
    """Travel for one pulse; travel_per_turn [travel]."""
    return travel_per_turn * electronic_gear_numerator / (counts_per_turn * electronic_gear_denominator)


@quantity("rad/s", symbol="ω_lim", source="data sheet limit, scaled with the voltage there is")
def speed_limit(max_speed: Reals, voltage_share: Reals) -> Reals:
    """Shaft speed at which this supply leaves no torque; max_speed [rad/s]."""
    return max_speed * voltage_share


@quantity("s", symbol="t_>", source="longest run of pieces above the rated torque", formula="longest time with |T| > T_n")
def time_above_rated(cycle_torque: CycleTorque, cycle_pieces: Pieces, rated_torque: float) -> float:
    """Longest time at a stretch in which the cycle asks more than the rated torque [N·m], for a single build."""
    above = np.maximum(np.abs(cycle_torque.start), np.abs(cycle_torque.end)) > rated_torque * (1 + 1e-9)
    longest = run = 0.0
    for over, duration in zip(above, cycle_pieces.duration, strict=True):
        run = run + float(duration) if over else 0.0
        longest = max(longest, run)
    return longest


@quantity("W", symbol="N_x", source="a proxy of this house: torque worked with times shaft speed; it only ranks")
def noise_proxy(rms_torque: Reals, peak_speed: Reals) -> Reals:
    """How loud a motor is likely to be beside another on the same axis; rms_torque [N·m], peak_speed [rad/s]."""
    return rms_torque * peak_speed
