"""What a measured ratio gives away: every setting and part of this very axis, tried at what it might really be, ranked."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import TYPE_CHECKING

from urban_mule.core.scale.lengths import LEAST_OFF
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.wording import size
from urban_mule.core.train.links import Belt, Rack, Reduction, Screw, Stage, Worm

if TYPE_CHECKING:
    from fractions import Fraction

NEAR = 0.006  # share within which a ratio is taken for another: a true error of scale comes on top of a wrong setting
MOST_SUSPECTS = 12
LEADS = (1.0, 1.25, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 16.0, 20.0, 25.0, 32.0, 40.0, 50.0)  # mm
PITCHES = (2.0, 2.032, 2.5, 3.0, 5.0, 5.08, 8.0, 9.525, 10.0, 12.7, 14.0)  # mm, of belts
MODULES = (0.5, 0.7, 0.8, 1.0, 1.25, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0)  # mm
TEETH, RATIOS = range(8, 81), (*range(2, 13), 15, 16, 20, 25, 30, 36, 40, 50, 60, 72, 80, 90, 100, 120)

ITS_END = "Look at the end of the screw: how many threads begin there?"
BEFORE = "Command one turn of the motor and watch a mark on its shaft: it does not make one turn."
BEHIND = "Command one turn of the motor and watch a mark on its shaft: it makes exactly one turn; the fault lies behind it."


@record(frozen=True)
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


def _of_teeth(part: str, teeth: float) -> Iterator[Suspect]:
    for count in TEETH:
        yield Suspect(part, f"{teeth:g} teeth", f"{count} teeth", count / teeth, 0.9,
                      f"Mark a tooth and count them: {teeth:g} are entered, {count} would be it.", BEHIND)


def _of_link(link: Stage) -> Iterator[Suspect]:
    if isinstance(link, Reduction):
        name, there_is = ("worm" if isinstance(link, Worm) else "reduction"), float(link.need("ratio"))
        yield Suspect(name, f"{there_is:g}", "turned over, or counted the wrong way", there_is**2, 0.3,
                      f"Turn its input {there_is:g} times by hand, power off: its output makes one turn.", BEHIND)
        for ratio in RATIOS:
            yield Suspect(name, f"{there_is:g}", f"{ratio}", there_is / ratio, 0.6,
                          f"Its plate; or turn its input by hand, power off: {ratio} turns for one of its output?", BEHIND)
    if isinstance(link, Belt):
        teeth, pitch = float(link.need("teeth")), float(link.need("pitch"))
        yield from _of_teeth("driving pulley", teeth)
        for one in PITCHES:
            yield Suspect("belt", f"{size(pitch * 1e3)} mm pitch", f"{one:g} mm pitch", one * 1e-3 / pitch, 0.5,
                          f"Measure over ten teeth of the belt: {10 * one:g} mm?", BEHIND)
    if isinstance(link, Rack):
        teeth, module = float(link.need("teeth")), float(link.need("module"))
        yield from _of_teeth("pinion", teeth)
        for one in MODULES:
            yield Suspect("rack", f"module {size(module * 1e3)}", f"module {one:g}", one * 1e-3 / module, 0.5,
                          f"Measure over ten teeth of the rack: {size(10 * math.pi * one)} mm?", BEHIND)
        for ratio, why in ((math.pi, "π was left out"), (1 / math.pi, "π was counted twice"), (2.0, "radius for diameter"),
                           (0.5, "diameter for radius")):
            yield Suspect("pinion", "its rolling diameter", why, ratio, 0.3, "The reckoning of its rolling circumference.", BEHIND)
    if isinstance(link, Screw):
        lead = float(link.lead_used or link.need("lead"))
        for starts in range(2, 9):
            entered = "one start" if link.starts == 1 else f"{link.starts:g} starts"
            yield Suspect("screw", entered, f"{starts * link.starts:g} starts", float(starts), 0.8, ITS_END, BEHIND)
            yield Suspect("screw", entered, f"a lead counted {starts} times", 1.0 / starts, 0.5, ITS_END, BEHIND)
        for one in LEADS:
            yield Suspect("screw", f"{size(lead * 1e3)} mm lead", f"{one:g} mm lead", one * 1e-3 / lead, 0.7,
                          f"Turn the screw ten times by hand, power off: the carriage goes {10 * one:g} mm?", BEHIND)


def _of_controller(unit: str) -> Iterator[Suspect]:
    pairs = {"mm": ("in", 25.4), "in": ("mm", 1 / 25.4), "m": ("mm", 1e-3), "deg": ("rad", 180 / math.pi),
             "rad": ("deg", math.pi / 180), "turn": ("deg", 1 / 360)}
    other, ratio = pairs[unit]
    for there in {ratio, 1 / ratio}:
        yield Suspect("unit of the controller", unit, other, there, 0.7,
                      "The unit the controller counts in, and the one its program was written in.", BEFORE)


def _of_follower(suspects: list[Suspect]) -> Iterator[Suspect]:
    """The middle of a bridge whose follower alone is set otherwise goes half of the difference."""
    for one in suspects:
        if one.setting == "microsteps":
            yield Suspect("microsteps of the follower", one.entered, one.really, (1 + one.ratio) / 2, 0.6,
                          "Power off at once: the two ends go apart and rack the bridge. Then compare both drivers' switches.",
                          "Measure beside each motor, over a few millimetres only: the leader's side is right.")


@quantity("", symbol="", source="every given of this axis at what it might really be, likeliest first", structure=True,
          formula="entered ÷ real, or real ÷ entered")
def scale_suspects(
    scale_ratio: float, train: tuple[Stage, ...], unit: str, scale_ratio_uncertainty: Reals = None,
    drive_suspects: tuple[Suspect, ...] = (), motor_count: Reals = 1, scale_doubt: str = "",
) -> tuple[Suspect, ...]:
    """What may be set or built otherwise than entered, so that it would move as measured; likeliest first.

    scale_ratio: measured over commanded. Raises NotKnown for a ratio so near 1 that nothing is set wrong.
    """
    if scale_doubt:
        raise NotKnown("the measurement is no ratio that a setting makes: see what it says on the leaf measured")
    if abs(scale_ratio - 1) <= LEAST_OFF:
        raise NotKnown("it is so near what was commanded that no setting is wrong")
    room = max(NEAR, 3 * float(scale_ratio_uncertainty or 0.0) / scale_ratio)
    tried = list(drive_suspects)
    if motor_count > 1:
        tried += _of_follower(tried)
    for link in train:
        try:
            tried += _of_link(link)
        except NotKnown:
            continue
    tried += _of_controller(unit)

    def off(one: Suspect) -> float:
        return abs(scale_ratio / one.ratio - 1)

    fitting = [one for one in tried if abs(one.ratio - 1) > LEAST_OFF and off(one) <= room]
    ranked = sorted(fitting, key=lambda one: -one.odds * math.exp(-0.5 * (off(one) / (0.5 * room)) ** 2))
    found: dict[tuple[str, str], Suspect] = {}
    for one in ranked:
        found.setdefault((one.setting, one.really), one)
    return tuple(found.values())[:MOST_SUSPECTS]
