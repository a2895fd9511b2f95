"""Judgements on the two belts of a pair of axes: equal tones, equal softness."""

from __future__ import annotations

from urban_mule.core.load.fellow import Fellow
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import size

TONES_APART = 0.03  # share by which the tones of both belts may differ
SOFTER = 0.1  # share by which their stiffness may: more than a push by hand scatters
ASKEW = "Unequal belts pull the gantry askew: circles and squares come out skewed."


def plucked(solution: Solution) -> bool:
    """Whether this is an axis of a pair, and a belt of it was plucked."""
    return solution.get("fellow") is not None and solution.get("tone_reading") is not None


def pushed(solution: Solution) -> bool:
    """Whether this is an axis of a pair that was pushed along a diagonal."""
    push = solution.get("push_reading")
    return solution.get("fellow") is not None and push is not None and bool(push.direction)


@check("tones of both belts", stage="Slack", applies=plucked)
def tones_agree(pair_tone_difference: Reals, tone_tension: float, fellow: Fellow) -> Verdict:
    """Whether both belts of a pair pull alike."""
    other, share = float(fellow.tone_tension or 0.0), float(pair_tone_difference)
    said = (f"This belt pulls {size(tone_tension)} N, that of {fellow.name} {size(other)} N: at equal spans"
            f" {size(100 * share)} % in tone")
    if share > TONES_APART:
        slacker = "this one" if tone_tension < other else f"that of {fellow.name}"
        return Verdict("tight", f"{said}, more than {size(100 * TONES_APART)} %.",
                       f"Tighten {slacker} until both sound alike, moving the gantry to the same place each time.", ASKEW, 0.1)
    return Verdict("good", f"{said}.", "Leave both.", ASKEW, 1 - share / TONES_APART)


@check("softer belt", stage="Slack", applies=pushed)
def belts_alike(pair_stiffness_ratio: Reals) -> Verdict:
    """Which belt of a pair is softer, by pushes along both diagonals. Raises NotKnown while one is missing."""
    ratio = float(pair_stiffness_ratio)
    if abs(ratio - 1) > SOFTER:
        softer = "B" if ratio > 1 else "A"
        return Verdict("tight", f"Belt {softer} is softer: pushed along its diagonal the gantry gives"
                       f" {size(max(ratio, 1 / ratio))} times as much as along the other.",
                       f"Tighten belt {softer}; where both sound alike, look for a worn or another belt.", ASKEW, 0.1)
    return Verdict("good", f"Both belts are alike: stiffness A over B is {size(ratio)}.", "Leave both.", ASKEW,
                   1 - abs(ratio - 1) / SOFTER)
