"""Judgements on a measured travel."""

from __future__ import annotations

from urban_mule.core.readings.lengths import LengthsReading
from urban_mule.core.readings.travel import TravelReading
from urban_mule.core.scale.detective import Suspect, plain_ratio
from urban_mule.core.scale.lengths import HARDLY, SCATTERS, TOO_MUCH, WALKS, WRONG_WAY
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import size
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import is_measured

COILS = "A coil that is open or paired wrongly does that: measure the windings (Moves, coils), then measure again."
NO_RATIO: dict[str, tuple[str, str]] = {  # what is said of a measurement that no setting makes, and what to do
    WRONG_WAY: ("It went the other way", "Turn the direction round in one place (Moves, directions), or read the gauge by its sign;"
                " then measure again."),
    HARDLY: ("It hardly moved", "Stop and find why: the motor does not turn, slips, or lost its place. Do not correct it."),
    SCATTERS: ("The repeats scatter more than the scale is off", COILS),
    WALKS: ("The travel changes from repeat to repeat, always the same way", "Something slips: belt, pulley, set screw, coupling or"
            " roller; or steps are lost. Mark shaft and hub with one stroke. No correction mends it."),
}


@check("scale", stage="Scale", main=True)
def scale_correction(
    scale_ratio: float, steps_per_unit: float, scale_reading: TravelReading | LengthsReading,
    scale_doubt: str, scale_ratio_uncertainty: Reals = None, scale_suspects: tuple[Suspect, ...] = (),
    train: tuple[Link, ...] = (),
) -> Verdict:
    """Whether a measured travel asks for a correction, or gives away a wrong setting."""
    off, u = scale_ratio - 1, scale_ratio_uncertainty
    if scale_doubt:
        found, nxt = NO_RATIO[scale_doubt]
        return Verdict("short", f"{found}: {size(scale_ratio)} of what was commanded.", nxt, headroom=0.0)
    if scale_suspects:
        first, more = scale_suspects[0], len(scale_suspects) - 1
        others = f", or one of {more} more" if more > 1 else ", or one more" if more else ""
        return Verdict("short", f"It moved {size(scale_ratio)} times what was commanded, near {plain_ratio(scale_ratio)}: likeliest"
                       f" {first.setting}: {first.really}, not {first.entered}{others}.",
                       "Find the wrong setting; do not correct it away.", headroom=0.0)
    said = f"It moved {size(abs(off) * 100, 2)} % {'more' if off > 0 else 'less'} than commanded" if size(off, 2) != "0" else (
        "It moved as far as commanded")
    seen = "what the gauge can see" if scale_reading.gauge_uncertainty is not None else (
        "the scatter of the readings, the gauge itself not counted")
    if u is None:
        return Verdict("unknown", f"{said}; what the gauge can see is not given.", "Give the uncertainty of the gauge.")
    if abs(off) <= 2 * u:
        return Verdict("good", f"{said}, within {seen} (±{size(200 * u, 2)} %).",
                       "Leave the steps per unit as they are.", headroom=0.9)
    if abs(off) > TOO_MUCH and not is_measured(train):
        return Verdict("short", f"{said}: too much for a worn part or a pitch error.",
                       "Look for a wrong tooth count, lead or microstep setting.", headroom=0.0)
    first_gauge = "" if scale_reading.gauge_uncertainty is not None else "Give the uncertainty of the gauge first; then "
    act = f"{first_gauge}set {steps_per_unit / scale_ratio:.6g} steps per unit and measure again."
    return Verdict("tight", f"{said}, more than {seen} (±{size(200 * u, 2)} %).", f"{act[:1].upper()}{act[1:]}", headroom=0.25)


def is_fed(solution: Solution) -> bool:
    """Whether a link of the train has a travel that is measured rather than known."""
    return is_measured(solution.get("train", ()) or ())


@check("feed", stage="Scale", applies=is_fed)
def feed_is_measured(
    train: tuple[Link, ...], steps_per_unit: float, unit: str, scale_ratio: Reals = None,
) -> Verdict:
    """Whether the steps of something that is fed come from what came out, and not from a diameter alone."""
    kind = next(link.kind for link in train if link.measured)
    if scale_ratio is None:
        said = f"{steps_per_unit:.6g} steps per {unit} come from the diameter of the {kind}, which is roughly known, and it slips."
        return Verdict("tight", said, "Begin with them, feed a length, measure what came out, and set them by it.",
                       missing=("scale_reading",), headroom=0.3)
    return Verdict("good", f"What the {kind} feeds was measured: {size(100 * scale_ratio)} % of what was commanded.",
                   "Measure again with other stock, and when the pressure was changed.")
