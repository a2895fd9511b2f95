"""Beginning an axis: what kinds of it there are, which few numbers make its train whole, what is usual for the rest."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from urban_mule.core.sheet.given import Given, givens
from urban_mule.core.sheet.record import record
from urban_mule.core.train.known import GUIDES, Usual
from urban_mule.core.train.links import LINKS
from urban_mule.store.document.edit import edited
from urban_mule.store.document.plain import plain
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.experience import FRICTION, GUIDE, offered

STROKE, REST = 0.6, 0.5  # of the travel, there and back; s between: the first cycle, until somebody says better
UPRIGHT = math.pi / 2


@record(frozen=True)
class AxisKind:
    """A kind of axis as one begins it: what it is called, how it moves, its links from motor to load."""

    words: str
    motion: str
    links: tuple[str, ...]

    @property
    def link(self) -> type[Any]:
        """The link that names it."""
        return LINKS[self.links[0]]

    @property
    def sizes(self) -> tuple[Given, ...]:
        """The numbers that make its train whole, in the order in which one looks them up."""
        known = {one.name: one for one in givens(self.link)}
        return tuple(known[name] for name in self.link.whole)


KINDS_OF_AXIS = (
    AxisKind("screw", "linear", ("screw",)), AxisKind("toothed belt", "linear", ("belt",)),
    AxisKind("rack and pinion", "linear", ("rack",)), AxisKind("feed roller", "linear", ("feed roller",)),
    AxisKind("table, geared", "rotary", ("reduction", "direct")),
    AxisKind("table, worm", "rotary", ("worm", "direct")),
    AxisKind("table, direct", "rotary", ("direct",)))


@record(frozen=True, eq=False, repr=False)
class UsualFor:
    """What is usual for a given of the axis (part: nothing) or of its first link (part: train), the likeliest first."""

    part: str
    given: Given
    values: tuple[Usual, ...]


def usual_for(kind: AxisKind, sizes: Mapping[str, float]) -> tuple[UsualFor, ...]:
    """What is usual for a kind of axis; sizes: those of its link that are known already, in SI."""
    known = {one.name: one for one in givens(kind.link)}
    link = kind.link(**sizes)
    shares = (*offered(link.kind, "efficiency"), *link.usual_efficiencies)
    found = [UsualFor("train", known["efficiency"], shares)] if shares else []
    found += [UsualFor("train", known["end_support"], link.usual_supports)] if "end_support" in known else []
    if kind.motion == "linear":
        from urban_mule.core.load.linear import LinearLoad

        friction = next(one for one in givens(LinearLoad) if one.name == "friction_coefficient")
        found.append(UsualFor("", friction, (*offered(GUIDE, FRICTION), *GUIDES)))
    return tuple(found)


def begun_axis(
    kind: AxisKind, upright: bool, said: Mapping[str, Any], sizes: Mapping[str, Any], usual: Mapping[tuple[str, str], Any]
) -> dict[str, Any]:
    """An axis as the document takes it: what was said of it, its train, the usual values marked as such, and a first cycle.

    said: name, moving_mass or load_inertia, travel, speed_wanted, acceleration_wanted; usual: by part and given. All in SI, None
    for what is not known.
    """
    made: dict[str, Any] = {**said, "motion": kind.motion, "train": [{"kind": link} for link in kind.links],
                            "motor": {"kind": "stepper"}}
    made["train"][0] |= sizes
    for (part, name), value in usual.items():
        holder = made["train"][0] if part == "train" else made
        holder[name] = value
        holder["usual"] = [*holder.get("usual", ()), name]
    if upright and kind.motion == "linear":
        made["incline"] = UPRIGHT
    travel, speed, acceleration = (said.get(name) for name in ("travel", "speed_wanted", "acceleration_wanted"))
    if travel and speed and acceleration:
        made["cycle"] = [{"distance": sign * STROKE * travel, "speed": speed, "acceleration": acceleration, "dwell": REST}
                         for sign in (1, -1)]
    return made


def is_blank(axis: Axis) -> bool:
    """Whether nothing has been decided of an axis yet: no train, no cycle, no motor, no driver, nothing measured."""
    motor = {} if axis.motor is None else plain(axis.motor)
    return not (axis.train or axis.cycle or axis.driver or axis.controller or axis.readings) and motor.keys() <= {"kind"}


def with_axis(project: Project, made: Mapping[str, Any], index: int | None = None) -> Project:
    """The project with an axis that was begun, in place of a blank one or behind the others. Raises BadValue.

    What the blank one says already, and nobody answered now, stays.
    """
    if index is None:
        return edited(project, ("axes",), (*project.axes, dict(made)))
    for key, value in made.items():
        if value is not None:
            project = edited(project, ("axes", index, key), value)
    return project
