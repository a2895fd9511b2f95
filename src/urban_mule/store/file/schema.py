"""What a project file looks like: its tables, and whether a file that comes in has these and nothing else."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from functools import cache
from pathlib import Path

from urban_mule.store.text_files import BadFile

SCHEMA_VERSION = 6
APPLICATION_ID = 0x4D554C45  # "MULE"
LARGEST_ID = 2**40  # of a revision: a file in which one is greater was made by no release
REVISION_TABLE = """
create table revision (id integer primary key, time text not null, label text not null, document text, changes text,
  digest text not null, check ((document is null) <> (changes is null)));
create index revision_whole on revision (id) where document is not null
"""
REVISION_TABLE_2 = """
create table revision (id integer primary key, time text not null, label text not null, document text, changes text,
  check ((document is null) <> (changes is null)));
create index revision_whole on revision (id) where document is not null
"""
REVISION_TABLE_1 = "create table revision (id integer primary key, time text not null, label text not null, document text not null)"
ROUND_TABLE = """
create table round (id text primary key, time text not null, subject text not null, kind text not null, state text not null,
  ended integer not null default 0)
"""
ROUND_TABLE_3 = """
create table round (id text primary key, time text not null, axis text not null, kind text not null, state text not null,
  ended integer not null default 0)
"""
READING_TABLE = """
create table reading (id text primary key, time text not null, subject text not null, kind text not null,
  device text not null, conditions text not null, columns text not null, data text not null, numbers blob not null,
  digest text not null)
"""
READING_TABLE_4 = """
create table reading (id text primary key, time text not null, axis text not null, kind text not null,
  device text not null, conditions text not null, columns text not null, data text not null, numbers blob not null,
  digest text not null)
"""
READING_TABLE_1 = """
create table reading (id text primary key, time text not null, axis text not null, kind text not null,
  device text not null, conditions text not null, columns text not null, data text not null)
"""
ENTRY_TABLE = """
create table entry (id integer primary key, time text not null, subject text not null, kind text not null, text text not null,
  cost real, photograph text not null default '', task text not null default '', revision integer)
"""
ENTRY_TABLE_5 = """
create table entry (id integer primary key, time text not null, axis text not null, kind text not null, text text not null,
  cost real, photograph text not null default '', task text not null default '', revision integer)
"""
ENTRY_TABLE_1 = """
create table entry (id integer primary key, time text not null, axis text not null, kind text not null, text text not null)
"""
APPLIED_TABLE = """
create table applied (id integer primary key, time text not null, subject text not null, motor integer not null,
  stored integer not null, name text not null, value text not null, computed_from text not null);
create index applied_by_subject on applied (subject, motor, stored, name, id)
"""
APPLIED_TABLE_1 = """
create table applied (id integer primary key, time text not null, axis text not null, name text not null,
  value text not null, computed_from text not null);
create index applied_by_axis on applied (axis, name, id)
"""
ATTACHMENT_TABLE = """
create table attachment (id integer primary key, time text not null, name text not null, media_type text not null,
  data blob not null)
"""
SUBJECT_TABLE = "create table subject (id text primary key, kind text not null, name text not null)"
OLD_BOOK = (ENTRY_TABLE_1, APPLIED_TABLE_1, ATTACHMENT_TABLE)
TABLES: dict[int, tuple[str, ...]] = {  # by format, oldest first
    1: (REVISION_TABLE_1, READING_TABLE_1, *OLD_BOOK),
    2: (REVISION_TABLE_2, READING_TABLE_1, *OLD_BOOK),
    3: (REVISION_TABLE_2, ROUND_TABLE_3, READING_TABLE_1, *OLD_BOOK),
    4: (REVISION_TABLE, ROUND_TABLE_3, READING_TABLE_4, *OLD_BOOK),
    5: (REVISION_TABLE, ROUND_TABLE_3, READING_TABLE_4, ENTRY_TABLE_5, APPLIED_TABLE_1, ATTACHMENT_TABLE),
    6: (REVISION_TABLE, ROUND_TABLE, READING_TABLE, ENTRY_TABLE, APPLIED_TABLE, ATTACHMENT_TABLE, SUBJECT_TABLE),
}
Shape = frozenset[tuple[str, str, str, str]]


def statements(tables: tuple[str, ...]) -> list[str]:
    """The statements that make these tables."""
    return [one.strip() for table in tables for one in table.split(";") if one.strip()]


def make_tables(db: sqlite3.Connection) -> None:
    """Make the tables of this format in an empty database, within the transaction that is open."""
    for statement in statements(TABLES[SCHEMA_VERSION]):
        db.execute(statement)
    db.execute(f"pragma application_id = {APPLICATION_ID}")
    db.execute(f"pragma user_version = {SCHEMA_VERSION}")


def shape_of(db: sqlite3.Connection) -> Shape:
    """Everything that a database declares: tables and indexes, but triggers and views just as well. Raises sqlite3.Error."""
    rows = db.execute("select type, name, tbl_name, sql from sqlite_schema")
    return frozenset((str(kind), str(name), str(table), " ".join(str(sql or "").lower().replace('"', "").split()))
                     for kind, name, table, sql in rows)


@cache
def shape_of_format(version: int) -> Shape:
    """What a file of a format declares."""
    with closing(sqlite3.connect(":memory:")) as db:
        for statement in statements(TABLES[version]):
            db.execute(statement)
        return shape_of(db)


def check_shape(db: sqlite3.Connection, path: Path) -> int:
    """The format of an open file that declares exactly what that format does. Raises BadFile, sqlite3.Error."""
    application, version = (db.execute(f"pragma {one}").fetchone()[0] for one in ("application_id", "user_version"))
    if application != APPLICATION_ID or version < 1:
        raise BadFile(f"{path}: this is a database, but not a project file.")
    if version > SCHEMA_VERSION:
        raise BadFile(f"{path}: the file was written by a newer release (format {version}, known is {SCHEMA_VERSION}).")
    found, known = shape_of(db), shape_of_format(version)
    if found != known:
        odd = sorted(f"{kind} {name}" for kind, name, _, _ in found ^ known)
        raise BadFile(f"{path}: this is no project file as this program makes them: {odd[0][:60]!r} in it is foreign, missing or"
                      " changed. Nothing of it was run.")
    return int(version)
