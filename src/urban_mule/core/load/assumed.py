"""What was assumed because nobody has said it, and the unfavourable end of what is usual for it."""

from __future__ import annotations

import dataclasses
import re
from collections.abc import Mapping
from typing import Any

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.verdict import listed_names
from urban_mule.core.sheet.wording import size
from urban_mule.core.train.known import USUAL_SPREAD
from urban_mule.core.train.link import Efficient, Link
from urban_mule.core.train.links import Screw

LINK = re.compile(r"train\[(\d+)\]\.(efficiency|clearance|end_support)")
WEAKER = {"fixed-fixed": "fixed-supported", "fixed-supported": "supported-supported"}  # how a screw's ends may be held instead
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
    assumed: tuple[str, ...], friction_counted_on: str, train: tuple[Link, ...] = (),
    friction_at_worst: Mapping[str, Any] | None = None,
) -> AtWorst | None:
    """What assumed: friction, and links by their place, would be at worst; None where nothing is assumed."""
    changes: dict[str, Any] = {}
    words: list[str] = []
    links = list(train)
    for found in filter(None, map(LINK.fullmatch, assumed)):
        place = int(found[1])
        link = links[place] if place < len(links) else None
        if isinstance(link, Efficient) and found[2] == "efficiency" and (link.efficiency < 1 or link.usual_efficiencies):
            links[place] = dataclasses.replace(link, efficiency=_least_efficiency(link))
            words.append(efficiency_said(link))
        elif isinstance(link, Screw) and found[2] == "end_support":
            if link.end_support not in WEAKER:
                continue
            links[place] = dataclasses.replace(link, end_support=WEAKER[link.end_support])
            words.append(support_said(link))
        elif link is not None and link.usual_clearance is not None and found[2] == "clearance":
            links[place] = dataclasses.replace(link, clearance=link.usual_clearance)  # type: ignore[call-arg]
            words.append(f"a {link.kind} without play")
        else:
            continue
        changes["train"] = tuple(links)
    if FRICTION in assumed:
        words.append(friction_counted_on)
        changes |= friction_at_worst or {}
    return AtWorst(changes, listed_names(words)) if changes else None


def _least_efficiency(link: Efficient) -> Reals:
    """The unfavourable end of an efficiency: of a usual one as far as such go, else the worst that is usual."""
    if link.efficiency < 1:
        return link.efficiency * (1 - USUAL_SPREAD * (1 - link.efficiency))
    return min(one.value for one in link.usual_efficiencies)


def efficiency_said(link: Efficient) -> str:
    """What is counted on for a link whose efficiency nobody has said."""
    return f"the {link.kind}'s efficiency of {size(100 * link.efficiency)} %"


def support_said(link: Screw) -> str:
    return f"the ends of the screw {link.end_support}"
