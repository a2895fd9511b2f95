"""Settings that belong together: against moves integrated in time, against sets drawn at random, and through the window."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from scipy.signal import cont2discrete, lfilter
from tests.driving import leaf_of

from urban_mule.core.brief.settings import outcome
from urban_mule.core.brief.settings_room import breaks_of
from urban_mule.core.load.cycle import Move
from urban_mule.core.readings.ladder import LadderReading
from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.set_shaper import shaper_of
from urban_mule.core.ring.shaped import Swinging
from urban_mule.core.ring.shaper import Shaper, shaper_sequences
from urban_mule.core.ring.swing import USUAL_DAMPING
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.least_change import least_change, missed
from urban_mule.core.studies.tolerance import with_values
from urban_mule.demo.courtyard import demo_project
from urban_mule.desk.stages.brief.settings_leaf import SEEKING
from urban_mule.desk.walk import settle
from urban_mule.store.solve import solve_axis
from urban_mule.store.subject_settings import rows_of

pytestmark = pytest.mark.every_axis

STEP = 2e-4  # s


@pytest.fixture(scope="module")
def axes() -> dict[str, Solution]:
    project = demo_project()
    return {axis.name: solve_axis(project, axis) for axis in project.axes if axis.name in ("X", "Z", "W")}


def swing_in_time(mode: Mode, off: float, distance: float, speed: float, acceleration: float, shaper: Shaper) -> float:
    """What a trapezoid through the impulses of a shaper really leaves of a mode that is off by a share, integrated in time."""
    ramp = speed / acceleration
    ends = np.array([0.0, ramp, distance / speed, distance / speed + ramp])
    time = np.arange(0, ends[-1] + shaper.times[-1] + STEP, STEP)
    pushed = np.zeros(time.size)
    for at, share in zip(shaper.times, shaper.amplitudes, strict=True):
        t = time - at
        pushed += share * acceleration * (((t >= 0) & (t < ends[1])).astype(float) - ((t >= ends[2]) & (t < ends[3])))
    w = 2 * math.pi * mode.frequency * off
    b, a, _ = cont2discrete(([1.0], [1.0, 2 * mode.damping_ratio * w, w * w]), STEP, method="zoh")
    x = lfilter(np.ravel(b), a, pushed)
    damped = w * math.sqrt(1 - mode.damping_ratio**2)
    speed_of = (x[-1] - x[-3]) / (2 * STEP)
    return math.hypot(x[-2], (speed_of + mode.damping_ratio * w * x[-2]) / damped)


@pytest.mark.parametrize("kind", ["none", "ZV", "EI"])
def test_the_swing_promised_is_what_the_worst_phase_leaves_in_time(kind: str) -> None:
    """Over moves of many lengths, and a mode up to 7 % off, the greatest is about the one promised."""
    mode, speed, acceleration = Mode(14.0, 0.04, 1.0, 1.0), 0.3, 3.0
    tried = shaper_of(kind, None if kind == "none" else 14.0, mode, 1e-3, None)
    made = Shaper("none", np.zeros(1), np.ones(1)) if kind == "none" else next(
        one for one in shaper_sequences(14.0, mode.damping_ratio) if one.name == kind)
    shares = []
    for distance in 0.25 + 0.021 * np.linspace(0, 1, 12):
        for ramp in (0.93, 1.0, 1.07, 1.15):
            cycle = (Move(distance=float(distance), speed=speed, acceleration=acceleration * ramp),)
            promised = float(outcome(cycle, Swinging(mode, 1e-6), tried, speed, acceleration * ramp)[1])
            real = max(swing_in_time(mode, off, float(distance), speed, acceleration * ramp, made) for off in (0.93, 1.0, 1.07))
            shares.append(real / promised)
    assert 0.8 < max(shares) < 1.2, "one that is 7 % lower swings 1/0.93² further"


def broken(solution: Solution, allowed: float, speed: float, steep: float) -> list[str]:
    limits = (solution[name] for name in ("fastest_settings", "capped_torque", "torque_limits"))
    return breaks_of(*limits, allowed, speed, steep)


def test_none_of_many_sets_that_keep_all_limits_beats_the_best_or_is_quieter_in_its_time(axes: dict[str, Solution]) -> None:
    random = np.random.default_rng(11)
    for name, solution in axes.items():
        best, quiet, mode = solution["settings_best"], solution["settings_quiet"], solution["swinging_mode"]
        room, cycle = solution["settings_room"], solution["cycle"]
        held = 0
        for _ in range(100):
            speed, steep = (float(top * random.uniform(0.1, 1)) for top in (room.speeds.max(), room.top_acceleration))
            kind = str(random.choice(["none", "ZV", "ZVD", "ZVDD", "EI"]))
            frequency = None if kind == "none" else float(mode.frequency * random.uniform(0.6, 1.9))
            tried = shaper_of(kind, frequency, mode, solution["path_tolerance"], None)
            if broken(solution, tried.allowed, speed, steep):
                continue
            time, swing, _ = (float(one) for one in outcome(cycle, solution["swinging"], tried, speed, steep))
            held += 1
            assert time > best["settled_cycle_time"] * (1 - 1e-3), (name, kind, speed, steep)
            assert swing > 0.95 * quiet["residual_swing"] or time > 1.1 * best["settled_cycle_time"] * (1 - 1e-3), (name, kind)
        assert held > 10, name
        for one in (best, quiet):
            tried = shaper_of(one["shaper"], one["frequency"], mode, solution["path_tolerance"], solution.get("two_mode_shaper"))
            assert not broken(solution, tried.allowed, one["speed"], one["acceleration"]), "it breaks no limit"


def test_each_limit_is_named_where_it_is_broken(axes: dict[str, Solution]) -> None:
    x = axes["X"]
    assert x["settings_as_set"]["breaks"] == []
    cycle = x["cycle"]
    said: dict[str, dict[str, Any]] = {
        "torque": {"safety_factor": 9.0}, "pulses": {"max_pulse_rate": 0.9 * float(x["pulse_rate"])},
        "path": {"shaper_kind": "ZVDD", "path_tolerance": 2e-5},
        "ladder": {"ladder_reading": LadderReading(
            np.array([x["top_speed"]] * 2), np.array([0.5, 1.1]) * x["top_acceleration"],
            np.array([0.0, 4 * x["step_length"] * 16]))}}
    for name, change in said.items():
        assert name in x.changed(**change)["settings_as_set"]["breaks"], name
    servo = next(one for one in axes.values() if "rated_torque" in one.sheet.inputs)
    hot = servo.changed(rated_torque=0.9 * float(servo["rms_torque"]))
    assert hot["settings_as_set"]["breaks"] == ["heat"] and hot["settings_best"]["limit"] == "heat"
    assert x.changed(cycle=()).find("settings_best").reason
    assert x["swinging_mode"].damping_ratio == USUAL_DAMPING, "no record: a usual damping"
    quicker = x.changed(settle_tolerance=1e-6)
    assert quicker["settle_time"] > x["settle_time"] and quicker["settled_cycle_time"] > x["settled_cycle_time"]
    assert x["settled_cycle_time"] >= sum(move.dwell * move.repeat for move in cycle)


def test_the_least_change_meets_a_missed_goal_and_a_little_less_does_not(axes: dict[str, Solution]) -> None:
    found = []
    for name, goal, share in (("X", "speed", 1.2), ("X", "acceleration", 1.2), ("Z", "speed", 1.3), ("Z", "acceleration", 1.5),
                              ("W", "acceleration", 1.4), ("X", "speed", 50.0)):
        reached = axes[name][f"{goal}_reached"].value
        solution = axes[name].changed(**{f"{goal}_wanted": share * reached})
        assert missed(solution, goal) and not missed(axes[name].changed(**{f"{goal}_wanted": 0.9 * reached}), goal)
        change = least_change(solution, goal)
        if change is None:
            found.append(None)
            continue
        assert not missed(with_values(solution, {change.label: change.after}), goal)
        assert missed(with_values(solution, {change.label: change.before + 0.97 * (change.after - change.before)}), goal)
        found.append(change.label)
    assert found[-1] is None and any(found), found


def test_the_best_set_is_taken_in_one_step_and_the_tag_is_that_set(demo_copy: Path, qtbot: Any) -> None:
    window, picture = leaf_of(demo_copy, qtbot, "Brief", "set")
    session = window.session
    before = session.project

    def sought() -> None:
        settle(session)
        qtbot.waitUntil(lambda: picture.together is not None and picture.says()[0] != SEEKING, timeout=20_000)
        settle(session)

    sought()
    assert "break a limit: the shaper rounds the path" in picture.says()[0]
    assert "The acceleration wanted is missed. The least change that meets it" in picture.said.text()
    best = picture.together.sets["best"]
    picture.plane.setFocus()
    for key in (Qt.Key.Key_Left, Qt.Key.Key_Down):
        qtbot.keyClick(picture.plane, key)
    here = picture.here
    assert here["acceleration"] < best["acceleration"] and here["speed"] < best["speed"]
    assert picture.cells["here", "torque margin"].text() and here["settled_cycle_time"] > best["settled_cycle_time"]
    qtbot.keyClick(picture.plane, Qt.Key.Key_Delete)
    assert picture.here is None and not picture.take["here"].isEnabled()
    qtbot.mouseClick(picture.take["best"], Qt.MouseButton.LeftButton)
    settle(session)
    picture.bring_up_to_date()
    sought()
    assert picture.says()[0] == "The settings keep all limits, and none are quicker." and not picture.take["best"].isEnabled()
    solution = session.solution
    assert solution["acceleration_to_set"] == pytest.approx(best["acceleration"], rel=1e-9)
    chosen = solution["chosen_shaper"]
    assert (chosen["name"], chosen["frequency"]) == (best["shaper"], round(best["frequency"], 1))
    assert solution["top_speed"] == pytest.approx(best["speed"])
    session.undo_stack.undo()
    assert session.project == before, "one step"
    session.edit_all([(session.axis_path("controller", "max_pulse_rate"), 0.5 * float(solution["pulse_rate"]))])
    settle(session)
    speed = next(row for row in rows_of("axes", session.state) if row.name == "top_speed")
    assert speed.beneath == "too fast: more step pulses than are accepted beyond 0.3 m/s"
    session.undo_stack.undo()
    session.edit_all([(session.axis_path("shaper_kind"), "none")])
    settle(session)
    assert session.state.solution.find("chosen_shaper").reason == "no shaper is to be set"
    assert any(row.name == "shaper" and row.value == "none" for row in rows_of("axes", session.state))
    session.edit_all([(session.axis_path("shaper_kind"), "ZV+ZV")])
    settle(session)
    window.show_stage("Ring")
    window.stage.leaves.turn("shapers")
    assert session.solution["chosen_shaper"]["name"] == "ZV+ZV" and "ZV+ZV" in window.stage.leaves.picture.says()[0]
    window.close()
