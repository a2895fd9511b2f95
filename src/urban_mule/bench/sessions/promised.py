"""What a plan will be good for before its first number is taken, by its gauge and by how the axis scatters."""

from __future__ import annotations

import math
from collections.abc import Mapping

from urban_mule.bench.sessions.by_stand import beside
from urban_mule.bench.sessions.doubt import LEAST_FREEDOM, pooled
from urban_mule.bench.sessions.gauged import PlanGauge
from urban_mule.bench.sessions.rounds import Step
from urban_mule.core.readings.gauge import by_both_sides
from urban_mule.core.readings.place import place_of

USUAL_SCATTER = 2e-6  # m (or rad) of a place where an axis comes to rest, until its own is known
COVERS = 2.0


def good_for(kind: str, steps: tuple[Step, ...], gauge: PlanGauge | None, scatter: float | None, values: Mapping[str, float]
             ) -> float | None:
    """To what a plan makes its number known, twice its standard uncertainty [m, rad; of lengths a share]; None where nobody knows.

    gauge: what reads it; scatter: of the axis [travel], None where none is known; values: the numbers so far, whose own scatter
    counts as soon as it is known.
    """
    numbers = [step for step in steps if not beside(step.place) and step.asks == "number"]
    if kind not in ("reversal", "positioning", "travel", "lengths") or not numbers:
        return None
    gauge = gauge or PlanGauge()
    own, freedom = pooled({place: value for place, value in values.items() if not beside(place)})
    single = own if freedom >= LEAST_FREEDOM else math.hypot(USUAL_SCATTER if scatter is None else scatter, gauge.repeatability)
    rounded = 0.0 if single > gauge.resolution / 2 else gauge.resolution / math.sqrt(12)
    repeats = 1 + max(place_of(step.place)[1][0] for step in numbers)
    places = len({step.at for step in numbers}) if kind != "travel" else 1
    if kind in ("reversal", "positioning"):
        return COVERS * math.hypot(math.sqrt(2 * (single**2 / repeats + rounded**2) / places), by_both_sides(gauge.hysteresis))
    if kind == "travel":
        far = abs(numbers[0].adds)
        return COVERS * math.sqrt(gauge.uncertainty**2 + (single**2 + rounded**2) / repeats) / far if far else None
    along = [step.at for step in numbers]
    far = max(along) - min(along)
    return COVERS * math.hypot(math.sqrt(2) * gauge.uncertainty, single / math.sqrt(repeats)) / far if far else None
