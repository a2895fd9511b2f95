"""Units in which pictures of travel are drawn: a coarse one along the axis, a small one for errors."""

from __future__ import annotations

from urban_mule.core.sheet.units import FACTORS
from urban_mule.desk.model.session import Session


def travel(session: Session) -> tuple[float, str]:
    """What a position is multiplied by, and the unit it is then in."""
    unit = "°" if session.axis.motion == "rotary" else "in" if session.system == "inch" else "mm"
    return 1 / FACTORS[unit], unit


def small(session: Session) -> tuple[float, str]:
    """The same for an error of position."""
    if session.axis.motion == "rotary":
        return 1 / FACTORS["°"], "°"
    return (1000 / FACTORS["in"], "mil") if session.system == "inch" else (1e6, "µm")
