"""What a practice project knows of its made-up machines: what they really are, faults that are hidden, what was put right, what
was believed."""

from __future__ import annotations

from typing import Any, ClassVar

from urban_mule.core.sheet.given import Given
from urban_mule.store.document.base import Name, Strict, Text

SIZE = Given("size", "", "", "how large it is, in the fault's own unit")


class HiddenFault(Strict):
    """A fault of the practice machine, with its size."""

    what: ClassVar[str] = "a hidden fault"
    givens: ClassVar[dict[str, Given]] = {"size": SIZE}
    fault: Name
    size: Any


class DrawnInput(Strict):
    """A given of a made-up machine: what stood in the project when it was made, and what it really is; both in SI."""

    what: ClassVar[str] = "a drawn input"
    givens: ClassVar[dict[str, Given]] = {"given": Given("given", "", "", "what the project said then, in SI"),
                                          "really": Given("really", "", "", "what it is on the machine, in SI")}
    input: Name
    given: Any = None
    really: Any


class MadeMachine(Strict):
    """The machine that was made up for an axis: it stays as it is when what is measured on it is taken over."""

    what: ClassVar[str] = "a made-up machine"
    givens: ClassVar[dict[str, Given]] = {
        "seed": Given("seed", "", "", "from which it is made up", whole=True, least=0, most=2**32 - 1)}
    axis: Name
    seed: Any
    drawn: tuple[DrawnInput, ...]


class HiddenFaults(Strict):
    """The faults of one axis. repaired, believed: names of faults; debriefed: whether the truth was told."""

    what: ClassVar[str] = "the hidden faults"
    givens: ClassVar[dict[str, Given]] = {
        "seed": Given("seed", "", "", "from which the machine is made up", whole=True, least=0, most=2**32 - 1),
        "lesson": Given("lesson", "", "", "number of the lesson; 0 for none", whole=True, least=0, most=1000)}
    axis: Name
    seed: Any
    lesson: Any = 0
    begun: Text = ""
    faults: tuple[HiddenFault, ...]
    repaired: tuple[Name, ...] = ()
    believed: tuple[Name, ...] = ()
    debriefed: bool = False
