"""Whether parts that meet fit one another: shaft and bore, flange, belt and pulley, mode of driver and controller, coupling."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from urban_mule.core.drive.interface import INTERFACE_MODES
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.verdict import Level, Verdict, check
from urban_mule.core.sheet.wording import size
from urban_mule.core.train.fold import gains_in_front
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import Belt, Coupling

BY_HAND = 2e-5  # m between shaft and bore that are still of one size
MATCH = 0.002  # share by which pitches may differ and be the same
WHOLE_TOOTH = 0.02  # of a tooth by which a belt's length may miss a whole number of teeth


@record(frozen=True, kw_only=True, eq=False, repr=False)
class PartSizes:
    """What a part has to fit by, as its paper says."""

    shaft: Reals = given("m", "d", "shaft that it turns with, or is turned by", above=0)
    bore: Reals = given("m", "D", "bore that takes the shaft before it", above=0)
    bore_out: Reals = given("m", "D_o", "bore that takes the shaft behind it", above=0, label="Bore at the output")
    frame: Reals = given("m", "", "side of its flange", above=0)
    belt_pitch: Reals = given("m", "p", "pitch of the belt as it is ordered", above=0)
    belt_width: Reals = given("m", "b", "width of the belt as it is ordered", above=0)
    pulley_width: Reals = given("m", "b_p", "width that its pulley takes", above=0)
    belt_length: Reals = given("m", "L", "length of the belt as it is ordered", above=0)
    takes_mode: str | None = given("", "", "how it speaks to a driver", choices=INTERFACE_MODES, label="Interface taken")


@record(frozen=True, kw_only=True, eq=False, repr=False)
class BoughtPart(PartSizes):
    """A part of an axis as it is bought. slot: motor, driver, controller, or the place of its link in the train."""

    slot: str | int = ""


@record(frozen=True, eq=False, repr=False)
class BoughtParts:
    """The parts of an axis with sizes, and the greatest torque that a motor on it gives [N·m], a follower's too."""

    parts: tuple[BoughtPart, ...]
    strongest: float | None = None
    mode: str | None = None

    def part(self, slot: str | int) -> BoughtPart:
        """The part in a slot; one without sizes where nothing is said of it."""
        return next((one for one in self.parts if one.slot == slot), BoughtPart(slot=slot))


@record(frozen=True, eq=False, repr=False)
class Fit:
    """What two parts, or a part and its place, say of one another."""

    level: Level
    said: str
    do: str = ""


def millimetres(value: Reals) -> str:
    """A size [m] in mm, from a metre on in m."""
    return f"{size(float(value) * 1e3)} mm" if float(value) < 1 else f"{size(float(value))} m"


def fits_of(bought: BoughtParts, train: Sequence[Link], travel: Reals = None) -> tuple[Fit, ...]:
    """Every fit of an axis that can be judged, and what is missing where half of one is known; travel [m]."""
    return (*_shafts(bought, train), *_flange(bought, train), *_belts(bought, train, travel), *_mode(bought),
            *_couplings(bought, train))


def _shafts(bought: BoughtParts, train: Sequence[Link]) -> Iterator[Fit]:
    """Each part against the one that it turns."""
    left, kind, behind = bought.part("motor"), "motor", "shaft"
    for place, link in enumerate(train):
        right = bought.part(place)
        gives, takes = getattr(left, behind, None) if behind else None, getattr(right, link.turned_by)
        bore, shaft = "bore behind" if behind == "bore_out" else "shaft", "shaft" if behind == "bore_out" else link.turned_by
        if gives is not None and takes is not None:
            said = f"the {bore} of the {kind} is {millimetres(gives)}, the {shaft} of the {link.kind} {millimetres(takes)}"
            if behind == link.turned_by == "shaft":
                yield Fit("tight", f"Two shafts meet: {said}", "Put a coupling between them.")
            elif abs(float(gives) - float(takes)) > BY_HAND:
                yield Fit("short", f"Shaft and bore do not fit: {said}", "Order another, or a bush; never drill a coupling out.")
            else:
                yield Fit("good", f"Shaft and bore fit: {said}")
        elif gives is not None or takes is not None:
            whose, what = (link.kind, shaft) if takes is None else (kind, bore)
            yield Fit("unknown", f"The {what} of the {whose} is not known", "Measure it, or read it off its paper.")
        left, kind, behind = right, link.kind, link.turns_with


def _flange(bought: BoughtParts, train: Sequence[Link]) -> Iterator[Fit]:
    """The motor's flange against that of a reduction behind it."""
    motor = bought.part("motor").frame
    if motor is None or not train or not train[0].takes_flange:
        return
    there = bought.part(0).frame
    if there is None:
        yield Fit("unknown", f"The flange that the {train[0].kind} takes is not known", "Read it off its paper.")
    elif abs(float(motor) - float(there)) > BY_HAND:
        yield Fit("short", f"The motor's flange is {millimetres(motor)}, the {train[0].kind} takes {millimetres(there)}",
                  "Order another, or make a plate between them.")
    else:
        yield Fit("good", f"The motor's flange of {millimetres(motor)} fits the {train[0].kind}")


def _belts(bought: BoughtParts, train: Sequence[Link], travel: Reals) -> Iterator[Fit]:
    """A belt as ordered against its pulley and the way it has to reach."""
    for place, link in enumerate(train):
        if not isinstance(link, Belt):
            continue
        part, pitch = bought.part(place), getattr(link, "pitch", None)
        if part.belt_pitch is not None and pitch is not None:
            same = abs(float(part.belt_pitch) / float(pitch) - 1) <= MATCH
            said = f"pitch {millimetres(part.belt_pitch)} is ordered, the pulley has {millimetres(pitch)}"
            yield Fit("good" if same else "short", f"{'Belt and pulley fit' if same else 'Wrong belt'}: {said}",
                      "" if same else "Order the belt anew: it runs for a turn and then climbs the teeth.")
        if part.belt_width is not None and part.pulley_width is not None:
            fits = float(part.belt_width) <= float(part.pulley_width) + BY_HAND
            said = f"the belt is {millimetres(part.belt_width)} wide, the pulley takes {millimetres(part.pulley_width)}"
            yield Fit("good" if fits else "short", f"Width of a belt: {said}", "" if fits else "Order a narrower belt, or pulleys.")
        if part.belt_length is not None:
            yield from _length(float(part.belt_length), link, part.belt_pitch or pitch, travel)


def _length(length: float, link: Link, pitch: Reals, travel: Reals) -> Iterator[Fit]:
    """The length of a belt: whole teeth round a loop, and long enough for the travel."""
    loop = getattr(link, "layout", None) != "open"
    if pitch is not None and loop and abs(length / float(pitch) - round(length / float(pitch))) > WHOLE_TOOTH:
        yield Fit("tight", f"A length of {millimetres(length)} is no whole number of teeth",
                  "A closed loop has whole teeth; a belt that is clamped at the carriage is ordered longer and cut.")
    if travel is None:
        return
    wrap = float(pitch or 0.0) * float(getattr(link, "teeth", None) or 0.0)
    least = 2 * float(travel) + wrap if loop else float(travel)
    short = length < least
    yield Fit("short" if short else "good", f"The belt is {millimetres(length)} long; the travel alone takes {millimetres(least)}",
              "Order a longer one." if short else "")


def _mode(bought: BoughtParts) -> Iterator[Fit]:
    """How the driver listens against how the controller speaks."""
    speaks, listens = bought.part("controller").takes_mode, bought.mode
    if speaks is None or listens is None:
        return
    same = speaks == listens
    yield Fit("good" if same else "short", f"The driver listens to {listens}, the controller speaks {speaks}",
              "" if same else "Set the driver's mode jumpers so, or take another controller.")


def _couplings(bought: BoughtParts, train: Sequence[Link]) -> Iterator[Fit]:
    """A coupling against all that the stronger motor on the axis can give, and not only against what the cycle takes."""
    for place, link in enumerate(train):
        rated = getattr(link, "rated_torque", None)
        if not isinstance(link, Coupling) or rated is None or bought.strongest is None:
            continue
        try:
            turns = gains_in_front(tuple(train[:place + 1]))[place]
        except NotKnown as why:
            yield Fit("unknown", f"What the motor can give at the coupling is not known: {why}")
            continue
        there = bought.strongest / abs(float(turns))
        said = f"The coupling carries {size(float(rated))} N·m; the stronger motor gives {size(there)} N·m there"
        if there > float(rated):
            yield Fit("short", said, "Take a stronger coupling: at a stop or a jam it carries all of it, and a slit one breaks.")
        else:
            yield Fit("good", said)


def _is_bought(solution: Solution) -> bool:
    return solution.get("parts_bought") is not None


@check("parts fit", stage="Brief", applies=_is_bought)
def parts_fit(parts_bought: BoughtParts, train: tuple[Link, ...], unit: str, travel: Reals = None) -> Verdict:
    """Whether the parts that were chosen fit one another."""
    found = fits_of(parts_bought, train, travel if unit in ("m", "mm", "in") else None)
    wrong = [one for one in found if one.level == "short"]
    near = [one for one in found if one.level == "tight"]
    missing = [one for one in found if one.level == "unknown"]
    if wrong or near:
        first = (wrong or near)[0]
        more = f" ({len(wrong) + len(near) - 1} more)" if len(wrong) + len(near) > 1 else ""
        return Verdict("short" if wrong else "tight", f"{first.said}{more}.", first.do, headroom=0.0 if wrong else 0.25)
    if missing:
        return Verdict("unknown", f"{missing[0].said}, so whether it fits is not.", missing[0].do, missing=("parts_bought",))
    if not found:
        return Verdict("unknown", "No two parts that meet have their sizes yet.", "Give shafts and bores in the list of parts.",
                       missing=("parts_bought",))
    return Verdict("good", f"{len(found)} {'fit' if len(found) == 1 else 'fits'} between parts looked at, all of them right.",
                   "Nothing to do.", headroom=0.9)
