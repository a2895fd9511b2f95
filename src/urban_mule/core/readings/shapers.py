"""The kinds of command shapers, by their names."""

from __future__ import annotations

NAMED = {"ZV": "zero vibration", "ZVD": "zero vibration and derivative", "ZVDD": "zero vibration, first and second derivative",
         "EI": "extra-insensitive"}
KINDS = tuple(NAMED)
NONE, TWO_MODES = "none", "ZV+ZV"  # what may be set beside them
