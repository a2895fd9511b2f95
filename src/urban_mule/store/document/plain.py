"""The document and its readings as JSON holds them."""

from __future__ import annotations

from typing import Any

import numpy as np

from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.store.document.base import Strict


def plain(part: Strict) -> dict[str, Any]:
    """A part of the document as JSON holds it, without what is not known; a long set of readings is loaded now."""
    return {key: made for key, value in part if (made := plain_value(value)) is not None}


def plain_value(value: Any) -> Any:
    """Any value of the document as JSON holds it; null where a part leaves it out."""
    if isinstance(value, Strict):
        return plain(value)
    if isinstance(value, (tuple, list)):
        return [one if isinstance(one, str) else plain_value(one) for one in value]  # an empty text is one of them
    if isinstance(value, np.ndarray):
        return value.tolist()
    return None if value == "" else _without_empty(value)


def _without_empty(value: Any) -> Any:
    if isinstance(value, dict):
        return {key: _without_empty(inner) for key, inner in value.items() if inner not in ("", None)}
    if isinstance(value, list) and value and isinstance(value[0], dict):
        return [_without_empty(inner) for inner in value]
    return value


def reading_parts(reading: Any) -> tuple[dict[str, Any], dict[str, np.ndarray]]:
    """What a set of readings says of itself as JSON holds it, and its arrays of numbers, by name."""
    known = {name: getattr(reading, name) for name in type(reading).model_fields} | reading.model_extra
    arrays = {name: value for name, value in known.items() if isinstance(value, np.ndarray)}
    return {name: value for name, value in known.items() if name not in arrays and value not in ("", None)}, arrays


def plain_numbers(kind: str, data: dict[str, Any]) -> tuple[dict[str, Any], dict[str, np.ndarray]]:
    """A set of readings as an older file holds it, all in JSON: what it says of itself, and its arrays. Raises ValueError."""
    known = reading_kinds().get(kind)
    declared = {one.name for one in known.columns if one.shape in ("list", "rows")} if known is not None else set()
    arrays = {name: np.array(value, dtype=float) for name, value in data.items() if name in declared and value is not None}
    return {name: value for name, value in data.items() if name not in arrays and value not in ("", None)}, arrays
