"""Eight leads: which two coils belong to one phase, and which way round, by two in one loop and a hand on the shaft."""

from __future__ import annotations

from collections.abc import Sequence

from urban_mule.core.moves.coils import Coil
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.record import record

HARD = ("hard as joined", "hard turned round", "hard both ways", "free both ways")
SEPARATOR = " with "


@record(frozen=True, eq=False, repr=False)
class LoopTest:
    """Two coils in one loop, first end on first end, and how hard the shaft turned so and with the second one turned round."""

    one: Coil
    other: Coil
    hard: str


@record(frozen=True, eq=False, repr=False)
class LoopStand:
    """What is known: the two coils to try next or None, what to join for each wiring, and the sentence that says it."""

    next: tuple[Coil, Coil] | None
    wirings: dict[str, str]
    sentence: str


def phase_of(turns_hard: tuple[bool, bool]) -> str:
    """What two coils in one loop say when the shaft is turned: as joined, and with one of them turned round."""
    match turns_hard:
        case (True, True):
            return "two phases"
        case (False, False):
            return "no loop: the joints do not hold, or a coil is broken"
        case _:
            return "one phase"


def joined_in_one_phase(one: Coil, other: Coil, hard_as_joined: bool) -> dict[str, str]:
    """How two coils of one phase are joined; hard_as_joined: whether the shaft turned hard in the loop of first end on first end
    and second on second: then the coils drive each other round it, and the second has to be turned round.
    """
    (a, b), (c, d) = one.ends, other.ends
    if hard_as_joined:
        c, d = d, c
    return {"series": f"join {b} and {c}; the phase is {a} and {d}",
            "parallel": f"join {a} with {c}, and {b} with {d}; those two are the phase"}


def typed_loops(text: str, coils: Sequence[Coil]) -> list[LoopTest]:
    """Lines such as `a b with c d: hard as joined` as tests of these coils; those of other coils are left out. Raises BadValue."""
    named = {" ".join(one.ends): one for one in coils}
    found = []
    for line in filter(None, map(str.strip, text.splitlines())):
        pair, _, hard = line.partition(": ")
        one, _, other = pair.partition(SEPARATOR)
        if hard not in HARD:
            raise BadValue(f"“{line[:60]}” is no test of a loop; allowed is {', '.join(HARD)}")
        if one in named and other in named:
            found.append(LoopTest(named[one], named[other], hard))
    return found


def loops_stand(coils: Sequence[Coil], tests: Sequence[LoopTest]) -> LoopStand:
    """What four coils have come to by these tests."""
    last = {(test.one, test.other): test for test in tests}
    first, *others = coils
    for test in last.values():
        if test.hard == HARD[3]:
            return LoopStand((test.one, test.other), {}, f"{_name(test.one)} with {_name(test.other)}: "
                             f"{phase_of((False, False))}. Join them again.")
    excluded = [test.other for test in last.values() if test.one is first and test.hard == HARD[2]]
    mate = next((test.other for test in last.values() if test.one is first and test.hard in HARD[:2]), None)
    left = [one for one in others if one not in excluded]
    if mate is None:
        if not left:
            return LoopStand((first, others[0]), {}, f"{_name(first)} cannot be of another phase than all others: begin anew.")
        return LoopStand((first, left[0]), {}, _ask(first, left[0]))
    rest = [one for one in others if one is not mate]
    second = last.get((rest[0], rest[1]))
    if second is None:
        return LoopStand((rest[0], rest[1]), {}, _ask(rest[0], rest[1]))
    if second.hard == HARD[2]:
        return LoopStand((rest[0], rest[1]), {}, f"{_name(rest[0])} and {_name(rest[1])} are left for one phase, yet turned hard"
                         " both ways: the answers contradict each other. Try them again.")
    phases = [joined_in_one_phase(one.one, one.other, one.hard == HARD[0]) for one in (last[first, mate], second)]
    wirings = {way: f"phase A: {phases[0][way]}. Phase B: {phases[1][way]}" for way in ("series", "parallel")}
    return LoopStand(None, wirings, "Both phases are known, and which way round their coils go.")


def _name(coil: Coil) -> str:
    return "–".join(coil.ends)


def _ask(one: Coil, other: Coil) -> str:
    (a, b), (c, d) = one.ends, other.ends
    return (f"Driver unplugged: join {a} with {c}, and {b} with {d}, and turn the shaft. Then turn the second one round, {a}"
            f" with {d} and {b} with {c}, and turn it again.")
