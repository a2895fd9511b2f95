"""What a set of readings says of itself, as lines before its table in a CSV: `# gauge: scale on the long rail`.

A table alone says neither which numbers were struck out, nor that they were made up for practice, nor which way an axis moved.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from urban_mule.core.readings.kind import ReadingKind
from urban_mule.store.document.readings import TEXTS

ADDED = " \t,;\r"  # what a program of tables may add at the end of a line
BY_PLACE = {"struck": "struck", "sources": "source", "conditions": "condition"}  # what holds an entry a place: its key in a line
Said = list[tuple[str, str, str]]  # key, place, value


def said_lines(reading: Any, kind: ReadingKind, in_table: set[str]) -> Iterator[str]:
    """The lines before the table of a set: whatever its table does not hold."""
    for name in TEXTS:
        value = getattr(reading, name)
        if value:
            yield f"# {name}: {_one_line(value)}"
    for one in kind.columns:
        value = getattr(reading, one.name) if one.shape in ("one", "text") and one.name not in in_table else None
        if value not in (None, ""):
            yield f"# {one.name}: {_one_line(value) if isinstance(value, str) else repr(float(value))}"
    for name, key in BY_PLACE.items():
        for place, value in (getattr(reading, name) or {}).items():
            yield f"# {key} {_one_line(place).replace(':', ' ')}: {_one_line(value) if isinstance(value, str) else repr(value)}"


def said_in(text: str) -> tuple[Said, str, int]:
    """What stands before the table of a CSV, the rest of it, and how many lines were taken away."""
    found: Said = []
    rest, lines = text.removeprefix("\ufeff"), 0
    while rest.lstrip(' "').startswith("#"):
        line, _, rest = rest.partition("\n")
        lines += 1
        head, colon, value = line.strip().strip('"').removeprefix("#").partition(":")
        key, _, place = head.strip().replace("\t", " ").partition(" ")
        if colon and key.replace("_", "").isalpha() and key == key.lower() and key.isascii():
            found.append((key, place.strip(), _as_it_was(value.removeprefix(" ").rstrip(ADDED))))
    return found, rest, lines


def said_of(kind: ReadingKind, said: Said) -> dict[str, Any]:
    """What the lines say of a set of this kind; what they say besides is not for us."""
    found: dict[str, Any] = {}
    shapes = {one.name: one.shape for one in kind.columns}
    holders = {key: name for name, key in BY_PLACE.items()}
    for key, place, value in said:
        if place and key in holders:
            number = _number(value) if key == "condition" else None
            found.setdefault(holders[key], {})[place] = value if number is None else number
        elif not place and (key in TEXTS or shapes.get(key) == "text") and key != "kind":
            found[key] = value
        elif not place and shapes.get(key) == "one" and (number := _number(value)) is not None:
            found[key] = number
    return found


def _number(text: str) -> float | None:
    try:
        return float(text)
    except ValueError:
        return None


def _one_line(text: str) -> str:
    return text.replace("\\", "\\\\").replace("\n", "\\n").replace("\r", "\\r")


def _as_it_was(text: str) -> str:
    return re.sub(r"\\(.)", lambda sign: {"n": "\n", "r": "\r"}.get(sign[1], sign[1]), text)
