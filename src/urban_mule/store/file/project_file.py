"""The project file: one SQLite database that is always saved and keeps its history.

Tables: `revision` (every committed change: the whole document now and then, between them only what changed, both as JSON
without reading data, each with a digest over itself and the one before), `reading` (each set of readings once, by its content,
its numbers in binary), `applied` (what the user says is on the hardware), `entry` (the log), `round` (rounds under way),
`subject` (what every axis and spindle is called, or was last; all others name it by its id), `attachment`.

A revision and the readings it names go in one transaction, so that killing the process loses nothing shown as
saved; between two transactions the file is whole by itself.
"""

from __future__ import annotations

import json
import os
import sqlite3
from contextlib import closing, suppress
from datetime import datetime
from pathlib import Path
from typing import Any
from uuid import uuid4

from urban_mule.core.sheet.record import record
from urban_mule.store.document.base import FROM_FILE, Strict
from urban_mule.store.document.identity import KEY, recognise_all, with_identities
from urban_mule.store.document.plain import plain, plain_value
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.document.readings import READING_MODELS
from urban_mule.store.file.book_rows import ENTRY_KINDS, Applied, Book, Entry, Where, now
from urban_mule.store.file.changes import differences, patched
from urban_mule.store.file.migrations import damaged, migrate
from urban_mule.store.file.open_file import let_go, put_whole, to_read, to_write
from urban_mule.store.file.opening import checked_version, harmless, hold, is_sqlite, looking, may_be_named, settle, sweep
from urban_mule.store.file.rows import (
    Spoilt,
    digest_of,
    moment,
    reading_data,
    reading_row,
    said_of,
    texts,
)
from urban_mule.store.file.schema import LARGEST_ID, SCHEMA_VERSION, make_tables
from urban_mule.store.text_files import BadFile

INSERT_READING = "insert or ignore into reading values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"
INSERT_REVISION = "insert into revision (time, label, document, changes, digest) values (?, ?, ?, ?, ?)"
Named = dict[int, tuple[Any, str]]  # by the identity of a reading: the reading, which keeps that its own, and its name
LARGEST_DOCUMENT = 20_000_000  # characters: more than a project of the most parts has
LONG_READING = 200_000  # bytes of numbers from which on a set is loaded when somebody asks for it
WHOLE_AFTER = 2.0  # times its own size that changes may have grown to before the document is written whole again
MOST_CHANGES = 500  # revisions between two whole ones, so that none takes long to read
SECOND_AFTER = 20  # revisions after which a second whole one is written: a young file would be lost with its only one


@record(frozen=True)
class Revision:
    """A committed change of the document, without the document."""

    id: int
    time: datetime
    label: str


class ProjectFile(Book):
    """An open project file. Every method that changes it is one transaction, whichever thread calls it."""

    def __init__(self, path: Path, connection: sqlite3.Connection, held: int | None = None, read_only: str = "") -> None:
        super().__init__(path, connection, held, read_only)
        self._names: Named = {}  # of the readings that are in the file
        self._read: dict[str, Any] = {}
        self._called: dict[str, str] = {}  # what subjects are called in the file, as far as this knows
        self._last: tuple[int, Project] | None = None
        self._room = 0.0  # bytes of changes until the next whole document
        self._changes = self._whole = 0  # since the last whole document, and its revision
        self._successor: ProjectFile | None = None
        self._newest, self._digest = self._newest_revision()

    @classmethod
    def create(cls, path: Path, project: Project, time: datetime | None = None) -> ProjectFile:
        """A new file holding this project: made beside its place, then put there whole. Raises BadFile, also where one exists."""
        may_be_named(path)
        there = BadFile(f"{path}: there is a file already; choose another name.")
        fresh = path.with_name(f".{uuid4().hex[:12]}.mule")
        try:
            if os.path.lexists(path):
                raise there
            with closing(harmless(sqlite3.connect(fresh, isolation_level=None))) as db:
                db.execute("pragma synchronous = full")
                db.execute("begin immediate")
                make_tables(db)
                db.execute("commit")
                begun = cls(fresh, db)
                begun.commit(project, "begun", time)
            put_whole(fresh, path, there)
        except (sqlite3.Error, OSError, ValueError) as why:
            if isinstance(why, BadFile):
                raise
            raise BadFile(f"{str(path)[:300]}: the file cannot be made: {getattr(why, 'strerror', None) or why}.") from None
        finally:
            for name in (fresh, fresh.with_name(f"{fresh.name}-journal")):
                with suppress(OSError):
                    name.unlink(missing_ok=True)
        made = cls.open(path)
        made._names, made._read, made._last = begun._names, begun._read, begun._last
        made._room, made._changes, made._whole = begun._room, begun._changes, begun._whole
        return made

    @classmethod
    def open(cls, path: Path) -> ProjectFile:
        """An existing file, checked, migrated with a backup when it is older; only for reading where it is in use, or must not be
        written. Raises BadFile, and has changed nothing then.
        """
        may_be_named(path)
        is_sqlite(path)
        held, why = None, ""
        try:
            held = hold(path)
        except BadFile as refused:
            why = str(refused)
        try:
            if held is not None:
                settle(path)
                sweep(path.parent)
            version = checked_version(path)
            if held is None:
                return cls(path, to_read(path, version), None, why)
            if version < SCHEMA_VERSION:
                migrate(path)
            return cls(path, to_write(path), held)
        except BadFile:
            let_go(held)
            raise
        except (sqlite3.Error, OSError) as fault:
            let_go(held)
            raise BadFile(damaged(path, fault)) from None

    def _newest_revision(self) -> tuple[int, str]:
        """The id and the digest of the newest revision, 0 and nothing before the first. Raises BadFile."""
        with self._looking():
            newest, digest = self._db.execute("select id, digest from revision order by id desc limit 1").fetchone() or (0, "")
            if not isinstance(newest, int) or not 0 <= newest <= LARGEST_ID:
                raise Spoilt(f"revision {newest} was written by no release")
            return newest, str(digest)

    def commit(self, project: Project, label: str, time: datetime | None = None) -> Revision:
        """Save a committed change of the document. Raises BadFile when it cannot be written."""
        stamp = time or now()
        rows, kept = self._new_readings(project, stamp)
        with self._transaction() as db:
            if self._newest_revision()[0] != self._newest:
                raise BadFile(f"{self.path}: not saved: somebody else has written into the file meanwhile; save a copy, then open"
                              " it again.")
            db.executemany(INSERT_READING, rows)
            document, changes = self._written(project, kept)
            called = {one.id: (one.word or "axis", one.name) for one in project.subjects if self._called.get(one.id) != one.name}
            db.executemany("insert or replace into subject values (?, ?, ?)", [(one, *said) for one, said in called.items()])
            digest = digest_of(self._digest, stamp.isoformat(), label, document or changes or "")
            row = db.execute(INSERT_REVISION, (stamp.isoformat(), label, document, changes, digest))
        self._names.update(kept)
        self._called.update({one: name for one, (_, name) in called.items()})
        self._read.update({name: reading for reading, name in kept.values()})
        made = Revision(int(row.lastrowid or 0), stamp, label)
        if document is not None:
            self._room, self._changes, self._whole = WHOLE_AFTER * len(document), 0, made.id
        self._room, self._changes = self._room - len(changes or ""), self._changes + 1
        self._last, self._newest, self._digest = (made.id, project), made.id, digest
        return made

    def _new_readings(self, project: Project, stamp: datetime) -> tuple[list[tuple[Any, ...]], Named]:
        """Rows and names of the readings that are not in the file yet; axes that the last commit held need no look."""
        rows: list[tuple[Any, ...]] = []
        kept: Named = {}
        known = {id(axis) for axis in self._last[1].axes} if self._last is not None else set()
        for axis in project.axes:
            for reading in axis.readings if id(axis) not in known else ():
                if id(reading) not in self._names and id(reading) not in kept:
                    rows.append(reading_row(reading, axis.id, stamp))
                    kept[id(reading)] = (reading, rows[-1][0])
        return rows, kept

    def _written(self, project: Project, kept: Named) -> tuple[str | None, str | None]:
        """The document, or what changed since the revision before, as JSON; the other one is nothing."""
        def written(value: Any) -> Any:
            if isinstance(value, Axis):
                bare = plain(value.model_copy(update={"readings": ()}))
                return with_identities(value, bare) | {"readings": [written(one) for one in value.readings]}
            if isinstance(value, tuple):
                return [written(one) for one in value]
            named = kept.get(id(value)) or self._names.get(id(value))
            if named is not None:
                return named[1]
            return with_identities(value, plain(value)) if isinstance(value, Strict) else plain_value(value)

        most = SECOND_AFTER if self._whole <= 1 else MOST_CHANGES
        if self._last is not None and self._last[0] == self._newest and self._room > 0 and self._changes < most:
            found = differences(self._last[1], project, written)
            return None, json.dumps(found, ensure_ascii=False, allow_nan=False, separators=(",", ":"))
        bare = project.model_copy(update={"axes": ()})
        document = with_identities(bare, plain(bare)) | {"axes": written(project.axes)}
        return json.dumps(document, ensure_ascii=False, allow_nan=False), None

    def go_on_as(self, former: ProjectFile) -> None:
        """Take over what the file that this one is a copy of knows of the document, so that the next commit goes on from it."""
        former._successor = self
        if self._newest == former._newest:
            self._names, self._read, self._last = former._names, former._read, former._last
            self._room, self._changes, self._whole = former._room, former._changes, former._whole

    def keep(self, reading: Any, subject: str) -> None:
        """Save a set of readings ahead of the revision that will name it, in any thread: a long one takes a while.

        Raises BadFile when it cannot be written.
        """
        row = reading_row(reading, subject, now())
        with self._transaction() as db:
            db.execute(INSERT_READING, row)
        self._names[id(reading)] = (reading, row[0])
        self._read[row[0]] = reading

    def project(self, revision: int | None = None) -> Project:
        """The document of a revision, by default the last. Raises BadFile when it cannot be read or does not fit this release."""
        newest = revision is None
        if self._last is not None and revision == self._last[0]:
            return self._last[1]
        with self._in_a_sentence():
            with self._lock:
                if revision is None:
                    revision = self._newest
                document = self._document(revision)
                if document is None:
                    raise BadFile(f"{self.path}: the file holds no {f'revision {revision}' if revision else 'revision'}.")
                names = [axis.get("readings", ()) for axis in document["axes"]]
                for axis, named in zip(document["axes"], names, strict=True):
                    axis["readings"] = [self._reading(name) for name in named]
            project = Project.model_validate(document, context=FROM_FILE)  # which takes longest: nobody who writes has to wait
            if not newest and self._last is not None and KEY not in document["axes"][0]:
                recognise_all(self._last[1], project)  # a revision of an older format has no identities
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
        self._whole = whole

    def _document(self, revision: int) -> dict[str, Any] | None:
        """The document of a revision as JSON holds it, its readings by name; None when there is none. Raises Spoilt."""
        rows = self._db.execute(
            "select id, time, label, coalesce(document, changes), digest from revision where id <= ?1 and id >= (select max(id)"
            " from revision where id <= ?1 and document is not null) order by id", (revision,)).fetchall()
        if not rows or rows[-1][0] != revision:
            return None
        before = self._db.execute("select digest from revision where id < ? order by id desc limit 1", (rows[0][0],)).fetchone()
        digest = "" if before is None else str(before[0])
        document: Any = None
        for one, time, label, text, said in rows:
            digest = digest_of(digest, *texts(time, label, text))
            if len(text) > LARGEST_DOCUMENT:
                raise Spoilt(f"revision {one} holds {len(text)} characters; a document has at most {LARGEST_DOCUMENT}")
            if digest != said:
                raise Spoilt(f"revision {one} is not as it was saved")
            document = json.loads(text) if document is None else patched(document, json.loads(text))
        return dict(document)

    def _reading(self, name: str) -> Any:
        """The reading itself when this file has handed it out, else its data."""
        if name in self._read:
            return self._read[name]
        size = self._db.execute("select length(numbers), kind, columns, data from reading where id = ?", (name,)).fetchone()
        if size is None:
            raise Spoilt(f"reading {str(name)[:40]} is missing")
        if size[0] < LONG_READING or size[1] not in READING_MODELS:
            return self._whole_reading(name)
        return READING_MODELS[size[1]].later(*said_of(*size[1:]), lambda: self._loaded(name))

    def _whole_reading(self, name: str, db: sqlite3.Connection | None = None) -> dict[str, Any]:
        wanted = "select kind, columns, data, numbers, digest from reading where id = ?"
        return reading_data(*(db or self._db).execute(wanted, (name,)).fetchone())

    def _loaded(self, name: str) -> dict[str, Any]:
        """The data of a long set, once somebody asks for it, of whichever file the work goes on in. Raises BadFile."""
        if self._successor is not None:
            return self._successor._loaded(name)
        with self._looking():
            if not self._closed:
                return self._whole_reading(name)
            with closing(looking(self.path, as_it_stands=False)) as db:
                return self._whole_reading(name, db)

    def revisions(self) -> list[Revision]:
        """All committed changes, oldest first. Raises BadFile when they cannot be read."""
        return self._revisions("order by id")

    def newest_revisions(self, most: int) -> list[Revision]:
        """The newest committed changes, newest first, however many there are behind them. Raises BadFile."""
        return self._revisions(f"order by id desc limit {int(most)}")

    def last_revision(self) -> Revision:
        """The newest committed change. Raises BadFile when there is none that can be read."""
        found = self._revisions("order by id desc limit 1")
        if not found:
            raise BadFile(f"{self.path}: the file holds no revision.")
        return found[0]

    def _revisions(self, which: str) -> list[Revision]:
        with self._looking():
            rows = self._db.execute(f"select id, time, label from revision {which}")
            return [Revision(one, moment(time), *texts(label)) for one, time, label in rows]


__all__ = ["ENTRY_KINDS", "Applied", "Entry", "ProjectFile", "Revision", "Where", "now"]
