"""The gains to set on a servo's drive: computed or chosen, in the ways drives take them; what the loops then bear."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from urban_mule.core.load.fellow import Fellow, lower_gain
from urban_mule.core.motor.loop import INTEGRAL, LoopPlant, VelocityLoop, position_limit_of, sensitivity
from urban_mule.core.ring.loop_plant import SOURCE
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

APPROACHES = ("auto-tune", "two numbers", "by hand")


class LoopGains:
    """The gains as somebody chose them by hand; empty takes what is computed."""

    velocity_gain: Reals = given("N·m·s/rad", "K_p", "velocity gain that is set; empty takes the limit of the loop", above=0)
    velocity_integral: Reals = given("s", "T_n", "integral time that is set; empty takes four times that of the gain", above=0,
        shown="ms", label="Integral time")
    position_gain: Reals = given("1/s", "k_v", "position gain that is set; empty takes the lower of limit and rule", above=0)
    gains_by: str | None = given("", "", "how the loops are tuned", choices=APPROACHES, label="Tuned", written_out=(
        "the drive tunes itself, and that is left", "by the inertia ratio and one number of stiffness",
        "by hand: gain up until it sings, then half"))


@record(frozen=True, eq=False, repr=False)
class Loops:
    """Both loops as they are to be set: the velocity loop, k_v [1/s]; how sensitive each is: max |1/(1 + L)|, infinite where it is
    unstable.
    """

    velocity: VelocityLoop
    position_gain: float
    velocity_sensitivity: float
    position_sensitivity: float


@quantity("N·m·s/rad", symbol="K_p", source="as chosen; else the limit of the loop", sought=True,
          formula="as given; else the limit; of two motors that share two axes the lower of both", label="Velocity gain to set")
def velocity_gain_to_set(velocity_gain: Reals = None, velocity_gain_limit: Reals = None, fellow: Fellow | None = None) -> Reals:
    """The velocity gain for the drive [N·m·s/rad]. Raises NotKnown where neither is known."""
    if velocity_gain is None and velocity_gain_limit is None:
        raise NotKnown("what the drive's loops are like is not given", "current_loop_bandwidth", "velocity_sample_time")
    return lower_gain(velocity_gain if velocity_gain is not None else velocity_gain_limit, fellow, "velocity_gain")


@quantity("s", symbol="T_n", source=f"as chosen; else {SOURCE}", sought=True, shown="ms", label="Integral time to set",
          formula="as given; else 4·J ÷ K_p; of two motors that share two axes the longer of both")
def velocity_integral_to_set(
    velocity_gain_to_set: Reals, loop_inertia: Reals, velocity_integral: Reals = None, fellow: Fellow | None = None
) -> Reals:
    """The integral time for the drive [s]; the longer one integrates less. Raises NotKnown."""
    sides = [(velocity_integral, loop_inertia)]
    if fellow is not None:
        sides.append((fellow.velocity_integral, lower_gain(math.inf, fellow, "loop_inertia")))
    times = [chosen if chosen is not None else INTEGRAL * inertia / velocity_gain_to_set for chosen, inertia in sides]
    return times[0] if fellow is None else np.maximum(*times)


@quantity("", symbol="", source="the velocity loop with the gains that are to be set", structure=True, formula="ω_x = K_p/J",
          sought=True)
def velocity_loop_to_set(
    loop_plant: LoopPlant, velocity_gain_to_set: float, velocity_integral_to_set: float, loop_inertia: float
) -> VelocityLoop:
    """The velocity loop as it is to be set."""
    return VelocityLoop(loop_plant, float(velocity_gain_to_set / loop_inertia), float(velocity_integral_to_set))


@quantity("1/s", symbol="k_v", source="as chosen; else the lower of the loop's limit and the rule", sought=True,
          formula="as given; else min (limit with this velocity loop, 0.2·2π·f_1); of two motors that share two axes the lower",
          label="Position gain to set")
def position_gain_to_set(
    velocity_loop_to_set: VelocityLoop, position_gain: Reals = None, position_gain_rule: Reals = None, fellow: Fellow | None = None
) -> float:
    """The position gain for the drive or the controller [1/s]. Raises NotKnown where the loop is stable at none."""
    own = position_gain
    if own is None:
        limit = position_limit_of(velocity_loop_to_set)
        own = limit if position_gain_rule is None else min(limit, float(position_gain_rule))
    return float(lower_gain(own, fellow, "position_gain"))


@quantity("", symbol="L", source=SOURCE, structure=True, formula="L_v and k_v/s·L_v/(1 + L_v)", sought=True)
def loops_to_set(velocity_loop_to_set: VelocityLoop, position_gain_to_set: float) -> Loops:
    """Both loops as they are to be set, and how sensitive they are."""
    return _loops(velocity_loop_to_set, position_gain_to_set)


@lru_cache(maxsize=8)
def _loops(velocity: VelocityLoop, position_gain: float) -> Loops:
    outer = velocity.closed * position_gain / (2j * math.pi * velocity.plant.frequency)
    inner = velocity.sensitivity
    return Loops(velocity, position_gain, inner, sensitivity(outer) if math.isfinite(inner) else math.inf)


@quantity("", symbol="M_s", source=f"{SOURCE}: max |1/(1 + L)|; 2 is the usual limit", formula="max |1/(1 + L_v)|", sought=True,
          label="Sensitivity of the velocity loop")
def velocity_sensitivity(loops_to_set: Loops) -> float:
    """How much the velocity loop makes of a disturbance where it makes most; infinite where it is unstable."""
    return loops_to_set.velocity_sensitivity


@quantity("", symbol="M_s", source=f"{SOURCE}: max |1/(1 + L)|; 1.5 is the usual limit", formula="max |1/(1 + L)|", sought=True,
          label="Sensitivity of the position loop")
def position_sensitivity(loops_to_set: Loops) -> float:
    """The same of the position loop."""
    return loops_to_set.position_sensitivity


def velocity_gain_as(way: str, gain: float, inertia: float) -> float:
    """A velocity gain [N·m·s/rad] as a drive takes it; inertia [kg·m²]."""
    return {"N·m·s/rad": gain, "rad/s": gain / inertia, "Hz": gain / inertia / (2 * math.pi)}[way]


def velocity_gain_from(way: str, number: float, inertia: float) -> float:
    """The velocity gain [N·m·s/rad] that a number in a drive is."""
    return {"N·m·s/rad": number, "rad/s": number * inertia, "Hz": 2 * math.pi * number * inertia}[way]


def integral_as(way: str, integral: float) -> float:
    """An integral time [s] as a drive takes it."""
    return 1000 * integral if way == "ms" else 1 / integral


def position_gain_as(way: str, gain: float) -> float:
    """A position gain [1/s] as a drive or a controller takes it: speed per distance counts metres a minute over millimetres."""
    return gain if way == "1/s" else gain * 60 / 1000
