"""The Load stage through the window: chain, brake, follower, library of reductions, cycle; every leaf of every axis."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QByteArray, QMimeData, QPointF, Qt
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QApplication, QMenu
from tests.driving import choose, level, shown, type_in

from urban_mule.desk.app import application
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.shared.cycle import CyclePicture
from urban_mule.desk.shared.cycle_editor import ROWS, CycleEditor
from urban_mule.desk.shared.pick_part import PickPart
from urban_mule.desk.shared.verdicts import LoadVerdicts
from urban_mule.desk.stages.load.chain import FOLLOWER, LINK_TYPE, LOAD, MOTOR, ChainPicture
from urban_mule.desk.stages.load.stage import LoadStage
from urban_mule.store.document.project import Project
from urban_mule.store.exchange.open_json import export_project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.solve import assumed_tolerances


def load_stage(window: Window, axis: int = 0) -> LoadStage:
    window.session.show_axis(axis)
    window.show_stage("Load")
    assert isinstance(window.stage, LoadStage)
    return window.stage


def kinds(window: Window) -> list[str]:
    return [stage.kind for stage in window.session.axis.train]


# The chain

def test_the_chain_is_built_by_keys_alone(window: Window, qtbot: Any) -> None:
    stage = load_stage(window)
    chain = stage.chain
    chain.setFocus()
    assert chain.link == LOAD and stage.field("moving_mass") is not None
    for _ in range(2):
        qtbot.keyClick(chain, Qt.Key.Key_Left)
    assert chain.link == 0 and stage.field("rated_torque") is not None
    qtbot.keyClick(chain, Qt.Key.Key_Left)
    assert chain.link == MOTOR and stage.field("brake_torque") is not None
    qtbot.keyClick(chain, Qt.Key.Key_Right)
    qtbot.keyClick(chain, Qt.Key.Key_Insert)
    assert kinds(window) == ["coupling", "coupling", "belt"] and chain.link == 0
    qtbot.mouseClick(stage.chips["reduction"], Qt.MouseButton.LeftButton)
    assert kinds(window) == ["reduction", "coupling", "coupling", "belt"]
    qtbot.keyClick(chain, Qt.Key.Key_Right, Qt.KeyboardModifier.ControlModifier)
    assert kinds(window) == ["coupling", "reduction", "coupling", "belt"] and chain.link == 1
    type_in(qtbot, stage.field("ratio"), "2")
    assert shown(window, "travel_per_turn") == "36 mm"
    qtbot.keyClick(chain, Qt.Key.Key_Left, Qt.KeyboardModifier.ControlModifier)
    assert kinds(window) == ["reduction", "coupling", "coupling", "belt"]
    qtbot.keyClick(chain, Qt.Key.Key_Delete)
    assert kinds(window) == ["coupling", "coupling", "belt"] and "coupling" in chain.accessibleName()
    window.session.undo_stack.setIndex(0)
    assert kinds(window) == ["coupling", "belt"] and window.session.project.axes[0].train[1].teeth == 24


@pytest.mark.every_axis
def test_links_are_dragged_along_the_chain_and_new_ones_dropped_into_it(window: Window, qtbot: Any) -> None:
    stage = load_stage(window, 1)
    chain = stage.chain
    assert kinds(window) == ["reduction", "rack"]
    spots = [spot.center().toPoint() for spot in chain.spots(chain.area())]
    qtbot.mousePress(chain, Qt.MouseButton.LeftButton, pos=spots[1])
    qtbot.mouseMove(chain, spots[1] + (spots[2] - spots[1]) / 3)
    qtbot.mouseRelease(chain, Qt.MouseButton.LeftButton, pos=spots[1])
    assert kinds(window) == ["reduction", "rack"], "dropped where it was"
    qtbot.mousePress(chain, Qt.MouseButton.LeftButton, pos=spots[1])
    qtbot.mouseMove(chain, spots[3])
    qtbot.mouseRelease(chain, Qt.MouseButton.LeftButton, pos=spots[3])
    assert kinds(window) == ["reduction", "rack"], "a reduction behind the rack is refused"
    assert "It cannot stand there" in stage.fault.text() and "behind the link that already turns into travel" in stage.fault.text()

    def drop(kind: str, x: float) -> None:
        data = QMimeData()
        data.setData(LINK_TYPE, QByteArray(kind.encode()))
        chain.dropEvent(QDropEvent(QPointF(x, 40), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton,
                                   Qt.KeyboardModifier.NoModifier))

    drop("coupling", spots[0].x())
    assert kinds(window) == ["coupling", "reduction", "rack"] and not stage.fault.isVisible() and chain.link == 0
    drop("worm", spots[1].x() + 30)
    assert kinds(window)[:2] == ["coupling", "worm"] or kinds(window)[1] == "worm"
    qtbot.mousePress(chain, Qt.MouseButton.LeftButton, pos=chain.spots(chain.area())[1].center().toPoint())
    qtbot.mouseMove(chain, chain.spots(chain.area())[3].center().toPoint())
    qtbot.mouseRelease(chain, Qt.MouseButton.LeftButton)
    assert kinds(window)[0] == "worm" and kinds(window)[-1] == "rack"
    type_in(qtbot, stage.field("inertia"), "12 g·cm²")
    assert any(s.kind == "coupling" and s.inertia == pytest.approx(1.2e-6) for s in window.session.axis.train)


@pytest.mark.every_axis
def test_more_of_a_link_stands_behind_a_word_and_is_never_lost(window: Window, qtbot: Any) -> None:
    stage = load_stage(window, 2)
    stage.chain.choose(1)
    assert stage.field("nut_stiffness") is None
    qtbot.mouseClick(stage.all, Qt.MouseButton.LeftButton)
    assert stage.field("nut_stiffness") is not None and stage.all.text() == "Less of it"
    before = window.session.solution["first_axial_mode"]
    type_in(qtbot, stage.field("nut_stiffness"), "3 N/µm")
    assert window.session.axis.train[1].nut_stiffness == pytest.approx(3e6)
    assert window.session.solution["first_axial_mode"] < 0.5 * before
    type_in(qtbot, stage.field("thread_pitch"), "5")
    assert level(window, "screw lead") == "short" and "a lead of 5 mm; 10 mm is given" in window.stage.headline.text()
    type_in(qtbot, stage.field("starts"), "2")
    assert "screw lead" not in {v.check for v in window.session.verdicts()}
    stage.leaves.turn("checks")
    picture = stage.picture
    assert isinstance(picture, LoadVerdicts)
    picture.grab()
    assert ("screw whirling good" in picture.accessibleName() and picture.rows()[0].level != "good") or picture.rows()


@pytest.mark.every_axis
def test_what_falls_is_said_and_a_brake_fitted_from_the_library(window: Window, qtbot: Any) -> None:
    stage = load_stage(window, 2)
    stage.chain.choose(MOTOR)
    type_in(qtbot, stage.field("brake_torque"), "")
    assert level(window, "vertical axis") == "short" and "falls its 180 mm" in window.stage.headline.text().lower()
    qtbot.mouseClick(stage.pick, Qt.MouseButton.LeftButton)
    dialog = next(w for w in stage.findChildren(PickPart) if w.isVisible())
    torques = [part.values["brake_torque"] for part in dialog.shown]
    assert torques == sorted(torques)
    chosen = dialog.shown[dialog.table.currentRow()]
    assert chosen.values["brake_torque"] >= 2 * window.session.solution["frictionless_static_torque"]
    assert chosen.values["frame"] == window.session.axis.motor.frame, "one that screws on behind this motor"
    dialog.filter.setText("86 mm 5")
    assert [part.name for part in dialog.shown] == ["86 mm brake 5 N·m"]
    dialog.filter.setText("")
    dialog.choose(chosen.name)
    before = window.session.solution
    dialog.accept()
    motor = window.session.axis.motor
    assert motor.brake_inertia == chosen.values["brake_inertia"] > 0
    shaft = motor.rotor_inertia + motor.brake_inertia
    assert window.session.solution["inertia_ratio"] == pytest.approx(before["load_inertia_at_motor"] / shaft)
    assert motor.brake_torque == chosen.values["brake_torque"] and motor.brake_delay == chosen.values["brake_delay"]
    assert level(window, "vertical axis") == "good" and shown(window, "fall_distance").endswith("mm")
    window.session.undo_stack.undo()
    assert window.session.axis.motor.brake_torque is None, "torque, delay and inertia are one step"


@pytest.mark.every_axis
def test_the_follower_is_compared_mended_and_forgotten(window: Window, qtbot: Any) -> None:
    stage = load_stage(window, 1)
    assert "microsteps 16 instead of 8" in window.stage.headline.text() and level(window, "follower") == "short"
    assert any(", short" in plate.accessibleName() for plate in window.plates.plates if plate.axis.name == "Y")
    stage.chain.choose(FOLLOWER)
    field = stage.field("microsteps")
    assert field is not None and field.editor.text() == "16"  # type: ignore[union-attr]
    torque = stage.field("holding_torque")
    assert torque is not None and torque.editor.text() == "" and torque.editor.placeholderText() == "as leader"  # type: ignore[union-attr]
    type_in(qtbot, field, "8")
    assert level(window, "follower") == "good"
    type_in(qtbot, stage.field("rated_current"), "2.8")
    assert "rated current 2.8 A instead of 4.2 A" in window.stage.headline.text()
    qtbot.mouseClick(stage.pick, Qt.MouseButton.LeftButton)
    assert window.session.axis.follower is None and level(window, "follower") == "good" and stage.fields.fields == []
    qtbot.mouseClick(stage.pick, Qt.MouseButton.LeftButton)
    assert [s.kind for s in window.session.axis.follower.train] == ["reduction", "rack"]
    type_in(qtbot, stage.field("ratio"), "5")
    assert "reduction ratio 5 instead of 3" in window.stage.headline.text()
    stage.chain.choose(MOTOR)
    type_in(qtbot, stage.field("motor_count"), "1")
    assert "follower" not in {v.check for v in window.session.verdicts()} and stage.chain.order()[0] == MOTOR
    assert FOLLOWER not in stage.chain.order()


def test_a_reduction_comes_from_the_library_with_its_ratings(window: Window, qtbot: Any) -> None:
    stage = load_stage(window, 3)
    stage.chain.choose(0)
    qtbot.mouseClick(stage.pick, Qt.MouseButton.LeftButton)
    dialog = next(w for w in stage.findChildren(PickPart) if w.isVisible())
    dialog.choose("57 mm worm 30:1")
    dialog.accept()
    link = window.session.axis.train[0]
    assert link.kind == "worm" and link.ratio == 30 and link.rated_torque == 20.0
    assert link.clearance == pytest.approx(math.radians(0.25))
    assert {"reduction rating", "stiffness", "lost motion"} <= {v.check for v in window.session.verdicts("Load")}


# The cycle

def test_the_cycle_has_any_number_of_moves_and_a_cursor_that_reads_all_three(window: Window, qtbot: Any) -> None:
    stage = load_stage(window)
    stage.leaves.turn("cycle")
    editor, picture = stage.cycle, stage.picture
    assert isinstance(editor, CycleEditor) and editor.isVisible() and isinstance(picture, CyclePicture)
    assert not stage.fields.isVisible() and not stage.tools.isVisible()
    qtbot.mouseClick(editor.again, Qt.MouseButton.LeftButton)
    type_in(qtbot, editor.field(1, "distance"), "-100")
    type_in(qtbot, editor.field(1, "process_load"), "40")
    type_in(qtbot, editor.field(1, "repeat"), "4")
    type_in(qtbot, editor.field(1, "jerk"), "90")
    move = window.session.axis.cycle[1]
    assert (move.distance, move.process_load, move.repeat, move.jerk) == (-0.1, 40.0, 4, 90.0)
    assert len(window.session.axis.cycle) == 3
    picture.bring_up_to_date()
    assert [span[0] for span in picture.spans] == [0, 1, 1, 1, 1, 2]
    assert [lane.name for lane in picture.lanes] == ["speed", "accel.", "torque"]
    assert abs(picture.lanes[2].values).max() == pytest.approx(window.session.solution["peak_torque"], rel=1e-6)
    picture.setFocus()
    x = int(picture._x(0.5))
    qtbot.mouseClick(picture, Qt.MouseButton.LeftButton, pos=QPointF(x, 60).toPoint())
    assert "0.6 m/s   0 m/s²   0.0769 N·m" in picture.reading() and "move 1" in picture.reading(), picture.reading()
    qtbot.keyClick(picture, Qt.Key.Key_Right)
    assert picture.cursor_time > 0.5 and picture.reading() in picture.accessibleName()
    qtbot.keyClick(picture, Qt.Key.Key_Escape)
    assert picture.reading() == ""
    qtbot.mouseClick(editor.up, Qt.MouseButton.LeftButton)
    assert window.session.axis.cycle[0].distance == -0.1 and editor.row == 0
    qtbot.mouseClick(editor.down, Qt.MouseButton.LeftButton)
    qtbot.mouseClick(editor.less, Qt.MouseButton.LeftButton)
    assert [m.distance for m in window.session.axis.cycle] == [0.6, -0.6]
    window.show_stage("Moves")
    assert window.stage.cycle.field(0, "distance").editor.text() == "600", "the Moves stage shows the same cycle"  # type: ignore[attr-defined]


@pytest.mark.every_axis
def test_a_cycle_of_a_thousand_moves_is_shown_some_at_a_time(window: Window, qtbot: Any) -> None:
    """A row of fields for each stood still for minutes."""
    session, move = window.session, window.session.axis.cycle[0]
    session.edit(session.axis_path("cycle"), (move,) * 999 + (move.model_copy(update={"speed": None}),))
    stage = load_stage(window)
    stage.leaves.turn("cycle")
    editor = stage.cycle
    shown = len(editor.fields)
    assert editor.pages.isVisible() and editor.which.text() == f"1 to {ROWS} of 1000" and not editor.before.isEnabled()
    editor.begin()
    assert editor.fields[-1].path == session.axis_path("cycle", 999, editor.fields[-1].name) and len(editor.fields) <= shown
    type_in(qtbot, editor.field(999, "speed"), "0.25")
    assert session.axis.cycle[999].speed == 0.25 and editor.row == 999 and not editor.after.isEnabled()
    qtbot.mouseClick(editor.less, Qt.MouseButton.LeftButton)
    assert len(session.axis.cycle) == 999 and editor.row == 998
    type_in(qtbot, editor.field(998, "distance"), "a mile")
    qtbot.mouseClick(editor.before, Qt.MouseButton.LeftButton)
    assert "mend it" in editor.fault.text() and editor.field(998, "distance").editor.text() == "a mile"
    qtbot.keyClick(editor.field(998, "distance").editor, Qt.Key.Key_Escape)
    qtbot.mouseClick(editor.before, Qt.MouseButton.LeftButton)
    assert editor.which.text().endswith("of 999") and editor.first == editor.row < 992
    session.show_axis(1)
    assert not editor.pages.isVisible() and editor.field(0, "distance").isVisible()


def test_the_first_move_is_what_the_brief_asks_and_leads_there_first(window: Window, qtbot: Any) -> None:
    stage = load_stage(window)
    window.session.edit_all([(window.session.axis_path(name), None) for name in ("cycle", "speed_wanted")])
    stage.leaves.turn("cycle")
    qtbot.mouseClick(stage.cycle.back, Qt.MouseButton.LeftButton)
    assert "made from travel, speed and acceleration of the Brief" in stage.cycle.fault.text()
    assert window.trail.stage == "Brief" and window.session.axis.cycle is None
    type_in(qtbot, window.stage.field("speed_wanted"), "0.4")
    stage = load_stage(window)
    stage.leaves.turn("cycle")
    qtbot.mouseClick(stage.cycle.back, Qt.MouseButton.LeftButton)
    assert window.session.axis.cycle[0].distance == pytest.approx(0.57) and window.session.axis.cycle[0].speed == 0.4


# Every leaf on every kind of axis

@pytest.mark.every_axis
def test_every_leaf_of_every_axis_draws_and_leaves_turn_by_key(window: Window, qtbot: Any) -> None:
    for index in range(4):
        for stage, words in (("Load", ["chain", "cycle", "checks"]), ("Motor", ["torque", "winding", "spread", "checks"])):
            window.session.show_axis(index)
            window.show_stage(stage)
            for word in words:
                assert window.stage.leaves.word == word
                assert not window.stage.picture.grab().isNull() and window.stage.picture.height() >= 150
                window.turn_leaf(1)
            assert window.stage.leaves.word == words[0]
    window.turn_leaf(-1)
    assert window.stage.leaves.word == "checks"


def test_a_blank_axis_explains_itself_on_every_leaf(qtbot: Any, tmp_path: Path) -> None:
    application()
    blank = {"format": "urban-mule/1", "axes": [{"name": "A", "motion": "rotary", "motor": {"kind": "servo"}}, {"name": "B"}, {
        "name": "D", "motor_count": 2, "train": [{"kind": k} for k in ("coupling", "reduction", "worm", "belt")]}]}
    window = Window(Session(ProjectFile.create(tmp_path / "b.mule", Project.model_validate(blank))), "Load")
    qtbot.addWidget(window)
    window.show()
    for index in range(3):
        window.session.show_axis(index)
        for stage in ("Load", "Motor"):
            window.show_stage(stage)
            for _ in range(4):
                window.stage.picture.grab()
                assert window.stage.headline.text()
                window.turn_leaf(1)
    chain = window._stages["Load"].chain  # type: ignore[attr-defined]
    assert isinstance(chain, ChainPicture)
    for what in chain.order():
        chain.choose(what)
    QApplication.processEvents()
    assert json.loads(export_project(window.session.project))["axes"][2]["motor_count"] == 2
    window.close()


def test_what_is_assumed_is_shown_apart_and_a_usual_value_can_be_taken(window: Window, qtbot: Any) -> None:
    stage = load_stage(window)
    window.session.edit(window.session.axis_path("train", 1, "efficiency"), None)
    stage.chain.choose(1)
    field = stage.field("efficiency")
    qtbot.waitUntil(lambda: field is not None and field.isVisible())
    assert field is not None and field.editor.text() == "" and field.editor.placeholderText() == "100"  # type: ignore[union-attr]
    assert field.unit_label.text().endswith("assumed")
    said = next(v.sentence for v in window.session.verdicts("Load") if v.check == "assumptions")
    assert said == "1 value is assumed ideal: the belt's efficiency of 100 %."
    assert "train[1].efficiency" in assumed_tolerances(window.session.axis), "the spread varies what is assumed"
    qtbot.mouseClick(stage.usual, Qt.MouseButton.LeftButton)
    menu = stage.findChild(QMenu)
    assert menu is not None and menu.actions()[0].text().startswith("97 %: toothed belt")
    menu.actions()[0].trigger()
    menu.close()
    assert window.session.axis.train[1].efficiency == 0.97 and not stage.usual.isVisible()
    assert window.session.axis.train[1].usual == ("efficiency",), "marked: nobody has read it off"
    assert [v.level for v in window.session.verdicts("Load") if v.check == "assumptions"] == ["good"]
    qtbot.waitUntil(lambda: stage.field("efficiency").unit_label.text().endswith("usual"))  # type: ignore[union-attr]
    type_in(qtbot, stage.field("efficiency"), "96")  # type: ignore[arg-type]
    assert window.session.axis.train[1].usual is None, "what somebody says is no usual value"
    assert not any(v.check == "assumptions" for v in window.session.verdicts("Load"))


def test_every_check_stands_on_its_leaf_with_all_that_it_says(window: Window, qtbot: Any) -> None:
    stage = load_stage(window)
    stage.leaves.turn("checks")
    picture = stage.leaves.picture
    assert isinstance(picture, LoadVerdicts)
    picture.bring_up_to_date()
    assert len(picture.rows()) == len(window.session.verdicts("Load")) == len(picture.listed.verdicts) > 5
    for verdict in picture.rows():
        assert verdict.sentence in picture.area.accessibleDescription() and verdict.school in picture.area.accessibleDescription()
    window.resize(1024, 720)
    qtbot.wait(20)
    bar = picture.area.verticalScrollBar()
    below = picture.listed.minimumHeight() - picture.area.viewport().height()
    assert bar is not None and bar.maximum() == max(0, below), "what finds no room is reached by scrolling"
    bar.setValue(0)
    qtbot.keyClick(picture.area, Qt.Key.Key_Down)
    assert bar.value() > 0 or below <= 0


@pytest.mark.every_axis
def test_a_choice_that_is_too_long_for_its_box_says_all_of_it_in_its_hint(window: Window, qtbot: Any) -> None:
    stage = load_stage(window)
    window.session.show_axis(2)
    stage.chain.choose(1)
    field = stage.field("end_support")
    assert field is not None
    choose(field, "fixed-supported")
    assert window.session.axis.train[1].end_support == "fixed-supported" and field.editor.toolTip() == "fixed-supported"
    field.editor.resize(60, 28)
    assert not field.editor.grab().isNull()
