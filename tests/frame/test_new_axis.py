"""The first dialog: each number in the unit that stands beside it, what is far off is asked about once, usual values are marked."""

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
from urban_mule.store.beginning import KINDS_OF_AXIS
from urban_mule.store.file.project_file import ProjectFile


@pytest.fixture
def window(tmp_path: Path, qtbot: Any) -> Window:
    application()
    found = Window(Session(ProjectFile.create(tmp_path / "new.mule", blank_project("Lantern rail"))), "Brief")
    qtbot.addWidget(found)
    found.show()
    return found


def asked(window: Window, **texts: str) -> NewAxis:
    """The dialog with these typed."""
    dialog = NewAxis(window.session, window)
    for name, text in texts.items():
        getattr(dialog, name).line.setText(text)
    return dialog


@pytest.mark.every_axis
@pytest.mark.parametrize(("system", "unit_names", "expected"), [
    ("metric", ("mm", "m/s", "m/s²"), (0.4, 0.5, 2.0)),
    ("inch", ("in", "in/min", "in/s²"), (400 * 0.0254, 0.5 * 0.0254 / 60, 2 * 0.0254))])
def test_a_number_without_a_unit_is_read_in_the_one_beside_it(
        window: Window, system: str, unit_names: tuple[str, ...], expected: tuple[float, ...]) -> None:
    window.session.edit(("unit_system",), system)
    dialog = asked(window, travel="400", speed="0.5", acceleration="2")
    assert tuple(one.unit_label.text() for one in (dialog.travel, dialog.speed, dialog.acceleration)) == unit_names
    dialog.go_on()
    assert dialog.sizes["lead"].unit_label.text() == unit_names[0]
    dialog.go_on()
    axis = window.session.axis
    assert (axis.travel, axis.speed_wanted, axis.acceleration_wanted) == pytest.approx(expected)
    assert [one.name for one in window.session.project.axes] == ["X"], "the blank axis is made, not a second one"


@pytest.mark.every_axis
def test_two_hundred_metres_a_second_are_asked_about_once_and_kept_if_meant(window: Window) -> None:
    dialog = asked(window, travel="300", speed="200")
    dialog.go_on()
    assert "200 m/s is far beyond" in dialog.fault.text() and dialog.meant.text() == "Take 200 mm/s"
    assert dialog.pages.currentIndex() == 0 and window.session.axis.travel is None
    dialog.meant.click()
    dialog.go_on()
    dialog.go_on()
    assert window.session.axis.speed_wanted == pytest.approx(0.2)
    again = asked(window, name="M", speed="200")
    for _ in range(3):
        again.go_on()
    assert window.session.axis.name == "M" and window.session.axis.speed_wanted == 200.0, "asked once, then kept"
    assert [one.name for one in window.session.project.axes] == ["X", "M"], "there is an axis already: a further one"


def test_what_the_blank_axis_says_already_is_not_asked_again(window: Window) -> None:
    window.session.edit(window.session.axis_path("moving_mass"), 6.0)
    window.session.edit(window.session.axis_path("accuracy_wanted"), 5e-5)
    dialog = asked(window, travel="300")
    assert dialog.mass.line.text() == "6"
    dialog.go_on()
    dialog.go_on()
    axis = window.session.axis
    assert (axis.moving_mass, axis.accuracy_wanted, axis.travel) == (6.0, 5e-5, 0.3)
    window.session.undo_stack.undo()
    assert not window.session.axis.train, "one step"


@pytest.mark.parametrize("number", range(len(KINDS_OF_AXIS)))
def test_every_kind_asks_what_makes_its_train_whole_and_marks_what_it_assumes(window: Window, number: int) -> None:
    dialog = asked(window, mass="2", travel="1", speed="0.1", acceleration="1")
    dialog.kind_group.buttons()[number].setChecked(True)
    kind = dialog.kind
    dialog.go_on()
    typed = {"lead": "10", "diameter": "16", "length": "600", "pitch": "3", "teeth": "20", "module": "2", "ratio": "10"}
    if kind.sizes:
        assert window.session.axis.train == () and tuple(dialog.sizes) == kind.link.whole
        for name, line in dialog.sizes.items():
            line.line.setText(typed[name])
        dialog.go_on()
    axis, solution = window.session.axis, window.session.solution
    assert tuple(link.kind for link in axis.train) == kind.links and axis.motion == kind.motion
    assert all(solution.get(name) is not None for name in ("peak_load", "train_inertia", "travel_per_radian")), kind.words
    usual = {(part, name) for part, holder in (("train", axis.train[0]), ("", axis)) for name in holder.usual or ()}
    assert usual == {(one.part, one.given.name) for one, _ in dialog.usual}
    verdict = next((v for v in window.session.verdicts("Load") if v.check == "assumptions"), None)
    if usual:
        ideal = kind.motion == "rotary" or kind.words == "feed roller"  # friction of bearings, slip of a roller: none is usual
        assert verdict is not None and verdict.level == ("tight" if ideal else "good"), verdict
    for name in ("efficiency", "end_support"):
        if ("train", name) in usual:
            assert f"train[0].{name}" in solution["assumed"]


def test_enter_takes_and_escape_leaves(window: Window, qtbot: Any) -> None:
    """In any field of the first dialog, of a data sheet and of the library; what is wrong keeps the dialog with all its answers."""
    dialog = asked(window, travel="far")
    dialog.show()
    qtbot.keyClick(dialog.travel.line, Qt.Key.Key_Return)
    assert dialog.isVisible() and "far" in dialog.fault.text()
    dialog.travel.line.setText("400")
    qtbot.keyClick(dialog.travel.line, Qt.Key.Key_Return)
    dialog.sizes["lead"].line.setText("-3")
    qtbot.keyClick(dialog.sizes["lead"].line, Qt.Key.Key_Return)
    assert dialog.isVisible() and dialog.fault.text() == "Lead: -3 is outside what is allowed: above 0 mm."
    dialog.sizes["lead"].line.setText("5")
    qtbot.keyClick(dialog.sizes["lead"].line, Qt.Key.Key_Return)
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
    again = asked(window)
    again.show()
    qtbot.keyClick(again.name.line, Qt.Key.Key_Escape)
    assert not again.isVisible()
