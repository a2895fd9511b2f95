"""Whatever is done at the machine or decided about it writes itself into the book, once, on the axis that it belongs to."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from tests.driving import leaf_of, set_all

from urban_mule.desk.frame.window import Window
from urban_mule.desk.walk import settle
from urban_mule.store.document.readings import READING_MODELS
from urban_mule.store.listing import Listed


@pytest.fixture
def window(demo_copy: Path, qtbot: Any) -> Iterator[Window]:
    made, _ = leaf_of(demo_copy, qtbot, "Brief", "goals")
    yield made
    made.close()


def written(window: Window, act: Callable[[], object]) -> list[tuple[str, str, str]]:
    """What came into the book by an act: axis, kind, text."""
    before = len(window.session.entries())
    act()
    return [(window.session.saving.names[one.subject], one.kind, one.said) for one in window.session.entries()[before:]]


def leaf(window: Window, stage: Any, word: str) -> Any:
    window.show_stage(stage)
    window.stage.leaves.turn(word)
    window.stage.leaves.picture.bring_up_to_date()
    return window.stage.leaves.picture


def test_setting_it(window: Window) -> None:
    told = written(window, lambda: set_all(window))
    assert told[0][:2] == ("X", "set") and told[0][2].startswith("Set on the hardware: ") and told[0][2].endswith("stored.")


def test_a_set_of_readings(window: Window) -> None:
    reading = READING_MODELS["travel"].model_validate({"kind": "travel", "commanded": 0.4, "measured": [0.4001], "source": "typed",
                                                       "note": "by the long rule"})
    told = written(window, lambda: window.session.add_reading(reading))
    assert told == [("X", "measured", "Travel readings taken: by the long rule.")]


def test_a_repair(window: Window) -> None:
    picture = leaf(window, "Slack", "repairs")
    name = next(iter(picture.listed.buttons))
    told = written(window, picture.listed.buttons[name].click)
    assert len(told) == 1 and told[0][:2] == ("X", "repaired")


def test_learning(window: Window, qtbot: Any) -> None:
    picture = leaf(window, "Brief", "trust")
    qtbot.waitUntil(lambda: picture.redraw() or "learn" in picture.buttons, timeout=30_000)
    told = written(window, picture.buttons["learn"].click)
    assert len(told) == 1 and told[0][1] == "set" and told[0][2].startswith("Learnt from ") and "→" in told[0][2]


def test_a_decision_an_answer_and_an_order(window: Window) -> None:
    decisions = leaf(window, "Brief", "decisions")
    decisions.choose(4)
    decisions.schools[0].click()
    decisions.why.setText("the shelf is full of them")
    assert written(window, decisions.write.click) == [
        ("X", "note", "Decided, motor: stepper. the shelf is full of them")]
    safety = leaf(window, "Brief", "safety")
    safety.topics.setCurrentRow(1)
    choice = safety.answers["frame earthed"]
    choice.setCurrentIndex(choice.findData("not yet"))
    assert written(window, lambda: choice.activated.emit(choice.currentIndex())) == [
        ("X", "note", "Asked of safety, frame earthed: not yet.")]
    parts = leaf(window, "Brief", "parts")
    parts.table.selectRow(1)
    parts.lines["ordered"].setText("2026-11-26")
    told = written(window, lambda: parts.enter("ordered"))
    assert told == [("X", "note", "Ordered, 2026-11-26: driver 6.2 A switch driver, 60 V.")]


@pytest.mark.every_axis
def test_what_a_controller_lists(window: Window) -> None:
    found = [Listed("X", "microsteps", 8.0, 1), Listed("Z", "microsteps", 8.0, 2)]
    told = written(window, lambda: window.session.hardware.read(found, "board.log", True, True))
    assert told == [(axis, "set", "Read from board.log: microsteps.") for axis in ("X", "Z")]


def test_a_value_and_a_revision_that_are_restored_and_named(window: Window, qtbot: Any) -> None:
    window.session.edit(window.session.axis_path("driver", "microsteps"), 32)
    picture = leaf(window, "Log", "revisions")
    picture.listed.setCurrentRow(1)
    settle(window.session)
    told = written(window, picture.changes.buttons["axis 1 driver microsteps", "Restore"].click)
    assert told == [("X", "set", "Restored one value: axis 1 driver microsteps: 16.")]
    picture.bring_up_to_date()
    picture.listed.setCurrentRow(len(picture.revisions) - 1)
    settle(window.session)
    told = written(window, picture.all.click)
    assert told[-1] == ("X", "set", "Restored the project as it was: begun.")
    picture.bring_up_to_date()
    picture.listed.setCurrentRow(0)
    picture.name.setText("as begun")
    told = written(window, lambda: qtbot.keyClick(picture.name, Qt.Key.Key_Return))
    assert len(told) == 1 and told[0][2].endswith("is called “as begun”.")


@pytest.mark.every_axis
def test_upkeep_that_is_done_and_a_first_move(window: Window) -> None:
    window.show_axis(1)
    picture = leaf(window, "Log", "due")
    name = next(name for name, _ in picture.listed.buttons if name.startswith("Y: "))
    told = written(window, picture.listed.buttons[name, "Done"].click)
    assert told == [("Y", "maintained", name.removeprefix("Y: "))]
    window.show_axis(0)
    picture = leaf(window, "Moves", "directions")
    told = written(window, lambda: picture.answer("the other way"))
    assert told == [("X", "note", "A short move each way: it went the other way.")]


def test_an_edit_alone_writes_nothing(window: Window) -> None:
    assert written(window, lambda: window.session.edit(window.session.axis_path("moving_mass"), 4.4)) == []
    assert written(window, window.session.undo_stack.undo) == []
