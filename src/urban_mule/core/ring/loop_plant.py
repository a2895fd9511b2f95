"""What a servo's loops act on: inertia on a spring behind a delay; and what is set in the drive around it.

Source: G. Ellis, Control System Design Guide; the delay of a sampled loop as one and a half samples.
"""

from __future__ import annotations

import math

from urban_mule.core.motor.loop import LoopPlant
from urban_mule.core.ring.modes import Mode
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import quantity

SOURCE = "G. Ellis, Control System Design Guide"
USUAL_DAMPING = 0.02  # damping ratio of the axial mode until a record tells it
SAMPLES_LATE = 1.5  # of the velocity loop: half a sample held, one computed
ABOVE = 10.0  # times the fastest of drive and train up to which is looked
VELOCITY_GAINS = ("N·m·s/rad", "rad/s", "Hz")
INTEGRALS = ("ms", "1/s")
POSITION_GAINS = ("1/s", "m/min per mm")


class ServoLoops:
    """What the drive's papers say of its loops, and in which way it takes its gains."""

    current_loop_bandwidth: Reals = given("Hz", "f_c", "bandwidth of the current loop, from the papers of the drive", above=0,
        label="Current loop")
    velocity_sample_time: Reals = given("s", "T_s", "how often the drive's velocity loop computes", above=0, shown="µs",
        label="Loop sample time")
    torque_filter_time: Reals = given("s", "T_f", "time constant of the low-pass of the torque command", default=0.0, least=0,
        shown="ms", label="Torque filter")
    velocity_feedforward: Reals = given("", "k_ff", "share of the commanded speed that is given to the velocity loop at once",
        default=0.0, least=0, most=1, label="Feedforward")
    mode_damping: Reals = given("", "ζ_a", "damping ratio of the load on its train; a record tells it, else 0.02", above=0,
        most=0.99, label="Axial damping")
    notch_frequency: Reals = given("Hz", "f_n", "middle of the notch in the torque command; empty for none", above=0, most=20_000)
    notch_width: Reals = given("", "b_n", "width of the notch as a share of its frequency", default=0.5, above=0, most=4)
    notch_depth: Reals = given("", "d_n", "what the notch leaves in its middle, as a share", default=0.1, above=0, most=1)
    velocity_gain_unit: str | None = given(
        "", "", "how the drive takes its velocity gain", choices=VELOCITY_GAINS,
        label="Velocity gain unit")
    velocity_integral_unit: str | None = given("", "", "how the drive takes its integral", choices=INTEGRALS,
        label="Integral unit")
    position_gain_unit: str | None = given(
        "", "", "how the drive or the controller takes its position gain", choices=POSITION_GAINS,
        label="Position unit")


@quantity("", symbol="ζ_a", source="the record's mode nearest to the axial one; else as given; else 0.02",
          formula="ζ of the mode with the least |ln f ÷ f_1|", label="Damping of the axial mode, used")
def axial_damping(
    first_axial_mode: Reals = None, modes: tuple[Mode, ...] | None = None, mode_damping: Reals = None
) -> float:
    """Damping ratio of the load on its train."""
    if modes and first_axial_mode:
        return min(modes, key=lambda mode: abs(math.log(mode.frequency / float(first_axial_mode)))).damping_ratio
    return USUAL_DAMPING if mode_damping is None else float(mode_damping)


@quantity("kg·m²", symbol="J", source="rotor, train and load at the motor", formula="J_s + m·r² ÷ n", label="Inertia of the loop")
def loop_inertia(turning_inertia: Reals, moved_inertia: Reals, motor_count: Reals, travel_per_radian: Reals) -> Reals:
    """What one motor's loop turns [kg·m²]."""
    return turning_inertia + moved_inertia * travel_per_radian**2 / motor_count


@quantity("s", symbol="T_σ", source="sum of what is quick beside the loop", formula="1/2πf_c + T_f + 1.5·T_s", shown="ms",
          label="Sum of the small times")
def small_time_constant(current_loop_bandwidth: Reals, velocity_sample_time: Reals, torque_filter_time: Reals) -> Reals:
    """What the velocity loop waits for [s]."""
    return 1 / (2 * math.pi * current_loop_bandwidth) + torque_filter_time + SAMPLES_LATE * velocity_sample_time


@quantity("", symbol="G", source=SOURCE, structure=True, label="What the loop acts on",
          formula="1/(J s)·(s²/ω_a² + 2ζ_a s/ω_a + 1)/(s²/ω_r² + 2ζ_r s/ω_r + 1)·e^(−1.5T_s s)/((1 + s/2πf_c)(1 + s T_f))")
def loop_plant(
    loop_inertia: float, current_loop_bandwidth: float, velocity_sample_time: float, torque_filter_time: float,
    axial_damping: float, notch_width: float, notch_depth: float, first_axial_mode: Reals = None, free_resonance: Reals = None,
    notch_frequency: Reals = None,
) -> LoopPlant:
    """The axis as its velocity loop sees it; without a stiffness it is rigid."""
    dip, peak = ((None, None) if first_axial_mode is None or free_resonance is None else
                 (2 * math.pi * float(first_axial_mode), 2 * math.pi * float(free_resonance)))
    notch = None if notch_frequency is None else (2 * math.pi * float(notch_frequency), float(notch_width), float(notch_depth))
    fastest = max(float(current_loop_bandwidth), 1 / float(velocity_sample_time), 0.0 if peak is None else peak / 2 / math.pi)
    return LoopPlant(float(loop_inertia), dip, peak, axial_damping, 1 / (2 * math.pi * float(current_loop_bandwidth)),
                     float(torque_filter_time), SAMPLES_LATE * float(velocity_sample_time), notch, ABOVE * fastest)
