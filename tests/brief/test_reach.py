"""What an axis really reaches, each limit by hand: pulses, whirling, ladder, homing; the window leads to what moves it."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from tests.axis.test_verdicts import solve, two_way
from tests.driving import leaf_of

from urban_mule.core.brief.limits import fastest
from urban_mule.core.load.asked import crossing
from urban_mule.core.readings.homing import HomingReading
from urban_mule.core.readings.ladder import LadderReading
from urban_mule.core.train.links import Coupling, Screw

LONG = Screw(lead=0.01, diameter=0.012, length=1.2, end_support="supported-supported")


def limit(name: str, stage: str, **more: Any) -> Any:
    """The least limit of a stage among all those of the speed or the acceleration."""
    return next((one for one in solve(**more)[name] if one.stage == stage), None)


def test_pulses_end_the_speed_where_steps_a_metre_times_speed_is_their_rate() -> None:
    solution = solve(max_pulse_rate=20_000.0)
    found = next(one for one in solution["speed_limits"] if one.stage == "Drive")
    assert found.value == pytest.approx(20_000.0 / (solution["steps_per_unit"] * 1000), rel=1e-9)
    assert found.given == "max_pulse_rate"
    slow = limit("speed_limits", "Drive", minimum_pulse_width=50e-6, max_pulse_rate=None)
    assert slow.given == "minimum_pulse_width" and slow.value == pytest.approx(10_000.0 / (solution["steps_per_unit"] * 1000))
    assert limit("speed_limits", "Drive", max_pulse_rate=None) is None


def test_a_long_screw_whirls_before_the_motor_ends() -> None:
    found = limit("speed_limits", "Load", train=(Coupling(), LONG))
    root = (math.pi / 1.2) ** 2 * math.sqrt(206e9 / 7850.0 * 0.012**2 / 16)  # Euler-Bernoulli, simply supported, a round bar
    assert found.value == pytest.approx(0.8 * root * 0.01 / (2 * math.pi), rel=1e-6) and "whirl" in found.why


def test_the_ladder_leaves_a_third_and_says_so() -> None:
    before = solve()
    lost = LadderReading(np.full(2, 0.3), np.array([2.0, 40.0]), np.array([0.0, 0.004]))
    solution = solve(ladder_reading=lost)
    assert not before["ladder_limits"].speed and not before["ladder_limits"].acceleration
    there = solution["ladder_limits"].acceleration[0]
    share, radius = solution["ladder_lost"]["share"], solution["travel_per_radian"]
    allowed = float(solution["torque_curve"](np.array([solution["top_speed"] / radius]))[0]) * share * 2 / 3
    assert float(solution["asked_torque"](there.value)) == pytest.approx(allowed, rel=1e-6) and there.given == "ladder_reading"
    assert solution["acceleration_reached"].value <= there.value


def test_nobody_stays_where_the_steps_ring() -> None:
    """A limit within the band of resonance is put below it: there is no way past; one beyond it leaves the band to be crossed."""
    low, high = solve()["resonant_band"]
    band = solve()["speeds_to_cross"]
    assert band == (low, high)
    rate = float(solve()["pulse_rate"] / solve()["top_speed"])
    ends = solve(max_pulse_rate=1.1 * low * rate)["speed_reached"]
    assert ends.value == pytest.approx(low) and ends.stage == "Motor" and "ring it" in ends.why
    assert all("ring it" not in one.why for one in solve(max_pulse_rate=1.2 * high * rate)["speed_limits"])


def test_accuracy_is_no_better_than_homing() -> None:
    run = two_way(5e-6)
    steady, wild = (HomingReading(np.array(places)) for places in ([0.0, 1e-7, 0.0], [0.0, 3e-4, -2e-4]))
    alone, good, bad = (solve(positioning_reading=run, homing_reading=one) for one in (None, steady, wild))
    assert alone["accuracy_reached"].value == good["accuracy_reached"].value == alone["positioning_accuracy"]
    assert bad["accuracy_reached"].value == pytest.approx(4 * float(np.std([0.0, 3e-4, -2e-4], ddof=1)))
    assert bad["accuracy_reached"].given == "homing_reading" and solve().get("accuracy_reached") is None


def test_the_least_limit_is_reached_and_everything_else_stands_behind_it() -> None:
    for more in ({}, {"max_pulse_rate": 5e3}, {"moving_mass": 60.0}, {"supply_voltage": 12.0}):
        solution = solve(**more)
        values = [one.value for one in solution["speed_limits"]]
        assert values == sorted(values) and solution["speed_reached"].value == values[0]
        assert solution["acceleration_reached"].value == min(one.value for one in solution["acceleration_limits"])


@pytest.mark.parametrize(("torque", "speed"), [(1.0, 100.0), (0.5, 150.0), (1.99, 1.0)])
def test_the_fastest_is_where_a_straight_curve_crosses(torque: float, speed: float) -> None:
    assert fastest(lambda at: 2.0 - np.asarray(at) / 100.0, torque, 0.5) == pytest.approx(speed / 2, rel=1e-6)
    assert fastest(lambda at: np.full(np.shape(at), 2.0), torque, 0.5) is None
    assert fastest(lambda at: np.zeros(np.shape(at)), torque, 0.5) == 0.0


def test_a_crossing_is_found_wherever_it_lies() -> None:
    for place in (1e-9, 0.3, 1.0 - 1e-9):
        assert crossing(lambda at, place=place: np.asarray(at) - place, 0.0, 1.0) == pytest.approx(place, abs=1e-6)


def test_what_binds_leads_to_what_moves_it_and_unknown_goals_to_what_is_missing(demo_copy: Path, qtbot: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Brief", "goals")
    qtbot.waitUntil(lambda: not window.session.analysing, timeout=20_000)
    words = [words for _, words in window.stage.binding.links]
    assert words == ["speed: Motor", "acceleration: Ring", "accuracy: Proof"]
    qtbot.mouseClick(window.stage.binding.buttons[1], Qt.MouseButton.LeftButton)
    assert window.trail.stage == "Ring" and window.focusWidget() is window.stage.field("path_tolerance").editor
    window.session.edit(window.session.axis_path("moving_mass"), None)
    window.show_stage("Brief")
    lacking = [name for name, _ in window.stage.missing.links]
    assert "moving_mass" in lacking, "a goal that cannot be judged names the given, not the quantity"
    window.stage.leaves.turn("safety")
    assert not window.stage.binding.isVisible() and not window.stage.missing.isVisible()
    window.close()
