"""The leaves of Proof as one uses them: the table out, two axes entered by hand."""

from __future__ import annotations

import csv
import io
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog
from tests.driving import leaf_of


def test_the_table_in_the_file_is_the_one_that_was_computed(
    demo_copy: Path, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Every correction is minus the mean of the readings there, less at the start; found again here from the readings alone."""
    window, leaf = leaf_of(demo_copy, qtbot, "Proof", "corrections")
    where = tmp_path / "x.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_given: (str(where), ""))
    qtbot.mouseClick(leaf.out, Qt.MouseButton.LeftButton)
    rows = list(csv.DictReader(io.StringIO(where.read_text(encoding="utf-8"))))
    reading = window.session.solution["positioning_reading"]
    order = np.argsort(reading.targets)
    mean = (np.mean(reading.up, axis=0) + np.mean(reading.down, axis=0))[order] / 2
    assert [float(row["target [mm]"]) for row in rows] == pytest.approx(1e3 * reading.targets[order])
    corrections = np.array([float(row["correction [µm]"]) for row in rows])
    assert np.ptp(corrections + 1e6 * mean) < 0.01, "correction and mean deviation differ by a constant at most"
    steps = np.array([float(row["increment [µm]"]) for row in rows])
    assert np.cumsum(steps)[1:] - np.cumsum(steps)[0] == pytest.approx(corrections[1:] - corrections[0], abs=0.02)
    assert {row["worth"] for row in rows} <= {"yes", "no"}
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_given: (str(tmp_path / "no" / "such" / "place.csv"), ""))
    told: list[str] = []
    window.session.told.connect(told.append)
    qtbot.mouseClick(leaf.out, Qt.MouseButton.LeftButton)
    assert len(told) == 1 and "place.csv" in told[0], "a folder that is not there is one sentence"


@pytest.mark.parametrize(("typed", "said"), [
    ("", "No reading is typed yet"), ("400\n300\nfar\n499.98\n0.02", "is no number"), ("400\n300\n500.12", "here are 3 lines"),
    ("400\n300\n-3\n499.98\n0.02", "-0.003")])
def test_what_cannot_be_taken_is_said_and_what_was_typed_stays(demo_copy: Path, qtbot: Any, typed: str, said: str) -> None:
    window, leaf = leaf_of(demo_copy, qtbot, "Proof", "square")
    before = window.session.project.readings
    dialog = leaf.enter("diagonals")
    dialog.lines.setPlainText(typed)
    dialog.take()
    assert dialog.isVisible() and dialog.said.isVisible() and said in dialog.said.text(), dialog.said.text()
    assert dialog.said.text()[0].isupper() and dialog.said.text().endswith(".")
    assert dialog.lines.toPlainText() == typed and window.session.project.readings == before
    dialog.close()


@pytest.mark.every_axis
def test_diagonals_typed_give_the_angle_that_the_law_of_cosines_gives(demo_copy: Path, qtbot: Any) -> None:
    """A corner out of square by a known angle; the reading follows its axis when that is renamed, and undo takes it back."""
    window, leaf = leaf_of(demo_copy, qtbot, "Proof", "square")
    before = len(window.session.project.readings or ())
    out, a, b = 400e-6, 400.0, 300.0
    near, far = (math.sqrt(a * a + b * b - 2 * a * b * math.cos(math.pi / 2 + turn)) for turn in (out, -out))
    dialog = leaf.enter("diagonals")
    dialog.lines.setPlainText(f"{a}\n{b}\n{near:.6f}\n{far:.6f}\n0.005")
    dialog.take()
    assert len(window.session.project.readings) == before + 1
    assert abs(window.session.together["squareness_by_diagonals"]) == pytest.approx(out, rel=1e-3)
    leaf.bring_up_to_date()
    assert any(text.startswith("400 ± ") and text.endswith("µm/m") for row in leaf.listed.rows for text in row.texts)
    assert any(entry.text.startswith("Diagonals of X and Y") for entry in window.session.entries())
    window.session.undo_stack.undo()
    assert len(window.session.project.readings or ()) == before
