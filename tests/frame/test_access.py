"""Whoever hears the window instead of seeing it, uses keys alone, or needs it larger: every stage, leaf and dialog."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import (
    QApplication,
    QComboBox,
    QLineEdit,
    QMenu,
    QWidget,
)
from tests.driving import leaf_of
from tests.layout import nameless, silent

from urban_mule.core.sheet.stages import STAGES, StageName
from urban_mule.core.subjects import KINDS
from urban_mule.desk.frame.guide import GuideWindow
from urban_mule.desk.frame.listing_window import ListingWindow
from urban_mule.desk.frame.new_axis import NewAxis
from urban_mule.desk.frame.readings_window import ReadingsWindow
from urban_mule.desk.frame.templates_window import TemplatesWindow
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model import memory
from urban_mule.desk.stages.motor.search_window import SearchWindow
from urban_mule.desk.walk import settle


def leaves_of(window: Window, stages: Iterable[StageName]) -> Iterator[str]:
    """Every leaf of these stages, shown in its turn."""
    for stage in stages:
        window.show_stage(stage)
        for word in window.stage.leaves.all_words:
            window.stage.leaves.turn(word)
            window.stage.leaves.picture.bring_up_to_date()
            yield f"{stage} {word}"


def everywhere(window: Window) -> Iterator[str]:
    """Every leaf of every stage of an axis and of a spindle."""
    yield from leaves_of(window, STAGES)
    window.show_other(0)
    yield from leaves_of(window, KINDS["spindle"].stages)


@pytest.mark.every_axis
def test_a_spindle_and_every_dialog_say_what_they_show_and_what_takes_keys_in_them(demo_copy: Path, qtbot: Any) -> None:
    """As the leaves of an axis do, see test_layout."""
    window, _ = leaf_of(demo_copy, qtbot, "Brief", "goals")
    window.show_other(0)
    for leaf in leaves_of(window, KINDS["spindle"].stages):
        qtbot.waitUntil(lambda: not window.session.works.busy, timeout=20_000)
        window.stage.leaves.picture.grab()
        assert not nameless(window) and not silent(window.stage.leaves.picture), leaf
    window.show_axis(0)
    for dialog in (ListingWindow(window.session, "x = 5", "a.log", window), TemplatesWindow(window.session, window),
                   GuideWindow("keys", window), NewAxis(window.session, window), ReadingsWindow(window.session, window),
                   SearchWindow(window.session, window)):
        dialog.show()
        assert not nameless(dialog), type(dialog).__name__
        dialog.close()
    window.close()


def test_no_two_actions_share_a_key_and_every_menu_word_is_told_apart(demo_copy: Path, qtbot: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Brief", "goals")
    keys = [action.shortcut().toString() for action in window.findChildren(QAction) if not action.shortcut().isEmpty()]
    assert len(keys) == len(set(keys)) > 30
    for menu in window.findChildren(QMenu):
        words = [action.text().replace("&", "") for action in menu.actions() if action.text()]
        assert len(words) == len(set(words)), menu.title()
        letters = [action.text().replace("&&", "").partition("&")[2][:1].lower() for action in menu.actions()]
        assert len([one for one in letters if one]) == len({one for one in letters if one}), (menu.title(), letters)
    window.close()


@pytest.mark.every_axis
def test_tab_goes_to_what_is_typed_then_to_what_follows_and_to_the_tag_last(window: Window, qtbot: Any) -> None:
    """It went by what was built first: 17 stops lay between the trail and the first field."""
    for stage in STAGES:
        window.show_stage(stage)
        settle(window.session)
        parts = (window.trail, window.stage.know.parentWidget(), window.stage.follows, window.stage.leaves, window.stage.measure,
                 window.tag, window.plates)
        window.trail.setFocus()
        met: list[QWidget] = []
        while not met or met[-1] is not window.trail:
            qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Tab)
            met.append(QApplication.focusWidget())
            assert len(met) < 120, stage
        within = [next((n for n, part in enumerate(parts) if part is not None and (part is one or part.isAncestorOf(one))), -1)
                  for one in met[:-1]]
        known = [n for n in within if n >= 0]
        assert known == sorted(known) and known[0] in (1, 2) and {5, 6} <= {*known}, (stage, within)
        first = next((n for n, one in enumerate(met, 1) if isinstance(one, (QLineEdit, QComboBox))), 0)
        assert first <= 3 or not window.stage.fields.fields, (stage, "from the trail to the first field")
        qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Backtab)
        assert QApplication.focusWidget() is met[-2], stage


@pytest.mark.parametrize("size", [150])
@pytest.mark.long
def test_all_is_as_large_as_was_wanted_from_the_next_start_on(size: int, qtbot: Any, demo_copy: Path, tmp_path: Path) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Brief", "goals")
    window.take_text_size(size)
    assert memory.text_size() == size
    window.close()
    kept = tmp_path / "config" / "urban-mule"
    kept.mkdir(parents=True)
    (kept / "last.json").write_text(f'{{"text_size": {size}}}', encoding="utf-8")
    asked = ("from urban_mule.desk.app import application, fresh_demo\nfrom urban_mule.desk.frame.window import Window\n"
             "from urban_mule.desk.model.session import Session\napp = application()\nw = Window(Session(fresh_demo()))\nw.show()\n"
             "picture = w.grab()\nprint(picture.devicePixelRatio(), picture.width() / w.width())\n")
    environment = {name: value for name, value in os.environ.items() if name != "QT_SCALE_FACTOR"}
    run = subprocess.run([sys.executable, "-c", asked], capture_output=True, text=True, check=True,
                         env=environment | {"QT_QPA_PLATFORM": "offscreen", "XDG_CONFIG_HOME": str(tmp_path / "config")})
    assert run.stdout.split() == [f"{size / 100}", f"{size / 100}"]


@pytest.mark.parametrize("kept", ['{"text_size": 900}', '{"text_size": "big"}', "[]", "no json"])
def test_a_size_that_is_none_is_the_usual_one(kept: str) -> None:
    memory.memory_file().parent.mkdir(parents=True, exist_ok=True)
    memory.memory_file().write_text(kept, encoding="utf-8")
    assert memory.text_size() == 100
