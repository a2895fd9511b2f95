"""The machine's side of the bench protocol: requests in, answers out, around whatever is a machine."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator

import numpy as np

from urban_mule.bench.devices import BenchMachine, DeviceError
from urban_mule.bench.wire.lines import LONGEST, Lines
from urban_mule.bench.wire.messages import (
    GREATEST_NUMBER,
    LARGEST_STEP_COUNT,
    LONGEST_SENTENCE,
    VERSIONS,
    Message,
    as_word,
    message_in,
    numbers_in,
    packed,
    samples_a_line,
)
from urban_mule.bench.wire.ports import Port

BUSY_EVERY = 0.3  # s between two words that a long request is still being worked at
SHORT_NAME = 4  # characters of the other axis
LONGEST_NAME = 16  # characters, so that the introduction stays within the longest line
MOST_SAMPLES = 500  # in one answer
DIGITS, TRACED_DIGITS = 7, 10  # of a value that is sent plainly: a place far along an axis needs more
EVEN = 1e-6  # of the spacing of samples: so even they can be packed
LEAST_STEP = 1e-9  # m/s² or rad/s² that a step of a packed sample counts, where nothing moved


class Peer:
    """Answers requests by what a machine does. A request that comes again under its number is answered again and not done again.

    name: one word. unit: m or rad. travel in it. pace [s]: how long a move takes before a person's eyes. rate: samples a second
    of a record. directions: a letter for each of its columns. versions: those of the protocol that it speaks. second: name of
    another axis that it moves.
    """

    def __init__(self, machine: BenchMachine, name: str, unit: str, travel: float, pace: float = 0.0, rate: float = 0.0,
                 directions: str = "xyz", versions: tuple[int, ...] = VERSIONS, second: str = "") -> None:
        self.machine, self.pace, self.versions = machine, pace, versions
        self._axis = unit, f"{travel:.7g}", "practice" if machine.practice else "machine"
        self._has: tuple[str, ...] = ("mover", "indicator", "accelerometer")
        self._more = ("off", "trace", "compact", f"directions={directions}", *((f"rate={rate:g}",) if rate else ()))
        if second:
            self._more += (f"second={_word(second)}",)
        for spared in ("", "rate=", "trace"):  # what a long introduction can do without
            self._more = tuple(one for one in self._more if not spared or not one.startswith(spared))
            said = len(" ".join(("hello", str(GREATEST_NUMBER), "done", "2", *self._axis, *self._has, *self._more)))
            if said + 2 <= LONGEST:
                break
        self._name = "_".join(name.split())[:max(1, min(LONGEST_NAME, LONGEST - said - 1))] or "axis"
        self._last: Message | None = None
        self._digits = DIGITS
        self._answers: list[Message] = []
        self._times, self._values, self._step, self._version = np.zeros(0), np.zeros((0, 1)), LEAST_STEP, versions[-1]

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
        if self._acts(verb, words, waited):
            yield ("done",)
            return
        match verb:
            case "hello":
                if len(words) != 1 or words[0] not in map(str, self.versions):
                    raise DeviceError(f"this bench speaks version {' and '.join(map(str, self.versions))}")
                self._version = int(words[0])
                more = self._more if self._version > 1 else ()
                yield ("done", words[0], *self._axis, *self._has, *more, self._name)
            case "where":
                yield ("done", as_word(self.machine.position()))
            case "read":
                yield ("done", as_word(self.machine.read()))
            case "gauge" if self._version > 1:
                yield ("done", as_word(self.machine.gauge(words[0] if words else "", *numbers_in(words[1:]))))
            case "hand":
                yield ("done", as_word(self.machine.hand(words[0] if words else "", *numbers_in(words[1:]))))
            case "record":
                (duration,) = numbers_in(words)
                self._times, self._values = self.machine.record(duration)
                self._digits = DIGITS
                waited(self.pace)
                yield ("done", str(self._times.size), *(self._evenly() if self._version > 1 else ()))
            case "trace" if self._version > 1 and len(words) == 2:
                (duration,) = numbers_in(words[:1])
                self._times, self._values = self.machine.trace(duration, words[1])
                self._digits = TRACED_DIGITS
                waited(self.pace)
                yield ("done", str(self._times.size))
            case "packed" if self._version > 1:
                first, count = (int(one) for one in numbers_in(words))
                yield from self._packed(max(first, 0), min(count, MOST_SAMPLES))
            case "samples":
                first, count = (int(one) for one in numbers_in(words))
                yield from self._samples(max(first, 0), min(count, MOST_SAMPLES))
            case _:
                raise DeviceError(f"{verb[:20]} is no request of version {self._version}")

    def _acts(self, verb: str, words: tuple[str, ...], waited: Callable[[float], bool]) -> bool:
        """Do what answers nothing but that it is done; False where it is none of that."""
        match verb:
            case "enable":
                self.machine.enable()
            case "disable" if self._version > 1:
                self.machine.disable()
            case "move":
                (position,) = numbers_in(words)
                self._move(position, waited)
            case "second" if self._version > 1:
                (position,) = numbers_in(words)
                waited(self.pace)
                self.machine.second(position)
            case "run":
                position, speed, acceleration = numbers_in(words)
                waited(self.pace)
                self.machine.run(position, speed, acceleration)
            case "begin":
                self.machine.begin(*numbers_in(words))
            case "home":
                waited(self.pace)
                self.machine.home()
            case "shake":
                low, high, duration = numbers_in(words)
                self.machine.shake(low, high, duration)
            case "stop":
                self.machine.stop()
            case _:
                return False
        return True

    def _move(self, position: float, waited: Callable[[float], bool]) -> None:
        """Move within the pace; told to stop it comes to rest on the way."""
        begun, start = time.monotonic(), self.machine.position()
        if waited(self.pace):
            self.machine.move(position)
            return
        share = min(1.0, (time.monotonic() - begun) / self.pace)
        self.machine.move(start + share * (position - start))
        raise DeviceError("stopped on the way")

    def _evenly(self) -> tuple[str, str]:
        """Spacing of the last record's samples [s], 0 where they are not even, and what a step of a packed value counts."""
        gaps = np.diff(self._times)
        even = gaps.size > 0 and float(np.ptp(gaps)) <= EVEN * float(gaps[0])
        self._step = max(float(np.abs(self._values).max()) / LARGEST_STEP_COUNT, LEAST_STEP) if self._values.size else LEAST_STEP
        return as_word(float(gaps.mean()) if even else 0.0), as_word(self._step)

    def _packed(self, first: int, count: int) -> Iterator[tuple[str, ...]]:
        last, wide = min(first + count, self._times.size), samples_a_line(self._values.shape[1])
        for n in range(first, last, wide):
            yield ("packed", str(n), packed(self._values[n:min(n + wide, last)], self._step))
        yield ("done", str(max(last - first, 0)))

    def _samples(self, first: int, count: int) -> Iterator[tuple[str, ...]]:
        last = min(first + count, self._times.size)
        for n in range(first, last):
            yield ("sample", str(n), f"{self._times[n]:.9g}", *(f"{value:.{self._digits}g}" for value in self._values[n]))
        yield ("done", str(max(last - first, 0)))


def _word(name: str) -> str:
    return "_".join(name.replace(":", "_").replace("=", "_").split())[:SHORT_NAME] or "second"


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
