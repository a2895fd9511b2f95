"""The project file: one SQLite database that is always saved and keeps its history.

Tables: `revision` (every committed change of the document, as JSON without reading data), `reading` (each set of
readings once, by its content), `applied` (what the user says is on the hardware), `entry` (the log), `attachment`.
A revision and the readings it names go in one transaction, so that killing the process loses nothing shown as saved.
"""

from __future__ import annotations

import hashlib
import json
import shutil
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import numpy as np
from pydantic import ValidationError
from pydantic_core import from_json

from urban_mule.store.document import Project
from urban_mule.store.exchange import plain, reading_text, sentence
from urban_mule.store.text_files import BadFile

SCHEMA_VERSION = 1
INSERT_READING = "insert or ignore into reading values (?, ?, ?, ?, ?, ?, ?, ?)"
APPLICATION_ID = 0x4D554C45  # "MULE"
TABLES = """
create table revision (id integer primary key, time text not null, label text not null, document text not null);
create table reading (id text primary key, time text not null, axis text not null, kind text not null,
  device text not null, conditions text not null, columns text not null, data text not null);
create table applied (id integer primary key, time text not null, axis text not null, name text not null,
  value text not null, computed_from text not null);
create table entry (id integer primary key, time text not null, axis text not null, kind text not null, text text not null);
create table attachment (id integer primary key, time text not null, name text not null, media_type text not null,
  data blob not null);
create index applied_by_axis on applied (axis, name, id);
"""


@dataclass(frozen=True)
class Applied:
    """A value that the user says is on the hardware: a number or a text, when, and the givens it was computed from."""

    time: datetime
    axis: str
    name: str
    value: Any
    computed_from: dict[str, Any]


@dataclass(frozen=True)
class Entry:
    """A line of the log."""

    time: datetime
    axis: str
    kind: str
    text: str


@dataclass(frozen=True)
class Revision:
    """A committed change of the document, without the document."""

    id: int
    time: datetime
    label: str


def now() -> datetime:
    return datetime.now(UTC)


class ProjectFile:
    """An open project file. Every method that changes it is one transaction."""

    def __init__(self, path: Path, connection: sqlite3.Connection) -> None:
        self.path = path
        self._db = connection
        self._kept: dict[int, tuple[Any, str]] = {}

    @classmethod
    def create(cls, path: Path, project: Project, time: datetime | None = None) -> ProjectFile:
        """A new file holding this project. Raises BadFile when the path cannot be written or exists."""
        if path.exists():
            raise BadFile(f"{path}: there is a file already; choose another name.")
        try:
            db = _connect(path)
            with db:
                db.executescript(f"begin; {TABLES} pragma application_id = {APPLICATION_ID};"
                                 f" pragma user_version = {SCHEMA_VERSION}; commit;")
        except sqlite3.Error as why:
            raise BadFile(f"{path}: the file cannot be made: {why}.") from None
        made = cls(path, db)
        made.commit(project, "begun", time)
        return made

    @classmethod
    def open(cls, path: Path) -> ProjectFile:
        """An existing file, checked, migrated with a backup when it is older. Raises BadFile and changes nothing."""
        if not path.is_file():
            raise BadFile(f"{path}: there is no such file.")
        with path.open("rb") as raw:
            if raw.read(16) != b"SQLite format 3\0":
                raise BadFile(f"{path}: this is not a project file (it does not begin as one).")
        try:
            version = checked_version(path)
            if version < SCHEMA_VERSION:
                shutil.copy2(path, path.with_suffix(f".format{version}.mule"))
            return cls(path, _connect(path))
        except sqlite3.Error as why:
            raise BadFile(_damaged(path, str(why))) from None

    def close(self) -> None:
        self._db.close()

    @contextmanager
    def _transaction(self) -> Iterator[sqlite3.Connection]:
        try:
            with self._db:
                self._db.execute("begin immediate")
                yield self._db
        except sqlite3.Error as why:
            raise BadFile(f"{self.path}: not saved: {why}.") from None

    @contextmanager
    def _looking(self) -> Iterator[None]:
        """What a scratched file, or one that does not fit this release, makes of texts and times is one sentence."""
        try:
            yield
        except ValidationError as error:
            raise BadFile(_damaged(self.path, sentence(error).rstrip("."))) from None
        except (sqlite3.Error, ValueError, TypeError, KeyError) as why:
            raise BadFile(_damaged(self.path, " ".join(str(why).split())[:80])) from None

    def commit(self, project: Project, label: str, time: datetime | None = None) -> Revision:
        """Save a committed change of the document. Raises BadFile when it cannot be written."""
        stamp = time or now()
        document, rows, kept = self._split(project, stamp)
        with self._transaction() as db:
            db.executemany(INSERT_READING, rows)
            row = db.execute("insert into revision (time, label, document) values (?, ?, ?)",
                             (stamp.isoformat(), label, document))
        self._kept.update(kept)
        return Revision(int(row.lastrowid or 0), stamp, label)

    def keep(self, reading: Any, axis: str) -> None:
        """Save a set of readings ahead of the revision that will name it, in any thread: a long one takes a while.

        Raises BadFile when it cannot be written.
        """
        row = _reading_row(reading, axis, now())
        try:
            with closing(_connect(self.path)) as db:
                db.execute(INSERT_READING, row)
        except sqlite3.Error as why:
            raise BadFile(f"{self.path}: not saved: {why}.") from None
        self._kept[id(reading)] = (reading, row[0])

    def _split(self, project: Project, stamp: datetime) -> tuple[str, list[tuple[str, ...]], dict[int, tuple[Any, str]]]:
        """The document as JSON with names in place of its readings; of those not in the file their rows, and their names."""
        bare = project.model_copy(update={"axes": tuple(
            axis.model_copy(update={"readings": ()}) for axis in project.axes)})
        document, rows, kept = plain(bare), [], {}
        for axis, written in zip(project.axes, document["axes"], strict=True):
            written["readings"] = []
            for reading in axis.readings:
                if id(reading) not in self._kept and id(reading) not in kept:
                    rows.append(_reading_row(reading, axis.name, stamp))
                    kept[id(reading)] = (reading, rows[-1][0])
                written["readings"].append((kept.get(id(reading)) or self._kept[id(reading)])[1])
        return json.dumps(document, ensure_ascii=False, allow_nan=False), rows, kept

    def project(self, revision: int | None = None) -> Project:
        """The document of a revision, by default the last. Raises BadFile when it cannot be read or does not fit this release."""
        where = "where id = ?" if revision is not None else "order by id desc limit 1"
        with self._looking():
            row = self._db.execute(f"select document from revision {where}", () if revision is None else (revision,)).fetchone()
            if row is None:
                raise BadFile(f"{self.path}: the file holds no revision.")
            document = json.loads(row[0])
            names = [axis.get("readings", ()) for axis in document["axes"]]
            for axis, named in zip(document["axes"], names, strict=True):
                axis["readings"] = [self._reading(name) for name in named]
            project = Project.model_validate(document)
            for axis, named in zip(project.axes, names, strict=True):
                self._kept.update({id(reading): (reading, name) for reading, name in zip(axis.readings, named, strict=True)})
            return project

    def _reading(self, name: str) -> Any:
        """The reading itself when this file has handed it out, else its data."""
        for reading, known in self._kept.values():
            if known == name:
                return reading
        row = self._db.execute("select kind, data from reading where id = ?", (name,)).fetchone()
        if row is None:
            raise KeyError(f"reading {name} is missing")
        # The numbers were checked one by one when they came in; as arrays they are checked as a whole.
        data = {key: np.array(value, dtype=float) if isinstance(value, list) else value
                for key, value in from_json(row[1]).items()}
        return data | {"kind": row[0]}

    def revisions(self) -> list[Revision]:
        """All committed changes, oldest first. Raises BadFile when they cannot be read."""
        with self._looking():
            rows = self._db.execute("select id, time, label from revision order by id")
            return [Revision(one, datetime.fromisoformat(time), label) for one, time, label in rows]

    def apply(self, axis: str, values: dict[str, Any], computed_from: dict[str, Any], time: datetime | None = None) -> None:
        """Record that these values are on the hardware now. Raises BadFile when it cannot be written."""
        stamp, basis = (time or now()).isoformat(), json.dumps(computed_from)
        with self._transaction() as db:
            db.executemany("insert into applied (time, axis, name, value, computed_from) values (?, ?, ?, ?, ?)",
                           [(stamp, axis, name, json.dumps(value), basis) for name, value in values.items()])

    def applied(self, axis: str) -> dict[str, Applied]:
        """What is on the hardware of an axis: the last record of each value. Raises BadFile when they cannot be read."""
        with self._looking():
            rows = self._db.execute("select time, name, value, computed_from from applied where axis = ? order by id", (axis,))
            return {
                name: Applied(datetime.fromisoformat(time), axis, name, json.loads(value), json.loads(basis))
                for time, name, value, basis in rows
            }

    def write_entry(self, axis: str, kind: str, text: str, time: datetime | None = None) -> None:
        """Add a line to the log. Raises BadFile when it cannot be written."""
        with self._transaction() as db:
            db.execute("insert into entry (time, axis, kind, text) values (?, ?, ?, ?)",
                       ((time or now()).isoformat(), axis, kind, text))

    def entries(self) -> list[Entry]:
        """The log, oldest first. Raises BadFile when it cannot be read."""
        with self._looking():
            rows = self._db.execute("select time, axis, kind, text from entry order by time, id")
            return [Entry(datetime.fromisoformat(time), axis, kind, text) for time, axis, kind, text in rows]

    def copy_to(self, path: Path) -> None:
        """A copy of the whole file with its history. Raises BadFile."""
        try:
            target = sqlite3.connect(path)
            with target:
                self._db.backup(target)
            target.close()
        except sqlite3.Error as why:
            raise BadFile(f"{path}: the copy cannot be written: {why}.") from None


def checked_version(path: Path) -> int:
    """The format of a project file, looked at without changing it. Raises BadFile, sqlite3.Error."""
    db = sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True)
    try:
        application, version = (db.execute(f"pragma {p}").fetchone()[0] for p in ("application_id", "user_version"))
        if application != APPLICATION_ID:
            raise BadFile(f"{path}: this is a database, but not a project file.")
        if version > SCHEMA_VERSION:
            raise BadFile(f"{path}: the file was written by a newer release (format {version}, known is {SCHEMA_VERSION}).")
        fault = db.execute("pragma quick_check(1)").fetchone()[0]
    finally:
        db.close()
    if fault != "ok":
        raise BadFile(_damaged(path, str(fault).splitlines()[0]))
    return int(version)


def _damaged(path: Path, fault: str) -> str:
    return f"{path}: the file is damaged: {fault}; “urban-mule salvage {path.name}” saves what can still be read."


def _reading_row(reading: Any, axis: str, stamp: datetime) -> tuple[str, ...]:
    """A set of readings as a row of its table, named by its content."""
    text, columns = reading_text(reading)
    name = hashlib.sha256(text.encode()).hexdigest()[:24]
    return (name, reading.taken or stamp.isoformat(), axis, reading.kind, reading.device, reading.note, json.dumps(columns), text)


def _connect(path: Path) -> sqlite3.Connection:
    db = sqlite3.connect(path, isolation_level=None, check_same_thread=False)
    db.execute("pragma journal_mode = wal")
    db.execute("pragma synchronous = full")
    db.execute("pragma busy_timeout = 3000")
    return db


def salvage(path: Path) -> Project:
    """The newest document that can still be read out of a damaged file, its unreadable readings left out.

    Raises BadFile when nothing can be read.
    """
    db = sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True)
    last = 2**31
    while last > 0:
        try:
            row = db.execute("select id, document from revision where id < ? order by id desc limit 1", (last,)).fetchone()
        except sqlite3.Error as why:
            raise BadFile(f"{path}: nothing can be read any more: {why}.") from None
        if row is None:
            break
        last = row[0]
        try:
            document = json.loads(row[1])
            for axis in document["axes"]:
                axis["readings"] = list(_readable(db, axis.get("readings", ())))
            return Project.model_validate(document)
        except (ValueError, KeyError, TypeError, sqlite3.Error):
            continue
    raise BadFile(f"{path}: the file holds no revision that can be read.")


def _readable(db: sqlite3.Connection, names: list[str]) -> Iterator[Any]:
    for name in names:
        try:
            yield json.loads(db.execute("select data from reading where id = ?", (name,)).fetchone()[0])
        except (sqlite3.Error, TypeError, ValueError):
            continue
