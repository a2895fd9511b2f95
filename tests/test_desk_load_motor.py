"""Journeys through the Load and Motor stages in the real window: chain, cycle, follower, sliders, spread, search, data sheet."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QByteArray, QItemSelectionModel, QMimeData, QPointF, Qt
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QApplication, QLabel, QPushButton
from tests.driving import choose, level, shown, type_in

from urban_mule.core.units import number_text
from urban_mule.desk.app import application
from urban_mule.desk.cycle_editor import CycleEditor
from urban_mule.desk.data_sheet import DataSheet
from urban_mule.desk.load_stage import LoadStage
from urban_mule.desk.motor_stage import MotorStage
from urban_mule.desk.pick_part import PickPart
from urban_mule.desk.pictures.chain import FOLLOWER, LINK_TYPE, LOAD, MOTOR, ChainPicture
from urban_mule.desk.pictures.cycle import CyclePicture
from urban_mule.desk.pictures.heat import HeatPicture
from urban_mule.desk.pictures.motor import MotorPicture
from urban_mule.desk.pictures.spread import SpreadPicture
from urban_mule.desk.pictures.verdicts import LoadVerdicts
from urban_mule.desk.search_window import COLUMNS, SearchWindow
from urban_mule.desk.session import Session
from urban_mule.desk.window import Window
from urban_mule.store import library
from urban_mule.store.document import Project
from urban_mule.store.exchange import export_project
from urban_mule.store.library import parse_csv
from urban_mule.store.project_file import ProjectFile


@pytest.fixture(autouse=True)
def shelf(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    path = tmp_path / "parts.csv"
    monkeypatch.setattr(library, "own_parts_file", lambda: path)
    return path


PICK = QItemSelectionModel.SelectionFlag.Select | QItemSelectionModel.SelectionFlag.Rows


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
    assert "It cannot stand there" in stage.fault.text() and "behind the stage that already turns into travel" in stage.fault.text()

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
    dialog.filter.setText("86 mm 5")
    assert [part.name for part in dialog.shown] == ["86 mm brake 5 N·m"]
    dialog.filter.setText("")
    dialog.choose(chosen.name)
    dialog.accept()
    motor = window.session.axis.motor
    assert motor.brake_torque == chosen.values["brake_torque"] and motor.brake_delay == chosen.values["brake_delay"]
    assert level(window, "vertical axis") == "good" and shown(window, "fall_distance").endswith("mm")
    window.session.undo_stack.undo()
    assert window.session.axis.motor.brake_torque is None, "torque and delay are one step"


def test_the_follower_is_compared_mended_and_forgotten(window: Window, qtbot: Any) -> None:
    stage = load_stage(window, 1)
    assert "microsteps 16 instead of 8" in window.stage.headline.text() and level(window, "follower") == "short"
    assert any(plate.accessibleName().endswith("short") for plate in window.plates.plates if plate.axis.name == "Y")
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


def test_an_axis_without_goals_says_what_its_first_move_needs(window: Window, qtbot: Any) -> None:
    stage = load_stage(window)
    window.session.edit_all([(window.session.axis_path(name), None) for name in ("cycle", "speed_wanted")])
    stage.leaves.turn("cycle")
    qtbot.mouseClick(stage.cycle.back, Qt.MouseButton.LeftButton)
    assert "Give travel, speed and acceleration on the Brief first" in stage.cycle.fault.text()
    window.session.edit(window.session.axis_path("speed_wanted"), 0.4)
    qtbot.mouseClick(stage.cycle.back, Qt.MouseButton.LeftButton)
    assert window.session.axis.cycle[0].distance == pytest.approx(0.57) and window.session.axis.cycle[0].speed == 0.4


# The motor

def motor_stage(window: Window, axis: int = 0) -> MotorStage:
    window.session.show_axis(axis)
    window.show_stage("Motor")
    assert isinstance(window.stage, MotorStage)
    return window.stage


def test_the_supply_slides_shows_what_it_would_give_and_settles(window: Window, qtbot: Any) -> None:
    picture = motor_stage(window).picture
    assert isinstance(picture, MotorPicture)
    words = {mark.word: mark.value for mark in picture.volts.marks}
    assert words == {"top speed needs": pytest.approx(window.session.solution["voltage_needed"]),
                     "rule": pytest.approx(32 * math.sqrt(2.1))}
    window.session.edit(window.session.axis_path("driver", "voltage_limit"), 75.0)
    qtbot.waitUntil(lambda: "driver" in {mark.word for mark in picture.volts.marks})
    track = picture.volts._track()
    at = track.center().toPoint()
    qtbot.mousePress(picture.volts, Qt.MouseButton.LeftButton, pos=at)
    trial = picture.volts.value
    assert trial != 48.0 and window.session.axis.driver.supply_voltage == 48.0, "sliding takes nothing yet"
    qtbot.mouseMove(picture.volts, at + QPointF(40, 0).toPoint())
    qtbot.mouseRelease(picture.volts, Qt.MouseButton.LeftButton, pos=at)
    settled = window.session.axis.driver.supply_voltage
    assert settled == picture.volts.value and settled != 48.0 and picture._former is not None
    assert ProjectFile.open(window.session.path).project().axes[0].driver.supply_voltage == settled
    picture.volts.setFocus()
    qtbot.keyClick(picture.volts, Qt.Key.Key_Right)
    assert window.session.axis.driver.supply_voltage == settled + 1
    qtbot.keyClick(picture.volts, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    assert window.session.axis.driver.supply_voltage == settled - 9
    qtbot.keyClick(picture.current, Qt.Key.Key_Down)
    assert window.session.axis.driver.current_peak == pytest.approx(4.9)
    assert picture.current.also == f"{number_text(4.9 / math.sqrt(2), 3)} A RMS"
    window.session.undo_stack.setIndex(0)
    assert window.session.axis.driver.supply_voltage == 48.0 and window.session.axis.driver.current_peak == 5.0


def test_a_typed_tolerance_is_kept_shown_and_spreads(window: Window, qtbot: Any) -> None:
    stage = motor_stage(window)
    field = stage.field("rated_current")
    type_in(qtbot, field, "4.2 ± 0.21")
    motor = window.session.axis.motor
    assert motor.rated_current == 4.2 and motor.tolerances["rated_current"] == pytest.approx(0.05)
    assert field is not None and "±5 %" in field.unit_label.text() and field.editor.text() == "4.2"  # type: ignore[union-attr]
    count = window.session.undo_stack.count()
    type_in(qtbot, field, "4.2 +- 10 %")
    assert window.session.axis.motor.tolerances["rated_current"] == pytest.approx(0.1)
    assert window.session.undo_stack.count() == count + 1
    for text, why in (("4.2 ± 2 kg", "not a unit that fits"), ("4.2 ± 400 %", "at most ±90 %"), ("0 ± 1", "is not zero")):
        type_in(qtbot, field, text)
        assert why in field.wrong.text() and window.session.axis.motor.rated_current == 4.2, text
    steps = stage.field("supply_voltage")
    type_in(qtbot, steps, "48 ± 5 %")
    assert window.session.axis.driver.tolerances == {"supply_voltage": pytest.approx(0.05)}
    stage.leaves.turn("spread")
    picture = stage.picture
    assert isinstance(picture, SpreadPicture)
    qtbot.waitUntil(lambda: picture.found is not None, timeout=20_000)
    assert {s.name for s in picture.found.swings} >= {"rated_current", "supply_voltage", "holding_torque", "train[1].efficiency"}
    assert "Efficiency of the belt" in picture.swings.accessibleName()
    first = picture.found.worst_plausible
    window.session.edit(window.session.axis_path("motor", "tolerances"), {"holding_torque": 0.4})
    qtbot.waitUntil(lambda: picture.found is not None and picture.found.worst_plausible < first, timeout=20_000)
    type_in(qtbot, field, "4.2 ± 0")
    assert "rated_current" not in (window.session.axis.motor.tolerances or {})
    window.session.show_axis(2)
    qtbot.waitUntil(lambda: picture.found is None)


def test_heat_shows_moving_holding_and_how_long_it_takes(window: Window, qtbot: Any) -> None:
    stage = motor_stage(window)
    stage.leaves.turn("heat")
    assert isinstance(stage.picture, HeatPicture) and shown(window, "warm_up_time").endswith("min")
    solution = window.session.solution
    moving = solution["moving_share"]
    assert solution["cycle_copper_loss"] == pytest.approx(12.5 * (moving + 0.25 * (1 - moving)))
    assert solution["holding_temperature_rise"] < solution["cycle_temperature_rise"] < solution["temperature_rise"]
    type_in(qtbot, stage.field("hold_fraction"), "100")
    assert window.session.solution["cycle_temperature_rise"] == pytest.approx(window.session.solution["temperature_rise"])
    type_in(qtbot, stage.field("thermal_time_constant"), "")
    assert "not known: thermal time constant is not given" in shown(window, "warm_up_time")
    stage.picture.grab()
    type_in(qtbot, stage.field("thermal_resistance"), "9")
    assert level(window, "cycle heat") == "short"


# Library, data sheet, search

def test_a_motor_comes_from_the_library_with_its_wiring(window: Window, qtbot: Any) -> None:
    stage = motor_stage(window)
    qtbot.mouseClick(stage.library, Qt.MouseButton.LeftButton)
    dialog = next(w for w in stage.findChildren(PickPart) if w.isVisible())
    assert len(dialog.shown) >= 120
    dialog.filter.setText("86 mm 8 leads half")
    assert dialog.shown and all("86 mm" in part.name and "half coil" in part.name for part in dialog.shown)
    dialog.filter.setText("nothing like this")
    dialog.accept()
    assert "Choose a part" in dialog.fault.text()
    dialog.filter.setText("86 mm 8 leads half")
    dialog.table.selectRow(0)
    dialog.accept()
    motor = window.session.axis.motor
    assert motor.wiring == motor.figures_for == "half coil" and motor.frame == pytest.approx(0.086)
    assert motor.name == stage.know_heading.text()[15:]
    half = window.session.solution["winding_inductance"]
    choose(stage.field("wiring"), "series")
    assert window.session.solution["winding_inductance"] == pytest.approx(4 * half)


def test_a_data_sheet_asks_two_questions_and_mends_a_slip(window: Window, qtbot: Any, shelf: Path) -> None:
    stage = motor_stage(window)
    qtbot.mouseClick(stage.sheet, Qt.MouseButton.LeftButton)
    form = next(w for w in stage.findChildren(DataSheet) if w.isVisible())
    form.name.setText("sheet motor")
    for name, text in (("holding_torque", "270 ozf·in"), ("rated_current", "2,8"), ("phase_resistance", "1.13"),
                       ("phase_inductance", "3.6 H"), ("rotor_inertia", "480"), ("step_angle", "1.8"), ("mass", "1.1")):
        form.lines[name].setText(text)
    form.accept()
    assert "Say what the rated current is" in form.fault.text()
    form.rating.buttons()[1].setChecked(True)
    form.accept()
    assert "Say for which wiring" in form.fault.text()
    next(b for b in form.leads.buttons() if b.text() == "8 leads, parallel").setChecked(True)
    form.look()
    mend = next(b for b in form.findChildren(QPushButton) if b.text() == "Take 3.6 mH")
    assert any("time constant L/R" in label.text() for label in form.findChildren(QLabel))
    qtbot.mouseClick(mend, Qt.MouseButton.LeftButton)
    assert form.lines["phase_inductance"].text() == "3.6 mH"
    form.lines["mass"].setText("heavy")
    form.accept()
    assert "Mass: “heavy” is not a number" in form.fault.text()
    form.lines["mass"].setText("1.1")
    form.keep.setChecked(True)
    form.accept()
    motor = window.session.axis.motor
    assert motor.rated_current_is == "peak" and motor.figures_for == motor.wiring == "parallel" and motor.leads == 8
    assert motor.holding_torque == pytest.approx(1.9066, rel=1e-4) and motor.phase_inductance == pytest.approx(3.6e-3)
    assert motor.rotor_inertia == pytest.approx(4.8e-5)
    assert [part.name for part in library.own_parts().parts] == ["sheet motor"]
    window.session.undo_stack.undo()
    assert window.session.axis.motor.name == "57 mm stepper 2.1 N·m, 4 leads"


def opened_search(window: Window, qtbot: Any) -> SearchWindow:
    stage = motor_stage(window)
    qtbot.mouseClick(stage.others_that_do, Qt.MouseButton.LeftButton)
    return next(w for w in window.findChildren(SearchWindow) if w.isVisible())


def searched(form: SearchWindow, qtbot: Any) -> None:
    qtbot.mouseClick(form.go, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: form.go.text() == "Search" and form.found is not None, timeout=30_000)


def test_search_compare_take_and_undo(window: Window, qtbot: Any) -> None:
    before = export_project(window.session.project)
    form = opened_search(window, qtbot)
    searched(form, qtbot)
    assert form.found.scan.size > 100_000 and "motors would do" in form.headline.text()
    assert form.model.rows and form.refused.count() > 20
    assert all(": " in form.refused.item(row).text() for row in range(form.refused.count()))
    assert all(len(form.model.cells(row)) == len(COLUMNS) for row in range(len(form.model.rows)))
    first = form.model.cells(0)[0]
    assert form.order()[0] == "margin"
    form.wishes.setCurrentRow(form.order().index("price"))
    for _ in range(5):
        form.shift_wish(-1)
    assert form.order()[0] == "price" and form.model.cells(0)[0] != first, "another wish first, another drive first"
    for row in range(1, 6):
        form.selection.select(form.model.index(row, 0), PICK)
    assert len(form.comparison.drives) == 4 and not form.taking.isEnabled(), "four at most; one to take"
    form.comparison.grab()
    margins = [drive.solution["working_margin"] for drive in form.comparison.drives]
    assert margins == pytest.approx([one.figures["working_margin"] for one in form.chosen()[:4]], rel=1e-3)
    form.table.selectRow(2)
    chosen = form.chosen()[0]
    qtbot.mouseClick(form.taking, Qt.MouseButton.LeftButton)
    axis = window.session.axis
    assert axis.motor.name == form.found.scan.motors[chosen.place[0]]["name"] and "is now on X" in form.said.text()
    assert window.session.solution["working_margin"] == pytest.approx(chosen.figures["working_margin"], rel=1e-3)
    assert axis.motor.wiring == form.found.scan.motors[chosen.place[0]]["wiring"]
    window.session.undo_stack.undo()
    assert export_project(window.session.project) == before, "one step takes it all back"
    form._sort(9)
    masses = [one.figures["mass"] for one in form.model.rows]
    assert masses in (sorted(masses), sorted(masses, reverse=True))
    form.close()


def test_a_search_is_stopped_refuses_nonsense_and_tries_servos(window: Window, qtbot: Any) -> None:
    form = opened_search(window, qtbot)
    for line, text, why in ((form.supplies, "", "supplies: at least one is needed"), (form.supplies, "24, x", "supplies: “x”"),
                            (form.shares, "60, 130", "currents: allowed is above 0 and at most 100 %"),
                            (form.hand, "0", "torque in hand is 0"), (form.frame, "wide", "largest frame: “wide”")):
        kept = line.text()
        line.setText(text)
        qtbot.mouseClick(form.go, Qt.MouseButton.LeftButton)
        assert why in form.fault.text() and form.found is None
        line.setText(kept)
    form.supplies.setText(", ".join(str(v) for v in range(20, 80, 2)))
    qtbot.mouseClick(form.go, Qt.MouseButton.LeftButton)
    assert form.go.text() == "Stop" and form.bar.isVisible()
    qtbot.mouseClick(form.go, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: form.go.text() == "Search", timeout=20_000)
    assert form.found is None and "Stopped" in form.fault.text()
    form.supplies.setText("48")
    form.frame.setText("")
    form.kinds["servo"].setChecked(True)
    searched(form, qtbot)
    assert form.kind == "servo" and form.model.rows
    form.table.selectRow(0)
    form.take()
    assert window.session.axis.motor.kind == "servo"
    qtbot.waitUntil(lambda: window.stage.field("rated_torque") is not None)
    assert {"continuous torque", "kind of motor", "peak time"} <= {v.check for v in window.session.verdicts("Motor")}
    assert "RMS" in window.stage.results.rows[2].accessibleName()
    picture = window.stage.picture
    assert isinstance(picture, MotorPicture)
    qtbot.waitUntil(lambda: not picture.current.isVisible())
    window.stage.leaves.turn("heat")
    assert "a servo has no temperature rise" in window.session.reason_unknown("temperature_rise")
    window.stage.picture.grab()
    window.session.edit(window.session.axis_path("train"), None)
    form.go.click()
    qtbot.waitUntil(lambda: "no train yet" in form.fault.text(), timeout=10_000)
    form.close()


def test_a_closing_window_ends_a_running_search(qtbot: Any, demo_copy: Path) -> None:
    application()
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.show()
    form = opened_search(window, qtbot)
    form.supplies.setText(", ".join(str(v) for v in range(20, 80)))
    form.begin()
    worker = form._worker
    assert worker is not None
    window.close()
    assert not worker.isRunning()


def test_parts_are_imported_row_by_row_and_exported(window: Window, qtbot: Any, tmp_path: Path) -> None:
    told: list[str] = []
    window.tell = told.append  # type: ignore[method-assign]
    path = tmp_path / "mine.csv"
    path.write_text("kind,name,brake_torque [N·m]\nbrake,mine,1.5\nbrake,worse,-1\n", encoding="utf-8")
    window.files.import_parts(path)
    qtbot.waitUntil(lambda: bool(told))
    assert "1 part taken in" in told[0] and "line 3: brake_torque is -1 N·m" in told[0]
    assert [part.name for part in library.own_parts().parts] == ["mine"]
    window.files.export_parts(tmp_path / "out.csv")
    assert [part.name for part in parse_csv((tmp_path / "out.csv").read_text(encoding="utf-8")).parts] == ["mine"]
    path.write_text("nonsense\n", encoding="utf-8")
    window.files.import_parts(path)
    qtbot.waitUntil(lambda: len(told) == 2)
    assert "line 1: the columns kind and name are needed" in told[1]


# Every leaf on every kind of axis

def test_every_leaf_of_every_axis_draws_and_leaves_turn_by_key(window: Window, qtbot: Any) -> None:
    for index in range(4):
        for stage, words in (("Load", ["chain", "cycle", "checks"]), ("Motor", ["torque", "heat", "spread", "checks"])):
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
