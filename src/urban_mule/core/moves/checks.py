"""Judgements on the cycle against the goals."""

from __future__ import annotations

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import distance, pace


@check("cycle", stage="Moves", main=True)
def cycle_is_given(
    top_speed: float, top_acceleration: float, cycle_span: float, unit: str, speed_wanted: Reals = None,
    acceleration_wanted: Reals = None, travel: Reals = None,
) -> Verdict:
    """What the cycle asks, against the goals of the Brief."""
    short = [
        name for name, value, wanted in (
            ("speed", top_speed, speed_wanted), ("acceleration", top_acceleration, acceleration_wanted))
        if wanted is not None and value < wanted * (1 - 1e-9)
    ]
    speed, faster = pace(top_speed, unit), f"{pace(top_acceleration, unit)}²"
    if travel is not None and cycle_span > travel * (1 + 1e-9):
        return Verdict("short", f"The moves span {distance(cycle_span, unit)}, the travel is {distance(travel, unit)}.",
                       "Shorten the moves, or correct the travel on the Brief.", headroom=0.0)
    if short:
        return Verdict("tight", f"The cycle moves at {speed} and {faster}, below the {' and '.join(short)} the Brief asks for.",
                       "Raise the move, or lower the goal.", headroom=0.2)
    return Verdict("good", f"Moves at {speed} and speeds up at {faster}.", "Nothing to do.", headroom=0.9)
