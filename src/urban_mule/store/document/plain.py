"""The document and its readings as JSON holds them."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
from pydantic_core import to_json

from urban_mule.store.document.base import Strict

PIECE = 4000  # rows of numbers written at a time


def plain(part: Strict) -> dict[str, Any]:
    """A part of the document as JSON holds it, without what is not known."""
    kept: dict[str, Any] = part.model_dump(mode="json", exclude_none=True, exclude_defaults=False)
    return _without_empty(kept)


def plain_value(value: Any) -> Any:
    """Any value of the document as JSON holds it; null where a part leaves it out."""
    if isinstance(value, Strict):
        return plain(value)
    if isinstance(value, (tuple, list)):
        return [plain_value(one) for one in value]
    return None if value == "" else _without_empty(value)


def _without_empty(value: Any) -> Any:
    if isinstance(value, dict):
        return {key: _without_empty(inner) for key, inner in value.items() if inner not in ("", None)}
    if isinstance(value, list) and value and isinstance(value[0], dict):
        return [_without_empty(inner) for inner in value]
    return value


def reading_text(reading: Any) -> tuple[str, list[str]]:
    """A set of readings as a JSON text, and the names of its columns.

    Numbers are written in pieces, so that a long record written in a thread lets the window have its turn.
    """
    known = {name: getattr(reading, name) for name in type(reading).model_fields} | (reading.model_extra or {})
    columns = [name for name, value in known.items() if isinstance(value, np.ndarray)]
    parts = [f"{json.dumps(name)}: {_numbers(value) if name in columns else json.dumps(value, ensure_ascii=False, allow_nan=False)}"
             for name, value in known.items() if name in columns or value not in ("", None)]
    return "{" + ", ".join(parts) + "}", columns


def _numbers(values: np.ndarray) -> str:
    pieces = (to_json(values[first:first + PIECE].tolist())[1:-1] for first in range(0, len(values), PIECE))
    return f"[{b','.join(pieces).decode()}]"
