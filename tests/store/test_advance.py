"""`advance`: whatever was edited, undone, renamed or removed, whoever looked meanwhile, the numbers are those of a fresh solve."""

from __future__ import annotations

import random
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest

from urban_mule.core.subjects import axis_sheet, sheet_of
from urban_mule.store.document.edit import edited
from urban_mule.store.document.project import Project
from urban_mule.store.file.project_file import Applied, ProjectFile, Where, now
from urban_mule.store.solve import open_solution
from urban_mule.store.state.machine import Machine, advance

pytestmark = pytest.mark.every_axis

VALUES: dict[tuple[str, ...], tuple[Any, ...]] = {
    ("moving_mass",): (3.0, 5.6, None), ("incline",): (0.0, 0.5, None), ("motor",): (None,), ("cycle",): (None,),
    ("readings",): ((),), ("driver", "microsteps"): (8, 64, None), ("motor_count",): (1, 2), ("follower",): (None,)}
SHARED: dict[tuple[str, ...], tuple[Any, ...]] = {
    ("ambient_temperature",): (15.0, 30.0), ("unit_system",): ("metric", "inch"), ("supply_voltage",): (24.0, 48.0, None),
    ("spindles",): (None,)}


@pytest.fixture
def demo(demo_copy: Path) -> Project:
    """The demo with its measurements."""
    with closing(ProjectFile.open(demo_copy)) as file:
        return file.project()


def changed(project: Project, rng: random.Random, step: int) -> Project:
    """One edit as a person makes it."""
    place = rng.randrange(len(project.axes))
    match rng.randrange(6):
        case 0:
            path, values = rng.choice(list(SHARED.items()))
            return edited(project, path, rng.choice(values))
        case 1:
            return edited(project, ("axes", place, "name"), f"N{step}")
        case 2 if len(project.axes) > 2:
            return edited(project, ("axes",), tuple(one for n, one in enumerate(project.axes) if n != place))
        case 3:
            return edited(project, ("axes",), (project.axes[place].model_copy(update={"name": f"T{step}"}), *project.axes))
        case _:
            path, values = rng.choice(list(VALUES.items()))
            part = project.axes[place].driver if path[0] == "driver" else project.axes[place]
            return project if part is None else edited(project, ("axes", place, *path), rng.choice(values))


def analysis_of(record: Any) -> dict[str, Any]:
    """What a worker makes of a long record."""
    sheet = axis_sheet("linear", "stepper")
    solution = sheet.solve(acceleration_reading=record, acceleration_readings=(record,))
    return {name: solution.find(name) for name in sheet.slow}


def numbers(machine: Machine) -> list[Any]:
    states = [machine.state_of(one) for one in machine.subjects]
    said = [(one.axis.name, open_solution(one.solution), one.system, [(v.check, v.level, v.sentence) for v in one.all_verdicts],
             {name: value.value for name, value in one.applied.items()}) for one in states]
    followers = [None if one.follower is None else open_solution(one.follower[1]) for one in machine.axes]
    return [*said, followers, open_solution(machine.together.solution), [v.sentence for v in machine.together.verdicts]]


@pytest.mark.parametrize("seed", [1, pytest.param(2, marks=pytest.mark.long)])
def test_any_chain_of_changes_equals_solving_afresh(demo: Project, seed: int) -> None:
    rng, known = random.Random(seed), dict[int, dict[str, Any]]()

    def analysed(records: tuple[Any, ...]) -> dict[str, Any] | None:
        return known.get(id(records[-1]))  # None: a worker is still at it

    applied: dict[Where, dict[str, Applied]] = {}
    machine = advance(None, demo, analysed, applied)
    done: list[Machine] = []
    for step in range(12):
        if done and rng.random() < 0.25:
            back = done.pop()
            machine = advance(machine, back.project, analysed, applied)
            assert [one.id for one in machine.axes] == [one.id for one in back.axes], "an undo brings back who they were"
        else:
            done.append(machine)
            machine = advance(machine, changed(machine.project, rng, step), analysed, applied)
        who = [one.id for one in machine.subjects]
        assert len(set(who)) == len(who)
        if rng.random() < 0.3:  # somebody sets something on the hardware
            where = Where(rng.choice(who))
            applied = {**applied, where: {"microsteps": Applied(now(), where, "microsteps", float(step), {})}}
            machine = advance(machine, machine.project, analysed, applied)
        for record in (one.records[-1] for one in machine.axes if one.records and rng.random() < 0.2):
            known[id(record)] = analysis_of(record)
        for one in machine.subjects:  # somebody looks at some of them
            if rng.random() < 0.3:
                assert one.solved.solution.sheet is one.sheet
        if rng.random() < 0.3:
            assert machine.together.solution.sheet is sheet_of("machine") and machine.is_solved
        if step % 6 == 5:
            machine = advance(machine, machine.project, analysed, applied)  # as when an analysis comes in
            assert numbers(machine) == numbers(advance(None, machine.project, analysed, applied))


def test_what_did_not_change_is_the_same_object_and_who_is_renamed_is_who_it_was(demo: Project) -> None:
    first = advance(None, demo, lambda _records: None, {})
    assert not any(one.is_solved for one in first.subjects), "nothing is computed before somebody asks"
    x, y = first.subjects[0].solved, first.subjects[1].solved
    after = advance(first, edited(first.project, ("axes", 0, "moving_mass"), 9.0), lambda _records: None, {})
    assert after.subjects[1].solved is y and after.subjects[0].solved is not x and after.subjects[0].last is not None
    assert after.subjects[0].solved.solution["moving_mass"] == 9.0 and not after.subjects[2].is_solved
    state = after.state_of(after.axes[1])
    named = advance(after, edited(after.project, ("axes", 0, "name"), "spindle S"), lambda _records: None, {})
    assert named.subjects[0].solved is after.subjects[0].solved and named.of(named.project.axes[0]).id == first.subjects[0].id
    assert named.others[0].solved is not named.subjects[0].solved and named.by_id(first.others[0].id) is named.others[0]
    assert named.state_of(named.axes[1]) is state, "and so is its state"


def test_a_long_record_is_known_when_its_analysis_has_come_in(demo: Project) -> None:
    came: dict[str, Any] = {}

    def analysed(_records: tuple[Any, ...]) -> dict[str, Any] | None:
        return came or None

    others = tuple(axis.model_copy(update={"readings": ()}) for axis in demo.axes[1:])
    waits = advance(None, demo.model_copy(update={"axes": (demo.axes[0], *others)}), analysed, {})
    assert waits.axes[0].records and waits.axes[0].solved.solution.get("spectrum") is None
    came |= analysis_of(waits.axes[0].records[-1])
    after = advance(waits, waits.project, analysed, {})
    assert after.axes[0].solved.solution.get("spectrum") is came["spectrum"] is not None
    assert after.subjects[1] is waits.axes[1] and advance(after, after.project, analysed, {}).subjects[0] is after.subjects[0]
