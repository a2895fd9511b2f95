"""Judgements on a positioning run."""

from __future__ import annotations

import math
from typing import Any

from urban_mule.core.proof.shares import repair_of
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.verdict import Verdict, check, taken
from urban_mule.core.sheet.wording import distance, microns, microns_sure, size

GAUGE_SHARE, DRIFTS = 0.25, 0.25  # of the accuracy wanted
SELDOM = 0.05  # share of drives below which a goal is worth a second thought
MOST_NAMED = 4  # points that a sentence bears


@check("accuracy", stage="Proof", main=True)
def accuracy_against_goal(positioning_accuracy: float, accuracy_wanted: float, unit: str,
                          error_shares: dict[str, float], proof_gauge_uncertainty: Reals = None,
                          positioning_accuracy_uncertainty: Reals = None) -> Verdict:
    """Bidirectional accuracy against the goal of the Brief, and what dominates the error."""
    share = positioning_accuracy / accuracy_wanted
    main = max(error_shares, key=lambda name: error_shares[name])
    repair = repair_of(main)
    a = microns_sure(positioning_accuracy, positioning_accuracy_uncertainty, unit)
    said = f"Accuracy A is {a}, {size(100 * share)} % of what the Brief asks for."
    if share > 1:
        return Verdict("short", said, repair, "ISO 230-2, k = 2.", 0.0)
    if share > 0.8:
        return Verdict("tight", said, repair, "ISO 230-2, k = 2.", (1 - share) * 1.5)
    if proof_gauge_uncertainty is None:
        return Verdict("tight", f"{said} How good the gauge of the run is, is not said.",
                       "Name the gauge under Readings, with its uncertainty; then it is proven.", "ISO 230-2, k = 2.", 0.3)
    return Verdict("good", said, "Proven. Write it down and repeat it when something changes.", "ISO 230-2, k = 2.",
                   1 - share * 0.7)


def not_run(solution: Solution) -> bool:
    """Whether no positioning run is taken yet."""
    return solution.get("positioning_reading") is None


@check("expected accuracy", stage="Proof", applies=not_run)
def expected_against_goal(
    expected_accuracy: float, expected_accuracy_uncertainty: float, expected_accuracy_corrected: float,
    expected_accuracy_corrected_uncertainty: float, unit: str, accuracy_wanted: Reals = None,
) -> Verdict | None:
    """What drives of this sort usually come to, against the goal of the Brief, before anything is measured."""
    if accuracy_wanted is None:
        return None
    built = microns_sure(expected_accuracy, expected_accuracy_uncertainty, unit)
    corrected = microns_sure(expected_accuracy_corrected, expected_accuracy_corrected_uncertainty, unit)
    said = (f"Drives of this sort usually come to {built} as built and {corrected} with scale and backlash corrected;"
            f" {microns(accuracy_wanted, unit)} are wanted")
    width = expected_accuracy_corrected_uncertainty / expected_accuracy_corrected if expected_accuracy_corrected else 0.0
    reach = 0.5 * math.erfc(-math.log(accuracy_wanted / expected_accuracy_corrected) / width / math.sqrt(2)) if width else 1.0
    if reach < SELDOM:
        return Verdict("tight", f"{said}: few reach that.", "Take a finer drive, or count on correcting what repeats; the"
                       " working of the number shows its parts.", "From what such drives usually are, not from this one.", 0.1)
    told = "nearly all reach that" if reach > 1 - SELDOM else f"about {round(20 * reach)} of 20 reach that"
    return Verdict("unknown", f"{said}: {told}.", "A positioning run proves it.",
                   "From what such drives usually are, not from this one.", missing=("positioning_reading",))


@check("gauge", stage="Proof", applies=lambda solution: solution.get("proof_gauge_uncertainty") is not None)
def gauge_suits(accuracy_wanted: float, unit: str, proof_gauge_uncertainty: float) -> Verdict:
    """Whether the gauge is good enough for the accuracy that is claimed."""
    share = proof_gauge_uncertainty / accuracy_wanted
    said = f"The gauge is good for {microns(proof_gauge_uncertainty, unit)}, {size(100 * share)} % of the accuracy wanted."
    if share > GAUGE_SHARE:
        return Verdict("tight", said, "At most a quarter serves for such a claim: take a better gauge, or claim less.",
                       headroom=0.2)
    return Verdict("good", said, "Nothing to do.", headroom=float(min(1.0, 1 - share)))


@check("drift", stage="Proof", applies=taken("drift_reading"))
def drift_settles(drift_final: float, warm_up_time_needed: float, unit: str, accuracy_wanted: Reals = None) -> Verdict:
    """How long to warm up before accuracy is proven."""
    said = f"It drifts by {microns(abs(drift_final), unit)} while it warms"
    wait = f"Warm up for {size(warm_up_time_needed / 60)} minutes before it works, and before it is measured."
    if accuracy_wanted is None:
        return Verdict("unknown", f"{said}; the accuracy wanted is not given.", "Give it on the Brief.",
                       missing=("accuracy_wanted",))
    share = abs(drift_final) / accuracy_wanted
    if share > DRIFTS:
        return Verdict("tight", f"{said}, {size(100 * share)} % of the accuracy wanted.", wait, headroom=0.2)
    return Verdict("good", f"{said}, {size(100 * share)} % of the accuracy wanted.", "Nothing to do.", headroom=float(1 - share))


@check("table", stage="Proof", applies=taken("positioning_reading"))
def table_is_worth_it(correction_points: list[dict[str, Any]], accuracy_with_all: float, positioning_accuracy: float, unit: str,
                      accuracy_promised: dict[str, float] | None = None) -> Verdict | None:
    """Which points of the correction table would correct scatter."""
    idle = [one for one in correction_points if not one["worth"]]
    left = accuracy_with_all if accuracy_promised is None else accuracy_promised["all"]
    if not idle:
        return None
    said = ", ".join(distance(one["target"], unit) for one in idle[:MOST_NAMED])
    more = "" if len(idle) <= MOST_NAMED else f" and {len(idle) - MOST_NAMED} more"
    if len(idle) == len(correction_points):
        return Verdict("tight", f"All {len(idle)} points lie within their own scatter: a table would correct nothing but that.",
                       "Leave it, or take more repeats.", headroom=0.3)
    return Verdict("good", f"{len(idle)} of {len(correction_points)} points are not worth correcting, at {said}{more}: their"
                   f" mean lies within its own uncertainty. A table and backlash make {microns(left, unit)} of"
                   f" {microns(positioning_accuracy, unit)}.", "Nothing to do.", headroom=0.6)
