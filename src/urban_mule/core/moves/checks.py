"""Judgements on the cycle against the goals."""

from __future__ import annotations

from dataclasses import replace

from urban_mule.core.load.cycle import Move
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.units import LINEAR_UNITS
from urban_mule.core.sheet.verdict import Verdict, Way, check
from urban_mule.core.sheet.wording import distance, pace
from urban_mule.core.train.link import Link


@check("cycle", stage="Moves", main=True)
def cycle_is_given(
    top_speed: float, top_acceleration: float, cycle_span: float, unit: str, cycle: tuple[Move, ...], speed_wanted: Reals = None,
    acceleration_wanted: Reals = None, travel: Reals = None, train: tuple[Link, ...] = (),
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
        more = tuple(replace(move, speed=max(move.speed, speed_wanted or 0.0),
                             acceleration=max(move.acceleration, acceleration_wanted or 0.0)) for move in cycle)
        reached = min(value / wanted for value, wanted in ((top_speed, speed_wanted), (top_acceleration, acceleration_wanted))
                      if wanted is not None)
        return Verdict("short", f"The cycle moves at {speed} and {faster}, below the {' and '.join(short)} the Brief asks for.",
                       headroom=0.0, measure=reached, ways=(Way(f"raise the {' and '.join(short)} of its moves", {"cycle": more}),),
                       otherwise="This axis cannot do what the Brief asks as it is: see the goals.")
    said = f"Moves at {speed} and speeds up at {faster}"
    if travel is None and unit in LINEAR_UNITS and not any(link.endless for link in train):  # as a table may be without ends
        return Verdict("unknown", f"{said}; whether the travel has room for it is not known.", "Give the travel on the Brief.",
                       missing=("travel",))
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=0.9)
