"""An indicator that sends its number as a line: listening on a port until told to stop."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable

from urban_mule.bench.wire.lines import Lines, number_in
from urban_mule.bench.wire.ports import PATIENCE, Port, gone

HALF_LINE = 1.0  # s after which a line that does not end is thrown away


class Heard:
    """What an indicator sent since somebody last looked: the number of every key press, but of a stream only the newest, so that
    one who sends faster than anybody looks fills nothing.

    by_itself: s between two numbers below which nobody pressed a key for each. open: whether the port is open yet.
    """

    def __init__(self, by_itself: float) -> None:
        self.by_itself, self.streams = by_itself, False
        self._lock, self._last = threading.Lock(), 0.0
        self.open = False
        self._numbers: list[str] = []
        self._spoilt: str | None = None

    def number(self, number: str) -> None:
        """A number came."""
        now = time.monotonic()
        with self._lock:
            self.streams = self.streams or (self._last > 0 and now - self._last < self.by_itself)
            self._last = now
            if self.streams:
                self._numbers.clear()
            self._numbers.append(number)

    def spoilt(self, what: str) -> None:
        """A line came that is no number."""
        with self._lock:
            self._spoilt = what

    def taken(self) -> tuple[list[str], str | None]:
        """The numbers that came, and the last line that was none; they are gone from here."""
        with self._lock:
            found, self._numbers = (self._numbers, self._spoilt), []
            self._spoilt = None
            return found


def listen(port: Port, heard: Callable[[str], object], spoilt: Callable[[str], object], go_on: Callable[[], bool]) -> None:
    """Hand over each number that comes, and each line that is none, until `go_on` says no. Raises DeviceError when it is gone."""
    lines, waited = Lines(), 0.0
    try:
        while go_on():
            try:
                data = port.read(256)
            except Exception as why:  # pyserial raises its own, the system OSError, a closed descriptor TypeError
                raise gone(why) from None
            waited = 0.0 if data else waited + PATIENCE
            if waited >= HALF_LINE and lines.half:
                lines.drop()
                spoilt("half a line")
            for line in lines.feed(data):
                number = None if line is None else number_in(line)
                if number is not None:
                    heard(number)
                else:
                    spoilt("a line that is no text" if line is None else f"“{line[:40]}”")
    finally:
        port.close()
