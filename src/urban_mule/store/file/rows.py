"""Rows of the project file: readings with their numbers in binary, and what of a row can be trusted."""

from __future__ import annotations

import hashlib
import json
import math
from datetime import datetime
from typing import Any

import numpy as np

from urban_mule.store.document.plain import reading_parts

DIGEST = 24  # hexadecimal digits
NUMBER = np.dtype("<f8")
EARLIEST, LATEST = 1990, 2200  # years in which anything here can have happened
LARGEST_READING = 100_000_000  # numbers


class Spoilt(ValueError):
    """A row does not hold what it should."""


def digest_of(*parts: str | bytes) -> str:
    """A digest over these parts, each apart from the next."""
    made = hashlib.sha256()
    for one in parts:
        raw = one.encode() if isinstance(one, str) else one
        made.update(f"{len(raw)}:".encode())
        made.update(raw)
    return made.hexdigest()[:DIGEST]


def reading_row(reading: Any, subject: str, stamp: datetime) -> tuple[Any, ...]:
    """A set of readings as a row of its table, named by its content."""
    columns, data, numbers = packed(*reading_parts(reading))
    digest = digest_of(data, columns, numbers)
    return (digest, reading.taken or stamp.isoformat(), subject, reading.kind, reading.device, reading.note, columns, data, numbers,
            digest)


def packed(rest: dict[str, Any], arrays: dict[str, np.ndarray]) -> tuple[str, str, bytes]:
    """Names and shapes of the arrays, the rest, both as JSON, and all numbers one after another."""
    columns = json.dumps([[name, list(array.shape)] for name, array in arrays.items()])
    data = json.dumps(rest, ensure_ascii=False, allow_nan=False)
    return columns, data, b"".join(np.ascontiguousarray(array, dtype=NUMBER).tobytes() for array in arrays.values())


def reading_data(kind: Any, columns: Any, data: Any, numbers: Any, digest: Any) -> dict[str, Any]:
    """A set of readings out of its row. Raises Spoilt."""
    if not (isinstance(kind, str) and isinstance(columns, str) and isinstance(data, str) and isinstance(numbers, bytes)):
        raise Spoilt("a reading holds another kind of value than it should")
    if digest != digest_of(data, columns, numbers):
        raise Spoilt("the numbers of a reading are not those that were saved")
    values = np.frombuffer(numbers, dtype=NUMBER)
    if not np.all(np.isfinite(values)):
        raise Spoilt("a reading holds what is no number")
    found: dict[str, Any] = json.loads(data)
    place = 0
    for name, shape in json.loads(columns):
        size = math.prod(shape)
        if not 0 <= size <= min(LARGEST_READING, values.size - place):
            raise Spoilt("a reading is shorter than it says")
        found[str(name)] = values[place:place + size].reshape(shape)
        place += size
    return found | {"kind": kind}


def said_of(kind: Any, columns: Any, data: Any) -> tuple[dict[str, Any], list[str]]:
    """What a set says of itself, and the names of its arrays, without their numbers. Raises Spoilt."""
    texts(kind, columns, data)
    said, names = json.loads(data), [str(name) for name, _ in json.loads(columns)]
    if not isinstance(said, dict):
        raise Spoilt("a reading says nothing of itself")
    return said | {"kind": kind}, names


def moment(text: Any) -> datetime:
    """A time out of a row. Raises Spoilt."""
    try:
        time = datetime.fromisoformat(text)
        if time.tzinfo is None or not EARLIEST <= time.year <= LATEST:
            raise Spoilt(f"{str(text)[:40]!r} is no time in which anything here can have happened")
    except (TypeError, ValueError) as why:
        raise Spoilt(f"{str(text)[:40]!r} is no time") from why
    return time


def texts(*values: Any) -> tuple[str, ...]:
    """Values that must be texts, such as can be written. Raises Spoilt."""
    for one in values:
        if not isinstance(one, str):
            raise Spoilt(f"{str(one)[:40]!r} stands where a text should")
    return values


def entry_columns(subject: Any, kind: Any, text: Any, cost: Any, photograph: Any, task: Any, revision: Any) -> tuple[Any, ...]:
    """A line of the log out of its row, but for its time. Raises Spoilt."""
    if cost is not None and not (isinstance(cost, (int, float)) and math.isfinite(cost)):
        raise Spoilt(f"{str(cost)[:40]!r} is no cost")
    if revision is not None and not isinstance(revision, int):
        raise Spoilt(f"{str(revision)[:40]!r} is no revision")
    return (*texts(subject, kind, text), cost, *texts(photograph, task), revision)


def plain_json(text: Any) -> Any:
    """A number or a text that was kept as JSON. Raises Spoilt."""
    try:
        value = json.loads(text)
    except (TypeError, ValueError, RecursionError) as why:
        raise Spoilt(f"{str(text)[:40]!r} is no value") from why
    if isinstance(value, bool) or not isinstance(value, (int, float, str)) or (
            isinstance(value, float) and not math.isfinite(value)) or (isinstance(value, int) and abs(value) > 1e300):
        raise Spoilt(f"{str(text)[:40]!r} is no number and no text")
    return value


def basis_json(text: Any) -> dict[str, Any]:
    """Numbers and texts by name, kept as JSON. Raises Spoilt."""
    try:
        value = json.loads(text)
    except (TypeError, ValueError, RecursionError) as why:
        raise Spoilt(f"{str(text)[:40]!r} is no basis") from why
    if not isinstance(value, dict):
        raise Spoilt(f"{str(text)[:40]!r} is no basis")
    return {name: one for name, one in value.items() if isinstance(one, (int, float, str)) and not isinstance(one, bool)}
