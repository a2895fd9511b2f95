"""What was assumed because nobody has said it, and the unfavourable end of what is usual for it."""

from __future__ import annotations

import dataclasses
import re
from collections.abc import Mapping
from typing import Any

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.units import LINEAR_UNITS
from urban_mule.core.sheet.verdict import listed_names
from urban_mule.core.train.known import GUIDES
from urban_mule.core.train.links import Efficient, Link

LINK = re.compile(r"train\[(\d+)\]\.(efficiency|clearance)")
BEARINGS = 0.2  # of the torque that accelerates the load: preloaded bearings with their seals, this house's estimate
FRICTION = "friction"


@record(frozen=True, eq=False, repr=False)
class AtWorst:
    """Givens at the unfavourable end of what is usual, in words what is counted on instead, and what to do about it."""

    changes: Mapping[str, Any]
    words: str
    next: str = "Give it (0 too, if it is so), or take usual values on Load."


@quantity("", symbol="", source="usual values of losses, the unfavourable end of each", structure=True,
          formula="usual efficiency and friction where none is given")
def assumed_at_worst(
    assumed: tuple[str, ...], train: tuple[Link, ...] = (), unit: str = "mm", moved_inertia: Reals = None,
    top_acceleration: Reals = None,
) -> AtWorst | None:
    """What assumed: friction, and links by their place, would be at worst; None where nothing is assumed."""
    changes: dict[str, Any] = {}
    words: list[str] = []
    links = list(train)
    for found in filter(None, map(LINK.fullmatch, assumed)):
        place = int(found[1])
        link = links[place] if place < len(links) else None
        usual = () if link is None else link.usual_efficiencies
        if isinstance(link, Efficient) and found[2] == "efficiency" and usual:
            links[place] = dataclasses.replace(link, efficiency=min(one.value for one in usual))
            words.append(f"the {link.kind}'s efficiency of 100 %")
        elif link is not None and link.usual_clearance is not None and found[2] == "clearance":
            links[place] = dataclasses.replace(link, clearance=link.usual_clearance)  # type: ignore[call-arg]
            words.append(f"a {link.kind} without play")
        else:
            continue
        changes["train"] = tuple(links)
    if FRICTION in assumed:
        words.append("guides without friction" if unit in LINEAR_UNITS else "bearings without friction")
        if unit in LINEAR_UNITS:
            changes["friction_coefficient"] = max(one.value for one in GUIDES)
        elif moved_inertia is not None and top_acceleration is not None:
            changes["friction_torque"] = BEARINGS * moved_inertia * top_acceleration
    return AtWorst(changes, listed_names(words)) if changes else None
