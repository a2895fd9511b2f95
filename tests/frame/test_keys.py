"""The window by keys alone and by what it says aloud: trail, axes, leaves, working, tag, and a small screen."""

from __future__ import annotations

import math
import re
from datetime import datetime
from html import escape
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QEvent, QObject, QPoint, QSizeF, Qt
from PyQt6.QtGui import QFont, QTextDocument
from PyQt6.QtWidgets import QApplication, QComboBox, QLabel, QPushButton, QWidget
from tests.driving import set_all, type_in

from urban_mule.core.sheet.shown import solved_text
from urban_mule.core.sheet.stages import STAGES
from urban_mule.core.sheet.verdict import LEVELS
from urban_mule.desk.frame.new_axis import NewAxis
from urban_mule.desk.frame.window import Window
from urban_mule.desk.kit.field import Field
from urban_mule.desk.kit.theme import FAMILY
from urban_mule.desk.model.session import Session
from urban_mule.desk.model.words import label
from urban_mule.desk.out.machine import wall_html
from urban_mule.desk.out.report import DECIDING, MOST_PICTURES, PICTURED, write_report, write_tags
from urban_mule.desk.shared.pick_part import motor_from, pick_motor
from urban_mule.desk.shared.promised import standards
from urban_mule.desk.stages.beside import given_of
from urban_mule.desk.stages.motor.data_sheet import DataSheet
from urban_mule.desk.stages.motor.search_window import SearchWindow
from urban_mule.desk.stages.registry import SPECS
from urban_mule.desk.stages.scale.picture import ScalePicture
from urban_mule.desk.walk import settle
from urban_mule.store.document.made import LINK_MODELS
from urban_mule.store.document.project import Project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.library.parts import shipped_parts

CONTROL = Qt.KeyboardModifier.ControlModifier


def test_the_trail_is_walked_by_arrows_and_clicks(window: Window, qtbot: Any) -> None:
    window.show_stage("Brief")
    window.trail.setFocus()
    for stage in STAGES[1:]:
        qtbot.keyClick(window.trail, Qt.Key.Key_Right)
        assert window.trail.stage == stage and window.stage.isVisible()
    qtbot.keyClick(window.trail, Qt.Key.Key_Right)
    assert window.trail.stage == "Log", "the path ends there"
    for stage in STAGES[-2::-1]:
        qtbot.keyClick(window.trail, Qt.Key.Key_Left)
        assert window.trail.stage == stage
    for stage, place in zip(STAGES, window.trail.places(), strict=True):
        qtbot.mouseClick(window.trail, Qt.MouseButton.LeftButton, pos=QPoint(int(place.x()), int(place.y())))
        assert window.trail.stage == stage
    said = window.trail.accessibleName() + window.trail.accessibleDescription()
    assert "Log" in said or "Proof" in said


@pytest.mark.every_axis
def test_axes_are_chosen_and_added_by_keys(window: Window, qtbot: Any) -> None:
    names = [plate.axis.name for plate in window.plates.plates]
    assert [re.match(r"Axis (\w+), .+, \w+(, overdue: .+)?$", plate.accessibleName())[1] for plate in window.plates.plates] == names  # type: ignore[index]
    for plate in window.plates.plates:
        plate.setFocus()
        qtbot.keyClick(plate, Qt.Key.Key_Space)
        assert window.session.axis is plate.axis and window.tag.letter.text() == plate.axis.name
    qtbot.keyClick(window, Qt.Key.Key_Up, CONTROL)
    assert window.session.axis.name == names[-2]
    qtbot.mouseClick(window.plates.plates[0], Qt.MouseButton.LeftButton)
    assert window.session.index == 0
    window.plates.plus.setFocus()
    qtbot.keyClick(window.plates.plus, Qt.Key.Key_Space)
    form = next(w for w in window.findChildren(NewAxis) if w.isVisible())
    qtbot.keyClick(form, Qt.Key.Key_Escape)
    assert [axis.name for axis in window.session.project.axes] == names, "Escape adds nothing"


def test_the_working_goes_down_to_a_given_and_back_by_keys(window: Window, qtbot: Any) -> None:
    """From the margin down through its inputs to what somebody typed; each step shows a value, a formula and a source."""
    window.show_stage("Motor")
    window.stage.open_working("working_margin")
    slip, walked = window.stage.slip, 0
    while slip.path[-1] in window.session.sheet.quantities:
        texts = [text.text() for text in slip.findChildren(QLabel)]
        assert any(text.startswith("Source: ") and len(text) > 12 for text in texts), slip.path
        inputs = [b for b in slip.findChildren(QPushButton) if b.accessibleName() and "of the doubt" not in b.accessibleName()
                  and "→" not in b.text() and b.text() not in ("Back", "Close", "Go to the field")]
        assert inputs, slip.path
        inputs[-1].setFocus()
        qtbot.keyClick(inputs[-1], Qt.Key.Key_Space)
        walked += 1
        assert walked < 12
    assert walked >= 2 and any(b.text() == "Go to the field" for b in slip.findChildren(QPushButton))
    deep = list(slip.path)
    window.session.edit(window.session.axis_path("moving_mass"), 6.4)
    assert slip.isVisible() and slip.path == deep, "an edit refreshes the working and leaves it open"
    for depth in range(len(deep) - 1, 0, -1):
        qtbot.keyClick(slip, Qt.Key.Key_Backspace)
        assert len(slip.path) == depth
    qtbot.keyClick(slip, Qt.Key.Key_Escape)
    assert not slip.isVisible() and slip.path == []


@pytest.mark.long
def test_every_result_of_every_stage_opens_its_working_inside_the_window(window: Window, qtbot: Any) -> None:
    window.resize(1024, 720)  # the smallest that is promised
    seen, opened = 0, set[tuple[str, str]]()
    for stage in STAGES:
        window.show_stage(stage)
        for word in window.stage.leaves.all_words:
            window.stage.leaves.turn(word)
            for row in [r for r in window.stage.results.rows if r.isVisible() and (stage, r.name) not in opened]:
                opened.add((stage, row.name))
                row.setFocus()
                qtbot.keyClick(row, Qt.Key.Key_Return)
                slip = window.stage.slip
                if slip.isVisible():
                    seen += 1
                    assert window.stage.rect().contains(slip.geometry()), (stage, row.name)
                    slip.close_slip()
                assert len(row.accessibleName()) > len(row.name) / 2
    assert seen > 60


@pytest.mark.parametrize("kind", ["stepper", pytest.param("servo", marks=pytest.mark.long)])
def test_jumping_to_any_given_finds_its_field(window: Window, kind: str) -> None:
    """The working's “Go to the field”, for everything that a stage has a field for, behind another leaf too."""
    if kind == "servo":
        servo = next(part for part in shipped_parts() if part.kind == "servo")
        window.session.edit(window.session.axis_path("motor"), motor_from(servo, window.session.axis.motor))
    names = {name for spec in SPECS.values() for _, name in spec.all_fields}
    known = sorted(name for name in names if given_of(window.session, name) is not None)
    assert len(known) > 30 and "thermal_resistance" in known
    for name in known:
        window.go_to_field(name)
        here = "leads" if name in ("wiring", "figures_for") else name  # the demo's motor has four: it says nothing of wiring
        field, focus = window.stage.field(here), QApplication.focusWidget()
        assert field is not None and field.isVisible(), name
        assert focus is not None and (focus is field.editor or field.isAncestorOf(focus)), name


def test_leaves_turn_round_by_keys_and_remember_their_stage(window: Window, qtbot: Any) -> None:
    window.show_stage("Motor")
    words = window.stage.leaves.all_words
    assert len(words) > 2
    for word in (*words[1:], words[0]):
        qtbot.keyClick(window, Qt.Key.Key_PageDown, CONTROL)
        assert window.stage.leaves.word == word and window.stage.picture.isVisible()
    qtbot.keyClick(window, Qt.Key.Key_PageUp, CONTROL)
    assert window.stage.leaves.word == words[-1]
    window.show_stage("Drive")
    window.show_stage("Motor")
    assert window.stage.leaves.word == words[-1], "one comes back to where one was"


@pytest.mark.every_axis
@pytest.mark.long
def test_in_a_small_window_nothing_lies_over_anything_else(window: Window) -> None:
    """At 1024×720 siblings in one layout do not overlap and no field is squeezed, also where a servo has most to say."""
    window.resize(1024, 720)
    servo = [part for part in shipped_parts() if part.kind == "servo"][3]
    for index in range(len(window.session.project.axes)):
        window.session.show_axis(index)
        if index == 0:
            window.session.edit(window.session.axis_path("motor"), motor_from(servo, window.session.axis.motor))
        for stage in STAGES:
            window.show_stage(stage)
            QApplication.processEvents()
            for parent in [window.stage, *window.stage.findChildren(QWidget)]:
                shown = [w for w in parent.findChildren(QWidget, options=Qt.FindChildOption.FindDirectChildrenOnly)
                         if w.isVisible() and w is not window.stage.slip and isinstance(w, (QLabel, QPushButton, Field, QComboBox))]
                for place, one in enumerate(shown):
                    for other in shown[place + 1:]:
                        assert not one.geometry().intersects(other.geometry()), (stage, parent.objectName(), one, other)
            for _ in range(3):
                QApplication.processEvents()
            for field in window.stage.fields.fields:
                assert field.editor.height() >= field.editor.minimumHeight() and field.rect().contains(field.editor.geometry()), (
                    index, stage, field.name)


@pytest.mark.every_axis
def test_the_report_tells_what_the_window_shows(window: Window, tmp_path: Path) -> None:
    """Every verdict that is not unknown, every row of the tag and the deciding numbers, for each axis; names made safe."""
    session = window.session
    session.edit(("name",), "Mosaic <layer> & sons")
    session.edit(session.axis_path("name"), "X<1>")
    write_report(session, tmp_path / "report.pdf")
    book = (tmp_path / "report.html").read_text(encoding="utf-8").partition(">Log<")[2].partition("</table>")[0]
    days = [datetime.strptime(day, "%d %b %Y") for day in re.findall(r'"muted">(\d\d \w{3} \d{4})<', book)]
    assert len(days) >= 10 and days == sorted(days), "the log as it happened"
    write_tags(session, tmp_path / "tags.pdf")
    text = (tmp_path / "report.html").read_text(encoding="utf-8")
    assert "Mosaic &lt;layer&gt; &amp; sons" in text and "<layer>" not in text and "X<1>" not in text
    plain = re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", text)).replace("&#39;", "'").replace("&amp;", "&").replace("&gt;", ">")
    shown = session.index
    for index in range(len(session.project.axes)):
        session.show_axis(index)
        for stage in ("Load", "Motor", "Drive", "Slack", "Proof"):
            for verdict in session.verdicts(stage):
                if verdict.level != "unknown":
                    assert verdict.sentence.replace(""", '"') in plain.replace(""", '"'), verdict.check
        for row in window.tag.rows:
            assert row.title in plain and all(number in plain for number, _ in row.lines), row.name
        assert len(set(re.findall(rf"<tr><td>({re.escape(escape(session.axis.name))}-\d+)</td>", text))) == len(
            re.findall(rf"<tr><td>{re.escape(escape(session.axis.name))}-\d+</td>", text)) > 20, "each quantity stands once"
        standard = standards(session.project, session.state)
        for name in DECIDING:
            if session.solution.get(name) is not None:
                sure = standard(name)
                value = solved_text(session.solution, name, session.system, session.axis.unit, sure)
                assert label(name) in plain and (value.number in plain or not sure), name
    session.show_axis(shown)
    pictured = sum(min(MOST_PICTURES, sum(any(v.level != "unknown" for v in session.verdicts(stage, axis)) for stage in PICTURED))
                   for axis in session.project.axes)
    assert text.count("data:image/png;base64,") == pictured > 8
    pages = QTextDocument()
    pages.setDefaultFont(QFont(FAMILY, 9))
    pages.setPageSize(QSizeF(688, 1017))
    pages.setHtml(text[:text.index('<h2 class="page">Log')])
    assert len(session.project.axes) < pages.pageCount() <= 2 + len(session.project.axes), "one page for each axis"
    assert "Spindle S" in plain and "What is decided" in plain
    assert (tmp_path / "report.pdf").read_bytes().count(b"/Type /Page\n") >= 4
    wall = wall_html(session)
    assert "falls when the power goes" in wall and "At most" in wall and "Mosaic &lt;layer&gt;" in wall


def test_a_report_of_a_blank_project_says_that_it_knows_nothing(qtbot: Any, tmp_path: Path) -> None:
    bare = {"format": "urban-mule/1", "name": "Bare", "axes": [{"name": "X", "train": [], "motor": {"kind": "stepper"}}]}
    session = Session(ProjectFile.create(tmp_path / "bare.mule", Project.model_validate(bare)))
    write_report(session, tmp_path / "bare.pdf")
    text = (tmp_path / "bare.html").read_text(encoding="utf-8")
    said = re.sub(r"<[^>]+>", " ", text)
    assert "Bare" in said and "The torque margin cannot be judged yet" in said and re.search(r"\b(nan|inf|None)\b", said) is None
    write_tags(session, tmp_path / "tags.pdf")
    session.close()


def test_each_level_has_a_word_not_only_a_colour(window: Window, qtbot: Any) -> None:
    """What a result says aloud names its level, and it changes when the numbers do."""
    said: dict[str, dict[str, str]] = {}
    for stage in ("Motor", "Drive", "Load"):
        window.show_stage(stage)
        if stage == "Drive":
            window.stage.leaves.turn("microsteps")  # the mass says nothing of the current
        results = window.stage.results
        if not results.more.isHidden():
            results.more.click()
        said[stage] = {row.name: row.accessibleName() for row in results.rows}
        judged = [row for row in results.rows if row.level() in LEVELS and not row.isHidden()]
        assert judged and all(row.level() in row.accessibleName() for row in judged), stage
    type_in(qtbot, window.stage.field("moving_mass"), "90 kg")
    for stage in ("Load", "Motor", "Drive"):
        window.show_stage(stage)
        assert {row.name: row.accessibleName() for row in window.stage.results.rows} != said[stage], stage


def number(text: str) -> float:
    """What a side of a fraction of the Scale picture is in the controller's unit, a turn counting as one."""
    value = 1.0
    for factor in text.replace("turn", "").split("×"):
        word = factor.strip()
        if word:
            value *= math.pi if word == "π" else float(re.match(r"[\d.]+", word)[0])  # type: ignore[index]
    return value


@pytest.mark.every_axis
def test_the_fractions_of_the_scale_picture_multiply_to_the_steps_per_unit(window: Window) -> None:
    """All four axes, and C with a servo, its electronic gear and a worm; the tag then says the gear too."""
    session = window.session

    def product() -> float:
        picture = window.stage.picture
        assert isinstance(picture, ScalePicture)
        return math.prod(number(above) / number(beneath) for above, beneath, _ in picture.fractions())

    for index in range(4):
        session.show_axis(index)
        window.show_stage("Scale")
        assert product() == pytest.approx(session.solution["steps_per_unit"], rel=1e-5), session.axis.name
    servo = [part for part in shipped_parts() if part.kind == "servo"][3]
    links = ({"kind": "worm", "ratio": 40.0, "efficiency": 0.6}, {"kind": "direct"})
    session.edit_all([
        (session.axis_path("motor"), motor_from(servo, session.axis.motor)),
        (session.axis_path("train"), tuple(LINK_MODELS[str(link["kind"])].model_validate(link) for link in links)),
        (session.axis_path("driver", "electronic_gear_numerator"), 10)])
    assert product() == pytest.approx(session.solution["steps_per_unit"], rel=1e-5)
    assert session.solution["steps_per_unit"] == pytest.approx(servo.values["counts_per_turn"] / 10 * 40 / 360)
    gear = next(row for row in window.tag.rows if row.name == "electronic_gear")
    assert gear.lines == (("10", "counts"), ("1", "pulses")) and gear.differs
    set_all(window)
    assert not next(row for row in window.tag.rows if row.name == "electronic_gear").differs


class Windows(QObject):
    """Writes down every window that is shown."""

    def __init__(self) -> None:
        super().__init__()
        self.seen: list[str] = []

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.Show and isinstance(watched, QWidget) and watched.isWindow():
            self.seen.append(f"{type(watched).__name__} {watched.objectName()}".strip())
        return False


@pytest.mark.long
def test_no_window_flashes_up_and_takes_the_keys(window: Window, qtbot: Any) -> None:
    """A part shown before it has its place is a window for a moment, and the keys go there; dialogs are the only others."""
    watch = Windows()
    application = QApplication.instance()
    assert application is not None
    application.installEventFilter(watch)
    for stage in STAGES:
        window.show_stage(stage)
        for word in window.stage.leaves.all_words:
            window.stage.leaves.turn(word)
            QApplication.processEvents()
        for kind in window.stage.measure.kinds[:2] if window.stage.measure is not None else ():
            window.stage.open_round(kind)
            window.stage.close_round()
    window.session.edit(window.session.axis_path("motor"), {"kind": "servo"})
    settle(window.session)
    assert watch.seen == []
    expected = []
    for make in (NewAxis, DataSheet, SearchWindow, lambda session, parent: pick_motor(session, "servo", parent)):
        dialog = make(window.session, window)
        dialog.show()
        settle(window.session)
        expected.append(type(dialog).__name__)
        dialog.close()
    application.removeEventFilter(watch)
    assert watch.seen == expected
