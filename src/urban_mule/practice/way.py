"""The shortest way to hidden faults: the fewest readings that leave nothing else so many faults could be."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from itertools import combinations

from urban_mule.core.sheet.record import record
from urban_mule.practice.evidence import LOOK, Reckoner, Sort

Signature = Mapping[str, tuple[str, ...]]


@record(frozen=True)
class Leg:
    """A part of the way: the readings to take, and the faults that are sure after them and are put right before it goes on."""

    readings: tuple[Sort, ...]
    sure: tuple[str, ...]


@record(frozen=True)
class ShortestWay:
    """The whole way; alike: faults that no reading of this axis tells from the true ones, which have to be tried in turn."""

    legs: tuple[Leg, ...]
    alike: tuple[tuple[str, ...], ...] = ()

    @property
    def readings(self) -> int:
        """How many readings it takes, looks at a short move not counted."""
        return sum(bool(sort.kind) for leg in self.legs for sort in leg.readings)


def shortest_way(reckoner: Reckoner, there: Iterable[str]) -> ShortestWay:
    """The way to the faults of these names, among all that the reckoner knows; how many are there is known.

    Where they look alike but for some that are common to all that look so, those are put right first, and it is read again.
    """
    left, among = tuple(sorted(there)), sorted(reckoner.hidden)
    legs: list[Leg] = []
    while left:
        true = left
        signatures = {names: reckoner.signature(names) for names in combinations(among, len(true))}
        like = [names for names, one in signatures.items() if one == signatures[true]]
        others = [one for names, one in signatures.items() if names not in like]
        hiding = [name for name in true if reckoner.hidden[name].fault.hides]
        shown = [reckoner.shown_by(name) for name in hiding or true]
        readings = _fewest(reckoner.sorts, signatures[true], others, shown)
        common = set(true).intersection(*like)
        if len(like) == 1:
            return ShortestWay((*legs, Leg(readings, true)))
        if not common:
            return ShortestWay((*legs, Leg(readings, ())), tuple(names for names in like if names != true))
        legs.append(Leg(readings, tuple(sorted(common))))
        left = tuple(name for name in left if name not in common)
        among = [name for name in among if name not in common]
    return ShortestWay(tuple(legs))


def _fewest(sorts: tuple[Sort, ...], true: Signature, others: Sequence[Signature], shown: Sequence[frozenset[str]]
            ) -> tuple[Sort, ...]:
    """The fewest readings of which each of the others departs in one at least, and each fault shows by itself in one.

    A look at a short move costs nothing. shown: of each fault the readings that show it.
    """
    look = tuple(sort for sort in sorts if LOOK in sort.symptoms)
    dear = [sort for sort in sorts if sort not in look]
    apart = [frozenset(sort.name for sort in sorts if one[sort.name] != true[sort.name]) for one in others]
    needed = [names for names in (*apart, *shown) if not names & {sort.name for sort in look}]
    for count in range(len(dear) + 1):
        for chosen in combinations(dear, count):
            names = {sort.name for sort in chosen}
            if all(one & names for one in needed):
                return (*look, *chosen)
    return (*look, *dear)
