"""The first dialog: each number in the unit that stands beside it, and what is far off is asked about once."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt

from urban_mule.desk.app import application, blank_project
from urban_mule.desk.frame.new_axis import NewAxis
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.shared.pick_part import pick_motor
from urban_mule.desk.stages.motor.data_sheet import DataSheet
from urban_mule.store.file.project_file import ProjectFile


@pytest.fixture
def window(tmp_path: Path, qtbot: Any) -> Window:
    application()
    found = Window(Session(ProjectFile.create(tmp_path / "new.mule", blank_project("Lantern rail"))), "Brief")
    qtbot.addWidget(found)
    found.show()
    return found


@pytest.mark.parametrize(("system", "labels", "expected"), [
    ("metric", ("travel, mm", "speed, m/s", "acceleration, m/s²"), (0.4, 0.5, 2.0)),
    ("inch", ("travel, in", "speed, in/min", "acceleration, in/s²"), (400 * 0.0254, 0.5 * 0.0254 / 60, 2 * 0.0254))])
def test_a_number_without_a_unit_is_read_in_the_one_beside_it(
        window: Window, system: str, labels: tuple[str, ...], expected: tuple[float, ...]) -> None:
    window.session.edit(("unit_system",), system)
    dialog = NewAxis(window.session, window)
    dialog.name.setText("L")
    assert tuple(label.text() for label in dialog.fast_labels) == labels
    assert dialog.size_labels[0].text() == f"lead, {'mm' if system == 'metric' else 'in'}"
    for line, text in ((dialog.travel, "400"), (dialog.speed, "0.5"), (dialog.acceleration, "2")):
        line.setText(text)
    dialog.accept()
    axis = window.session.axis
    assert (axis.travel, axis.speed_wanted, axis.acceleration_wanted) == pytest.approx(expected)


def test_two_hundred_metres_a_second_are_asked_about_once_and_kept_if_meant(window: Window) -> None:
    dialog = NewAxis(window.session, window)
    dialog.name.setText("L")
    dialog.speed.setText("200")
    dialog.accept()
    assert "200 m/s is far beyond" in dialog.fault.text() and "200 mm/s" in dialog.fault.text()
    assert all(axis.name != "L" for axis in window.session.project.axes)
    dialog.speed.setText("200 mm/s")
    dialog.accept()
    assert window.session.axis.speed_wanted == pytest.approx(0.2)
    again = NewAxis(window.session, window)
    again.name.setText("M")
    again.speed.setText("200")
    again.accept()
    again.accept()
    assert window.session.axis.name == "M" and window.session.axis.speed_wanted == 200.0, "asked once, then kept"


def test_enter_takes_and_escape_leaves(window: Window, qtbot: Any) -> None:
    """In any field of the first dialog, of a data sheet and of the library; what is wrong keeps the dialog with all its answers."""
    dialog = NewAxis(window.session, window)
    dialog.show()
    dialog.name.setText("L")
    dialog.travel.setText("far")
    qtbot.keyClick(dialog.travel, Qt.Key.Key_Return)
    assert dialog.isVisible() and "far" in dialog.fault.text()
    dialog.travel.setText("400")
    qtbot.keyClick(dialog.travel, Qt.Key.Key_Return)
    assert not dialog.isVisible() and window.session.axis.travel == 0.4
    window.show_stage("Motor")
    sheet = DataSheet(window.session, window)
    sheet.show()
    sheet.name.setText("mine")
    sheet.rating.buttons()[0].setChecked(True)
    sheet.leads.buttons()[0].setChecked(True)
    sheet.lines["holding_torque"].setText("1.2")
    qtbot.keyClick(sheet.lines["holding_torque"], Qt.Key.Key_Return)
    assert sheet.isVisible() and "rated_current is not given" in sheet.fault.text()
    for name, text in (("rated_current", "2.8"), ("phase_resistance", "0.9"), ("phase_inductance", "2.5"), ("rotor_inertia", "280"),
                       ("step_angle", "1.8")):
        sheet.lines[name].setText(text)
    qtbot.keyClick(sheet.lines["step_angle"], Qt.Key.Key_Return)
    assert window.session.axis.motor.holding_torque == pytest.approx(1.2)
    pick = pick_motor(window.session, "stepper", window)
    assert pick is not None
    pick.show()
    pick.filter.setText("57 mm")
    qtbot.keyClick(pick.filter, Qt.Key.Key_Return)
    assert "57 mm" in window.session.axis.motor.name
    again = NewAxis(window.session, window)
    again.show()
    qtbot.keyClick(again.name, Qt.Key.Key_Escape)
    assert not again.isVisible()
