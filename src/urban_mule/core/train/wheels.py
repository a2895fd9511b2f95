"""Wheels of a train that may be others than was entered: miscounted teeth, a circumference that was reckoned wrong."""

from __future__ import annotations

import math
from collections.abc import Iterator

from urban_mule.core.sheet.given import Reals
from urban_mule.core.train.known import Mistaken, Otherwise

TEETH, MISCOUNTED = range(8, 81), (-4, -3, -2, -1, 1, 2, 3, 4)


def other_teeth(part: str, teeth: float) -> Iterator[Mistaken]:
    """A wheel that may have another number of teeth than the one that is entered."""
    for count in TEETH:
        yield Mistaken(part, f"{teeth:g} teeth", f"{count} teeth", count / teeth, 0.9,
                       f"Mark a tooth and count them: {teeth:g} are entered, {count} would be it.")


def miscounted(part: str, teeth: Reals | None) -> Iterator[Otherwise]:
    """A wheel with a few teeth more or less than were counted."""
    if teeth is None:
        return
    for more in MISCOUNTED:
        if teeth + more > 0:
            yield Otherwise("teeth", teeth + more, {"teeth": teeth + more}, f"the {part} has {teeth + more:g} teeth",
                            f"Mark a tooth and count them: {teeth:g} are entered, {teeth + more:g} would be it.", "lengths")


def wrong_circumference(part: str) -> Iterator[Mistaken]:
    """A wheel whose way for one turn may have been reckoned wrong."""
    for ratio, why in ((math.pi, "π was left out"), (1 / math.pi, "π was counted twice"), (2.0, "radius for diameter"),
                       (0.5, "diameter for radius")):
        yield Mistaken(part, "its rolling diameter", why, ratio, 0.3, "How its rolling circumference was calculated.")
