"""What was done by mistake beside the document: undone, struck out with a reason, gone back to; and where the keys go after."""

from __future__ import annotations

from contextlib import closing
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QMessageBox
from tests.driving import set_all, type_in

from urban_mule.core.sheet.given import BadValue
from urban_mule.desk.frame.new_axis import NewAxis
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.booked import one_step
from urban_mule.desk.shared.pick_part import PickPart
from urban_mule.store.file.project_file import ProjectFile, Where
from urban_mule.store.listing import Listed


def in_the_file(window: Window) -> tuple[list[str], dict[str, Any]]:
    """The texts of the log, and what is on the hardware of the shown axis, as another opening reads them."""
    with closing(ProjectFile.open(window.session.path)) as file:
        applied = file.applied().get(Where(window.session.axis.id), {})
        return [one.text for one in file.entries()], {name: one.value for name, one in applied.items()}


def leaf(window: Window, word: str) -> Any:
    window.stage.leaves.turn(word)
    window.stage.picture.bring_up_to_date()
    return window.stage.picture


def test_setting_it_is_undone_and_done_again(window: Window, qtbot: Any) -> None:
    before = in_the_file(window)
    assert before == ([one.text for one in window.session.entries()],
                      {k: v.value for k, v in window.session.hardware.values().items()})
    set_all(window)
    after = in_the_file(window)
    assert after != before and len(after[0]) > len(before[0])
    window.session.undo_stack.undo()
    assert in_the_file(window) == before
    assert {k: v.value for k, v in window.session.hardware.values().items()} == before[1]
    window.session.undo_stack.redo()
    assert in_the_file(window) == after


@pytest.mark.every_axis
def test_done_by_mistake_a_note_and_the_name_of_a_revision_are_undone(window: Window, qtbot: Any) -> None:
    window.show_stage("Log")
    before = in_the_file(window)[0]
    due = leaf(window, "due")
    late = due.says()
    due._done("Z: try the brake", "")
    assert leaf(window, "due").says() != late
    window.stage.line.setText("the cover rattles")
    qtbot.keyClick(window.stage.line, Qt.Key.Key_Return)
    revisions = leaf(window, "revisions")
    revisions.listed.setCurrentRow(1)
    revisions.name.setText("before the move")
    revisions.give_name()
    assert len(in_the_file(window)[0]) == len(before) + 3
    for _ in range(3):
        window.session.undo_stack.undo()
    assert in_the_file(window)[0] == before and leaf(window, "due").says() == late
    assert "before the move" not in leaf(window, "revisions")._names_now().values()


def test_an_entry_of_another_day_is_struck_out_with_a_reason(window: Window, qtbot: Any) -> None:
    window.show_stage("Log")
    stage, before = window.stage, [one.text for one in window.session.entries()]
    stage.book.selectRow(0)
    assert stage.out.isVisible()
    gone = window.session.entries()[stage._row].text
    qtbot.mouseClick(stage.out, Qt.MouseButton.LeftButton)
    assert [one.text for one in window.session.entries()] == before, "without a reason it stays"
    qtbot.keyClicks(stage.why, "it was the other axis")
    qtbot.keyClick(stage.why, Qt.Key.Key_Return)
    left = in_the_file(window)[0]
    assert gone not in left and left[-1].startswith("Struck out, ") and left[-1].endswith(f"{gone} Why: it was the other axis")
    window.session.undo_stack.undo()
    assert sorted(in_the_file(window)[0]) == sorted(before)


def begun(window: Window, qtbot: Any) -> Any:
    window.show_stage("Slack")
    qtbot.mouseClick(window.stage.measure.rounds["reversal"], Qt.MouseButton.LeftButton)
    assert QApplication.focusWidget() is window.stage.round.plan.start, "after Take the plan has the keys"
    QApplication.processEvents()
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Return)
    round_ = window.stage.round
    for number in ("-12", "-11", "-12", "-13"):
        qtbot.keyClicks(QApplication.focusWidget(), number)
        qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Return)
    assert len(round_.round.taken) == 4
    return round_


def test_a_round_given_up_comes_back_and_the_keys_go_where_the_hand_goes_on(window: Window, qtbot: Any) -> None:
    round_ = begun(window, qtbot)
    button = window.stage.measure.rounds["reversal"]
    qtbot.keyClick(round_.editor, Qt.Key.Key_Escape)
    assert QApplication.focusWidget() is button and button.text() == "Go on: backlash, 4 taken"
    QApplication.processEvents()
    qtbot.keyClick(button, Qt.Key.Key_Return)
    assert QApplication.focusWidget() is window.stage.round.editor, "after Go on digits go into the box"
    qtbot.mouseClick(window.stage.round.buttons["Discard the round…"], Qt.MouseButton.LeftButton)
    asked = window.findChildren(QMessageBox)[-1]
    assert "brings the round back" in asked.text() and window.stage.round is not None
    next(one for one in asked.buttons() if one.text() == "Discard the round").click()
    assert QApplication.focusWidget() is button and button.text().startswith("Measure")
    assert window.session.file.open_rounds() == []
    window.session.undo_stack.undo()
    assert button.text() == "Go on: backlash, 4 taken" and len(window.session.file.open_rounds()) == 1


def test_up_in_a_round_deletes_nothing(window: Window, qtbot: Any) -> None:
    round_ = begun(window, qtbot)
    places = [one["place"] for one in round_.round.taken]
    for _ in range(9):
        qtbot.keyClick(round_.editor, Qt.Key.Key_Up)
    assert [one["place"] for one in round_.round.taken] == places and round_.step.place == places[0]
    assert len(window.session.file.open_rounds()[0]["taken"]) == 4 and round_.editor.text() == "-12"
    qtbot.keyClick(round_.editor, Qt.Key.Key_Down)
    assert round_.editor.text() == "-11" and "2 of" in round_.count.text() and "typed anew" in round_.count.text()
    qtbot.keyClicks(round_.editor, "-10.5")
    qtbot.keyClick(round_.editor, Qt.Key.Key_Return)
    taken = window.session.file.open_rounds()[0]["taken"]
    assert [one["typed"] for one in taken] == ["-12", "-10.5", "-12", "-13"] and taken[1]["was"] == ["-11"]
    assert round_.step.place == places[2], "it goes on from there"
    for _ in range(2):
        qtbot.keyClick(round_.editor, Qt.Key.Key_Down)
    assert round_.step.place not in places and round_.editor.text() == ""


def test_after_a_dialog_the_keys_are_where_the_next_answer_is_wanted(window: Window, qtbot: Any) -> None:
    window.add_axis()
    asked = window.findChildren(NewAxis)[0]
    asked.name.line.setText("L")
    asked.go_on()
    asked.go_on()
    lacking = window.session.state.next_missing(window.trail.stage)
    assert lacking and window.stage.field(lacking[0]).editor is QApplication.focusWidget()
    window.show_stage("Motor")
    window.stage.pick()
    picked = window.findChildren(PickPart)[-1]
    picked.table.selectRow(0)
    picked.accept()
    assert window.session.axis.motor.name
    lacking = [name for name in window.session.state.next_missing("Motor") if window.stage.field(name) is not None]
    assert window.trail.stage == "Motor"
    assert not lacking or window.stage.field(lacking[0]).editor is QApplication.focusWidget()


def test_what_is_far_off_is_asked_about_once_and_kept_by_a_second_enter(window: Window, qtbot: Any) -> None:
    window.show_stage("Brief")
    field = window.stage.show_field("speed_wanted")
    before = window.session.axis.speed_wanted
    type_in(qtbot, field, "60")
    assert field.wrong.text() == "60 m/s is far beyond what such machines have; Enter once more keeps it"
    window.stage.show_field("travel").editor.setFocus()
    assert window.session.axis.speed_wanted == before, "leaving the field keeps nothing"
    field.editor.setFocus()
    qtbot.keyClick(field.editor, Qt.Key.Key_Return)
    qtbot.keyClick(field.editor, Qt.Key.Key_Return)
    assert window.session.axis.speed_wanted == 60.0 and not field.wrong.isVisible()
    type_in(qtbot, field, "60 mm/s")
    assert window.session.axis.speed_wanted == pytest.approx(0.06), "what is meant so is not asked about"


def test_a_step_of_which_nothing_came_is_nothing_to_undo(window: Window) -> None:
    stack = window.session.undo_stack
    with pytest.raises(BadValue), one_step(window.session, "two things"):
        window.session.edit(window.session.axis_path("moving_mass"), -1.0)
    assert stack.count() == 0 and not stack.canUndo()
    with one_step(window.session, "two things"):
        window.session.edit(window.session.axis_path("moving_mass"), 6.0)
        window.session.edit(window.session.axis_path("friction_force"), 7.0)
    assert stack.count() == 1 and stack.undoText() == "two things"


@pytest.mark.every_axis
def test_what_a_listing_put_down_is_undone(window: Window) -> None:
    before = in_the_file(window)
    listed = [Listed("X", "microsteps", 8.0, 3), Listed("Y", "microsteps", 4.0, 9)]
    count = window.session.hardware.read(listed, "a.log", True, True)
    after = in_the_file(window)
    assert count == 2 and after[1]["microsteps"] == 8.0 and len(after[0]) == len(before[0]) + 2
    window.session.undo_stack.undo()
    assert in_the_file(window) == before
