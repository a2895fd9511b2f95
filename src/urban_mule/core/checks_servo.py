"""Judgements that only a servo needs."""

from __future__ import annotations

from urban_mule.core.checks import share_of, size
from urban_mule.core.verdict import Verdict, check


@check("continuous torque", stage="Motor")
def continuous_torque(continuous_margin: float) -> Verdict:
    """RMS torque of the cycle against what the servo may give all the time."""
    said = f"The servo may give {size(continuous_margin)} times the RMS torque all the time"
    if continuous_margin < 1:
        return Verdict("short", f"{said}: it overheats.", "Take one size up, or a slower cycle.", headroom=0.0)
    if continuous_margin < 1.3:
        return Verdict("tight", f"{said}.", "One size up is the usual school.", headroom=share_of(continuous_margin, 1, 1.3))
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=share_of(continuous_margin, 1, 1.3))
