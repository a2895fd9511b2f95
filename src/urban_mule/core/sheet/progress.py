"""How long work tells that it goes on, and is told to stop."""

from __future__ import annotations

from collections.abc import Callable

Progress = Callable[[int, int], bool]  # done, of how many; answers whether to go on


class Cancelled(Exception):
    """Somebody stopped the work; nothing of it is kept."""
