"""What a ladder allows a servo: nothing is lost on it, so nothing is learnt."""

from __future__ import annotations

from urban_mule.core.brief.limits import Limits
from urban_mule.core.sheet.quantity import quantity


@quantity("", symbol="", source="a servo has no ladder of lost steps", structure=True, formula="no limits")
def ladder_limits() -> Limits:
    """No limit."""
    return Limits()


@quantity("", symbol="v_x", source="a servo holds its place by its loop, not by steps", structure=True, formula="none")
def speeds_to_cross() -> tuple[float, ...]:
    """A servo has no speeds at which steps ring it."""
    return ()
