"""What nobody foresaw: thrown into a slot, a paint, a worker, a dialog, a commit; the same window goes on working."""

from __future__ import annotations

import json
import sys
import threading
import time
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given as any_given
from hypothesis import strategies as st
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QLabel, QPushButton
from tests.driving import type_in
from tests.places import whose

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.progress import Cancelled
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.units import factor, unit_parts
from urban_mule.desk.app import catch_faults
from urban_mule.desk.frame.window import Window
from urban_mule.desk.kit.painting import CANNOT
from urban_mule.desk.kit.picture import Veil
from urban_mule.desk.model import first
from urban_mule.desk.shared.pick_part import pick_motor
from urban_mule.desk.stages.brief.picture import BriefPicture
from urban_mule.store import fault_log
from urban_mule.store.file.project_file import ProjectFile, Where
from urban_mule.store.text_files import BadFile, write_whole

pytestmark = pytest.mark.qt_no_exception_capture


@pytest.fixture
def told(window: Window, monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """The sentences told, with the application's own hooks in place of the tests'."""
    said: list[str] = []
    for place, name in ((sys, "excepthook"), (threading, "excepthook"), (sys, "unraisablehook")):
        monkeypatch.setattr(place, name, getattr(place, name))
    catch_faults(window.session.told.emit)
    window.session.told.connect(said.append)
    window.session.failed.connect(said.append)
    return said


def works_on(window: Window, qtbot: Any, mass: str) -> None:
    """An edit goes everywhere and into the file: the window is alive."""
    window.show_stage("Load")
    type_in(qtbot, window.stage.field("moving_mass"), mass)
    assert ProjectFile.open(window.session.path).project().axes[0].moving_mass == float(mass)
    assert not window.grab().isNull()


def fail(*_args: Any, **_named: Any) -> Any:
    raise ZeroDivisionError("a thing nobody thought of <b>")


@pytest.mark.faults
def test_a_slot_a_timer_a_dialog_and_a_thread_that_raise_are_one_sentence_each(
    window: Window, qtbot: Any, told: list[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    button = QPushButton("fails", window)
    button.clicked.connect(fail)
    button.click()
    QTimer.singleShot(0, fail)
    qtbot.waitUntil(lambda: len(told) == 2)
    dialog = pick_motor(window.session, "stepper", window)
    assert dialog is not None
    monkeypatch.setattr(dialog, "_take", fail)
    dialog.accept_button = QPushButton(dialog)  # type: ignore[attr-defined]
    dialog.accept_button.clicked.connect(dialog.accept)  # type: ignore[attr-defined]
    dialog.accept_button.click()  # type: ignore[attr-defined]
    thread = threading.Thread(target=fail)
    thread.start()
    thread.join()
    qtbot.waitUntil(lambda: len(told) == 4)
    assert all("a thing nobody thought of" in sentence and "Traceback" not in sentence for sentence in told)
    lines = fault_log.fault_log().read_text(encoding="utf-8").splitlines()
    assert len(lines) == 4 and all("ZeroDivisionError" in json.loads(line)["where"] for line in lines)
    works_on(window, qtbot, "6.5")


@pytest.mark.faults
def test_a_picture_that_cannot_be_drawn_says_so_and_comes_back(
    window: Window, qtbot: Any, told: list[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    window.show_stage("Brief")
    good = window.stage.picture.grab().toImage()
    with monkeypatch.context() as patch:
        patch.setattr(BriefPicture, "paint", fail)
        broken = window.stage.picture.grab().toImage()
    assert broken != good and window.stage.picture.grab().toImage() == good
    window.show_stage("Motor")
    picture = window.stage.picture
    monkeypatch.setattr(picture, "redraw", fail)
    window.session.edit(window.session.axis_path("motor", "holding_torque"), 1.9)
    qtbot.waitUntil(lambda: [veil.accessibleName() for veil in picture.findChildren(Veil)] == [CANNOT])
    picture.grab()
    monkeypatch.undo()
    window.session.edit(window.session.axis_path("motor", "holding_torque"), 2.0)
    qtbot.waitUntil(lambda: not any(veil.isVisible() for veil in picture.findChildren(Veil)))
    assert not told, "a picture says it in its own place"
    works_on(window, qtbot, "6.5")


def test_a_screw_by_its_pitch_opens_every_stage(window: Window, qtbot: Any, told: list[str]) -> None:
    window.session.edit(window.session.axis_path("train"), [{"kind": "screw", "thread_pitch": 0.002}])
    for stage in ("Load", "Scale", "Scale"):
        window.show_stage(stage)
        qtbot.wait(1)
        assert window.stage.picture.grab().toImage().width() > 10
    assert window.session.solution["steps_per_unit"] == pytest.approx(200 * 16 / 2) and not told


@pytest.mark.faults
def test_work_of_one_key_is_done_once_and_no_thread_is_left(window: Window, qtbot: Any, told: list[str]) -> None:
    session, done = window.session, []

    def slow(progress: Any) -> int:
        for n in range(200):
            if not progress(n, 200):
                raise Cancelled
            time.sleep(0.002)
        return 1

    for n in range(40):
        session.works.run("slow", window, slow, lambda _found, n=n: done.append(n))
    session.works.run("other", window, fail, done.append)
    qtbot.waitUntil(lambda: not session.works.busy, timeout=20_000)
    assert done == [39] and len(told) == 1 and "working on other" in told[0]
    window.show_stage("Motor")
    window.stage.leaves.turn("spread")
    for n in range(20):
        session.edit(session.axis_path("moving_mass"), 5.0 + n / 100)
    qtbot.waitUntil(lambda: not session.works.busy, timeout=20_000)
    assert threading.active_count() < 12 and len(session.works.children()) == 1, "the timer that tidies, and nothing of a job"
    works_on(window, qtbot, "6.5")


@pytest.mark.every_axis
def test_the_window_goes_first(window: Window, qtbot: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    """What a thread computes waits from a visit, a turned leaf and an edit until the window has answered, and goes on then."""
    session, found = window.session, []
    own = session.solution.own()
    monkeypatch.setattr(first.First, "until", 0.0)

    def three(_progress: Any) -> list[float]:
        return [own.changed(moving_mass=mass)["peak_torque"] for mass in (4, 5, 6)]

    for begins in (lambda: window.show_stage("Load"), lambda: window.stage.leaves.turn("cycle"), lambda: window.show_axis(1),
                   lambda: session.edit(session.axis_path("moving_mass"), 5.5), session.undo_stack.undo):
        monkeypatch.setattr(first, "WAIT", 1000.0)
        begins()
        found.clear()
        session.works.run("three", window, three, found.extend)
        qtbot.wait(40)
        assert not found and session.works.busy
        monkeypatch.setattr(first, "WAIT", 0.0)
        first.answered()
        qtbot.waitUntil(lambda: not session.works.busy, timeout=20_000)
        assert len(found) == 3 and found == sorted(found)


def test_a_solution_handed_to_a_thread_is_its_own(window: Window, qtbot: Any) -> None:
    """Five threads ask for what is not computed yet while the window edits; before, the dictionary changed under them."""
    session, faults = window.session, []

    def ask(own: Any) -> None:
        try:
            for n in range(3):
                changed = own.changed(moving_mass=3.0 + n / 10)
                for name in own.sheet.quantities:
                    if name not in ("modes", "spectrum", "time_base"):
                        assert changed.find(name) is not None
        except Exception as why:
            faults.append(why)

    threads = [threading.Thread(target=ask, args=(session.solution.own(),)) for _ in range(5)]
    for thread in threads:
        thread.start()
    for n in range(20):
        session.edit(session.axis_path("moving_mass"), 5.0 + n / 100)
        session.solution.sensitivity("working_margin")
    for thread in threads:
        thread.join()
    assert not faults
    shared = session.solution.own()
    before = dict(shared._known)
    assert not isinstance(session.solution.find("screw_life") if "screw_life" in session.sheet.quantities else 0, Unknown)
    assert shared._known == before


@pytest.mark.faults
def test_any_exception_while_saving_is_not_saved_until_it_is(
    window: Window, qtbot: Any, told: list[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    session = window.session
    entries = len(session.entries())
    with monkeypatch.context() as patch:
        for name in ("commit", "write_entry", "apply"):
            patch.setattr(session.file, name, fail)
        session.edit(session.axis_path("moving_mass"), 7.5)
        session.write("typed while nothing could be saved")
        session.hardware.put({"microsteps": 4.0})
        assert window.saved.text().startswith("NOT SAVED") and session.saving.unsaved and len(told) >= 3
        assert session.hardware.values()["microsteps"].value == 4.0 and len(session.entries()) == entries + 2
    session.saving.try_again()
    assert not session.saving.unsaved and window.saved.text().startswith("saved")
    again = ProjectFile.open(session.path)
    assert again.project().axes[0].moving_mass == 7.5 and len(again.entries()) == entries + 2
    assert again.applied()[Where(whose(again))]["microsteps"].value == 4.0
    again.close()


def test_what_people_type_is_never_markup(window: Window, qtbot: Any) -> None:
    """A name that asks for an endless file is shown letter by letter."""
    name = '<img src="/dev/zero">'
    window.session.edit(window.session.axis_path("name"), name)
    window.session.write(name)
    for stage in ("Brief", "Load", "Scale", "Log"):
        window.show_stage(stage)
        window.grab()
    window.tell(name)
    labels = window.findChildren(QLabel)
    assert any(name in label.text() for label in labels)
    for label in labels:
        assert "<" not in label.text() or label.textFormat().name == "PlainText", label.text()


def test_every_output_is_whole_or_not_there(tmp_path: Path) -> None:
    path = tmp_path / "out.json"
    write_whole(path, "former")
    path.chmod(0o640)

    def half(fresh: Path) -> None:
        fresh.write_text("hal")
        raise OSError("the disk is full")

    with pytest.raises(BadFile, match="out.json: the file cannot be written: the disk is full"):
        write_whole(path, half)
    assert path.read_text() == "former" and [p.name for p in tmp_path.iterdir()] == ["out.json"]
    link = tmp_path / "link.json"
    link.symlink_to(path)
    write_whole(link, b"new")
    assert path.read_text() == "new" and link.is_symlink() and path.stat().st_mode & 0o777 == 0o640
    for bad in (tmp_path / "no" / "x.json", tmp_path, Path("a\0b")):
        with pytest.raises(BadFile, match="cannot be written"):
            write_whole(bad, "text")


@pytest.mark.parametrize("text", ["9**9**9", "9^9^9", "m**999", "m^(9)", "(m)", "m" * 60, "m//s", "m/", "·m", "1/1", "m s-1 {}",
                                  "__import__('os')", "m;m", "exec", "m\nm" * 9, "²", "kg*"])
def test_a_text_that_is_no_unit_is_refused_and_nothing_is_computed(text: str) -> None:
    begun = time.perf_counter()
    with pytest.raises(BadValue, match="not a unit|too long|ends in a sign"):
        factor(text, "m")
    assert time.perf_counter() - begun < 10.0


@any_given(st.text(alphabet="mkgsNrad·*/^².0123456789()- _einΩµ°%", max_size=30))
def test_a_thousand_strange_units_are_units_or_a_sentence(text: str) -> None:
    try:
        assert all(isinstance(power, int) and abs(power) <= 9 for _, power in unit_parts(text))
        assert factor(text, "m") > 0
    except BadValue as why:
        assert len(str(why)) < 200


@pytest.mark.parametrize(("text", "si", "value"), [
    ("kgf·cm", "N·m", 0.0980665), ("kg m^2", "kg·m²", 1.0), ("1/min", "1/s", 1 / 60), ("in/s^2", "m/s²", 0.0254),
    ("m·s⁻¹", "m/s", 1.0), ("kW", "W", 1000.0), ("ft", "m", 0.3048), ("N·m·s", "J·s", 1.0)])
def test_units_outside_the_table_are_read_by_their_grammar(text: str, si: str, value: float) -> None:
    assert factor(text, si) == pytest.approx(value, rel=1e-9)
