"""Whatever is typed into the plan of any round: steps that make sense, or one sentence; never anything else, and at once."""

from __future__ import annotations

import math
import random
from dataclasses import replace
from typing import Any

import pytest

from urban_mule.bench.sessions.kinds import PLAN_KINDS, columns_of, left_of, steps_of
from urban_mule.bench.sessions.rounds import PlanAxis, plan_of
from urban_mule.core.sheet.given import BadValue
from urban_mule.demo.courtyard import demo_project
from urban_mule.store.document.faults import Refused
from urban_mule.store.solve import solve_axis

PROJECT = demo_project()
LINEAR = tuple((axis.name, axis.travel) for axis in PROJECT.axes if axis.motion == "linear")
AXES: dict[str, PlanAxis] = {axis.name: replace(plan_of(axis, solve_axis(PROJECT, axis)), others=tuple(
    one for one in LINEAR if one[0] != axis.name)) for axis in PROJECT.axes}
ASKED = {"tone": {"span": "420", "linear_mass": "9.5"}, "drag": {"radius": "60", "lowest": "0.02", "highest": "0.05"}}
TYPED = ("", " ", "0", "-1", "-0", "1", "2", "7", "0,5", "1e3", "1e9", "1e999", "nan", "inf", "-inf", "abc", "1;2;3", "1 2 3",
         "3 2 1", "5 5 5", "0 0", "1/0", "٣", "9" * 200, "1e-12", "−4", "1,5;2,5", "100%", "10 mm", "2 in", "90 °", "both", "plus",
         "50+1.005", "0 " * 300, " ".join(map(str, range(3000))), "300/4000 1e9/1e9", "<b>1</b>", "…", "None", "True")
NOT_OF_AN_AXIS = ("command",)  # planned for a spindle


def steps_or_sentence(kind: str, axis: PlanAxis, settings: dict[str, Any]) -> int:
    """How many steps a plan has, every one with a place, an instruction and a time; 0 where one sentence says what is wrong."""
    try:
        steps = steps_of(kind, axis, settings)
    except BadValue as why:
        said = str(why)
        assert said.strip() and "\n" not in said and "Traceback" not in said and len(said) < 600, (kind, said)
        return 0
    assert len({step.place for step in steps}) == len(steps)
    for step in steps:
        assert step.instruction.strip() and math.isfinite(step.at) and math.isfinite(step.adds), (kind, step)
        assert 0 < step.seconds < 1e7, (kind, step)
        for act in step.does:
            assert all(math.isfinite(one) for one in act if isinstance(one, float)), (kind, act)
    return len(steps)


@pytest.mark.parametrize("kind", sorted(PLAN_KINDS))
def test_anything_typed_into_a_plan_is_steps_or_one_sentence(kind: str) -> None:
    planned = 0
    for name, axis in AXES.items():
        plan = PLAN_KINDS[kind]
        try:
            usual = plan.usual(axis) | ASKED.get(kind, {})
        except BadValue as why:
            assert str(why).strip(), (kind, name)
            continue
        planned += steps_or_sentence(kind, axis, usual)
        for setting in usual:
            for text in TYPED if name in ("X", "C") else TYPED[::5]:
                steps_or_sentence(kind, axis, usual | {setting: text})
    assert planned or kind in NOT_OF_AN_AXIS, "some axis of the demo can be planned"


@pytest.mark.parametrize("seed", range(6))
def test_two_settings_typed_at_once_and_an_axis_of_which_little_is_known(seed: int) -> None:
    """Also where nothing is said of travel, speed or gauge, in either system."""
    rng = random.Random(seed)
    bare = PlanAxis(None, True, None, ())
    axes = (bare, replace(bare, system="inch"), replace(AXES["X"], system="inch"), replace(AXES["C"], travel=None), AXES["W"])
    for kind in sorted(PLAN_KINDS):
        for axis in axes:
            try:
                usual = PLAN_KINDS[kind].usual(axis)
            except BadValue as why:
                assert str(why).strip()
                continue
            for _ in range(12):
                names = rng.sample(sorted(usual), min(2, len(usual)))
                steps_or_sentence(kind, axis, usual | {name: rng.choice(TYPED) for name in names})


@pytest.mark.parametrize("kind", sorted(one for one, plan in PLAN_KINDS.items() if not plan.records and not plan.pair))
def test_numbers_of_any_size_make_a_reading_or_one_sentence(kind: str) -> None:
    """Rounds that end early, or hold nothing, zeros, or numbers far off: a reading's columns, or why it makes none."""
    for axis in (AXES["X"], AXES["C"]):
        try:
            usual = PLAN_KINDS[kind].usual(axis)
            steps = steps_of(kind, axis, usual)
        except BadValue:
            continue
        for value in (0.0, 1e-9, 5.0, -3.0, 1e12):
            for count in (0, 1, len(steps) // 2, len(steps)):
                values = {step.place: value for step in steps[:count]}
                try:
                    left = left_of(kind, axis, usual, steps, values)
                    assert all(step.instruction for step in left)
                    columns = columns_of(kind, axis, usual, values)
                except (BadValue, Refused) as why:
                    assert str(why).strip() and "\n" not in str(why)
                    continue
                assert columns and all(isinstance(name, str) for name in columns)
