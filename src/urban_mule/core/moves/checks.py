"""Judgements on the cycle against the goals."""

from __future__ import annotations

import numpy as np

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.units import LINEAR_UNITS
from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import distance, size


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
    metres = unit in LINEAR_UNITS
    speed = f"{size(top_speed)} m/s" if metres else f"{size(np.degrees(top_speed))} °/s"
    pace = f"{size(top_acceleration)} m/s²" if metres else f"{size(np.degrees(top_acceleration))} °/s²"
    if travel is not None and cycle_span > travel * (1 + 1e-9):
        return Verdict("short", f"The moves span {distance(cycle_span, unit)}, the travel is {distance(travel, unit)}.",
                       "Shorten the moves, or correct the travel on the Brief.", headroom=0.0)
    if short:
        return Verdict("tight", f"The cycle moves at {speed} and {pace}, below the {' and '.join(short)} the Brief asks for.",
                       "Raise the move, or lower the goal.", headroom=0.2)
    return Verdict("good", f"Moves at {speed} and speeds up at {pace}.", "Nothing to do.", headroom=0.9)
