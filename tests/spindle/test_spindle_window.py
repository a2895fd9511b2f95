"""A drive that turns a tool in the window: its plate and stages, a round of commands that outlives the process, its tag."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication
from tests.driving import leaf_of, set_all, shown, type_in
from tests.store.machine import SMALL

from urban_mule.bench.sessions.by_command import planned
from urban_mule.core.sheet.given import BadValue
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.store.document.edit import edited
from urban_mule.store.file.project_file import ProjectFile


def test_a_spindle_is_added_typed_judged_and_taken_away(tmp_path: Path, qtbot: Any) -> None:
    path = tmp_path / "machine.mule"
    ProjectFile.create(path, edited(SMALL, ("spindles",), None)).close()
    window = Window(Session(ProjectFile.open(path)))
    qtbot.addWidget(window)
    window.show()
    window.add_spindle()
    assert window.trail.stage == "Load" and window.plates.others[0].here and window.session.project.spindles[0].name == "S"
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
    assert window.others.scope is None and not window.plates.others[0].here, "the Brief is that of the axis"
    window.show_other(0)
    window.show_stage("Load")
    window.files.copy_results()
    clipboard = QApplication.clipboard()
    assert clipboard is not None and "cutting_power,231" in clipboard.text()
    window.duplicate_axis()
    assert window.others.scope is None and window.tag.letter.text() == window.session.axis.name, "the new axis is shown"
    window.session.undo_stack.undo()
    window.show_other(0)
    window.other_units()
    assert window.others.scope is not None and "in" not in shown(window, "cutting_power").split()
    window.other_units()
    window.remove_axis()
    assert not window.session.project.spindles and window.others.scope is None and window.plates.others == []
    window.session.undo_stack.undo()
    assert len(window.plates.others) == 1
    window.step_axis(1)
    assert window.others.index == 0
    window.step_axis(-1)
    assert window.others.index is None
    window.close()


@pytest.mark.every_axis
def test_the_round_of_commands_asks_step_by_step_and_goes_on_in_another_process(demo_copy: Path, qtbot: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Brief", "goals")
    window.show_other(0)
    window.show_stage("Proof")
    window.stage.open_round("command")
    window.stage.round.plan.fields["voltages"].setText("0 to 8 V in 5")
    window.stage.round.plan.start.click()

    def stands(*words: str) -> bool:
        round_ = window.stage.round
        return all(word in f"{round_.instruction.text()} {round_.count.text()} {round_.question.text()}" for word in words)

    def read(text: str) -> None:
        window.stage.round.editor.setText(text)
        qtbot.keyClick(window.stage.round.editor, Qt.Key.Key_Return)

    assert stands("Command 0 V", "1 of 5") and "guard shut" in window.stage.round.caution.text()
    read("0")
    read("1800")
    read("fast")
    assert stands("number", "3 of 5")
    read("-5")
    assert stands("a speed below nothing", "3 of 5")
    read("36000")
    assert stands("the others lead to about 3600", "3 of 5")
    window.close()
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.show()
    window.show_other(0)
    window.show_stage("Proof")
    button = window.stage.measure.rounds["command"]
    assert button.text() == "Go on: speed table, 2 taken", "nothing that was read is lost"
    former = window.session.project.spindles[0].speed_table
    button.click()
    assert stands("Command 4 V", "3 of 5")
    window.session.edit(("spindles", 0, "name"), "Disc")
    for text in ("3600", "5400"):
        read(text)
    read("5300")
    assert stands("not faster than the step before")
    read("5300")
    assert stands("It cannot end here", "One back"), "the table must rise"
    window.stage.round.back()
    read("7200")
    table = window.session.project.spindles[0].speed_table
    assert table.command.tolist() == [0, 2, 4, 6, 8] and not window.session.rounds and window.stage.round is None
    assert shown(window, "command_residual").endswith("%") and "Measured the command" in window.session.entries()[-1].text
    assert window.session.entries()[-1].subject == window.session.project.spindles[0].id
    set_all(window)
    assert not any(row.differs for row in window.tag.rows) and window.tag.letter.text() == "Disc"
    assert window.others.scope.state.stored["speed_table"].value == "0 V for 0 rpm; 8 V for 7200 rpm"
    window.session.undo_stack.undo()
    window.session.undo_stack.undo()
    assert window.session.project.spindles[0].speed_table is former, "as any reading it can be undone"
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
    session, told = window.session, list[str]()
    session.told.connect(told.append)
    highest = session.project.spindles[0].speeds.highest
    session.edit(("spindles", 0, "speeds", "highest"), None)
    window.show_other(0)
    window.show_stage("Proof")
    window.stage.open_round("command")
    plan = window.stage.round.plan
    assert not plan.start.isEnabled() and plan.lacks.isVisible() and "How fast may the tool turn" in plan.fault.text()
    plan.lacks.click()
    assert window.stage.spec.name == "Load" and window.focusWidget() is window.stage.field("highest_speed").editor
    session.edit(("spindles", 0, "speeds", "highest"), highest)
    window.show_stage("Proof")
    window.stage.open_round("command")
    plan = window.stage.round.plan
    plan.fields["voltages"].clear()
    qtbot.keyClicks(plan.fields["voltages"], "0 to 12 V in 3")
    assert "first step goes to 6 V at once" in plan.fault.text() and not plan.start.isEnabled()
    plan.fields["voltages"].clear()
    qtbot.keyClicks(plan.fields["voltages"], "0 to 12 V in 7")
    plan.start.click()
    for text in ("0", "1800", "3600", "5400", "7200", "9000"):
        assert "12 V" not in window.stage.round.instruction.text()
        window.stage.round.editor.setText(text)
        qtbot.keyClick(window.stage.round.editor, Qt.Key.Key_Return)
    assert "beyond the highest speed of 9000" in told[-1], "12 V, carried on, lead to 10,800 a minute"
    assert session.project.spindles[0].speed_table.command.tolist() == [0, 2, 4, 6, 8, 10]
    window.close()
