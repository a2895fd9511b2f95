"""When two values say the same: one rule for givens, lists of a document, revisions, settings and what a step rests on."""

from __future__ import annotations

import math
from collections.abc import Callable
from operator import is_
from typing import Any

import numpy as np


def alike(one: Any, other: Any, whole: Callable[[Any, Any], bool]) -> bool:
    """Whether two values are the same: arrays and tuples item by item, plain values by ==.

    whole(one, other) decides over records and parts, which have no == or one that compares arrays.
    """
    if one is other:
        return True
    if isinstance(one, np.ndarray) or isinstance(other, np.ndarray):
        return bool(np.array_equal(one, other))
    if isinstance(one, tuple) and isinstance(other, tuple):
        return len(one) == len(other) and all(alike(a, b, whole) for a, b in zip(one, other, strict=True))
    if hasattr(one, "__dict__") or hasattr(other, "__dict__"):
        return whole(one, other)
    return bool(one == other)


def same(one: Any, other: Any) -> bool:
    """Whether two values of a document are the same; its parts and readings only when they are one object."""
    return alike(one, other, is_)


def within(one: Any, other: Any, share: float) -> bool:
    """Whether two numbers lie within a share of the larger one [1], or within 1e-9; anything else by ==."""
    if isinstance(one, (int, float)) and isinstance(other, (int, float)):
        return math.isclose(one, other, rel_tol=share, abs_tol=1e-9)
    return bool(one == other)
