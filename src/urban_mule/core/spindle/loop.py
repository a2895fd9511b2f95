"""The velocity loop of a drive that turns a tool: how fast it may be, and how far the speed sags when the cut begins.

Source: G. Ellis, Control System Design Guide; with T_n = 4/ω_x a step of torque T makes the speed sag by (T/J)·t·e^(−ω_x·t/2).
"""

from __future__ import annotations

import math

from urban_mule.core.motor.loop import LoopPlant, velocity_limit
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity

SOURCE = "G. Ellis, Control System Design Guide"
BELT_DAMPING = 0.03  # damping ratio of a tool on its belt, of this house
SAMPLES_LATE, ABOVE = 1.5, 10.0
RECOVERED = 9.7794  # ω_x·t at which x·e^(1 − x), x = ω_x·t/2, has fallen to a tenth


class SpindleLoop:
    """What the papers of its drive say of its loops, and how fast its velocity loop is set."""

    current_loop_bandwidth: Reals = given("Hz", "f_c", "bandwidth of the current loop, from the papers of the drive", above=0,
        label="Current loop")
    velocity_sample_time: Reals = given("s", "T_s", "how often the drive's velocity loop computes", above=0, shown="µs",
        label="Loop sample time")
    velocity_bandwidth: Reals = given("Hz", "f_v", "how fast the velocity loop is set; empty takes its limit", above=0, most=1e4)


@quantity("Hz", symbol="f_x", source=f"{SOURCE}: the margin as the greatest sensitivity", label="Velocity loop, limit", sought=True,
          formula="greatest ω_x/2π with max |1/(1 + L_v)| ≤ 2, the tool on its belt as a spring")
def spindle_bandwidth_limit(
    spindle_inertia: Reals, inertia: Reals, ratio: Reals, rotor_inertia: Reals, current_loop_bandwidth: Reals,
    velocity_sample_time: Reals, belt_stiffness: Reals = None,
) -> float:
    """How fast the velocity loop may cross [Hz]; without a stiffness the tool sits firmly on the motor. Raises NotKnown."""
    dip = peak = None
    if belt_stiffness is not None and inertia:
        dip = math.sqrt(float(belt_stiffness) / float(inertia))
        peak = dip * math.sqrt(1 + float(inertia) / float(ratio**2 * rotor_inertia))
    fastest = max(float(current_loop_bandwidth), 1 / float(velocity_sample_time), 0.0 if peak is None else peak / (2 * math.pi))
    return velocity_limit(LoopPlant(
        float(spindle_inertia), dip, peak, BELT_DAMPING, 1 / (2 * math.pi * float(current_loop_bandwidth)), 0.0,
        SAMPLES_LATE * float(velocity_sample_time), None, ABOVE * fastest))


@quantity("Hz", symbol="f_v", source="as set; else the limit of the loop", formula="as given; else the limit", sought=True,
          label="Velocity loop speed")
def spindle_bandwidth(velocity_bandwidth: Reals = None, spindle_bandwidth_limit: Reals = None) -> Reals:
    """How fast the velocity loop is [Hz]. Raises NotKnown where nothing says it."""
    if velocity_bandwidth is None and spindle_bandwidth_limit is None:
        raise NotKnown("neither its velocity loop nor what its drive is like is given", "velocity_bandwidth")
    return velocity_bandwidth if velocity_bandwidth is not None else spindle_bandwidth_limit


@quantity("rad/s", symbol="Δω", source=SOURCE, formula="2·T_c ÷ (e·ω_x·J)", shown="rpm", sought=True, label="Sag as the cut begins")
def speed_sag(cutting_torque: Reals, spindle_bandwidth: Reals, spindle_inertia: Reals) -> Reals:
    """By how much the tool is slower at worst when the whole cut begins at once [rad/s]."""
    return 2 * cutting_torque / (math.e * 2 * math.pi * spindle_bandwidth * spindle_inertia)


@quantity("", symbol="Δω/ω", source="sag over the speed of the cut", formula="Δω ÷ ω_c", shown="%", sought=True,
          label="Sag, of the speed")
def speed_sag_share(speed_sag: Reals, cut_speed: Reals) -> Reals:
    """The sag as a share of the speed of the cut."""
    return speed_sag / cut_speed


@quantity("s", symbol="t_r", source=SOURCE, formula="9.78 ÷ ω_x", shown="ms", sought=True, label="Recovery from the sag")
def sag_recovery_time(spindle_bandwidth: Reals) -> Reals:
    """How long until a tenth of the sag is left [s]."""
    return RECOVERED / (2 * math.pi * spindle_bandwidth)
