"""What one revision has otherwise than another, in words, each with the way to its value."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from urban_mule.core.sheet.alike import alike
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.units import number_text
from urban_mule.store.document.base import Strict
from urban_mule.store.document.edit import Path
from urban_mule.store.document.project import Project

LONGEST, MOST = 60, 400  # characters of a value in words; changes that are told


@record(frozen=True)
class Difference:
    """One value that differs: where it stands, what it was and is, and the words."""

    path: Path
    before: Any
    after: Any
    words: str


def differences_in_words(before: Project, after: Project) -> list[Difference]:
    """What `after` has otherwise than `before`, the axes in their order; whole lists where they are of another length."""
    found: list[Difference] = []
    for one in _compare(before, after, ()):
        found.append(one)
        if len(found) >= MOST:
            break
    return found


def _compare(before: Any, after: Any, path: Path) -> Iterator[Difference]:
    if before is after:
        return
    inner = isinstance(before, Strict) and type(before) is type(after) and "taken" not in type(before).model_fields
    if inner:
        for name in type(before).model_fields:
            yield from _compare(vars(before).get(name), vars(after).get(name), (*path, name))
    elif isinstance(before, tuple) and isinstance(after, tuple) and len(before) == len(after) and all(
            isinstance(one, Strict) and "taken" not in type(one).model_fields for one in (*before, *after)):
        for place, (one, other) in enumerate(zip(before, after, strict=True)):
            yield from _compare(one, other, (*path, place))
    elif not alike(before, after, _one_set):
        yield Difference(path, before, after, f"{_where(path, before, after)}: {_said(before)} → {_said(after)}")


def _one_set(one: Any, other: Any) -> bool:
    """Whether two parts are one set of readings: of one kind, taken at one moment."""
    kept = getattr(one, "taken", None), getattr(one, "kind", None)
    return kept[0] is not None and kept == (getattr(other, "taken", None), getattr(other, "kind", None))


def _where(path: Path, before: Any, after: Any) -> str:
    """Where a value stands, as people say it: `axis 1 driver microsteps`."""
    def said(step: int | str) -> str:
        if isinstance(step, int):
            return str(step + 1)
        return "axis" if step == "axes" else step.replace("_", " ")

    words = [said(step) for step in path]
    return " ".join(words) or ("the project" if before is not after else "")


def _said(value: Any) -> str:
    if value is None or value == ():
        return "nothing"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, np.ndarray):
        return f"{value.size} numbers, {number_text(float(value.min()), 4)} to {number_text(float(value.max()), 4)}"
    if isinstance(value, (int, float)):
        return number_text(float(value), 6)
    if isinstance(value, tuple):
        kinds = [str(getattr(one, "kind", "") or getattr(one, "name", "") or "one") for one in value]
        return f"{len(value)} ({', '.join(kinds[-3:])}{', …' if len(kinds) > 3 else ''})"
    if isinstance(value, Strict):
        return str(getattr(value, "name", "") or getattr(value, "kind", "") or "another")
    text = str(value)
    return f"“{text[:LONGEST]}{'…' if len(text) > LONGEST else ''}”"
