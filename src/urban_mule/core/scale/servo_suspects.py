"""What may be set otherwise than entered on a servo and its drive."""

from __future__ import annotations

from urban_mule.core.scale.detective import BEFORE, Suspect
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.wording import size

EDGES = ((4.0, "are these lines of the encoder, or the four edges of each?"), (2.0, "are both channels counted?"))


@quantity("", symbol="", source="lines for counts, the electronic gear turned over or forgotten", structure=True,
          formula="entered ÷ real")
def drive_suspects(
    counts_per_turn: float, electronic_gear_numerator: float, electronic_gear_denominator: float
) -> tuple[Suspect, ...]:
    """Other counts of the encoder and another electronic gear, and the ratio that each makes."""
    found = [
        Suspect("counts of the encoder", f"{counts_per_turn:g} a turn", f"{counts_per_turn / ratio:g} a turn", ratio, 0.8,
                f"The drive's sheet: {look}", BEFORE)
        for times, look in EDGES for ratio in (times, 1 / times)]
    gear = electronic_gear_numerator / electronic_gear_denominator
    if gear != 1:
        look = "The gear's two numbers in the drive: do they stand as entered, after a restart too?"
        found += [Suspect("electronic gear", size(gear), "turned over", 1 / gear**2, 0.8, look, BEFORE),
                  Suspect("electronic gear", size(gear), "not set in the drive", 1 / gear, 0.9, look, BEFORE)]
    return tuple(found)
