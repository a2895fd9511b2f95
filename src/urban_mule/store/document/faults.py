"""What is wrong with a document, as one sentence with its place."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

Found = TypeVar("Found")
Place = tuple[int | str, ...]
LONGEST_SENTENCE = 400  # characters


class Refused(ValueError):
    """A value that the document does not take.

    fault: what is wrong; at: where, from the part that was to take it; given: which given of the core it is about, and beyond:
    whether it lies outside the bounds of that, both as `BadValue` has them. As a text: place, what was given, what is allowed.
    """

    def __init__(self, fault: str, at: Place = (), given: str = "", beyond: bool = False) -> None:
        super().__init__(fault)
        self.fault, self.at, self.given, self.beyond = fault, at, given, beyond

    def inside(self, step: int | str) -> Refused:
        """The same, told by the part that holds it at a key or a number."""
        return Refused(self.fault, (step, *self.at), self.given, self.beyond)

    def __str__(self) -> str:
        where = place(self.at)
        joint = "" if not where else " " if self.fault.startswith(("is ", "has ", "holds ")) else ": "
        said = f"{where}{joint}{self.fault.rstrip('.')}"
        return f"{said if len(said) <= LONGEST_SENTENCE else said[:LONGEST_SENTENCE] + '…'}."


def refusing(check: Callable[..., Found], *given: Any) -> Found:
    """What a check makes of what it is given; its fault as one that can be told with its place. Raises Refused."""
    try:
        return check(*given)
    except Refused:
        raise
    except ValueError as why:
        raise Refused(str(why)) from None


def first_fault(why: ValueError) -> str:
    """What is wrong, in words without a stop at the end, whoever refused it."""
    return str(why).rstrip(".") if isinstance(why, Refused) else str(why)


def place(at: Place) -> str:
    """Where in the file: axes[0].train[1].teeth."""
    return "".join(f"[{step}]" if isinstance(step, int) else f".{step}" for step in at).removeprefix(".")
