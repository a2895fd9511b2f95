"""Judgements on the gains that somebody set, against what the loops bear."""

from __future__ import annotations

import math

from urban_mule.core.motor.loop import MOST_SENSITIVE, POSITION_SENSITIVE, VelocityLoop
from urban_mule.core.ring.gains import Loops
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.verdict import Verdict, Way, check
from urban_mule.core.sheet.wording import size, typed

SAME = 1.001  # times a limit that still counts as at it: a gain that was read off at three digits
HAND = "A hand on the stop, low torque first."


@check("velocity gain", stage="Ring", applies=lambda solution: solution.get("velocity_gain") is not None)
def velocity_gain_holds(velocity_gain: float, velocity_gain_limit: float, velocity_loop_to_set: VelocityLoop) -> Verdict:
    """The velocity gain that is set, against where the loop sings."""
    least, share = float(velocity_gain_limit), float(velocity_gain / velocity_gain_limit)
    ways = (Way(f"set {typed(least, 3)} N·m·s/rad", {"velocity_gain": float(typed(least * 0.999, 3))}),)
    if not math.isfinite(velocity_loop_to_set.sensitivity):
        return Verdict("short", f"The velocity loop sings: its gain is {size(share)} times what this train lets it be.",
                       HAND, headroom=0.0, measure=-share, ways=ways)
    worst = f"a disturbance grows to {size(velocity_loop_to_set.sensitivity)} times itself at worst"
    if share > SAME and velocity_loop_to_set.sensitivity > MOST_SENSITIVE:
        return Verdict("tight", f"The velocity gain is {size(share)} times the limit: {worst}.", HAND, headroom=0.2, measure=-share,
                       ways=ways)
    return Verdict("good", f"The velocity gain is {size(100 * share)} % of the limit: {worst}.", "Nothing to do.",
                   headroom=max(0.3, 1 - share / 2))


@check("position gain", stage="Ring", applies=lambda solution: solution.get("position_gain") is not None)
def position_gain_holds(position_gain: float, loops_to_set: Loops, position_gain_rule: Reals = None) -> Verdict:
    """The position gain that is set, against its loop and against what lets the load ring."""
    said = f"A position gain of {size(position_gain)} 1/s"
    if not math.isfinite(loops_to_set.position_sensitivity):
        return Verdict("short", f"{said} makes the axis swing by itself.", f"Take half, and look again. {HAND}", headroom=0.0,
                       measure=-position_gain)
    grows = f"a disturbance grows to {size(loops_to_set.position_sensitivity)} times itself"
    if loops_to_set.position_sensitivity > POSITION_SENSITIVE * SAME:
        return Verdict("tight", f"{said} overshoots: {grows}.",
                       "Position gain down by a fifth, or a quicker velocity loop first.", headroom=0.2, measure=-position_gain)
    if position_gain_rule is not None and position_gain > SAME * position_gain_rule:
        rule = size(float(position_gain_rule))
        return Verdict("tight", f"{said} lets the load ring on its train; the rule of thumb is {rule} 1/s.",
                       "The motor follows all the same: the encoder does not see it.", headroom=0.3, measure=-position_gain)
    return Verdict("good", f"{said} holds.", "Nothing to do.", headroom=0.7)
