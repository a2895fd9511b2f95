"""Judgements on measured backlash."""

from __future__ import annotations

import numpy as np

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import microns, size


@check("backlash", stage="Slack", main=True)
def backlash_against_goal(
    backlash: float, reversal_profile: np.ndarray, accuracy_wanted: float, unit: str, backlash_uncertainty: Reals = None
) -> Verdict:
    """Measured backlash against the accuracy that the Brief asks for."""
    share, b = backlash / accuracy_wanted, microns(backlash, unit)
    sure = "" if backlash_uncertainty is None else f" ± {microns(2 * backlash_uncertainty, unit)}"
    school = "Repair first; compensate the small, stable rest."
    if backlash_uncertainty is not None and abs(np.mean(reversal_profile)) <= 2 * backlash_uncertainty and share <= 1:
        return Verdict("good", f"Backlash is {b}{sure}: less than these readings can tell from none.",
                       "Leave it; a finer gauge or more repeats would show more.", school, 1 - share)
    if share > 1:
        return Verdict("short", f"Backlash is {b}{sure}, {size(share)} times the accuracy wanted.",
                       "Find the play: preload, pinion, coupling, belt tension. Then measure again.", school, 0.0)
    if share > 1 / 3:
        return Verdict("tight", f"Backlash is {b}{sure}, {size(100 * share)} % of the accuracy wanted.",
                       "Adjust the preload; compensate what is left.", school, (1 - share) / 2)
    return Verdict("good", f"Backlash is {b}{sure}, {size(100 * share)} % of the accuracy wanted.",
                   "Compensate it, and watch the trend.", school, 1 - share)
