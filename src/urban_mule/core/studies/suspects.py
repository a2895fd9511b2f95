"""What a contradiction may come from: each input alone, and each mistake that is known, by what it costs to believe it."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from typing import Any

import numpy as np

from urban_mule.core.sheet.record import record
from urban_mule.core.studies.learning import Learning
from urban_mule.core.studies.tolerance import given_at
from urban_mule.core.train.known import Otherwise

FARTHEST, POINTS, CLOSER = 10.0, 81, 3  # standard uncertainties to either side that an input is tried at, at how many places, and
# how often again about the best
MISTAKE = 6.0  # what it costs to believe in a mistake, as the square of a departure: one in twenty
NAMED, EXPLAINS = 3, 1.0  # causes at most; what one must take away of the squares that stay with nothing wrong


@record(frozen=True, eq=False, repr=False)
class Suspect:
    """A given and what it would have to be; what that costs, as a sum of squares; otherwise: of a mistake, what it is.

    computed: what every pair would then be, in the order of what is compared. alone: what each is unsure by then.
    """

    label: str
    value: Any
    cost: float
    computed: np.ndarray
    alone: np.ndarray
    otherwise: Otherwise | None = None


def suspects_of(learning: Learning) -> tuple[Suspect, ...]:
    """What a contradiction costs to believe by the doubts as they are stated, the cheapest first, three at most.

    None without a contradiction. Where nothing is bent, every input that reaches a pair costs the same by this: what it takes away
    from the doubt it adds as its own. `causes_of` tells them apart.
    """
    if not learning.contradictions:
        return ()
    every = [*_inputs(learning, as_stated), *_mistakes(learning)]
    return tuple(sorted(every, key=lambda one: one.cost)[:NAMED])


def causes_of(learning: Learning) -> tuple[Suspect, ...]:
    """What a contradiction likeliest comes from: one thing that is grossly wrong, an input as well as a known mistake.

    The cheapest first, each given once, three at most; none without a contradiction.
    """
    if not learning.contradictions:
        return ()
    found: dict[str, Suspect] = {}
    for one in sorted([*_inputs(learning, or_wrong), *_mistakes(learning)], key=lambda one: one.cost):
        found.setdefault(one.label, one)
    every = tuple(found.values())
    nothing = _with_nothing_wrong(learning)
    return tuple(one for one in every if one.cost < nothing - EXPLAINS)[:NAMED] or every[:1]


def as_stated(away: np.ndarray) -> np.ndarray:
    """What it costs that an input lies so many standard uncertainties away."""
    return np.asarray(away**2)


def or_wrong(away: np.ndarray) -> np.ndarray:
    """The same where it may also be a mistake, whose size hardly matters."""
    return np.asarray(np.minimum(away**2, MISTAKE + 2 * np.log1p(np.abs(away))))


def _with_nothing_wrong(learning: Learning) -> float:
    """The squares that stay with everything as it is entered."""
    moved, slopes = learning.moved, learning.jacobian
    alone = np.einsum("ij,jk,ik->i", slopes, moved.prior, slopes) + moved.left_out()
    return float(np.sum(_part(learning, moved.computed()[None]) ** 2 / alone))


def _part(learning: Learning, computed: np.ndarray) -> np.ndarray:
    """How far every pair is off, builds × pairs; nothing for what has no part in it."""
    off = learning.moved.seen() - computed
    for place, one in enumerate(learning.compared):
        if one.judgement == "unassigned":
            off[:, place] = 0.0
        elif one.pair.from_below:
            off[:, place] = np.maximum(off[:, place], 0.0)
    return np.asarray(off)


def _inputs(learning: Learning, costs: Callable[[np.ndarray], np.ndarray]) -> Iterator[Suspect]:
    moved, slopes = learning.moved, learning.jacobian
    for place, one in enumerate(moved.inputs):
        if not np.any(slopes[:, place]):
            continue
        others = np.delete(slopes, place, axis=1)
        prior = np.delete(np.delete(moved.prior, place, axis=0), place, axis=1)
        alone = np.einsum("ij,jk,ik->i", others, prior, others) + moved.left_out()
        low, high = -FARTHEST, FARTHEST
        for _ in range(CLOSER):
            tried = np.linspace(low, high, POINTS)
            away = np.clip(tried, moved.low[place], moved.high[place])
            computed = moved.over({one.label: np.asarray(one.at(away), dtype=float)}, POINTS)
            cost = np.sum(_part(learning, computed) ** 2 / alone, axis=1) + costs(away)
            cost = np.where(np.isfinite(cost), cost, math.inf)
            best, step = int(np.argmin(cost)), tried[1] - tried[0]
            low, high = tried[best] - step, tried[best] + step
        yield Suspect(one.label, float(one.at(away[best])), float(cost[best]), computed[best], np.sqrt(alone))


def _mistakes(learning: Learning) -> Iterator[Suspect]:
    moved, slopes = learning.moved, learning.jacobian
    alone = np.einsum("ij,jk,ik->i", slopes, moved.prior, slopes) + moved.left_out()
    scales = np.array([one.pair.name == "scale" for one in learning.compared])
    for label, of, one in every_mistake(learning):
        changes = {f"{of}{key}": value for key, value in one.changes.items()}
        computed = moved.over(changes, 1) if changes else moved.at(np.zeros((1, len(moved.inputs))))
        computed = np.where(scales, one.scale * computed, computed)
        cost = float(np.sum(_part(learning, computed) ** 2 / alone)) + MISTAKE
        if math.isfinite(cost):
            yield Suspect(label, one.really, cost, computed[0], np.sqrt(alone), one)


def every_mistake(learning: Learning) -> Iterator[tuple[str, str, Otherwise]]:
    """Every mistake that is known of an axis: the label of what it is of, what stands before the labels that it changes, and it."""
    solution = learning.moved.solution
    for place, link in enumerate(solution.get("train") or ()):
        for one in link.otherwise():
            yield f"train[{place}].{one.of}", f"train[{place}].", one
    for name in ("microsteps_otherwise", "sense_resistor_otherwise", "wiring_otherwise"):
        for one in solution.get(name) or ():
            yield one.of, "", one


def told_apart_by(learning: Learning, suspect: Suspect, others: tuple[Suspect, ...]) -> str:
    """The kind of reading that tells a suspect from the others best: where what they predict lies farthest apart, by how well such
    a reading is taken; where it is the only one, from all being as it is entered. A mistake is told by the reading that shows it,
    where no other does clearly. Nothing where none does.
    """
    best, apart = "", 1.0
    for place, one in enumerate(learning.compared):
        sure = math.hypot(one.pair.gauge, one.pair.model) * abs(one.computed)
        if one.pair.minutes and sure:
            rest = [other.computed[place] for other in others] or [one.computed]
            far = min(abs(suspect.computed[place] - other) for other in rest) / sure
            best, apart = (one.pair.readings[0], far) if far > apart else (best, apart)
    if suspect.otherwise is not None and (not best or best in ("travel", "lengths")):
        return suspect.otherwise.reading
    return best


def was(learning: Learning, label: str) -> Any:
    """What is entered of a given."""
    return given_at(learning.moved.solution, label)[1]
