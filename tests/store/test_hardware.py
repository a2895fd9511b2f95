"""What is on the machine stands in two places, running and stored: every way in which they come together or part."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from tests.driving import leaf_of
from tests.places import whose

from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.model.subject_scope import SubjectScope
from urban_mule.store.file.project_file import ProjectFile, Where
from urban_mule.store.listing import Listed
from urban_mule.store.settings import follower_settings, settings_of
from urban_mule.store.subject_settings import spindle_settings

NAME = "steps_per_unit"


@pytest.fixture
def session(demo_copy: Path, qapp: object) -> Iterator[Session]:
    made = Session(ProjectFile.open(demo_copy))
    yield made
    made.close()


def row(session: Session, name: str = NAME) -> Any:
    return next(one for one in settings_of(session.state) if one.name == name)


def listed(value: float, follower: bool = False, axis: str = "X", setting: str = NAME) -> Listed:
    return Listed(axis, setting, value, 1, follower)


def test_what_is_set_and_not_stored_is_said_until_it_is(session: Session) -> None:
    wanted = row(session).value
    session.hardware.put({NAME: wanted}, survives=False)
    assert not row(session).differs and row(session).at_reset == "not stored: a reset loses it" and row(session).to_do
    session.hardware.put({NAME: wanted}, survives=True)
    assert row(session).at_reset == "" and not row(session).to_do
    session.hardware.put({NAME: wanted * 2}, survives=False)
    said = row(session)
    assert said.differs and said.at_reset == f"stored is {wanted:.6g}: a reset brings it back"
    assert session.entries()[-1].text.endswith("running only: a reset loses it.")


def test_who_was_not_asked_knows_nothing_of_what_is_stored(session: Session) -> None:
    session.hardware.put({NAME: 50.0})
    assert row(session).at_reset == "" and row(session).differs


def test_every_order_of_answers_ends_in_what_was_said_last(session: Session) -> None:
    wanted, stored = row(session).value, None
    for answers in itertools.product((False, True), repeat=3):
        for number, answer in enumerate(answers):
            value = wanted if number == 2 else 10.0 + number
            session.hardware.put({NAME: value}, survives=answer)
            stored = value if answer else "" if stored is None else stored
        assert bool(row(session).at_reset) is (stored != wanted), (answers, stored)


def test_a_hand_on_the_driver_needs_no_storing(session: Session) -> None:
    switches = row(session, "switches")
    session.hardware.put({"switches": switches.value, "microsteps": 16.0}, survives=False)
    assert row(session, "switches").at_reset == "" and "switches" not in session.state.stored


def test_a_listing_fills_what_runs_what_is_stored_or_both(session: Session) -> None:
    for stored, running, name in ((True, False, "stored only"), (False, True, "running only"), (True, True, "both")):
        assert session.hardware.read([listed(33.0)], name, stored, running) == 1
        kept = session.state.stored
        assert ("33" in row(session).on_machine) is running or name == "both"
        assert stored is False or kept[NAME].value == 33.0
        session.hardware.put({NAME: 44.4444}, survives=True)
    assert [entry.text for entry in session.entries() if "Read from" in entry.text][-1] == "Read from both: steps per unit."


@pytest.mark.every_axis
def test_a_listing_of_a_follower_and_of_another_axis_lands_on_theirs(session: Session) -> None:
    session.hardware.read([listed(4.0, True, "Y", "microsteps"), listed(77.0, False, "Z")], "board", True, True)
    session.show_axis(1)
    follower = session.follower_of(session.axis)
    assert follower is not None
    found = next(one for one in follower_settings(follower) if one.name == "microsteps")
    assert found.on_machine == "on the machine: 4" and found.reason.endswith("from board")
    session.show_axis(2)
    assert row(session).on_machine == "on the machine: 77"
    assert [entry.subject for entry in session.entries() if entry.text.startswith("Read from board")] == [
        one.id for one in session.project.axes[1:3]]


def test_both_places_follow_an_axis_to_its_new_name_and_stay_in_the_file(session: Session) -> None:
    session.hardware.put({NAME: 44.0}, survives=False)
    session.edit(session.axis_path("name"), "Across")
    assert row(session).at_reset and "44" in row(session).on_machine
    kept = ProjectFile.open(session.path)
    assert kept.applied()[Where(whose(kept, "Across"), stored=True)][NAME].value == "" and "X" not in kept.names().values()
    kept.close()


@pytest.mark.every_axis
def test_an_axis_called_as_a_spindle_is_called_is_only_that(session: Session) -> None:
    session.edit(session.axis_path("name"), "spindle S")
    spindle = SubjectScope(session, session.project.spindles[0].id)
    spindle.hardware.put({"control_mode": "velocity"}, survives=True)
    assert "control_mode" not in session.hardware.values() and spindle.state.stored["control_mode"].value == "velocity"
    assert session.entries()[-1].subject == session.project.spindles[0].id != session.axis.id
    session.edit(("spindles", 0, "name"), "Disc")
    assert not [r for r in spindle_settings(spindle.state) if r.name == "control_mode" and r.differs]
    assert session.axis.name == "spindle S" and session.saving.names[session.project.spindles[0].id] == "spindle Disc"
    session.edit(("axes",), (*session.project.axes, session.axis.model_copy(update={"name": "twin"})))
    assert session.project.axes[-1].id != session.axis.id and not session.state_of(session.project.axes[-1]).applied


def test_the_tag_asks_once_takes_escape_for_no_and_counts_what_a_reset_loses(demo_copy: Path, qtbot: Any) -> None:
    from PyQt6.QtCore import Qt

    window: Window
    window, _ = leaf_of(demo_copy, qtbot, "Scale", "chain")
    tag, before = window.tag, len(window.session.entries())
    tag.set_all.click()
    assert tag.survives.isVisible() and not tag.set_all.isVisible() and len(window.session.entries()) == before
    qtbot.keyClick(tag.survives, Qt.Key.Key_Escape)
    assert not tag.survives.isVisible() and tag.set_all.isVisible() and len(window.session.entries()) == before
    tag.set_all.click()
    tag.survives.running.click()
    lost = sum(bool(one.at_reset) for one in tag.rows)
    assert lost > 5 and f"{lost} not after a reset" in tag.count.text() and tag.set_all.isEnabled()
    line = next(one for one in tag.lines if one.row.at_reset)
    qtbot.keyClick(line, Qt.Key.Key_Return)
    tag.survives.stored.click()
    assert sum(bool(one.at_reset) for one in tag.rows) == lost - 1
    tag.set_all.click()
    window.session.edit(window.session.axis_path("driver", "microsteps"), 8)
    assert not tag.survives.isVisible(), "what was asked about is no longer what is to be set"
    window.close()
