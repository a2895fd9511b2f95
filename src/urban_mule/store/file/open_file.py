"""An open file: one connection held by one writer, every change a transaction, every look either an answer or one sentence."""

from __future__ import annotations

import os
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import closing, contextmanager, suppress
from pathlib import Path

from urban_mule.store.document.faults import Refused
from urban_mule.store.file.migrations import damaged, migrate
from urban_mule.store.file.opening import harmless, hold, looking, still_there
from urban_mule.store.file.schema import SCHEMA_VERSION
from urban_mule.store.text_files import BadFile, write_whole


class OpenFile:
    """A project file that is open. read_only: empty, or why nothing can be written into it."""

    def __init__(self, path: Path, connection: sqlite3.Connection, held: int | None = None, read_only: str = "") -> None:
        self.path, self.read_only = path, read_only
        self._db, self._held, self._lock, self._closed = connection, held, threading.RLock(), False

    def close(self) -> None:
        with self._lock:
            if self._held is not None and not self._closed:
                with suppress(sqlite3.Error):  # another program may look into it now: the empty journal stays then, harmless
                    self._db.execute("pragma journal_mode = delete")
            self._db.close()
            self._closed = True
            let_go(self._held)
            self._held = None

    @property
    def moved_away(self) -> str:
        """Why what is written would not be in the file of this name any more; nothing where it would."""
        return "" if self._held is None else still_there(self.path, self._held)

    @contextmanager
    def _transaction(self) -> Iterator[sqlite3.Connection]:
        with self._lock:
            why = self.read_only or self.moved_away
            if why:
                raise BadFile(f"{self.path}: not saved: {why}.")
            try:
                self._db.execute("begin immediate")
                yield self._db
                self._db.execute("commit")
            except sqlite3.Error as fault:
                raise BadFile(f"{self.path}: not saved: {fault}.") from None
            except UnicodeEncodeError:
                raise BadFile(f"{self.path}: not saved: a text in it cannot be written.") from None
            finally:
                with suppress(sqlite3.Error):
                    if self._db.in_transaction:
                        self._db.execute("rollback")

    @contextmanager
    def _looking(self) -> Iterator[None]:
        """Read the file, one thread at a time; what a scratched one makes of texts and times is one sentence."""
        with self._in_a_sentence(), self._lock:
            yield

    @contextmanager
    def _in_a_sentence(self) -> Iterator[None]:
        """What a scratched file, or one that does not fit this release, makes of texts and times is one sentence."""
        try:
            yield
        except Refused as why:
            raise BadFile(damaged(self.path, str(why).rstrip("."))) from None
        except BadFile:
            raise
        except (sqlite3.Error, ValueError, TypeError, LookupError, AttributeError, RecursionError, OverflowError) as why:
            raise BadFile(damaged(self.path, why)) from None

    def copy_to(self, path: Path) -> None:
        """A copy of the whole file with its history. Raises BadFile."""
        def copied(fresh: Path) -> None:
            with self._lock, closing(sqlite3.connect(fresh)) as target:
                self._db.backup(target)
                target.execute("pragma journal_mode = delete")

        with suppress(OSError):
            if path.samefile(self.path):
                raise BadFile(f"{path}: this is the open project itself; choose another name.")
            try:
                os.close(hold(path))  # a file that another window has open is not written over
            except BadFile as why:
                raise BadFile(f"{path}: the copy cannot be written: {why}.") from None
        try:
            write_whole(path, copied)
        except sqlite3.Error as why:
            raise BadFile(f"{path}: the copy cannot be written: {why}.") from None


def put_whole(fresh: Path, path: Path, there: BadFile) -> None:
    """Put a whole file into its place where nothing stands. Raises BadFile, OSError."""
    with fresh.open("rb+") as whole:
        os.fsync(whole.fileno())
    try:
        os.link(fresh, path)
    except FileExistsError:
        raise there from None
    except OSError:  # a file system without links
        if os.path.lexists(path):
            raise there from None
        fresh.rename(path)
    folder = os.open(path.parent, os.O_RDONLY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)


def to_write(path: Path) -> sqlite3.Connection:
    db = harmless(sqlite3.connect(path, isolation_level=None, check_same_thread=False))
    db.execute("pragma journal_mode = persist")
    db.execute("pragma synchronous = full")
    db.execute("pragma cache_spill = off")  # so that a journal has one part, whose first page tells what it belongs to
    return db


def to_read(path: Path, version: int) -> sqlite3.Connection:
    """A connection for a window that only looks; an older file is brought up as a copy that is thrown away."""
    if version == SCHEMA_VERSION:
        try:
            db = looking(path, as_it_stands=False)
            db.execute("select max(id) from revision").fetchone()
        except sqlite3.Error:  # what a killed process left cannot be settled where nothing can be written
            db = looking(path)
        return db
    import shutil
    import tempfile

    with tempfile.TemporaryDirectory() as folder:
        copied = Path(shutil.copyfile(path, Path(folder) / path.name[-80:]))
        migrate(copied)
        memory = sqlite3.connect(":memory:", isolation_level=None, check_same_thread=False)
        with closing(looking(copied)) as db:
            db.backup(memory)
        return harmless(memory)


def let_go(held: int | None) -> None:
    if held is not None:
        os.close(held)
