"""Curves as a data sheet prints them: the winding back from its points, at another voltage; what is no curve; the clicking."""

from __future__ import annotations

import math
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPen, QTransform
from PyQt6.QtWidgets import QPushButton
from tests.driving import type_in
from tests.motor.test_search import found_on

from urban_mule.core.motor.printed import CURVES, PrintedCurve, in_order
from urban_mule.core.motor.printed_fit import worst_share
from urban_mule.core.motor.scan import AxisMarks, picture_scale
from urban_mule.core.motor.servo_printed import torque_doubt as servo_doubt
from urban_mule.core.motor.servo_winding import ServoWinding, WoundCurve
from urban_mule.core.motor.stepper import StepperCurve, rated_current_peak
from urban_mule.core.motor.stepper_printed import torque_doubt
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.units import RPM
from urban_mule.core.studies.ranking import candidate
from urban_mule.core.subjects import axis_sheet
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.stages.motor.data_sheet import DataSheet
from urban_mule.desk.stages.motor.printed_curve import PrintedCurves
from urban_mule.desk.stages.motor.stage import MotorStage
from urban_mule.desk.walk import settle
from urban_mule.store.exchange.curve_text import points_in, read_curve
from urban_mule.store.library import parts as library
from urban_mule.store.library.drives import with_candidate
from urban_mule.store.library.parts import shipped_parts
from urban_mule.store.library.pictures import kept_picture
from urban_mule.store.solve import solve_axis
from urban_mule.store.text_files import BadFile

NOISE = 0.03
MOTORS = [part for part in shipped_parts() if part.kind == "stepper" and CURVES not in part.values]


def printed(shows: str, volts: float, speeds: np.ndarray, torques: np.ndarray, rng: np.random.Generator) -> PrintedCurve:
    """Points with the noise of print and eye, those that can still be read."""
    read = torques > 0.05 * torques.max()
    noisy = torques[read] * (1 + NOISE * rng.standard_normal(int(read.sum())))
    return PrintedCurve(shows, volts, in_order(list(zip(speeds[read], noisy, strict=True))))


def worst(found: np.ndarray, true: np.ndarray) -> float:
    """How far a curve is off where a fifth is left, as a share of its greatest torque."""
    usable = true > 0.2 * true.max()
    return float(np.max(np.abs(found - true)[usable]) / true.max())


def test_steppers_give_their_curve_back_at_another_voltage_and_current() -> None:
    """Truth by the two-axis theory with a torque constant and a loss of its own, printed with 3 % noise, at ⅔ and 1½ of it."""
    rng, off, held = np.random.default_rng(3), [], []
    for part in MOTORS[::4]:
        v, volts = part.values, float(rng.choice([36.0, 48.0, 72.0]))
        peak = float(rated_current_peak(v["rated_current"], v["rated_current_is"]))
        motor = (v["holding_torque"] / peak * rng.uniform(0.75, 1.0), math.pi / 2 / v["step_angle"], v["phase_resistance"],
                 v["phase_inductance"])
        bare = StepperCurve(*motor, peak, volts, v["drag_torque"])
        if motor[2] * peak > 0.7 * volts:
            continue  # no driver holds its current on this supply
        speeds = np.linspace(0.0, 400.0, 4000)
        gone = bare(speeds) < 0.15 * bare(np.zeros(1))
        end = float(speeds[np.argmax(gone)]) if gone.any() else 400.0
        loss = rng.uniform(0.0, 0.1) * v["holding_torque"] / end
        at = np.linspace(0.03 * end, end, 12)
        sheet = {name: v[name] for name in ("holding_torque", "rated_current", "rated_current_is", "step_angle", "drag_torque")}
        sheet["phase_resistance"] = v["phase_resistance"] * (1 + 0.05 * rng.standard_normal())  # inductance: not said
        curve = printed("pull-out", volts, at, StepperCurve(*motor, peak, volts, v["drag_torque"], 1.0, loss)(at), rng)
        for times, share in ((2 / 3, 1.0), (1.5, 1.0), (1.5, 0.7)):
            found = axis_sheet("linear", "stepper").solve(
                **sheet, printed_curves=(curve,), supply_voltage=times * volts, voltage_drop=0.0, current_peak=share * peak)
            there = np.linspace(0, end * times, 50)
            true = StepperCurve(*motor, share * peak, times * volts, v["drag_torque"], 1.0, loss)(there)
            off.append(worst(found["torque_curve"](there), true))
            across = worst_share(true, found["torque_curve"](there) - true)
            held.append(across <= 2 * torque_doubt(found["printed_fit"], share * peak, times * volts))
    assert len(off) > 60 and float(np.quantile(off, 0.9)) < 0.05, np.quantile(off, [0.5, 0.9, 1.0])
    assert np.mean(held) > 0.9, "the doubt that is stated holds, at the worst of fifty speeds"


def test_servos_give_both_curves_back_at_another_voltage() -> None:
    rng, off, held = np.random.default_rng(4), [], []
    for part in (part for part in shipped_parts() if part.kind == "servo" and CURVES not in part.values):
        v, volts = part.values, part.values["rated_voltage"]
        half, sheet = 0.5, axis_sheet("linear", "servo")
        motor = (v["torque_constant_rms"] / math.sqrt(3), v["pole_pairs"], half * v["phase_resistance"],
                 half * v["phase_inductance"])

        def true(shows: str, at: float, v: Any = v, motor: Any = motor) -> WoundCurve:
            level, lost = (v["motor_peak_torque"], 0.04) if shows == "peak" else (v["rated_torque"], 0.12)
            return WoundCurve(ServoWinding(*motor, at / math.sqrt(2), None), level, lost * level / v["max_speed"])

        speeds = np.linspace(0.05, 1.3, 14) * v["max_speed"]
        curves = tuple(printed(shows, volts, speeds, true(shows, volts)(speeds), rng) for shows in ("peak", "continuous"))
        known = {name: v[name] for name in ("rated_torque", "motor_peak_torque", "torque_constant_rms", "phase_resistance",
                                            "winding_figures_are")}
        for times in (0.75, 1.2):
            found = sheet.solve(**known, printed_curves=curves, supply_voltage=times * volts, voltage_drop=0.0,
                                max_speed=2 * v["max_speed"])
            there = np.linspace(0, 1.2 * times * v["max_speed"], 50)
            across = []
            for shows, name in (("peak", "torque_curve"), ("continuous", "continuous_curve")):
                wanted = true(shows, times * volts)(there)
                off.append(worst(found[name](there), wanted))
                across.append(worst_share(wanted, found[name](there) - wanted))
            held.append(max(across) <= 2 * servo_doubt(found["printed_fit"], times * volts))
    assert len(off) > 100 and float(np.quantile(off, 0.9)) < 0.05, np.quantile(off, [0.5, 0.9, 1.0])
    assert np.mean(held) > 0.9


# What the sheet says of it

SPEEDS = np.linspace(5, 250, 12)
TRUE = StepperCurve(0.24, 50.0, 0.9, 3e-3, 3 * math.sqrt(2), 48.0, 0.03)
SHEET: dict[str, Any] = {"holding_torque": 1.15, "rated_current": 3.0, "rated_current_is": "rms", "step_angle": math.pi / 100,
                         "drag_torque": 0.03, "supply_voltage": 48.0, "voltage_drop": 0.0, "current_peak": 3 * math.sqrt(2)}
CURVE = PrintedCurve("pull-out", 48.0, in_order(list(zip(SPEEDS, TRUE(SPEEDS), strict=True))))
JAGGED = PrintedCurve("pull-out", 48.0, in_order(list(zip(SPEEDS, [1.0, 0.3, 0.9, 0.1, 0.8, 0.2] * 2, strict=True))))


def solved(*curves: PrintedCurve, **more: Any) -> Solution:
    return axis_sheet("linear", "stepper").solve(**{**SHEET, "printed_curves": curves or (CURVE,), **more})


def said(solution: Solution) -> str:
    return next(one.sentence for one in solution.verdicts() if one.check == "printed curve")


def test_what_contradicts_the_figures_is_named() -> None:
    assert "asks for 2.9" in said(solved(phase_resistance=0.9, phase_inductance=6e-3)) and "figures say 6 mH" in said(
        solved(phase_resistance=0.9, phase_inductance=6e-3))
    as_peak = replace(CURVE, printed_current=3 / math.sqrt(2))
    assert "1.25 times that of the holding torque" in said(solved(as_peak, phase_resistance=0.9)) and "1.41" in said(
        solved(as_peak, phase_resistance=0.9))
    assert "1.03 mH" in said(solved(phase_resistance=0.9, phase_inductance=1.03e-3))
    assert "fits a winding within" in said(solved(phase_resistance=0.9, phase_inductance=3e-3)), "and no more where all is well"


def test_a_curve_that_fits_no_winding_holds_at_its_own_setting_only() -> None:
    bad = solved(JAGGED, phase_resistance=0.9, phase_inductance=3e-3)
    assert np.allclose(bad["torque_curve"](SPEEDS), JAGGED.torques) and bad["torque_curve"](np.array([300.0]))[0] == 0
    assert "is used as it is printed, at 48 V and 4.24 A peak only" in said(bad)
    for more, why in (({"supply_voltage": 36.0}, "holds at 48 V only"), ({"current_peak": 3.0}, "holds at 4.24 A peak only")):
        with pytest.raises(NotKnown, match=why):
            bad.changed(**more)["torque_curve"]
    assert bad.find("corner_speed").missing == ("printed_curves",), "what cannot be known leads to the curve"
    assert np.isnan(bad.changed(supply_voltage=np.array([[36.0], [48.0]]))["torque_curve"](SPEEDS)).any(axis=-1).tolist() == [
        [True], [False]], "a search over supplies gets a number where it holds"


def test_another_wiring_follows_from_the_curve_of_one() -> None:
    """Printed in parallel, used in series: half the rated current, twice the torque an ampere, four times the inductance."""
    given = {"phase_resistance": 0.9, "figures_for": "parallel"}
    one, other = solved(**given, wiring="parallel")["running_winding"], solved(**given, wiring="series")["running_winding"]
    assert other.torque_constant == pytest.approx(2 * one.torque_constant) and other.inductance == pytest.approx(4 * one.inductance)


def test_a_search_finds_motors_by_their_curves_and_each_is_what_the_axis_would_be_with_it_taken() -> None:
    motors = tuple(part for part in shipped_parts() if part.kind == "stepper" and CURVES in part.values)
    project, index, found = found_on("X", motors=motors, reductions=())
    assert found.accepted.any() and len(motors) >= 9
    for place in np.argwhere(found.rejected_by < 99)[::3]:
        taken = with_candidate(project, index, "stepper", found, candidate(found, tuple(place)))
        alone = solve_axis(taken, taken.axes[index])
        assert alone["working_margin"] == pytest.approx(found.figures["working_margin"][tuple(place)], rel=1e-3), place


def test_a_spread_refits_each_build() -> None:
    """Of builds whose resistance differs, each has the winding that one alone would have."""
    builds = solved(phase_resistance=np.array([0.8, 0.9, 1.0]))["running_winding"]
    alone = [solved(phase_resistance=ohms)["running_winding"].inductance for ohms in (0.8, 0.9, 1.0)]
    assert np.allclose(builds.inductance, alone, rtol=1e-3) and np.ptp(alone) > 0


# Bad input

@pytest.mark.parametrize(("points", "why"), [
    ([(0, 1), (10, 1), (20, 1.2), (30, 1.5)], "rises up to its end, from 1 to 1.5 N·m"),
    ([(0, 1), (10, 1), (10, 0.9), (30, 0.5)], "two points stand at 95.5 rpm, with 0.9 and 1 N·m"),
    ([(0, 1), (10, 1), (20, 0.9)], "has 3 points; 4 at least"), ([], "has 0 points"),
    ([(0, 1), (10, -1), (20, 0.9), (30, 0.5)], "-1 N·m; allowed are numbers from 0 on"),
    ([(0, 0), (10, 0), (20, 0), (30, 0)], "every point stands at no torque")])
def test_what_is_no_curve_of_a_motor_is_said(points: Any, why: str) -> None:
    with pytest.raises(BadValue) as fault:
        in_order(points)
    assert why in str(fault.value)


def test_marks_that_set_no_scale_are_said() -> None:
    up = AxisMarks("torque", (100, 500), (100, 100), 0.0, 2.0)
    for marks, why in ((("speed", (100, 500), (102, 501), 0.0, 1500.0), "lie on one another"),
                       (("speed", (100, 500), (800, 500), 300.0, 300.0), "both points on the speed axis are said to be 300"),
                       (("speed", (100, 500), (110, 90), 0.0, 1500.0), "lie on one line"),
                       (("speed", (100, 500), (800, 500), 0.0, 1500.0, True), "a logarithmic speed axis has no 0")):
        with pytest.raises(BadValue) as fault:
            picture_scale(AxisMarks(*marks), up)
        assert why in str(fault.value)
    log = picture_scale(AxisMarks("speed", (100, 500), (800, 500), 10.0, 1000.0, True), up)
    assert log.at((450, 300)) == pytest.approx((100.0, 1.0)) and log.place_of(100.0, 1.0) == pytest.approx((450, 300))


def test_points_as_text_in_the_ways_people_have_them(tmp_path: Path) -> None:
    wanted = [(300 * RPM, 1.15), (600 * RPM, 0.9)]
    for text in ("300 1.15\n600 0.9", "300\t1,15\n\n600\t0,9", "300;1,15\n600;0,9", "300, 1.15\n600,0.9",
                 "speed [rpm],torque [N·cm]\n300,115\n600,90"):
        assert np.allclose(points_in(text, RPM, 1.0), wanted), text
    for text, why in (("300 1.15 7", "line 1: '300 1.15 7' is no point"), ("300 1\nx y", "line 2: 'x y' holds no two numbers")):
        with pytest.raises(BadValue) as fault:
            points_in(text, RPM, 1.0)
        assert why in str(fault.value)
    (tmp_path / "empty.csv").write_text("\n")
    with pytest.raises(BadFile, match="empty.csv: the file holds no points"):
        read_curve(tmp_path / "empty.csv")


# The clicking

END, HIGH = 1500.0, 1.5


def drawn_scan(path: Path, tilt: float = 2.5) -> QTransform:
    """A scan as a sheet prints it, lying askew, saved to a file; and from speed [rpm] and torque [N·m] to its pixels."""
    image = QImage(900, 640, QImage.Format.Format_RGB32)
    image.fill(QColor("#f4f1ea"))
    page = QTransform()
    page.translate(110, 530)
    page.rotate(tilt)
    page.scale(700 / END, -430 / HIGH)
    with QPainter(image) as painter:
        painter.setPen(QPen(QColor("#222"), 3))
        for one, other in (((0, 0), (END, 0)), ((0, 0), (0, HIGH))):
            painter.drawLine(page.map(QPointF(*one)), page.map(QPointF(*other)))
        rpm = np.linspace(0, END, 200)
        places = [page.map(QPointF(x, y)) for x, y in zip(rpm.tolist(), TRUE(rpm * RPM).tolist(), strict=True)]
        painter.drawPolyline(places)
    image.save(str(path))
    return page


def opened(window: Window, qtbot: Any) -> tuple[MotorStage, PrintedCurves]:
    window.show_stage("Motor")
    stage = window.stage
    assert isinstance(stage, MotorStage)
    qtbot.mouseClick(stage.printed, Qt.MouseButton.LeftButton)
    return stage, next(one for one in stage.findChildren(PrintedCurves) if one.isVisible())


def test_a_drawn_scan_is_clicked_and_its_winding_found(window: Window, qtbot: Any, tmp_path: Path) -> None:
    stage, form = opened(window, qtbot)
    page = drawn_scan(tmp_path / "scan.png")
    (tmp_path / "none.png").write_bytes(b"no picture at all")
    form.take_picture(tmp_path / "none.png")
    qtbot.waitUntil(lambda: "this is no picture that can be read" in form.fault.text())
    form.take_picture(tmp_path / "scan.png")
    qtbot.waitUntil(lambda: not form.panel.scan.picture.isNull())

    def click(rpm: float, torque: float) -> None:
        place = page.map(QPointF(rpm, torque))
        qtbot.mouseClick(form.panel.scan, Qt.MouseButton.LeftButton, pos=form.panel.scan.place_of(place.x(), place.y()).toPoint())

    for number, (rpm, torque, text) in enumerate(((0, 0, "0"), (END, 0, "1500"), (0, 0, "0"), (0, HIGH, "1.5"))):
        assert form.panel.marks.checkedId() == number and ("speed" if number < 2 else "torque") in form.panel.what.text()
        click(rpm, torque)
        qtbot.keyClicks(form.panel.values[number], text)
    for rpm in (60, 200, 300, 400, 520, 650, 800, 1000, 1250, 1450):
        click(rpm, float(TRUE(np.array([rpm * RPM]))[0]))
    form.accept()
    assert "type the supply for which the curve is printed" in form.fault.text() and form.isVisible()
    qtbot.keyClicks(form.volts, "48")
    qtbot.keyClicks(form.amperes, "3")
    assert len(form.panel.scan.points) == 10 and "fits a winding within" in form.said.text()
    form.points.setPlainText(form.points.toPlainText() + "\n1450 0.2")
    assert not form.said.text(), "two speeds alike: said on the chart, and nothing is fitted"
    form.points.undo()
    form.points.setPlainText("\n".join(form.points.toPlainText().splitlines()[:10]))
    form.accept()
    settle(window.session)
    fit = window.session.solution["printed_fit"]
    assert fit.fits and fit.winding().torque_constant == pytest.approx(0.24 * 4.2 / 3.0 * 3.0 / 4.2, rel=0.03)
    assert fit.winding().inductance == pytest.approx(3e-3, rel=0.06)
    picture = window.session.axis.motor.printed_curves[0].picture
    assert window.session.saving.file.attachment(picture), "the picture is kept"
    _, again = opened(window, qtbot)
    assert not again.panel.scan.picture.isNull() and again.volts.text() == "48"
    assert len(again.points.toPlainText().splitlines()) == 10
    again.reject()
    window.session.undo_stack.undo()
    assert window.session.axis.motor.printed_curves is None
    type_in(qtbot, stage.field("phase_resistance"), "")
    assert window.session.solution.find("torque_curve").missing == ("phase_resistance",)


def test_a_motor_with_nothing_but_a_curve_is_typed_kept_and_brought_into_another_project(
    window: Window, qtbot: Any, tmp_path: Path, shelf: Path
) -> None:
    window.show_stage("Motor")
    stage = window.stage
    assert isinstance(stage, MotorStage)
    qtbot.mouseClick(stage.sheet, Qt.MouseButton.LeftButton)
    sheet = next(one for one in stage.findChildren(DataSheet) if one.isVisible())
    sheet.name.setText("curve only")
    for name, text in (("holding_torque", "1.15"), ("rated_current", "3"), ("rotor_inertia", "300"), ("step_angle", "1.8")):
        sheet.lines[name].setText(text)
    sheet.rating.buttons()[0].setChecked(True)
    sheet.leads.buttons()[0].setChecked(True)
    sheet.keep.setChecked(True)
    sheet.accept()
    assert "phase_resistance is not given; a stepper needs" in sheet.fault.text() and "or printed_curves" in sheet.fault.text()
    qtbot.mouseClick(sheet.printed, Qt.MouseButton.LeftButton)
    form = next(one for one in sheet.findChildren(PrintedCurves) if one.isVisible())
    drawn_scan(tmp_path / "scan.png")
    form.take_picture(tmp_path / "scan.png")
    qtbot.waitUntil(lambda: not form.panel.scan.picture.isNull())
    (tmp_path / "points.csv").write_text("speed [rpm],torque [N·cm]\n" + "\n".join(
        f"{speed / RPM:.1f},{100 * torque:.2f}" for speed, torque in CURVE.points))
    form.take_csv(tmp_path / "points.csv")
    form.volts.setText("48")
    form.look()
    form.accept()
    assert sheet.printed.text() == "Its printed curve ✓"
    sheet.accept()
    session = window.session
    assert session.axis.motor.name == "curve only" and session.solution.get("working_margin") is not None
    assert session.solution.get("copper_loss") is None, "heat asks for the resistance itself"
    kept = next(part for part in library.own_parts().parts if part.name == "curve only")
    picture = kept.values[CURVES][0]["picture"]
    assert kept_picture(picture) == session.saving.file.attachment(picture)
    other = Window(Session(session.saving.file.__class__.create(tmp_path / "other.mule", session.project)))
    qtbot.addWidget(other)
    other.show()
    other.show_stage("Motor")
    assert isinstance(other.stage, MotorStage) and other.session.saving.file.attachment(picture) is None
    other.stage.pick()
    dialog = next(one for one in other.stage.findChildren(QPushButton) if one.text() == "Take it").window()
    dialog.filter.setText("curve only")  # type: ignore[attr-defined]
    dialog.accept()  # type: ignore[attr-defined]
    settle(other.session)
    assert other.session.saving.file.attachment(picture) == kept_picture(picture), "its picture came along"
