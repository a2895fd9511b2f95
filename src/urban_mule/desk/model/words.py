"""How a value of the session reads on screen: number, unit, or why there is none."""

from __future__ import annotations

from urban_mule.core.sheet.given import words
from urban_mule.core.sheet.solution import PLACE
from urban_mule.core.subjects import labels
from urban_mule.store.document.project import Axis


def sentence(reason: str) -> str:
    """A reason as a sentence of its own."""
    return f"{reason[:1].upper()}{reason[1:]}."


def state_word(level: str) -> str:
    """A level as people read it; what cannot be judged yet is unfinished."""
    return "unfinished" if level == "unknown" else level


def label(name: str) -> str:
    """What a quantity or given is called on screen."""
    return labels().get(name) or words(name)


def place_label(axis: Axis, name: str) -> str:
    """What an input of the sheet is called where links and moves have fields of one name: `train[1].efficiency`."""
    found = PLACE.match(name)
    if found is None:
        return label(name)
    place = int(found["place"])
    if found["list"] == "cycle":
        return f"{label(found['field'])} of move {place + 1}"
    stages = axis.train or ()
    return f"{label(found['field'])} of the {stages[place].kind}" if place < len(stages) else label(found["field"])
