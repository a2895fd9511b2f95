"""Proves that every lesson can be solved, and the shortest way to hidden faults walked: every fault and pair, axis by axis.

    python -m tools.proofs [AXES] [SEEDS]      XYZC, and seed 1, where nothing is said
"""

from __future__ import annotations

import dataclasses
import sys
from collections.abc import Iterable
from itertools import combinations

from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.demo.courtyard import demo_project
from urban_mule.demo.kept import machine_project
from urban_mule.practice.debrief import debrief
from urban_mule.practice.evidence import HIDDEN, Reckoner, read, seen
from urban_mule.practice.hiding import lesson_project, reckoner_of, with_hidden
from urban_mule.practice.lessons import LESSONS, Lesson
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


def solved_by_its_evidence(lesson: Lesson, project: Project) -> bool:
    """Whether a lesson is told whole by what its readings show, in nine of them, with nothing put right in vain."""
    begun = lesson_project(lesson, project)
    told = debrief(begun, begun, lambda *_: True)
    sure = {one for leg in told.way.legs for one in leg.sure}
    return (len(told.truth) == len(told.missed) and bool(told.evidence) and not told.way.alike and told.way.readings <= 9
            and not told.needless and sure == set(told.missed))


if __name__ == "__main__":
    unsolved = [lesson.number for lesson in LESSONS if not solved_by_its_evidence(lesson, machine_project(lesson.machine))]
    print(f"{len(LESSONS)} lessons; not solved by their evidence: {unsolved or 'none'}", flush=True)
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
    sys.exit(bool(wrong or unsolved))
