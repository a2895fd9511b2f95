"""What a hand does on pictures and in dialogs, with the mouse as with the keys, and what comes out as tables."""

from __future__ import annotations

import csv
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QColor, QImage
from PyQt6.QtWidgets import QFileDialog
from tests.driving import begin_round, leaf_of

from urban_mule.core.moves.stall import StallTrial
from urban_mule.core.readings.two_way import TwoWayReading
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.stages.drive.banks_window import BanksWindow
from urban_mule.desk.stages.motor.scan import ScanView
from urban_mule.desk.stages.moves.stall import TrialLine
from urban_mule.desk.walk import settle
from urban_mule.store.document.readings import READING_MODELS
from urban_mule.store.file.project_file import ProjectFile


@pytest.mark.every_axis
def test_the_ring_on_the_settings_follows_the_mouse_and_tells_what_is_there(demo_copy: Path, qtbot: Any) -> None:
    """A press, a drag and a press outside: the column *here* says what that speed and acceleration come to."""
    window, picture = leaf_of(demo_copy, qtbot, "Brief", "set")
    settle(window.session)
    qtbot.waitUntil(lambda: picture.together is not None and bool(picture.together.sets), timeout=30_000)
    picture.bring_up_to_date()
    plane, best = picture.plane, picture.together.sets["best"]
    there = plane._place(0.8 * best["speed"], 0.5 * best["acceleration"])
    qtbot.mousePress(plane, Qt.MouseButton.LeftButton, pos=there.toPoint())
    assert picture.here["speed"] == pytest.approx(0.8 * best["speed"], rel=0.05)
    assert picture.here["acceleration"] == pytest.approx(0.5 * best["acceleration"], rel=0.05)
    assert picture.take["here"].isEnabled() and picture.cells["here", "torque margin"].text()
    slower = plane._place(0.4 * best["speed"], 0.5 * best["acceleration"]).toPoint()
    before = picture.here["settled_cycle_time"]
    qtbot.mouseMove(plane, slower)
    plane.mouseMoveEvent(_drag(QPointF(slower)))
    qtbot.mouseRelease(plane, Qt.MouseButton.LeftButton, pos=slower)
    assert picture.here["speed"] == pytest.approx(0.4 * best["speed"], rel=0.05) and picture.here["settled_cycle_time"] > before
    qtbot.keyClick(plane, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    coarse = picture.here["acceleration"]
    qtbot.keyClick(plane, Qt.Key.Key_Right)
    assert coarse > 0.5 * best["acceleration"] and picture.here["acceleration"] > coarse
    qtbot.mousePress(plane, Qt.MouseButton.LeftButton, pos=QPoint(plane.width() - 1, 1))
    fastest, steepest = plane._reach()
    assert picture.here["speed"] <= fastest and picture.here["acceleration"] <= steepest, "as far as the plane goes"
    speed = picture.here["speed"]
    qtbot.mouseClick(picture.take["here"], Qt.MouseButton.LeftButton)
    assert window.session.solution["top_speed"] == pytest.approx(speed, rel=1e-6)
    window.session.undo_stack.undo()
    window.close()


def _drag(at: QPointF) -> Any:
    from PyQt6.QtCore import QEvent
    from PyQt6.QtGui import QMouseEvent

    return QMouseEvent(QEvent.Type.MouseMove, at, at, Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton,
                       Qt.KeyboardModifier.NoModifier)


def test_banks_tables_and_rows_come_and_go_and_nothing_is_taken_by_cancel(demo_copy: Path, qtbot: Any) -> None:
    window, _ = leaf_of(demo_copy, qtbot, "Drive", "switches", 3)
    before = window.session.axis.driver
    window.stage.describe()
    board = window.stage.findChild(BanksWindow)
    banks = board.which.count()
    board._add_bank()
    assert board.which.count() == banks + 1
    board._add_table()
    assert board.part.count() == 2 and board.grid.rowCount() == 0
    board._all_positions()
    assert "Name 1 to" in board.holes.text(), "which switches is asked first"
    board.switches.setText("1-3")
    board.switches.textEdited.emit("1-3")
    board._all_positions()
    assert board.grid.rowCount() == 8 and [board.grid.item(row, 0).text() for row in (0, 5, 7)] == ["000", "101", "111"]
    board.grid.setCurrentCell(0, 0)
    board._remove_row()
    assert board.grid.rowCount() == 7 and board.grid.item(0, 0).text() == "001"
    board._all_positions()
    assert board.grid.rowCount() == 8, "only what is missing comes"
    board._remove_table()
    assert board.part.count() == 1
    board._remove_bank()
    assert board.which.count() == banks
    for _ in range(banks + 1):
        board._remove_bank()
    assert board.which.count() == 1 and board.grid.rowCount() == 0, "an empty one is left to begin with"
    board.reject()
    assert window.session.axis.driver == before
    window.close()


def scanned(view: ScanView, wide: int, high: int) -> None:
    """A white picture of this size, as a file holds it."""
    from PyQt6.QtCore import QBuffer

    image = QImage(wide, high, QImage.Format.Format_RGB32)
    image.fill(QColor("white"))
    buffer = QBuffer()
    buffer.open(QBuffer.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    assert view.show_picture(bytes(buffer.data()))


def test_a_place_on_a_scan_is_the_same_by_mouse_and_by_keys(qtbot: Any) -> None:
    """The cross goes where it is clicked, a pixel an arrow, ten with Shift, never off the picture; without one it asks for one."""
    view = ScanView()
    qtbot.addWidget(view)
    view.resize(600, 400)
    view.show()
    asked: list[bool] = []
    view.asked.connect(lambda: asked.append(True))
    qtbot.keyClick(view, Qt.Key.Key_Return)
    qtbot.mouseClick(view, Qt.MouseButton.LeftButton)
    assert len(asked) == 2
    scanned(view, 300, 100)
    found: list[tuple[float, float]] = []
    view.clicked.connect(lambda x, y: found.append((x, y)))
    qtbot.keyClick(view, Qt.Key.Key_Return)
    assert found == [(150.0, 50.0)], "it begins in the middle"
    for key, modifier in ((Qt.Key.Key_Right, Qt.KeyboardModifier.NoModifier), (Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)):
        qtbot.keyClick(view, key, modifier)
    qtbot.keyClick(view, Qt.Key.Key_Space)
    assert found[-1] == (151.0, 40.0)
    qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.place_of(30.0, 20.0).toPoint())
    assert found[-1] == pytest.approx((30.0, 20.0), abs=0.6)
    for _ in range(30):
        qtbot.keyClick(view, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    qtbot.keyClick(view, Qt.Key.Key_Enter)
    assert found[-1][0] == 0.0
    qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(599, 399))
    assert found[-1] == pytest.approx((300.0, 100.0), abs=0.6), "beside it is its edge"
    view.show_marks(((0.0, 0.0), "0"), [(10.0, 10.0)])
    assert not view.show_picture(b"no picture") and not view.show_picture(None)


def test_a_chart_of_trials_names_them_and_what_follows(qtbot: Any) -> None:
    """Thresholds of a stall detection in a row: what a reader hears is what is painted, one that crowds keeps its colour."""
    scale = TrialLine()
    qtbot.addWidget(scale)
    scale.resize(700, 160)
    scale.show()
    scale.show_trials(None, None, (), None, None)
    assert scale.accessibleName() == "Thresholds: no trial yet"
    empty = scale.grab().toImage()
    trials = (StallTrial(10, "early"), StallTrial(40, "crashed"), StallTrial(26, "good"), StallTrial(27, "good"))
    scale.show_trials(0, 63, trials, 30, None)
    assert scale.accessibleName() == "Thresholds from 0 to 63: 10 early, 40 crashed, 26 good, 27 good"
    asked = scale.grab().toImage()
    scale.show_trials(0, 63, trials, None, 26)
    assert empty != asked and asked != scale.grab().toImage()


def wavy(window: Window) -> tuple[float, float]:
    """A positioning run of X with a wave of its motor's turn in it; its amplitude and period [m]."""
    session = window.session
    period, amplitude = float(session.solution["travel_per_turn"]), 14e-6
    rng, targets = np.random.default_rng(3), np.round(np.linspace(0.0, 7.3 * period, 31), 5)
    middle = amplitude * np.sin(2 * math.pi * targets / period + 0.7)
    up, down = (middle + off + rng.normal(0, 5e-7, (5, targets.size)) for off in (4e-6, -4e-6))
    reading = READING_MODELS["positioning"].model_validate({
        "kind": "positioning", "taken": "2026-11-02T10:00:00+00:00", "source": "typed", "targets": targets.tolist(),
        "up": up.tolist(), "down": down.tolist()})
    session.edit(session.axis_path("readings"), (*session.axis.readings, reading), "a run with a wave")
    settle(session)
    assert isinstance(session.solution["positioning_reading"], TwoWayReading)
    return amplitude, period


@pytest.mark.every_axis
def test_what_repeats_goes_out_as_a_table_that_follows_it(
        demo_copy: Path, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    window, picture = leaf_of(demo_copy, qtbot, "Proof", "corrections")
    amplitude, period = wavy(window)
    picture.bring_up_to_date()
    out = tmp_path / "waves.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(out), ""))
    assert picture.waves.isVisibleTo(picture) and "A wave repeats with" in picture.said.text()
    qtbot.mouseClick(picture.waves, Qt.MouseButton.LeftButton)
    rows = list(csv.reader(out.read_text(encoding="utf-8").splitlines()))
    gap = rows.index([])
    (name, long, high, phase), table = rows[1], rows[gap + 2:]
    assert name in ("each turn of the motor", "each turn of the pulley") and float(long) == pytest.approx(1e3 * period)
    assert float(high) == pytest.approx(1e6 * amplitude, rel=0.05) and float(phase) == pytest.approx(math.degrees(0.7), abs=4)
    places, off = (np.array([float(row[column]) for row in table]) for column in (0, 1))
    assert np.diff(places) == pytest.approx(1e3 * period / 4, rel=1e-6), "four places a period"
    wave = amplitude * np.sin(2 * math.pi * places / (1e3 * period) + 0.7)
    assert np.abs(off * 1e-6 + wave).max() < 0.08 * amplitude, "what the table adds takes the wave away"
    told: list[str] = []
    window.session.told.connect(told.append)
    out.unlink()
    out.mkdir()
    qtbot.mouseClick(picture.waves, Qt.MouseButton.LeftButton)
    assert len(told) == 1 and "waves.csv" in told[0] and out.is_dir(), "a place that cannot be written is one sentence"
    window.close()


def by_gauge(plan: Any, name: str) -> None:
    """Choose a gauge as a hand does."""
    plan.gauge.setCurrentIndex(plan.gauge.findText(name))
    plan.gauge.activated.emit(plan.gauge.currentIndex())


def test_faces_of_a_step_gauge_are_typed_as_stacks_and_come_from_a_table(demo_copy: Path, qtbot: Any, tmp_path: Path) -> None:
    """Wrung stacks as sums, their own uncertainty, and lengths from a file; what is no table says so."""
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.show()
    gauges = window.session.project.gauges or ()
    stepped = gauges[0].model_copy(update={"id": "feedbeef00000001", "name": "step gauge", "gauge_kind": "step gauge"})
    window.session.edit(("gauges",), (*gauges, stepped), "a step gauge")
    window.show_stage("Proof")
    window.stage.open_round("positioning")
    plan = window.stage.round.plan
    by_gauge(plan, "step gauge")
    assert plan.faces.isVisibleTo(plan)
    plan.fields["targets"].setText("0 50 50+1.005 100")
    plan.faces.each.setText("0.3")
    plan.look()
    settings = plan.settings
    assert settings["targets"] == "0 50 51.005 100"
    assert settings["reference_uncertainty"] == pytest.approx(0.3e-6 * math.sqrt(2)), "of the highest stack"
    plan.fields["targets"].setText("0 fifty")
    plan.look()
    assert "“0 fifty” is no list of numbers" in plan.fault.text() and not plan.start.isEnabled(), "with a sentence, and what is"
    lengths = tmp_path / "faces.csv"
    lengths.write_text("face;length\n1;20,0004\n2;40,0009\n3;60,0011\n", encoding="utf-8")
    plan.faces.take(lengths)
    assert plan.faces.said.text() == "" and "1" in plan.fields["targets"].text()
    lengths.write_text("nothing here\n", encoding="utf-8")
    plan.faces.take(lengths)
    assert "fewer than two lengths" in plan.faces.said.text()
    window.close()


def test_a_number_of_a_round_is_read_by_what_its_gauge_says_of_itself(demo_copy: Path, qtbot: Any) -> None:
    """Divisions of a dial, turns and divisions, a unit that is typed, and the sign of a gauge that counts towards minus."""
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.show()
    gauges = window.session.project.gauges or ()
    dial = gauges[0].model_copy(update={
        "id": "feedbeef00000002", "name": "backwards dial", "gauge_kind": "dial", "read_as": "divisions", "resolution": 1e-5,
        "sign": "minus", "unit": "mm", "reach": None})
    window.session.edit(("gauges",), (*gauges, dial), "a dial")
    window.show_stage("Slack")
    window.stage.open_round("reversal")
    plan = window.stage.round.plan
    by_gauge(plan, "backwards dial")
    qtbot.mouseClick(plan.start, Qt.MouseButton.LeftButton)
    view = window.stage.round
    typed, step = view.typed, next(one for one in view.steps if "[" in one.place and not one.place.startswith(("stand", "sense")))
    assert typed.counts_in == "divisions of 0.01 mm" and typed.unit == "mm"
    for text, value in (("3", -3e-5), ("-2,5", 2.5e-5), ("1 20", -1.2e-3), ("0.02 mm", -2e-5), ("15 µm", -1.5e-5)):
        assert typed.read(step, text) == pytest.approx(value), text
    for wrong in ("1 2 3", "a lot", "", "1e999", "1e300 m", "nan"):
        with pytest.raises(ValueError):
            typed.read(step, wrong)
    window.close()


def test_a_round_gone_back_in_keeps_what_was_typed_before(demo_copy: Path, qtbot: Any) -> None:
    """Up goes back, the number stands there to be typed anew, Down goes on without a change, and what it was is kept."""
    window = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(window)
    window.show()
    window.show_stage("Slack")
    view = begin_round(window, qtbot, "push", {})
    for text in ("12", "14", "9"):
        view.editor.setText(text)
        qtbot.keyClick(view.editor, Qt.Key.Key_Return)
        if view.question.text():
            qtbot.keyClick(view.editor, Qt.Key.Key_Return)
    taken = [one["typed"] for one in view.round.taken]
    assert len(taken) >= 2
    qtbot.keyClick(view.editor, Qt.Key.Key_Up)
    assert view.editor.text() == taken[-1] and "typed anew" in view.count.text()
    qtbot.keyClick(view.editor, Qt.Key.Key_Down)
    assert [one["typed"] for one in view.round.taken] == taken
    qtbot.keyClick(view.editor, Qt.Key.Key_Up)
    view.editor.setText("13")
    qtbot.keyClick(view.editor, Qt.Key.Key_Return)
    if view.question.text():
        qtbot.keyClick(view.editor, Qt.Key.Key_Return)
    last = view.round.taken[len(taken) - 1]
    assert last["typed"] == "13" and last["was"] == [taken[-1]], "what it was is not lost"
    view.pause()
    kept = window.session.rounds[-1]
    assert kept.taken[len(taken) - 1]["was"] == [taken[-1]]
    window.close()
