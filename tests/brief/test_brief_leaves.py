"""The Brief's leaves in the window: a path of decisions, a list of parts with its fits, what is asked of safety."""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from tests.driving import leaf_of

from urban_mule.core.brief.decisions import DECISIONS, NAMES, rests_on
from urban_mule.demo.courtyard import demo_project
from urban_mule.desk.model.session import Session
from urban_mule.store.document.edit import edited
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.shopping import DAY, as_csv, from_csv, order_by, ordered_with, shopping_list, summary
from urban_mule.store.text_files import BadFile


def test_the_path_runs_one_way_and_every_station_has_its_schools() -> None:
    for one in DECISIONS:
        assert len(one.schools) >= 2 and one.risk and all(NAMES.index(name) > NAMES.index(one.name) or name in ("driver", "supply")
                                                          for name, _ in one.fixes)
        assert set(rests_on(one.name)) < set(NAMES[:NAMES.index(one.name)]) | {""}


def test_decisions_are_written_down_and_what_comes_before_brings_them_up_again(demo_copy: Path, qtbot: Any) -> None:
    window, picture = leaf_of(demo_copy, qtbot, "Brief", "decisions")
    window.session.edit_all([(("spindles",), None), (("decisions",), None)])
    picture.bring_up_to_date()
    assert "0 of 9 decisions" in window.stage.headline.text()
    picture.write.click()
    assert "Choose an approach" in picture.warns.text() and not window.session.project.decisions
    qtbot.keyClick(picture.path, Qt.Key.Key_Down)
    assert "turn a tool" in picture.question.text() and picture.warns.isHidden()
    qtbot.keyClick(picture.path, Qt.Key.Key_Down)
    assert "Decided before spindle" in picture.warns.text() and "pulses" in picture.warns.text(), "out of order: the risk is named"
    picture.schools[0].click()
    picture.decided.setText("the board that is there")
    qtbot.keyClick(picture.why, Qt.Key.Key_Return)
    assert "1 of 9" in window.stage.headline.text() and picture.stands[2].state == "written down"
    picture.choose(1)
    picture.schools[0].click()
    picture.write.click()
    again = next(one for one in picture.stands if one.decision.name == "controller")
    assert again.state == "look again" and again.changed[0][0] == "spindle"
    picture.choose(2)
    assert picture.warns.text().startswith("Look again: spindle was") and picture.decided.text() == "the board that is there"
    window.session.undo_stack.undo()
    assert [one.state for one in picture.stands][1:3] != ["written down", "look again"] or not picture.bring_up_to_date()
    picture.choose(0)
    picture.lead.click()
    assert window.stage.field("mains_voltage") is not None and window.focusWidget() is window.stage.field("mains_voltage").editor
    window.close()


@pytest.mark.every_axis
def test_the_list_of_parts_is_filled_priced_ordered_and_says_what_does_not_fit(demo_copy: Path, qtbot: Any) -> None:
    window, picture = leaf_of(demo_copy, qtbot, "Brief", "parts")
    window.session.edit_all([(("parts",), None), (("budget",), None), *(
        (("axes", place, "parts"), None) for place in range(len(window.session.project.axes)))])
    picture.bring_up_to_date()
    names = [f"{one.axis} {one.what}".strip() for one in picture.items]
    assert {"X stepper motor", "X belt", "Y rack", "Z brake", "supply", "controller"} <= set(names)
    assert next(one.quantity for one in picture.items if (one.axis, one.slot) == ("Y", "motor")) == 2, "two motors on the beam"

    def enter(row: str, **typed: str) -> None:
        picture.table.selectRow(names.index(row))
        for name, text in typed.items():
            assert not picture.lines[name].isHidden(), name
            picture.lines[name].setText(text)
            picture.enter(name)
            picture.bring_up_to_date()

    enter("X stepper motor", price="48,5", lead_time="21", supplier="the shop round the corner", shaft="6.35")
    enter("X coupling", bore="8 mm")
    assert "Shaft and bore do not fit" in window.stage.headline.text() and "6.35 mm" in picture.fits.text()
    picture.lines["price"].setText("dear")
    picture.enter("price")
    assert picture.wrong.isVisible() and "dear" in picture.wrong.text() and picture.lines["price"].text() == "dear"
    enter("X coupling", bore="1/4 in")
    assert "do not fit" not in picture.fits.text() and picture.wrong.isHidden()
    picture.begin_on.setText("2030-03-31")
    picture.begin()
    window.session.edit(("budget",), 40.0)
    picture.bring_up_to_date()
    told = " ".join(picture.says())
    assert "order next by 2030-03-10" in told and "over the budget of 40" in told
    picture.own.setText("cable chain")
    picture.add()
    picture.bring_up_to_date()
    picture.add()
    assert "cable chain" in [one.what for one in picture.items] and picture.wrong.text() == "Type what the part is."
    enter_at = picture.table.currentIndex().row()
    assert picture.items[enter_at].what == "cable chain"
    picture.drop()
    assert "cable chain" not in [one.what for one in shopping_list(window.session.project)]
    window.session.undo_stack.undo()
    window.close()
    kept = Session(ProjectFile.open(demo_copy))
    assert next(one for one in shopping_list(kept.project) if one.slot == "motor").supplier.endswith("corner")
    kept.close()


def test_a_list_goes_out_as_csv_and_comes_back_and_bad_rows_are_named() -> None:
    project = edited(demo_project(), ("parts",), None)
    for place in range(len(project.axes)):
        project = edited(project, ("axes", place, "parts"), None)
    items = shopping_list(project)
    project = edited(project, *ordered_with(project, items[0], price=42.0, lead_time=14 * DAY, ordered="2026-11-02"))
    text = as_csv(shopping_list(project))
    assert from_csv(text, project) == project, "what is the same changes nothing but own rows that the axes do not have"
    back = from_csv(text.replace("42,14", "40,7") + ",cover,,2,5,,,,,for the belt\n", project)
    found = {(one.axis, one.slot): one for one in shopping_list(back)}
    assert found["X", "motor"].price == 40 and found["X", "motor"].lead_time == 7 * DAY and found["", "cover"].cost == 10
    assert order_by(found["X", "motor"], date(2027, 1, 1)) is None, "it is ordered already"
    assert "1 ordered and not there yet" in summary(found.values(), None, None, date(2026, 11, 26))
    for wrong, said in ((text.replace("42,14", "42,soon"), "line 2: lead time is 'soon'"), ("axis,name\nX,y\n", "column part"),
                        (text + "Q,motor,,1,,,,,,\n", "none of that name"), (text.replace("42,14", "-42,14"), "line 2")):
        with pytest.raises(BadFile, match=said):
            from_csv(wrong, project)


def test_answers_of_safety_are_kept_and_counted_and_waiting_is_reckoned_as_a_way(demo_copy: Path, qtbot: Any) -> None:
    window, picture = leaf_of(demo_copy, qtbot, "Brief", "safety")
    window.session.edit(("safety",), None)
    picture.bring_up_to_date()
    before = window.stage.headline.text()
    choice = picture.answers["stop removes power"]
    choice.setCurrentIndex(choice.findData("yes"))
    choice.activated.emit(choice.currentIndex())
    picture.notes["stop removes power"].setText("contactor K1")
    picture.note("stop removes power")
    assert window.stage.headline.text() != before and "certificate" in window.stage.subline.text()
    assert window.session.project.safety[0].note == "contactor K1" and "K1" in window.session.entries()[-1].text
    picture.topics.setCurrentRow(2)
    window.session.edit(("debounce_time",), 0.01)
    picture.bring_up_to_date()
    assert "X 0.6 mm, within its room" in picture.late.text(), picture.late.text()
    picture.topics.setCurrentRow(0)
    assert picture.answers["stop removes power"].currentData() == "yes" and picture.late.isHidden()
    window.close()
