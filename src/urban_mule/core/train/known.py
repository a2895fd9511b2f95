"""What a kind of link may know of itself beside its physics: usual values, its turn in whole numbers, how it is entered wrong."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from urban_mule.core.sheet.record import record

if TYPE_CHECKING:
    from fractions import Fraction

NIEMANN = "G. Niemann, Machine Elements"
NORTON = "R. L. Norton, Machine Design"


@record(frozen=True, eq=False, repr=False)
class Usual:
    """A value that is usual for a given: in SI or a choice, what it holds for, and where it is from."""

    value: Any
    words: str
    source: str


@record(frozen=True, eq=False, repr=False)
class Exact:
    """What one turn of an input makes, exactly: turns, or metres; a fraction times π to a power."""

    fraction: Fraction
    pi_power: int = 0


@record(frozen=True, eq=False, repr=False)
class Mistaken:
    """What may really be another than was entered: the part, both, how many times as far it then goes, how often it is this against
    the others before anybody looks, and where to look.
    """

    part: str
    entered: str
    really: str
    ratio: float
    odds: float
    look: str


@record(frozen=True, eq=False, repr=False)
class Otherwise:
    """A mistake or fault that makes a given another: which, what it would be, what that changes (givens and values); as a sentence
    says it, where to look, and the kind of reading that tells it. scale: how many times as far the axis then goes, where no given
    says that.
    """

    of: str
    really: Any
    changes: dict[str, Any]
    words: str
    look: str
    reading: str
    scale: float = 1.0


def exact(value: float) -> Fraction:
    """The fraction a person typed: 0.003 is 3/1000."""
    from fractions import Fraction

    return Fraction(repr(float(value))).limit_denominator(10**9)


GUIDES = (Usual(0.005, "rolling guides", NIEMANN), Usual(0.1, "sliding guides, oiled", NORTON))  # friction, by what is guided how
USUAL_SPREAD = 0.6  # of 1 − η, and of a friction: as far as usual values go to either side, twice a standard uncertainty of 30 %
SUPPORTS = (  # of a screw's ends
    Usual("fixed-supported", "a pair of bearings at the driven end, one at the other", NIEMANN),
    Usual("fixed-fixed", "a pair of bearings at both ends", NIEMANN),
    Usual("supported-supported", "one bearing at either end", NIEMANN),
    Usual("fixed-free", "the far end hangs free", NIEMANN))
