"""A round through the real window: typed on the keyboard alone, killed in the middle, gone on with, and what comes of it."""

from __future__ import annotations

import os
import re
import shutil
import signal
import sqlite3
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QPushButton
from tests.places import FILES

from urban_mule.bench.sessions.kinds import steps_of
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.out.cards import plan_html
from urban_mule.desk.shared.gauge_dialog import GaugeDialog
from urban_mule.desk.shared.round_view import RoundView
from urban_mule.store.document.readings import SIMULATED
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.library.gauges import own_gauges
from urban_mule.store.solve import solve_axis

KILLED = """
import os, signal, sys
import re
from pathlib import Path
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from urban_mule.desk.app import application
from urban_mule.bench.sessions.kinds import steps_of
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.store.file.project_file import ProjectFile
app = application()
window = Window(Session(ProjectFile.open(Path(sys.argv[1]))))
window.show()
window.session.edit(("gauges",), None)
window.session.show_axis(1)
window.session.edit(window.session.axis_path("readings"), ())
window.show_stage("Slack")
window.stage.open_round("reversal")
view = window.stage.round
view.plan.begin()
for number in range(8):
    QTest.keyClicks(view.editor, "-12.5" if "up" in view.step.place else "9")
    QTest.keyClick(view.editor, Qt.Key.Key_Return)
QTest.keyClicks(view.editor, "3")
os.kill(os.getpid(), signal.SIGKILL)
"""

FORMAT_2 = FILES / "format2.mule"


def number(view: RoundView, qtbot: Any, text: str) -> None:
    view.editor.clear()
    qtbot.keyClicks(view.editor, text)
    qtbot.keyClick(view.editor, Qt.Key.Key_Return)


@pytest.mark.every_axis
def test_a_round_is_typed_killed_and_gone_on_with(demo_copy: Path, qtbot: Any) -> None:
    surroundings = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    done = subprocess.run([sys.executable, "-c", KILLED, str(demo_copy)], env=surroundings, check=False)
    assert done.returncode == -signal.SIGKILL
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.show()
    window.session.show_axis(1)
    window.show_stage("Slack")
    stage = window.stage
    assert stage.setup is not None and stage.setup.isVisible() and not stage.leaves.isVisible(), "an empty stage teaches"
    button = stage.measure.rounds["reversal"]  # type: ignore[union-attr]
    assert "8 taken" in button.text()
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    view = stage.round
    assert view is not None and view.step is not None and view.round is not None and len(view.round.taken) == 8
    assert "Go to 455.9 mm, coming towards minus" in view.instruction.text() and "9 of 30" in view.count.text()
    assert not stage.leaves.isVisible() and "step by step" in stage.headline.text()
    number(view, qtbot, "nine")
    assert "is not a number" in view.question.text() and len(view.round.taken) == 8
    for _ in range(2):
        number(view, qtbot, "9.1")
    assert len(view.round.taken) == 10
    for place in range(2):
        for _ in range(5):
            number(view, qtbot, f"{-12.5 - 0.1 * place}")
        for _ in range(5):
            number(view, qtbot, f"{9 + 0.1 * place}")
        if place == 0:
            qtbot.keyClick(view.editor, Qt.Key.Key_Up)
            assert view.editor.text() == "9.0" and "Go to 71.9 mm, coming towards minus" in view.instruction.text(), "one step back"
            number(view, qtbot, "91")
            assert "ten times too large" not in view.question.text() or "91" in view.editor.text()
            if view.question.text():
                number(view, qtbot, "9.2")
            qtbot.keyClick(view.editor, Qt.Key.Key_Escape)
            assert stage.round is None and stage.setup.isVisible(), "paused"
            qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
            view = stage.round
            assert view is not None
    assert stage.round is None and window.stage.leaves.isVisible() and window.session.rounds == []
    reading = window.session.axis.last_reading("reversal")
    assert reading is not None and reading.source == "typed" and reading.up.shape == (3, 5) and not reading.practice
    assert reading.conditions["microsteps"] == 8 and reading.conditions["steps_per_unit"] == pytest.approx(69.4494, rel=1e-5)
    assert window.session.solution["backlash"] == pytest.approx(22e-6, rel=0.05)
    window.session.undo_stack.undo()
    assert window.session.axis.last_reading("reversal") is None
    window.close()


@pytest.mark.every_axis
def test_gauges_are_asked_for_once_and_their_sign_turns_what_is_typed(
    window: Window, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    window.session.edit(("gauges",), None)
    window.session.show_axis(2)
    window.show_stage("Slack")
    stage = window.stage
    stage.open_round("push")
    view = stage.round
    assert view is not None
    view.plan.fields["forces"].setText("10 x")
    view.plan.look()
    assert "no list of numbers" in view.plan.fault.text() and not view.plan.start.isEnabled()
    view.plan.fields["forces"].setText("40 60")
    view.plan.fields["repeats"].setText("1")
    view.plan.look()
    assert "4 numbers" in view.plan.preview.text() and view.plan.start.isEnabled()
    steps = steps_of("push", view.axis, view.plan.settings)
    assert "Push to plus with 40 N" in plan_html(window.session, ("push", "Z", steps, "µm", "fingers out of the train"))
    view.plan.gauge.setCurrentIndex(view.plan.gauge.count() - 1)
    view.plan.gauge.activated.emit(view.plan.gauge.count() - 1)
    asked = view.plan.findChild(GaugeDialog)
    asked.take()
    assert "has no name" in asked.said.text()
    asked.name.line.setText("dial")
    asked.unit.line.setText("furlong")
    asked.take()
    assert "no unit that a gauge reads in" in asked.said.text()
    asked.unit.line.setText("mm")
    asked.calibrated.line.setText("2024-03-12")
    asked.months.line.setText("12")
    for name, text in (("resolution", "1"), ("gauge_uncertainty", "0,002 mm")):
        asked.lines[name].line.setText(text)
    asked.boxes["sign"].setCurrentIndex(asked.boxes["sign"].findData("minus"))
    asked.take()
    assert "calibration was due 12 March 2025" in view.plan.gauges.said.text() and "shows 1 µm" in view.plan.gauges.said.text()
    assert [one.name for one in own_gauges()] == ["dial"], "it is offered in other projects too"
    first = view.plan.gauges.chosen
    view.plan.gauges.edit.click()
    changed = view.plan.findChildren(GaugeDialog)[-1]
    assert (changed.calibrated.line.text(), changed.months.line.text()) == ("2024-03-12", "12")
    changed.take()
    assert (view.plan.gauges.chosen.id, view.plan.gauges.chosen.due) == (first.id, first.due), "it is the same gauge, whole"
    view.plan.begin()
    gauge = window.session.project.gauges[0]
    assert (gauge.name, gauge.unit, gauge.sign, gauge.resolution) == ("dial", "mm", "minus", pytest.approx(1e-6))
    assert view.unit.text() == "mm"
    for text in ("-0.012", "0.012", "-0.016", "0.016"):
        number(view, qtbot, text)
    reading = window.session.axis.last_reading("push")
    assert reading.gauge == "dial" and reading.plus.tolist() == [[pytest.approx(12e-6), pytest.approx(16e-6)]]
    friction, hidden = (float(window.session.solution[name]) for name in ("friction_load", "play_hidden_by_drag"))
    start = 24e-6 - 0.4e-6 * (40 - friction) + hidden
    assert window.session.solution["free_play"] == pytest.approx(start), "where it begins to move"
    stage.open_round("reversal")
    assert stage.round is not None and stage.round.plan.gauge.currentText() == "dial", "the next round offers it"


@pytest.mark.every_axis
def test_made_up_readings_stay_in_practice_projects(window: Window, qtbot: Any, tmp_path: Path) -> None:
    session = window.session
    made_up = session.axis.readings[0]
    assert made_up.practice and session.project.practice and "PRACTICE" in window.practice.text()
    session.edit(("practice",), None)
    told: list[str] = []
    session.told.connect(told.append)
    count = len(session.axis.readings)
    assert not session.add_reading(made_up) and len(session.axis.readings) == count and "do not enter" in told[-1]
    window.show_stage("Scale")
    assert window.stage.measure is not None
    opened: list[Any] = []
    window.files.opened.connect(opened.append)
    window.files.practice_copy(tmp_path / "practice.mule")
    copy = ProjectFile.open(tmp_path / "practice.mule").project()
    assert opened == [("open", tmp_path / "practice.mule")] and copy.practice and all(not axis.readings for axis in copy.axes)


def test_a_file_of_format_2_with_made_up_readings_becomes_practice(tmp_path: Path) -> None:
    path = tmp_path / "old.mule"
    shutil.copyfile(FORMAT_2, path)
    with sqlite3.connect(path) as db:
        assert db.execute("select count(*) from reading where device = ?", (SIMULATED,)).fetchone()[0] == 3
        before = db.execute("select count(*) from revision").fetchone()[0]
    db.close()
    file = ProjectFile.open(path)
    assert file.project().practice is True and file.project(1).practice is None
    assert len(file.revisions()) == before + 2 and "practice project" in file.revisions()[-2].label
    assert path.with_suffix(".format2.mule").is_file() and file.open_rounds() == []
    file.close()
    ProjectFile.open(path).close()
    assert len(list(tmp_path.glob("*.format2*"))) == 1, "it is brought up once"


def test_what_is_struck_out_or_set_aside_does_not_count_and_stays(window: Window) -> None:
    session, axis = window.session, window.session.axis
    place = next(n for n, one in enumerate(axis.readings) if one.kind == "reversal" and one is axis.last_reading("reversal"))
    before = session.solution["backlash"]
    reading = axis.readings[place]
    session.edit(session.axis_path("readings", place, "struck"), {"up[0][0]": "bumped the stand"})
    struck = session.axis.readings[place]
    assert struck.up[0][0] == reading.up[0][0], "kept, and shown crossed"
    core = struck.core
    up = [core.up[1:, 0].mean(), *core.up[:, 1:].mean(axis=0)]
    wanted = sum(abs(u - d) for u, d in zip(up, core.down.mean(axis=0), strict=True))
    assert session.solution["backlash"] == pytest.approx(wanted / core.targets.size) and session.solution["backlash"] != before
    with pytest.raises(ValueError, match="strike the whole set instead"):
        session.edit(session.axis_path("readings", place, "struck"), {f"up[{n}][0]": "all" for n in range(len(reading.up))})
    with pytest.raises(ValueError, match="which this reading does not hold"):
        session.edit(session.axis_path("readings", place, "struck"), {"up[9][0]": "far"})
    session.edit(session.axis_path("readings", place, "aside"), "the stand was loose")
    first = [one for one in session.axis.readings if one.kind == "reversal"][-2]
    assert session.solution["backlash"] != pytest.approx(wanted / core.targets.size)
    assert session.solution["reversal_reading"] is first.core, "the set before counts again"
    again = ProjectFile.open(session.path).project()
    assert again.axes[0].readings[place].aside == "the stand was loose" and again.axes[0].readings[place].struck
    assert solve_axis(again, again.axes[0])["backlash"] == session.solution["backlash"]
    session.edit(session.axis_path("readings", place, "aside"), "")
    session.edit(session.axis_path("readings", place, "struck"), None)
    assert session.solution["backlash"] == before


def test_no_number_is_typed_for_a_record(window: Window) -> None:
    window.show_stage("Ring")
    window.stage.open_round("acceleration")
    view = window.stage.round
    assert view is not None
    view.plan.begin()
    view.editor.setText("5")
    view.take()
    assert "no number is typed" in view.question.text() and view.round is not None and not view.round.taken


def test_a_dial_on_a_stand_leads_place_by_place_with_its_sense_and_its_moves_go_out_as_a_program(
    window: Window, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    window.show_stage("Slack")
    window.stage.open_round("reversal")
    view = window.stage.round
    assert view is not None
    choose_gauge(view, "scale on the long rail")
    assert re.search(r"known to ± [12](\.\d+)? µm", view.plan.promise.text()), "its backlash of 36 µm is no scatter"
    choose_gauge(view, "dial indicator, 10 mm")
    assert "reaches 10 mm" in view.plan.gauges.said.text() and "known to ± 9 µm" in view.plan.promise.text(), "a dial leans"
    assert view.plan.presets["three places"].isChecked() and view.plan.fields["overrun"].text() == "2"
    view.plan.fields["overrun"].setText("12")
    view.plan.look()
    assert "would crush the dial" in view.plan.fault.text() and "at most 4 mm" in view.plan.fault.text()
    view.plan.presets["three places"].click()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a: (str(tmp_path / "moves.txt"), ""))
    next(one for one in view.plan.findChildren(QPushButton) if one.text() == "Moves as a program…").click()
    qtbot.waitUntil(lambda: (tmp_path / "moves.txt").is_file(), timeout=20_000)
    program = (tmp_path / "moves.txt").read_text()
    assert "Take the stand away first" in program and "go X 48" in program and "nobody between carriage and end" in program
    view.plan.begin()
    assert "pressed in by half its reach, 5 mm" in view.instruction.text() and view.is_done.isVisible()
    qtbot.mouseClick(view.is_done, Qt.MouseButton.LeftButton)
    assert "What does the gauge show now?" in view.instruction.text() and view.unit.text() == "divisions of 0.01 mm"
    number(view, qtbot, "-394")
    assert "leans by 10°" in view.question.text()
    number(view, qtbot, "-4 0")
    hidden = {"up": -1.0, "down": 1.5}
    while view.round is not None and window.stage.round is view:
        step = view.step
        if step is None:
            break
        if step.asks == "done":
            view.say_done()
        else:
            number(view, qtbot, f"{-hidden.get(step.place.partition('[')[0], -1.0):g}")
    reading = window.session.axis.last_reading("reversal")
    assert reading.gauge == "dial indicator, 10 mm" and reading.up.shape == (3, 3)
    assert window.session.solution["backlash"] == pytest.approx(25e-6), "its sense was told by the small move"
    assert window.session.solution["backlash_uncertainty"] > 3e-6, "what the dial rounds and differs by is in it"
    window.close()


def choose_gauge(view: Any, name: str) -> None:
    box = view.plan.gauge
    place = next(n for n in range(box.count()) if box.itemText(n).startswith(name))
    box.setCurrentIndex(place)
    box.activated.emit(place)
