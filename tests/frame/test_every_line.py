"""Every line that takes text on every leaf and in every dialog behind a key, typed into; every key of the dialogs pressed.

What is not taken is answered or left; that nothing unforeseen was logged is looked at after every test.
"""

from __future__ import annotations

import random
import time
from pathlib import Path
from typing import Any

import pytest
from PyQt6 import sip
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog, QLineEdit, QMenu, QMessageBox, QPushButton, QWidget

from urban_mule.core.sheet.stages import STAGES, StageName
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.walk import settle
from urban_mule.store.file.project_file import ProjectFile

pytestmark = pytest.mark.every_axis

NONSENSE = ("", " ", "0", "-1", "1e9", "1e999", "1e-300", "nan", "9" * 60, "abc", "1;2;3", "1 2 3 4 5", "3/4000", "٣", "−5 mm",
            "<b>x</b>", "1,5", "50 %", "0 0 0", "…", "100 to 0 in 5", "1:1", "12 12", "1e9 1e9", "a=b", "()")
LEFT_ALONE = ("Practice bench", "Connect", "Listen", "Print", "Report", "CSV", "Export", "Save", "Write", "Read", "Photograph",
              "Search", "Draw on", "Show them all", "Open", "Choose")  # processes, ports, files
SLOWEST = 5.0  # s that one line may take, in a slow hour too


@pytest.fixture(autouse=True)
def nothing_is_chosen(monkeypatch: pytest.MonkeyPatch) -> None:
    """File dialogs and questions are answered at once, with nothing and no."""
    for name in ("getSaveFileName", "getOpenFileName"):
        monkeypatch.setattr(QFileDialog, name, lambda *_asked, **_more: ("", ""))
    monkeypatch.setattr(QMessageBox, "exec", lambda _self: QMessageBox.StandardButton.Cancel)
    monkeypatch.setattr(QMenu, "exec", lambda *_asked: None)
    monkeypatch.setattr(QDialog, "exec", lambda self: self.reject() or 0)


def lines_of(widget: QWidget) -> list[QLineEdit]:
    found = [] if sip.isdeleted(widget) else widget.findChildren(QLineEdit)
    return [one for one in found if one.isVisible() and one.isEnabled() and not one.isReadOnly()]


def keys_of(widget: QWidget) -> list[QPushButton]:
    found = [] if sip.isdeleted(widget) else widget.findChildren(QPushButton)
    return [one for one in found if one.isVisible() and one.isEnabled() and not any(
        word in one.text() for word in LEFT_ALONE)]


class Hand:
    """Types and presses, and counts what it did."""

    def __init__(self, window: Window, texts: int, seed: int) -> None:
        self.window, self.texts, self.rng = window, texts, random.Random(seed)
        self.typed = self.pressed = 0
        self.slowest: tuple[float, str] = (0.0, "")

    def type_into(self, where: QWidget) -> None:
        """Each line there, as it stands when its turn comes."""
        for place in range(len(lines_of(where))):
            for text in self.rng.sample(NONSENSE, self.texts):
                there = lines_of(where)
                if place >= len(there):
                    return  # what was typed has made the page anew
                line, begun = there[place], time.perf_counter()
                name = line.accessibleName()
                line.setFocus()
                line.selectAll()
                if text.isascii() and text:
                    QTest.keyClicks(line, text)
                else:
                    line.insert(text)  # no key has such a sign
                QTest.keyClick(line, Qt.Key.Key_Return)
                QApplication.processEvents()
                self.typed += 1
                self.slowest = max(self.slowest, (time.perf_counter() - begun, f"{name}: {text}"))
                self.close_what_opened(where)

    def close_what_opened(self, but: QWidget) -> None:
        for dialog in self.window.findChildren(QDialog):
            if dialog.isVisible() and dialog is not but:
                dialog.reject()

    def press_through(self, leaf: QWidget) -> None:
        """Each key of a leaf that opens a dialog: its lines typed into, then each of its keys pressed."""
        for place in range(len(keys_of(leaf))):
            there = keys_of(leaf)
            if place >= len(there) or not there[place].text().endswith("…"):
                continue
            there[place].click()
            QApplication.processEvents()
            for dialog in [one for one in self.window.findChildren(QDialog) if one.isVisible()]:
                self.type_into(dialog)
                for number in range(len(keys_of(dialog))):
                    keys = keys_of(dialog)
                    if number < len(keys):
                        keys[number].click()
                        QApplication.processEvents()
                        self.pressed += 1
                if not sip.isdeleted(dialog):
                    dialog.reject()
            self.close_what_opened(leaf)


def walk(window: Window, hand: Hand, stages: tuple[StageName, ...]) -> None:
    session = window.session
    for stage in stages:
        window.show_stage(stage)
        before = session.project
        for word in window.stage.leaves.all_words:
            window.stage.leaves.turn(word)
            hand.type_into(window.stage)
            hand.press_through(window.stage)
            if window.stage.round is not None:
                window.stage.close_round()
            session.undo_stack.setIndex(0)
            assert session.project == before and window.isVisible(), (stage, word)


@pytest.mark.parametrize(("place", "texts", "stages"), [(0, 1, ("Slack",)), *(
    pytest.param(place, 8, STAGES, marks=pytest.mark.long) for place in range(5))])
def test_every_line_and_every_key_answers(
        demo_copy: Path, qtbot: Any, place: int, texts: int, stages: tuple[StageName, ...]) -> None:
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    window.session.show_axis(place)
    settle(window.session)
    hand = Hand(window, texts, place)
    walk(window, hand, stages)
    assert hand.typed > 10, hand.typed
    assert hand.slowest[0] < SLOWEST, hand.slowest
    window.close()
