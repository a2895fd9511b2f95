"""What a person meets before any number: contrast, names, keyboard, empty axes that explain themselves, nothing left behind."""

from __future__ import annotations

import gc
import re
import weakref
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtGui import QColor, QFontMetrics, QImage, QPainter
from PyQt6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLabel, QLineEdit, QWidget
from tests.places import ROOT

from urban_mule.core.sheet.given import BadValue, in_a_sentence, words
from urban_mule.core.sheet.shown import value_text
from urban_mule.core.sheet.stages import STAGES
from urban_mule.core.subjects import axis_sheet
from urban_mule.desk.app import application, blank_project
from urban_mule.desk.frame.trail import climb
from urban_mule.desk.frame.window import Window
from urban_mule.desk.kit.field import Field
from urban_mule.desk.kit.painting import to_a_pause
from urban_mule.desk.kit.picture import Picture, round_step
from urban_mule.desk.kit.results import ResultRow
from urban_mule.desk.kit.theme import LIGHT, NIGHT, Palette, draw_mark, font, style_sheet
from urban_mule.desk.model.session import Session
from urban_mule.desk.model.words import label
from urban_mule.desk.stages.moves.stage import MovesStage
from urban_mule.desk.stages.registry import SPECS
from urban_mule.desk.walk import settle_sure
from urban_mule.store.document.edit import edited
from urban_mule.store.document.project import Project
from urban_mule.store.file.project_file import ProjectFile


def contrast(one: str, other: str) -> float:
    """Contrast ratio as WCAG 2 defines it."""
    def light(color: str) -> float:
        parts = [QColor(color).redF(), QColor(color).greenF(), QColor(color).blueF()]
        r, g, b = (c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in parts)
        return 0.2126 * r + 0.7152 * g + 0.0722 * b

    high, low = sorted((light(one), light(other)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("palette", [LIGHT, NIGHT], ids=["day", "night"])
def test_text_stands_out_from_what_is_behind_it(palette: Palette) -> None:
    for text in ("ink", "muted", "accent", "blue", "violet", "good", "tight", "short"):
        for ground in ("paper", "panel"):
            assert contrast(getattr(palette, text), getattr(palette, ground)) >= 4.5, (text, ground)
    assert contrast(palette.panel, palette.accent) >= 4.5, "the strong button"
    assert "@" not in style_sheet(palette).replace("@arrow@", "")


def test_every_state_has_a_shape_of_its_own() -> None:
    """In one colour the four marks still differ in what they cover."""
    application()
    shapes = {}
    for level in ("good", "tight", "short", "unknown"):
        image = QImage(24, 24, QImage.Format.Format_RGB32)
        image.fill(QColor(LIGHT.paper))
        painter = QPainter(image)
        draw_mark(painter, level, QPointF(12, 12), 8)
        painter.end()
        shapes[level] = frozenset(
            (x, y) for x in range(24) for y in range(24) if contrast(image.pixelColor(x, y).name(), LIGHT.paper) > 2)
    assert len(shapes["good"]) > len(shapes["tight"]) > len(shapes["unknown"]) > 5
    for one in shapes:
        for other in shapes:
            assert one == other or len(shapes[one] ^ shapes[other]) > 20, (one, other)


def test_the_path_climbs_where_room_is_thin() -> None:
    from urban_mule.core.sheet.verdict import Verdict

    heights = [climb(Verdict(level, "", headroom=room)) for level, room in (  # type: ignore[arg-type]
        ("good", 1.0), ("good", 0.1), ("tight", 0.9), ("tight", 0.1), ("short", 0.0))]
    assert heights == sorted(heights) and heights[0] < 0.1 and heights[-1] == 1.0


def test_every_quantity_and_given_has_a_name_people_can_read() -> None:
    for motion in ("linear", "rotary"):
        for motor in ("stepper", "servo"):
            sheet = axis_sheet(motion, motor)
            for name in (*sheet.quantities, *sheet.inputs):
                assert label(name) and "_" not in label(name), name
            for spec in SPECS.values():
                for name, check in spec.results:
                    assert check == "" or any(check == rule.name for kind in ("stepper", "servo")
                                              for rule in axis_sheet(motion, kind).checks), (spec.name, name, check)
    assert words("rms_torque") == "RMS torque"
    sheet = axis_sheet("linear", "stepper")
    assert str(value_text(sheet, "steps_per_unit", 400 / 9, "metric", axis_unit="mm")) == "44.4444 per mm"
    assert str(value_text(sheet, "step_length", 2.25e-5, "metric")) == "22.5 µm"
    assert str(value_text(sheet, "top_speed", 0.6, "inch")) == "1417 in/min"
    assert str(value_text(sheet, "peak_speed", 52.36, "metric")) == "500 rpm"
    assert value_text(sheet, "backlash", None, "metric").number == "–"


@pytest.mark.every_axis
def test_everything_that_takes_the_focus_has_a_name(window: Window, qtbot: Any) -> None:
    for stage in STAGES:
        window.show_stage(stage)
        for widget in window.stage.findChildren(QWidget):
            if widget.isVisible() and widget.focusPolicy() & Qt.FocusPolicy.TabFocus and not isinstance(widget, Field):
                named = widget.accessibleName() or (isinstance(widget, QAbstractButton) and widget.text())
                assert named, (stage, type(widget).__name__, widget.objectName())
    assert "short" in window.plates.plates[0].accessibleName() and "Motor" in window.trail.accessibleName()


def test_tab_goes_through_every_field_and_every_result(window: Window, qtbot: Any) -> None:
    window.activateWindow()
    for stage in ("Motor", "Drive", "Moves"):
        window.show_stage(stage)
        fields = window.stage.cycle.fields if isinstance(window.stage, MovesStage) else window.stage.fields.fields
        fields[0].editor.setFocus()
        reached = set()
        for _ in range(80):
            focused = QApplication.focusWidget()
            assert focused is not None
            reached.add(focused)
            qtbot.keyClick(focused, Qt.Key.Key_Tab)
        assert {f.editor for f in fields} <= reached, stage
        assert {row for row in window.stage.results.rows if not row.isHidden()} <= reached, stage


def blank_axes() -> Project:
    """Axes of every kind of which nothing is known."""
    project = blank_project("Empty")
    kinds = [{"name": "L", "motion": "linear"}, {"name": "R", "motion": "rotary", "motor": {"kind": "servo"}},
             {"name": "S", "motor": {"kind": "servo"}, "train": [{"kind": "belt"}]},
             {"name": "T", "train": [{"kind": k} for k in ("coupling", "reduction", "screw")], "motor": {"kind": "stepper"}}]
    return Project.model_validate({**dict(project), "axes": kinds})


def test_an_empty_axis_explains_itself_on_every_stage(qtbot: Any, tmp_path: Path) -> None:
    application()
    window = Window(Session(ProjectFile.create(tmp_path / "empty.mule", blank_axes())), "Brief")
    qtbot.addWidget(window)
    window.show()
    for index in range(4):
        window.session.show_axis(index)
        for stage in STAGES:
            window.show_stage(stage)
            said = window.stage.headline.text()
            assert said and "Traceback" not in said, stage
            if stage not in ("Log",):
                lacking = [words for _, words in window.stage.missing.links]
                assert lacking, stage
                assert said == f"Next: {in_a_sentence(lacking[0])}" or "cannot be judged yet" in said, (stage, said)
            for row in window.stage.results.rows:
                assert "not known: " in row.shown() and len(row.shown()) > 14, row.name
            assert not window.stage.picture.grab().isNull()
    assert window.tag.rows == [] and not window.tag.set_all.isEnabled()
    labels = [w.text() for w in window.tag.findChildren(QLabel)]
    assert any("Nothing to set yet" in text for text in labels)
    window.close()


def test_pictures_redraw_only_for_what_they_show(window: Window, qtbot: Any) -> None:
    window.show_stage("Slack")
    window.stage.finish()
    window.stage.leaves.turn("trend")
    picture = window.stage.picture
    drawn: list[int] = []
    original = picture.redraw
    picture.redraw = lambda: (drawn.append(1), original())[1]  # type: ignore[method-assign]
    window.session.edit(window.session.axis_path("motor", "thermal_resistance"), 2.5)
    qtbot.wait(1)
    assert drawn == [], "heat is not in the picture of backlash"
    window.session.edit(window.session.axis_path("accuracy_wanted"), 5e-5)
    qtbot.waitUntil(lambda: drawn == [1])
    window.show_stage("Motor")
    window.session.edit(window.session.axis_path("accuracy_wanted"), 6e-5)
    qtbot.wait(1)
    assert drawn == [1], "hidden pictures wait"
    window.show_stage("Slack")
    qtbot.waitUntil(lambda: drawn == [1, 1])


@pytest.mark.every_axis
@pytest.mark.parametrize("stage", ["Load", "Motor", "Slack", "Ring", "Log", *(pytest.param(one, marks=pytest.mark.long) for one in (
    "Brief", "Drive", "Scale", "Moves", "Proof"))])
def test_each_picture_shows_something_else_for_another_axis(window: Window, qtbot: Any, stage: str) -> None:
    """Drawn from the real numbers: two axes never give the same picture, and the same axis twice gives the same one."""
    def seen() -> bytes:
        picture: Picture = window.stage.picture
        picture.bring_up_to_date()
        QApplication.processEvents()
        image = picture.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
        bits = image.constBits()
        assert bits is not None
        return bytes(bits.asarray(image.sizeInBytes()))

    def still() -> bool:
        looks.append(seen())
        return looks[-1] == looks[-2]

    window.show_stage(stage)
    settle_sure(window.session)
    looks = [b"", seen()]
    qtbot.waitUntil(still)
    first = looks[-1]
    window.session.show_axis(2)
    qtbot.waitUntil(lambda: seen() != first)
    window.session.show_axis(0)
    settle_sure(window.session)
    qtbot.waitUntil(lambda: seen() == first, timeout=20_000)
    assert len(set(first[::97])) > 8, "a picture, not a blank"


@pytest.mark.every_axis
@pytest.mark.parametrize("axis", [pytest.param(0, marks=pytest.mark.long), 2])  # a belt, and a screw that stands upright
def test_every_picture_is_drawn_at_the_ends_of_what_is_allowed(window: Window, axis: int) -> None:
    """The greatest or the smallest of every given, by turns; a scale counted in steps of its own would never end."""
    session = window.session
    session.show_axis(axis)
    drawn = turn = 0
    for spec in SPECS.values():
        if axis and spec.name not in ("Load", "Motor", "Moves"):
            continue  # drawn alike on every axis
        window.show_stage(spec.name)
        for word in window.stage.leaves.all_words:
            window.stage.leaves.turn(word)
            for field in list(window.stage.fields.fields):
                value, turn = (1e15, 1e-14)[turn // 2 % 2], turn + 1
                if turn % 5:
                    continue  # its turn comes on another leaf
                try:
                    session.edit(field.path, value)
                except BadValue:
                    continue
                window.stage.picture.bring_up_to_date()
                window.stage.picture.grab()  # what goes wrong in it fails the test
                drawn += 1
                session.undo_stack.undo()
    assert drawn > 2


@pytest.mark.parametrize(("span", "step"), [
    (7.3, 1.0), (12.0, 2.0), (8.0, 1.0), (8.001, 2.0), (41.0, 10.0), (1.18e14, 2e13), (3e-9, 5e-10)])
def test_a_scale_is_numbered_in_round_steps(span: float, step: float) -> None:
    assert round_step(span, 8) == pytest.approx(step) and span / step <= 8 * (1 + 1e-12)


def test_a_closed_window_leaves_no_session_worker_or_file_behind(qtbot: Any, demo_copy: Path) -> None:
    application()
    left: list[weakref.ref[Session]] = []
    for _ in range(3):
        window = Window(Session(ProjectFile.open(demo_copy)))
        window.show()
        for stage in ("Load", "Ring", "Proof"):
            window.show_stage(stage)
        session = window.session
        window.close()
        assert not session.works.busy
        with pytest.raises(Exception, match="closed"):
            session.file.entries()
        left.append(weakref.ref(session))
        window.deleteLater()
        del window, session
    for _ in range(3):  # slots go with their objects, and what the slots hold with the slots
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
        QApplication.processEvents()
        gc.collect()
    assert [one() for one in left] == [None] * 3, "nothing holds on to a session whose window is gone"
    assert not demo_copy.with_suffix(".mule-wal").exists(), "the last connection is closed"


def test_the_readme_shows_every_picture_and_no_other() -> None:
    text = (ROOT / "README.md").read_text(encoding="utf-8")
    linked = set(re.findall(r"docs/screenshots/([\w-]+\.png)", text))
    kept = {path.name for path in (ROOT / "docs" / "screenshots").glob("*.png")}
    assert linked == kept and len(kept) < 20
    for link in re.findall(r"\]\(([^)#]+)\)", text):
        assert (ROOT / link).exists(), link


def test_fields_follow_the_model_both_ways_without_echo(window: Window, qtbot: Any) -> None:
    window.show_stage("Drive")
    number, choice = window.stage.field("current_peak"), None
    assert number is not None and isinstance(number.editor, QLineEdit)
    window.session.edit(number.path, 4.25)
    assert number.editor.text() == "4.25"
    count = window.session.undo_stack.count()
    number.refresh()
    number.commit()
    assert window.session.undo_stack.count() == count, "refreshing writes nothing back"
    number.editor.selectAll()
    qtbot.keyClicks(number.editor, "4.5")
    window.session.edit(window.session.axis_path("motor", "drag_torque"), 0.05)
    assert number.editor.text() == "4.5", "what is being typed is left alone"
    qtbot.keyClick(number.editor, Qt.Key.Key_Escape)
    assert number.editor.text() == "4.25" and window.session.value(number.path) == 4.25
    window.show_stage("Motor")
    choice = window.stage.field("rated_current_is")
    assert choice is not None and isinstance(choice.editor, QComboBox) and choice.editor.currentData() == "rms"
    window.session.edit(choice.path, "peak")
    assert choice.editor.currentData() == "peak"
    choice.editor.setCurrentIndex(0)
    choice.editor.activated.emit(0)
    assert window.session.value(choice.path) is None
    assert any(v.check == "kind of rated current" for v in window.session.verdicts("Motor"))


def test_up_and_down_nudge_the_digit_at_the_cursor(window: Window, qtbot: Any) -> None:
    window.show_stage("Motor")
    field = window.stage.field("supply_voltage")
    assert field is not None and isinstance(field.editor, QLineEdit)
    for text, cursor, up, result in (
            ("48", 2, True, "49"), ("48", 1, True, "58"), ("48", 0, True, "58"), ("48.5", 4, False, "48.4"),
            ("48.5", 2, True, "49.5"), ("9", 1, True, "10"), ("10", 2, False, "9"), ("0.05", 4, True, "0.06"),
            ("48 V", 2, False, "47")):
        field.editor.setText(text)
        field.editor.setCursorPosition(cursor)
        qtbot.keyClick(field.editor, Qt.Key.Key_Up if up else Qt.Key.Key_Down)
        assert field.editor.text() == result and window.session.value(field.path) == pytest.approx(float(result)), (text, cursor)


def test_results_say_their_level_aloud(window: Window, qtbot: Any) -> None:
    window.show_stage("Motor")
    row = next(r for r in window.stage.results.rows if r.name == "inertia_ratio")
    assert isinstance(row, ResultRow) and re.fullmatch(r"Inertia ratio: 13.9 (± [\d.]+ )?to 1 tight", row.accessibleName())
    window.session.edit(window.session.axis_path("motor", "rotor_inertia"), None)
    assert "not known: rotor inertia is not given" in row.accessibleName()
    assert edited(window.session.project, ("name",), "Other").name == "Other"


def test_a_line_without_room_ends_at_a_pause_of_its_sentence(qapp: object) -> None:
    metrics, text = QFontMetrics(font(13)), "2 of 3 goals are met: Ring limits the acceleration, beyond it the path bends"
    widths = range(metrics.horizontalAdvance(text), 30, -5)
    said = [to_a_pause(metrics, text, width) for width in widths]
    assert all(metrics.horizontalAdvance(one) <= width for one, width in zip(said, widths, strict=True))
    assert [*dict.fromkeys(said)][:3] == [
        text, "2 of 3 goals are met: Ring limits the acceleration …", "2 of 3 goals are met …"]
    assert said[-1].endswith("…") and text.startswith(said[-1].removesuffix("…")), "no pause fits: within a word"
