"""The Motor stage through the window: supply, tolerance, heat, library, data sheet, search."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QItemSelectionModel, QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtWidgets import QApplication, QLabel, QPushButton
from tests.driving import choose, level, practise, shown, type_in

from urban_mule.core.motor.datasheet import doubts
from urban_mule.core.motor.heat import room_to_cool
from urban_mule.core.motor.servo import LesserCurve
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.app import application
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.shared.pick_part import PickPart
from urban_mule.desk.stages.motor.data_sheet import DataSheet
from urban_mule.desk.stages.motor.found_model import COLUMNS
from urban_mule.desk.stages.motor.heat import HeatPicture
from urban_mule.desk.stages.motor.picture import MotorPicture
from urban_mule.desk.stages.motor.search_window import SearchWindow
from urban_mule.desk.stages.motor.spread import SpreadPicture
from urban_mule.desk.stages.motor.stage import MotorStage
from urban_mule.desk.walk import settle
from urban_mule.practice.machine import practice_machine
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.library import parts as library
from urban_mule.store.library.parts import parse_csv

PICK = QItemSelectionModel.SelectionFlag.Select | QItemSelectionModel.SelectionFlag.Rows


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
                     "rule": pytest.approx(32 * math.sqrt(2.1)), "driver": 60.0}
    window.session.edit(window.session.axis_path("driver", "voltage_limit"), 75.0)
    qtbot.waitUntil(lambda: 75.0 in {mark.value for mark in picture.volts.marks})
    track = picture.volts._track()
    at = track.center().toPoint()
    qtbot.mousePress(picture.volts, Qt.MouseButton.LeftButton, pos=at)
    trial = picture.volts.value
    assert trial != 48.0 and window.session.project.supply_voltage == 48.0, "sliding takes nothing yet"
    qtbot.mouseMove(picture.volts, at + QPointF(40, 0).toPoint())
    qtbot.mouseRelease(picture.volts, Qt.MouseButton.LeftButton, pos=at)
    settled = window.session.project.supply_voltage
    assert settled == picture.volts.value and settled != 48.0 and picture._former is not None
    assert ProjectFile.open(window.session.path).project().supply_voltage == settled
    picture.volts.setFocus()
    qtbot.keyClick(picture.volts, Qt.Key.Key_Right)
    assert window.session.project.supply_voltage == settled + 1
    qtbot.keyClick(picture.volts, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    assert window.session.project.supply_voltage == settled - 9
    qtbot.keyClick(picture.current, Qt.Key.Key_Down)
    assert window.session.axis.driver.current_peak == pytest.approx(4.9)
    assert picture.current.also == f"{number_text(4.9 / math.sqrt(2), 3)} A RMS"
    window.session.undo_stack.setIndex(0)
    assert window.session.project.supply_voltage == 48.0 and window.session.axis.driver.current_peak == 5.0


@pytest.mark.every_axis
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
    qtbot.mouseClick(field.unit_label, Qt.MouseButton.LeftButton)
    assert field.editor.text() == "4.2 ± 10 %" and field.editor.selectedText() == "10", "what it is good for, to be typed over"
    qtbot.keyClicks(field.editor, "7")
    qtbot.keyClick(field.editor, Qt.Key.Key_Return)
    assert window.session.axis.motor.tolerances["rated_current"] == pytest.approx(0.07)
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
    assert {s.name for s in picture.found.swings} >= {"rated_current", "holding_torque", "train[1].efficiency"}
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
    stage.leaves.turn("winding")
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


def test_a_round_of_warming_ends_in_what_really_heats_the_motor(window: Window, qtbot: Any) -> None:
    """The practice motor's case takes 85 % of the resistance of its winding; the room's temperature is no reading of the case."""
    window.show_stage("Motor")
    window.stage.leaves.turn("winding")
    practise(window, qtbot, "warming")
    solution, project = window.session.solution, window.session.project
    assert len(window.session.axis.last_reading("warming").temperature) == 10
    really = practice_machine(project, window.session.axis, 0).real
    slower = room_to_cool(really["copper_loss"], really["thermal_resistance"])  # hot copper resists more
    assert solution["warming_time_constant"] == pytest.approx(solution["thermal_time_constant"] / slower, rel=0.04)
    assert solution["warming_rise"] == pytest.approx(0.85 * really["temperature_rise"], rel=0.02)


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
    assert motor.name == stage.know_heading.text()
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


def test_a_servo_of_ones_own_is_typed_and_kept_though_the_axis_has_a_stepper(window: Window, qtbot: Any, shelf: Path) -> None:
    stage = motor_stage(window)
    qtbot.mouseClick(stage.sheet, Qt.MouseButton.LeftButton)
    form = next(w for w in stage.findChildren(DataSheet) if w.isVisible())
    assert form.kind == "stepper" and form.instead.text() == "It is a servo"
    qtbot.mouseClick(form.instead, Qt.MouseButton.LeftButton)
    form = next(w for w in stage.findChildren(DataSheet) if w.isVisible() and w.kind == "servo")
    form.name.setText("sheet servo")
    for name, text in (("rated_torque", "1.3"), ("motor_peak_torque", "3.9"), ("rated_speed", "3000 rpm"), ("rated_voltage", "48"),
                       ("max_speed", "5000 rpm"), ("rotor_inertia", "0.4"), ("counts_per_turn", "4096")):
        form.lines[name].setText(text)
    form.between.buttons()[2].setChecked(True)
    form.keep.setChecked(True)
    form.accept()
    axis = window.session.axis
    assert axis.motor_kind == "servo" and axis.motor.rated_torque == pytest.approx(1.3)
    assert [part.name for part in library.own_parts().parts] == ["sheet servo"]
    window.session.undo_stack.undo()
    assert window.session.axis.motor_kind == "stepper"


def opened_search(window: Window, qtbot: Any) -> SearchWindow:
    stage = motor_stage(window)
    qtbot.mouseClick(stage.others_that_do, Qt.MouseButton.LeftButton)
    return next(w for w in window.findChildren(SearchWindow) if w.isVisible())


def searched(form: SearchWindow, qtbot: Any) -> None:
    """The search, which begins by itself when it is opened, to its end."""
    if form.go.text() == "Search":
        qtbot.mouseClick(form.go, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: form.go.text() == "Search" and form.found is not None, timeout=30_000)


@pytest.mark.every_axis
def test_search_compare_take_and_undo(window: Window, qtbot: Any) -> None:
    before = window.session.project
    form = opened_search(window, qtbot)
    searched(form, qtbot)
    assert form.found.scan.size > 20_000 and "motors would do" in form.headline.text()
    assert form.model.rows and form.refused.count() > 20
    assert all(": " in form.refused.item(row).text() for row in range(form.refused.count()))
    assert all(len(form.model.cells(row)) == len(COLUMNS) for row in range(len(form.model.rows)))
    first = form.model.cells(0)[0]
    assert form.asked.order()[0] == "margin"
    form.asked.wishes.setCurrentRow(form.asked.order().index("price"))
    for _ in range(5):
        form.asked.shift_wish(-1)
    later = next(one for one in form.asked.findChildren(QPushButton) if one.text() == "Later")
    later.setFocus()
    qtbot.keyClick(later, Qt.Key.Key_Return)
    assert form.isVisible() and form.asked.order()[1] == "price", "Enter presses the button that has the keys, not the default"
    form.asked.shift_wish(-1)
    assert form.asked.order()[0] == "price" and form.model.cells(0)[0] != first, "another wish first, another drive first"
    for row in range(1, 6):
        form.selection.select(form.model.index(row, 0), PICK)
    qtbot.waitUntil(lambda: len(form.comparison.drives) == 4)
    assert not form.taking.isEnabled(), "four at most; one to take"
    form.comparison.grab()
    margins = [drive.solution["working_margin"] for drive in form.comparison.drives]
    assert margins == pytest.approx([one.figures["working_margin"] for one in form.chosen()[:4]], rel=1e-3)
    form.table.selectRow(2)
    chosen = form.chosen()[0]
    told: list[str] = []
    window.session.noted.connect(told.append)
    qtbot.mouseClick(form.taking, Qt.MouseButton.LeftButton)
    axis = window.session.axis
    assert axis.motor.name == form.found.scan.motors[chosen.place[0]]["name"] and not form.isVisible()
    assert told == [f"{axis.motor.name} is now on X. Ctrl+Z takes that back."], "driver and supply there are, they stay"
    assert window.session.solution["working_margin"] == pytest.approx(chosen.figures["working_margin"], rel=1e-3)
    assert axis.motor.wiring == form.found.scan.motors[chosen.place[0]]["wiring"]
    window.session.undo_stack.undo()
    assert window.session.project is before, "one step takes it all back"
    form._sort(9)
    masses = [one.figures["mass"] for one in form.model.rows]
    assert masses in (sorted(masses), sorted(masses, reverse=True))
    form.close()


def test_a_search_is_stopped_refuses_nonsense_and_tries_servos(window: Window, qtbot: Any) -> None:
    form = opened_search(window, qtbot)
    form._job.cancel()
    qtbot.waitUntil(lambda: form.go.text() == "Search", timeout=20_000)
    form.found, asked = None, form.asked
    for line, text, why in ((asked.supplies, "", "supplies: at least one is needed"), (asked.supplies, "24, x", "supplies: “x”"),
                            (asked.shares, "60, 130", "currents: allowed is above 0 and at most 100 %"),
                            (asked.hand, "0", "safety factor wanted is 0"), (asked.frame, "wide", "largest frame: “wide”")):
        kept = line.text()
        line.setText(text)
        qtbot.mouseClick(form.go, Qt.MouseButton.LeftButton)
        assert why.lower() in form.fault.text().lower() and form.found is None
        line.setText(kept)
    form.asked.supplies.setText(", ".join(str(v) for v in range(20, 80, 2)))
    qtbot.mouseClick(form.go, Qt.MouseButton.LeftButton)
    assert form.go.text() == "Stop" and form.bar.isVisible()
    qtbot.mouseClick(form.go, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: form.go.text() == "Search", timeout=20_000)
    assert form.found is None and "Stopped" in form.fault.text()
    form.asked.supplies.setText("48")
    form.asked.frame.setText("")
    form.asked.kinds["servo"].setChecked(True)
    assert form.asked.hottest.text() == "130" and not form.asked.shares.isEnabled()
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
    window.stage.leaves.turn("winding")
    assert "a servo has no temperature rise" in window.session.reason_unknown("temperature_rise")
    assert window.session.solution["cycle_temperature_rise"] > 0, "the library knows the winding"
    for name in ("torque_constant_rms", "winding_figures_are"):
        window.session.edit(window.session.axis_path("motor", name), None)
    assert window.session.reason_unknown("cycle_temperature_rise") == "the torque constant is not given"
    for name, text in (("torque_constant_rms", "0.6"), ("pole_pairs", "4"), ("phase_resistance", "0.4"),
                       ("phase_inductance", "0.6"), ("thermal_resistance", "1.2"), ("thermal_time_constant", "20")):
        type_in(qtbot, window.stage.field(name), text)
    assert window.session.solution["cycle_temperature_rise"] < window.session.solution["rated_temperature_rise"]
    assert isinstance(window.session.solution["torque_curve"], LesserCurve)
    assert any(v.check == "winding figures" and v.level == "tight" for v in window.session.verdicts("Motor"))
    window.stage.picture.grab()
    window.session.edit(window.session.axis_path("train"), None)
    again = opened_search(window, qtbot)
    qtbot.waitUntil(lambda: "no train yet" in again.fault.text(), timeout=10_000)
    again.close()


def test_a_closing_window_ends_a_running_search(qtbot: Any, demo_copy: Path) -> None:
    application()
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.show()
    form = opened_search(window, qtbot)
    assert form._job is not None and window.session.works.busy
    window.close()
    assert not window.session.works.busy


def test_parts_are_imported_row_by_row_and_exported(window: Window, qtbot: Any, tmp_path: Path) -> None:
    told: list[str] = []
    window.session.told.connect(told.append)
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


def test_the_wheel_looks_closer_a_drag_moves_and_the_next_change_shows_all_again(window: Window, qtbot: Any) -> None:
    motor_stage(window)
    settle(window.session)
    picture = window.stage.picture
    assert isinstance(picture, MotorPicture)
    box, face = picture.chart.box, picture.chart.viewport()
    whole, place = box.viewRange(), QPointF(face.width() / 2, face.height() / 3)
    turn = QWheelEvent(place, face.mapToGlobal(place), QPoint(), QPoint(0, 240), Qt.MouseButton.NoButton,
                       Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False)
    QApplication.sendEvent(face, turn)
    closer = box.viewRange()
    assert all(a < c < d < b for (a, b), (c, d) in zip(whole, closer, strict=True))
    qtbot.mousePress(face, Qt.MouseButton.LeftButton, pos=place.toPoint())
    for way in (40, 80):
        qtbot.mouseMove(face, place.toPoint() + QPoint(way, 0))
    qtbot.mouseRelease(face, Qt.MouseButton.LeftButton, pos=place.toPoint() + QPoint(80, 0))
    settle(window.session)
    moved = box.viewRange()
    assert moved[0][0] < closer[0][0] and moved[0][1] - moved[0][0] == pytest.approx(closer[0][1] - closer[0][0])
    window.session.edit(window.session.axis_path("moving_mass"), 6.3)
    settle(window.session)
    assert box.viewRange() == whole


def test_figures_so_small_that_they_divide_by_nothing_are_doubted_in_a_sentence() -> None:
    figures = dict.fromkeys(("holding_torque", "rated_current", "phase_resistance", "phase_inductance", "rotor_inertia"), 1e-200)
    found = doubts("stepper", {**figures, "step_angle": math.pi / 100})
    assert found and all("inf" not in one.sentence and "nan" not in one.sentence for one in found)
    assert any("beyond all measure" in one.sentence for one in found)
