"""Files as they come in and go out: size, bytes, rows and columns of CSV, writing whole, and the one kind of fault."""

from __future__ import annotations

import io
import os
import re
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import TypeVar
from uuid import uuid4

Found = TypeVar("Found")
HEADING = re.compile(r"^\s*(?P<name>[^\[(]*?)\s*(?:[\[(]\s*(?P<unit>[^\])]*?)\s*[\])])?\s*$")


class BadFile(ValueError):
    """A file cannot be taken; says the file, the place and the fault, in one sentence."""


def from_file(path: Path, largest: float, parse: Callable[[bytes], Found]) -> Found:
    """What `parse` makes of the bytes of a file; its faults are named with the file. largest: in bytes. Raises BadFile."""
    try:
        size = path.stat().st_size
        if size > largest:
            raise BadFile(f"the file has {size / 1e6:.0f} MB; at most {largest / 1e6:.0f} MB are taken.")
        return parse(path.read_bytes())
    except OSError as why:
        raise BadFile(f"{path}: the file cannot be read: {why.strerror or why}.") from None
    except BadFile as why:
        raise type(why)(f"{path}: {why}") from None


def utf8(raw: bytes) -> str:
    """The text of a file. Raises BadFile."""
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError as why:
        raise BadFile(f"byte {why.start}: this is not UTF-8 text.") from None


def recognised_delimiter(text: str) -> str:
    """Semicolon, tab or comma, whichever the first line holds; with a semicolon or tab a comma is decimal."""
    first = text.lstrip("\r\n ").split("\n", 1)[0]
    return next((sign for sign in (";", "\t", ",") if sign in first), ",")


def csv_rows(text: str, delimiter: str) -> Iterator[tuple[int, list[str]]]:
    """Line number and cells of each line that is not empty; every line is a row, so that a stray quote spoils no other.

    Raises BadFile.
    """
    import csv

    for number, line in enumerate(io.StringIO(text, newline=None), start=1):
        try:
            cells = next(csv.reader([line], delimiter=delimiter)) if '"' in line else line.rstrip("\n").split(delimiter)
        except csv.Error as why:
            raise BadFile(f"line {number}: {why}.") from None
        if any(cell.strip() for cell in cells):
            yield number, cells


def write_whole(path: Path, content: str | bytes | Callable[[Path], object]) -> None:
    """Write a file whole: beside its place, synced, then moved there, so that a former file stays until the new one is sound.

    content: text, bytes, or what writes the file at the path it is handed. Raises BadFile.
    """
    try:
        target = Path(os.path.realpath(path))
        fresh = target.with_name(f".{uuid4().hex[:12]}{target.suffix[:20]}")
        try:
            if callable(content):
                content(fresh)
            else:
                fresh.write_bytes(content.encode() if isinstance(content, str) else content)
            if target.exists():
                import shutil

                shutil.copymode(target, fresh)
            with fresh.open("rb+") as whole:
                os.fsync(whole.fileno())
            fresh.replace(target)
        finally:
            fresh.unlink(missing_ok=True)
    except (OSError, ValueError) as why:
        raise BadFile(f"{path}: the file cannot be written: {getattr(why, 'strerror', None) or why}.") from None
