"""How far the gains of a servo go before its loops sing, by the axis with its spring and delay; and the rules of thumb beside.

Sources: G. Ellis, Control System Design Guide (maximum sensitivity as the margin); C. Kessler, Das symmetrische Optimum, 1958.
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from urban_mule.core.motor.loop import INTEGRAL, LoopPlant, VelocityLoop, position_limit_of, velocity_limit
from urban_mule.core.ring.loop_plant import SOURCE
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity

RULE = 0.2  # of 2πf_1: position gain by the rule of thumb


@quantity("Hz", symbol="f_x", source=f"{SOURCE}: the margin as the greatest sensitivity, from below",
          formula="greatest ω_x/2π with max |1/(1 + L_v)| ≤ 2 for it and all lower ones, T_n = 4/ω_x", sought=True,
          label="Velocity loop, limit")
def velocity_bandwidth_limit(loop_plant: LoopPlant) -> float:
    """How fast the velocity loop may cross [Hz]. Raises NotKnown where it is stable at no gain."""
    return velocity_limit(loop_plant)


@quantity("", symbol="", source="the velocity loop at its limit", structure=True, formula="ω_x = 2πf_x, T_n = 4/ω_x", sought=True)
def velocity_loop_limit(loop_plant: LoopPlant, velocity_bandwidth_limit: float) -> VelocityLoop:
    """The velocity loop with the gain at its limit."""
    crossing = 2 * math.pi * velocity_bandwidth_limit
    return VelocityLoop(loop_plant, crossing, INTEGRAL / crossing)


@quantity("N·m·s/rad", symbol="K_p", source=SOURCE, formula="2π·f_x·J", sought=True, label="Velocity gain, limit")
def velocity_gain_limit(velocity_bandwidth_limit: float, loop_inertia: Reals) -> Reals:
    """Torque for a speed error of one at the limit."""
    return 2 * math.pi * velocity_bandwidth_limit * loop_inertia


@quantity("N·m·s/rad", symbol="K_s", source="H. Nyquist, Regeneration Theory, 1932", sought=True,
          formula="J ÷ greatest |P(jω)| where P goes through the negative axis, without integral", label="Gain at which it sings")
def singing_gain(loop_plant: LoopPlant, loop_inertia: Reals) -> float:
    """The velocity gain at which the loop without an integral begins to swing by itself; friction shifts it up. Raises NotKnown."""
    p = loop_plant.opened
    through = np.flatnonzero((p.imag[:-1] * p.imag[1:] < 0) & (p.real[:-1] < 0))
    if not through.size:
        raise NotKnown("nothing in this loop makes it sing")
    return float(loop_inertia / np.abs(p.real[through]).max())


@quantity("s", symbol="T_n", source=SOURCE, formula="4 ÷ ω_x", sought=True, shown="ms", label="Integral time, at the limit")
def velocity_integral_time(velocity_loop_limit: VelocityLoop) -> float:
    """Time of the integral of the velocity loop [s]."""
    return velocity_loop_limit.integral


@quantity("N·m·s/rad", symbol="K_p", source="C. Kessler, Das symmetrische Optimum, 1958; it knows no spring", formula="J ÷ (2·T_σ)",
          label="Velocity gain, by the rule")
def velocity_gain_rule(loop_inertia: Reals, small_time_constant: Reals) -> Reals:
    """Velocity gain by the symmetrical optimum, whose integral time is 4·T_σ."""
    return loop_inertia / (2 * small_time_constant)


@quantity("1/s", symbol="k_v", source=f"{SOURCE}: sensitivity 1.5, peak 1.05", sought=True, label="Position gain, limit",
          formula="greatest k_v with max |1/(1 + L)| ≤ 1.5 and max |L/(1 + L)| ≤ 1.05, L = k_v/s·L_v/(1 + L_v)")
def position_gain_limit(velocity_loop_limit: VelocityLoop) -> float:
    """How much speed the position loop may ask for an error of one, the velocity loop at its limit."""
    return position_limit_of(velocity_loop_limit)


@quantity("1/s", symbol="k_v", source="a rule of thumb: a fifth of where the load swings, the motor held", formula="0.2·2π·f_1",
          label="Position gain, by the rule")
def position_gain_rule(first_axial_mode: Reals) -> Reals:
    """Position gain above which the load rings on its train; first_axial_mode [Hz]."""
    return RULE * 2 * math.pi * first_axial_mode


@quantity("[travel]", symbol="e_f", source="a position loop follows by its gain", formula="v·(1 − k_ff) ÷ k_v", sought=True,
          label="Following error at speed", shown=("µm", ""))
def following_error(top_speed: Reals, velocity_feedforward: Reals, position_gain_limit: float) -> Reals:
    """How far the motor is behind at the top speed, position_gain_limit [1/s]."""
    return top_speed * (1 - velocity_feedforward) / position_gain_limit


@quantity("s", symbol="t_p", source="what follows dies away with the position gain", formula="ln(e_f ÷ τ) ÷ k_v, not below 0",
          sought=True, label="Settling of the position loop", shown="ms")
def position_settle_time(following_error: float, settled_within: float, position_gain_limit: float) -> float:
    """How long after a move until it is within what counts as settled [s]."""
    return max(0.0, math.log(following_error / settled_within) / position_gain_limit) if following_error > 0 else 0.0


@quantity("", symbol="b_l", source="the limit of the same axis without its spring", sought=True,
          formula="1 − f_x ÷ f_x without spring, not below 0", shown="%", label="Bandwidth that the train costs")
def bandwidth_lost(loop_plant: LoopPlant, velocity_bandwidth_limit: float) -> float:
    """What the spring of the train costs of the velocity loop. Raises NotKnown for an axis whose stiffness is not known."""
    if loop_plant.dip is None:
        raise NotKnown("the stiffness of the train is not known", "train")
    rigid = velocity_limit(replace(loop_plant, dip=None, peak=None))
    return max(0.0, 1 - velocity_bandwidth_limit / rigid)
