"""What accuracy a drive of this sort usually has before anything is measured: wide, so that a goal can be judged at all.

Extremes add: what grows with the travel, what repeats with a turn, a stepper's own steps, what is lost at a reversal.
"""

from __future__ import annotations

import math

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.train.link import Link

WIDE = 0.5  # standard uncertainty of the logarithm of each part: 95 in 100 drives of a sort lie within a factor of 2.7
LEFT = 0.2  # of what grows with the travel, and of what is lost at a reversal, that a straight line and one number do not take up
SOURCE = "usual errors of drives of this sort, by the tolerance tables named in core/proof/expected.py; type B, JCGM 100, 4.3"


@record(frozen=True, eq=False, repr=False)
class UsualError:
    """Of a link that ends a train: how far it is off along the travel, as a share; what repeats with its turn, as an amplitude at
    the load [m, or rad of a rotary one]; where that is from.
    """

    slope: float
    wave: float
    source: str


USUAL = {
    "screw": UsualError(120e-6, 6e-6, "rolled screws, ISO 3408-3, class T7: 52 µm in 300 mm"),
    "belt": UsualError(150e-6, 20e-6, "timing belts and pulleys, ISO 5294 and 5296; pulleys run out by hundredths of a mm"),
    "rack": UsualError(100e-6, 15e-6, "milled racks, DIN 3962, class 8 to 9; a pinion runs out by two hundredths of a millimetre"),
    "feed roller": UsualError(1e-3, 20e-6, "a roller is known to a tenth of a per cent of its diameter; this house"),
    "worm": UsualError(0.0, 0.4e-3, "worm gears, DIN 3974, class 8: one to two minutes of arc"),
    "reduction": UsualError(0.0, 0.3e-3, "small gearheads: about a minute of arc; this house"),
}


def usual_error(train: tuple[Link, ...], unit_is_turning: bool) -> UsualError:
    """What is usual of the link that decides: the one that turns into travel, of a rotary axis the last that reduces."""
    for link in reversed(train):
        if link.kind in USUAL and (unit_is_turning or link.turns_into_travel):
            return USUAL[link.kind]
    return UsualError(0.0, 0.0, "a direct drive adds nothing of its own")


@quantity("", symbol="e_u", source=SOURCE, structure=True, formula="slope·travel; 2·wave; 2·step error; lost at a reversal")
def expected_errors(
    train: tuple[Link, ...], step_error: Reals, travel: Reals = None, expected_lost_motion: Reals = None
) -> dict[str, float]:
    """The parts of the accuracy to expect [travel]: slope, wave, steps, reversal; unknown ones count nothing. Raises NotKnown."""
    if not train:
        raise NotKnown("the train has no link yet", "train")
    turning = not any(link.turns_into_travel for link in train)
    usual = usual_error(train, turning)
    if travel is None and usual.slope:
        raise NotKnown("travel is not given", "travel")
    return {"slope": usual.slope * float(travel or 0.0), "wave": 2 * usual.wave, "steps": 2 * float(step_error),
            "reversal": float(expected_lost_motion or 0.0)}


def _sum(parts: dict[str, float], share: float) -> tuple[float, float]:
    """What the parts come to, slope and reversal at this share, and the standard uncertainty of that."""
    found = [part * (share if name in ("slope", "reversal") else 1.0) for name, part in parts.items()]
    return sum(found), WIDE * math.sqrt(sum(one**2 for one in found))


@quantity("[travel]", symbol="A_e", source=SOURCE, formula="∑ of its parts", label="Accuracy to expect", shown=("µm", ""))
def expected_accuracy(expected_errors: dict[str, float]) -> float:
    """Accuracy that drives of this sort have as they are built."""
    return _sum(expected_errors, 1.0)[0]


@quantity("[travel]", symbol="u_Ae", source=SOURCE, formula="½·√(∑ of the squares of its parts)", shown=("µm", ""),
          label="Standard uncertainty of the accuracy to expect")
def expected_accuracy_uncertainty(expected_errors: dict[str, float]) -> float:
    """How far drives of one sort differ [travel]."""
    return _sum(expected_errors, 1.0)[1]


@quantity("[travel]", symbol="A_ec", source=SOURCE, formula="∑ of its parts, slope and reversal by a fifth",
          label="Accuracy to expect, scale and backlash corrected", shown=("µm", ""))
def expected_accuracy_corrected(expected_errors: dict[str, float]) -> float:
    """Accuracy that drives of this sort have once scale and backlash are corrected."""
    return _sum(expected_errors, LEFT)[0]


@quantity("[travel]", symbol="u_Aec", source=SOURCE, formula="½·√(∑ of the squares of its parts)", shown=("µm", ""),
          label="Standard uncertainty of the corrected accuracy to expect")
def expected_accuracy_corrected_uncertainty(expected_errors: dict[str, float]) -> float:
    """How far drives of one sort differ once corrected [travel]."""
    return _sum(expected_errors, LEFT)[1]
