"""Hidden faults: each physically in the machine, each pair told apart by the shortest way on the simulation, honestly named"
" else."""

from __future__ import annotations

import dataclasses
from itertools import combinations

import numpy as np
import pytest

from urban_mule.bench.sessions.rounds import plan_of
from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.demo.courtyard import demo_project
from urban_mule.practice.debrief import debrief
from urban_mule.practice.evidence import HIDDEN, Reckoner, read, seen
from urban_mule.practice.faults import FAULTS, NAMED, Hidden, afflicted, possible, sound_truth
from urban_mule.practice.hiding import lesson_project, with_hidden
from urban_mule.practice.lessons import LESSONS
from urban_mule.practice.machine import practice_machine
from urban_mule.practice.way import shortest_way
from urban_mule.store.document.edit import edited
from urban_mule.store.solve import solve_axis

PROJECT = demo_project()


def reckoner_of(name: str, seed: int) -> Reckoner:
    solution = solve_axis(PROJECT, PROJECT.axis(name))
    truth = sound_truth(seed, 60.0)
    whole = Reckoner(solution, truth, possible(solution, seed))
    return Reckoner(solution, truth, whole.telling())


def walked(reckoner: Reckoner, name: str, faults: tuple[str, ...], seed: int, sounds: dict[str, object]) -> int:
    """Walk the shortest way on the simulation: every reading must show what was reckoned, and then nothing else fits."""
    plan, way, left, taken = plan_of(PROJECT.axis(name), reckoner.solution), shortest_way(reckoner, faults), faults, 0
    mended: set[str] = set()
    assert not way.alike and way.legs[-1].sure
    for leg in way.legs:
        wanted = reckoner.signature(left)
        built = afflicted(reckoner.solution, reckoner.truth, [reckoner.hidden[one] for one in left])
        machine = SimulatedAxis(reckoner.solution, dataclasses.replace(built.truth, seed=seed), built.real)
        shown = {}
        for sort in leg.readings:
            if sort.kind and HIDDEN in wanted[sort.name]:
                continue
            if sort.name not in sounds:
                sounds[sort.name] = read(SimulatedAxis(reckoner.solution, reckoner.truth), sort, plan)
            found = seen(sort, read(machine, sort, plan), sounds[sort.name])  # type: ignore[arg-type]
            shown[sort.name] = tuple(found[symptom].how for symptom in sort.symptoms)
            taken += 1
        others = [names for names in combinations(sorted(set(reckoner.hidden) - mended), len(left)) if all(
            reckoner.signature(names)[reading] == how for reading, how in shown.items())]
        assert left in others, (name, left, shown)
        assert set(leg.sure) == set(left).intersection(*others), (name, left, others)
        mended |= set(leg.sure)
        left = tuple(one for one in left if one not in mended)
    assert not left
    return taken


@pytest.mark.parametrize(("name", "seed"), [("X", 1), ("Y", 2), ("Z", 3), ("C", 4)])
def test_the_shortest_way_tells_every_fault_and_every_pair_apart_on_the_simulation(name: str, seed: int) -> None:
    reckoner, sounds = reckoner_of(name, seed), dict[str, object]()
    names = sorted(reckoner.hidden)
    for count in (1, 2) if name in ("X", "Y") else (1,):
        for faults in combinations(names, count):
            assert walked(reckoner, name, faults, seed + 100 * len(faults), sounds) <= 9 + 9 * (count - 1)


def test_every_fault_of_the_list_is_on_some_axis_and_three_at_once_are_told_too() -> None:
    reckoners = {name: reckoner_of(name, 5) for name in ("X", "Y")}
    assert set(NAMED) == {name for one in reckoners.values() for name in one.hidden}
    random = np.random.default_rng(5)
    for name, reckoner in reckoners.items():
        sounds: dict[str, object] = {}
        for _ in range(6):
            chosen = tuple(sorted(map(str, random.choice(sorted(reckoner.hidden), 3, replace=False))))
            walked(reckoner, name, chosen, 9, sounds)


def test_what_no_reading_tells_apart_is_named_so() -> None:
    reckoner = reckoner_of("X", 1)
    reckoner.sorts = tuple(sort for sort in reckoner.sorts if sort.kind in ("", "reversal"))
    reckoner._whole.clear()
    way = shortest_way(reckoner, ("slack belt",))
    assert ("loose pinion",) in way.alike and way.legs[-1].sure == ()


def test_a_fault_changes_all_that_it_changes_in_a_machine_and_putting_it_right_takes_all_of_it_back() -> None:
    axis = PROJECT.axis("X")
    solution = solve_axis(PROJECT, axis)
    truth = sound_truth(3, 60.0)
    slack = afflicted(solution, truth, [Hidden(NAMED["slack belt"], 100.0)]).truth
    stiffness = (slack.modes[0].frequency / truth.modes[0].frequency) ** 2
    assert stiffness == pytest.approx(truth.compliance / slack.compliance), "half the stiffness is one stiffness in mode and push"
    assert slack.clearance > truth.clearance and (slack.pretension or 0) < 0.5 * (truth.pretension or 0)
    weak = afflicted(solution, truth, [Hidden(NAMED["wrong sense resistor"], 0.5)]).real
    assert weak["copper_loss"] == pytest.approx(solution["copper_loss"] / 4), "half the current is a quarter of the heat"
    project = with_hidden(PROJECT, "X", 12, 8)
    hidden = project.hidden
    assert hidden is not None and len(hidden.faults) == 12
    mended = edited(project, ("hidden", "repaired"), [one.fault for one in hidden.faults])
    machine = practice_machine(mended, axis, 0)
    assert machine.truth == dataclasses.replace(sound_truth(8, 60.0), seed=machine.truth.seed)


def test_a_wrong_setting_is_put_right_in_the_fields_as_well() -> None:
    project = lesson_project(LESSONS[0])
    hidden = project.hidden
    assert hidden is not None
    measured = practice_machine(project, project.axes[0], 0)
    measured.enable()
    measured.move(0.6)
    assert measured._real == pytest.approx(0.6 * hidden.faults[0].size / 24, rel=1e-3)
    mended = edited(project, ("axes", 0, "train", 1, "teeth"), hidden.faults[0].size)
    counted = practice_machine(mended, mended.axes[0], 0)
    counted.enable()
    counted.move(0.6)
    assert counted._real == pytest.approx(0.6, rel=1e-3)
    told = debrief(edited(mended, ("hidden", "believed"), ["wrong tooth count"]), project, lambda *_: True)
    assert told.found == ("wrong tooth count",) and not told.needless and not told.wrong
    tampered = edited(mended, ("axes", 0, "driver", "current_peak"), 3.0)
    assert debrief(tampered, project, lambda *_: True).needless == ("driver: current peak set otherwise",)


@pytest.mark.parametrize("lesson", LESSONS, ids=lambda one: str(one.number))
def test_every_lesson_can_be_solved_by_its_evidence(lesson: object) -> None:
    project = lesson_project(lesson)  # type: ignore[arg-type]
    told = debrief(project, project, lambda *_: True)
    assert len(told.truth) == len(told.missed) and told.evidence and not told.way.alike
    assert told.way.readings <= 9 and not told.needless
    assert {one for leg in told.way.legs for one in leg.sure} == set(told.missed)


def test_drawing_is_by_its_seed_and_an_axis_without_parts_has_nothing_to_hide() -> None:
    assert with_hidden(PROJECT, "Y", 2, 4).hidden.faults == with_hidden(PROJECT, "Y", 2, 4).hidden.faults  # type: ignore[union-attr]
    drawn = {one.fault for seed in range(40) for one in with_hidden(PROJECT, "Y", 3, seed).hidden.faults}  # type: ignore[union-attr]
    assert len(drawn) >= len(FAULTS) - 1 and "slack belt" not in drawn
    bare = PROJECT.model_copy(update={"axes": (type(PROJECT.axes[0])(name="Q", motion="rotary", motor={"kind": "servo"}),)})
    assert {one.fault for one in with_hidden(bare, "Q", 3, 1).hidden.faults} == {"lost samples", "indicator sign"}  # type: ignore[union-attr]
