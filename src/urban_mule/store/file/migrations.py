"""What a project file looks like, how its format is recognised, and how an older one is brought up, with a backup kept."""

from __future__ import annotations

import json
import re
import sqlite3
import stat
from contextlib import closing, suppress
from datetime import UTC, datetime
from itertools import chain, count
from json import JSONDecodeError
from pathlib import Path
from typing import Any

from urban_mule.store.document.plain import plain_numbers
from urban_mule.store.file.backups import copies_of
from urban_mule.store.file.by_name import identify
from urban_mule.store.file.changes import differences, patched
from urban_mule.store.file.rows import Spoilt, digest_of, packed
from urban_mule.store.file.schema import (
    APPLIED_TABLE,
    ENTRY_TABLE,
    ENTRY_TABLE_5,
    READING_TABLE,
    READING_TABLE_4,
    REVISION_TABLE,
    REVISION_TABLE_2,
    ROUND_TABLE,
    ROUND_TABLE_3,
    SCHEMA_VERSION,
    SUBJECT_TABLE,
    statements,
)
from urban_mule.store.text_files import BadFile, write_whole

COST = re.compile(r" Cost: (\d+(?:\.\d+)?)\.$")  # how lines of the book said, up to format 4, what has a column now
PHOTOGRAPH = re.compile(r" \[photograph (.+)\]$")
NAMED = re.compile(r"^Revision (\d{1,15}) is called “(.+)”\.$")
WRONG = (ValueError, TypeError, LookupError, AttributeError, RecursionError)  # of a row that does not hold what it should
WHOLE_EVERY = 200  # revisions of a migrated history


def damaged(path: Path, fault: str | Exception) -> str:
    """The sentence for a file that cannot be read; what the language says of its own values is no sentence."""
    says = isinstance(fault, (str, Spoilt, sqlite3.Error, OSError, JSONDecodeError))
    said = " ".join(str(fault).split())[:120] if says else "something in it is not what this program writes there"
    return f"{path}: the file is damaged: {said}; “urban-mule salvage {path.name}” saves what can still be read{copies_of(path)}."


def migrate(path: Path) -> Path:
    """Bring an older file up to this format in one transaction; the backup that is kept. Raises BadFile, sqlite3.Error."""
    with closing(sqlite3.connect(path, isolation_level=None)) as db:
        db.execute("pragma busy_timeout = 3000")
        version = db.execute("pragma user_version").fetchone()[0]
        names = (path.with_suffix(f".format{version}{number}.mule") for number in chain([""], (f"-{n}" for n in count(2))))
        backup = next(name for name in names if not name.exists())
        write_whole(backup, lambda fresh: _backed_up(db, fresh))
        backup.chmod(stat.S_IMODE(path.stat().st_mode))
        db.execute("pragma trusted_schema = off")
        db.execute("pragma cache_spill = off")
        db.execute("begin immediate")
        try:
            if version < 2:
                _revisions_as_changes(db)
            if version < 3:
                _practice_and_rounds(db)
            if version < 4:
                _digests_and_binary(db)
            if version < 5:
                _book_in_columns(db)
            _identities(db)
            db.execute(f"pragma user_version = {SCHEMA_VERSION}")
            db.execute("commit")
        except (ValueError, TypeError, LookupError) as why:
            db.execute("rollback")
            said = " ".join(str(why).split())[:80]
            raise BadFile(damaged(path, f"its history cannot be brought up to this format: {said}")) from None
        db.execute("pragma journal_mode = delete")
        with suppress(sqlite3.Error):  # giving the room back is a kindness, no part of the migration
            db.execute("vacuum")
    return backup


def _backed_up(db: sqlite3.Connection, fresh: Path) -> None:
    with closing(sqlite3.connect(fresh)) as target:
        db.backup(target)


def _practice_and_rounds(db: sqlite3.Connection) -> None:
    """Format 3 keeps rounds under way; a project that holds made-up readings becomes a practice project, for ever marked."""
    db.execute(ROUND_TABLE_3)
    newest = db.execute("select max(id) from revision").fetchone()[0]
    document = None if newest is None else document_of(db, newest)
    if document is None:
        return
    used = {name for axis in document.get("axes", ()) for name in axis.get("readings", ()) if isinstance(name, str)}
    made_up = {name for name, in db.execute("select id from reading where device = 'simulated axis'")}
    if used & made_up and not document.get("practice"):
        said = "holds made-up readings: a practice project from now on"
        db.execute("insert into revision (time, label, document, changes) values (?, ?, null, ?)",
                   (datetime.now(UTC).isoformat(), said, json.dumps([[["practice"], True]])))


def document_of(db: sqlite3.Connection, revision: int) -> dict[str, Any] | None:
    """The document of a revision as JSON holds it, its readings by name: the last whole one before it and what changed since.

    None when there is no such revision. Raises what damaged texts raise.
    """
    rows = db.execute(
        "select id, document, changes from revision where id <= ?1 and id >= (select max(id) from revision"
        " where id <= ?1 and document is not null) order by id", (revision,)).fetchall()
    if not rows or rows[-1][0] != revision:
        return None
    document: dict[str, Any] = json.loads(rows[0][1])
    for _, _, changes in rows[1:]:
        patched(document, json.loads(changes))
    return document


def _revisions_as_changes(db: sqlite3.Connection) -> None:
    """Format 1 held the whole document with every revision; from format 2 on most hold what changed."""
    db.execute("alter table revision rename to revision_1")
    for statement in statements((REVISION_TABLE_2,)):
        db.execute(statement)
    former = None
    for place, (one, time, label, text) in enumerate(db.execute("select id, time, label, document from revision_1 order by id")):
        document = json.loads(text)
        changes = None if former is None or place % WHOLE_EVERY == 0 else json.dumps(
            differences(former, document, lambda value: value), ensure_ascii=False, separators=(",", ":"))
        db.execute("insert into revision values (?, ?, ?, ?, ?)", (one, time, label, text if changes is None else None, changes))
        former = document
    db.execute("drop table revision_1")


def _digests_and_binary(db: sqlite3.Connection) -> None:
    """Format 4 has a digest with each revision and each reading, and the numbers of readings in binary."""
    for table, made in (("revision", REVISION_TABLE), ("reading", READING_TABLE_4)):
        db.execute(f"alter table {table} rename to {table}_3")
        if table == "revision":
            db.execute("drop index revision_whole")
        for statement in statements((made,)):
            db.execute(statement)
    digest = ""
    for one, time, label, document, changes in db.execute("select id, time, label, document, changes from revision_3 order by id"):
        digest = digest_of(digest, time, label, document if document is not None else changes)
        db.execute("insert into revision values (?, ?, ?, ?, ?, ?)", (one, time, label, document, changes, digest))
    for name, time, axis, kind, device, note, data in db.execute(
            "select id, time, axis, kind, device, conditions, data from reading_3"):
        columns, rest, numbers = packed(*plain_numbers(kind, json.loads(data)))
        db.execute("insert into reading values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", (
            name, time, axis, kind, device, note, columns, rest, numbers, digest_of(rest, columns, numbers)))
    db.execute("drop table revision_3")
    db.execute("drop table reading_3")


def book_columns(kind: str, text: str) -> tuple[str, float | None, str, str, int | None]:
    """What a line of the book up to format 4 said in its words alone: text, cost, photograph, task, revision."""
    named = NAMED.match(text)
    if named is not None:
        return named[2], None, "", "", int(named[1])
    photograph = PHOTOGRAPH.search(text)
    text = PHOTOGRAPH.sub("", text)
    cost = COST.search(text)
    return (COST.sub("", text), None if cost is None else float(cost[1]), "" if photograph is None else photograph[1],
            text if kind == "maintained" else "", None)


def _book_in_columns(db: sqlite3.Connection) -> None:
    """Format 5 has columns for what a line of the book costs, shows, books done and names."""
    db.execute("alter table entry rename to entry_4")
    db.execute(ENTRY_TABLE_5)
    for one, time, axis, kind, text in db.execute("select id, time, axis, kind, text from entry_4 order by id").fetchall():
        columns = book_columns(str(kind), text) if isinstance(text, str) else (text, None, "", "", None)
        db.execute("insert into entry values (?, ?, ?, ?, ?, ?, ?, ?, ?)", (one, time, axis, kind, *columns))
    db.execute("drop table entry_4")


def _identities(db: sqlite3.Connection) -> None:
    """Format 6 knows everybody by an identity: the newest document gives them, in a revision of its own, and the rows follow."""
    newest, before = db.execute("select id, digest from revision order by id desc limit 1").fetchone() or (None, "")
    document: dict[str, Any] = (None if newest is None else document_of(db, newest)) or {}
    by_name, changes = identify(document)
    if newest is not None:
        time, label, text = datetime.now(UTC).isoformat(), "everybody has an identity", json.dumps(changes)
        db.execute("insert into revision (time, label, document, changes, digest) values (?, ?, null, ?, ?)",
                   (time, label, text, digest_of(before, time, label, text)))
    for table, made in (("entry", ENTRY_TABLE), ("applied", APPLIED_TABLE), ("reading", READING_TABLE), ("round", ROUND_TABLE)):
        db.execute(f"alter table {table} rename to {table}_5")
        if table == "applied":
            db.execute("drop index applied_by_axis")
        for statement in statements((made,)):
            db.execute(statement)
    db.execute(SUBJECT_TABLE)
    for one, *row in db.execute("select * from entry_5 order by id"):
        _put(db, "entry", one, *by_name.entry(*row))
    for one, *row in db.execute("select * from applied_5 order by id"):
        _put(db, "applied", one, *by_name.applied(*row))
    for one, time, name, *row in db.execute("select * from reading_5"):
        _put(db, "reading", one, time, by_name.whose(name), *row)
    for one, time, name, kind, state, ended in db.execute("select * from round_5 order by rowid"):
        with suppress(*WRONG):
            state = by_name.round(state)
        _put(db, "round", one, time, by_name.whose(name), kind, state, ended)
    for row in by_name.begun:
        _put(db, "round", *row, 0)
    patched(document, changes)
    there = [(kind, part) for kind, key in (("axis", "axes"), ("spindle", "spindles")) for part in document.get(key, ())]
    for row in (*((part["id"], kind, part["name"]) for kind, part in there), *by_name.gone):
        _put(db, "subject", *row)
    for table in ("entry", "applied", "reading", "round"):
        db.execute(f"drop table {table}_5")


def _put(db: sqlite3.Connection, table: str, *row: Any) -> None:
    db.execute(f"insert into {table} values ({', '.join('?' * len(row))})", row)
