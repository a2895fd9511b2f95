"""First moves: the ladder finds what a motor really gives, homing tells full steps from scatter, both in the window."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from tests.driving import practise

from urban_mule.bench.sessions.carried import taken_into, usual, walk
from urban_mule.bench.sessions.kinds import PLAN_KINDS, columns_of, steps_of
from urban_mule.bench.sessions.rounds import PlanAxis, plan_of
from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.bench.simulated.motion import loses_steps_in
from urban_mule.bench.simulated.truth import Truth
from urban_mule.core.load.asked import acceleration_for
from urban_mule.core.load.cycle import Move
from urban_mule.core.moves.ladder import planned_rungs
from urban_mule.core.readings.homing import HomingReading
from urban_mule.core.readings.ladder import LadderReading
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.subjects import axis_sheet
from urban_mule.core.train.links import Belt, Screw
from urban_mule.demo.courtyard import demo_project
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.shared.round_view import plan_axis
from urban_mule.desk.walk import settle
from urban_mule.practice.hiding import with_hidden
from urban_mule.practice.machine import sound_machine
from urban_mule.store.document.edit import edited
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.solve import solve_axis

CYCLE = (Move(distance=0.5, speed=0.7, acceleration=5.0, dwell=0.3), Move(distance=-0.5, speed=0.7, acceleration=5.0))
GIVEN: dict[str, Any] = {
    "moving_mass": 4.0, "friction_force": 6.0, "travel": 0.6, "unit": "mm", "cycle": CYCLE,
    "train": (Belt(pitch=0.005, teeth=20, inertia=2e-5, efficiency=0.95),), "holding_torque": 2.2, "rated_current": 4.0,
    "rated_current_is": "rms", "phase_resistance": 0.6, "phase_inductance": 0.0025, "rotor_inertia": 5.5e-5,
    "step_angle": math.pi / 100, "drag_torque": 0.05, "supply_voltage": 36.0, "current_peak": 4.0, "microsteps": 16,
    "accuracy_wanted": 1e-4}


def solve(**more: Any) -> Solution:
    return axis_sheet("linear", "stepper").solve(**{**GIVEN, **more})


class Giving:
    """A mover and an indicator of a motor that gives exactly so much of what was computed; it loses steps in fours."""

    practice = True

    def __init__(self, solution: Solution, factor: float, seed: int) -> None:
        self.solution, self.factor, self.random, self.at, self.lost = solution, factor, np.random.default_rng(seed), 0.0, 0.0

    def enable(self) -> None:
        self.lost = 0.0

    def position(self) -> float:
        return self.at

    def move(self, position: float) -> None:
        self.at = position

    def run(self, position: float, speed: float, acceleration: float) -> None:
        way, r = math.copysign(1.0, position - self.at), float(self.solution["travel_per_radian"])
        there = float(self.solution["torque_curve"](np.array([speed / r]))[0])
        if float(np.asarray(self.solution["asked_torque"](acceleration, (way,)))) > self.factor * there:
            lost = 4 * (2 * int(self.random.integers(1, 12)) + (way < 0))  # the two ways never lose alike
            self.lost -= way * lost * GIVEN["step_angle"] * r
        self.at = position

    def read(self) -> float:
        return self.lost + 1e-6 * float(self.random.standard_normal())


def walked(solution: Solution, factor: float, seed: int, **settings: Any) -> LadderReading:
    rungs = planned_rungs(solution["asked_torque"], solution["torque_curve"], solution["top_speed"], solution["travel_per_radian"])
    full_step = GIVEN["step_angle"] * float(solution["travel_per_radian"])
    plan, machine = PlanAxis(0.6, True, 0.7, rungs, full_step=full_step), Giving(solution, factor, seed)
    found = walk("ladder", plan, usual("ladder", plan, **settings), machine, lambda _done, _total: True)  # type: ignore[arg-type]
    return LadderReading(**{name: np.array(value) if isinstance(value, list) else value for name, value in found.items()})


def test_the_ladder_finds_the_hidden_factor_of_a_hundred_machines() -> None:
    random = np.random.default_rng(6)
    for seed in range(100):
        upright = bool(seed % 2)
        screw = Screw(lead=0.02, efficiency=0.9, inertia=5e-6)
        more: dict[str, Any] = {"incline": math.pi / 2, "train": (screw,)} if upright else {}
        factor = float(random.uniform(0.45, 0.99))
        base = solve(**more)
        found = base.changed(ladder_reading=walked(base, factor, seed, direction=("both", "plus")[seed // 2 % 2]))
        low, high = found["torque_factor_least"], found["torque_factor_most"]
        assert low <= factor <= high and high - low < 0.11, (seed, factor, low, high)
        assert found["ladder_rungs"].share.size <= 9, "halves: three of seven at each speed"
        assert set(np.unique(found["ladder_rungs"].lost % 4)) == {0.0}
        to_set = found.get("ladder_acceleration")
        there = float(found["torque_curve"](np.array([found["top_speed"] / found["travel_per_radian"]]))[0])
        asked = float(np.asarray(found["asked_torque"](to_set or 0.0)))
        assert upright or asked == pytest.approx(2 / 3 * high * there, rel=1e-6)
        assert to_set is not None or asked >= 2 / 3 * high * there, "a third in hand leaves nothing to speed up with"


def test_each_speed_has_its_factor_and_a_resonance_is_crossed() -> None:
    """Between the speeds tried the share goes straight, beyond them it holds; a dip binds who stays there, not who crosses it."""
    base = solve()
    r, curve = float(base["travel_per_radian"]), base["torque_curve"]

    def rung(speed: float, share: float, lost: bool) -> tuple[float, float, float]:
        there = share * float(curve(np.array([speed / r]))[0])
        return speed, acceleration_for(base["asked_torque"], there, 5.0), 0.006 if lost else 0.0

    tried = [rung(0.2, 0.8, False), rung(0.2, 0.9, True), rung(0.2, 1.0, False), rung(0.35, 0.5, True), rung(0.5, 0.7, False),
             rung(0.5, 0.8, True), rung(0.9, 0.6, False)]
    found = base.changed(ladder_reading=LadderReading(*map(np.array, zip(*tried, strict=True))))
    slow, dip, fast, fastest = found["torque_by_speed"]
    assert (slow.least, slow.most, slow.luck) == pytest.approx((0.8, 0.9, 1.0), rel=1e-4) and not slow.dips
    assert dip.dips and dip.least is None and fast.most == pytest.approx(0.8, rel=1e-4) and fastest.most is None
    measured, speeds = found["ladder_torque_curve"], np.array([0.1, 0.35, 0.7, 2.0]) / r
    assert measured(speeds) / curve(speeds) == pytest.approx([0.9, 0.5, 0.7, 0.6], rel=1e-4)
    assert measured.crossed()(speeds) / curve(speeds) == pytest.approx([0.9, 0.85, 0.7, 0.6], rel=1e-4)
    assert found.get("torque_bounds") is None, "at 0.9 only less was tried than held at 0.5"
    higher = [*tried[:-1], rung(0.9, 0.79, False)]
    said = base.changed(ladder_reading=LadderReading(*map(np.array, zip(*higher, strict=True))))
    assert said["torque_bounds"] == pytest.approx((0.7, 0.8), rel=1e-4), "what holds near where another loses bounds nothing"
    there = 2 / 3 * float(measured(np.array([found["top_speed"] / r]))[0])
    assert float(found["asked_torque"](found["ladder_acceleration"])) == pytest.approx(there, rel=1e-6)


@pytest.mark.parametrize("name", ["X", pytest.param("Y", marks=pytest.mark.long), "Z"])
def test_what_a_ladder_lets_set_holds_on_the_machine_and_wastes_little(name: str) -> None:
    """The practice machine of each train, its ladder taken: none lost at what is said, and 1.7 times that is too much."""
    project = with_hidden(demo_project(), name, 0, 51)
    place = [axis.name for axis in project.axes].index(name)
    project = edited(project, ("axes", place, "motor", "torque_factor"), None)
    axis = project.axes[place]
    solution, built = solve_axis(project, axis), sound_machine(project, axis)
    machine = SimulatedAxis(solution, built.truth, built.real)
    plan = plan_of(axis, solution)
    found, _ = taken_into(solution, "ladder", plan, usual("ladder", plan), machine)
    speed, said = float(solution["top_speed"]), float(found["ladder_acceleration"])
    lost = [any(loses_steps_in(machine.body, far, speed, times * said, dwell) for far, dwell in (
        (0.6 * float(solution["travel"]), 0.2), (1.5 * speed**2 / said, 0.05))) for times in (0.9, 1.0, 1.7)]
    assert lost == [False, False, True]


def test_a_factor_that_was_adopted_scales_the_curve_and_is_counted_from_the_sheet() -> None:
    plain, adopted = solve(), solve(torque_factor=0.8)
    assert adopted["available_torque_at_peak_speed"] == pytest.approx(0.8 * plain["available_torque_at_peak_speed"])
    reading = LadderReading(np.array([0.5, 0.8]), np.array([10.0, 20.0]), np.array([0.0, 0.006]))
    one, other = plain.changed(ladder_reading=reading), adopted.changed(ladder_reading=reading)
    assert one["torque_factor_least"] == other["torque_factor_least"], "else adopting twice would be adopting something else"


@pytest.mark.parametrize(("returned", "level", "said"), [
    ([0, 0, 0], "good", "No steps were lost"), ([0.006, 0.004, 0.002], "short", "Steps were lost every time"),
    ([0.0, 0.002, 0.0], "tight", "% is calculated with"), ([0.0, 0.0, 0.002], "good", "% is calculated with"),
    ([0.002, 0.002, 0.002], "short", "Steps were lost every time"),
])
def test_ladders_that_never_or_always_lose_are_a_sentence(returned: list[float], level: str, said: str) -> None:
    reading = LadderReading(np.array([0.7, 0.7, 0.7]), np.array([10.0, 17.0, 20.0]), np.array(returned))
    verdict = next(v for v in solve(ladder_reading=reading).verdicts() if v.check == "ladder")
    assert verdict.level == level and said in verdict.sentence, verdict.sentence
    if level == "good" and "% is calculated with" in said:
        far = next(v for v in solve(ladder_reading=reading, torque_factor=0.4).verdicts() if v.check == "ladder")
        assert far.level == "tight" and "40 % is calculated with" in far.sentence
    stalled = LadderReading(np.array([9e5]), np.array([1.0]), np.array([0.0]))
    assert next(v for v in solve(ladder_reading=stalled).verdicts() if v.check == "ladder").level == "unknown"


@pytest.mark.parametrize(("places", "level", "said"), [
    ([0.0, 2e-6, -1e-6, 1e-6], "good", "well within"), ([0.0, 5e-4, 0.0, 5e-4], "short", "1 full step:"),
    ([0.0, 9e-5, -8e-5, 5e-5], "tight", "more than the accuracy wanted"),
])
def test_homing_tells_full_steps_from_scatter(places: list[float], level: str, said: str) -> None:
    solution = solve(homing_reading=HomingReading(np.array(places)), switch_overtravel=0.004, reaction_time=0.02)
    verdict = next(v for v in solution.verdicts() if v.check == "homing")
    assert verdict.level == level and said in verdict.sentence, verdict.sentence
    v, a = solution["homing_speed_limit"], 5.0
    assert v * 0.02 + v * v / (2 * a) == pytest.approx(0.004), "it stops just at the hard end"
    unknown = next(v for v in solve(homing_reading=HomingReading(np.array([0.0, 1e-6])), accuracy_wanted=None).verdicts()
                   if v.check == "homing")
    assert unknown.level == "unknown"


def test_plans_of_first_moves() -> None:
    axis = PlanAxis(0.6, True, 0.7, ((0.3, 4.0), (0.7, 9.0)))
    settings = PLAN_KINDS["ladder"].settings(axis)
    steps = steps_of("ladder", axis, settings)
    assert settings["rungs"] == "300/4000 700/9000" and "700 mm/s with 9000 mm/s²: 3 times to plus at these" in steps[1].instruction
    assert steps[0].does[:3] == (("move", 0.0), ("zero",), ("run", 0.36, 0.3, 4.0)) and steps[0].does[-1] == ("read",)
    assert steps[0].does[3] == ("run", 0.0, 0.075, 1.0), "the way that does not count is made slowly"
    both = steps_of("ladder", axis, {**settings, "direction": "both"})[0].does
    assert both[3] == ("run", 0.0, 0.3, 4.0)
    found = columns_of("ladder", axis, {**settings, "direction": "minus"}, {"returned[0]": 1e-6})
    assert found == {"speed": [0.3], "acceleration": [4.0], "returned": [1e-6], "direction": "minus"}
    for change, said in (({"rungs": "300"}, "is no ladder step"), ({"rungs": ""}, "no ladder step is given"),
                         ({"rungs": "0/5"}, "above 0"),
                         ({"direction": "up"}, "allowed is both, plus or minus"), ({"distance": "900"}, "outside the travel")):
        with pytest.raises(BadValue, match=said):
            steps_of("ladder", axis, {**settings, **change})
    homing = walk("homing", axis, usual("homing", axis), SimulatedAxis(solve(), Truth(seed=3)), lambda *_: True)
    assert len(homing["places"]) == 10 and 1e-7 < np.std(homing["places"]) < 2e-5


def test_the_ladder_in_the_window_is_adopted_and_undone(demo_copy: Path, qtbot: Any) -> None:
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    window.show_stage("Moves")
    assert plan_axis(window.session.state).rungs
    window.stage.leaves.turn("ladder")
    assert not window.stage.cycle.isVisible()
    practise(window, qtbot, "ladder")
    assert window.session.axis.readings[-1].kind == "ladder"
    window.stage.leaves.turn("ladder")
    leaf, session = window.stage.leaves.picture, window.session
    adopted = session.axis.motor.torque_factor
    plan, machine = plan_axis(session.state), Giving(session.solution, 0.8, 1)
    columns = walk("ladder", plan, usual("ladder", plan), machine, lambda *_: True)  # type: ignore[arg-type]
    session.edit(session.axis_path("readings"), (*session.axis.readings, {"kind": "ladder", **columns, "source": "practice"}))
    settle(session)
    leaf.bring_up_to_date()
    low, high = (window.session.solution[f"torque_factor_{which}"] for which in ("least", "most"))
    assert leaf.adopt.isVisible() and leaf.middle == pytest.approx((low + high) / 2)
    qtbot.mouseClick(leaf.adopt, Qt.MouseButton.LeftButton)
    assert window.session.axis.motor.torque_factor == pytest.approx((low + high) / 2, abs=1e-3)
    leaf.bring_up_to_date()
    assert not leaf.adopt.isVisible()
    window.session.undo_stack.undo()
    assert window.session.axis.motor.torque_factor == adopted, "as the demo had adopted it"
    practise(window, qtbot, "homing")
    window.stage.leaves.turn("ends")
    window.stage.leaves.picture.bring_up_to_date()
    assert window.session.solution["homing_scatter"] > 0
    window.close()
