"""Where a number stands in a reading, as text: `spacing`, `measured[2]`, `up[1][3]`."""

from __future__ import annotations

import re

PLACE = re.compile(r"^(?P<name>[a-z_]+)(?P<at>(?:\[\d+\])*)$")


def place_of(place: str) -> tuple[str, tuple[int, ...]]:
    """The name of the column and the indices in it, none for what is given once. Raises ValueError."""
    found = PLACE.match(place)
    if found is None:
        raise ValueError(f"{place!r} is no place in a reading; allowed is the like of up[2][3]")
    return found["name"], tuple(int(one) for one in re.findall(r"\d+", found["at"]))
