"""The promise of the project file: what was shown as saved survives, what is not saved says so, what comes in can do nothing."""

from __future__ import annotations

import json
import shutil
import signal
import sqlite3
import subprocess
import sys
import time
from contextlib import closing
from datetime import date
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from tests.places import whose
from tests.store.machine import FORMAT_3, MASS, MOMENT, SMALL

from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.store.document.edit import edited
from urban_mule.store.document.plain import plain
from urban_mule.store.document.project import Project
from urban_mule.store.document.readings import LATER, READING_MODELS
from urban_mule.store.file.backups import KEPT, back_up, backups_of
from urban_mule.store.file.project_file import ProjectFile, Where
from urban_mule.store.file.salvage import verify
from urban_mule.store.solve import solve_axis
from urban_mule.store.text_files import BadFile

pytestmark = pytest.mark.every_axis


def mass(path: Path) -> float:
    with closing(ProjectFile.open(path)) as file:
        return float(file.project().axes[0].moving_mass)


# What is in the file


def test_between_two_edits_the_file_alone_is_whole(path: Path, tmp_path: Path) -> None:
    file = ProjectFile.open(path)
    project = file.project()
    for n in range(40):
        project = edited(project, MASS, 1.0 + n)
        file.commit(project, "mass")
        alone = Path(shutil.copyfile(path, tmp_path / "elsewhere" / "copy.mule")) if n else _folder(tmp_path / "elsewhere") / "none"
        if n:
            with sqlite3.connect(alone) as db:
                assert db.execute("select count(*) from revision").fetchone()[0] == n + 2
            db.close()
    assert mass(alone) == 40.0
    file.close()
    assert sorted(one.name for one in tmp_path.glob("machine*")) == ["machine.mule"], "nothing lies beside it"


def _folder(path: Path) -> Path:
    path.mkdir()
    return path


@pytest.mark.parametrize("away", ["deleted", "moved", "replaced"])
def test_a_file_taken_away_while_open_says_so_and_is_saved_elsewhere(path: Path, tmp_path: Path, away: str, qtbot: Any) -> None:
    window = Window(Session(ProjectFile.open(path)))
    qtbot.addWidget(window)
    window.show()
    session = window.session
    other = tmp_path / "other.mule"
    ProjectFile.create(other, edited(SMALL, MASS, 99.0)).close()
    foreign = other.read_bytes()
    match away:
        case "deleted":
            path.unlink()
        case "moved":
            path.rename(tmp_path / "moved.mule")
        case _:
            other.replace(path)
    session.edit(MASS, 7.0)
    session.write("typed meanwhile")
    session.hardware.put({"microsteps": 8.0})
    assert session.saving.unsaved and window.saved.text().startswith("NOT SAVED")
    box = next(one for one in window.findChildren(object) if getattr(one, "objectName", str)() == "not saved")
    assert "while it was open" in box.text() and "Save elsewhere…" in [button.text() for button in box.buttons()]
    box.close()
    if away == "replaced":
        assert path.read_bytes() == foreign, "the other file is not touched"
    window.close()
    assert not window.isHidden(), "closing asks first"
    session.saving.move_to(tmp_path / "new.mule")
    assert not session.saving.unsaved and session.path == tmp_path / "new.mule"
    session.edit(MASS, 8.0)
    window.close()
    with closing(ProjectFile.open(tmp_path / "new.mule")) as again:
        assert again.project().axes[0].moving_mass == 8.0 and again.entries()[-2].text == "typed meanwhile"
        assert again.applied()[Where(whose(again))]["microsteps"].value == 8.0


def test_one_writer_a_file_the_second_window_only_looks(path: Path, qtbot: Any) -> None:
    first, told = Session(ProjectFile.open(path)), list[str]()
    second = Session(ProjectFile.open(path))
    assert second.file.read_only == "another window has it open"
    second.told.connect(told.append)
    second.edit(MASS, 5.0)
    second.write("no")
    second.hardware.put({"microsteps": 1.0})
    assert second.project.axes[0].moving_mass == SMALL.axes[0].moving_mass and "Save a copy" in told[0]
    assert not second.entries() and not second.saving.unsaved
    first.edit(MASS, 6.0)
    assert not first.saving.unsaved
    second.close()
    first.close()
    with closing(ProjectFile.open(path)) as third:
        assert not third.read_only and third.project().axes[0].moving_mass == 6.0


def test_somebody_who_writes_past_the_lock_is_not_overwritten(path: Path) -> None:
    file = ProjectFile.open(path)
    project = file.project()
    with sqlite3.connect(path) as db:
        db.execute("insert into revision (time, label, document, digest) select time, 'foreign', document, digest from revision")
    db.close()
    with pytest.raises(BadFile, match="somebody else has written into the file"):
        file.commit(edited(project, MASS, 2.0), "mine")
    file.close()


def test_a_backup_put_back_after_a_crash_is_not_destroyed_by_what_lay_beside_it(tmp_path: Path) -> None:
    """A process is killed in the middle of a transaction, its journal stays; then an older copy is put in the file's place."""
    path, code = tmp_path / "crashed.mule", (
        "import os, signal, sqlite3, sys\n"
        "from pathlib import Path\n"
        "from urban_mule.store.file.project_file import ProjectFile\n"
        "file = ProjectFile.open(Path(sys.argv[1]))\n"
        "db = file._db\n"
        "db.execute('pragma cache_size = 10'); db.execute('pragma cache_spill = on')\n"
        "db.execute('begin immediate')\n"
        "db.execute(\"update revision set label = label || 'spoilt'\")\n"
        "db.executemany('insert into entry (time, subject, kind, text) values (?, ?, ?, ?)',"
        " [('2026-01-01', 'X', 'note', 'x' * 3000)] * 400)\n"
        "os.kill(os.getpid(), signal.SIGKILL)\n")
    ProjectFile.create(path, SMALL).close()
    older = path.read_bytes()
    with closing(ProjectFile.open(path)) as file:
        project = file.project()
        for n in range(30):
            project = edited(project, MASS, 50.0 + n)
            file.commit(project, "mass")
    whole = path.read_bytes()
    for put_back in (False, True):
        path.write_bytes(whole)
        subprocess.run([sys.executable, "-c", code, str(path)], check=False)
        journal = path.with_name("crashed.mule-journal")
        assert journal.stat().st_size > 512 and path.read_bytes() != whole, "the kill came in the middle"
        if put_back:
            path.write_bytes(older)
        assert mass(path) == (SMALL.axes[0].moving_mass if put_back else 79.0)
        assert verify(path) == []
        assert bool(list(tmp_path.glob("*.of-another-state"))) is put_back


def test_a_log_of_an_older_release_is_taken_in_or_set_aside(tmp_path: Path) -> None:
    path = tmp_path / "old.mule"
    shutil.copyfile(FORMAT_3, path)
    with closing(sqlite3.connect(path)) as db:
        db.execute("pragma journal_mode = wal")
        db.execute(f"insert into entry (time, axis, kind, text) values ({MOMENT}, 'X', 'note', 'in the log only')")
        db.commit()
        shutil.copyfile(path, tmp_path / "kept.mule")
        shutil.copyfile(f"{path}-wal", tmp_path / "kept.mule-wal")
    kept = tmp_path / "kept.mule"
    with closing(ProjectFile.open(kept)) as file:
        assert file.entries()[-1].text == "in the log only" and len(file.revisions()) == 17
    assert verify(kept) == []


@pytest.mark.parametrize("format_", [1, 3])
def test_older_files_come_up_whole_with_their_readings(tmp_path: Path, format_: int) -> None:
    path = tmp_path / "old.mule"
    shutil.copyfile(Path(__file__).parents[1] / "files" / f"format{format_}.mule", path)
    with closing(sqlite3.connect(path)) as db:
        data = {name: json.loads(text) for name, text in db.execute("select id, data from reading")}
    with closing(ProjectFile.open(path)) as file:
        readings = file.project().axes[0].readings
        assert len(readings) == len(data) or format_ == 1
        for reading in readings:
            said = next(one for one in data.values() if one["kind"] == reading.kind)
            for name, value in said.items():
                found = getattr(reading, name)
                assert (found.tolist() if hasattr(found, "tolist") else found) == value
        if format_ == 3:
            assert [one["key"] for one in file.open_rounds()] == ["k1"] and file.entries()[-1].text == "µ and “quotes”"
            assert file.applied()[Where(whose(file))]["switches"].value == "01001100"
    assert verify(path) == []


@pytest.mark.long
def test_making_a_project_is_done_whole_or_not_at_all(tmp_path: Path) -> None:
    code = ("import sys\nfrom pathlib import Path\nfrom urban_mule.demo.courtyard import demo_project\n"
            "from urban_mule.store.file.project_file import ProjectFile\nproject = demo_project()\nprint('go', flush=True)\n"
            "for n in range(1000):\n    ProjectFile.create(Path(sys.argv[1]) / f'{n}.mule', project).close()\n")
    for delay in (0.0, 0.004, 0.013, 0.03, 0.08):
        folder = tmp_path / f"{delay}"
        folder.mkdir()
        process = subprocess.Popen([sys.executable, "-c", code, str(folder)], stdout=subprocess.PIPE)
        assert process.stdout is not None
        process.stdout.readline()
        time.sleep(delay)
        process.send_signal(signal.SIGKILL)
        process.wait()
        process.stdout.close()
        for made in sorted(folder.glob("[0-9]*.mule")):
            assert len(_project(made).axes) == 5, "whatever bears the name of a project opens"
    target = tmp_path / "taken.mule"
    target.write_text("mine")
    with pytest.raises(BadFile, match="there is a file already"):
        ProjectFile.create(target, SMALL)
    assert target.read_text() == "mine"


def _project(path: Path) -> Project:
    with closing(ProjectFile.open(path)) as file:
        return file.project()


def test_a_copy_of_each_day_is_kept_and_the_oldest_go(path: Path) -> None:
    for day in range(1, 12):
        assert back_up(path, date(2026, 3, day)) is not None and back_up(path, date(2026, 3, day)) is None
    kept = backups_of(path)
    assert len(kept) == KEPT and kept[-1].name.endswith("2026-03-11.mule") and mass(kept[0]) == SMALL.axes[0].moving_mass


def test_readings_wait_for_an_axis_that_is_gone_and_enter_it_when_it_is_back(demo_copy: Path, qtbot: Any) -> None:
    session, told = Session(ProjectFile.open(demo_copy)), list[str]()
    session.told.connect(told.append)
    begun = session.state
    reading = READING_MODELS["tone"].model_validate(
        {"kind": "tone", "frequency": 90.0, "span": 0.4, "linear_mass": 0.01, "source": "practice"})
    session.edit(("axes",), session.project.axes[1:], "removed")
    assert not session.add_reading(reading, begun) and "is gone" in told[-1]
    session.undo_stack.undo()
    qtbot.waitUntil(lambda: session.project.axes[0].readings[-1].kind == "tone")
    session.edit(("axes", 0, "name"), "long")
    assert session.add_reading(reading.model_copy(update={"note": "later"}), begun), "it is the same axis, whatever it is called"
    assert session.project.axes[0].readings[-1].note == "later"
    session.close()


def test_the_log_stands_in_the_order_in_which_it_was_written_whatever_the_clock_said(path: Path) -> None:
    from datetime import UTC, datetime

    with closing(ProjectFile.open(path)) as file:
        for year, text in ((2026, "one"), (2019, "two"), (2027, "three")):
            file.write_entry(whose(file), "note", text, datetime(year, 1, 1, tzinfo=UTC))
        assert [one.text for one in file.entries()] == ["one", "two", "three"]


# The world around it


def test_a_full_disk_and_a_lock_are_said_at_once_and_got_over(path: Path, qtbot: Any) -> None:
    session = Session(ProjectFile.open(path))
    pages = session.file._db.execute("pragma page_count").fetchone()[0]
    session.file._db.execute(f"pragma max_page_count = {pages}")
    for n in range(40):
        session.edit(MASS, 60.0 + n)
        session.write("x" * 900)
    assert "full" in session.saving.unsaved and mass(path) < 99.0
    session.file._db.execute("pragma max_page_count = 100000")
    session.saving.try_again()
    assert not session.saving.unsaved and mass(path) == 99.0
    with closing(ProjectFile.open(path)) as again:
        assert len(again.entries()) == 40, "no line that was typed meanwhile is lost"
    with closing(sqlite3.connect(path)) as other:
        other.execute("begin exclusive")
        begun = time.monotonic()
        session.edit(MASS, 5.0)
        assert time.monotonic() - begun < 0.6 and "locked" in session.saving.unsaved
    session.saving.try_again()
    assert not session.saving.unsaved and mass(path) == 5.0
    session.close()


def test_a_folder_that_cannot_be_written_opens_its_project_to_look_at(path: Path, tmp_path: Path,
                                                                      monkeypatch: pytest.MonkeyPatch) -> None:
    old = tmp_path / "old.mule"
    shutil.copyfile(FORMAT_3, old)
    before = old.read_bytes(), path.read_bytes()
    monkeypatch.setattr("os.access", lambda *_: False)
    for one in (path, old):
        with closing(ProjectFile.open(one)) as file:
            assert file.read_only == "its folder cannot be written" and file.project().axes[0].name == "X"
            with pytest.raises(BadFile, match="not saved: its folder cannot be written"):
                file.commit(file.project(), "no")
    assert (old.read_bytes(), path.read_bytes()) == before and len(list(tmp_path.glob("*.mule"))) == 2


def test_a_copy_is_not_written_over_what_is_open(path: Path, tmp_path: Path) -> None:
    other = tmp_path / "other.mule"
    with closing(ProjectFile.create(other, SMALL)), closing(ProjectFile.open(path)) as file:
        with pytest.raises(BadFile, match=r"other\.mule: the copy cannot be written: another window has it open"):
            file.copy_to(other)
        with pytest.raises(BadFile, match="this is the open project itself"):
            file.copy_to(path)
        file.copy_to(tmp_path / "new.mule")
    assert mass(tmp_path / "new.mule") == mass(path)


def test_opening_is_flat_however_long_the_history(tmp_path: Path) -> None:
    """Statements of SQLite's machine, not seconds: they are the same on every computer."""
    steps = []
    for revisions in (20, 800):
        path = tmp_path / f"{revisions}.mule"
        with closing(ProjectFile.create(path, SMALL)) as file:
            project = file.project()
            for n in range(revisions):
                project = edited(project, MASS, 1.0 + n / 1e4)
                file.commit(project, "mass")
            file.commit(project.model_copy(), "whole")
        counted = [0]
        with closing(ProjectFile.open(path)) as file:
            file._db.set_progress_handler(lambda counted=counted: counted.__setitem__(0, counted[0] + 1) or 0, 100)
            file.project()
            file.entries()
            file.applied()
            file.last_revision()
        steps.append(counted[0])
    assert steps[1] < steps[0] + 150, steps


def test_a_long_file_is_read_with_progress_and_can_be_stopped(path: Path, qtbot: Any, tmp_path: Path) -> None:
    long = tmp_path / "long.csv"
    long.write_text("time [s],x [g]\n" + "".join(f"{n / 1000},{n % 7}\n" for n in range(400_000)), encoding="utf-8")
    window = Window(Session(ProjectFile.open(path)))
    qtbot.addWidget(window)
    window.show()
    window.waiting._later.setInterval(20)  # a quick machine reads it before anything is said of it
    window.files.readings.take([long], ("acceleration",))
    qtbot.waitUntil(lambda: window.waiting.isVisible() or not window.session.works.busy, timeout=10_000)
    assert window.waiting.isVisible() and "Reading long.csv" in window.waiting.said.text()
    qtbot.mouseClick(window.waiting.cancel, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: not window.session.works.busy and not window.waiting.isVisible(), timeout=10_000)
    assert window.session.axis.readings == ()
    window.close()


def test_long_records_are_loaded_when_somebody_asks_and_their_damage_is_named(tmp_path: Path) -> None:
    path, clock = tmp_path / "long.mule", np.arange(20_000) / 1000
    records = tuple(READING_MODELS["acceleration"].model_validate(
        {"kind": "acceleration", "time": clock, "values": np.full((20_000, 3), n + 0.5), "note": f"{n}"}) for n in range(4))
    ProjectFile.create(path, edited(SMALL, ("axes", 0, "readings"), records)).close()
    with closing(ProjectFile.open(path)) as file:
        project = file.project()
        there = [LATER not in one.__dict__ for one in project.axes[0].readings]
        assert there == [False] * 4 and [one.note for one in project.axes[0].readings] == ["0", "1", "2", "3"]
        solve_axis(project, project.axes[0])
        there = [LATER not in one.__dict__ for one in project.axes[0].readings]
        assert there == [False, False, True, True], "the last two are shown"
        file.commit(edited(project, MASS, 3.0), "mass")
        assert plain(project.axes[0].readings[1]) == plain(records[1]) and project.axes[0].readings[1].values[7, 2] == 1.5
        assert plain(edited(project, ("axes", 0, "readings", 0, "note"), "new").axes[0].readings[0])["time"] == clock.tolist()
    assert _project(path).axes[0].readings[0].time[-1] == clock[-1], "also after the file was closed"
    with closing(sqlite3.connect(path)) as db:
        db.execute("update reading set numbers = zeroblob(length(numbers))")
        db.commit()
    with closing(ProjectFile.open(path)) as file:
        first = file.project().axes[0].readings[0]
        with pytest.raises(BadFile, match="not those that were saved"):
            _ = first.values
