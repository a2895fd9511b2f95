"""The Log in the window: photographs by drop, what changes bought, revisions named and side by side, what is overdue."""

from __future__ import annotations

from datetime import timedelta
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QImage
from tests.driving import leaf_of

from urban_mule.demo.courtyard import BEGUN
from urban_mule.desk.walk import settle
from urban_mule.store.bought import ladder_of_changes
from urban_mule.store.file.project_file import Entry, ProjectFile


def test_a_photograph_is_dropped_into_the_book_and_shown_there_again(demo_copy: Path, tmp_path: Path, qtbot: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Log", "book")
    stage = window.stage
    picture = tmp_path / "pinion.png"
    QImage(80, 60, QImage.Format.Format_RGB32).save(str(picture))
    stage.line.setText("The worn pinion")
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(picture))])
    drop = QDropEvent(QPointF(50, 50), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
    stage.dropEvent(drop)
    qtbot.waitUntil(lambda: "The worn pinion" in window.session.entries()[-1].text, timeout=10_000)
    assert stage.line.text() == ""
    stage.sought.setText("worn pinion")
    assert stage.book.order.rowCount() == 1
    stage.book.selectRow(0)
    assert stage.whole.text() == "The worn pinion" and stage.shown.isVisible() and not stage.shown.icon().isNull()
    stage.sought.setText("no such thing")
    assert stage.book.order.rowCount() == 0
    stage.sought.clear()
    before = len(window.session.entries())
    for name in ("a", "b", "c"):
        (tmp_path / f"{name}.png").write_bytes(picture.read_bytes())
    data.setUrls([QUrl.fromLocalFile(str(tmp_path / f"{name}.png")) for name in ("a", "b", "c")])
    stage.dropEvent(drop)
    qtbot.waitUntil(lambda: len(window.session.entries()) == before + 3, timeout=10_000)
    assert len({entry.photograph for entry in window.session.entries()[before:]}) == 3, "each of several has a name of its own"
    kept = window.session.entries()[before - 1].photograph
    window.close()
    with_file = ProjectFile.open(demo_copy)
    assert (with_file.attachment(kept) or b"").startswith(b"\xff\xd8"), "kept as JPEG"
    with_file.close()


def test_what_a_change_bought_is_what_the_sets_say_and_what_it_cost_is_kept(demo_copy: Path, qtbot: Any) -> None:
    window, picture = leaf_of(demo_copy, qtbot, "Log", "changes")
    qtbot.waitUntil(lambda: len(picture.rungs) == 3, timeout=20_000)
    axis = window.session.axis
    gaps = [float(np.mean(one.up.mean(axis=0) - one.down.mean(axis=0))) for one in axis.readings if one.kind == "reversal"][:2]
    rung = next(one for one in picture.rungs if one.words == "backlash")
    assert (rung.before, rung.after) == pytest.approx(tuple(map(abs, gaps)), rel=0.1) and rung.cost == 18
    assert rung.share is not None and 0.5 < rung.share < 0.8 and "preload" in rung.changes[0] and "Cost" not in rung.changes[0]
    drawn = picture.listed.bars[1]
    went = f"{100 * rung.share:.0f} % of it"
    assert went in drawn.bought and drawn.cost_said == "18" and drawn.left == pytest.approx(rung.after / rung.before)
    stage = window.stage
    stage.kind.setCurrentText("repaired")
    stage.line.setText("New belt.")
    stage.cost.setText("dear")
    stage._write()
    assert stage.line.text() == "New belt.", "bad input loses nothing"
    stage.cost.setText("24,5")
    qtbot.keyClick(stage.cost, Qt.Key.Key_Return)
    written = window.session.entries()[-1]
    assert (written.text, written.cost, written.said) == ("New belt.", 24.5, "New belt. Cost: 24.5.") and stage.cost.text() == ""
    window.close()


@pytest.mark.every_axis
def test_changes_made_together_share_what_they_bought(demo_copy: Path, qtbot: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Log", "changes")
    axis, solution = window.session.axis, window.session.solution.own()
    between = BEGUN + timedelta(days=20)
    book = [Entry(between, axis.id, "repaired", "one thing.", 5.0), Entry(between, axis.id, "set", "another.", 2.5),
            Entry(between, "Y", "repaired", "of another axis"), Entry(between, axis.id, "note", "no change"),
            Entry(BEGUN + timedelta(days=400), axis.id, "repaired", "not measured since")]
    for rung in ladder_of_changes(axis, solution, book):
        assert rung.changes == ("one thing.", "another.") and rung.cost == 7.5
    window.close()


def test_a_revision_gets_a_name_and_any_two_stand_side_by_side(demo_copy: Path, qtbot: Any) -> None:
    window, leaf = leaf_of(demo_copy, qtbot, "Log", "revisions")
    window.session.edit(window.session.axis_path("moving_mass"), 7.0)
    leaf.bring_up_to_date()
    leaf.listed.setCurrentRow(1)
    settle(window.session)
    leaf.name.setText("before the heavier head")
    qtbot.keyClick(leaf.name, Qt.Key.Key_Return)
    leaf.bring_up_to_date()
    assert "“before the heavier head”" in leaf.listed.item(1).text() and "heavier head" in window.session.entries()[-1].text
    first = leaf.listed.count() - 1
    leaf.against.setCurrentIndex(leaf.against.findData(leaf.revisions[first - 1].id))
    leaf.listed.setCurrentRow(first)
    settle(window.session)
    assert [row.name for row in leaf.changes.rows] == ["axis 1 train 2 teeth"] and leaf.changes.rows[0].texts == ("20", "24")
    assert not leaf.changes.rows[0].keys, "what is beside is no longer what holds now"
    window.stage.sought.setText("heavier")
    assert sum(not leaf.listed.item(row).isHidden() for row in range(leaf.listed.count())) == 1
    window.close()


@pytest.mark.every_axis
def test_what_is_overdue_stands_on_plate_and_trail_until_it_is_booked(demo_copy: Path, qtbot: Any) -> None:
    window, leaf = leaf_of(demo_copy, qtbot, "Log", "due", axis=1)
    assert "overdue" in window.plates.plates[1].accessibleName() and window.trail.level("Log") == "tight"
    window.stage.leaves.turn("book")
    assert "overdue is" in window.stage.headline.text()
    task = window.plates.plates[1].accessibleName().split("overdue: ")[1]
    leaf.listed.buttons[f"Y: {task}", "Done"].click()
    assert "overdue" not in window.plates.plates[1].accessibleName() and window.trail.level("Log") == "good"
    qtbot.waitUntil(lambda: "overdue" not in window.stage.headline.text())
    window.close()
