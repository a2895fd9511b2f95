"""Servo loops: against their definition and moves integrated in time, responses, efforts, on practice machines, in the window."""

from __future__ import annotations

import math
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from scipy.signal import lti, step
from tests.driving import leaf_of, practise, type_in
from tools.loop_trials import MOST_RESPONSES, WITHIN, trial

from urban_mule.bench.simulated.body import practised
from urban_mule.bench.simulated.motion import RATE, STEP, at_rest, integrated, ramps
from urban_mule.core.motor.loop import FROM, STEPS, LoopPlant, VelocityLoop, position_limit_of, velocity_limit
from urban_mule.core.readings.effort import EffortReading
from urban_mule.core.readings.response import ResponseReading
from urban_mule.core.readings.tuning import TuningReading, tuned
from urban_mule.core.ring.gains import velocity_gain_as, velocity_gain_from
from urban_mule.core.ring.loop_plant import VELOCITY_GAINS
from urban_mule.core.sheet.solution import Solution
from urban_mule.demo.courtyard import demo_project
from urban_mule.desk.walk import settle
from urban_mule.store.document.readings import READING_MODELS
from urban_mule.store.solve import solve_axis, solve_subject
from urban_mule.store.subject_settings import rows_of

pytestmark = pytest.mark.every_axis


def w_axis(**changed: Any) -> Solution:
    project = demo_project()
    return solve_axis(project, project.axis("W")).changed(**changed)


def drawn_plant(random: np.random.Generator) -> LoopPlant:
    dip = float(np.exp(random.uniform(np.log(80), np.log(4000))))
    current = 1 / (2 * math.pi * float(random.uniform(300, 3000)))
    delay = 1.5 * float(random.uniform(6e-5, 5e-4))
    stiff = random.random() < 0.3
    peak = dip * float(random.uniform(1.05, 4))
    top = 10 * max(1 / (2 * math.pi * current), 1.5 / delay, 0.0 if stiff else peak / (2 * math.pi))
    notch = (peak, 0.6, 0.1) if random.random() < 0.3 else None
    return LoopPlant(1e-4, None if stiff else dip, None if stiff else peak, float(random.uniform(0.01, 0.1)), current,
                     float(random.choice((0.0, 2e-4))), delay, notch, top)


def test_the_limit_of_the_velocity_loop_is_the_last_gain_from_below_that_keeps_its_margin() -> None:
    """Against its definition with complex numbers, gain after gain, on plants drawn at random."""
    random = np.random.default_rng(4)
    for _ in range(6):
        plant = drawn_plant(random)
        found = velocity_limit(plant)
        place = round(STEPS * math.log10(found / FROM))
        for n in (*range(0, place, 29), place - 1, place, place + 1):
            crossing = 2 * math.pi * FROM * 10 ** (n / STEPS)
            opened = VelocityLoop(plant, crossing, 4 / crossing).opened(plant.frequency)
            assert (np.abs(1 / (1 + opened)).max() <= 2) == (n <= place), (n, place)
        loop = VelocityLoop(plant, 2 * math.pi * found, 4 / (2 * math.pi * found))
        gain = position_limit_of(loop)
        for k, kept in ((gain * 0.999, True), (gain * 10 ** (1 / STEPS) * 1.001, False)):
            outer = k * loop.closed / (2j * math.pi * plant.frequency)
            within = np.abs(1 / (1 + outer)).max() <= 1.5 and np.abs(outer / (1 + outer)).max() <= 1.05
            assert bool(within) is kept


def test_it_sings_in_time_from_the_gain_on_that_is_computed() -> None:
    """The axis itself, integrated with its delay and its spring and without friction, below that gain and above it."""
    w = w_axis(measured_stiffness=2e6)
    sings, swings = float(w["singing_gain"]), {}
    for share in (0.85, 1.15):
        body = practised(w, torque_limit=50.0, velocity_gain=share * sings, velocity_integral=1e3, position_gain=20.0,
                         current_time=w["loop_plant"].current, loop_delay=w["loop_plant"].delay,
                         train_damping=w["loop_plant"].damping)
        free = replace(body, friction=0.0, drag_torque=0.0, turning_friction=0.0, train_efficiency=1.0, back_efficiency=1.0,
                       clearance=0.0)
        places = ramps(0.02, 0.1, 1.0, STEP, 0.8)
        swing = integrated(free, at_rest(free), places)
        swings[share] = float(np.ptp(swing.motor_speed[-RATE // 8:]))
    assert swings[0.85] < 1e-3 < 0.01 < swings[1.15]
    for share in (0.5, 1.02, 3.0, 10.0, 40.0):
        loop = w.changed(velocity_gain=share * sings, velocity_integral=1e3)["velocity_loop_to_set"]
        assert math.isfinite(loop.sensitivity) == (share < 1), share


def test_a_spring_a_notch_and_a_delay_each_move_the_limit_the_way_they_must() -> None:
    w = w_axis(measured_stiffness=2e6)
    limit = float(w["velocity_bandwidth_limit"])
    assert 0 < w["bandwidth_lost"] < 1 and float(w.changed(velocity_sample_time=5e-4)["velocity_bandwidth_limit"]) < limit
    assert w["velocity_gain_limit"] == pytest.approx(2 * math.pi * limit * float(w["loop_inertia"]))
    notched = w.changed(notch_frequency=float(w["free_resonance"]), notch_width=0.4)
    assert float(notched["velocity_bandwidth_limit"]) != limit
    assert w.changed(velocity_sample_time=None).find("velocity_gain_to_set").missing, "it says which field"
    for way in VELOCITY_GAINS:
        assert velocity_gain_from(way, velocity_gain_as(way, 0.3, 2e-4), 2e-4) == pytest.approx(0.3)
    fast = w.changed(velocity_feedforward=1.0)
    assert fast["following_error"] == 0 and fast["position_settle_time"] == 0


def response(actual: np.ndarray, commanded: np.ndarray, of: str = "position", rate: float = 2000.0) -> Solution:
    time = np.arange(actual.size) / rate
    return w_axis(response_reading=ResponseReading(time, commanded, actual, of))


def test_a_response_is_read_as_its_definitions_say_and_noise_is_no_ringing() -> None:
    time = np.arange(0, 0.5, 1 / 2000)
    stepped = np.where(time >= 0.05, 0.02, 0.0)
    since = np.maximum(time - 0.05, 0)
    rings = stepped * (1 - np.exp(-12 * since) * np.cos(2 * math.pi * 44 * since))
    found = response(rings, stepped)
    assert found["response_ringing"] == pytest.approx(44, abs=0.7)
    assert found["response_overshoot"] == pytest.approx(math.exp(-12 / 88), abs=0.03)
    outside = np.flatnonzero(np.abs(rings - 0.02) > 4e-4)[-1]
    assert found["response_settling_time"] == pytest.approx(time[outside] - 0.05)
    assert any(one.check == "response" and "rings at 44" in one.sentence for one in found.verdicts())
    random = np.random.default_rng(2)
    for seed in range(20):
        noisy = stepped + 2e-4 * np.random.default_rng(seed).standard_normal(time.size)
        assert response(np.where(time >= 0.05, noisy, 0.0), stepped).get("response_ringing") is None
    moving = np.minimum(0.1 * time, 0.03)
    behind = response(moving - 3e-4 * (moving < 0.03) + 1e-6 * random.standard_normal(time.size), moving)
    assert behind["response_following"] == pytest.approx(3e-4, rel=0.02)


@pytest.mark.parametrize(("actual", "commanded", "quantity", "said"), [
    ([0.0] * 40, [0.0] * 40, "response_overshoot", "ends where it began"),
    ([0.0] * 40, list(range(40)), "response_settling_time", "record longer"),
    ([*range(39), 39], list(range(40)), "response_settling_time", "never rests"),
    ([0.0] * 30 + [1.0] * 10, [0.0] * 30 + [1.0] * 10, "response_ringing", "at least are needed")])
def test_a_response_that_tells_nothing_says_why(actual: list[float], commanded: list[float], quantity: str, said: str) -> None:
    found = response(np.array(actual, dtype=float), np.array(commanded, dtype=float))
    assert said in found.find(quantity).reason


@pytest.mark.parametrize(("kind", "data", "said"), [
    ("response", {"time": [0, 1, 2], "commanded": [0, 1], "actual": [0, 1, 1]}, "commanded has 2 samples for 3 times"),
    ("response", {"time": [0, 0], "commanded": [0, 1], "actual": [0, 1]}, "time does not rise at sample 1"),
    ("response", {"time": [0, 1], "commanded": [0, 1], "actual": [0, 1], "of": "torque"}, "allowed is position or speed"),
    ("effort", {"speed": [1, 2], "acceleration": [1], "torque": [1, 2]}, "acceleration has 1 rows for 2 speeds"),
    ("tuning", {"stage": [3], "velocity_gain": [1], "velocity_integral": [0], "position_gain": [1], "sang": [0]}, "stage holds"),
    ("tuning", {"stage": [0], "velocity_gain": [1], "velocity_integral": [0], "position_gain": [1], "sang": [2]}, "1 for yes")])
def test_bad_readings_of_loops_are_a_sentence_each(kind: str, data: dict[str, Any], said: str) -> None:
    with pytest.raises(ValueError, match=said):
        READING_MODELS[kind].model_validate({"kind": kind, **data})


def test_an_effort_gives_what_made_it_and_what_it_cannot_tell_is_unknown() -> None:
    random = np.random.default_rng(3)
    speed = random.uniform(-200, 200, 60)
    acceleration = random.choice((-700.0, 0.0, 500.0), 60)
    torque = 3e-4 * acceleration + 0.08 * np.sign(speed) + 2e-4 * speed + 0.05 + 2e-3 * random.standard_normal(60)
    found = w_axis(effort_reading=EffortReading(speed, acceleration, torque))
    for name, true in (("inertia", 3e-4), ("coulomb", 0.08), ("viscous", 2e-4), ("gravity_torque", 0.05)):
        assert abs(found[f"measured_{name}"] - true) < 4 * found[f"measured_{name}_uncertainty"]
    one_way = w_axis(effort_reading=EffortReading(np.abs(speed), acceleration, torque))
    assert "one way" in one_way.find("measured_coulomb").reason and one_way["measured_inertia"] > 0
    even = w_axis(effort_reading=EffortReading(speed, np.full(60, 5.0), torque - 3e-4 * acceleration))
    assert "one acceleration" in even.find("measured_inertia").reason and even["measured_coulomb"] == pytest.approx(0.08, rel=0.1)
    assert "at least are needed" in w_axis(effort_reading=EffortReading(speed[:4], acceleration[:4], torque[:4])).find(
        "measured_inertia").reason


def test_half_of_where_it_begins_to_sing_and_the_last_that_held() -> None:
    rows = np.array([(0, 1.0, 0, 5, 0), (0, 2.0, 0, 5, 0), (0, 4.5, 0, 5, 1), (1, 1.5, 0.02, 5, 0), (1, 1.5, 0.01, 5, 1),
                     (2, 1.5, 0.02, 20, 0), (2, 1.5, 0.02, 30, 1)], dtype=float)
    found = tuned(TuningReading(*rows.T))
    assert (found.velocity_gain, found.velocity_integral, found.position_gain) == (pytest.approx(1.5), 0.02, 20)
    never = tuned(TuningReading(*rows[:2].T))
    assert (never.velocity_gain, never.velocity_integral) == (2.0, None)


@pytest.mark.parametrize("seed", [3, 9])
def test_on_a_practice_machine_the_gains_hold_and_the_led_round_ends_soon(seed: int) -> None:
    """Two machines here; twenty in docs/honesty.md."""
    one = trial(seed)
    assert math.isfinite(one.settles) and one.settles <= WITHIN * one.best and math.isfinite(one.by_hand)
    assert one.responses <= MOST_RESPONSES and one.inertia == pytest.approx(1, abs=0.03) and not one.noise_rings


def test_the_sag_of_a_spindle_is_that_of_its_loop_in_time() -> None:
    project = demo_project()
    s = solve_subject(project, project.spindles[0]).changed(velocity_bandwidth=3.0)
    w, inertia = 2 * math.pi * 3.0, float(s["spindle_inertia"])
    time, sagging = step(lti([float(s["cutting_torque"]) / inertia, 0], [1, w, w * w / 4]), N=4000)
    assert s["speed_sag"] == pytest.approx(float(sagging.max()), rel=1e-3)
    after = time[np.flatnonzero(sagging > 0.1 * sagging.max())[-1]]
    assert s["sag_recovery_time"] == pytest.approx(float(after), rel=0.01)


def test_gains_that_sing_are_told_tuned_by_hand_and_taken(demo_copy: Path, qtbot: Any) -> None:
    window, picture = leaf_of(demo_copy, qtbot, "Ring", "loops", 4)
    session = window.session
    settle(session)
    picture.bring_up_to_date()
    assert picture.says()[0].startswith("The velocity loop holds up to") and "Yours. By hand" in picture.ways[2].text()
    row = next(one for one in rows_of("axes", session.state) if one.name == "velocity_gain_to_set")
    assert row.lines[0][1] == "Hz" and row.on_machine.startswith("on the machine:") and "axial" in row.reason
    assert row.value == pytest.approx(float(session.solution["velocity_bandwidth_limit"]), rel=1e-6), "as it is typed, in Hz"
    type_in(qtbot, window.stage.show_field("velocity_gain"), "2")
    settle(session)
    found = [one for one in session.state.verdicts("Ring") if one.check == "velocity gain"]
    assert found[0].level == "short" and "sings" in found[0].sentence and "N·m·s/rad" in found[0].next
    session.undo_stack.undo()
    before = len(session.axis.readings)
    practise(window, qtbot, "tuning")
    settle(session)
    reading = session.axis.readings[-1]
    assert len(session.axis.readings) == before + 1 and reading.kind == "tuning" and len(reading.stage) <= MOST_RESPONSES
    window.stage.leaves.turn("loops")
    window.stage.leaves.picture.bring_up_to_date()
    window.stage.leaves.picture.take["by hand"].click()
    settle(session)
    driver = session.axis.driver
    assert driver.velocity_gain == pytest.approx(session.solution["tuned_velocity_gain"], rel=1e-3)
    assert any(one.check == "velocity gain" for one in session.state.verdicts("Ring"))
    session.undo_stack.undo()
    assert session.axis.driver.velocity_gain is None
    practise(window, qtbot, "response")
    window.stage.leaves.turn("response")
    settle(session)
    assert session.axis.readings[-1].kind == "response" and "does not ring" in window.stage.headline.text()
    window.close()
