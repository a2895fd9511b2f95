"""Numbers as people write them."""

from __future__ import annotations

import math
import re

PLAIN = re.compile(r"[+\-−]?(\d+[.,]?\d*|[.,]\d+)([eE][+-]?\d{1,3})?", re.ASCII)


def plain_number(text: str) -> float:
    """A number as people write one: digits, a point or a comma, a power of ten. Raises ValueError for all else."""
    if not PLAIN.fullmatch(text) or not math.isfinite(found := float(text.replace(",", ".").replace("−", "-"))):
        raise ValueError(f"“{text[:20]}” is no number")
    return found
