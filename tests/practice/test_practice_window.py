"""A lesson from its beginning to its debrief through the real window, with the practice bench as a process of its own."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from tests.driving import practise

from urban_mule.demo.courtyard import demo_project
from urban_mule.desk.frame.evidence_drawn import EvidenceDrawn
from urban_mule.desk.frame.practice_begin import PracticeBegin
from urban_mule.desk.frame.practice_window import PracticeWindow
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.practice.hiding import lesson_project
from urban_mule.practice.lessons import LESSONS
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.results import own_results, results_file


@pytest.fixture(autouse=True)
def _own_record(monkeypatch: Any, tmp_path: Path) -> None:
    """A record of one's own that no other test has."""
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))


def test_a_lesson_is_measured_mended_believed_and_told(demo_copy: Path, tmp_path: Path, qtbot: Any) -> None:
    at_demo = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(at_demo)
    at_demo.show()
    made: list[Path] = []
    begin = PracticeBegin(at_demo.session, made.append, at_demo)
    begin.show()
    assert "not tried" in begin.lessons.rows[0].texts and "No practice ended" in begin.record.text()
    begin.make(tmp_path / "lesson.mule", lambda: lesson_project(LESSONS[0], demo_project()))
    qtbot.waitUntil(lambda: bool(made))
    at_demo.close()
    window = Window(Session(ProjectFile.open(made[0])))
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    session = window.session
    qtbot.waitUntil(lambda: bool(window.findChildren(PracticeWindow)), timeout=5000)
    beside = window.findChildren(PracticeWindow)[0]
    qtbot.waitUntil(lambda: bool(beside.beliefs))
    assert beside.windowTitle() and "does not go as far" in LESSONS[0].sentence and not beside.end.isEnabled()
    qtbot.mouseClick(beside.looking, Qt.MouseButton.LeftButton)
    assert beside.looked.text() == "It moves as commanded."
    window.show_stage("Scale")
    practise(window, qtbot, "travel")
    ratio = session.solution["scale_ratio"]
    really = round(24 * ratio)
    assert abs(ratio - really / 24) < 1e-3
    window.show_stage("Load")
    session.edit(session.axis_path("train", 1, "teeth"), really)
    window.show_stage("Scale")
    practise(window, qtbot, "travel")
    assert abs(session.solution["scale_ratio"] - 1) < 1e-3, "the field mended it, and the next round shows it"
    qtbot.mouseClick(beside.repairs["heat growth"], Qt.MouseButton.LeftButton)
    assert not beside.repairs["heat growth"].isEnabled() and session.project.hidden.repaired == ("heat growth",)
    beside.beliefs["wrong tooth count"].setChecked(True)
    qtbot.mouseClick(beside.end, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: beside.debrief is not None, timeout=20_000)
    told = [label.text() for label in beside.inner.findChildren(type(beside.note))]
    assert "Found: wrong tooth count." in told and "Let it warm before it works, or cool it." in told
    drawn = beside.inner.findChild(EvidenceDrawn)
    assert drawn is not None and "travel (taken): scale off by a tooth" in drawn.accessibleName()
    assert all(sign.here != sign.sound for _, sign, _ in drawn.rows if sign.here is not None)
    assert "You took 2; one set of readings would have done." in told
    kept = own_results()[-1]
    assert kept.solved and kept.lesson == 1 and kept.needless == 1 and (kept.readings, kept.shortest) == (2, 1)
    again = PracticeBegin(session, made.append, window)
    assert "solved with 2 sets; 1 would do" in again.lessons.rows[0].texts
    window.close()


def test_no_practice_where_nothing_is_hidden_and_a_broken_record_is_told(demo_copy: Path, qtbot: Any) -> None:
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    told: list[str] = []
    window.session.told.connect(told.append)
    window.files.show_practice()
    assert "Nothing is hidden" in told[0]
    results_file().parent.mkdir(parents=True, exist_ok=True)
    results_file().write_text("[3]")
    begin = PracticeBegin(window.session, lambda _path: None, window)
    assert "no list of practice results" in begin.said.text()
    begin.make(demo_copy.parent / "x.mule", lambda: window.session.project)
    window.close()


def test_a_cycle_runs_before_ones_eyes(demo_copy: Path, qtbot: Any) -> None:
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    window.show_stage("Moves")
    picture: Any = window.stage.leaves.picture
    picture.bring_up_to_date()
    qtbot.keyClick(picture, Qt.Key.Key_Space)
    qtbot.waitUntil(lambda: picture.cursor_time is not None and picture.cursor_time > 0.2)
    assert picture.running.text() == "Hold" and "move 1" in picture.reading()
    window.show_stage("Load")
    assert not picture.moving.running, "nobody sees it"
    window.close()
