"""Messages of the bench protocol (docs/bench-protocol.md): one ASCII line each, its checksum first; no device, no clock."""

from __future__ import annotations

import base64
import binascii
import math
import re

import numpy as np

from urban_mule.core.sheet.record import record

VERSIONS = (2, 1)  # of the protocol that are spoken, the newest first
GREATEST_NUMBER = 999_999
NUMBER = re.compile(r"[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d{1,3})?", re.ASCII)
LONGEST_SENTENCE = 80  # characters of a refusal, so that its line stays within the longest


@record(frozen=True)
class Message:
    """A message: the number that an answer shares with its request, and its words."""

    number: int
    words: tuple[str, ...]

    @property
    def verb(self) -> str:
        return self.words[0]

    def line(self) -> bytes:
        """The message as it goes over the wire."""
        text = " ".join((str(self.number), *self.words))
        return f"{checksum(text)} {text}\n".encode("ascii")


def checksum(text: str) -> str:
    """Four hexadecimal digits over a line: the CRC of ITU-T V.41 (polynomial 1021h), begun with FFFFh."""
    return f"{binascii.crc_hqx(text.encode('ascii'), 0xFFFF):04x}"


def message_in(line: str | None) -> Message | None:
    """The message that a line holds; None for one that is spoilt, whatever it holds."""
    if line is None or not line.isascii():
        return None
    check, _, text = line.partition(" ")
    number, _, rest = text.partition(" ")
    if check != checksum(text) or not number.isdigit() or not rest:
        return None
    return Message(int(number), tuple(rest.split(" ")))


def as_word(value: float) -> str:
    """A number as a word of a message: all its digits."""
    return repr(float(value))


LARGEST_STEP_COUNT = 32_767  # that a value of a packed sample may be away from zero
PACKED = 69  # bytes of samples in a line at most, so that it stays within the longest


def samples_a_line(directions: int) -> int:
    """How many whole samples a packed line holds."""
    return max(1, PACKED // (2 * directions))


def packed(rows: np.ndarray, step: float) -> str:
    """Samples as a word: each value a whole number of steps, two bytes, the greater first, as base64 (RFC 4648, 4) writes them.

    rows: samples x directions; step: what one counts, in the rows' unit.
    """
    counted = np.clip(np.round(rows / step), -LARGEST_STEP_COUNT, LARGEST_STEP_COUNT)
    return base64.b64encode(counted.astype(">i2").tobytes()).decode("ascii")


def unpacked(word: str, directions: int, step: float) -> np.ndarray:
    """The samples that a word holds: samples x directions. Raises ValueError for a word that holds none."""
    raw = base64.b64decode(word, validate=True)
    if not raw or len(raw) % (2 * directions):
        raise ValueError(f"{len(raw)} bytes are no samples of {directions} directions")
    return np.asarray(np.frombuffer(raw, ">i2").reshape(-1, directions) * step)


def numbers_in(words: tuple[str, ...]) -> list[float]:
    """Words as finite numbers, written with digits, one point and a power of ten at most. Raises ValueError."""
    if not all(NUMBER.fullmatch(word) for word in words):
        raise ValueError("a word is no number")
    found = [float(word) for word in words]
    if not all(math.isfinite(one) for one in found):
        raise ValueError("a number is not finite")
    return found
