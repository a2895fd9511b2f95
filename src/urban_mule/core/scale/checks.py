"""Judgements on a measured travel."""

from __future__ import annotations

from urban_mule.core.readings.lengths import LengthsReading
from urban_mule.core.readings.travel import TravelReading
from urban_mule.core.scale.detective import Suspect, plain_ratio
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import size

TOO_MUCH = 0.05  # share off that no wear and no pitch error explains


@check("scale", stage="Scale", main=True)
def scale_correction(
    scale_ratio: float, steps_per_unit: float, scale_reading: TravelReading | LengthsReading,
    scale_ratio_uncertainty: Reals = None, scale_suspects: tuple[Suspect, ...] = (),
) -> Verdict:
    """Whether a measured travel asks for a correction, or gives away a wrong setting."""
    off, u = scale_ratio - 1, scale_ratio_uncertainty
    if scale_suspects:
        first, more = scale_suspects[0], len(scale_suspects) - 1
        others = f", or one of {more} more" if more > 1 else ", or one more" if more else ""
        return Verdict("short", f"It moved {size(scale_ratio)} times what was commanded, near {plain_ratio(scale_ratio)}: likeliest"
                       f" {first.setting}: {first.really}, not {first.entered}{others}.",
                       "Find the wrong setting; do not correct it away.", headroom=0.0)
    said = f"It moved {size(abs(off) * 100, 2)} % {'more' if off > 0 else 'less'} than commanded"
    seen = "what the gauge can see" if scale_reading.gauge_uncertainty is not None else (
        "the scatter of the readings, the gauge itself not counted")
    if u is None:
        return Verdict("unknown", f"{said}; what the gauge can see is not given.", "Give the uncertainty of the gauge.")
    if abs(off) <= 2 * u:
        return Verdict("good", f"{said}, within {seen} (±{size(200 * u, 2)} %).",
                       "Leave the steps per unit as they are.", headroom=0.9)
    if abs(off) > TOO_MUCH:
        return Verdict("short", f"{said}: too much for a worn part or a pitch error.",
                       "Look for a wrong tooth count, lead or microstep setting.", headroom=0.0)
    return Verdict("tight", f"{said}, more than {seen} (±{size(200 * u, 2)} %).",
                   f"Set {steps_per_unit / scale_ratio:.6g} steps per unit and measure again.", headroom=0.25)
