"""What can still be read of a damaged project file, and what a sound one is checked by."""

from __future__ import annotations

import json
import shutil
import sqlite3
import tempfile
from collections.abc import Callable, Iterator
from contextlib import closing, suppress
from dataclasses import dataclass, field
from itertools import takewhile
from pathlib import Path
from typing import Any

from urban_mule.store.document.base import FROM_FILE
from urban_mule.store.document.identity import KEY
from urban_mule.store.document.project import Project
from urban_mule.store.document.readings import READING_MODELS
from urban_mule.store.file.backups import copies_of
from urban_mule.store.file.book_rows import ENTRY_COLUMNS, applied_columns
from urban_mule.store.file.by_name import ByName, identify
from urban_mule.store.file.changes import patched
from urban_mule.store.file.migrations import book_columns
from urban_mule.store.file.opening import bounded, is_sqlite, looking
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.file.rows import digest_of, entry_columns, moment, reading_data, texts
from urban_mule.store.text_files import BadFile

WRONG = (ValueError, LookupError, TypeError, AttributeError, RecursionError, sqlite3.Error, OverflowError)
LAST = 2**62
OLD_ENTRY = ("time", "subject", "kind", "text")
LOG_BESIDE = b"\x02\x02"  # in the head of a file whose newest pages lie in another one


@dataclass
class Salvaged:
    """What was read of a file: the newest document, the other readings by subject, the rows of the log and of what was set, in
    order, attachments, rounds under way, subjects that are gone, and what was lost, a sentence each.
    """

    project: Project
    others: list[tuple[str, Any]] = field(default_factory=list)
    entries: list[tuple[Any, ...]] = field(default_factory=list)
    applied: list[tuple[Any, ...]] = field(default_factory=list)
    attachments: list[tuple[Any, ...]] = field(default_factory=list)
    rounds: list[tuple[Any, ...]] = field(default_factory=list)
    subjects: list[tuple[str, str, str]] = field(default_factory=list)
    lost: list[str] = field(default_factory=list)


def salvage(path: Path) -> Project:
    """The newest document that can still be read out of a damaged file, its unreadable readings left out.

    A damaged change is left out too, with those after it that do not fit any more. Raises BadFile when nothing can be read.
    """
    return salvaged(path).project


def salvaged(path: Path) -> Salvaged:
    """Everything that can still be read of a file. Raises BadFile when no document can be."""
    is_sqlite(path)
    with closing(_opened(path)) as db:
        anew = bounded(db)
        for whole, text in _whole_ones(db, path):
            anew()
            try:
                document = _read_on(db, whole, text)
                by_name = _identified(document)
                lost: list[str] = []
                named = {str(name) for axis in document["axes"] for name in axis.get("readings", ())}
                for axis in document["axes"]:
                    axis["readings"] = list(_readable(db, axis.get("readings", ()), lost))
                found = Salvaged(Project.model_validate(document, context=FROM_FILE), lost=lost)
            except WRONG:
                continue
            _rest(db, found, named, anew, by_name)
            return found
    raise BadFile(f"{path}: the file holds no revision that can be read{copies_of(path)}.")


def salvage_into(path: Path, new: Path) -> list[str]:
    """Write what can still be read of a file into a new project file; what was lost, a sentence each. Raises BadFile."""
    found = salvaged(path)
    made = ProjectFile.create(new, found.project)
    try:
        for subject, reading in found.others:
            made.keep(reading, subject)
        made.put_back(found.entries, found.applied, found.attachments, found.rounds, found.subjects)
    finally:
        made.close()
    return found.lost


def verify(path: Path) -> list[str]:
    """Every fault of a file, a sentence each: pages, every revision with its digest, every reading, the log, what was set.

    It only looks: what is read through is a copy, so that an older file stays as old as it is. Raises BadFile for what is no file
    of a project.
    """
    with tempfile.TemporaryDirectory() as folder:
        copied = _copied(path, Path(folder) / f"copy{path.suffix[:20]}")
        try:
            return [fault.replace(str(copied), str(path)) for fault in _faults_of(copied)]
        except BadFile as why:
            raise BadFile(str(why).replace(str(copied), str(path))) from None


def _copied(path: Path, copied: Path) -> Path:
    """A copy of a file page by page, as one of whoever writes into it meanwhile; as it lies there where that cannot be."""
    is_sqlite(path)
    try:
        with path.open("rb") as file:
            if file.read(20)[18:20] == LOG_BESIDE:  # looking would leave files beside it
                raise sqlite3.OperationalError
        with closing(looking(path, as_it_stands=False)) as db, closing(sqlite3.connect(copied)) as copy:
            db.backup(copy)
    except sqlite3.Error:
        copied.unlink(missing_ok=True)
        for ending in ("", "-journal", "-wal"):
            with suppress(FileNotFoundError):
                shutil.copyfile(f"{path}{ending}", f"{copied}{ending}")
    return copied


def _faults_of(path: Path) -> list[str]:
    file = ProjectFile.open(path)
    faults: list[str] = []
    try:
        with closing(looking(path, as_it_stands=False)) as db:
            for row in db.execute("pragma integrity_check(20)").fetchall():
                if row[0] != "ok":
                    faults.append(f"the pages: {row[0]}.")
            digest, whole = "", None
            for one, time, label, document, changes, said in db.execute(
                    "select id, time, label, document, changes, digest from revision order by id"):
                try:
                    digest = digest_of(digest, *texts(time, label, document if document is not None else changes))
                    if digest != said:
                        raise ValueError("it is not as it was saved")
                    moment(time)
                    whole = json.loads(document) if document is not None else patched(whole, json.loads(changes))
                except WRONG as why:
                    faults.append(f"revision {one}: {why}.")
                    digest = str(said)
            for name, *row in db.execute("select id, kind, columns, data, numbers, digest from reading"):
                try:
                    _model(reading_data(*row))
                except WRONG as why:
                    faults.append(f"reading {name}: {' '.join(str(why).split())[:120]}.")
        with suppress(BadFile):
            file.entries()
            file.applied()
        try:
            file.project()
        except BadFile as why:
            faults.append(str(why))
    except sqlite3.Error as why:
        faults.append(f"the file cannot be read through: {why}.")
    finally:
        file.close()
    return faults + ([f"{file.left_out} rows of the log or of what was set hold something else than they should."]
                     if file.left_out else [])


def _opened(path: Path) -> sqlite3.Connection:
    """A connection with what lies beside the file, where that can be; else with the file as it stands."""
    try:
        db = looking(path, as_it_stands=False)
        db.execute("select max(id) from revision").fetchone()
    except sqlite3.Error:
        db = looking(path)
    db.text_factory = lambda raw: raw.decode("utf-8", errors="replace")  # a byte that is no text spoils itself, not the rest
    return db


def _whole_ones(db: sqlite3.Connection, path: Path) -> Iterator[tuple[int, str]]:
    """The revisions that hold a whole document, newest first. Raises BadFile when the table itself cannot be read."""
    last = LAST
    while True:
        try:
            row = db.execute("select id, document from revision not indexed where id < ? and document is not null"
                             " order by id desc limit 1",
                             (last,)).fetchone()
        except sqlite3.Error as why:
            raise BadFile(f"{path}: nothing can be read any more: {why}{copies_of(path)}.") from None
        if row is None or not isinstance(row[0], int) or row[0] >= last:
            return
        last = row[0]
        yield row


def _read_on(db: sqlite3.Connection, whole: int, text: str) -> dict[str, Any]:
    """A document with the changes after it, as many as can be read, fit, and make a project. Raises ValueError for none."""
    try:
        rows = db.execute("select changes from revision where id > ? order by id", (whole,)).fetchall()
    except sqlite3.Error:  # a format 1 file has no changes
        rows = []
    rows = list(takewhile(lambda row: row[0] is not None, rows))  # up to the next whole document
    for most in range(len(rows), -1, -1):
        document, made = _with(text, rows[:most])
        if made < most:
            document, made = _with(text, rows[:made])
        try:
            Project.model_validate(document | {"axes": [axis | {"readings": []} for axis in document["axes"]]}, context=FROM_FILE)
            return document
        except WRONG:
            continue
    raise ValueError("no document")


def _with(text: str, rows: list[tuple[str]]) -> tuple[dict[str, Any], int]:
    """A document with these changes, and how many could be made before one did not fit; then it may be half made."""
    document = json.loads(text)
    for made, (changes,) in enumerate(rows):
        try:
            patched(document, json.loads(changes))
        except WRONG:
            return document, made
    return document, len(rows)


def _readable(db: sqlite3.Connection, names: list[str], lost: list[str]) -> Iterator[Any]:
    """The readings of these names that can be read, checked one by one."""
    for name in names:
        try:
            yield _model(_row(db, name))
        except WRONG as why:
            lost.append(f"reading {str(name)[:24]}: {' '.join(str(why).split())[:80]}.")


def _row(db: sqlite3.Connection, name: str) -> dict[str, Any]:
    """The data of a reading, in this format or in an older one, which had it all in JSON."""
    try:
        row = db.execute("select kind, columns, data, numbers, digest from reading where id = ?", (name,)).fetchone()
        return reading_data(*row)
    except sqlite3.OperationalError:
        kind, data = db.execute("select kind, data from reading where id = ?", (name,)).fetchone()
        return {**json.loads(data), "kind": kind}


def _model(data: dict[str, Any]) -> Any:
    return READING_MODELS[data["kind"]].model_validate(data)


def _identified(document: dict[str, Any]) -> ByName | None:
    """Whom the names of a file up to format 5 mean, its document given identities; None where it has them."""
    if KEY in document["axes"][0]:
        return None
    by_name, changes = identify(document)
    patched(document, changes)
    return by_name


class _Rest:
    """Takes rows of every table but that of revisions into what is found; raises one of WRONG for a row that is not sound."""

    def __init__(self, db: sqlite3.Connection, found: Salvaged, named: set[str], by_name: ByName | None) -> None:
        self.db, self.found, self.named, self.by_name = db, found, named, by_name

    def reading(self, name: Any, whose: Any) -> None:
        if name not in self.named:
            whose = whose if self.by_name is None else self.by_name.whose(whose)
            self.found.others.append((*texts(whose), _model(_row(self.db, name))))

    def entry(self, *row: Any) -> None:
        if len(row) == len(OLD_ENTRY):  # of a file before format 5, which said it all in words
            row = (*row[:3], *book_columns(*texts(*row[2:])))
        time, *rest = row if self.by_name is None else self.by_name.entry(*row)
        self.found.entries.append((moment(time).isoformat(), *entry_columns(*rest)))

    def applied(self, *row: Any) -> None:
        time, *rest = row if self.by_name is None else self.by_name.applied(*row)
        (subject, motor, stored), name, value, basis = applied_columns(*rest)
        self.found.applied.append(
            (moment(time).isoformat(), subject, motor, int(stored), name, json.dumps(value), json.dumps(basis)))

    def attachment(self, time: Any, name: Any, media_type: Any, data: Any) -> None:
        self.found.attachments.append((moment(time).isoformat(), *texts(name, media_type), bytes(data)))

    def under_way(self, name: Any, time: Any, whose: Any, kind: Any, state: Any) -> None:
        json.loads(state)
        if self.by_name is not None:
            whose, state = self.by_name.whose(whose), self.by_name.round(state)
        self.found.rounds.append((*texts(name), moment(time).isoformat(), *texts(whose, kind, state)))

    def subject(self, *row: Any) -> None:
        self.found.subjects.append(texts(*row))  # type: ignore[arg-type]

    def all_of(self, words: str, query: str, take: Callable[..., None]) -> None:
        """Take each row that is sound; what is not is named among what is lost."""
        try:
            for row in self.db.execute(query):
                try:
                    take(*row)
                except WRONG:
                    self.found.lost.append(f"{words} that does not hold what it should.")
        except sqlite3.Error as why:
            self.found.lost.append(f"the rest of what held {words}: {why}.")


def _rest(db: sqlite3.Connection, found: Salvaged, named: set[str], anew: Callable[[], None], by_name: ByName | None) -> None:
    """The readings that no axis names, the log, what was set, attachments: each row that is sound."""
    rest = _Rest(db, found, named, by_name)
    tables = {str(name): {str(one) for one, in db.execute("select name from pragma_table_info(?)", (name,))}
              for name, in db.execute("select name from sqlite_schema where type = 'table'")}
    columns = ENTRY_COLUMNS if "cost" in tables.get("entry", ()) else ", ".join(OLD_ENTRY)
    whose, where = ("subject", "subject, motor, stored, name") if by_name is None else ("axis", "axis, name")
    for words, table, query, take in (
            ("a reading", "reading", f"select id, {whose} from reading", rest.reading),
            ("a line of the log", "entry", f"select {columns.replace('subject', whose)} from entry order by id", rest.entry),
            ("a value that was set", "applied", f"select time, {where}, value, computed_from from applied order by id",
             rest.applied),
            ("an attachment", "attachment", "select time, name, media_type, data from attachment order by id", rest.attachment),
            ("a round under way", "round", f"select id, time, {whose}, kind, state from round where not ended order by rowid",
             rest.under_way),
            ("somebody", "subject", "select id, kind, name from subject", rest.subject)):
        if table not in tables and table in ("round", "subject"):  # which are not in the oldest formats
            continue
        anew()
        rest.all_of(words, query, take)
    if by_name is not None:
        found.subjects += by_name.gone
        found.rounds += by_name.begun
