"""What is said of the curves that a data sheet prints: how well they fit a winding, what in the figures they contradict."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.motor.printed import FITS, PrintedCurve
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.core.sheet.wording import size

APART = {"inductance": 1.5, "resistance": 1.25, "torque constant": 1.2}  # times: beyond it the curve contradicts a figure
TOO_OPEN = 0.15  # of its height and width, within which a curve made for another setting must be known
FROM_THE_FIT = "Least squares over the points; the sheet's other figures only bound it softly. ± holds 95 of 100, across the curve."


def is_printed(solution: Solution) -> bool:
    """Whether a curve is printed at all."""
    return solution.get("printed_curves") is not None


def apart(what: str, fitted: Reals, stated: Reals, unit: str, one: float) -> str:
    """That a curve asks for another figure than the sheet says, or nothing."""
    if stated is None or abs(math.log(float(fitted) / stated)) <= math.log(APART[what]):
        return ""
    return (f"it asks for {size(float(fitted) / one)} {unit} of {what}; the figures say {size(stated / one)} {unit}."
            " Is the curve for another wiring, or a figure misread?")


def fits(deviation: Reals, odd: str, doubt: float, setting: str, bare: bool) -> Verdict:
    """A curve that fits, with what is odd of it, and how well [1] the curve at a setting follows; bare: no resistance is given."""
    off = 100 * float(np.median(deviation))
    said = f"The printed curve fits a winding within {size(off, 2)} %"
    if odd:
        return Verdict("tight", f"{said}, but {odd}", "Compare the figures and the points with the data sheet; the curve is used.",
                       FROM_THE_FIT, 0.3)
    if doubt > TOO_OPEN:
        known = "the curve is not known" if not math.isfinite(doubt) else f"the curve is known to ± {size(100 * doubt, 2)} % only"
        more = "Give the phase resistance, or points" if bare else "Give points"
        return Verdict("tight", f"{said}; {setting} {known}.", f"{more} farther along the falling part.", FROM_THE_FIT, 0.3)
    return Verdict("good", f"{said}; {setting} the curve is known to ± {size(100 * doubt, 2)} %.", "Nothing to do.", FROM_THE_FIT,
                   1 - doubt / TOO_OPEN)


def fits_none(curve: PrintedCurve, deviation: Reals, current: str = "") -> Verdict:
    """A curve that fits no winding."""
    off = 100 * float(np.median(deviation))
    return Verdict("tight", f"The printed curve lies {size(off, 2)} % off the nearest winding, more than {100 * FITS:g} %: it is"
                   f" used as it is printed, at {size(curve.printed_voltage)} V{current} only.",
                   "Compare its points with the data sheet, above all their units.", FROM_THE_FIT, 0.2)
