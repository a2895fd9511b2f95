"""What was made quick, against the plain way: nothing left out, nothing found that is not there."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import urban_mule.core.load.moments as moments
from urban_mule.core.brief.limits import fastest_of
from urban_mule.core.brief.settings import QUIET, SAME, SHARES, outcome
from urban_mule.core.brief.settings_room import margin_at
from urban_mule.core.load.asked import accelerations_for, crossings
from urban_mule.core.load.cycle import Pieces
from urban_mule.core.motor.margin import shortage
from urban_mule.core.readings.shapers import NONE
from urban_mule.core.ring.set_shaper import Tried
from urban_mule.core.ring.shaper import shaper_sequences
from urban_mule.core.ring.tuned import surviving, tuning_frequencies
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.doubts import doubts_of
from urban_mule.core.studies.tolerance import with_values
from urban_mule.demo.courtyard import demo_project
from urban_mule.store.doubts import axis_inputs_in_doubt
from urban_mule.store.solve import solve_axis

PROJECT = demo_project()
SOLUTIONS = {axis.name: solve_axis(PROJECT, axis) for axis in PROJECT.axes}


def every_shaper(solution: Solution) -> list[Tried]:
    """All kinds at all frequencies of the tuning grid, none left out."""
    mode, path = solution["swinging_mode"], float(solution["path_tolerance"])
    found = [Tried(NONE, None, 1.0, 0.0, math.inf)]
    for one in shaper_sequences(1.0, mode.damping_ratio):
        for frequency in tuning_frequencies(solution.get("modes") or (mode,)):
            left = float(surviving(one.times[None, :] / frequency, one.amplitudes, (mode,))[0])
            found.append(Tried(one.name, float(frequency), left, float(one.times[-1] / frequency),
                               2 * path * frequency**2 / one.variance))
    return [solution["swinging"].as_found(one) for one in found]


@pytest.mark.parametrize("name", ["X", "Z", "C"])
def test_the_best_and_the_quiet_set_are_those_of_all_shapers_at_all_speeds_and_accelerations(name: str) -> None:
    """The whole grid, a shaper at a time: no set is quicker than the best, none within a tenth of its time is quieter."""
    solution = SOLUTIONS[name]
    room, best, quiet = (solution[one] for one in ("settings_room", "settings_best", "settings_quiet"))
    steep = np.min([np.full(room.speeds.size, room.top_acceleration), *room.steepest.values()], axis=0)
    allowed = (room.speeds <= min(room.fastest.values(), default=math.inf) * (1 + SAME)) & (steep > 0)
    speeds, steep = room.speeds[allowed], steep[allowed]
    least, quietest = math.inf, math.inf
    every = every_shaper(solution)
    for one in every[:: max(1, len(every) // 260)]:  # an even share of thousands, the kinds all among them
        accelerations = np.minimum(steep, one.allowed)[:, None] * SHARES
        time, swing, _ = outcome(solution["cycle"], solution["swinging"], one, speeds[:, None] + 0 * accelerations, accelerations)
        least = min(least, float(time.min()))
        quietest = min(quietest, float(np.where(time <= QUIET * best["settled_cycle_time"] + SAME, swing, math.inf).min()))
    assert best["settled_cycle_time"] <= least * (1 + 1e-12)
    assert quiet["residual_swing"] <= quietest * (1 + 1e-9)
    for one in (best, quiet):
        tried = next(each for each in every if each.name == one["shaper"] and (
            one["frequency"] is None or math.isclose(each.frequency or 0.0, one["frequency"])))
        time, swing, _ = outcome(solution["cycle"], solution["swinging"], tried, one["speed"], one["acceleration"])
        assert float(time) == pytest.approx(one["settled_cycle_time"]) and float(swing) == pytest.approx(one["residual_swing"])
        limits = solution["torque_limits"]
        assert margin_at(solution["capped_torque"], limits, one["speed"], one["acceleration"]) >= limits.curves[0][2] * (1 - 1e-4)


@pytest.mark.parametrize("name", ["X", "Y", "Z", "C"])
def test_pieces_that_are_left_out_of_many_builds_decide_in_none(name: str, monkeypatch: pytest.MonkeyPatch) -> None:
    random = np.random.default_rng(3)
    solution = SOLUTIONS[name]
    many = {"rotor_inertia": random.uniform(5e-6, 2e-4, (40, 1)), "current_peak": random.uniform(0.5, 6.0, (1, 7)),
            "drag_torque": 0.01}
    with_pruning = solution.changed(**many)["working_margin"]
    counts = []
    left_out = moments._not_beaten

    def all_of_them(ends: Any, counted: Any) -> np.ndarray:
        counts.append((counted.shape[-1], left_out(ends, counted).size))
        return np.arange(counted.shape[-1])

    monkeypatch.setattr(moments, "_not_beaten", all_of_them)
    assert solution.changed(**many)["working_margin"] == pytest.approx(with_pruning, rel=2e-3 if name == "Z" else 1e-12)
    assert counts and all(kept < count for count, kept in counts), "something is left out"


def test_the_tightest_moment_is_that_of_a_dense_look_into_every_piece() -> None:
    """Random pieces of which most decide at an end and some in between, of one build and of many, the torque of a motor falling."""
    random = np.random.default_rng(8)
    inside = 0
    for builds in ((), (5,)):
        for _ in range(60):
            start, end = (random.uniform(0.05, 1.0, (*builds, 6)) for _ in range(2))
            slow, fast = np.sort(random.uniform(0.0, 100.0, (2, 6)), axis=0)
            turned = random.random(6) < 0.5
            first, last = np.where(turned, fast, slow), np.where(turned, slow, fast)
            bend = (last - first) / 4 * random.uniform(-1, 1, 6)  # so that the speed still goes one way
            pieces = Pieces(np.ones(6), *np.zeros((4, 6)), np.ones(6), *np.zeros((3, 6)))
            cycle = moments.CycleTorque(start, end, first, last, bend, random.random(6) < 0.8, pieces, True)
            corner = float(random.uniform(10.0, 120.0))
            of = shortage(lambda speed, corner=corner: np.minimum(1.0, corner / np.maximum(speed, 1e-9)))  # type: ignore[misc]
            looked = of(*cycle.inside(np.linspace(0, 1, 3001).reshape(-1, *(1,) * (len(builds) + 1))))
            dense = np.max(np.where(cycle.moving, looked, -np.inf), axis=(0, -1))
            ends = np.max(np.where(cycle.moving, [looked[0], looked[-1]], -np.inf), axis=(0, -1))
            inside += int(np.sum(dense > ends + 1e-6))
            assert moments.greatest(cycle, of)[0] == pytest.approx(dense, rel=2e-3 if builds else 1e-6)
    assert inside > 5, "some lie between the ends"


@pytest.mark.parametrize("name", ["X", "W"])
def test_doubts_are_those_of_each_input_moved_by_itself(name: str) -> None:
    """Each end of each input by a solution of its own, whatever it touches; as the quick way has it."""
    axis, solution = PROJECT.axis(name), SOLUTIONS[name]
    inputs, _, correlation = axis_inputs_in_doubt(PROJECT, axis, solution)
    doubts = doubts_of(solution, inputs, correlation=correlation)
    random = np.random.default_rng(5)
    names = list(doubts.values)
    for quantity in (names[place] for place in random.choice(len(names), 12, replace=False)):
        row = doubts.moved[quantity]
        for place, one in enumerate(inputs):
            ends = [None if end is None else with_values(solution, {one.label: end}).get(quantity) for end in (one.minus, one.plus)]
            values = [float(solution[quantity]) if end is None else float(end) for end in ends]
            sides = 2.0 if None not in ends else 1.0
            expected, small = (values[1] - values[0]) / sides, 1e-9 * abs(float(solution[quantity]))
            assert float(row[place]) == pytest.approx(expected, rel=1e-6, abs=small), (quantity, one.label)


@given(places=st.lists(st.floats(0.0, 1.0), min_size=1, max_size=6))
@settings(max_examples=60, deadline=None)
def test_crossings_of_many_curves_are_found_each_where_it_lies(places: list[float]) -> None:
    wanted = np.array(places)
    found = crossings(lambda at, of: at - wanted[of], np.zeros(wanted.size), np.full(wanted.size, 1.1))
    assert found == pytest.approx(wanted, abs=1e-6) and np.all(found <= wanted + 1e-12)


def test_both_factors_at_once_are_what_each_is_alone() -> None:
    for solution in SOLUTIONS.values():
        curve, asked = solution["torque_curve"], solution["asked_torque"]
        peak, r, near = (float(solution[one]) for one in ("peak_torque", "travel_per_radian", "top_acceleration"))
        torques = [peak, 1.5 * peak, 1e-9, 1e9]
        both, alone = fastest_of(curve, torques, r), [fastest_of(curve, [one], r)[0] for one in torques]
        assert [one is None for one in both] == [one is None for one in alone] and both[3] == 0.0
        assert [one for one in both if one is not None] == pytest.approx([one for one in alone if one is not None], rel=1e-9)
        found = accelerations_for(asked, torques, near)
        assert found == pytest.approx([accelerations_for(asked, [one], near)[0] for one in torques], rel=1e-9)
        for torque, acceleration in zip(torques[:2], found[:2], strict=True):
            if acceleration:
                assert float(np.asarray(asked(np.array([acceleration])))[0]) == pytest.approx(torque, rel=1e-5)
