"""A drive that turns a tool in the window: its plate and stages, a round of commands that outlives the process, its tag."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication
from tests.driving import leaf_of, set_all, shown, type_in
from tests.store.machine import SMALL

from urban_mule.core.sheet.given import BadValue
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.stages.spindle.command import planned
from urban_mule.store.document.edit import edited
from urban_mule.store.file.project_file import ProjectFile


def test_a_spindle_is_added_typed_judged_and_taken_away(tmp_path: Path, qtbot: Any) -> None:
    path = tmp_path / "machine.mule"
    ProjectFile.create(path, edited(SMALL, ("spindles",), None)).close()
    window = Window(Session(ProjectFile.open(path)))
    qtbot.addWidget(window)
    window.show()
    window.add_spindle()
    assert window.trail.stage == "Load" and window.plates.spindles[0].here and window.session.project.spindles[0].name == "S"
    window.show_stage("Motor")
    for name, text in (("rated_power", "400"), ("rated_torque", "1.27"), ("max_speed", "6000"), ("peak_torque", "2.9"),
                       ("rotor_inertia", "0.58"), ("rated_voltage", "230")):
        type_in(qtbot, window.stage.show_field(name), text)
    assert shown(window, "spindle_speed_limit") == "6000 rpm"
    window.show_stage("Load")
    for name, text in (("specific_energy", "11"), ("removal_rate", "21"), ("cut_speed", "3000"), ("highest_speed", "7000"),
                       ("inertia", "9.5")):
        type_in(qtbot, window.stage.show_field(name), text)
    assert shown(window, "cutting_power") == "231 W" and shown(window, "cutting_torque") == "0.735 N·m"
    window.stage.open_working("cutting_torque")
    assert window.stage.slip.isVisible() and window.stage.slip.path == ["cutting_torque"]
    window.stage.slip.jump.emit("rated_power")
    assert window.trail.stage == "Motor" and window.focusWidget() is window.stage.field("rated_power").editor
    assert "wanted" in window.stage.headline.text() and window.stage.verdicts_here()[0].level == "good"
    window.stage.leaves.picture.bring_up_to_date()
    window.show_stage("Brief")
    assert window.spindles.scope is None and not window.plates.spindles[0].here, "the Brief is that of the axis"
    window.show_spindle(0)
    window.show_stage("Load")
    window.files.copy_results()
    clipboard = QApplication.clipboard()
    assert clipboard is not None and "cutting_power,231" in clipboard.text()
    window.duplicate_axis()
    assert window.spindles.scope is None and window.tag.letter.text() == window.session.axis.name, "the new axis is shown"
    window.session.undo_stack.undo()
    window.show_spindle(0)
    window.other_units()
    assert window.spindles.scope is not None and "in" not in shown(window, "cutting_power").split()
    window.other_units()
    window.remove_axis()
    assert not window.session.project.spindles and window.spindles.scope is None and window.plates.spindles == []
    window.session.undo_stack.undo()
    assert len(window.plates.spindles) == 1
    window.step_axis(1)
    assert window.spindles.index == 0
    window.step_axis(-1)
    assert window.spindles.index is None
    window.close()


def test_the_round_of_commands_asks_step_by_step_and_goes_on_in_another_process(demo_copy: Path, qtbot: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Brief", "goals")
    window.show_spindle(0)
    window.show_stage("Proof")
    picture = window.stage.leaves.picture
    picture.plan.setText("0 to 8 V in 5")
    picture.begin.click()
    assert "Command 0 V" in picture.step.text() and "1 of 5" in picture.step.text()

    def read(text: str) -> None:
        picture.reading.setText(text)
        qtbot.keyClick(picture.reading, Qt.Key.Key_Return)

    read("0")
    read("1800")
    read("fast")
    assert "number" in picture.said.text() and "3 of 5" in picture.step.text()
    read("36000")
    assert "The others lead to about 3600" in picture.said.text() and "3 of 5" in picture.step.text()
    window.close()
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.show()
    window.show_spindle(0)
    window.show_stage("Proof")
    picture = window.stage.leaves.picture
    picture.bring_up_to_date()
    assert "Command 4 V" in picture.step.text() and "3 of 5" in picture.step.text(), "nothing that was read is lost"
    for text in ("3600", "5400"):
        read(text)
    read("5300")
    assert "not faster" in picture.said.text()
    read("5300")
    assert "One step back" in picture.said.text(), "the table must rise"
    picture.back.click()
    for text in ("5450", "7200"):
        read(text)
    table = window.session.project.spindles[0].speed_table
    assert table.command.tolist() == [0, 2, 4, 6, 8] and window.session.project.spindles[0].command_round is None
    assert shown(window, "command_residual").endswith("%") and "Measured the command" in window.session.entries()[-1].text
    set_all(window)
    assert not any(row.differs for row in window.tag.rows) and window.tag.letter.text() == "S"
    assert window.spindles.scope.state.stored["speed_table"].value == "0 V for 0 rpm; 8 V for 7200 rpm"
    window.show_axis(0)
    assert window.tag.letter.text() == "X"
    window.close()


def test_a_plan_of_commands_rises_or_is_refused() -> None:
    assert planned("-5 to 5 V in 3") == [-5, 0, 5]
    for wrong in ("", "5", "10 to 0 V in 6", "0 to 10 V in 1", "0 to 10 V in 4000", "0 to 1e9 V in 5"):
        with pytest.raises(BadValue, match="0 to 10 V in 6"):
            planned(wrong)


def test_no_round_turns_a_tool_faster_than_it_may(demo_copy: Path, qtbot: Any) -> None:
    """Without its highest speed none begins and the way leads there; no large first step, none that would pass it."""
    window, _ = leaf_of(demo_copy, qtbot, "Brief", "goals")
    session = window.session
    highest = session.project.spindles[0].speeds.highest
    session.edit(("spindles", 0, "speeds", "highest"), None)
    window.show_spindle(0)
    window.show_stage("Proof")
    picture = window.stage.leaves.picture
    picture.bring_up_to_date()
    assert not picture.begin.isEnabled() and picture.lacks.isVisible()
    picture.lacks.click()
    assert window.stage.spec.name == "Load" and window.focusWidget() is window.stage.field("highest_speed").editor
    session.edit(("spindles", 0, "speeds", "highest"), highest)
    window.show_stage("Proof")
    picture = window.stage.leaves.picture
    picture.plan.setText("0 to 12 V in 3")
    picture.begin.click()
    assert "first step goes to 6 V at once" in picture.said.text() and session.project.spindles[0].command_round is None
    picture.plan.setText("0 to 12 V in 7")
    picture.begin.click()
    for text in ("0", "1800", "3600", "5400", "7200", "9000"):
        assert "12 V" not in picture.step.text()
        picture.reading.setText(text)
        qtbot.keyClick(picture.reading, Qt.Key.Key_Return)
    assert "beyond the highest speed of 9000" in picture.said.text(), "12 V, carried on, lead to 10,800 a minute"
    assert session.project.spindles[0].speed_table.command.tolist() == [0, 2, 4, 6, 8, 10]
    window.close()
