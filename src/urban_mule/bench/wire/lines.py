"""Bytes from a wire as lines, and lines as numbers, whatever way they are cut, doubled, lost or spoilt; no device, no clock."""

from __future__ import annotations

import re

LONGEST = 120  # characters of a line: more without an end is noise, and is not gathered
NUMBER = re.compile(r"^[^\d+\-.,]{0,12}?(?P<number>[+-]?\s*(?:\d+[.,]?\d*|[.,]\d+))\s*(?P<unit>[A-Za-zµ°\"]{0,6})\s*$")


class Lines:
    """Gathers bytes into lines. What is no text, or too long for a line, is thrown away up to the next end of a line."""

    def __init__(self) -> None:
        self._gathered = bytearray()
        self._spoilt = False

    @property
    def half(self) -> bool:
        """Whether a line has begun and not ended, of what is not thrown away yet."""
        return bool(self._gathered)

    def feed(self, data: bytes) -> list[str | None]:
        """The lines that end within these bytes, empty ones left out; None for one that was thrown away."""
        found: list[str | None] = []
        for byte in data:
            if byte in b"\r\n":
                if self._spoilt or self._gathered:
                    found.append(self._text())
                self._gathered.clear()
                self._spoilt = False
            elif not self._spoilt:
                self._gathered.append(byte)
                if len(self._gathered) > LONGEST:
                    self._gathered.clear()
                    self._spoilt = True
        return found

    def drop(self) -> None:
        """Throw away the half line that stands there, and what may still come of it: its tail alone would be another number."""
        self._gathered.clear()
        self._spoilt = True

    def _text(self) -> str | None:
        if self._spoilt:
            return None
        try:
            text = self._gathered.decode("ascii" if max(self._gathered) < 128 else "utf-8")
        except UnicodeDecodeError:
            return None
        return text.strip() if text.isprintable() or "\t" in text else None


def number_in(line: str) -> str | None:
    """The number that a line of an indicator says, with its unit where it says one, as a person would type it; else None.

    A few letters may go before it (a channel, a mode). A line with several numbers is none: nobody can say which is meant.
    """
    found = NUMBER.match(line.strip())
    if found is None:
        return None
    number = found["number"].replace(" ", "")
    return f"{number} {found['unit']}".strip()
