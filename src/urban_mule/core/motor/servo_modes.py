"""How the axis swings with a servo: its loop is stiff below its bandwidth and lets the rotor go above it."""

from __future__ import annotations

import numpy as np

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity

FREE = "two free masses on a spring; G. Ellis, Control System Design Guide"


@quantity("Hz", symbol="f_r", source=FREE, formula="f_1·√(1 + m·r² ÷ (n·J_s))", label="Free resonance")
def free_resonance(
    first_axial_mode: Reals, turning_inertia: Reals, moved_inertia: Reals, motor_count: Reals, travel_per_radian: Reals
) -> Reals:
    """The resonance of rotor and load against each other [Hz]; first_axial_mode: that of the load, the motor held [Hz]."""
    return first_axial_mode * np.sqrt(1 + moved_inertia * travel_per_radian**2 / (motor_count * turning_inertia))


@quantity("Hz", symbol="0, f_r", source=FREE, formula="0 and the free resonance", label="Resonances with the motor")
def axis_modes(free_resonance: Reals) -> list[Reals]:
    """The resonances above the bandwidth of its loop: turning as a whole, and against each other [Hz]."""
    return [0.0 * free_resonance, free_resonance]


@quantity("Hz", symbol="f_1", source=FREE, label="First resonance")
def first_resonance(first_axial_mode: Reals) -> Reals:
    """The resonance that a record shows: the load on its train, the motor held by its loop [Hz]."""
    return first_axial_mode


@quantity("[travel]", symbol="B_e", source="play, and the part of the wind-up that stays", shown=("µm", ""),
          formula="play + w·wind-up", label="Expected lost motion")
def expected_lost_motion(predicted_lost_motion: Reals, play_at_reversal: Reals, windup_share: Reals) -> Reals:
    """Lost motion at a reversal as a gauge will show it; lengths [travel], windup_share: what stays of the wind-up."""
    return play_at_reversal + windup_share * (predicted_lost_motion - play_at_reversal)


@quantity("[travel]", symbol="x_d", source="the loop of a servo brings its motor back to where it was", shown=("µm", ""),
          formula="0", label="Play hidden from a push by drag")
def play_hidden_by_drag(travel_per_radian: Reals) -> Reals:
    """By how much less travel a push both ways shows: nothing, since the motor is held where it is."""
    return 0.0 * travel_per_radian


@quantity("[travel]", symbol="e_s", source="a servo goes to its encoder's count", formula="0", label="Error of a step",
          shown=("µm", ""))
def step_error() -> float:
    """A servo has no steps that stand off [travel]."""
    return 0.0
