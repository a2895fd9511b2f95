"""The history: small, readable at every revision, the same after a migration, and no burden to the next edit."""

from __future__ import annotations

import json
import random
import shutil
import sqlite3
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from tests.places import FILES, whose

from urban_mule.core.sheet.given import BadValue
from urban_mule.demo.courtyard import demo_project
from urban_mule.store.document.edit import edited
from urban_mule.store.document.plain import plain
from urban_mule.store.exchange.csv_readings import parse_csv
from urban_mule.store.exchange.open_json import export_project, read_project
from urban_mule.store.file.changes import differences, patched
from urban_mule.store.file.project_file import ProjectFile, Where
from urban_mule.store.file.salvage import salvage, salvage_into, verify
from urban_mule.store.text_files import BadFile

FORMAT_1, FORMAT_4, FORMAT_5 = (FILES / f"format{n}.mule" for n in (1, 4, 5))
READING = parse_csv("commanded [mm],measured [mm]\n400,399.8\n")


def whole_size(path: Path) -> int:
    with sqlite3.connect(path) as db:
        db.execute("pragma wal_checkpoint(truncate)")
    db.close()
    return path.stat().st_size


def test_an_edit_of_one_field_costs_few_bytes_and_every_revision_is_kept(tmp_path: Path) -> None:
    project, path = demo_project(), tmp_path / "long.mule"
    file = ProjectFile.create(path, project)
    expected = {}
    before = whole_size(path)
    for n in range(600):
        where, value = random.Random(n).choice([
            (("axes", 0, "moving_mass"), 4.0 + n / 1000), (("axes", 1, "motor", "holding_torque"), 2.0 + n / 1000),
            (("axes", 2, "cycle", 0, "speed"), 0.05 + n / 1e6), (("axes", 0, "driver", "microsteps"), n % 60 + 1)])
        project = edited(project, where, value)
        revision = file.commit(project, f"X: {where[-1]}".replace("_", " "))
        if n % 97 == 0 or n > 590:
            expected[revision.id] = export_project(project)
    assert (whole_size(path) - before) / 600 < 300
    for again in (file, ProjectFile.open(path)):
        for one, text in expected.items():
            assert export_project(again.project(one)) == text, one
        again.close()


def test_random_documents_come_back_from_their_changes(tmp_path: Path) -> None:
    """Axes, links, moves, readings come, go and change places; what is read back is what was committed."""
    rng = random.Random(4)
    project = demo_project()
    file = ProjectFile.create(tmp_path / "random.mule", project)
    kept = {}
    for n in range(60):
        axes = list(project.axes)
        match rng.randrange(7):
            case 0 if len(axes) > 1:
                axes.pop(rng.randrange(len(axes)))
            case 1:
                axes.insert(rng.randrange(len(axes) + 1), rng.choice(axes).model_copy(update={"name": f"A{n}"}))
            case 2:
                rng.shuffle(axes)
            case 3:
                place = rng.randrange(len(axes))
                readings = [*axes[place].readings, READING.model_copy(update={"note": str(n)})]
                rng.shuffle(readings)
                axes[place] = axes[place].model_copy(update={"readings": tuple(readings[:4])})
            case 4:
                place = rng.randrange(len(axes))
                axes[place] = axes[place].model_copy(update={"train": rng.choice([None, (), axes[place].train])})
            case 5:
                place = rng.randrange(len(axes))
                axes[place] = axes[place].model_copy(update={
                    "tolerances": rng.choice([None, {"moving_mass": 0.1}, {"travel": 0.2, "moving_mass": 0.3}])})
            case _:
                axes[0] = axes[0].model_copy(update={"driver": None if axes[0].driver else project.axes[-1].driver})
        project = project.model_copy(update={"axes": tuple(axes), "x_note": {"n": n, "row": [n, 1.5], "text": ["a", str(n % 3)]}})
        kept[file.commit(project, "random").id] = export_project(project)
    fresh = ProjectFile.open(tmp_path / "random.mule")
    for one, text in kept.items():
        assert json.loads(export_project(fresh.project(one))) == json.loads(text), one
    fresh.close()
    file.close()


def test_changes_that_do_not_fit_are_named() -> None:
    changes: list[Any] = [[["a"], 0, 1, [3, 4]], [["b", "c"], None], [["d"], 5]]
    assert patched({"a": [1], "b": {"c": 2}}, changes) == {"a": [3, 4], "b": {}, "d": 5}
    for changes in ([[["x", "y"], 1]], [[["a", 7], 1]], [[[], 1]], [[["b", "c", "d"], 1]]):
        with pytest.raises((KeyError, IndexError, TypeError, ValueError)):
            patched({"a": [1], "b": {"c": 2}}, changes)
    assert differences({"a": [1, 2]}, {"a": [1, 3]}, lambda v: v) == [[["a"], [1, 3]]], "a list of numbers is one value"


def test_a_file_of_format_1_is_brought_up_with_a_backup_and_all_its_history(tmp_path: Path) -> None:
    path = tmp_path / "old.mule"
    shutil.copy(FORMAT_1, path)
    with sqlite3.connect(FORMAT_1) as db:
        former = dict(db.execute("select id, document from revision"))
        labels = db.execute("select id, time, label from revision order by id").fetchall()
    db.close()
    file = ProjectFile.open(path)
    assert [(r.id, r.time.isoformat(), r.label) for r in file.revisions()[:-2]] == labels and len(labels) == 12
    assert file.project().practice and "practice project" in file.revisions()[-2].label, "it holds made-up readings"
    for one, text in former.items():
        project, document = file.project(one), json.loads(text)
        assert [len(axis.readings) for axis in project.axes] == [len(axis["readings"]) for axis in document["axes"]]
        found, wanted = plain(project), document
        for axis in (*found["axes"], *wanted["axes"]):
            del axis["readings"]
        assert found == wanted, one
    assert file.applied()[Where(whose(file))]["steps_per_unit"].value == 640.0
    assert [e.kind for e in file.entries()] == ["set", "measured"]
    backup = tmp_path / "old.format1.mule"
    assert backup.is_file()
    with sqlite3.connect(backup) as db:
        assert db.execute("pragma user_version").fetchone() == (1,)
        assert dict(db.execute("select id, document from revision")) == former
    db.close()
    file.commit(edited(file.project(), ("axes", 0, "moving_mass"), 9.0), "after")
    file.close()
    shutil.copy(FORMAT_1, path)
    ProjectFile.open(path).close()
    assert (tmp_path / "old.format1-2.mule").is_file(), "a former backup is never overwritten"


def test_a_file_of_format_4_gets_columns_for_what_its_book_said_in_words(tmp_path: Path) -> None:
    """By opening it, and by salvaging it as it lies."""
    opened, lying = tmp_path / "old.mule", tmp_path / "lying.mule"
    for path in (opened, lying):
        shutil.copy(FORMAT_4, path)
    assert salvage_into(lying, tmp_path / "new.mule") == []
    for path in (opened, tmp_path / "new.mule"):
        with closing(ProjectFile.open(path)) as file:
            book, applied = file.entries(), file.applied()
            assert [(one.text, one.cost, one.photograph, bool(one.task), one.revision) for one in book] == [
                ("Belt tensioned until it sings at 61 Hz.", 18.0, "", False, None),
                ("The old pulley", None, "20261016-101500-000001 log", False, None),
                ("grease the slides", None, "", True, None),
                ("before the heavier head", None, "", False, 2),
                ("Set on the hardware: microsteps.", None, "", False, None), ("It whistles at 18 000.", None, "", False, None)]
            assert [one.said for one in book[:4]] == [
                "Belt tensioned until it sings at 61 Hz. Cost: 18.", "The old pulley – with a photograph", "grease the slides",
                "Revision 2 is called “before the heavier head”."]
            assert applied[Where(whose(file, "Y"))]["microsteps"].value == 8 and file.attachment(book[1].photograph)
            assert len(file.open_rounds()) == 1
            assert file.project().axes[0].moving_mass == 6.5
    assert (tmp_path / "old.format4.mule").is_file() and verify(opened) == []


def test_a_file_of_format_5_knew_everybody_by_name_and_now_by_identity(tmp_path: Path) -> None:
    """By opening it, and by salvaging it as it lies; an axis that bore a spindle's name keeps what stood under it."""
    opened, lying = tmp_path / "old.mule", tmp_path / "lying.mule"
    for path in (opened, lying):
        shutil.copy(FORMAT_5, path)
    assert salvage_into(lying, tmp_path / "new.mule") == []
    for path in (opened, tmp_path / "new.mule"):
        with closing(ProjectFile.open(path)) as file:
            project, who = file.project(), {name: one for one, name in file.names().items()}
            x, applied = project.axes[0], file.applied()
            assert who["X"] == x.id and who["gone"] and who["spindle T"] == project.spindles[1].id
            assert {where: {name: one.value for name, one in values.items()} for where, values in applied.items()} == {
                Where(x.id): {"microsteps": 8.0}, Where(x.id, 1, True): {"microsteps": ""}, Where(x.id, 2): {"microsteps": 4.0},
                Where(x.id, 2, True): {"microsteps": 4.0}, Where(who["spindle T"]): {"control_mode": "velocity"},
                Where(who["spindle T"], stored=True): {"control_mode": "velocity"},
                Where(project.axes[1].id): {"microsteps": 2.0}}
            assert [(one.subject, one.task) for one in file.entries()] == [
                (x.id, x.maintenance[0].id), (who["gone"], ""), (who["spindle T"], "")]
            kept = file.open_rounds()[0]
            assert kept["subject"] == x.id and kept["gauge"] == project.gauges[0].id and x.readings[0].gauge == "dial"
            then = file.project(1)
            assert [one.id for one in then.axes[:2]] == [one.id for one in project.axes], "an older revision knows who they are"
    assert (tmp_path / "old.format5.mule").is_file() and verify(opened) == []


def test_an_older_file_whose_history_is_damaged_is_left_as_it_was(tmp_path: Path) -> None:
    path = tmp_path / "old.mule"
    shutil.copy(FORMAT_1, path)
    with sqlite3.connect(path) as db:
        db.execute("update revision set document = '{' where id = 3")
    db.close()
    before = path.read_bytes()
    with pytest.raises(BadFile, match="history cannot be brought up"):
        ProjectFile.open(path)
    assert path.read_bytes() == before and salvage(path).axes[0].controller.max_pulse_rate == 1e5


def test_salvage_leaves_out_a_damaged_change_and_keeps_what_was_before_it(tmp_path: Path) -> None:
    path, project = tmp_path / "hurt.mule", demo_project()
    file = ProjectFile.create(path, project)
    for n in range(10):
        project = edited(project, ("axes", 0, "moving_mass"), 1.0 + n)
        file.commit(project, "mass")
    file.close()
    heavy = "'[[[\"axes\", 0, \"moving_mass\"], \"heavy\"]]'"
    for place, damage, mass in ((11, heavy, 9.0), (7, "'[[\"axes\"'", 5.0), (5, "null, document = '{}'", 3.0)):
        with sqlite3.connect(path) as db:
            db.execute(f"update revision set changes = {damage} where id = {place}")
        db.close()
        assert salvage(path).axes[0].moving_mass == mass, damage
        with pytest.raises(BadFile, match="damaged"):
            ProjectFile.open(path).project()


@pytest.mark.long
def test_edits_do_not_slow_with_history_applied_values_or_readings(qtbot: Any, tmp_path: Path) -> None:
    """What an edit asks of the file is the same after thousands: counted in statements and rows, not in time."""
    from urban_mule.desk.app import application
    from urban_mule.desk.frame.window import Window
    from urban_mule.desk.model.session import Session

    application()
    counts = []
    for many in (1, 400):
        path = tmp_path / f"{many}.mule"
        file = ProjectFile.create(path, demo_project())
        project = edited(file.project(), ("axes", 0, "readings"), tuple(
            READING.model_copy(update={"note": str(n)}) for n in range(many)))
        for n in range(many):
            project = edited(project, ("axes", 0, "moving_mass"), 1.0 + n / 100)
            file.commit(project, "mass")
            file.apply(project.axes[0].id, {"microsteps": float(n)}, {})
            file.write_entry(project.axes[0].id, "note", f"line {n}")
        file.close()
        window = Window(Session(ProjectFile.open(path)), "Log")
        qtbot.addWidget(window)
        window.show()
        qtbot.waitUntil(lambda window=window: not window.session.analysing, timeout=20_000)
        asked: list[str] = []
        window.session.file._db.set_trace_callback(asked.append)
        window.session.edit(window.session.axis_path("moving_mass"), 77.0)
        window.grab()
        counts.append((len(asked), sum(map(len, asked)) // 400))
        window.session.file._db.set_trace_callback(None)
        assert not any("entry" in text or "applied" in text or "reading" in text for text in asked), asked
        window.close()
    assert counts[0] == counts[1], counts


def test_what_is_read_from_json_and_committed_is_the_same(tmp_path: Path, demo_copy: Path) -> None:
    file = ProjectFile.open(demo_copy)
    text = tmp_path / "out.json"
    text.write_text(export_project(file.project()), encoding="utf-8")
    again = ProjectFile.create(tmp_path / "again.mule", read_project(text))
    assert export_project(again.project()) == export_project(file.project())
    with pytest.raises(BadValue):
        edited(again.project(), ("axes", 0, "moving_mass"), -1.0)
    again.close()
    file.close()
