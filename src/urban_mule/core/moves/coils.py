"""Coils by the ohmmeter: which leads of a stepper belong together, where the centre taps are, what is broken."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from itertools import combinations

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.record import record

OPEN = math.inf
COUNTS = (4, 6, 8)
ALIKE, OFF = 0.25, 0.2  # shares: within which two coils are alike; beyond which one departs from the sheet
HALF = 0.5

Pair = frozenset[str]


@record(frozen=True, eq=False, repr=False)
class Coil:
    """Leads that are joined: two ends, perhaps a centre tap between them; the resistance from end to end [Ω]."""

    ends: tuple[str, str]
    tap: str
    resistance: float


@record(frozen=True, eq=False, repr=False)
class Coils:
    """What the ohmmeter says: the coils, what to join for each wiring, and what is wrong, a sentence each."""

    coils: tuple[Coil, ...]
    wirings: Mapping[str, str]
    faults: tuple[str, ...]


def coils_of(readings: Mapping[Pair, float], leads: int, phase_resistance: float | None = None) -> Coils:
    """The coils behind resistances [Ω] between pairs of leads; OPEN where nothing is joined, pairs may be left out when open.

    phase_resistance: of the sheet, one phase as it is joined end to end. Raises BadValue for what cannot be.
    """
    names = sorted({name for pair in readings for name in pair})
    if leads not in COUNTS:
        raise BadValue(f"a motor of {leads} leads; allowed are {', '.join(map(str, COUNTS))}")
    if len(names) > leads:
        raise BadValue(f"{len(names)} leads are named, {', '.join(names)}; the motor has {leads}")
    for pair, value in readings.items():
        if len(pair) != 2:
            raise BadValue("a resistance is measured between two different leads")
        if not value > 0:
            raise BadValue(f"{' to '.join(sorted(pair))} is {value:g} Ω; allowed is a number above 0, or open")
    groups = _joined(names, readings)
    faults = _missing(names, leads, groups)
    coils = []
    for group in groups:
        if len(group) == 2:
            coils.append(Coil((group[0], group[1]), "", _ohms(readings, *group)))
        elif len(group) == 3:
            coils.append(_tapped(group, readings, faults))
        else:
            faults.append(f"{', '.join(group)} are all joined: two phases touch each other, or the frame. Do not power it.")
    faults += _departing(coils, leads, phase_resistance)
    return Coils(tuple(coils), {} if faults else _wirings(coils, leads), tuple(faults))


def typed_resistances(text: str) -> dict[Pair, float]:
    """Lines such as `red blue 1.6` or `red white open` as resistances [Ω] between pairs. Raises BadValue with the line."""
    found: dict[Pair, float] = {}
    for number, line in enumerate(text.splitlines(), start=1):
        words = line.replace(",", ".").split()
        if not words:
            continue
        try:
            one, other, said = words
            value = OPEN if said.lower() in ("open", "∞", "-", "ol") else float(said)
        except ValueError:
            raise BadValue(f"line {number}: “{line.strip()[:40]}” is not two leads and a resistance, such as red blue 1.6, or open"
                           ) from None
        if one == other:
            raise BadValue(f"line {number}: {one[:20]} to itself; two different leads are needed")
        found[frozenset((one[:20], other[:20]))] = value
    return found


def _joined(names: Iterable[str], readings: Mapping[Pair, float]) -> list[tuple[str, ...]]:
    """Groups of leads with a finite resistance between them."""
    groups = {name: {name} for name in names}
    for pair, value in readings.items():
        if value < OPEN:
            one, other = pair
            merged = groups[one] | groups[other]
            for name in merged:
                groups[name] = merged
    found: list[tuple[str, ...]] = []
    for name in names:
        group = tuple(sorted(groups[name]))
        if len(group) > 1 and group not in found:
            found.append(group)
    return found


def _ohms(readings: Mapping[Pair, float], one: str, other: str) -> float:
    return float(readings.get(frozenset((one, other)), OPEN))


def _tapped(group: tuple[str, ...], readings: Mapping[Pair, float], faults: list[str]) -> Coil:
    """Three leads: the pair with the sum of the other two is end to end, the third is the tap."""
    pairs = [(one, other, _ohms(readings, one, other)) for one, other in combinations(group, 2)]
    known = [pair for pair in pairs if pair[2] < OPEN]
    one, other, whole = max(known, key=lambda pair: pair[2])
    tap = next(name for name in group if name not in (one, other))
    halves = [_ohms(readings, tap, end) for end in (one, other)]
    if len(known) < 3:
        faults.append(f"Between {', '.join(group)} one pair is open or was not measured; measure all three.")
    elif abs(halves[0] / halves[1] - 1) > ALIKE:
        low = (one, other)[halves[0] > halves[1]]
        faults.append(f"From {tap} to {one} are {halves[0]:.3g} Ω, to {other} {halves[1]:.3g} Ω: the half towards {low} has shorted"
                      " turns, or a lead is named twice.")
    elif abs(sum(halves) / whole - 1) > ALIKE:
        faults.append(f"From {one} to {other} are {whole:.3g} Ω, their halves make {sum(halves):.3g} Ω: measure again.")
    return Coil((one, other), tap, whole)


def _missing(names: list[str], leads: int, groups: list[tuple[str, ...]]) -> list[str]:
    alone = [name for name in names if not any(name in group for group in groups)]
    faults = [f"{name} is joined to no other lead: a broken coil or connector." for name in alone]
    wanted = {4: 2, 6: 2, 8: 4}[leads]
    if not faults and len(names) == leads and len(groups) != wanted and all(len(group) < 4 for group in groups):
        faults.append(f"{len(groups)} coils are found; a motor of {leads} leads has {wanted}.")
    if len(names) < leads:
        faults.append(f"{len(names)} of {leads} leads are measured; the others are still to come.")
    return faults


def phase_of(coils: Coils, leads: int) -> float | None:
    """What the coils say of a phase, as a data sheet counts it [Ω]; None where something is wrong with them, or none is known."""
    if coils.faults or not coils.coils:
        return None
    return sum(one.resistance for one in coils.coils) / len(coils.coils) / (HALF if leads == 8 else 1.0)


def _departing(coils: list[Coil], leads: int, phase_resistance: float | None) -> list[str]:
    """Coils that are not alike, or not as the sheet says."""
    faults = []
    if len(coils) > 1:
        low, high = (pick(coils, key=lambda one: one.resistance) for pick in (min, max))
        if high.resistance / low.resistance - 1 > ALIKE:
            faults.append(f"{low.ends[0]}–{low.ends[1]} has {low.resistance:.3g} Ω, {high.ends[0]}–{high.ends[1]}"
                          f" {high.resistance:.3g} Ω: turns are shorted in the lower one, or two pairs are crossed.")
    if phase_resistance is not None:
        expected = phase_resistance * (HALF if leads == 8 else 1.0)
        faults += [f"{one.ends[0]}–{one.ends[1]} has {one.resistance:.3g} Ω; by the sheet it would be {expected:.3g} Ω."
                   for one in coils if not faults and abs(one.resistance / expected - 1) > OFF]
    return faults


def _wirings(coils: list[Coil], leads: int) -> dict[str, str]:
    """What to join for each wiring, in words."""
    ends = [" and ".join(one.ends) for one in coils]
    if leads == 4:
        return {"as it is": f"phase A: {ends[0]}; phase B: {ends[1]}"}
    if leads == 6:
        half = [f"{one.ends[0]} and {one.tap}" for one in coils]
        return {"series": f"phase A: {ends[0]}; phase B: {ends[1]}; the taps {coils[0].tap} and {coils[1].tap} stay free",
                "half coil": f"phase A: {half[0]}; phase B: {half[1]}; {coils[0].ends[1]} and {coils[1].ends[1]} stay free"}
    return {"to be told": "Which two of the four belong to one phase the ohmmeter cannot say. Unplug the driver, join two of them"
                          " into one loop and turn the shaft: freely one way round and hard with one turned round, they are of one"
                          " phase; hard both ways, of two."}


def typed_plug(text: str) -> tuple[tuple[str, str], ...]:
    """Leads as they are plugged, such as `red blue, white green`: the two on each phase of the driver. Raises BadValue."""
    pairs = [tuple(part.split()) for part in text.split(",") if part.strip()]
    if any(len(pair) != 2 for pair in pairs) or len(pairs) > 2:
        raise BadValue(f"“{text.strip()[:60]}” is not two leads for each phase, such as red blue, white green")
    return tuple((one, other) for one, other in pairs)


def crossed(coils: tuple[Coil, ...], plug: tuple[tuple[str, str], ...]) -> str:
    """A sentence where a plug joins a driver's phase to leads of two coils; plug: the two leads on each phase of the driver."""
    belongs = {lead: n for n, one in enumerate(coils) for lead in (*one.ends, one.tap) if lead}
    for one, other in plug:
        if belongs.get(one) != belongs.get(other):
            return (f"Leads {one} and {other} stand on one phase of the driver and belong to two coils: a crossed pair. The motor"
                    " would buzz and not turn; swap one of them with a lead of the other phase.")
    return ""
