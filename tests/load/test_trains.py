"""Other trains: tried as the sheet tries them, beaten as a plain loop says, taken in one step."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from tests.driving import leaf_of

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.progress import Cancelled
from urban_mule.core.studies.trains import IN_FRONT, Choice, TriedTrain, beaten, search_trains
from urban_mule.demo.courtyard import demo_project
from urban_mule.desk.stages.load.train_window import open_trains
from urban_mule.desk.walk import settle
from urban_mule.store.document.edit import edited
from urban_mule.store.document.made import LINK_MODELS
from urban_mule.store.solve import solve_axis

pytestmark = pytest.mark.every_axis


def test_a_train_comes_to_what_the_axis_with_it_comes_to() -> None:
    """The same train in the document, its best settings taken: same time, margin and accuracy, and a pulley grown by its size."""
    project = demo_project()
    axis = project.axes[0]
    solution = solve_axis(project, axis)
    choices = {1: [Choice({"teeth": teeth}, f"{teeth} teeth", 9.0) for teeth in (16, 24, 36)],
               IN_FRONT: [Choice({}, "", 0.0), Choice({"ratio": 2.0, "efficiency": 0.95}, "2:1", 55.0)]}
    found = search_trains(solution, choices, lambda *_: True)
    assert [one.there for one in found] == [True, *[False] * 5], "24 teeth without a reduction are there already"
    one = next(one for one in found if one.words == "16 teeth, 2:1")
    assert one.price == 64.0 and next(one for one in found if one.words == "2:1").price == 55.0
    belt = axis.train[1]
    small = type(belt).model_validate({**dict(belt), "teeth": 16, "inertia": belt.inertia * (16 / 24) ** 4})
    made = edited(project, ("axes", 0, "train"), (
        LINK_MODELS["reduction"](kind="reduction", ratio=2.0, efficiency=0.95), axis.train[0], small))
    best = solve_axis(made, made.axes[0])["settings_best"]
    assert one.settled_cycle_time == pytest.approx(best["settled_cycle_time"]) and one.binds == best["limit"]
    moves = tuple(move.model_copy(update={"speed": min(move.speed, best["speed"]), "acceleration": min(
        move.acceleration, best["acceleration"])}) for move in axis.cycle)
    taken = solve_axis(edited(made, ("axes", 0, "cycle"), moves), edited(made, ("axes", 0, "cycle"), moves).axes[0])
    assert one.working_margin == pytest.approx(float(taken["working_margin"]))
    assert one.expected_accuracy == pytest.approx(float(taken["expected_accuracy"]))
    assert one.odds > next(one for one in found if one.words == "36 teeth").odds - 0.05


def test_what_is_beaten_is_what_a_plain_loop_says() -> None:
    random = np.random.default_rng(8)
    trains = [TriedTrain((), str(n), float(random.choice([10.0, 20.0, math.nan])), settled_cycle_time=float(random.integers(1, 5)),
                         odds=float(random.integers(5, 9)) / 10, expected_accuracy=float(random.integers(1, 4)) * 1e-5)
              for n in range(60)]
    trains.append(TriedTrain((), "nothing", 1.0, why="too weak"))

    def beats(other: TriedTrain, one: TriedTrain) -> bool:
        pairs = [(a, b) for a, b in zip(other.costs, one.costs, strict=True) if not (math.isnan(a) or math.isnan(b))]
        return all(a <= b for a, b in pairs) and any(a < b for a, b in pairs)

    able = trains[:-1]
    assert beaten(trains).tolist() == [any(beats(other, one) for other in able) for one in able] + [True]
    assert not beaten(able).all()


def test_a_search_can_be_stopped_and_is_not_without_end() -> None:
    solution = solve_axis(project := demo_project(), project.axes[2])
    leads = [Choice({"lead": lead}, "") for lead in np.linspace(0.004, 0.02, 40)]
    with pytest.raises(Cancelled):
        search_trains(solution, {1: leads}, lambda done, _total: done < 2)
    with pytest.raises(BadValue, match="these are 1600 trains; at most 600"):
        search_trains(solution, {1: leads, IN_FRONT: leads}, lambda *_: True)
    weak = solution.changed(holding_torque=0.01)
    found = search_trains(weak, {1: leads[:2]}, lambda *_: True)
    assert all(one.why and math.isnan(one.settled_cycle_time) for one in found) and beaten(found).all()


def test_another_train_is_found_and_taken_in_one_step(demo_copy: Path, qtbot: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Load", "chain", axis=2)
    session = window.session
    qtbot.mouseClick(window.stage.others, Qt.MouseButton.LeftButton)
    beside = window.findChild(type(open_trains(session, window)))
    line, *_ = beside.lines[1]
    line.setText("4 (31) ten")
    qtbot.mouseClick(beside.go, Qt.MouseButton.LeftButton)
    assert "'ten' is no value" in beside.fault.text()
    line.setText("5 (31) 10 16 (44)")
    qtbot.mouseClick(beside.go, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: bool(beside.trains), timeout=20000)
    assert len(beside.trains) == 3 and "worth a choice" in beside.headline.text()
    beside.choose(next(place for place, one in enumerate(beside.trains) if one.words == "screw, lead 5 mm"))
    assert beside.taking.isEnabled() and "what binds" in beside.binds.text()
    beside.across.setCurrentText("price")
    beside.across.activated.emit(1)
    drawn = beside.plane.drawn()
    qtbot.mouseClick(beside.plane, Qt.MouseButton.LeftButton, pos=beside.plane.at(drawn[-1]).toPoint())
    assert beside.place == drawn[-1]
    beside.choose(next(place for place, one in enumerate(beside.trains) if one.words == "screw, lead 5 mm"))
    count, before = session.undo_stack.count(), session.axis
    session.edit(session.axis_path("train"), session.axis.train[1:])
    qtbot.mouseClick(beside.taking, Qt.MouseButton.LeftButton)
    assert "was changed since these were tried" in beside.fault.text() and len(session.axis.train) == 1
    session.undo_stack.undo()
    qtbot.mouseClick(beside.taking, Qt.MouseButton.LeftButton)
    settle(session)
    assert session.axis.train[1].lead == 0.005 and session.undo_stack.count() == count + 1
    assert session.axis.measured_stiffness is None
    session.undo_stack.undo()
    settle(session)
    assert session.axis.train == before.train
    window.close()
