"""Judgements on a positioning run."""

from __future__ import annotations

from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import microns, size


@check("accuracy", stage="Proof", main=True)
def accuracy_against_goal(positioning_accuracy: float, accuracy_wanted: float, unit: str,
                          error_shares: dict[str, float]) -> Verdict:
    """Bidirectional accuracy against the goal of the Brief, and what dominates the error."""
    share = positioning_accuracy / accuracy_wanted
    main = max(error_shares, key=lambda name: error_shares[name])
    repair = {
        "reversal": "Most of it is reversal: take out the play, or compensate it.",
        "scatter": "Most of it is scatter: look for play and loose parts; repeat with a better gauge.",
        "scale error": "Most of it is a straight line: correct the steps per unit.",
        "rest along the travel": "Most of it is along the travel: use a correction table.",
    }[main]
    said = f"Accuracy A is {microns(positioning_accuracy, unit)}, {size(100 * share)} % of what the Brief asks for."
    if share > 1:
        return Verdict("short", said, repair, "ISO 230-2, k = 2.", 0.0)
    if share > 0.8:
        return Verdict("tight", said, repair, "ISO 230-2, k = 2.", (1 - share) * 1.5)
    return Verdict("good", said, "Proven. Write it down and repeat it when something changes.", "ISO 230-2, k = 2.",
                   1 - share * 0.7)
