"""Dialogs over the window, answered as people answer them: chosen, left, dropped on, wrongly filled in."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QImage
from PyQt6.QtWidgets import QDialog, QFileDialog, QWidget
from tests.driving import leaf_of

from urban_mule.desk.frame.listing_window import ListingWindow
from urban_mule.desk.frame.practice_begin import PracticeBegin
from urban_mule.desk.frame.templates_window import TemplatesWindow
from urban_mule.desk.shared.photograph import Photograph
from urban_mule.desk.stages.brief.parts import PartsPicture
from urban_mule.practice.lessons import LESSONS
from urban_mule.store import listing
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.templates import templates

ACTION, BUTTON, KEYS = Qt.DropAction.CopyAction, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier


@pytest.fixture(autouse=True)
def _own_folders(monkeypatch: Any, tmp_path: Path) -> None:
    monkeypatch.setattr(listing, "folder", lambda: tmp_path / "listings")
    monkeypatch.setattr(templates, "own_folder", lambda: tmp_path / "templates")


def chosen(monkeypatch: Any, path: Path | str) -> None:
    """What every file dialog is answered with."""
    for name in ("getSaveFileName", "getOpenFileName"):
        monkeypatch.setattr(QFileDialog, name, lambda *_asked: (str(path), ""))


def drop(widget: QWidget, *paths: Path, text: str = "") -> bool:
    """Drag files or words over a widget and let go; whether it would take them."""
    data = QMimeData()
    if paths:
        data.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
    if text:
        data.setText(text)
    over = QDragEnterEvent(widget.rect().center(), ACTION, data, BUTTON, KEYS)
    over.ignore()
    widget.dragEnterEvent(over)
    if over.isAccepted():
        widget.dropEvent(QDropEvent(QPointF(widget.rect().center()), ACTION, data, BUTTON, KEYS))
    return over.isAccepted()


def point(opened: ListingWindow, line: int, at: int, setting: str) -> None:
    document, cursor = opened.text.document(), opened.text.textCursor()
    assert document is not None
    cursor.setPosition(document.findBlockByNumber(line).position() + at)
    opened.text.setTextCursor(cursor)
    opened.setting.setCurrentIndex(opened.setting.findData(setting))
    opened.setting.activated.emit(opened.setting.currentIndex())


@pytest.mark.every_axis
def test_a_listing_is_dropped_read_with_a_comma_forgotten_and_written_back(
        demo_copy: Path, qtbot: Any, tmp_path: Path, monkeypatch: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Scale", "chain")
    opened = ListingWindow(window.session, "", "", window)
    opened.show()
    assert opened.pointed.text() == "The cursor is on no number." and not opened.teach.isEnabled()
    assert drop(opened, text="nothing but words") and opened.text.toPlainText() == "nothing but words"
    board = tmp_path / "board.log"
    board.write_bytes("X schritte 40,5\nY schritte 69,4494\nZ schritte 320\n".encode("cp1252"))
    assert drop(opened, board) and opened.source == "board.log"
    assert drop(opened, tmp_path / "gone.log") and "gone.log" in opened.said.text()
    opened.decimal.setCurrentIndex(opened.decimal.findData("comma"))
    opened.decimal.activated.emit(1)
    point(opened, 0, 13, "steps_per_unit")
    assert opened.pointed.text() == "40,5 in line 1 is"
    opened.name.setText("Board/by: the door")
    opened.teach.click()
    qtbot.waitUntil(lambda: len(opened.read.source.rows) == 3, timeout=10_000)
    assert opened.lines_back() == ["line 1: X: steps per mm 44.4444 (listed: 40.5)"]
    chosen(monkeypatch, tmp_path / "back.txt")
    opened.back.click()
    assert (tmp_path / "back.txt").read_text(encoding="utf-8") == "line 1: X: steps per mm 44.4444 (listed: 40.5)\n"
    chosen(monkeypatch, tmp_path / "no" / "where.txt")
    opened.back.click()
    assert "where.txt" in opened.said.text()
    opened.forget.click()
    qtbot.waitUntil(lambda: not opened.read.source.rows, timeout=10_000)
    assert "Nothing of it is read yet" in opened.said.text() and not opened.put.isEnabled()
    opened.which.setCurrentText("a new pattern")
    opened.which.textActivated.emit("a new pattern")
    assert opened.name.text() == "" and opened.pattern.rules == ()
    opened.back.click()
    assert "nothing to type back" in opened.said.text()
    opened.close()
    window.close()


def test_a_unit_that_does_not_fit_is_a_sentence_and_the_listing_stays(demo_copy: Path, qtbot: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Scale", "chain")
    opened = ListingWindow(window.session, "X speed 600\n", "", window)
    opened.show()
    point(opened, 0, 9, "top_speed")
    opened.unit.addItem("kg", "kg")
    opened.unit.setCurrentText("kg")
    opened.teach.click()
    qtbot.waitUntil(lambda: "kg" in opened.said.text(), timeout=10_000)
    assert opened.text.toPlainText() == "X speed 600\n"
    window.close()


def test_a_settings_file_dropped_on_the_window_opens_as_a_listing(demo_copy: Path, qtbot: Any, tmp_path: Path) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Scale", "chain")
    (tmp_path / "a.log").write_text("§ x\n1 | steps | 1\n", encoding="utf-8")
    assert drop(window, tmp_path / "a.log")
    qtbot.waitUntil(lambda: bool(window.findChildren(ListingWindow)), timeout=10_000)
    assert window.findChildren(ListingWindow)[0].text.toPlainText().startswith("§ x")
    window.close()


def test_a_photograph_is_chosen_shown_large_and_taken_anew(demo_copy: Path, qtbot: Any, tmp_path: Path, monkeypatch: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Log", "book")
    place = Photograph(window.session, "the supply", window)
    place.taken.connect(place.show_photograph)
    place.show()
    chosen(monkeypatch, "")
    place.click()
    assert place.name == "", "left without choosing"
    big = tmp_path / "supply.png"
    QImage(3000, 20, QImage.Format.Format_RGB32).save(str(big))
    chosen(monkeypatch, big)
    place.click()
    qtbot.waitUntil(lambda: place.name != "", timeout=10_000)
    kept = QImage.fromData(window.session.file.attachment(place.name) or b"")
    assert kept.width() == 1600 and place.text() == "" and not place.icon().isNull(), "scaled for the file"
    place.click()
    large = next(one for one in place.findChildren(QDialog) if one.isVisible())
    assert large.windowTitle() == "the supply"
    other = tmp_path / "other.jpg"
    QImage(40, 30, QImage.Format.Format_RGB32).save(str(other))
    chosen(monkeypatch, other)
    first = place.name
    place._another()
    qtbot.waitUntil(lambda: place.name not in ("", first), timeout=10_000)
    told: list[str] = []
    window.session.told.connect(told.append)
    (tmp_path / "no.png").write_text("no picture", encoding="utf-8")
    assert drop(place, tmp_path / "no.png")
    qtbot.waitUntil(lambda: bool(told), timeout=10_000)
    assert "no picture that can be read" in told[0]
    place.name = "20200101-000000 gone"
    place.click()
    assert "not in the project file any more" in told[-1]
    window.close()


def test_the_list_of_parts_is_written_and_read_by_its_keys(demo_copy: Path, qtbot: Any, tmp_path: Path, monkeypatch: Any) -> None:
    window, picture = leaf_of(demo_copy, qtbot, "Brief", "parts")
    assert isinstance(picture, PartsPicture)
    chosen(monkeypatch, tmp_path / "parts.csv")
    picture.keys["Write CSV…"].click()
    text = (tmp_path / "parts.csv").read_text(encoding="utf-8")
    assert text.startswith("axis,part,name,") and "X,motor" in text
    (tmp_path / "parts.csv").write_text(text.replace("X,driver,", "X,driver,", 1).replace(
        'X,driver,"6.2 A switch driver, 60 V",1,48,', 'X,driver,"6.2 A switch driver, 60 V",1,77.5,'), encoding="utf-8")
    picture.keys["Read CSV…"].click()
    qtbot.waitUntil(lambda: not window.session.works.busy)
    picture.bring_up_to_date()
    assert next(one.price for one in picture.items if (one.axis, one.slot) == ("X", "driver")) == 77.5
    told: list[str] = []
    window.session.told.connect(told.append)
    (tmp_path / "parts.csv").write_text("axis,part\nQ,motor\n", encoding="utf-8")
    picture.keys["Read CSV…"].click()
    qtbot.waitUntil(lambda: not window.session.works.busy)
    assert "none of that name" in told[0]
    chosen(monkeypatch, tmp_path / "no" / "list.csv")
    picture.keys["Write CSV…"].click()
    assert "list.csv" in told[1]
    picture.begin_on.setText("next week")
    picture.begin()
    assert "is no day" in picture.wrong.text() and picture.begin_on.text() == "next week"
    window.close()


def test_a_template_of_ones_own_is_kept_and_written_only_when_it_is_sound(
        demo_copy: Path, qtbot: Any, tmp_path: Path, monkeypatch: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Log", "book")
    opened = TemplatesWindow(window.session, window)
    opened.show()
    opened.text.setPlainText("{% for one in spindles %}{{ one.name }}: {{ one.settings[0].shown }}{% endfor %}")
    opened.fill()
    qtbot.waitUntil(lambda: opened.preview.toPlainText() == "S: velocity", timeout=20_000)
    chosen(monkeypatch, tmp_path / "out.txt")
    opened.write()
    assert (tmp_path / "out.txt").read_text(encoding="utf-8") == "S: velocity"
    opened.name.setText("my tools")
    asked: list[str] = []
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_asked: (asked.append("a file"), ("", ""))[1])
    qtbot.keyClick(opened.name, Qt.Key.Key_Return)
    assert not asked, "Enter in the name keeps it, and writes no file"
    chosen(monkeypatch, tmp_path / "out.txt")
    assert opened.which.findText("my tools") >= 0 and (tmp_path / "templates" / "my tools.txt").exists()
    opened.text.setPlainText("{{ spindles[0].nosuch }}")
    opened.fill()
    qtbot.waitUntil(lambda: opened.faulty, timeout=20_000)
    (tmp_path / "out.txt").unlink()
    opened.write()
    assert "not written" in opened.said.text() and not (tmp_path / "out.txt").exists()
    window.close()


def test_a_practice_begins_at_once_without_a_question_about_files(
        demo_copy: Path, qtbot: Any, tmp_path: Path, monkeypatch: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Moves", "first power")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", None)
    begun: list[Path] = []
    for number in range(2):
        opened = PracticeBegin(window.session, begun.append, window)
        opened.show()
        opened.take_lesson(LESSONS[0].sentence)
        qtbot.waitUntil(lambda: len(begun) > number, timeout=20_000)  # noqa: B023
    assert [path.name for path in begun] == ["lesson 1.mule", "lesson 1 (2).mule"], "the former one stays"
    made = ProjectFile.open(begun[0])
    assert made.project().hidden is not None and made.project().practice
    made.close()
    folder = begun[0].parent
    assert folder == tmp_path / "documents" / "Urban Mule practice"
    opened = PracticeBegin(window.session, begun.append, window)
    opened.show()
    folder.rename(tmp_path / "elsewhere")
    folder.write_text("a file in the way")
    opened.draw()
    assert "cannot be made" in opened.said.text() and len(begun) == 2
    window.close()
