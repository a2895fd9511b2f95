"""Ports that bytes come from and go to: a serial port or a local socket, opened by the address that a person types."""

from __future__ import annotations

import re
import select
import socket
from typing import Any, Protocol

from urban_mule.bench.devices import DeviceError

USUAL_RATE = 9600  # bit/s
PATIENCE = 0.1  # s that one look at a port takes at most
SOCKET = "socket://"
NUMBER = re.compile(r"[0-9]{1,9}")
FASTEST, LONGEST_ADDRESS = 12_000_000, 300  # bit/s; characters


class Port(Protocol):
    """What bytes come from and go to. rate: bit/s of a serial line, 0 of what is none."""

    rate: int

    def read(self, size: int) -> bytes:
        """What has come, at most so many bytes; none when nothing comes within `PATIENCE`. Raises OSError when it is gone."""

    def write(self, data: bytes) -> object:
        """Send all of these bytes. Raises OSError when it is gone or takes none."""

    def close(self) -> None: ...


class SocketPort:
    """A connected stream socket as a port."""

    def __init__(self, connected: socket.socket, patience: float = PATIENCE) -> None:
        self._socket, self._patience, self.rate = connected, patience, 0
        connected.settimeout(1.0)

    def read(self, size: int) -> bytes:
        """What has come. Raises ConnectionError when the other side has closed it."""
        if not select.select([self._socket], [], [], self._patience)[0]:
            return b""
        data = self._socket.recv(size)
        if not data:
            raise ConnectionError("the other side closed the connection")
        return data

    def write(self, data: bytes) -> None:
        self._socket.sendall(data)

    def close(self) -> None:
        self._socket.close()


class SerialPort:
    """A serial port; a byte that came is never lost with the port, should it go while more are looked for."""

    def __init__(self, opened: Any, rate: int) -> None:
        self._port, self.rate = opened, rate

    def read(self, size: int) -> bytes:
        first = bytes(self._port.read(1))
        if not first:
            return b""
        try:
            return first + bytes(self._port.read(min(size - 1, self._port.in_waiting)))
        except Exception:  # it is gone: the next look says so
            return first

    def write(self, data: bytes) -> None:
        self._port.write(data)

    def close(self) -> None:
        self._port.close()


def open_port(address: str, patience: float = PATIENCE) -> Port:
    """A port by its name (`/dev/ttyUSB0`, with a rate as `/dev/ttyUSB0@19200`) or a socket (`socket://127.0.0.1:4000`).

    patience [s]: what one look at it takes at most. Raises DeviceError.
    """
    name, _, rate = address.strip().rpartition("@") if "@" in address else (address.strip(), "", "")
    if not name:
        raise DeviceError("no port is named; type the like of /dev/ttyUSB0 or socket://127.0.0.1:4000")
    if len(address) > LONGEST_ADDRESS:
        raise DeviceError(f"the address has {len(address)} characters; at most {LONGEST_ADDRESS} are taken")
    if rate and not (NUMBER.fullmatch(rate) and 0 < int(rate) <= FASTEST):
        raise DeviceError(f"{rate} is no rate in bits a second; allowed is the like of {name}@9600, at most {FASTEST}")
    if name.startswith(SOCKET):
        return _open_socket(name, patience)
    import serial

    try:
        bits = int(rate or USUAL_RATE)
        return SerialPort(serial.Serial(name, baudrate=bits, timeout=patience, write_timeout=1.0), bits)
    except (serial.SerialException, OSError, ValueError, OverflowError) as why:
        raise DeviceError(f"{name} cannot be opened: {reason(why)}") from None


def _open_socket(name: str, patience: float) -> Port:
    host, _, number = name.removeprefix(SOCKET).rpartition(":")
    if not host or not NUMBER.fullmatch(number) or int(number) > 65535:
        raise DeviceError(f"{name} names no socket; allowed is the like of {SOCKET}127.0.0.1:4000")
    try:
        return SocketPort(socket.create_connection((host, int(number)), timeout=2.0), patience)
    except OSError as why:
        raise DeviceError(f"{name} cannot be opened: {reason(why)}") from None
    except ValueError:
        raise DeviceError(f"{name} cannot be opened: no host is called that") from None


def gone(why: Exception) -> DeviceError:
    """That a port that was open is there no more."""
    return DeviceError(f"the device is gone: {reason(why)}")


def reason(why: Exception) -> str:
    """The reason of a fault of a port, without what wrapped it."""
    told = getattr(why, "strerror", None) or str(why).rpartition("] ")[2] or type(why).__name__
    return str(told).split(": '")[0].rstrip(".")
