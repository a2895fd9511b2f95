"""The machine's side of the bench protocol: requests in, answers out, around whatever is a machine."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator

import numpy as np

from urban_mule.bench.devices import DeviceError, Machine
from urban_mule.bench.wire.lines import Lines
from urban_mule.bench.wire.messages import LONGEST_SENTENCE, VERSION, Message, as_word, message_in, numbers_in
from urban_mule.bench.wire.ports import Port

BUSY_EVERY = 0.3  # s between two words that a long request is still being worked at
MOST_SAMPLES = 500  # in one answer


class Peer:
    """Answers requests by what a machine does. A request that comes again under its number is answered again and not done again.

    name: one word. unit: m or rad. travel in it. pace [s]: how long a move takes before a person's eyes.
    """

    def __init__(self, machine: Machine, name: str, unit: str, travel: float, pace: float = 0.0) -> None:
        self.machine, self.pace = machine, pace
        self._introduction = (str(VERSION), unit, as_word(travel), "practice" if machine.practice else "machine", "mover",
                              "indicator", "accelerometer", "_".join(name.split()) or "axis")
        self._last: Message | None = None
        self._answers: list[Message] = []
        self._times, self._values = np.zeros(0), np.zeros((0, 1))

    def answers(self, request: Message, waited: Callable[[float], bool] = lambda _seconds: True) -> Iterator[Message]:
        """The lines that answer a request; `waited` lets time pass and says whether nobody told it to stop meanwhile."""
        if request == self._last:
            yield from self._answers
            return
        self._last, self._answers = request, []
        try:
            for words in self._done(request, waited):
                self._answers.append(Message(request.number, words))
        except (DeviceError, ValueError) as why:
            told = str(why) if isinstance(why, DeviceError) else f"the values of {request.verb[:20]} do not fit"
            said = "".join(one if one.isascii() and one.isprintable() else "?" for one in told)
            self._answers.append(Message(request.number, ("refused", *said[:LONGEST_SENTENCE].split())))
        yield from self._answers

    def _done(self, request: Message, waited: Callable[[float], bool]) -> Iterator[tuple[str, ...]]:
        verb, *rest = request.words
        words = tuple(rest)
        match verb:
            case "hello":
                if words != (str(VERSION),):
                    raise DeviceError(f"this bench speaks version {VERSION}")
                yield ("done", *self._introduction)
            case "enable":
                self.machine.enable()
                yield ("done",)
            case "move":
                (position,) = numbers_in(words)
                self._move(position, waited)
                yield ("done",)
            case "run":
                position, speed, acceleration = numbers_in(words)
                waited(self.pace)
                self.machine.run(position, speed, acceleration)
                yield ("done",)
            case "begin":
                self.machine.begin(*numbers_in(words))
                yield ("done",)
            case "home":
                waited(self.pace)
                self.machine.home()
                yield ("done",)
            case "where":
                yield ("done", as_word(self.machine.position()))
            case "read":
                yield ("done", as_word(self.machine.read()))
            case "hand":
                yield ("done", as_word(self.machine.hand(words[0] if words else "", *numbers_in(words[1:]))))
            case "shake":
                low, high, duration = numbers_in(words)
                self.machine.shake(low, high, duration)
                yield ("done",)
            case "record":
                (duration,) = numbers_in(words)
                self._times, self._values = self.machine.record(duration)
                waited(self.pace)
                yield ("done", str(self._times.size))
            case "samples":
                first, count = (int(one) for one in numbers_in(words))
                yield from self._samples(max(first, 0), min(count, MOST_SAMPLES))
            case "stop":
                self.machine.stop()
                yield ("done",)
            case _:
                raise DeviceError(f"{verb[:20]} is no request of version {VERSION}")

    def _move(self, position: float, waited: Callable[[float], bool]) -> None:
        """Move within the pace; told to stop it comes to rest on the way."""
        begun, start = time.monotonic(), self.machine.position()
        if waited(self.pace):
            self.machine.move(position)
            return
        share = min(1.0, (time.monotonic() - begun) / self.pace)
        self.machine.move(start + share * (position - start))
        raise DeviceError("stopped on the way")

    def _samples(self, first: int, count: int) -> Iterator[tuple[str, ...]]:
        last = min(first + count, self._times.size)
        for n in range(first, last):
            yield ("sample", str(n), f"{self._times[n]:.9g}", *(f"{value:.7g}" for value in self._values[n]))
        yield ("done", str(max(last - first, 0)))


def serve(port: Port, peer: Peer, go_on: Callable[[], bool]) -> None:
    """Answer what comes in until `go_on` says no. A spoilt line is not answered: the other side asks again. Raises OSError."""
    lines, waiting = Lines(), list[Message]()

    def gather() -> None:
        waiting.extend(message for line in lines.feed(port.read(4096)) if (message := message_in(line)) is not None)

    while go_on():
        gather()
        while waiting:
            request = waiting.pop(0)

            def waited(seconds: float, request: Message = request) -> bool:
                until, said = time.monotonic() + seconds, time.monotonic()
                while time.monotonic() < until and go_on():
                    gather()
                    if any(one.verb == "stop" for one in waiting):
                        return False
                    if time.monotonic() - said > BUSY_EVERY:
                        said = time.monotonic()
                        port.write(Message(request.number, ("busy",)).line())
                return True

            port.write(b"".join(answer.line() for answer in peer.answers(request, waited)))
