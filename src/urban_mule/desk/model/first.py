"""The window goes first: threads that compute wait while it answers, since only one at a time may use the interpreter.

They wait between two quantities. Without it each would have its turn whenever the window paints, and a visit take thrice as long.
"""

from __future__ import annotations

import time

WAIT = 0.05  # s after the window began to answer, or went on with it
MOST = 0.3  # s in one go, however long somebody drags
LOOK = 0.01  # s between looks at whether it is over


class First:
    """Until when the threads wait."""

    until = 0.0


def answering() -> None:
    """Say that the window begins to answer, or goes on with it."""
    First.until = time.perf_counter() + WAIT


def answered() -> None:
    """Say that the window has answered, or that it waits for the threads itself."""
    First.until = 0.0


def give_way() -> None:
    """In a thread: wait until the window has answered, or for as long as anybody may be kept waiting."""
    most = time.perf_counter() + MOST
    while (left := min(First.until, most) - time.perf_counter()) > 0:
        time.sleep(min(left, LOOK))
