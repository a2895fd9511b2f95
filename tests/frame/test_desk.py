"""What opens what: the demo, the tour, another project, the same one, one that cannot be read, and the first start of all."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtWidgets import QMessageBox

from urban_mule.desk import app as house
from urban_mule.desk.app import Desk, blank_project, open_command
from urban_mule.desk.model import memory
from urban_mule.store.file.project_file import ProjectFile


@pytest.fixture
def desk(qapp: object, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Desk]:
    monkeypatch.setattr(house, "PREPARED_AFTER", 10_000_000)
    made = Desk()
    made.show(ProjectFile.create(tmp_path / "mine.mule", blank_project("Mine")))
    yield made
    assert made.window is not None
    made.window.close()


def told(desk: Desk) -> list[str]:
    assert desk.window is not None
    return [box.text() for box in desk.window.findChildren(QMessageBox)]


def test_another_project_takes_the_place_of_the_one_that_is_open(desk: Desk, tmp_path: Path, qtbot: Any) -> None:
    former = desk.window
    ProjectFile.create(tmp_path / "other.mule", blank_project("Other")).close()
    assert former is not None
    former.opened.emit(("open", tmp_path / "other.mule"))
    assert desk.window is not former and desk.window is not None and not former.isVisible()
    assert desk.window.windowTitle().startswith("Other") and memory.recent_projects()[0] == (tmp_path / "other.mule").resolve()
    desk.window.opened.emit(("open", tmp_path / "other.mule"))
    assert told(desk) == ["other.mule is open here already."]
    desk.window.opened.emit(("new", tmp_path / "fresh.mule"))
    assert desk.window.session.project.name == "fresh" and (tmp_path / "fresh.mule").exists()


def test_what_cannot_be_opened_is_one_sentence_and_the_work_stays(desk: Desk, tmp_path: Path) -> None:
    (tmp_path / "none.mule").write_text("no database", encoding="utf-8")
    before = desk.window
    for name in ("none.mule", "not there.mule"):
        assert before is not None
        before.opened.emit(("open", tmp_path / name))
    assert desk.window is before and len(told(desk)) == 2 and all("\n" not in said for said in told(desk))


def test_the_demo_opens_and_its_tour_begins_at_the_first_stop(desk: Desk) -> None:
    assert desk.window is not None
    desk.window.files.open_demo()
    assert desk.window.session.project.name == "Courtyard mosaic layer" and desk.window.tour is None
    desk.window.files.open_tour()
    assert desk.window.tour is not None and desk.window.tour.isVisible() and desk.window.tour.count.text() == "1 of 10"


def test_what_is_told_finds_the_window_or_the_terminal(desk: Desk, capsys: pytest.CaptureFixture[str]) -> None:
    desk.tell("Something was noticed.")
    assert "Something was noticed." in told(desk)
    Desk().tell("Before there was a window.")
    assert capsys.readouterr().err == "Before there was a window.\n"


def test_with_no_display_a_sentence_says_what_can_be_done(
        monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]) -> None:
    for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"):
        monkeypatch.delenv(name, raising=False)
    assert open_command(None) == 2 and "There is no display" in capsys.readouterr().err


def test_the_first_start_makes_a_project_and_the_next_goes_on_where_it_can(
        qapp: object, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, qtbot: Any) -> None:
    monkeypatch.setattr("platformdirs.user_documents_path", lambda: tmp_path / "papers")
    monkeypatch.setattr(house, "PREPARED_AFTER", 10_000_000)
    first = house._show_last(Desk())
    assert first.session.path == tmp_path / "papers" / "machine.mule" and first.session.project.name == "New machine"
    first.close()
    second = house._show_last(Desk())
    assert second.session.path.name == "machine (2).mule", "a project that is there is never written over"
    second.close()
    good, spoilt = tmp_path / "good.mule", tmp_path / "spoilt.mule"
    ProjectFile.create(good, blank_project("Good")).close()
    memory.remember(good)
    spoilt.write_bytes(b"no database at all")
    memory.remember(spoilt)
    third = house._show_last(Desk())
    qtbot.waitUntil(lambda: bool(third.findChildren(QMessageBox)), timeout=5_000)
    assert third.session.project.name == "Good" and "spoilt.mule" in third.findChildren(QMessageBox)[0].text()
    third.close()


def test_what_is_remembered_never_stops_a_start(monkeypatch: pytest.MonkeyPatch) -> None:
    """A name that is too long, one that is none, a folder that is locked, and brackets without end."""
    memory.memory_file().parent.mkdir(parents=True, exist_ok=True)
    memory.memory_file().write_text(json.dumps({"recent": ["/" + "x" * 5000, "a\0b", "/locked/one.mule", 7]}), encoding="utf-8")
    there = Path.is_file

    def looked_at(path: Path) -> bool:
        if path.parts[1:2] == ("locked",):
            raise PermissionError(13, "Permission denied")
        return there(path)

    monkeypatch.setattr(Path, "is_file", looked_at)
    assert memory.recent_projects() == []
    memory.memory_file().write_text("[" * 200_000, encoding="utf-8")
    assert memory.recalled() == {} and memory.recent_projects() == []
