"""The File and Edit menus, their dialogs answered: what is written reads back, what cannot be written is one sentence."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QApplication, QFileDialog, QMessageBox
from tests.driving import without_records

from urban_mule.desk.frame.file_work import parts_taken
from urban_mule.desk.frame.guide import PAGES, GuideWindow
from urban_mule.desk.frame.tour import STOPS
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model import memory
from urban_mule.desk.model.session import Session
from urban_mule.store.exchange.csv_readings import read_csv
from urban_mule.store.exchange.open_json import export_project, read_project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.library.parts import Parts, shipped_parts


class Dialogs:
    """Answers the file dialogs with one path, and notes what the window tells."""

    def __init__(self, window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
        self.answer = ""
        self.asked: list[str] = []
        self.told: list[str] = []
        for name in ("getSaveFileName", "getOpenFileName"):
            monkeypatch.setattr(QFileDialog, name, self._file)
        monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *args: ([one for one in self._file(*args) if one], ""))
        monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *args: (self.asked.append(args[1]), self.answer)[1])
        window.tell = self.told.append  # type: ignore[method-assign]
        window.session.told.connect(self.told.append)

    def _file(self, *args: Any) -> tuple[str, str]:
        self.asked.append(args[1])
        return self.answer, ""


@pytest.fixture
def dialogs(window: Window, monkeypatch: pytest.MonkeyPatch) -> Dialogs:
    return Dialogs(window, monkeypatch)


def menu(window: Window, text: str) -> QAction:
    """The action of a menu by its words."""
    return next(action for action in window.findChildren(QAction) if action.text().replace("&", "") == text)


@pytest.mark.every_axis
def test_what_the_menu_writes_reads_back(window: Window, dialogs: Dialogs, qtbot: Any, tmp_path: Path) -> None:
    dialogs.answer = str(tmp_path / "out.json")
    menu(window, "Export JSON…").trigger()
    assert [axis.name for axis in read_project(tmp_path / "out.json").axes] == ["X", "Y", "Z", "C", "W"]
    dialogs.answer = str(tmp_path / "copy.mule")
    menu(window, "Save a copy…").trigger()
    copy = ProjectFile.open(tmp_path / "copy.mule")
    kept, shown = (export_project(without_records(one)) for one in (copy.project(), window.session.project))
    assert kept == shown
    assert copy.revisions() == window.session.file.revisions()
    copy.close()
    (tmp_path / "readings").mkdir()
    dialogs.answer = str(tmp_path / "readings")
    menu(window, "Export readings as CSV…").trigger()
    written = sorted((tmp_path / "readings").iterdir())
    assert len(written) == 19 and {read_csv(path).kind for path in written} >= {"travel", "positioning", "acceleration"}
    for text, name in (("Report as PDF and HTML…", "r.pdf"), ("Print the tags…", "t.pdf"),
                       ("Save picture as SVG or PNG…", "p.svg")):
        dialogs.answer = str(tmp_path / name)
        menu(window, text).trigger()
        qtbot.waitUntil(lambda name=name: (tmp_path / name).is_file(), timeout=20_000)
        assert (tmp_path / name).stat().st_size > 1000, text
    qtbot.waitUntil(lambda: not window.session.works.busy)
    assert (tmp_path / "r.html").is_file() and [told.rpartition("/")[2] for told in dialogs.told] == [
        "r.pdf: the report is written.", "t.pdf: the tags are written."]


def test_what_the_menu_reads_lands_in_the_project(window: Window, dialogs: Dialogs, qtbot: Any, tmp_path: Path) -> None:
    dialogs.answer = str(tmp_path / "readings")
    (tmp_path / "readings").mkdir()
    menu(window, "Export readings as CSV…").trigger()
    count = len(window.session.axis.readings)
    dialogs.answer = str(next(path for path in (tmp_path / "readings").iterdir() if "travel" in path.name))
    menu(window, "Import JSON or CSV…").trigger()
    qtbot.waitUntil(lambda: len(window.session.axis.readings) == count + 1)
    assert window.trail.stage == "Scale"
    path = tmp_path / "parts.csv"
    path.write_text("kind,name,brake_torque\nbrake,mine,2\n", encoding="utf-8")
    dialogs.answer = str(path)
    menu(window, "Import parts…").trigger()
    qtbot.waitUntil(lambda: bool(dialogs.told))
    assert "1 part taken in" in dialogs.told[0]
    dialogs.answer = str(tmp_path / "mine.json")
    menu(window, "Export my parts…").trigger()
    assert "mine" in (tmp_path / "mine.json").read_text(encoding="utf-8")


def test_opening_and_making_projects_is_asked_of_the_desk(window: Window, dialogs: Dialogs, tmp_path: Path) -> None:
    wishes: list[tuple[str, Path]] = []
    window.opened.connect(wishes.append)
    dialogs.answer = str(tmp_path / "other.mule")
    menu(window, "New project…").trigger()
    menu(window, "Open…").trigger()
    window.files.take_files([tmp_path / "dropped.mule"])
    assert wishes == [("new", tmp_path / "other.mule"), ("open", tmp_path / "other.mule"), ("open", tmp_path / "dropped.mule")]


def test_a_dialog_that_is_dismissed_does_nothing(window: Window, dialogs: Dialogs, tmp_path: Path) -> None:
    before, files = window.session.file.revisions(), set(tmp_path.iterdir())
    for text in ("New project…", "Open…", "Save a copy…", "Import JSON or CSV…", "Export JSON…", "Export readings as CSV…",
                 "Import parts…", "Export my parts…", "Report as PDF and HTML…", "Print the tags…", "Save picture as SVG or PNG…"):
        menu(window, text).trigger()
    assert len(dialogs.asked) == 11 and dialogs.told == []
    assert window.session.file.revisions() == before and set(tmp_path.iterdir()) == files


@pytest.mark.parametrize("text", ["Save a copy…", "Print the tags…", "Save picture as SVG or PNG…", *(
    pytest.param(one, marks=pytest.mark.long) for one in ("Export JSON…", "Report as PDF and HTML…", "Export my parts…"))])
def test_what_cannot_be_written_is_told_in_one_sentence(window: Window, dialogs: Dialogs, qtbot: Any, text: str) -> None:
    dialogs.answer = "/proc/nowhere/at.svg"
    menu(window, text).trigger()
    qtbot.waitUntil(lambda: bool(dialogs.told), timeout=20_000)
    assert len(dialogs.told) == 1 and "\n" not in dialogs.told[0] and "Traceback" not in dialogs.told[0]


def test_pictures_and_results_go_to_the_clipboard(window: Window, dialogs: Dialogs) -> None:
    window.show_stage("Motor")
    menu(window, "Copy picture").trigger()
    clipboard = QApplication.clipboard()
    assert clipboard is not None and not clipboard.pixmap().isNull()
    menu(window, "Copy results as CSV").trigger()
    lines = clipboard.text().splitlines()
    margin = next(line.split(",")[1] for line in lines if line.startswith("working_margin,"))
    assert lines[0] == "quantity,value,unit" and float(margin) == pytest.approx(window.session.solution["working_margin"], rel=1e-3)


def test_undo_and_redo_in_the_menu_say_what_they_would_do(window: Window) -> None:
    undo = next(a for a in window.findChildren(QAction) if a.text().startswith("Undo"))
    redo = next(a for a in window.findChildren(QAction) if a.text().startswith("Redo"))
    assert not undo.isEnabled() and not redo.isEnabled()
    window.session.edit(window.session.axis_path("moving_mass"), 7.0)
    assert undo.text() == "Undo X: moving mass" and undo.isEnabled()
    undo.trigger()
    assert window.session.axis.moving_mass == 5.6 and redo.text() == "Redo X: moving mass" and not undo.isEnabled()
    redo.trigger()
    assert window.session.axis.moving_mass == 7.0
    menu(window, "Duplicate this axis").trigger()
    assert window.session.axis.name == "X2" and undo.text() == "Undo axis X duplicated"


@pytest.mark.every_axis
def test_axes_come_and_go_by_the_menu_and_the_last_one_stays(window: Window, dialogs: Dialogs) -> None:
    for _ in range(4):
        menu(window, "Remove this axis or spindle").trigger()
    assert len(window.session.project.axes) == 1
    menu(window, "Remove this axis or spindle").trigger()
    assert "the only axis" in dialogs.told[0] and len(window.session.project.axes) == 1
    window.session.undo_stack.setIndex(0)
    assert window.session.axis.name == "W", "who was shown stays, whoever comes back before it"
    menu(window, "Former axis or spindle").trigger()
    assert window.session.axis.name == "C"
    menu(window, "Next axis or spindle").trigger()
    menu(window, "Next axis or spindle").trigger()
    assert window.others.index == 0


@pytest.mark.every_axis
def test_help_has_pages_a_message_stops_nothing_and_the_tour_shows_ten_places(window: Window, qtbot: Any) -> None:
    menu(window, "About and licences").trigger()
    box = next(w for w in window.findChildren(QMessageBox) if w.isVisible())
    assert "SIL Open Font License" in box.text() and box.icon() == QMessageBox.Icon.NoIcon
    box.close()
    for page in PAGES:
        window.show_guide(page)
    guide = window.findChildren(GuideWindow)
    assert len(guide) == 1 and "Out of the program" in guide[0].text.toPlainText()
    window.show_stage("Slack")
    menu(window, "The page of this stage").trigger()
    assert guide[0].text.toPlainText().startswith("Slack")
    guide[0].close()
    window.begin_tour()
    assert window.tour is not None
    seen = []
    for number, stop in enumerate(STOPS, start=1):
        shown = window.others.scope or window.session
        name = getattr(shown.axis, "letter", shown.axis.name)
        seen.append((name, window.trail.stage, window.stage.leaves.word))
        assert seen[-1] == (stop.of, stop.stage, stop.leaf) and window.tour.count.text() == f"{number} of 10"
        assert window.tour.said.text() == stop.said and window.tour.isVisible()
        qtbot.mouseClick(window.tour.next, Qt.MouseButton.LeftButton)
    assert len(set(seen)) == 10 and window.tour.isHidden(), "the tour ends, the window stays"
    window.begin_tour()
    window.session.edit(("spindles",), None)
    window.tour.come_to(8)
    qtbot.keyClick(window.tour, Qt.Key.Key_Escape)
    assert window.tour.isHidden()


def test_a_long_list_of_refusals_is_cut() -> None:
    said = parts_taken("p.csv", Parts(shipped_parts()[:3], tuple(f"line {n}: no." for n in range(20)), ("line 3: odd.",)))
    assert said.startswith("p.csv: 3 parts taken in.") and "20 refused:" in said and "and 8 more." in said and "look again:" in said


def test_recent_projects_the_demo_and_the_licences_stand_in_the_menu(window: Window, dialogs: Dialogs, qtbot: Any) -> None:
    opened: list[Any] = []
    window.opened.connect(opened.append)
    assert window.recent is not None
    window.recent.aboutToShow.emit()
    assert [action.text() for action in window.recent.actions()] == ["None yet"]
    path = window.session.path
    memory.remember(path)
    memory.remember(path.with_name("gone.mule"))
    window.recent.aboutToShow.emit()
    assert [action.text().split()[0] for action in window.recent.actions()] == [path.stem], "what has gone is not listed"
    window.recent.actions()[0].trigger()
    menu(window, "Demo: the mosaic layer").trigger()
    assert opened == [("open", path), ("demo", Path())]
    menu(window, "About and licences").trigger()
    assert "GNU General Public License" in dialogs.told[-1] and "SIL Open Font License" in dialogs.told[-1]


def test_a_window_comes_back_in_the_size_it_was_left_in(qapp: object, demo_copy: Path) -> None:
    def opened() -> tuple[int, int]:
        window = Window(Session(ProjectFile.open(demo_copy)))
        size = window.width(), window.height()
        window.resize(1100, 740)
        window.close()
        return size

    assert [opened(), opened()] == [(1280, 800), (1100, 740)]
    memory.keep(window=[5000, 4000])
    assert opened() == (1280, 800), "never more than there is room"
    memory.keep(window=["wide"])
    assert opened() == (1280, 800)
