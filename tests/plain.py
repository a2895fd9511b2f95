"""What makes a sentence hard to read for a stranger of the trade: words of ours, doubled words, numbers with too many digits."""

from __future__ import annotations

import re
from collections.abc import Iterator

OURS = re.compile(
    r"\b(reckon|whence|in hand\b|schools?\b|adopt|rungs?\b|said by the project|approached to (plus|minus)|coming from (below|above)"
    r"|were they real|sure then is|the path stays true|survives|costs in time|fellows\b|bears\b|the way back|one steady voice"
    r"|makes no more pulses)", re.I)
DOUBLED = re.compile(r"\b([A-Za-z]{2,}) \1\b")
ONE_OF_MANY = re.compile(
    r"(?<![\d.,:/±])(?<![\d.,:/±] )\b1 (parts|entries|turns|moves|axes|goals|readings|values|things|days|minutes|pieces|sets|lines"
    r"|steps|drivers|motors|forces|checks|questions)\b")
NO_YET = re.compile(r"\bNo [^.:]* yet: [^.]*(is|are) not given")
EXPONENT = re.compile(r"\d[eE][+\-]?\d")
NUMBER = re.compile(r"(?<![\w.])\d{1,3}(?:[ \u2009\u202f\u00a0]\d{3})+(?:\.\d+)?|(?<![\w.])\d+(?:\.\d+)?")
MOST_DIGITS = 6
SWITCHES_OR_RATIO = re.compile(r"[01]+$|1\.0|0\.99")  # a ratio near 1 is told by what it differs by


def words_of_ours(said: str) -> Iterator[str]:
    """Its words that a reader stumbles over."""
    for pattern in (OURS, DOUBLED, ONE_OF_MANY, NO_YET, EXPONENT):
        found = pattern.search(said)
        if found is not None:
            yield f"“{found[0]}” in: {said[:160]}"


def hard_to_read(said: str) -> Iterator[str]:
    """What of it a reader stumbles over, words or numbers."""
    yield from words_of_ours(said)
    for number in NUMBER.findall(said):
        digits = re.sub(r"\D", "", number).lstrip("0")
        if len(digits) > MOST_DIGITS and not SWITCHES_OR_RATIO.match(number):
            yield f"{len(digits)} digits, {number}, in: {said[:160]}"
