"""The median of numbers. numpy's own loads its masked arrays, 15 ms of a start and 1 MB."""

from __future__ import annotations

import math

import numpy as np


def median(values: np.ndarray) -> float:
    """The middle of what is a number, the mean of the middle two; no number where none is. values: n, any unit."""
    known = values[np.isfinite(values)]
    if not known.size:
        return math.nan
    low, high = (known.size - 1) // 2, known.size // 2
    sorted_there = np.partition(known, (low, high))
    return float(sorted_there[low] + sorted_there[high]) / 2
