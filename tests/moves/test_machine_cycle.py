"""The machine's cycle: against the axes sampled in time, through the file, and through the window."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication
from tests.driving import leaf_of

from urban_mule.demo.courtyard import demo_project
from urban_mule.desk.walk import settle
from urban_mule.store.document.edit import edited
from urban_mule.store.document.parts import StepModel
from urban_mule.store.document.project import Project
from urban_mule.store.exchange.open_json import export_project, parse_project
from urban_mule.store.solve import solve_axis, solve_project
from urban_mule.store.text_files import BadFile

pytestmark = pytest.mark.every_axis

STEPS: list[dict[str, Any]] = [{"axes": ["X", "Y"]}, {"axes": ["Z"], "dwell": 0.3}, {"axes": ["Z", "C"]}, {"axes": ["W", "X"]}]


def with_steps(steps: list[dict[str, Any]] | None) -> Project:
    made = None if steps is None else tuple(StepModel.model_validate(step) for step in steps)
    return edited(demo_project(), ("machine_cycle",), made)


def test_a_move_that_is_repeated_without_end_takes_no_room() -> None:
    """A thousand million times, as a slip of the pen is: each step makes the next of them, at once; then comes the other move."""
    project = with_steps([{"axes": ["X"]}] * 3 + [{"axes": ["X", "Y"]}])
    first = project.axes[0].cycle[0].model_copy(update={"repeat": 10**9})
    project = edited(project, ("axes", 0, "cycle"), (first, *project.axes[0].cycle))
    lanes = solve_project(project, {axis.name: solve_axis(project, axis) for axis in project.axes})["machine_lanes"]
    mine = [one.move for one in lanes.moves if one.axis == "X"]
    assert len(mine) == 4 and all(one is mine[0] for one in mine)
    twice = edited(project, ("axes", 0, "cycle"), (first.model_copy(update={"repeat": 2}), *project.axes[0].cycle[1:]))
    lanes = solve_project(twice, {axis.name: solve_axis(twice, axis) for axis in twice.axes})["machine_lanes"]
    mine = [one.move for one in lanes.moves if one.axis == "X"]
    assert mine[0] is mine[1] and mine[2] is not mine[0], "after two of the first the next one"


def test_lanes_and_power_are_those_of_the_axes_sampled_in_time() -> None:
    """Each axis integrated by itself, begun when its step begins: the same instants, the same greatest and mean power."""
    project = with_steps(STEPS)
    solutions = {axis.name: solve_axis(project, axis) for axis in project.axes}
    machine = solve_project(project, solutions)
    lanes = machine["machine_lanes"]
    at, fine = 0.0, 2e-5
    time = np.arange(0.0, float(machine["machine_cycle_time"]), fine)
    drawn = np.full(time.size, float(machine["standing_load"]))
    for axis in project.axes:
        heat = solutions[axis.name].get("copper_loss" if axis.motor_kind == "stepper" else "cycle_copper_loss")
        drawn += float(axis.motor_count or 1) * float(heat or 0.0)
    turn = dict.fromkeys(solutions, 0)
    for place, step in enumerate(STEPS):
        lasts = {}
        for name in step["axes"]:
            solution, pieces = solutions[name], solutions[name]["cycle_torque"].pieces
            rows = (pieces.move == turn[name] % len(project.axis(name).cycle)) & (pieces.direction != 0)
            turn[name] += 1
            ends = at + np.cumsum(pieces.duration[rows])
            lasts[name] = ends[-1] - at + sum(float(solution.get(one) or 0.0) for one in ("shaper_duration", "settle_time"))
            torque = solution["cycle_torque"]
            which = np.searchsorted(ends, time, side="right")
            moving = (time >= at) & (which < ends.size)
            share = np.zeros_like(time)
            number = np.minimum(which, ends.size - 1)
            share[moving] = 1 - ((ends[number] - time) / pieces.duration[rows][number])[moving]
            shaft = torque.start[rows][number] + (torque.end - torque.start)[rows][number] * share
            speed = torque.speed_start[rows][number] + (torque.speed_end - torque.speed_start)[rows][number] * share
            count = float(solution["motor_count"])
            drawn += np.where(moving, count * np.maximum(0.0, shaft * speed), 0.0) / float(machine["driver_efficiency"])
        slowest = max(lasts, key=lambda name: lasts[name])
        assert (lanes.steps[place].slowest, lanes.steps[place].begins) == (slowest, pytest.approx(at))
        at += lasts[slowest] + step.get("dwell", 0.0)
    assert float(machine["machine_cycle_time"]) == pytest.approx(at)
    assert float(machine["machine_peak_power"]) == pytest.approx(drawn.max(), rel=2e-3)
    assert float(machine["machine_mean_power"]) == pytest.approx(drawn.mean(), rel=0.02), "speed bends within a piece with jerk"
    assert machine["supply_power_by_balance"] == machine["machine_peak_power"]
    without = solve_project(with_steps(None), solutions)
    assert without["supply_power_by_balance"] > machine["machine_peak_power"], "not all of them move at their hardest at once"
    assert without.get("machine_cycle_time") is None and "machine cycle" not in {one.check for one in without.verdicts()}


def test_who_holds_the_cycle_up_is_who_makes_it_shorter() -> None:
    """The axis that is named gains what is said when its moves take no longer than the next slowest; another one gains less."""
    project = with_steps([{"axes": ["X", "Y"]}, {"axes": ["Y", "Z"]}])
    solutions = {axis.name: solve_axis(project, axis) for axis in project.axes}
    machine = solve_project(project, solutions)
    name, held = machine["held_up_by"][0]
    assert name == "Y"
    others = sum(max(solutions[one]["cycle_torque"].pieces.duration[solutions[one]["cycle_torque"].pieces.move == 0][:-1].sum()
                     + sum(float(solutions[one].get(part) or 0.0) for part in ("shaper_duration", "settle_time")) for one in rest)
                 for rest in (["X"], ["Z"]))
    assert float(machine["machine_cycle_time"]) - held == pytest.approx(others)


def test_steps_that_cannot_be_are_a_sentence() -> None:
    document = json.loads(export_project(demo_project()))
    document["machine_cycle"] = [{"axes": ["X"], "dwell": -1}]
    with pytest.raises(BadFile, match="dwell"):
        parse_project(json.dumps(document).encode())
    for steps, said in (([{"axes": ["X", "Q"]}], "step 1 moves Q, which is no axis of this machine"),
                        ([{"axes": ["X"]}, {"axes": []}], None)):
        project = with_steps(steps)
        machine = solve_project(project, {axis.name: solve_axis(project, axis) for axis in project.axes})
        found = machine.find("machine_cycle_time")
        assert (found.reason == said) if said else float(found) > 0
    bare = edited(with_steps([{"axes": ["X"]}]), ("axes", 0, "cycle"), None)
    machine = solve_project(bare, {axis.name: solve_axis(bare, axis) for axis in bare.axes})
    assert "how long X moves is not known" in machine.find("machine_cycle_time").reason


def test_steps_follow_an_axis_to_its_name_and_go_with_it() -> None:
    project = with_steps(STEPS)
    renamed = edited(project, ("axes", 0, "name"), "U")
    assert [step.axes for step in renamed.machine_cycle][::3] == [("U", "Y"), ("W", "U")]
    assert parse_project(export_project(renamed).encode()).machine_cycle == renamed.machine_cycle
    gone = edited(project, ("axes",), project.axes[1:])
    assert [step.axes for step in gone.machine_cycle] == [("Y",), ("Z",), ("Z", "C"), ("W",)]


def test_the_steps_are_said_in_the_window(demo_copy: Path, qtbot: Any) -> None:
    window, picture = leaf_of(demo_copy, qtbot, "Moves", "all axes")
    session = window.session
    assert "Y holds it up by" in window.stage.headline.text() and picture.lanes.names == ["X", "Y", "Z", "C", "W"]
    table = picture.steps
    there, seen = table.model().index(1, 1), table.viewport()
    qtbot.mouseClick(seen, Qt.MouseButton.LeftButton, pos=table.visualRect(there).topLeft() + QPoint(10, 11))
    settle(session)
    assert session.project.machine_cycle[1].axes == ("Y", "Z")
    assert there.data(Qt.ItemDataRole.AccessibleTextRole) == "Y moves in step 2"
    qtbot.keyClick(table, Qt.Key.Key_Space)
    settle(session)
    assert session.project.machine_cycle[1].axes == ("Z",), "and back by key"
    for typed, rests in (("1.5", 1.5), ("x", 1.5)):
        table.setCurrentIndex(table.model().index(5, 0))
        qtbot.keyClick(table, typed[0])
        editor = seen.focusWidget() or QApplication.focusWidget()
        qtbot.keyClicks(editor, typed[1:])
        qtbot.keyClick(editor, Qt.Key.Key_Return)
        settle(session)
        assert session.project.machine_cycle[0].dwell == rests
    assert picture.wrong.isVisible()
    qtbot.mouseClick(picture.clear, Qt.MouseButton.LeftButton)
    settle(session)
    picture.bring_up_to_date()
    assert session.project.machine_cycle is None and window.stage.headline.text().startswith("Which axes move at once is not said")
    qtbot.mouseClick(picture.add, Qt.MouseButton.LeftButton)
    settle(session)
    assert [step.axes for step in session.project.machine_cycle] == [("X",), ("Y",), ("Z",), ("C",), ("W",)]
    session.undo_stack.undo()
    assert session.project.machine_cycle is None
    window.close()
