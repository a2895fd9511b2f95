"""Proves that the shortest way to hidden faults leads there on the simulation: every fault and every pair, axis by axis.

    python -m tools.proofs [AXES] [SEEDS]      XYZC, and seed 1, where nothing is said
"""

from __future__ import annotations

import dataclasses
import sys
from collections.abc import Iterable
from itertools import combinations

from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.demo.courtyard import demo_project
from urban_mule.practice.evidence import HIDDEN, Reckoner, read, seen
from urban_mule.practice.hiding import reckoner_of, with_hidden
from urban_mule.practice.way import shortest_way
from urban_mule.store.document.project import Project


def bare(project: Project) -> Project:
    """The project without its second drivers, which a mis-set follower is told of."""
    return project.model_copy(update={"axes": tuple(axis.model_copy(update={"follower": None}) for axis in project.axes)})


def reckoner_by(project: Project, name: str, seed: int) -> Reckoner:
    """What can be wrong with the machine that a seed makes up for an axis."""
    made = with_hidden(project, name, 0, seed)
    return reckoner_of(made, made.axis(name))


def walked(reckoner: Reckoner, faults: tuple[str, ...], seed: int) -> int:
    """Walk the shortest way on the simulation, and count its readings: each must show what was reckoned, then nothing else fits."""
    way, left, taken = shortest_way(reckoner, faults), faults, 0
    mended: set[str] = set()
    assert not way.alike and way.legs[-1].sure, ("alike", way.alike)
    for leg in way.legs:
        wanted, machine, shown = reckoner.signature(left), reckoner.machine(left), {}
        for sort in leg.readings:
            if sort.kind and HIDDEN in wanted[sort.name]:
                continue
            noisy = SimulatedAxis(reckoner.solution, dataclasses.replace(machine.truth, seed=seed), machine.real)
            found = seen(sort, read(noisy, sort, reckoner.plan), reckoner.numbers(sort, ()))
            shown[sort.name] = tuple(found[symptom].how for symptom in sort.symptoms)
            taken += 1
        others = [names for names in combinations(sorted(set(reckoner.hidden) - mended), len(left)) if all(
            reckoner.signature(names)[reading] == how for reading, how in shown.items())]
        assert left in others, (left, shown, {name: wanted[name] for name in shown})
        assert set(leg.sure) == set(left).intersection(*others), (left, others)
        mended |= set(leg.sure)
        left = tuple(one for one in left if one not in mended)
    assert not left
    return taken


def failing(reckoner: Reckoner, count: int, seed: int) -> Iterable[str]:
    """What does not hold, of all sets of so many faults."""
    for faults in combinations(sorted(reckoner.hidden), count):
        try:
            walked(reckoner, faults, seed)
        except AssertionError as why:
            yield f"{' and '.join(faults)}: {why}"


if __name__ == "__main__":
    axes, seeds = (sys.argv[1:] + ["XYZC", "1"][len(sys.argv) - 1:])[:2]
    project, wrong = bare(demo_project()), 0
    for name in axes:
        for seed in map(int, seeds.split(",")):
            reckoner = reckoner_by(project, name, seed)
            for count in (1, 2):
                found = list(failing(reckoner, count, seed + 100))
                wrong += len(found)
                said = f"{name}, seed {seed}, {count} of {len(reckoner.hidden)} faults: {len(found)} do not hold"
                print(said, *found, sep="\n   ", flush=True)
    sys.exit(bool(wrong))
