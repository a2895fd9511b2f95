"""What comes in can do nothing: hostile project files, broken names, endless files, strange texts; each is one sentence."""

from __future__ import annotations

import json
import os
import sqlite3
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from tests.places import FILES, whose
from tests.store.machine import MASS, MOMENT, SMALL

from urban_mule.cli import main
from urban_mule.desk.model.session import Session
from urban_mule.store.document.edit import edited
from urban_mule.store.document.readings import READING_MODELS
from urban_mule.store.exchange.open_json import parse_project, read_project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.file.salvage import salvage_into, verify
from urban_mule.store.file.schema import APPLICATION_ID, SCHEMA_VERSION, shape_of, shape_of_format
from urban_mule.store.library.parts import Part, add_parts, own_parts, parse_csv, parts_csv
from urban_mule.store.text_files import BadFile, cell_text, heading, safe_name, text_cell

pytestmark = pytest.mark.every_axis

HOSTILE = {
    "trigger": "create trigger t after insert on revision begin delete from revision where id < new.id; end",
    "endless trigger": "create trigger t after insert on entry begin insert into entry (time, axis, kind, text)"
                       " values (1, 1, 1, 1); end",
    "view": "drop table applied; create view applied as with recursive n(x) as (select 1 union all select x + 1 from n)"
            " select x id, x time, x axis, x name, x value, x computed_from from n",
    "expression index": "create index i on entry (length(hex(text)))",
    "generated column": "alter table entry add column more text generated always as (hex(zeroblob(9000000))) virtual",
    "virtual table": "create virtual table v using fts5(a)",
    "table": "create table more (a)", "no table": "drop table attachment",
    "other column": "alter table entry add column more text",
}


@pytest.mark.parametrize("what", HOSTILE)
def test_a_file_that_declares_anything_else_is_refused_unchanged_and_runs_nothing(path: Path, what: str) -> None:
    with closing(sqlite3.connect(path)) as db:
        db.executescript(HOSTILE[what])
    before, begun = path.read_bytes(), time.monotonic()
    with pytest.raises(BadFile, match="foreign, missing or changed. Nothing of it was run"):
        ProjectFile.open(path)
    assert path.read_bytes() == before and not list(path.parent.glob("*-journal")) and time.monotonic() - begun < 2


def test_a_foreign_database_with_our_number_is_refused_unchanged(tmp_path: Path) -> None:
    path = tmp_path / "foreign.mule"
    for version in (0, -1, 1, 2, 3, 4):
        path.unlink(missing_ok=True)
        with closing(sqlite3.connect(path)) as db:
            db.execute("create table songs (a)")
            db.execute(f"pragma application_id = {APPLICATION_ID}")
            db.execute(f"pragma user_version = {version}")
        before = path.read_bytes()
        for _ in range(2):
            with pytest.raises(BadFile):
                ProjectFile.open(path)
        assert path.read_bytes() == before and [one.name for one in tmp_path.iterdir()] == ["foreign.mule"]


def test_every_format_is_known_by_what_it_declares(path: Path) -> None:
    with closing(sqlite3.connect(path)) as db:
        assert shape_of(db) == shape_of_format(SCHEMA_VERSION)
    for version in (1, 3, 4):
        with closing(sqlite3.connect(FILES / f"format{version}.mule")) as db:
            assert shape_of(db) == shape_of_format(version)


@pytest.mark.parametrize(("change", "said"), [
    ("update revision set changes = replace(changes, '51.0', '61.0') where id = 3", "is not as it was saved"),
    ("update revision set label = 'other' where id = 2", "is not as it was saved"),
    ("update reading set data = replace(data, 'first', 'other')", "not those that were saved"),
    ("update reading set numbers = zeroblob(length(numbers))", "not those that were saved"),
    ("update revision set id = 9223372036854775807 where id = 4", "written by no release"),
])
def test_damage_that_stays_sound_as_a_database_is_named(tmp_path: Path, change: str, said: str) -> None:
    path = tmp_path / "machine.mule"
    reading = READING_MODELS["travel"].model_validate(
        {"kind": "travel", "commanded": 0.4, "measured": [0.4, 0.41], "note": "first"})
    with closing(ProjectFile.create(path, edited(SMALL, ("axes", 0, "readings"), (reading,)))) as file:
        for n in range(3):
            file.commit(edited(file.project(), MASS, 50.0 + n), "mass")
    assert verify(path) == []
    with closing(sqlite3.connect(path)) as db:
        assert db.execute(change).rowcount >= 1
        db.commit()
    with pytest.raises(BadFile, match=said):
        ProjectFile.open(path).project()


def test_what_is_no_row_of_ours_is_left_out_and_said(path: Path, qtbot: Any) -> None:
    with closing(ProjectFile.open(path)) as file:
        x = whose(file)
        file.write_entry(x, "note", "sound")
        file.apply(x, {"microsteps": 8.0}, {"current_peak": 2.0})
    with closing(sqlite3.connect(path)) as db:
        for time_, text in (("'yesterday'", "'a'"), ("'9999-12-31T23:59:59.9+00:00'", "'a'"), (MOMENT, "x'00ff'")):
            db.execute(f"insert into entry (time, subject, kind, text) values ({time_}, '{x}', 'note', {text})")
        for name, value, basis in (("a", "'{'", "'{}'"), ("b", "'[1]'", "'{}'"), ("c", "'1'", "'[]'"), ("d", "x'ff'", "'{}'")):
            db.execute("insert into applied (time, subject, motor, stored, name, value, computed_from)"
                       f" values ({MOMENT}, '{x}', 1, 0, '{name}', {value}, {basis})")
        db.execute("insert into applied (time, subject, motor, stored, name, value, computed_from)"
                   f" values ({MOMENT}, '{x}', 7, 0, 'e', '1', '{{}}')")
        db.commit()
    session = Session(ProjectFile.open(path))
    assert [one.text for one in session.entries()] == ["sound"] and list(session.hardware.values()) == ["microsteps"]
    assert "8 lines of the log or of what was set" in session.saving.told_on_opening
    session.close()
    assert "8 rows" in verify(path)[-1]


def test_salvage_brings_back_all_that_is_sound(demo_copy: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    with closing(ProjectFile.open(demo_copy)) as file:
        whole, entries, applied = file.project(), file.entries(), file.applied()
        tone = {"kind": "tone", "frequency": 90.0, "span": 0.4, "linear_mass": 0.01}
        file.keep(READING_MODELS["tone"].model_validate(tone), whose(file))
    with closing(sqlite3.connect(demo_copy)) as db:
        db.execute("update reading set numbers = x'00' where kind = 'acceleration'")
        db.execute(f"insert into attachment (time, name, media_type, data) values ({MOMENT}, 'a.png', 'image/png', x'01')")
        db.execute("insert into entry (time, subject, kind, text) values ('soon', '', 'note', 'lost')")
        db.commit()
    assert main(["verify", str(demo_copy)]) == 2 and "not those that were saved" in capsys.readouterr().out
    new = tmp_path / "new.mule"
    lost = salvage_into(demo_copy, new)
    assert len(lost) == sum(one.kind == "acceleration" for axis in whole.axes for one in axis.readings) + 1
    with closing(ProjectFile.open(new)) as file:
        assert [one.kind for one in file.project().axes[0].readings] == [
            one.kind for one in whole.axes[0].readings if one.kind != "acceleration"]
        assert [one.text for one in file.entries()] == [one.text for one in entries] and file.applied() == applied
        assert file._db.execute("select count(*) from reading where kind = 'tone'").fetchone()[0] == 2
        assert file._db.execute("select name, data from attachment").fetchone() == ("a.png", b"\x01")
    assert main(["verify", str(new)]) == 0
    assert main(["salvage", str(demo_copy), "--to", str(new)]) == 2, "a file that is there is not written over"


def test_half_a_character_or_a_broken_name_is_refused_at_every_door() -> None:
    for change, said in (({"x_k": "\ud800"}, "cannot be written"), ({"x_\ud800": 1}, "cannot be written"),
                         ({"notes": "a\0b"}, "cannot be written"), ({"axes": [{"name": "a\nb"}]}, "one line"),
                         ({"axes": [{"name": "\u202e"}]}, "printable"), ({"axes": [{"name": "n" * 300}]}, "at most 200"),
                         ({"axes": [0] * 65}, "at most 64 are taken"),
                         ({"axes": [{"name": "X", "cycle": [0] * 1001}]}, "at most 1000"), ({"k" * 90_000: 1}, "has no key"),
                         ({"axes": [{"name": "X", "id": "a1"}]}, "an axis has no key .id.")):
        with pytest.raises(BadFile, match=said) as why:
            parse_project(json.dumps({"format": "urban-mule/1", "axes": [{"name": "X"}], **change}).encode())
        assert len(str(why.value)) < 300
    with pytest.raises(BadFile, match=r"axes\[0\]\.name stands twice"):
        parse_project(b'{"format": "urban-mule/1", "axes": [{"name": "X", "name": "Y"}]}')
    assert parse_csv("kind,name,ratio\nreduction,\"a\\tb\",3\nreduction,\u2028,3\n").refused


def test_a_thousand_bad_rows_end_after_a_hundred() -> None:
    begun = time.monotonic()
    read = parse_csv("kind,name\n" + "lever,x\n" * 200_000)
    assert len(read.refused) == 101 and "was not looked at" in read.refused[-1] and time.monotonic() - begun < 2


def test_only_files_with_an_end_are_read_and_names_are_short(tmp_path: Path) -> None:
    fifo, loop = tmp_path / "fifo", tmp_path / "loop"
    os.mkfifo(fifo)
    loop.symlink_to(loop)
    for odd in (Path("/dev/zero"), fifo, tmp_path, loop, tmp_path / ("n" * 300), tmp_path / "none"):
        doors: tuple[Callable[[Path], object], ...] = (read_project, ProjectFile.open, verify)
        for door in doors:
            with pytest.raises(BadFile) as why:
                door(odd)
            assert "\n" not in str(why.value) and len(str(why.value)) < 600
        assert main(["salvage", str(odd)]) == 2


def test_headings_texts_and_names_at_the_edge() -> None:
    begun = time.monotonic()
    assert heading(" " * 3000 + "a" + " " * 3000 + "(") is None and heading("a" * 5000) is None
    assert [heading(text) for text in ("time [ms]", " x ( mm ) ", "plain", "a [b", "a] b", "[g]", "a [b] c", "")] == [
        ("time", "ms"), ("x", "mm"), ("plain", ""), None, ("a] b", ""), ("", "g"), None, ("", "")]
    assert time.monotonic() - begun < 0.1
    for text in ("=1+1", "+a", "-a", "@a", "\ta", "\ra", "'=a", "plain", ""):
        assert cell_text(text_cell(text)) == text and not text_cell(text).startswith(("=", "+", "-", "@", "\t", "\r"))
    assert [safe_name(text) for text in ("../../x", "/etc/passwd", "a\0b", "X", "..", "", "é µ", "n" * 200)] == [
        "______x", "_etc_passwd", "a_b", "X", "__", "_", "é µ", "n" * 60]
    row = parts_csv([Part("reduction", "=cmd", {"ratio": 3.0})])
    assert "'=cmd" in row and parse_csv(row).parts[0].name == "=cmd"


def test_two_that_add_parts_at_once_lose_none(shelf: Path) -> None:
    def add(n: int) -> None:
        add_parts([Part("reduction", f"part {n}", {"ratio": 2.0 + n})])

    with ThreadPoolExecutor(8) as threads:
        list(threads.map(add, range(40)))
    assert {part.name for part in own_parts().parts} == {f"part {n}" for n in range(40)}


@pytest.mark.parametrize("name", ["format1.mule", "format3.mule"])
def test_a_check_only_looks(tmp_path: Path, name: str) -> None:
    path = tmp_path / name
    path.write_bytes((Path(__file__).parents[1] / "files" / name).read_bytes())
    before = path.read_bytes()
    assert verify(path) == [] and path.read_bytes() == before
    assert [one.name for one in tmp_path.iterdir()] == [name], "no copy, no lock, no journal beside it"
