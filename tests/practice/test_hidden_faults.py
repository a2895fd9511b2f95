"""Hidden faults: each physically in the machine, each pair told apart by the shortest way on the simulation, honestly named"
" else."""

from __future__ import annotations

import dataclasses
from itertools import combinations
from typing import Any

import numpy as np
import pytest
from tools.proofs import bare, reckoner_by, solved_by_its_evidence, walked

from urban_mule.bench.sessions.rounds import plan_of
from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.bench.simulated.truth import SOUND
from urban_mule.demo import DEMOS
from urban_mule.demo.courtyard import demo_project
from urban_mule.demo.kept import machine_project
from urban_mule.practice.debrief import debrief
from urban_mule.practice.evidence import SORTS, read
from urban_mule.practice.faults import FAULTS, NAMED, Built, Hidden, afflicted, possible
from urban_mule.practice.hiding import lesson_project, with_hidden
from urban_mule.practice.lessons import LESSONS, Lesson
from urban_mule.practice.machine import look, practice_machine, sound_machine
from urban_mule.practice.made import real_solution
from urban_mule.practice.way import shortest_way
from urban_mule.store.document.edit import edited
from urban_mule.store.document.project import Project
from urban_mule.store.solve import solve_axis

PROJECT = demo_project()


BARE = bare(PROJECT)


@pytest.mark.parametrize(("name", "seed", "pairs"), [
    ("X", 1, 0), ("C", 4, 10), *(pytest.param(*one, marks=pytest.mark.long) for one in (("Y", 1, 0), ("Z", 3, 0)))])
def test_the_shortest_way_tells_every_fault_and_pairs_apart_on_the_simulation(name: str, seed: int, pairs: int) -> None:
    """All pairs of X and Y: `make proofs`."""
    reckoner = reckoner_by(BARE, name, seed)
    for fault in sorted(reckoner.hidden):
        assert walked(reckoner, (fault,), seed + 100) <= 9
    both = list(combinations(sorted(reckoner.hidden), 2))
    for place in np.random.default_rng(seed).permutation(len(both))[:pairs]:
        assert walked(reckoner, both[place], seed + 200) <= 18
    if name == "X":
        reckoner.sorts = tuple(sort for sort in reckoner.sorts if sort.kind in ("", "reversal"))
        way = shortest_way(reckoner, ("binding guide",))
        assert ("loose pinion",) in way.alike and way.legs[-1].sure == (), "what no reading tells apart is named so"


def test_a_fault_changes_all_that_it_changes_in_a_machine_and_putting_it_right_takes_all_of_it_back() -> None:
    project = with_hidden(BARE, "X", 0, 3)
    axis = project.axis("X")
    sound = sound_machine(project, axis)
    slack = afflicted(sound, [Hidden(NAMED["slack belt"], 0.3)])
    quiet = {name: dataclasses.replace(one, truth=SOUND) for name, one in {"sound": sound, "slack": slack}.items()}
    pushed, rings = ({name: number_of(project, one, kind, which) for name, one in quiet.items()} for kind, which in (
        ("push", "spring"), ("acceleration", "first mode")))
    stiffness = float(sound.real["axial_stiffness"] / slack.real["axial_stiffness"])
    assert pushed["slack"] / pushed["sound"] == pytest.approx(stiffness, rel=0.05), "a softer belt is felt by the hand"
    fell = float(slack.real["first_resonance"] / sound.real["first_resonance"])
    assert rings["slack"] / rings["sound"] == pytest.approx(fell, rel=0.05), "and heard, as one stiffness"
    weak = afflicted(sound, [Hidden(NAMED["wrong sense resistor"], 0.5)]).real
    assert weak["copper_loss"] == pytest.approx(sound.real["copper_loss"] / 4), "half the current is a quarter of the heat"
    hidden = {"axis": "X", "seed": 3, "faults": [{"fault": "slack belt", "size": 0.3}, {"fault": "heat growth", "size": 200.0}]}
    faulty = edited(project, ("hidden",), hidden)
    there, mended = (practice_machine(edited(faulty, ("hidden", "repaired"), repaired), axis, 0) for repaired in (
        [], ["slack belt", "heat growth"]))
    assert there.body.train_stiffness < 0.6 * mended.body.train_stiffness and there.truth.warm_growth > 1.8e-4
    assert mended.body == SimulatedAxis(mended.solution, sound.truth, sound.real).body


def number_of(project: Project, built: Built, kind: str, symptom: str) -> float:
    """A symptom of a machine, read."""
    axis = project.axis("X")
    solution = solve_axis(project, axis)
    sort = next(one for one in SORTS if one.kind == kind)
    return float(read(SimulatedAxis(solution, built.truth, built.real), sort, plan_of(axis, solution))[symptom])


def test_a_machine_stays_as_it_is_when_what_was_measured_is_taken_over_and_follows_its_settings() -> None:
    project = edited(BARE, ("axes", 0, "motor", "torque_factor"), None)
    axis = project.axis("X")
    solution = solve_axis(project, axis)
    really = real_solution(project, axis, solution)
    assert really["moved_inertia"] != solution["moved_inertia"], "it is drawn about what is written down"

    def after(*change: Any) -> Any:
        now = edited(project, ("axes", 0, *change[:-1]), change[-1])
        return real_solution(now, now.axes[0], solve_axis(now, now.axes[0]))

    for change in (("measured_stiffness", 9e4), ("motor", "torque_factor", 0.7), ("moving_mass", 5.9), ("friction_force", 7.5)):
        moved = after(*change)
        for name in ("moved_inertia", "friction_load", "train_stiffness"):
            assert moved[name] == pytest.approx(float(really[name]))
    stronger, other = after("driver", "current_peak", 5.5), after("moving_mass", 9.0)
    assert stronger["current_peak"] / really["current_peak"] == pytest.approx(1.1), "a setting is set"
    assert other["moved_inertia"] == pytest.approx(9.0, rel=0.12) != really["moved_inertia"], "another part is another part"
    assert after("train", 1, "teeth", 20)["travel_per_radian"] == pytest.approx(really["travel_per_radian"] * 20 / 24)


def test_a_wrong_setting_is_put_right_in_the_fields_as_well() -> None:
    project = lesson_project(LESSONS[0], demo_project())
    hidden = project.hidden
    assert hidden is not None
    measured = practice_machine(project, project.axes[0], 0)
    measured.enable()
    measured.move(0.6)
    assert measured._stands() == pytest.approx(0.6 * hidden.faults[0].size / 24, rel=1e-3)
    mended = edited(project, ("axes", 0, "train", 1, "teeth"), hidden.faults[0].size)
    counted = practice_machine(mended, mended.axes[0], 0)
    counted.enable()
    counted.move(0.6)
    assert counted._stands() == pytest.approx(0.6, rel=1e-3)
    told = debrief(edited(mended, ("hidden", "believed"), ["wrong tooth count"]), project, lambda *_: True)
    assert told.found == ("wrong tooth count",) and not told.needless and not told.wrong
    tampered = edited(mended, ("axes", 0, "driver", "current_peak"), 3.0)
    assert debrief(tampered, project, lambda *_: True).needless == ("driver: current peak set otherwise",)


@pytest.mark.parametrize("lesson", [LESSONS[4], *LESSONS[12:]], ids=lambda one: str(one.number))
def test_lessons_can_be_solved_by_their_evidence(lesson: Lesson) -> None:
    """The others: `make proofs`."""
    assert solved_by_its_evidence(lesson, machine_project(lesson.machine))


def test_drawing_is_by_its_seed_and_an_axis_without_parts_has_nothing_to_hide() -> None:
    drawn, again = (with_hidden(PROJECT, "C", 2, 4).hidden for _ in range(2))
    assert drawn is not None and again is not None and drawn.faults == again.faults and len(drawn.faults) == 2
    suits = {one.fault.name for project in map(machine_project, DEMOS) for name in "XY"
             for one in possible(solve_axis(project, project.axis(name)), 1)}
    assert suits == set(NAMED) == {one.name for one in FAULTS}, "every fault of the list is on some axis"
    bare = PROJECT.model_copy(update={"axes": (type(PROJECT.axes[0])(name="Q", motion="rotary", motor={"kind": "servo"}),)})
    assert {one.fault for one in with_hidden(bare, "Q", 3, 1).hidden.faults} == {"lost samples", "indicator sign"}  # type: ignore[union-attr]


def test_what_is_wrong_with_both_motors_of_a_pair_is_seen_on_both_axes() -> None:
    """The other axis of the pair shows it too; the cord feed beside them does not."""
    project = lesson_project(LESSONS[13], machine_project(LESSONS[13].machine))
    seen = [look(project, axis) for axis in project.axes]
    assert "aslant" in seen[0] and seen[0] == seen[1] and seen[2] == "It moves as commanded."
