"""A machine at the other end of a wire, spoken to by the bench protocol. Lengths in m (or rad), times in s."""

from __future__ import annotations

import random
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from typing import TypeVar

import numpy as np

from urban_mule.bench.devices import DeviceError
from urban_mule.bench.wire.lines import Lines
from urban_mule.bench.wire.messages import (
    GREATEST_NUMBER,
    VERSIONS,
    Message,
    as_word,
    message_in,
    numbers_in,
    samples_a_line,
    unpacked,
)
from urban_mule.bench.wire.ports import Port, gone
from urban_mule.core.sheet.progress import Cancelled
from urban_mule.core.sheet.record import record

ANSWER_WITHIN = 1.0  # s: an answer, or that it is busy, comes within
TRIES = 3
Found = TypeVar("Found")
PAUSE = 0.05  # s between looks at whether to stop
CHUNK = 100  # samples asked for at once
LINE, PLAIN, MORE = 120, 30, 9  # bytes: of a packed line, of a plain sample, and of each of its directions
BITS = 10  # on a serial line for a byte
LEAST_SAMPLES, MOST_RATE = 2, 100_000  # of a record; samples a second that a bench may make
MOST_DIRECTIONS = 6
TRACED, TRACED_BEFORE = 2, 1.0  # columns of a trace; s that it may be longer than asked for
MOST_SEEN = 1e6  # s or m/s²: more than any sensor of a machine sees


@record(frozen=True)
class Introduction:
    """What a bench says of itself: its name, m or rad, its travel, what it has, whether it is a practice bench, the version of
    the protocol that it speaks, how many samples a second it records (0: it does not say), in which directions, and the name of
    another axis that it moves.
    """

    name: str
    unit: str
    travel: float
    has: tuple[str, ...]
    practice: bool
    version: int = 1
    rate: float = 0.0
    directions: str = ""
    second: str = ""


class Refused(DeviceError):
    """The bench said no, and why."""


@record(frozen=True)
class Packed:
    """How a record is packed: spacing of its samples [s], what a step of a value counts [m/s² or rad/s²], how many directions."""

    spacing: float
    step: float
    directions: int


class WireMachine:
    """Mover, indicator and accelerometer over a port. A request that is not answered is sent again under the same number, so
    that it is done once. go_on: asked while waiting; where it says no, the machine is told to stop.
    """

    def __init__(self, port: Port, within: float = ANSWER_WITHIN, tries: int = TRIES) -> None:
        self._port, self._within, self._tries = port, within, tries
        self._lines = Lines()
        self._number = random.randrange(GREATEST_NUMBER // 2)  # so that no late answer to an earlier user of the port fits
        self.lost = False  # whether the port is there no more
        self.go_on: Callable[[], bool] = _always
        self._at_work, self._leaving, self._turn = False, False, threading.Lock()
        self.introduction = Introduction("", "m", 0.0, (), False)

    @property
    def practice(self) -> bool:
        """Whether it says that it makes its readings up."""
        return self.introduction.practice

    def hello(self) -> Introduction:
        """Ask who is there, in the newest version that both speak. Raises DeviceError for a silent one and for other versions."""
        self._send(b"\n")  # ends a half line that an earlier user may have left
        words = self._version_found()
        try:
            unit, travel, practice, *has, name = words[1:]
            (length,) = numbers_in((travel,))
            said = dict(one.split("=", 1) for one in has if "=" in one)
            (rate,) = numbers_in((said.get("rate", "0"),))
        except ValueError:
            raise DeviceError(f"the bench introduces itself with {' '.join(words)[:60]!r}, which is no introduction") from None
        if unit not in ("m", "rad") or practice not in ("practice", "machine") or length <= 0:
            raise DeviceError(f"the bench introduces itself with {unit} {travel} {practice}; allowed are m or rad, a travel above"
                              " 0, practice or machine")
        if not 0 <= rate <= MOST_RATE:
            raise DeviceError(f"the bench says that it records {rate:g} samples a second; allowed is up to {MOST_RATE}")
        self.introduction = Introduction(name, unit, length, tuple(one for one in has if "=" not in one), practice == "practice",
                                         int(words[0]), rate, said.get("directions", "")[:MOST_DIRECTIONS],
                                         said.get("second", ""))
        return self.introduction

    def _version_found(self) -> tuple[str, ...]:
        """The bench's answer to the newest version that it takes. Raises DeviceError."""
        for version in VERSIONS:
            try:
                words = self._ask("hello", str(version))
            except Refused:
                if version == VERSIONS[-1]:
                    raise
                continue
            if words and words[0] in map(str, VERSIONS):
                return words
            break
        spoken = " and ".join(map(str, VERSIONS))
        raise DeviceError(f"the bench speaks version {words[0][:20] if words else '?'} of the protocol, this program {spoken}")

    def coming(self, samples: float) -> float:
        """Seconds that so many samples take over this wire; 0 where it is no serial line, or nobody knows."""
        wide = len(self.introduction.directions) or 1
        size = LINE / samples_a_line(wide) if self._packs else PLAIN + MORE * wide
        return samples * size * BITS / self._port.rate if self._port.rate else 0.0

    @property
    def _packs(self) -> bool:
        return "compact" in self.introduction.has and bool(self.introduction.directions)

    def enable(self) -> None:
        self._ask("enable")

    def disable(self) -> None:
        self._ask("disable")

    def move(self, position: float) -> None:
        """As `Mover.move`, over the wire; position: [travel]."""
        self._ask("move", as_word(position))

    def pause(self, seconds: float) -> None:
        """Let time pass, as long as nobody says to stop. Raises Cancelled."""
        until = time.monotonic() + seconds
        while time.monotonic() < until:
            if not self.go_on():
                raise Cancelled
            time.sleep(min(PAUSE, max(0.0, until - time.monotonic())))

    def second(self, position: float) -> None:
        """As `Mover.second`, over the wire; [m]. Raises DeviceError where the bench announced no second axis."""
        if not self.introduction.second:
            raise DeviceError("this bench moves one axis; move the other by hand, and type what the gauge shows")
        self._ask("second", as_word(position))

    def gauge(self, what: str, *values: float) -> float:
        """As `Indicator.gauge`, over the wire; [m]. Raises DeviceError."""
        if not self.introduction.second:
            raise DeviceError("this bench reads along its one axis; type what the gauge shows")
        return self._one("gauge", what, *map(as_word, values))

    def run(self, position: float, speed: float, acceleration: float) -> None:
        """As `Mover.run`, over the wire; [travel], [travel]/s, [travel]/s²."""
        self._ask("run", as_word(position), as_word(speed), as_word(acceleration))

    def begin(self, position: float, speed: float, acceleration: float) -> None:
        """As `Mover.begin`, over the wire; [travel], [travel]/s, [travel]/s²."""
        self._ask("begin", as_word(position), as_word(speed), as_word(acceleration))

    def home(self) -> None:
        self._ask("home")

    def stop(self) -> None:
        self._ask("stop")

    def position(self) -> float:
        return self._one("where")

    def read(self) -> float:
        return self._one("read")

    def hand(self, what: str, *values: float) -> float:
        return self._one("hand", what, *map(as_word, values))

    def shake(self, low: float, high: float, duration: float) -> None:
        self._ask("shake", as_word(low), as_word(high), as_word(duration))

    def record(self, duration: float) -> tuple[np.ndarray, np.ndarray]:
        """Record, then fetch the samples piece by piece; a piece of which a line was lost is asked for again.

        Raises DeviceError.
        """
        return self._fetched(duration, "record", as_word(duration))

    def trace(self, duration: float, of: str) -> tuple[np.ndarray, np.ndarray]:
        """As `Tracer.trace`, over the wire. Raises DeviceError where the bench announced none."""
        if "trace" not in self.introduction.has:
            raise DeviceError("this bench follows no move; take the trace of the drive as a CSV, or answer by hand")
        times, rows = self._fetched(duration + TRACED_BEFORE, "trace", as_word(duration), of)
        if rows.shape[1] != TRACED:
            raise DeviceError(f"the trace has {rows.shape[1]} columns; command and actual value are two")
        return times, rows

    def _fetched(self, duration: float, *words: str) -> tuple[np.ndarray, np.ndarray]:
        count, *even = self._values(*words)
        most = max(LEAST_SAMPLES, duration * MOST_RATE)
        if count != int(count) or not LEAST_SAMPLES <= count <= most:
            raise DeviceError(f"the bench says that it recorded {count:g} samples in {duration:g} s; allowed is a whole number from"
                              f" {LEAST_SAMPLES} to {most:.0f}")
        packs = len(even) == 2 and self._packs and min(even) > 0
        pack = Packed(even[0], even[1], len(self.introduction.directions)) if packs else None
        rows: dict[int, list[float]] = {}
        first = failed = 0
        while first < count:
            self._ask("samples" if pack is None else "packed", str(first), str(CHUNK), rows=rows, pack=pack)
            failed = 0 if first in rows else failed + 1
            if failed == self._tries:
                raise DeviceError(f"sample {first} of the record does not come; the wire loses lines")
            while first in rows:
                first += 1
        wide = len(rows[0])
        odd = next((n for n in range(int(count)) if len(rows[n]) != wide), None)
        if odd is not None:
            raise DeviceError(f"sample {odd} of the record has {len(rows[odd])} numbers, the first one {wide}")
        table = np.array([rows[n] for n in range(int(count))])
        if np.abs(table).max() > MOST_SEEN:
            raise DeviceError(f"the record holds {np.abs(table).max():.3g}; no sensor of a machine sees more than {MOST_SEEN:.0e}")
        return table[:, 0], table[:, 1:]

    def close(self) -> None:
        self._port.close()

    def carry(self, act: Callable[[], Found]) -> Found:
        """Do something with the machine; whatever ends it before its time, the machine is told to stop.

        Raises what the act raises; Cancelled where the machine was left meanwhile, and closes the port then.
        """
        with self._turn:
            if self._leaving:
                raise Cancelled
            self._at_work = True
        try:
            return act()
        except Cancelled:
            raise
        except BaseException:
            self._tell_to_stop()
            raise
        finally:
            with self._turn:
                self._at_work = False
                if self._leaving:
                    self.close()

    def leave(self) -> None:
        """Have done with the machine: at once where it rests, else once it has been told to stop."""
        with self._turn:
            self._leaving = True
            at_work = self._at_work
        self.go_on = _never
        if not at_work:
            self.close()

    def _tell_to_stop(self) -> None:
        """Send a stop, without waiting for an answer and without a word where the wire is gone."""
        self._number = self._number % GREATEST_NUMBER + 1
        with suppress(DeviceError):
            self._send(Message(self._number, ("stop",)).line())

    def _one(self, *words: str) -> float:
        return self._values(*words)[0]

    def _values(self, *words: str) -> list[float]:
        answer = self._ask(*words)
        try:
            found = numbers_in(answer)
        except ValueError:
            found = []
        if not found:
            raise DeviceError(f"the bench answers {words[0]} with {' '.join(answer)[:40]!r}; a number is needed")
        return found

    def _send(self, data: bytes) -> None:
        try:
            self._port.write(data)
        except Exception as why:  # pyserial raises its own, the system OSError
            self.lost = True
            raise gone(why) from None

    def _ask(self, *words: str, rows: dict[int, list[float]] | None = None, pack: Packed | None = None) -> tuple[str, ...]:
        """Send a request and wait for its answer. Raises DeviceError, Cancelled."""
        self._number = self._number % GREATEST_NUMBER + 1
        request = Message(self._number, words)
        for _ in range(self._tries):
            self._send(request.line())
            answer = self._answer(request, rows, pack)
            if answer is not None:
                return answer
        raise DeviceError(f"the bench does not answer {words[0]!r}; look at its power, its cable and its rate")

    def _answer(self, request: Message, rows: dict[int, list[float]] | None, pack: Packed | None) -> tuple[str, ...] | None:
        """What comes in answer, or None when nothing comes in time."""
        until = time.monotonic() + self._within
        while time.monotonic() < until:
            if not self.go_on():
                self._tell_to_stop()
                raise Cancelled
            try:
                data = self._port.read(4096)
            except Exception as why:  # pyserial raises its own, the system OSError, a closed descriptor TypeError
                self.lost = True
                raise gone(why) from None
            for line in self._lines.feed(data):
                message = message_in(line)
                if message is None or message.number != request.number:
                    continue
                if message.verb == "done":
                    return message.words[1:]
                if message.verb == "refused":
                    raise Refused(f"the bench refuses: {' '.join(message.words[1:]) or 'it does not say why'}")
                until = time.monotonic() + self._within
                if message.verb in ("sample", "packed") and rows is not None:
                    _gather(message.words[1:], rows, pack)
        return None


def _gather(words: tuple[str, ...], rows: dict[int, list[float]], pack: Packed | None) -> None:
    """Put samples in their places; what does not come is asked for again."""
    try:
        if pack is not None:
            place, word = words
            (first,) = numbers_in((place,))
            for n, values in enumerate(unpacked(word, pack.directions, pack.step).tolist(), start=int(first)):
                rows[n] = [n * pack.spacing, *values]
            return
        index, *row = numbers_in(words)
    except ValueError:
        return
    if len(row) >= 2:
        rows[int(index)] = row


def _always() -> bool:
    return True


def _never() -> bool:
    return False
