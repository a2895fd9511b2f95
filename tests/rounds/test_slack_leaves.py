"""Slack and Scale with readings of every kind: push, trend, repairs and lengths through the real window."""

from __future__ import annotations

from contextlib import closing
from datetime import timedelta
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QWidget
from tests.driving import leaf_of

from urban_mule.core.load.cycle import Move
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.slack.repairs import slack_repairs
from urban_mule.core.slack.upkeep import due_day
from urban_mule.core.subjects import axis_sheet
from urban_mule.core.train.links import Belt, Coupling, Rack, Reduction, Screw, Worm
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.shared.procedure import Procedure
from urban_mule.desk.walk import settle
from urban_mule.store.document.project import UpkeepModel
from urban_mule.store.exchange.open_json import read_project
from urban_mule.store.file.project_file import ProjectFile, now

VECTORS = Path(__file__).parents[1] / "vectors"


def opened(vector: str, tmp_path: Path, qtbot: Any) -> Window:
    path = tmp_path / "machine.mule"
    ProjectFile.create(path, read_project(VECTORS / vector)).close()
    window = Window(Session(ProjectFile.open(path)))
    qtbot.addWidget(window)
    window.show()
    settle(window.session)
    return window


def leaf(window: Window, stage: Any, word: str) -> QWidget:
    window.show_stage(stage)
    window.stage.finish()
    window.stage.leaves.turn(word)
    settle(window.session)
    return window.stage.picture


def test_push_trend_and_repairs_say_what_to_do(tmp_path: Path, qtbot: Any) -> None:
    window = opened("11-slack.json", tmp_path, qtbot)
    session = window.session
    session.edit(("axes", 0, "accuracy_wanted"), 80e-6, "goal")
    leaf(window, "Slack", "push")
    rows = {row.name: row for row in window.stage.results.rows}
    assert "free_play" in rows and session.solution["free_play"] == pytest.approx(24e-6, rel=0.05)
    verdicts = {one.check: one for one in session.state.verdicts("Slack")}
    assert "of free play" in verdicts["play or spring"].sentence and verdicts["wear"].level == "good"
    assert "431 days after the last set" in verdicts["wear"].sentence
    leaf(window, "Slack", "trend")
    session.edit(("axes", 0, "backlash_limit"), 30e-6, "limit")
    settle(session)
    assert {one.check: one for one in session.state.verdicts("Slack")}["wear"].level == "tight"
    picture: Any = leaf(window, "Slack", "repairs")
    assert [row.name for row in picture.listed.rows][:2] == ["preload nut of the thrust bearing", "nut of the screw"]
    picture.listed.buttons["nut of the screw", "Repaired"].click()
    settle(session)
    assert session.entries()[-1].kind == "repaired" and session.entries()[-1].text == "nut of the screw"
    picture.bring_up_to_date()
    assert "Now measure the backlash again" in picture.says()[1]
    after = session.axis.readings[1].model_copy(update={"taken": (now() + timedelta(minutes=1)).isoformat()})
    session.add_reading(after)
    settle(session)
    picture.bring_up_to_date()
    assert "was measured after it" in picture.says()[1]


def test_lengths_show_slope_offset_and_temperature(tmp_path: Path, qtbot: Any) -> None:
    window = opened("10-lengths-and-lean.json", tmp_path, qtbot)
    picture: Any = leaf(window, "Scale", "lengths")
    told = {one.textItem.toPlainText() for one in picture.chart._pool["text"] if one.isVisible()}
    assert {"scale -0.0215 %", "offset +37.4 µm, no scale", "temperature alone"} <= told, told
    window.session.edit(("axes", 0, "readings"), (), "none")
    settle(window.session)
    assert window.stage.setup is not None and window.stage.setup.isVisible(), "an empty stage teaches"


def test_repairs_follow_the_train_and_begin_next_to_the_load() -> None:
    train = (Coupling(), Reduction(ratio=3.0), Rack(module=0.001, teeth=20))
    parts = [one.part for one in slack_repairs(train)]
    assert parts[0] == "pinion on the rack" and parts.index("reduction") < parts.index("coupling")
    assert parts[-1] == "mount of the gauge", "what is no slack at all comes last"
    worm = [one.part for one in slack_repairs((Worm(ratio=60.0),))]
    assert "mesh of the worm" in worm and "reduction" not in worm
    for kind in (Screw(lead=0.005), Belt(pitch=0.003, teeth=20)):
        assert len(slack_repairs((kind,))) == 4 and all(one.tell and one.mend for one in slack_repairs((kind,)))
    assert np.all([one.tell.endswith(".") and one.mend.endswith(".") for one in slack_repairs(train)])


def test_upkeep_comes_due_by_date_or_by_distance_whichever_is_first(demo_copy: Path, qtbot: Any) -> None:
    window, leaf = leaf_of(demo_copy, qtbot, "Slack", "upkeep")
    for name in ("maintenance", "hours_a_week"):
        window.session.edit(window.session.axis_path(name), None)
    assert "Nothing is looked after on this axis yet" in window.stage.headline.text()
    for task, every, said in (("", "90 d", "has no name"), ("grease", "often", "does not say"), ("grease", "-3 d", "how often")):
        leaf.task.setText(task)
        leaf.every.setText(every)
        leaf.add.click()
        assert said in leaf.said.text() and not window.session.axis.maintenance
    for task, every in (("grease the guides", "90 d"), ("belt tension", "40 km")):
        leaf.task.setText(task)
        leaf.every.setText(every)
        leaf.add.click()
    leaf.bring_up_to_date()
    assert [row.texts[:2] for row in leaf.listed.rows] == [("90 days", "never"), ("40 km", "never")]
    assert "2 of 2 due now" in window.stage.headline.text()
    leaf.listed.buttons["belt tension", "Done"].click()
    leaf.bring_up_to_date()
    assert leaf.listed.rows[1].texts[2] == "not known without hours a week"
    assert window.stage.field("hours_a_week") is not None, "the field that is asked for stands beside it"
    window.session.edit(("axes", 0, "hours_a_week"), 20.0)
    leaf.bring_up_to_date()
    hourly = window.session.solution["running_rate"]
    by_hand = 40_000 / (hourly * 3600 * 20 / 7)
    assert f"in {by_hand:.0f} days" in leaf.listed.rows[1].texts[2]
    assert due_day(100.0, 90.0, 40_000.0, hourly, 20.0) == pytest.approx(100 + min(90, by_hand))
    assert due_day(0.0, None, None, 5.0, 5.0) is None and due_day(0.0, None, 10.0, None, 5.0) is None
    window.show_stage("Log")
    window.stage.leaves.turn("due")
    all_axes = window.stage.picture
    all_axes.bring_up_to_date()
    assert [row.name for row in all_axes.listed.rows if row.name.startswith("X")] == ["X: grease the guides", "X: belt tension"]
    all_axes.listed.buttons["X: grease the guides", "Done"].click()
    all_axes.bring_up_to_date()
    assert next(row.texts[2] for row in all_axes.listed.rows if row.name == "X: grease the guides").endswith("in 90 days")
    leaf.listed.buttons["grease the guides", "Drop it"].click()
    again = ProjectFile.open(window.session.path)
    assert [one.task for one in again.project().axes[0].maintenance] == ["belt tension"]
    assert [one.kind for one in again.entries()][-1] == "maintained"
    again.close()


def test_the_way_in_an_hour_is_that_of_the_cycle() -> None:
    cycle = tuple(Move(distance=way, speed=0.2, acceleration=1.0, dwell=dwell) for way, dwell in ((0.3, 0.8), (-0.3, 0.5)))
    solution = axis_sheet("linear", "stepper").solve(cycle=cycle)
    once = 2 * (0.3 / 0.2 + 0.2) + 1.3
    assert solution["running_rate"] == pytest.approx(0.6 / once)


@pytest.mark.every_axis
def test_a_task_has_a_procedure_and_keeps_its_history_under_another_name(demo_copy: Path, qtbot: Any) -> None:
    window, leaf = leaf_of(demo_copy, qtbot, "Slack", "upkeep", axis=2)
    session, it = window.session, window.session.axis.maintenance[0]
    was, who = it.task, it.id
    third = {**dict(session.axis.maintenance[1]), "every_days": 100 / 3, "x_shop": "east"}
    session.edit(("axes", 2, "maintenance"), (session.axis.maintenance[0], UpkeepModel.model_validate(third)))
    Procedure(session, session.axis, session.axis.maintenance[1].id, window).keep()
    assert dict(session.axis.maintenance[1]) == third, "what is not typed stays as it was, to the last digit"
    leaf.bring_up_to_date()
    done = leaf.listed.rows[0].texts[1]
    assert done != "never"
    leaf.listed.buttons[was, "Steps…"].click()
    asked = leaf.findChild(Procedure)
    assert asked.every.text() == "90 d" and not asked.steps.toPlainText()
    for typed, said in (("often", "does not say"), ("90 d or 4 weeks", "does not say")):
        asked.every.setText(typed)
        assert not asked.keep() and said in asked.said.text() and asked.isVisible()
    asked.name.setText("try the brake")
    asked.every.setText("90 d or 30 km")
    assert not asked.keep() and "on the list already" in asked.said.text()
    asked.name.setText("grease screw, nut and guides")
    asked.steps.setPlainText("Power off, block Z.\n\n  Two strokes into the nut. ")
    asked._pictured("20261120-101500-000001 the nut", "")
    qtbot.keyClick(asked.name, Qt.Key.Key_Return)
    kept = session.axis.maintenance[0]
    assert (kept.task, kept.steps) == ("grease screw, nut and guides", ("Power off, block Z.", "Two strokes into the nut."))
    assert (kept.every_days, kept.every_distance, kept.photographs) == (90.0, 30e3, ("20261120-101500-000001 the nut",))
    leaf.bring_up_to_date()
    assert leaf.listed.rows[0].texts[1] == done, "what was booked followed it"
    with closing(ProjectFile.open(session.path)) as again:
        assert [one.task for one in again.entries() if one.task == who] == [who]
    session.undo_stack.undo()
    leaf.bring_up_to_date()
    assert session.axis.maintenance[0].task == was and leaf.listed.rows[0].texts[1] == done
    asked = Procedure(session, session.axis, who, window)
    asked.name.setText("something else")
    qtbot.keyClick(asked, Qt.Key.Key_Escape)
    assert session.axis.maintenance[0].task == was
    window.show_stage("Log")
    window.stage.leaves.turn("due")
    window.stage.picture.bring_up_to_date()
    window.stage.picture.listed.buttons[f"Z: {was}", "Steps…"].click()
    window.stage.picture.findChild(Procedure).done_today()
    assert (session.entries()[-1].task, session.entries()[-1].subject) == (session.axis.maintenance[0].id, session.axis.id)
    session.edit(("axes", 2, "maintenance"), None)
    with pytest.raises(BadValue, match="not on the list"):
        Procedure(session, session.axis, who, window)
    window.close()
