"""An indicator that sends its number as a line: listening on a serial port or a local socket until told to stop."""

from __future__ import annotations

from collections.abc import Callable
from typing import Protocol

from urban_mule.bench.devices import DeviceError
from urban_mule.bench.wire.lines import Lines, number_in

USUAL_RATE = 9600  # bit/s
PATIENCE = 0.1  # s that one look at the port takes at most
HALF_LINE = 1.0  # s after which a line that does not end is thrown away


class Port(Protocol):
    """What bytes come from."""

    def read(self, size: int) -> bytes:
        """At most so many bytes, fewer or none when no more come within `PATIENCE`. Raises OSError when it is gone."""

    def close(self) -> None: ...


def open_port(address: str) -> Port:
    """A port by its name (`/dev/ttyUSB0`, with a rate as `/dev/ttyUSB0@19200`) or a socket (`socket://127.0.0.1:4000`).

    Raises DeviceError.
    """
    import serial

    name, _, rate = address.strip().rpartition("@") if "@" in address else (address.strip(), "", "")
    if not name:
        raise DeviceError("no port is named; type the like of /dev/ttyUSB0 or socket://127.0.0.1:4000")
    if rate and not rate.isdigit():
        raise DeviceError(f"{rate} is no rate in bits a second; allowed is the like of {name}@9600")
    try:
        port: Port = serial.serial_for_url(name, baudrate=int(rate or USUAL_RATE), timeout=PATIENCE)
    except (serial.SerialException, OSError, ValueError) as why:
        raise DeviceError(f"{name} cannot be opened: {reason(why)}") from None
    return port


def listen(port: Port, heard: Callable[[str], object], spoilt: Callable[[str], object], go_on: Callable[[], bool]) -> None:
    """Hand over each number that comes, and each line that is none, until `go_on` says no. Raises DeviceError when it is gone."""
    lines, waited = Lines(), 0.0
    try:
        while go_on():
            try:
                data = port.read(1)  # more at once would be lost with the port when it goes while they are gathered
            except Exception as why:  # pyserial raises its own, the system OSError, a closed descriptor TypeError
                raise DeviceError(f"the device is gone: {reason(why)}") from None
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


def reason(why: Exception) -> str:
    """The reason of a fault of a port, without what wrapped it."""
    told = getattr(why, "strerror", None) or str(why).rpartition("] ")[2] or type(why).__name__
    return told.split(": '")[0].rstrip(".")
