"""The project file: one SQLite database that is always saved and keeps its history.

Tables: `revision` (every committed change: the whole document now and then, between them only what changed, both as JSON
without reading data), `reading` (each set of readings once, by its content), `applied` (what the user says is on the
hardware), `entry` (the log), `round` (rounds under way), `attachment`. A revision and the readings it names go in one
transaction, so that killing the
process loses nothing shown as saved.
"""

from __future__ import annotations

import hashlib
import json
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

from urban_mule.store.document.faults import sentence
from urban_mule.store.document.plain import plain, plain_value, reading_text
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.file.changes import differences
from urban_mule.store.file.migrations import (
    APPLICATION_ID,
    SCHEMA_VERSION,
    TABLES,
    checked_version,
    damaged,
    document_of,
    migrate,
)
from urban_mule.store.text_files import BadFile, write_whole

INSERT_READING = "insert or ignore into reading values (?, ?, ?, ?, ?, ?, ?, ?)"
INSERT_REVISION = "insert into revision (time, label, document, changes) values (?, ?, ?, ?)"
Named = dict[int, tuple[Any, str]]  # by the identity of a reading: the reading, which keeps that its own, and its name
ENTRY_KINDS = ("set", "measured", "repaired", "maintained", "note", "due")  # of lines of the log
WHOLE_AFTER = 2.0  # times its own size that changes may have grown to before the document is written whole again
MOST_CHANGES = 500  # revisions between two whole ones, so that none takes long to read


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
        self._names: Named = {}  # of the readings that are in the file
        self._read: dict[str, Any] = {}
        self._last: tuple[int, Project] | None = None
        self._room = 0.0  # bytes of changes until the next whole document
        self._changes = 0

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
            if checked_version(path) < SCHEMA_VERSION:
                migrate(path)
            return cls(path, _connect(path))
        except sqlite3.Error as why:
            raise BadFile(damaged(path, str(why))) from None

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
            raise BadFile(damaged(self.path, sentence(error).rstrip("."))) from None
        except (sqlite3.Error, ValueError, TypeError, LookupError, AttributeError) as why:
            raise BadFile(damaged(self.path, " ".join(str(why).split())[:80])) from None

    def commit(self, project: Project, label: str, time: datetime | None = None) -> Revision:
        """Save a committed change of the document. Raises BadFile when it cannot be written."""
        stamp = time or now()
        rows, kept = self._new_readings(project, stamp)
        with self._transaction() as db:
            db.executemany(INSERT_READING, rows)
            document, changes = self._written(db, project, kept)
            row = db.execute(INSERT_REVISION, (stamp.isoformat(), label, document, changes))
        self._names.update(kept)
        self._read.update({name: reading for reading, name in kept.values()})
        made = Revision(int(row.lastrowid or 0), stamp, label)
        if document is not None:
            self._room, self._changes = WHOLE_AFTER * len(document), 0
        self._room, self._changes = self._room - len(changes or ""), self._changes + 1
        self._last = made.id, project
        return made

    def _new_readings(self, project: Project, stamp: datetime) -> tuple[list[tuple[str, ...]], Named]:
        """Rows and names of the readings that are not in the file yet; axes that the last commit held need no look."""
        rows: list[tuple[str, ...]] = []
        kept: Named = {}
        known = {id(axis) for axis in self._last[1].axes} if self._last is not None else set()
        for axis in project.axes:
            for reading in axis.readings if id(axis) not in known else ():
                if id(reading) not in self._names and id(reading) not in kept:
                    rows.append(_reading_row(reading, axis.name, stamp))
                    kept[id(reading)] = (reading, rows[-1][0])
        return rows, kept

    def _written(self, db: sqlite3.Connection, project: Project, kept: Named) -> tuple[str | None, str | None]:
        """The document, or what changed since the revision before, as JSON; the other one is nothing."""
        def written(value: Any) -> Any:
            if isinstance(value, Axis):
                return plain(value.model_copy(update={"readings": ()})) | {"readings": [written(one) for one in value.readings]}
            if isinstance(value, tuple):
                return [written(one) for one in value]
            named = kept.get(id(value)) or self._names.get(id(value))
            return plain_value(value) if named is None else named[1]

        newest = db.execute("select max(id) from revision").fetchone()[0]
        if self._last is not None and self._last[0] == newest and self._room > 0 and self._changes < MOST_CHANGES:
            found = differences(self._last[1], project, written)
            return None, json.dumps(found, ensure_ascii=False, allow_nan=False, separators=(",", ":"))
        document = plain(project.model_copy(update={"axes": ()})) | {"axes": written(project.axes)}
        return json.dumps(document, ensure_ascii=False, allow_nan=False), None

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
        self._names[id(reading)] = (reading, row[0])
        self._read[row[0]] = reading

    def project(self, revision: int | None = None) -> Project:
        """The document of a revision, by default the last. Raises BadFile when it cannot be read or does not fit this release."""
        newest = revision is None
        with self._looking():
            if revision is None:
                revision = self._db.execute("select max(id) from revision").fetchone()[0]
            document = None if revision is None else document_of(self._db, revision)
            if document is None:
                raise BadFile(f"{self.path}: the file holds no {'revision' if revision is None else f'revision {revision}'}.")
            names = [axis.get("readings", ()) for axis in document["axes"]]
            for axis, named in zip(document["axes"], names, strict=True):
                axis["readings"] = [self._reading(name) for name in named]
            project = Project.model_validate(document)
            for axis, named in zip(project.axes, names, strict=True):
                self._names.update({id(reading): (reading, name) for reading, name in zip(axis.readings, named, strict=True)})
                self._read.update(zip(named, axis.readings, strict=True))
            if newest:
                self._go_on_from(revision, project)
            return project

    def _go_on_from(self, revision: int, project: Project) -> None:
        """The next commit may say what it changes of this one."""
        whole, size = self._db.execute("select id, length(document) from revision where document is not null"
                                       " order by id desc limit 1").fetchone()
        changes, count = self._db.execute("select coalesce(sum(length(changes)), 0), count(*) from revision where id > ?",
                                          (whole,)).fetchone()
        self._last, self._room, self._changes = (revision, project), WHOLE_AFTER * size - changes, count + 1

    def _reading(self, name: str) -> Any:
        """The reading itself when this file has handed it out, else its data."""
        if name in self._read:
            return self._read[name]
        row = self._db.execute("select kind, data from reading where id = ?", (name,)).fetchone()
        if row is None:
            raise KeyError(f"reading {name} is missing")
        # The numbers were checked one by one when they came in; as arrays they are checked as a whole.
        data = {key: np.array(value, dtype=float) if isinstance(value, list) else value
                for key, value in from_json(row[1]).items()}
        return data | {"kind": row[0]}

    def revisions(self) -> list[Revision]:
        """All committed changes, oldest first. Raises BadFile when they cannot be read."""
        return self._revisions("order by id")

    def last_revision(self) -> Revision:
        """The newest committed change. Raises BadFile when there is none that can be read."""
        found = self._revisions("order by id desc limit 1")
        if not found:
            raise BadFile(f"{self.path}: the file holds no revision.")
        return found[0]

    def _revisions(self, which: str) -> list[Revision]:
        with self._looking():
            rows = self._db.execute(f"select id, time, label from revision {which}")
            return [Revision(one, datetime.fromisoformat(time), label) for one, time, label in rows]

    def apply(self, axis: str, values: dict[str, Any], computed_from: dict[str, Any], time: datetime | None = None) -> None:
        """Record that these values are on the hardware now. Raises BadFile when it cannot be written."""
        stamp, basis = (time or now()).isoformat(), json.dumps(computed_from)
        with self._transaction() as db:
            db.executemany("insert into applied (time, axis, name, value, computed_from) values (?, ?, ?, ?, ?)",
                           [(stamp, axis, name, json.dumps(value), basis) for name, value in values.items()])

    def applied(self) -> dict[str, dict[str, Applied]]:
        """What is on the hardware, by axis: the last record of each value. Raises BadFile when they cannot be read."""
        found: dict[str, dict[str, Applied]] = {}
        with self._looking():
            rows = self._db.execute("select time, axis, name, value, computed_from from applied"
                                    " where id in (select max(id) from applied group by axis, name)")
            for time, axis, name, value, basis in rows:
                found.setdefault(axis, {})[name] = Applied(
                    datetime.fromisoformat(time), axis, name, json.loads(value), json.loads(basis))
        return found

    def save_round(self, key: str, axis: str, kind: str, state: dict[str, Any], ended: bool = False) -> None:
        """Keep a round as far as it has come; ended: it made a reading, or was given up. Raises BadFile."""
        row = (key, now().isoformat(), axis, kind, json.dumps(state, allow_nan=False), int(ended))
        with self._transaction() as db:
            db.execute("insert into round values (?1, ?2, ?3, ?4, ?5, ?6) on conflict (id) do update set time = ?2, axis = ?3,"
                       " state = ?5, ended = ?6", row)

    def open_rounds(self) -> list[dict[str, Any]]:
        """The rounds that were begun and not ended, oldest first. Raises BadFile when they cannot be read."""
        with self._looking():
            return [json.loads(state) for state, in self._db.execute("select state from round where not ended order by time")]

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

    def rename_axis(self, former: str, name: str) -> None:
        """Let the log and what is on the hardware follow an axis to its new name. Raises BadFile when it cannot be written."""
        with self._transaction() as db:
            for table in ("applied", "entry", "reading", "round"):
                db.execute(f"update {table} set axis = ? where axis = ?", (name, former))

    def copy_to(self, path: Path) -> None:
        """A copy of the whole file with its history. Raises BadFile."""
        def copied(fresh: Path) -> None:
            with closing(sqlite3.connect(fresh)) as target:
                self._db.backup(target)

        try:
            write_whole(path, copied)
        except sqlite3.Error as why:
            raise BadFile(f"{path}: the copy cannot be written: {why}.") from None


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
