"""Tables of another layout through the real window: dropped together, told once, known again."""

from __future__ import annotations

import os
from datetime import datetime
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from urban_mule.desk.frame.mapper import ROLE, UNIT, Mapper
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model import memory
from urban_mule.desk.model.session import Session
from urban_mule.store.document.project import GaugeModel
from urban_mule.store.file.project_file import ProjectFile

ROWS = "0;0;12\n100;1;13\n200;2;14\n200;3;24\n100;2;23\n0;1;22\n"


@pytest.fixture
def window(demo_copy: Path, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Window:
    monkeypatch.setattr(memory, "memory_file", lambda: tmp_path / "memory" / "last.json")
    made = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(made)
    made.show()
    made.session.show_axis(1)
    made.show_stage("Slack")
    return made


def choose(box: Mapper, row: int, place: int, data: str) -> None:
    widget = box.table.cellWidget(row, place)
    index = widget.findData(data)  # type: ignore[union-attr]
    assert index >= 0, f"{data} is not offered"
    widget.setCurrentIndex(index)  # type: ignore[union-attr]
    widget.activated.emit(index)  # type: ignore[union-attr]


def mapper(window: Window, qtbot: Any) -> Mapper:
    qtbot.waitUntil(lambda: window.files.readings.open is not None)
    return window.findChildren(Mapper)[-1]


@pytest.mark.every_axis
def test_strange_tables_are_told_once_and_known_again(window: Window, qtbot: Any, tmp_path: Path) -> None:
    session = window.session
    session.edit(("axes", 1, "readings"), (), "none")
    paths = [tmp_path / f"{name}.csv" for name in "ab"]
    for n, path in enumerate(paths):
        path.write_text(f"made on a bench, run {n}\nhere;temp;seen\n{ROWS}mean;;18\n", encoding="utf-8")
    window.files.take_files(paths)
    box = mapper(window, qtbot)
    assert box.mapping.first == 3 and box.mapping.last == 8 and not box.take.isEnabled()
    assert "No column is the target" in box.said.text()
    qtbot.waitUntil(lambda: not window.session.works.busy)
    choose(box, ROLE, 0, "target")
    qtbot.waitUntil(lambda: "Column 1: its unit is not said" in box.said.text())
    choose(box, UNIT, 0, "mm")
    choose(box, ROLE, 2, "deviation")
    choose(box, UNIT, 2, "µm")
    qtbot.waitUntil(box.take.isEnabled)
    assert box.said.text() == "Reversal readings: 3 targets, 1 run up, 1 run down. Lines after 8 are left out.", box.said.text()
    box.take.click()
    qtbot.waitUntil(lambda: len(session.axis.readings) == 2)
    one, other = session.axis.readings
    np.testing.assert_allclose(one.down, [[22e-6, 23e-6, 24e-6]])
    np.testing.assert_allclose(one.up, other.up)
    assert one.source == "file" and window.stage.spec.name == "Slack"
    qtbot.waitUntil(lambda: window.files.readings.open is None)
    window.files.take_files([paths[1]])
    again = mapper(window, qtbot)
    qtbot.waitUntil(again.take.isEnabled)
    assert again.mapping.columns == (("target", "mm"), ("", ""), ("deviation", "µm")), "known by its heading"
    again.reject()
    qtbot.waitUntil(lambda: window.files.readings.open is None)
    assert len(session.axis.readings) == 2, "leaving it changes nothing"
    session.undo_stack.undo()
    session.undo_stack.undo()
    assert not session.axis.readings


def test_what_no_column_says_is_typed_and_a_fault_says_where(window: Window, qtbot: Any, tmp_path: Path) -> None:
    path = tmp_path / "c.csv"
    path.write_text("reached (mm)\n100,02\n100,03\n1oo\n", encoding="utf-8")
    noon = datetime(2026, 5, 3, 12).timestamp()
    os.utime(path, (noon, noon))
    window.session.edit(("gauges",), (GaugeModel(name="caliper", gauge_uncertainty=2e-5),))
    window.files.readings.take([path], ("travel",))
    box = mapper(window, qtbot)
    assert "Nothing says the commanded" in box.said.text() and box.mapping.columns == (("measured", "mm"),)
    assert box.mapping.last == 3, "what looks like no number is pale, and said"
    box.once["commanded"].setText("100")
    qtbot.waitUntil(lambda: bool(box.fault.text()) or box.take.isEnabled())
    assert box.take.isEnabled(), box.fault.text()
    box.last.setValue(4)
    qtbot.waitUntil(lambda: "line 4" in box.fault.text())
    assert not box.take.isEnabled() and "'1oo' is no number with a decimal comma" in box.fault.text()
    box.last.setValue(3)
    qtbot.waitUntil(box.take.isEnabled)
    box.gauge.setCurrentIndex(box.gauge.findData("caliper"))
    box.take.click()
    reading = window.session.axis.readings[-1]
    assert reading.gauge == "caliper" and reading.gauge_uncertainty == 2e-5, "what the file does not say, its gauge does"
    assert reading.taken == "2026-05-03" and "dated by the file: 2026-05-03" in window.stage.measure.note.text()
    assert reading.kind == "travel" and reading.commanded == pytest.approx(0.1) and window.stage.spec.name == "Scale"
