"""How a value of the session reads on screen: number, unit, or why there is none."""

from __future__ import annotations

from urban_mule.core.sheet.given import words
from urban_mule.core.subjects import label_of


def sentence(reason: str) -> str:
    """A reason as a sentence of its own."""
    return f"{reason[:1].upper()}{reason[1:]}."


def state_word(level: str) -> str:
    """A level as people read it; what cannot be judged yet is unfinished, what nobody has judged yet is being computed."""
    return "unfinished" if level == "unknown" else level or "computing…"


def label(name: str) -> str:
    """What a quantity or given is called on screen."""
    return label_of(name) or words(name)
