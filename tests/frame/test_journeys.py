"""Whole journeys through the real window: type, read, open the working, set, measure, import, undo."""

from __future__ import annotations

import re
import time
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QLabel, QLineEdit, QPushButton
from tests.driving import assert_nothing_is_clipped, lantern_rail, level, practise, set_all, shown, type_in

from urban_mule.core.sheet.stages import STAGES
from urban_mule.desk.app import Desk, application, blank_project, open_command
from urban_mule.desk.frame.file_work import save_picture
from urban_mule.desk.frame.window import Window
from urban_mule.desk.stages.log.stage import LogStage
from urban_mule.desk.stages.moves.stage import MovesStage
from urban_mule.desk.walk import settle
from urban_mule.store.exchange.csv_readings import export_csv
from urban_mule.store.exchange.open_json import export_project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.text_files import BadFile


@pytest.mark.every_axis
@pytest.mark.long
def test_the_demo_walk(window: Window, qtbot: Any) -> None:
    """Every stage of every axis opens, says one sentence with a number, shows its picture, and clips nothing."""
    for size in ((1280, 800), (1024, 720)):
        window.resize(*size)
        for index, axis in list(enumerate(window.session.project.axes))[:: 2 if size[0] > 1200 else 3]:
            window.session.show_axis(index)
            for number, stage in enumerate(STAGES):
                qtbot.keyClick(window, Qt.Key(Qt.Key.Key_0 + (number + 1) % 10), Qt.KeyboardModifier.ControlModifier)
                qtbot.waitUntil(lambda stage=stage: window.trail.stage == stage)
                assert window.stage.headline.text(), (axis.name, stage)
                settle(window.session)  # until what has no room is left out
                setup = window.stage.setup
                picture = setup if setup is not None and setup.isVisible() else window.stage.picture
                assert picture.isVisible() and picture.height() >= 120
                assert_nothing_is_clipped(window, f"{axis.name} {stage} {size}")
    assert "34.2 Hz" in window.session.verdicts("Ring")[0].sentence or window.session.index


def test_an_edit_goes_everywhere_and_all_of_it_can_be_undone(window: Window, qtbot: Any) -> None:
    session = window.session
    before = session.project
    window.show_stage("Motor")
    tag_before = [line.row.lines for line in window.tag.lines]
    type_in(qtbot, window.stage.field("holding_torque"), "185 ozf·in")
    assert shown(window, "working_margin").startswith("1.2") and level(window, "torque margin") == "tight"
    assert "1.2" in window.stage.headline.text() or any("1.2" in v.sentence for v in session.verdicts("Motor"))
    field = window.stage.field("holding_torque")
    assert field is not None and field.unit == "ozf·in" and field.editor.text() == "185"  # type: ignore[union-attr]
    window.show_stage("Drive")
    type_in(qtbot, window.stage.show_field("microsteps"), "32")
    type_in(qtbot, window.stage.show_field("current_peak"), "4,2")
    assert shown(window, "current_rms") == "2.97 A"
    assert [line.row.lines for line in window.tag.lines] != tag_before
    assert any(row.name == "steps_per_unit" and row.lines[0][0] == "88.8889" for row in window.tag.rows)
    assert ProjectFile.open(session.path).project().axes[0].driver.microsteps == 32, "saved before anybody asks"
    assert session.undo_stack.count() == 3
    for _ in range(3):
        qtbot.keyClick(window.focusWidget(), Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert session.project is before and window.stage.show_field("microsteps").editor.text() == "16"  # type: ignore[union-attr]
    session.undo_stack.redo()
    assert session.project.axes[0].motor.holding_torque == pytest.approx(1.3064, rel=1e-3)


def test_a_wrong_field_keeps_its_text_and_the_last_good_value(window: Window, qtbot: Any) -> None:
    window.show_stage("Motor")
    field = window.stage.field("phase_resistance")
    assert field is not None and isinstance(field.editor, QLineEdit)
    for text, why in (("-2", "outside what is allowed: above 0 Ω"), ("fast", "is not a number"), ("3 kg", "not a unit that fits")):
        type_in(qtbot, field, text)
        assert field.editor.text() == text and why in field.wrong.text() and field.wrong.isVisible()
        assert window.session.project.axes[0].motor.phase_resistance == 0.5
    window.session.edit(window.session.axis_path("moving_mass"), 6.0)
    assert field.editor.text() == "3 kg", "another edit leaves the text alone"
    type_in(qtbot, field, "")
    assert window.session.project.axes[0].motor.phase_resistance is None and not field.wrong.isVisible()
    assert "not known: phase resistance is not given" in shown(window, "cycle_temperature_rise")
    type_in(qtbot, field, "0.5")
    assert level(window, "winding temperature") == "good"
    field.editor.setCursorPosition(3)
    qtbot.keyClick(field.editor, Qt.Key.Key_Up)
    assert field.editor.text() == "0.6" and window.session.project.axes[0].motor.phase_resistance == 0.6


def test_the_working_opens_by_key_goes_deeper_and_jumps_to_a_field(window: Window, qtbot: Any) -> None:
    window.show_stage("Motor")
    window.stage.leaves.turn("winding")
    row = next(r for r in window.stage.results.rows if r.name == "temperature_rise")
    row.setFocus()
    qtbot.keyClick(row, Qt.Key.Key_Return)
    slip = window.stage.slip
    assert slip.isVisible() and slip.geometry().bottom() <= window.stage.height()
    words = " ".join(label.text() for label in slip.findChildren(QLabel))
    assert "0.00393" in words and "Source" in words
    heat = next(b for b in slip.findChildren(QPushButton) if "Heat in the winding = 12.5 W" in b.text())
    qtbot.mouseClick(heat, Qt.MouseButton.LeftButton)
    assert slip.path == ["temperature_rise", "copper_loss"]
    slip.deeper("phase_resistance")
    qtbot.mouseClick(next(b for b in slip.findChildren(QPushButton) if b.text() == "Go to the field"), Qt.MouseButton.LeftButton)
    assert not slip.isVisible() and window.trail.stage == "Motor"
    window.stage.open_working("working_margin")
    qtbot.keyClick(window.stage.slip, Qt.Key.Key_Escape)
    assert not window.stage.slip.isVisible()


def test_the_tag_says_why_and_set_it_records(window: Window, qtbot: Any) -> None:
    assert not next(r for r in window.tag.rows if r.name == "steps_per_unit").differs, "the history could have happened"
    window.session.edit(window.session.axis_path("train", 1, "teeth"), 20)
    row = next(r for r in window.tag.rows if r.name == "steps_per_unit")
    assert row.on_machine == "on the machine: 44.4444" and "8 September" in row.reason
    assert "travel per motor turn was 72 mm, is 60 mm" in row.reason
    line = next(one for one in window.tag.lines if one.row.name == "steps_per_unit")
    qtbot.keyClick(line, Qt.Key.Key_Return)
    qtbot.keyClick(window.tag.survives.stored, Qt.Key.Key_Space)
    assert not next(r for r in window.tag.rows if r.name == "steps_per_unit").differs
    set_all(window)
    assert not any(r.differs for r in window.tag.rows) and not window.tag.set_all.isEnabled()
    assert any(e.kind == "set" and "shaper" in e.text for e in window.session.entries())
    window.session.edit(window.session.axis_path("driver", "microsteps"), 8)
    changed = next(r for r in window.tag.rows if r.name == "steps_per_unit")
    assert changed.differs and "microsteps was 16" in changed.reason


def test_from_a_blank_axis_to_a_tagged_and_proven_one(qtbot: Any, tmp_path: Path) -> None:
    """No calculator: three questions, the data sheet, the driver; then measure, set, prove."""
    window = lantern_rail(qtbot, tmp_path / "new.mule", practice=True)
    assert level(window, "torque margin") == "good" and level(window, "pulse rate") == "good"
    for name in ("Scale", "Slack", "Ring", "Proof"):
        window.show_stage(name)
        assert window.stage.measure is not None
        practise(window, qtbot, window.stage.measure.kind, own_process=name == "Scale")
        assert "From practice readings" in window.stage.subline.text()
    qtbot.waitUntil(lambda: not window.session.analysing, timeout=20_000)
    assert level(window, "accuracy") in ("good", "tight") and level(window, "resonance") in ("good", "tight")
    set_all(window)
    assert {"steps_per_unit", "shaper", "current_entry_value"} <= window.session.hardware.values().keys()
    again = ProjectFile.open(window.session.path)
    assert [r.kind for r in again.project().axes[0].readings] == ["travel", "reversal", "acceleration", "positioning"]
    again.close()
    window.session.undo_stack.setIndex(0)
    assert [axis.name for axis in window.session.project.axes] == ["X"]
    window.close()


@pytest.mark.every_axis
def test_a_dropped_csv_lands_in_its_stage_and_a_bad_one_changes_nothing(window: Window, qtbot: Any, tmp_path: Path) -> None:
    def drop(path: Path) -> None:
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path))])
        window.dropEvent(QDropEvent(QPointF(400, 300), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton,
                                    Qt.KeyboardModifier.NoModifier))

    good = tmp_path / "run.csv"
    good.write_text(export_csv(window.session.axis.last_reading("positioning")), encoding="utf-8")
    count = len(window.session.axis.readings)
    drop(good)
    qtbot.waitUntil(lambda: len(window.session.axis.readings) == count + 1)
    assert window.trail.stage == "Proof"
    bad = tmp_path / "bad.csv"
    bad.write_text("time [s],a [m/s²]\n0,1\nx,2\n", encoding="utf-8")
    told: list[str] = []
    window.session.told.connect(told.append)
    drop(bad)
    qtbot.waitUntil(lambda: bool(told))
    assert "line 3: time is 'x'" in told[0] and len(window.session.axis.readings) == count + 1
    wrong = tmp_path / "wrong.json"
    wrong.write_text('{"format": "urban-mule/1", "axes": []}', encoding="utf-8")
    window.files.take_files([wrong])
    qtbot.waitUntil(lambda: len(told) == 2)
    assert "axes is empty" in told[1] and len(window.session.project.axes) == 5
    other = tmp_path / "other.json"
    other.write_text(export_project(blank_project("Other")), encoding="utf-8")
    window.files.take_files([other])
    qtbot.waitUntil(lambda: [a.name for a in window.session.project.axes] == ["X"])
    assert window.session.axis.motor.holding_torque is None
    window.session.undo_stack.undo()
    assert len(window.session.project.axes) == 5


@pytest.mark.every_axis
def test_moves_axes_log_units_and_night(window: Window, qtbot: Any) -> None:
    window.show_stage("Moves")
    stage = window.stage
    assert isinstance(stage, MovesStage)
    qtbot.mouseClick(stage.cycle.back, Qt.MouseButton.LeftButton)
    assert [m.distance for m in window.session.axis.cycle] == [0.6, -0.6, -0.6], "a way back stands behind the move it answers"
    type_in(qtbot, stage.cycle.field(1, "jerk"), "200")
    assert window.session.axis.cycle[1].jerk == 200.0 and stage.cycle.row == 1
    for _ in range(3):
        qtbot.mouseClick(stage.cycle.less, Qt.MouseButton.LeftButton)
    assert window.session.axis.cycle is None and "the cycle has no move yet" in shown(window, "cycle_duration")
    window.session.undo_stack.setIndex(0)
    window.duplicate_axis()
    assert window.session.axis.name == "X2" and len(window.plates.plates) == 6
    window.remove_axis()
    assert [p.axis.name for p in window.plates.plates] == ["X", "Y", "Z", "C", "W"]
    window.session.show_axis(0)
    window.show_stage("Log")
    log = window.stage
    assert isinstance(log, LogStage)
    qtbot.keyClicks(log.line, "belt <looks> fine")
    qtbot.keyClick(log.line, Qt.Key.Key_Return)
    assert log.book.order.index(0, 3).data() == "belt <looks> fine", "the newest first, as it was typed"
    log.book.selectRow(0)
    assert log.whole.text() == "belt <looks> fine" and log.book.as_csv().endswith("X,note,belt <looks> fine\n")
    window.session.write("=1+1")
    log.book.clearSelection()
    assert "X,note,'=1+1\n" in log.book.as_csv(), "a spreadsheet runs nothing of it"
    window.other_units()
    window.show_stage("Load")
    field = window.stage.field("moving_mass")
    assert field is not None and field.unit == "lb" and field.editor.text() == "12.3459"  # type: ignore[union-attr]
    window.other_light()
    assert window.grab().toImage().pixelColor(4, 790).lightness() < 80
    window.other_light()


def test_fields_echo_nothing_and_the_session_tells_only_what_changed(window: Window, qtbot: Any) -> None:
    window.show_stage("Motor")
    told: list[frozenset[str]] = []
    window.session.changed.connect(told.append)
    window.session.edit(window.session.axis_path("motor", "thermal_resistance"), 2.0)
    assert len(told) == 1 and "temperature_rise" in told[0] and "rms_torque" not in told[0]
    window.stage.leaves.turn("winding")
    assert window.stage.field("thermal_resistance").editor.text() == "2", "the model changed, the view follows"  # type: ignore[union-attr]
    window.session.edit(window.session.axis_path("motor", "thermal_resistance"), 2.0)
    assert len(told) == 1 and window.session.undo_stack.count() == 1
    spent = []
    for n in range(12):
        start = time.perf_counter()
        window.session.edit(window.session.axis_path("moving_mass"), 5.0 + 0.1 * n)
        qtbot.wait(0)
        spent.append(time.perf_counter() - start)
    assert np.median(spent) < 0.5, "a runaway edit, not a timing claim"


@pytest.mark.long
@pytest.mark.every_axis
def test_pictures_report_and_tags_are_written(window: Window, tmp_path: Path) -> None:
    from urban_mule.desk.out.report import write_report, write_tags

    window.show_stage("Motor")
    for name in ("motor.svg", "motor.png"):
        save_picture(window.stage.picture, tmp_path / name)
        assert (tmp_path / name).stat().st_size > 2000
    with pytest.raises(BadFile, match="cannot be written"):
        save_picture(window.stage.picture, tmp_path / "no" / "motor.png")
    write_report(window.session, tmp_path / "report.pdf")
    write_tags(window.session, tmp_path / "tags.pdf")
    html = (tmp_path / "report.html").read_text(encoding="utf-8")
    assert "Courtyard mosaic layer" in html and "From practice readings" in html and html.count("<img") > 8
    assert re.search(r"<td>X-\d+</td><td>RMS torque</td><td><b>0.19\d+ ± 0.0\d+ N·m</b></td><td>T_rms = √", html)
    assert (tmp_path / "report.pdf").read_bytes().startswith(b"%PDF") and (tmp_path / "tags.pdf").stat().st_size > 5000
    window.files.copy_results()
    assert application().clipboard().text().startswith("quantity,value,unit\npeak_torque,0.65")  # type: ignore[union-attr]


def test_opening_another_file_or_a_bad_one(qtbot: Any, demo_copy: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    application()
    desk = Desk()
    first = desk.show(ProjectFile.open(demo_copy))
    told: list[str] = []
    monkeypatch.setattr(first, "tell", told.append)
    bad = tmp_path / "bad.mule"
    bad.write_bytes(b"SQLite format 3\0 and then nothing")
    first.opened.emit(("open", bad))
    assert desk.window is first and str(bad) in told[0]
    first.opened.emit(("new", tmp_path / "fresh.mule"))
    assert desk.window is not first and desk.window is not None and desk.window.session.project.name == "fresh"
    desk.window.close()
    monkeypatch.delenv("QT_QPA_PLATFORM")
    monkeypatch.delenv("DISPLAY", raising=False)
    assert open_command(None) == 2
