"""How long work tells that it goes on, is told to stop, and lets somebody else go first."""

from __future__ import annotations

import threading
from collections.abc import Callable

Progress = Callable[[int, int], bool]  # done, of how many; answers whether to go on


class Cancelled(Exception):
    """Somebody stopped the work; nothing of it is kept."""


class Pace(threading.local):
    """What a thread does between two quantities, or two rounds of a long one: nothing, unless whoever began it has it wait then."""

    between: Callable[[], None] | None = None

    def breathe(self) -> None:
        """Let somebody else go first, where that was asked for."""
        if self.between is not None:
            self.between()


PACE = Pace()
