"""The list of an axis' readings, through its real window: what is struck, set aside, compared, deleted and undone."""

from __future__ import annotations

import time
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtWidgets import QInputDialog

from urban_mule.desk.frame.readings_window import ReadingsWindow
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.walk import settle
from urban_mule.store.document.readings import READING_MODELS
from urban_mule.store.file.project_file import ProjectFile

pytestmark = pytest.mark.every_axis

RUNS = np.array([[-10.0, -12.0, -11.0], [-9.0, -10.0, -11.0]]) * 1e-6


def reversal(taken: str, up: np.ndarray = RUNS, **more: Any) -> Any:
    return READING_MODELS["reversal"].model_validate({
        "kind": "reversal", "taken": taken, "source": "typed", "up": up.tolist(), "down": (-RUNS).tolist(),
        "targets": [0.1, 0.2, 0.3], **more})


@pytest.fixture
def listed(demo_copy: Path, qtbot: Any) -> tuple[Window, ReadingsWindow]:
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.show()
    session = window.session
    session.show_axis(1)
    wild = RUNS.copy()
    wild[1, 2] = -11e-5
    sets = (reversal("2026-03-01T10:00:00", conditions={"microsteps": 4}), reversal("2026-03-02T10:00:00", wild))
    session.edit(("axes", 1, "readings"), sets, "two sets")
    window.show_stage("Slack")
    settle(session)
    window.show_readings()
    found = window.findChild(ReadingsWindow)
    assert found is not None
    return window, found


def answer(box: ReadingsWindow, words: str) -> None:
    ask = box.findChildren(QInputDialog)[-1]
    ask.setTextValue(words)
    ask.accept()


def test_a_wild_number_is_struck_out_and_a_set_put_aside(listed: tuple[Window, ReadingsWindow]) -> None:
    window, box = listed
    session = window.session
    backlash = session.solution.get("backlash")
    assert [row[5] for row in box.sets.source.rows] == ["counts", "counts"], "the newest on top"
    places = [row[0][0] for row in box.numbers.source.rows]
    box.numbers.selectRow(places.index("up, run 2, at 300 mm"))
    box.strike()
    answer(box, "the stand was touched")
    assert session.axis.readings[1].struck == {"up[1][2]": "the stand was touched"}
    settle(session)
    struck = session.solution.get("backlash")
    assert struck == pytest.approx(np.mean([22e-6, 20.5e-6]), rel=0.02) and struck < 0.8 * backlash, (struck, backlash)
    assert box.sets.source.rows[0][5] == "1 struck out"
    session.undo_stack.undo()
    assert session.axis.readings[1].struck is None and len(box.sets.source.rows) == 2
    box.aside()
    answer(box, "the magnet had slipped")
    settle(session)
    assert session.solution.get("backlash") == pytest.approx(np.mean([22e-6, 20e-6]), rel=0.02)
    assert "set aside: the magnet had slipped" in box.sets.source.rows[0][5]
    assert "microsteps was 4, is" in window.stage.subline.text(), window.stage.subline.text()
    box.bring_back()
    assert session.axis.last_reading("reversal") is session.axis.readings[1]


def test_two_sets_are_compared_and_deleting_can_be_undone(listed: tuple[Window, ReadingsWindow]) -> None:
    window, box = listed
    box.sets.selectAll()
    assert "Backlash: 21.0 ± 1.1 µm, then 38 ± 33 µm" in box.said.text(), box.said.text()
    box.delete()
    assert not window.session.axis.readings and "Nothing is measured" in box.said.text()
    window.session.undo_stack.undo()
    assert len(box.sets.source.rows) == 2
    window.session.edit(("axes", 1, "name"), "across", "a name")
    box.note()
    answer(box, "cold morning")
    assert "cold morning" in {one.note for one in window.session.axis.readings}


def test_two_hundred_sets_and_ten_thousand_rows_open_at_once(demo_copy: Path, qtbot: Any) -> None:
    session = Session(ProjectFile.open(demo_copy))
    many = [reversal(f"2026-03-02T{n // 60:02}:{n % 60:02}:00") for n in range(199)]
    long = np.linspace(0, 1, 10_000)
    many.append(READING_MODELS["drift"].model_validate({"kind": "drift", "taken": "2026-03-03T10:00:00", "source": "typed",
                              "time": long.tolist(), "deviation": (long * 1e-6).tolist()}))
    session.edit(("axes", 0, "readings"), tuple(many), "many")
    session.show_axis(0)
    times = []
    for _ in range(5):
        begun = time.process_time()
        box = ReadingsWindow(session)
        box.show()
        times.append(time.process_time() - begun)
        qtbot.addWidget(box)
        assert len(box.sets.source.rows) == 200 and len(box.listed) == 20_000
    assert min(times) < 0.25, f"{min(times):.3f} s; under a tenth of one on a quiet machine"


def test_the_gauge_of_a_run_is_named_afterwards_and_only_then_is_it_proven(demo_copy: Path, qtbot: Any) -> None:
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.show()
    session = window.session
    place = max(n for n, one in enumerate(session.axis.readings) if one.kind == "positioning")
    session.edit(("gauges",), None, "none")
    session.edit(("axes", 0, "readings", place, "gauge"), "", "not said")

    def levels() -> list[str]:
        return [next(v.level for v in session.verdicts() if v.check == name) for name in ("accuracy", "goals")]

    session.edit(("axes", 0, "acceleration_wanted"), None, "no such goal")
    assert levels() == ["tight", "tight"]
    window.show_readings()
    box = window.findChild(ReadingsWindow)
    assert box is not None
    box.sets.selectRow(len(session.axis.readings) - 1 - place)
    for typed, fault, expected in (("long rule, sure", "sure", ["tight", "tight"]), ("long rule", "", ["tight", "tight"]),
                                   ("long rule, 2 µm", "", ["good", "good"])):
        box.gauge()
        answer(box, typed)
        assert fault in box.fault.text() and bool(box.fault.text()) == bool(fault)
        assert levels() == expected, typed
    assert session.project.gauges[0].gauge_uncertainty == pytest.approx(2e-6)
    settle(session)
    window.close()
