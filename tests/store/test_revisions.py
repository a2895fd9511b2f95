"""Revisions in words, and restored: a value, or all of it, and back by undo."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from tests.driving import leaf_of

from urban_mule.demo.courtyard import demo_project
from urban_mule.desk.walk import settle
from urban_mule.store.document.edit import edited
from urban_mule.store.history import differences_in_words

pytestmark = pytest.mark.every_axis


def test_what_differs_is_said_and_leads_back() -> None:
    before = demo_project()
    after = edited(edited(edited(before, ("axes", 0, "driver", "microsteps"), 8), ("axes", 1, "train", 0, "ratio"), 4.0),
                   ("axes", 2, "cycle"), None)
    found = differences_in_words(before, after)
    assert [one.words.split(": ")[0] for one in found] == ["axis 1 driver microsteps", "axis 2 train 1 ratio", "axis 3 cycle"]
    assert found[0].words.endswith("16 → 8") and found[2].words.endswith("→ nothing")
    back = after
    for one in found:
        back = edited(back, one.path, one.before)
    assert back == before and differences_in_words(before, before) == []


def test_one_value_and_a_whole_revision_are_restored_in_the_window(demo_copy: Path, qtbot: Any) -> None:
    window, leaf = leaf_of(demo_copy, qtbot, "Log", "revisions")
    session = window.session
    settle(session)
    assert "as it is now" in leaf.says()[0] and not leaf.all.isEnabled()
    session.edit(session.axis_path("driver", "microsteps"), 32)
    session.edit(session.axis_path("moving_mass"), 7.0)
    leaf.bring_up_to_date()
    leaf.listed.setCurrentRow(1)
    settle(session)
    leaf.listed.setCurrentRow(2)
    leaf.changes.buttons["axis 1 moving mass", "Restore"].click()
    assert session.axis.moving_mass == 7.0, "while one is read nothing of the one before it is restored"
    settle(session)
    assert {row.name for row in leaf.changes.rows} == {"axis 1 driver microsteps", "axis 1 moving mass"}
    qtbot.mouseClick(leaf.changes.buttons["axis 1 driver microsteps", "Restore"], Qt.MouseButton.LeftButton)
    assert session.axis.driver.microsteps == 16 and session.axis.moving_mass == 7.0
    leaf.bring_up_to_date()
    begun = len(leaf.revisions) - 1
    leaf.listed.setCurrentRow(begun)
    settle(session)
    assert "begun" in leaf.says()[0] and any(name.startswith("axis 1 train 2 teeth") for name in leaf.found)
    qtbot.mouseClick(leaf.all, Qt.MouseButton.LeftButton)
    assert session.axis.train[1].teeth == 20 and len(session.axis.readings) == 19, "what was measured since stays"
    session.undo_stack.undo()
    assert session.axis.train[1].teeth == 24 and len(session.axis.readings) == 19
    window.close()
