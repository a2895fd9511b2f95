"""Files as they come in and go out: size, bytes, rows and columns of CSV, writing whole, and the one kind of fault."""

from __future__ import annotations

import errno
import io
import json
import os
import stat
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any, TypeVar
from uuid import uuid4

Found = TypeVar("Found")
LONGEST_HEADING = 200  # characters
BEGINS_A_FORMULA = ("=", "+", "-", "@", "\t", "\r", "'")  # or would be taken for what begins one
ENDS, TAIL = {".pdf": b"%%EOF", ".svg": b"</svg>", ".png": b"IEND"}, 64  # how files of a kind end, within so many bytes
LONGEST_ROW = 1_000_000  # characters of a line of a table: sixty columns of any numbers have far fewer
MOST_FAULTS = 100  # of a file: after so many the rest is not looked at


class BadFile(ValueError):
    """A file cannot be taken; says the file, the place and the fault, in one sentence."""


def from_file(path: Path, largest: float, parse: Callable[[bytes], Found]) -> Found:
    """What `parse` makes of the bytes of a file; its faults are named with the file. largest: in bytes. Raises BadFile.

    Only a regular file is read, and never more of it than that.
    """
    named = f"{str(path)[:300]}"
    try:
        if not stat.S_ISREG(path.stat().st_mode):
            raise BadFile("this is no file, or none with an end.")
        with path.open("rb") as file:
            raw = file.read(int(largest) + 1)
        if len(raw) > largest:
            raise BadFile(f"the file has more than {largest / 1e6:.0f} MB; at most so many are taken.")
        return parse(raw)
    except OSError as why:
        raise BadFile(f"{named}: the file cannot be read: {why.strerror or why}.") from None
    except BadFile as why:
        raise type(why)(f"{named}: {why}") from None
    except ValueError as why:  # a name with a zero in it
        raise BadFile(f"{named}: the file cannot be read: {why}.") from None


def heading(cell: str) -> tuple[str, str] | None:
    """Name and unit of a heading such as `time [ms]` or `time (ms)`; None for what is none."""
    text = cell.strip()
    if len(text) > LONGEST_HEADING:
        return None
    at = min((place for place in (text.find("["), text.find("(")) if place >= 0), default=-1)
    if at < 0:
        return text, ""
    unit = text[at + 1:-1]
    return None if text[-1] not in "])" or any(sign in unit for sign in "])") else (text[:at].strip(), unit.strip())


def text_cell(text: str) -> str:
    """A text as a cell of a table; one that a spreadsheet would take for a formula begins with an apostrophe."""
    return f"'{text}" if text.startswith(BEGINS_A_FORMULA) else text


def cell_text(cell: str) -> str:
    """The text of a cell that `text_cell` wrote."""
    return cell[1:] if cell[:1] == "'" and cell[1:].startswith(BEGINS_A_FORMULA) else cell


def safe_name(text: str) -> str:
    """A text as part of a file's name: no folders, nothing hidden, nothing long."""
    kept = "".join(sign if sign.isalnum() or sign in "-_ " else "_" for sign in text).strip(" ")[:60]
    return kept or "_"


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


def may_be_a_row(number: int, line: str) -> None:
    """Raises BadFile for a line that is too long to be a row of a table: taken apart it would fill the memory."""
    if len(line) > LONGEST_ROW:
        raise BadFile(f"line {number}: it has {len(line)} characters; a row has at most {LONGEST_ROW}.")


def csv_rows(text: str, delimiter: str, first: int = 1) -> Iterator[tuple[int, list[str]]]:
    """Line number, counted from `first`, and cells of each line that is not empty; every line is a row, so that a stray quote
    spoils no other. Raises BadFile.
    """
    import csv

    for number, line in enumerate(io.StringIO(text, newline=None), start=first):
        may_be_a_row(number, line)
        try:
            cells = next(csv.reader([line], delimiter=delimiter)) if '"' in line else line.rstrip("\n").split(delimiter)
        except csv.Error as why:
            raise BadFile(f"line {number}: {why}.") from None
        if any(cell.strip() for cell in cells):
            yield number, cells


def _seen_to_its_end(path: Path) -> None:
    """Whether a file ends as its kind ends, since what draws them says nothing of a full disk. Raises OSError where not."""
    ends = ENDS.get(path.suffix.lower())
    if ends is None:
        return
    with path.open("rb") as written:
        written.seek(max(0, path.stat().st_size - TAIL))
        if ends not in written.read():
            raise OSError(errno.ENOSPC, "it broke off before its end; is the disk full?")


def as_json(value: Any, before: str = "\n") -> str:
    """JSON that a person can read: a key a line, numbers of a list on one line, a row of a table a line. Raises ValueError for nan.

    before: what stands before the line it begins in.
    """
    inner = f"{before} "
    if isinstance(value, dict) and value:
        lines = [f"{json.dumps(key, ensure_ascii=False)}: {as_json(one, inner)}" for key, one in value.items()]
        return "{" + inner + f",{inner}".join(lines) + before + "}"
    if isinstance(value, list) and value and isinstance(value[0], (dict, list)):
        rows = json.dumps(value, allow_nan=False)[1:-1] if isinstance(value[0], list) else "{"
        of_numbers = "{" not in rows and '"' not in rows
        lines = rows.replace("], [", "],\n[").split("\n") if of_numbers else [as_json(one, inner) + "," for one in value]
        return "[" + inner + inner.join(lines).removesuffix(",") + before + "]"
    return json.dumps(value, ensure_ascii=False, allow_nan=False)


def rows_kept(path: Path, format_: str, key: str, what: str, largest: float) -> list[Any]:
    """The rows of a list of the user's own, kept as JSON; none where there is no file yet.

    what: what it holds, as the sentence says it. Raises BadFile.
    """
    if not path.is_file():
        return []
    said = from_file(path, largest, _json)
    if not isinstance(said, dict) or said.get("format") != format_ or not isinstance(said.get(key), list):
        raise BadFile(f"{path}: it holds no {what}; remove it, and the next that is kept begins it anew.")
    return list(said[key])


def _json(raw: bytes) -> Any:
    try:
        return json.loads(utf8(raw))
    except json.JSONDecodeError as why:
        raise BadFile(f"line {why.lineno}: this is not JSON.") from None


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
                _seen_to_its_end(fresh)
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
        raise BadFile(f"{str(path)[:300]}: the file cannot be written: {getattr(why, 'strerror', None) or why}.") from None
