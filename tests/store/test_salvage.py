"""Salvage, and what killed processes leave: hurt pages, bytes that are no text, rounds, litter, names that are too long."""

from __future__ import annotations

import os
import sqlite3
import time
from contextlib import closing
from datetime import date
from pathlib import Path

import pytest
from tests.store.machine import MASS, SMALL

from urban_mule.store.document.edit import edited
from urban_mule.store.exchange.open_json import export_project
from urban_mule.store.file.backups import back_up
from urban_mule.store.file.project_file import SECOND_AFTER, ProjectFile
from urban_mule.store.file.rows import digest_of
from urban_mule.store.file.salvage import salvage, salvage_into
from urban_mule.store.text_files import BadFile


def changed(path: Path, times: int) -> None:
    with closing(ProjectFile.open(path)) as file:
        project = file.project()
        for n in range(times):
            project = edited(project, MASS, 2.0 + n)
            file.commit(project, "mass")


def hurt(path: Path, statement: str, *values: object) -> None:
    with closing(sqlite3.connect(path)) as db, db:
        db.execute(statement, values)


def test_a_hurt_page_of_an_index_loses_nothing(path: Path) -> None:
    with closing(sqlite3.connect(path)) as db:
        root, = db.execute("select rootpage from sqlite_schema where name = 'revision_whole'").fetchone()
        size, = db.execute("pragma page_size").fetchone()
    with path.open("rb+") as raw:
        raw.seek((root - 1) * size)
        raw.write(os.urandom(size))
    assert export_project(salvage(path)) == export_project(SMALL)


def test_a_byte_that_is_no_text_spoils_a_name_and_not_the_file(path: Path) -> None:
    raw = path.read_bytes()
    at = raw.index(b'"name": "X"') + len(b'"name": "')
    path.write_bytes(raw[:at] + b"\xff" + raw[at + 1:])
    assert salvage(path).axes[0].name == "\ufffd" and salvage(path).axes[0].moving_mass == SMALL.axes[0].moving_mass


def test_a_young_file_has_a_second_whole_document(path: Path) -> None:
    changed(path, SECOND_AFTER + 5)
    hurt(path, "update revision set document = '{' where id = 1")
    assert salvage(path).axes[0].moving_mass == 2.0 + SECOND_AFTER + 4
    changed(path, 40)
    with closing(sqlite3.connect(path)) as db:
        assert db.execute("select count(*) from revision where document is not null").fetchone() == (2,), "a second one, no third"


def test_where_nothing_can_be_read_the_copies_of_earlier_days_are_named(path: Path) -> None:
    copy = back_up(path, date(2026, 10, 3))
    assert copy is not None
    hurt(path, "update revision set document = 'no longer'")
    for attempt in (lambda: salvage(path), lambda: ProjectFile.open(path).project()):
        with pytest.raises(BadFile, match=f"whole copies of earlier days lie in .*the newest is {copy.name}"):
            attempt()


def test_rounds_under_way_are_salvaged_too(path: Path, tmp_path: Path) -> None:
    with closing(ProjectFile.open(path)) as file:
        for key in ("a", "b"):
            file.save_round(key, "X", "reversal", {"key": key, "taken": [{"place": "up[0][0]", "value": 1e-6}]}, ended=key == "b")
        file.save_round("c", "X", "drift", {"key": "c"})
    hurt(path, "update round set state = '{' where id = 'c'")
    lost = salvage_into(path, tmp_path / "new.mule")
    assert lost == ["a round under way that does not hold what it should."]
    with closing(ProjectFile.open(tmp_path / "new.mule")) as file:
        assert [one["key"] for one in file.open_rounds()] == ["a"]


def test_what_a_killed_process_left_half_made_goes_after_a_day_and_nothing_else_does(path: Path) -> None:
    folder, old = path.parent, time.time() - 90_000
    ours = [folder / name for name in (".0f3a0f3a0f3a.mule", ".0f3a0f3a0f3b.mule-journal", ".abcdefabcdef.pdf")]
    theirs = [folder / name for name in (".hidden.mule", "0f3a0f3a0f3a.mule", ".0f3a0f3a0f3a.mule.bak", ".abcdefabcdef.conf")]
    young = folder / ".111111111111.mule"
    for one in (*ours, *theirs, young):
        one.write_bytes(b"half")
        os.utime(one, (old, old))
    os.utime(young)
    ProjectFile.open(path).close()
    assert not any(one.exists() for one in ours) and all(one.exists() for one in (*theirs, young, path))


def test_a_name_that_leaves_no_room_for_a_journal_is_said_to_be_too_long(path: Path) -> None:
    long = path.with_name("ü" * 120 + "x.mule")
    path.rename(long)
    with pytest.raises(BadFile, match="at most 240 bytes. Rename it"):
        ProjectFile.open(long)
    with pytest.raises(BadFile, match="too long"):
        ProjectFile.create(path.with_name("y" * 250), SMALL)


@pytest.mark.parametrize("document", [
    '{"format": "urban-mule/1", "axes": [{"readings": [1e30]}]}', '{"axes": [{"readings": [1' + "0" * 30 + ']}]}',
    '{"axes": [{"readings": [{}]}]}', '{"axes": [{"readings": ["none"]}]}', '{"axes": null}', '{"axes": [null]}',
    '{"axes": {"a": 1}}', "[]", "null", '{"axes": [{"train": 5}]}'])
def test_a_document_that_is_none_is_a_sentence_in_nobodys_programming_language(path: Path, document: str) -> None:
    with closing(sqlite3.connect(path)) as db:
        when, label = db.execute("select time, label from revision").fetchone()
    hurt(path, "update revision set document = ?, digest = ?", document, digest_of("", when, label, document))
    for attempt in (lambda: ProjectFile.open(path).project(), lambda: salvage(path)):
        with pytest.raises(BadFile) as told:
            attempt()
        said = str(told.value)
        assert said.endswith(".") and not any(word in said for word in (
            "object", "NoneType", "iterable", "operand", "subscript", "int ", "dict", "list index", "Overflow", "argument")), said
