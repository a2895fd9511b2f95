"""Usual values of what nobody has measured yet: losses by the kind of link and of guide, each with its source."""

from __future__ import annotations

import math

from urban_mule.core.sheet.record import record
from urban_mule.core.train.links import Screw, Stage

SLIDING, THREAD = 0.12, math.radians(15)  # bronze on oiled steel; half the angle between the flanks of a trapezoidal thread
NIEMANN = "G. Niemann, Machine Elements"
NORTON = "R. L. Norton, Machine Design"


@record(frozen=True, eq=False, repr=False)
class Usual:
    """A value that is usual for a given: in SI, what it holds for, and where it is from."""

    value: float
    words: str
    source: str


def usual_efficiencies(stage: Stage) -> tuple[Usual, ...]:
    """Usual efficiencies of a link, none for one that has no losses of its own."""
    match stage.kind:
        case "screw":
            sliding = sliding_screw_efficiency(stage) if isinstance(stage, Screw) else None
            found = (Usual(0.9, "rolls on balls", NIEMANN),)
            return found if sliding is None else (*found, Usual(sliding, f"slides, from its thread angle at µ {SLIDING:g}", NORTON))
        case "belt":
            return (Usual(0.97, "toothed belt, well tensioned", NIEMANN),)
        case "rack":
            return (Usual(0.95, "open rack, greased", NIEMANN),)
        case "reduction":
            return Usual(0.97, "one pair of gears", NIEMANN), Usual(0.94, "two pairs or a planet stage", NIEMANN), Usual(
                0.97, "toothed belt", NIEMANN)
        case "worm":
            return Usual(0.75, "worm to about 10:1", NIEMANN), Usual(0.6, "worm to about 20:1", NIEMANN), Usual(
                0.45, "worm beyond 30:1", NIEMANN)
        case _:
            return ()


def sliding_screw_efficiency(screw: Screw) -> float | None:
    """Efficiency of a sliding trapezoidal thread: tan λ ÷ tan(λ + ρ), ρ the friction angle on its flanks; None without its size.

    The mean diameter is the pitch diameter, else the outer diameter less half the pitch.
    """
    lead, outer = screw.lead_used, screw.diameter
    mean = screw.pitch_diameter
    if lead is None or (mean is None and outer is None):
        return None
    if mean is None:
        mean = outer - lead / (screw.starts or 1) / 2
    if mean <= 0:
        return None
    slope, friction = math.atan(lead / (math.pi * mean)), math.atan(SLIDING / math.cos(THREAD))
    return round(math.tan(slope) / math.tan(slope + friction), 3)


# m along the load, rad at the output: what is usual without preload, by this house's estimate
CLEARANCES = {"screw": 5e-5, "rack": 1e-4, "reduction": math.radians(0.3), "worm": math.radians(0.3)}
GUIDES = (Usual(0.005, "rolling guides", NIEMANN), Usual(0.1, "sliding guides, oiled", NORTON))
