"""What a measured ratio gives away: every setting and part of this very axis, tried at what it might really be, ranked."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import TYPE_CHECKING

from urban_mule.core.load.fellow import Fellow
from urban_mule.core.scale.lengths import LEAST_OFF
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.train.link import Link

if TYPE_CHECKING:
    from fractions import Fraction

NEAR = 0.006  # share within which a ratio is taken for another: a true error of scale comes on top of a wrong setting
MOST_SUSPECTS = 12

BEFORE = "Command one turn of the motor and watch a mark on its shaft: it does not make one turn."
BEHIND = "Command one turn of the motor and watch a mark on its shaft: it makes exactly one turn; the fault lies behind it."


@record(frozen=True, eq=False, repr=False)
class Suspect:
    """A setting or part that may really be another: what was entered, what it would be, the ratio that makes, its rank.

    look: where to look; test: what tells it from others. odds: how often it is this, against the others, before looking.
    """

    setting: str
    entered: str
    really: str
    ratio: float
    odds: float
    look: str
    test: str


def plain_ratio(ratio: float) -> Fraction:
    """The small whole numbers that a ratio stands near."""
    from fractions import Fraction

    tried = (*(Fraction(ratio).limit_denominator(most) for most in (1, 2)), Fraction(127, 5), Fraction(5, 127),
             *(Fraction(ratio).limit_denominator(most) for most in (5, 12, 130)))
    room = (0.001, NEAR)  # the nearest of the small ones, else the smallest that is near at all
    return next((near for most in room for near in tried if near and abs(float(near) / ratio - 1) <= most), tried[-1])


def _of_link(link: Link) -> Iterator[Suspect]:
    for one in link.mistakes():
        yield Suspect(one.part, one.entered, one.really, one.ratio, one.odds, one.look, BEHIND)


def _of_controller(unit: str) -> Iterator[Suspect]:
    pairs = {"mm": ("in", 25.4), "in": ("mm", 1 / 25.4), "m": ("mm", 1e-3), "deg": ("rad", 180 / math.pi),
             "rad": ("deg", math.pi / 180), "turn": ("deg", 1 / 360)}
    other, ratio = pairs[unit]
    for there in {ratio, 1 / ratio}:
        yield Suspect("unit of the controller", unit, other, there, 0.7,
                      "The unit the controller counts in, and the one its program was written in.", BEFORE)


def _of_one_motor(suspects: list[Suspect], fellow: Fellow | None) -> Iterator[Suspect]:
    """What two motors move goes half of the difference where one of them alone is set otherwise."""
    for one in suspects:
        if one.setting == "microsteps" and fellow is not None:
            yield Suspect("microsteps of one motor", one.entered, one.really, (1 + one.ratio) / 2, 0.6,
                          f"Compare the switches of both drivers, here and on {fellow.name}.",
                          f"It goes aslant: a square against the gantry shows {fellow.name} moving with it.")
        elif one.setting == "microsteps":
            yield Suspect("microsteps of the follower", one.entered, one.really, (1 + one.ratio) / 2, 0.6,
                          "Power off at once: the two ends go apart and rack the bridge. Then compare both drivers' switches.",
                          "Measure beside each motor, over a few millimetres only: the leader's side is right.")


@quantity("", symbol="", source="every given of this axis at what it might really be", structure=True,
          formula="entered ÷ real, or real ÷ entered")
def scale_mistakes(
    train: tuple[Link, ...], unit: str, drive_suspects: tuple[Suspect, ...] = (), motor_count: Reals = 1,
    fellow: Fellow | None = None,
) -> tuple[Suspect, ...]:
    """What may be set or built otherwise than entered on this axis, and the ratio that each would make; whatever was measured."""
    tried = list(drive_suspects)
    if motor_count > 1:
        tried += _of_one_motor(tried, fellow)
    for link in train:
        try:
            tried += _of_link(link)
        except NotKnown:
            continue
    tried += _of_controller(unit)
    return tuple(one for one in tried if abs(one.ratio - 1) > LEAST_OFF)


@quantity("", symbol="", source="every given of this axis at what it might really be, likeliest first", structure=True,
          formula="the mistakes whose ratio lies near the measured one")
def scale_suspects(
    scale_ratio: float, scale_mistakes: tuple[Suspect, ...], scale_ratio_uncertainty: Reals = None, scale_doubt: str = "",
) -> tuple[Suspect, ...]:
    """What may be set or built otherwise than entered, so that it would move as measured; likeliest first.

    scale_ratio: measured over commanded. Raises NotKnown for a ratio so near 1 that nothing is set wrong.
    """
    if scale_doubt:
        raise NotKnown("the measurement is no ratio that a setting makes: see what it says on the leaf measured")
    if abs(scale_ratio - 1) <= LEAST_OFF:
        raise NotKnown("it is so near what was commanded that no setting is wrong")
    room = max(NEAR, 3 * float(scale_ratio_uncertainty or 0.0) / scale_ratio)

    def off(one: Suspect) -> float:
        return abs(scale_ratio / one.ratio - 1)

    fitting = [one for one in scale_mistakes if off(one) <= room]
    ranked = sorted(fitting, key=lambda one: -one.odds * math.exp(-0.5 * (off(one) / (0.5 * room)) ** 2))
    found: dict[tuple[str, str], Suspect] = {}
    for one in ranked:
        found.setdefault((one.setting, one.really), one)
    return tuple(found.values())[:MOST_SUSPECTS]
