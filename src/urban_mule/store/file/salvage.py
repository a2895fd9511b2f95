"""What can still be read of a damaged project file."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from itertools import takewhile
from pathlib import Path
from typing import Any

from urban_mule.store.document.project import Project
from urban_mule.store.file.changes import patched
from urban_mule.store.text_files import BadFile


def salvage(path: Path) -> Project:
    """The newest document that can still be read out of a damaged file, its unreadable readings left out.

    A damaged change is left out too, with those after it that do not fit any more. Raises BadFile when nothing can be read.
    """
    if not path.is_file():
        raise BadFile(f"{path}: there is no such file.")
    with closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True)) as db:
        for whole, text in _whole_ones(db, path):
            try:
                document = _read_on(db, whole, text)
                for axis in document["axes"]:
                    axis["readings"] = list(_readable(db, axis.get("readings", ())))
                return Project.model_validate(document)
            except (ValueError, LookupError, TypeError, AttributeError, sqlite3.Error):
                continue
    raise BadFile(f"{path}: the file holds no revision that can be read.")


def _whole_ones(db: sqlite3.Connection, path: Path) -> Iterator[tuple[int, str]]:
    """The revisions that hold a whole document, newest first. Raises BadFile when the table itself cannot be read."""
    last = 2**62
    while True:
        try:
            row = db.execute("select id, document from revision where id < ? and document is not null order by id desc limit 1",
                             (last,)).fetchone()
        except sqlite3.Error as why:
            raise BadFile(f"{path}: nothing can be read any more: {why}.") from None
        if row is None:
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
            Project.model_validate(document | {"axes": [axis | {"readings": []} for axis in document["axes"]]})
            return document
        except (ValueError, LookupError, TypeError, AttributeError):
            continue
    raise ValueError("no document")


def _with(text: str, rows: list[tuple[str]]) -> tuple[dict[str, Any], int]:
    """A document with these changes, and how many could be made before one did not fit; then it may be half made."""
    document = json.loads(text)
    for made, (changes,) in enumerate(rows):
        try:
            patched(document, json.loads(changes))
        except (ValueError, LookupError, TypeError, AttributeError):
            return document, made
    return document, len(rows)


def _readable(db: sqlite3.Connection, names: list[str]) -> Iterator[Any]:
    for name in names:
        try:
            yield json.loads(db.execute("select data from reading where id = ?", (name,)).fetchone()[0])
        except (sqlite3.Error, TypeError, ValueError):
            continue
