"""An indicator that sends its number as a line: listening on a port until told to stop."""

from __future__ import annotations

from collections.abc import Callable

from urban_mule.bench.wire.lines import Lines, number_in
from urban_mule.bench.wire.ports import PATIENCE, Port, gone

HALF_LINE = 1.0  # s after which a line that does not end is thrown away


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
