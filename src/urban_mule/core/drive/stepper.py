"""What is set on a stepper driver: current, microsteps, idle current, and what they do to position."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.sheet.doubt import SET_CURRENT
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity


class Driver:
    """What the user knows of a stepper driver, its supply aside."""

    current_peak: Reals = given("A", "I", "set phase current, peak", above=0, label="Current, peak", doubt=SET_CURRENT)
    microsteps: Reals = given("", "N", "microsteps for one full step", whole=True, least=1, plural=True)
    hold_fraction: Reals = given("", "h", "share of the current while idle", default=1.0, least=0, most=1,
        label="Current while idle", shown="%")
    current_limit: Reals = given("A", "I_lim", "most the driver gives, peak, as it is cooled", above=0,
        label="Driver current limit")


@quantity("A", symbol="I_rms", source="a sine of that peak", label="Current, RMS")
def current_rms(current_peak: Reals) -> Reals:
    """The set current as an RMS value; current_peak [A]."""
    return current_peak / math.sqrt(2)


@quantity("", symbol="I/I_r", source="set current over rated current, both peak")
def current_share(current_peak: Reals, rated_current_peak: Reals) -> Reals:
    """How much of the rated current is set; both [A]."""
    return current_peak / rated_current_peak


@quantity("", symbol="n_s", source="definition", formula="2π ÷ α")
def full_steps_per_turn(step_angle: Reals) -> Reals:
    """Full steps for one turn of the motor; step_angle [rad]."""
    steps = 2 * math.pi / step_angle
    return np.where(abs(steps - np.round(steps)) < 1e-6 * steps, np.round(steps), steps)[()]


@quantity("[travel]", symbol="s", source="kinematics", label="Travel of one pulse", shown=("µm", ""))
def step_length(travel_per_turn: Reals, full_steps_per_turn: Reals, microsteps: Reals) -> Reals:
    """Travel for one pulse; travel_per_turn [travel]."""
    return travel_per_turn / (full_steps_per_turn * microsteps)


@quantity("N·m", symbol="T_µ", source="slope of the sine: one microstep away from rest", label="Incremental torque")
def incremental_torque(set_torque: Reals, microsteps: Reals) -> Reals:
    """Torque that the first microstep builds up; set_torque [N·m]."""
    return set_torque * np.sin(math.pi / 2 / microsteps)


@quantity("", symbol="N_rev", source="change of lag on the magnetic spring between creeping to plus and to minus",
          formula="[asin(T₊/T_set) − asin(T₋/T_set)] ÷ (90°/N)", label="Microsteps lost at a reversal")
def reversal_microsteps(
    creep_torque_plus: Reals, creep_torque_minus: Reals, set_torque: Reals, microsteps: Reals
) -> Reals:
    """Microsteps swallowed at a reversal; torques [N·m]. Raises NotKnown when friction alone takes the whole torque."""
    plus, minus = creep_torque_plus / set_torque, creep_torque_minus / set_torque
    if np.all(np.maximum(abs(plus), abs(minus)) >= 1):
        raise NotKnown("creeping already takes all the torque at the set current")
    return (np.arcsin(plus) - np.arcsin(minus)) / (math.pi / 2 / microsteps)


@quantity("[travel]", symbol="x_rev", source="microsteps swallowed, as travel", label="Lag of the motor at a reversal",
          shown=("µm", ""))
def reversal_lag(reversal_microsteps: Reals, step_length: Reals) -> Reals:
    """Travel lost to the magnetic spring at a reversal; step_length [travel]."""
    return reversal_microsteps * step_length


def each_microstep_moves(
    microsteps: Reals, creep_torque_plus: Reals, creep_torque_minus: Reals, set_torque: Reals
) -> Reals:
    """Whether the torque of one microstep overcomes creeping friction, half the difference of both ways; torques [N·m]."""
    return incremental_torque(set_torque, microsteps) >= abs(creep_torque_plus - creep_torque_minus) / 2


@quantity("", symbol="N_move", source="finest step whose torque still overcomes creeping friction",
          formula="90° ÷ asin(|T₊ − T₋| ÷ 2 T_set)", label="Finest microsteps that still move")
def finest_moving_microsteps(creep_torque_plus: Reals, creep_torque_minus: Reals, set_torque: Reals) -> Reals:
    """Most microsteps at which a single one still moves the load; torques [N·m]. Raises NotKnown."""
    friction = abs(creep_torque_plus - creep_torque_minus) / 2 / set_torque
    if np.all(friction == 0):
        raise NotKnown("no friction is given, so every microstep moves the load")
    if np.all(friction >= 1):
        raise NotKnown("creeping already takes all the torque at the set current")
    return np.floor(math.pi / 2 / np.arcsin(friction))


@quantity("[effort]", symbol="F_h", source="peak of the magnetic spring at the idle current, no friction counted on",
          label="Holding force")
def holding_force(motor_count: Reals, hold_fraction: Reals, set_torque: Reals, travel_per_radian: Reals) -> Reals:
    """What it takes to push the idle axis off its place; set_torque [N·m], travel_per_radian [travel/rad]."""
    return motor_count * hold_fraction * set_torque / travel_per_radian


@quantity("[travel]", symbol="x_j", source="peak of the sine at a lag of one full step; the rotor then jumps four",
          label="Displacement at slip")
def jump_travel(step_angle: Reals, travel_per_radian: Reals) -> Reals:
    """How far the idle axis can be pushed before the rotor jumps; step_angle [rad], travel_per_radian [travel/rad]."""
    return step_angle * travel_per_radian


@quantity("[effort]", symbol="F_slip", source="the idle field lets go of the rotor at its greatest torque",
          formula="n·h·T_set ÷ r", label="Effort at slip")
def slip_effort(set_torque: Reals, hold_fraction: Reals, motor_count: Reals, travel_per_radian: Reals) -> Reals:
    """The push at which the idle motors jump, the train without friction; set_torque [N·m]."""
    return motor_count * hold_fraction * set_torque / travel_per_radian


@quantity("[effort]/[travel]", symbol="k_p0", source="as while idle, the train's own friction holding back part of what reaches the"
          " motor", formula="n ÷ (η_b·r²/(p·h·T_set) + 1/k)", label="Stiffness when pushed, computed")
def stiffness_when_pushed(
    rotor_teeth: Reals, set_torque: Reals, hold_fraction: Reals, travel_per_radian: Reals, motor_count: Reals,
    rest_back_efficiency: Reals, train_stiffness: Reals = None,
) -> Reals:
    """Effort per travel that a push test finds beyond the friction; set_torque [N·m], train_stiffness [effort/travel]."""
    field = rest_back_efficiency * travel_per_radian**2 / (rotor_teeth * hold_fraction * set_torque)
    return motor_count / (field if train_stiffness is None else field + 1 / train_stiffness)


@quantity("[effort]/[travel]", symbol="k_a", source="rotor on its magnetic spring p·T_set, in a row with the train",
          formula="n ÷ (r²/(p·h·T_set) + 1/k)", label="Stiffness while idle")
def axial_stiffness(
    rotor_teeth: Reals, set_torque: Reals, hold_fraction: Reals, travel_per_radian: Reals, motor_count: Reals,
    train_stiffness: Reals = None,
) -> Reals:
    """Effort per travel with which the idle axis answers a small push; set_torque [N·m], train_stiffness [effort/travel]."""
    compliance = travel_per_radian**2 / (rotor_teeth * hold_fraction * set_torque)
    return motor_count / (compliance if train_stiffness is None else compliance + 1 / train_stiffness)
