"""How a project file is opened so that nothing in it or beside it can do harm: looked at, settled, held by one writer."""

from __future__ import annotations

import fcntl
import os
import re
import sqlite3
import stat
import time
from collections.abc import Callable
from contextlib import closing, suppress
from pathlib import Path

from urban_mule.store.file.schema import check_shape
from urban_mule.store.text_files import BadFile

SQLITE_BEGINS = b"SQLite format 3\0"
BUSY = 100  # ms that a lock of another program is waited for: it holds the window up; what is not saved is tried again
MOST_STEPS = 50_000_000  # of SQLite's machine, in one statement: some seconds, far more than any of ours takes
STEPS_A_LOOK = 100_000
JOURNAL_BEGINS = bytes.fromhex("d9d505f920a163d7")
HEADER, RECORD_MORE = 28, 8  # bytes of a journal's header that say something; of a record beside its page
LONGEST_NAME = 240  # bytes; a journal is called by eight more, and 255 is all that most file systems take
HALF_MADE = re.compile(r"\.[0-9a-f]{12}(\.(mule|pdf|html|svg|png|json|csv|txt))?(-journal)?")  # as `write_whole` calls it
A_DAY = 86_400.0  # s
LONGEST_TEXT, LONGEST_STATEMENT, MOST_COLUMNS = 100_000_000, 20_000, 40


def harmless(db: sqlite3.Connection) -> sqlite3.Connection:
    """A connection on which a file can run nothing, compute nothing for long and make nothing large."""
    db.execute("pragma trusted_schema = off")
    db.execute("pragma cell_size_check = on")
    db.execute(f"pragma busy_timeout = {BUSY}")
    db.setlimit(sqlite3.SQLITE_LIMIT_LENGTH, LONGEST_TEXT)
    db.setlimit(sqlite3.SQLITE_LIMIT_SQL_LENGTH, LONGEST_STATEMENT)
    db.setlimit(sqlite3.SQLITE_LIMIT_COLUMN, MOST_COLUMNS)
    db.setlimit(sqlite3.SQLITE_LIMIT_ATTACHED, 0)
    db.setlimit(sqlite3.SQLITE_LIMIT_TRIGGER_DEPTH, 1)
    return db


def bounded(db: sqlite3.Connection) -> Callable[[], None]:
    """Stop statements that run for ever; the call that is given back begins to count anew."""
    left = [MOST_STEPS // STEPS_A_LOOK]

    def look() -> int:
        left[0] -= 1
        return int(left[0] < 0)

    def anew() -> None:
        left[0] = MOST_STEPS // STEPS_A_LOOK

    db.set_progress_handler(look, STEPS_A_LOOK)
    return anew


def may_be_named(path: Path) -> None:
    """Raises BadFile for a name beside which no journal could stand."""
    if len(os.fsencode(path.name)) > LONGEST_NAME:
        raise BadFile(f"{path.name[:60]}…: the name is too long; a project file's has at most {LONGEST_NAME} bytes. Rename it.")


def sweep(folder: Path) -> None:
    """Take away what a killed process left half made in a folder: of our pattern, and older than a day."""
    with suppress(OSError), os.scandir(folder) as there:
        for one in there:
            if HALF_MADE.fullmatch(one.name):
                with suppress(OSError):
                    if one.is_file(follow_symlinks=False) and time.time() - one.stat().st_mtime > A_DAY:
                        os.unlink(one.path)


def is_sqlite(path: Path) -> None:
    """Raises BadFile for what is no regular file, cannot be read, or does not begin as a database does."""
    try:
        if not stat.S_ISREG(path.stat().st_mode):
            raise BadFile(f"{path}: this is no file, or none with an end.")
        with path.open("rb") as raw:
            begins = raw.read(len(SQLITE_BEGINS))
    except FileNotFoundError:
        raise BadFile(f"{path}: there is no such file.") from None
    except BadFile:
        raise
    except (OSError, ValueError) as why:
        raise BadFile(f"{str(path)[:300]}: the file cannot be read: {getattr(why, 'strerror', None) or why}.") from None
    if begins != SQLITE_BEGINS:
        raise BadFile(f"{path}: this is not a project file (it does not begin as one).")


def looking(path: Path, as_it_stands: bool = True) -> sqlite3.Connection:
    """A connection that only reads; as_it_stands: whatever lies beside the file, and locked or not."""
    mode = "mode=ro&immutable=1" if as_it_stands else "mode=ro"
    return harmless(sqlite3.connect(f"{path.resolve().as_uri()}?{mode}", uri=True, isolation_level=None, check_same_thread=False))


def checked_version(path: Path) -> int:
    """The format of a project file, looked at without changing or running anything. Raises BadFile, sqlite3.Error."""
    with closing(looking(path)) as db:
        bounded(db)
        return check_shape(db, path)


def hold(path: Path) -> int:
    """Hold a file for this window; the descriptor that keeps it. Raises BadFile with the reason why it can only be read."""
    if not os.access(path.parent, os.W_OK):
        raise BadFile("its folder cannot be written")
    try:
        held = os.open(path, os.O_RDWR | os.O_CLOEXEC)
    except OSError as why:
        raise BadFile(f"it cannot be written: {why.strerror}") from None
    try:
        fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        os.close(held)
        raise BadFile("another window has it open") from None
    return held


def still_there(path: Path, held: int) -> str:
    """Why what is written through an open file would not be in the file of that name any more; nothing where it would."""
    try:
        there, ours = path.stat(), os.fstat(held)
    except OSError:
        return "it was deleted, moved or renamed while it was open"
    if (there.st_dev, there.st_ino) != (ours.st_dev, ours.st_ino):
        return "another file was put in its place while it was open"
    return ""


def settle(path: Path) -> str:
    """Deal with what a killed process left beside a file, before SQLite sees it; a sentence where something was set aside.

    A journal or a write-ahead log that belongs to another state of the file, as when a backup was put back over it, would destroy
    it: it is set aside. Raises OSError.
    """
    said = ""
    for companion, belongs in (("-journal", _journal_belongs), ("-wal", _log_belongs)):
        beside = path.with_name(path.name + companion)
        if not beside.is_file() or beside.stat().st_size == 0:
            continue
        if belongs(path, beside):
            if companion == "-wal":
                with closing(harmless(sqlite3.connect(path))) as db:
                    db.execute("pragma journal_mode = delete")
            continue
        aside = path.with_name(f"{path.name}{companion}.of-another-state")
        beside.replace(aside)
        with suppress(OSError):
            path.with_name(f"{path.name}-shm").unlink()
        said = f"{aside.name} lay beside the file and belongs to another state of it; it was not applied."
    return said


def _journal_belongs(path: Path, journal: Path) -> bool:
    """Whether a rollback journal was begun on this very state: its first page bears the file's change counter, or one less."""
    with journal.open("rb") as raw:
        header = raw.read(HEADER)
        if header[:8] != JOURNAL_BEGINS:
            return True  # nothing in it is applied
        number = [int.from_bytes(header[n:n + 4], "big") for n in range(8, HEADER, 4)]
        count, _, pages, sector, size = number
        with path.open("rb") as file:
            first = file.read(100)
        own = int.from_bytes(first[16:18], "big")
        if size != (65536 if own == 1 else own) or not 512 <= sector <= 65536:
            return False
        counter = int.from_bytes(first[24:28], "big")
        raw.seek(sector)
        for _ in range(min(count, 1_000_000)):
            record = raw.read(size + RECORD_MORE)
            if len(record) < size + RECORD_MORE:
                break
            if record[:4] == b"\0\0\0\1":
                before = int.from_bytes(record[28:32], "big")
                return counter in (before, (before + 1) % 2**32) and record[4:20] == first[:16]
    return count in (0, 0xFFFFFFFF) or pages == 0


def _log_belongs(path: Path, log: Path) -> bool:
    """Whether the write-ahead log of an older release goes on from this file: tried on copies."""
    import shutil
    import tempfile

    with tempfile.TemporaryDirectory() as folder:
        copied = Path(shutil.copyfile(path, Path(folder) / "tried.mule"))
        shutil.copyfile(log, copied.with_name("tried.mule-wal"))
        history = "select id, time, label from revision order by id"
        try:
            with closing(looking(path)) as db:
                before = db.execute(history).fetchall()
        except sqlite3.Error:  # all that there is stands in the log
            before = []
        try:
            with closing(harmless(sqlite3.connect(copied))) as db:
                after = db.execute(history).fetchall()
                sound = db.execute("pragma quick_check(1)").fetchone()[0] == "ok"
        except sqlite3.Error:
            return False
    return sound and after[:len(before)] == before
