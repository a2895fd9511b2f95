"""Where the readings of an axis point: to which parts of the train, the likeliest first."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TypeVar

from urban_mule.core.sheet.solution import PLACE, Solution
from urban_mule.store.learning import Teaching

T = TypeVar("T")
MOVED = 1.0  # standard uncertainties by which an input moved that points to its part
OF_KEYS = {"friction_force": ("guide", "carriage"), "friction_torque": ("guide", "carriage"),
           "friction_coefficient": ("guide", "carriage"), "holding_torque": ("motor",), "current_peak": ("motor",),
           "rotor_inertia": ("motor",), "sense_resistance": ("motor",), "wiring": ("motor",)}


def places_of(label: str, solution: Solution) -> tuple[str, ...]:
    """The places on the train that an input is of; none for what is of no part."""
    found = PLACE.match(label)
    if found is None or found["list"] != "train":
        return OF_KEYS.get(label, ())
    return (solution["train"][int(found["place"])].kind,)


def pointed_at(teaching: Teaching | None, solution: Solution) -> dict[str, str]:
    """The places that readings point to, the likeliest first, with the label of what they point by."""
    found: dict[str, str] = {}
    if teaching is None:
        return found
    moved = sorted(((abs(one.learned_value - one.value) / one.uncertainty, one.label) for one in teaching.learning.learned),
                   reverse=True)
    for label in (*(one.label for one in teaching.suspects), *(label for far, label in moved if far > MOVED)):
        for place in places_of(label, solution):
            found.setdefault(place, label)
    return found


def likeliest_first(rows: Sequence[T], place: Callable[[T], str], pointed: dict[str, str]) -> list[T]:
    """Rows by where readings point, else in the order in which they are."""
    order = {one: n for n, one in enumerate(pointed)}
    return sorted(rows, key=lambda row: order.get(place(row), len(order)))


def why(place: str, pointed: dict[str, str], solution: Solution) -> str:
    """That readings point to a place, and by what; nothing where they do not."""
    return f"The readings point here ({solution.label(pointed[place])}). " if place in pointed else ""
