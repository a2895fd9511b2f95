"""The practice bench: one simulated axis served by the bench protocol, on a pseudo-terminal or a loopback socket."""

from __future__ import annotations

import os
import select
import socket
import tty
from collections.abc import Callable

from urban_mule.bench.simulated.axis import SAMPLE_RATE, SimulatedAxis
from urban_mule.bench.simulated.pair import SimulatedPair
from urban_mule.bench.wire.peer import Peer, serve
from urban_mule.bench.wire.ports import PATIENCE, SocketPort

PACE = 0.25  # s that a move takes before a person's eyes


class TerminalPort:
    """This end of a pseudo-terminal. Before somebody opens the other end, and after it was closed, nothing comes."""

    def __init__(self) -> None:
        self._here, self._there = os.openpty()  # the other end stays open here too, so that a reader may come and go
        tty.setraw(self._there)
        self.name, self.rate = os.ttyname(self._there), 0

    def read(self, size: int) -> bytes:
        return os.read(self._here, size) if select.select([self._here], [], [], PATIENCE)[0] else b""

    def write(self, data: bytes) -> None:
        """Write what is taken; with nobody who reads, the rest is lost, as on any serial line."""
        while data and select.select([], [self._here], [], 1.0)[1]:
            data = data[os.write(self._here, data):]

    def close(self) -> None:
        os.close(self._here)
        os.close(self._there)


def practice_peer(
    machine: SimulatedAxis | SimulatedPair, name: str, linear: bool, pace: float = PACE, second: str = "",
) -> Peer:
    """The machine's side of the protocol around a simulated axis, or two. pace [s]: how long a move takes before a person's eyes;
    second: name of the other axis.
    """
    return Peer(machine, name, "m" if linear else "rad", machine.travel, pace, SAMPLE_RATE, machine.directions, second=second)


def serve_terminal(peer: Peer, told: Callable[[str], object], go_on: Callable[[], bool]) -> None:
    """Serve on a pseudo-terminal; `told` hears its address."""
    port = TerminalPort()
    told(port.name)
    try:
        serve(port, peer, go_on)
    finally:
        port.close()


def serve_socket(peer: Peer, number: int, told: Callable[[str], object], go_on: Callable[[], bool]) -> None:
    """Serve one visitor after another on a loopback socket; number 0 takes a free one. Raises OSError when it is taken."""
    with socket.create_server(("127.0.0.1", number)) as server:
        told(f"socket://127.0.0.1:{server.getsockname()[1]}")
        while go_on():
            if not select.select([server], [], [], PATIENCE)[0]:
                continue
            visitor = SocketPort(server.accept()[0])
            try:
                serve(visitor, peer, go_on)
            except OSError:  # it went; the next one may come
                continue
            finally:
                visitor.close()
