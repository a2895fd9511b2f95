"""The best train: leads, teeth and ratios tried in place of those there are, each with the best settings that it allows."""

from __future__ import annotations

import dataclasses
import itertools
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

import numpy as np

from urban_mule.core.load.cycle import capped
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.progress import Cancelled, Progress
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.doubts import odds_over
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import LINKS

MOST = 600  # trains that are tried at once: more is no choice any more
VARIED: dict[str, str] = {"screw": "lead", "belt": "teeth", "rack": "teeth", "feed roller": "diameter", "reduction": "ratio",
                          "worm": "ratio"}  # what is tried of a link, by its kind
GROWS = {"belt": ("inertia", 4), "rack": ("inertia", 4)}  # what of a round part goes with which power of its size
IN_FRONT = -1  # the place of a reduction that the train has not yet


@record(frozen=True, eq=False, repr=False)
class Choice:
    """One thing to try of a link: its fields, what it is called, and what it costs; None where nobody said."""

    fields: Mapping[str, Any]
    words: str
    price: float | None = None


@record(frozen=True, eq=False, repr=False)
class TriedTrain:
    """A train with what it comes to: place and fields of each link that is another one, what it is called, its price; the time of
    the cycle until it stands still [s], the odds that no step is lost, the accuracy to expect [travel], the torque margin, and what
    binds. why: what is missing where it can do nothing. there: whether it is the train as it is.
    """

    changes: tuple[tuple[int, Mapping[str, Any]], ...]
    words: str
    price: float
    settled_cycle_time: float = np.nan
    odds: float = np.nan
    expected_accuracy: float = np.nan
    working_margin: float = np.nan
    binds: str = ""
    why: str = ""
    there: bool = False

    @property
    def costs(self) -> tuple[float, ...]:
        """What is better the less there is of it: time, odds turned round, price, accuracy; nan where it is not known."""
        return self.settled_cycle_time, 1 - self.odds, self.price, self.expected_accuracy


def all_fields(link: Link, fields: Mapping[str, Any]) -> dict[str, Any]:
    """All that changes with these fields of a link: a round part of another size has another inertia, with its fourth power."""
    more, sized = dict(fields), VARIED.get(link.kind, "")
    name, power = GROWS.get(link.kind, ("", 0))
    was = getattr(link, sized, None)
    if name and name not in more and was and sized in more and getattr(link, name) is not None:
        more[name] = float(getattr(link, name)) * (float(more[sized]) / float(was)) ** power
    return more


def train_with(train: tuple[Link, ...], changes: Sequence[tuple[int, Mapping[str, Any]]]) -> tuple[Link, ...]:
    """The train with these links changed; one in front is a reduction that it had not."""
    made = list(train)
    for place, fields in changes:
        if place != IN_FRONT:
            made[place] = dataclasses.replace(made[place], **all_fields(made[place], fields))
    front = [LINKS["reduction"](**fields) for place, fields in changes if place == IN_FRONT]
    return (*front, *made)


def all_changes(choices: Mapping[int, Sequence[Choice]]) -> Iterator[tuple[tuple[int, Choice], ...]]:
    """Every way to choose one thing of each link. Raises BadValue for more than can be tried."""
    count = int(np.prod([max(len(of), 1) for of in choices.values()]))
    if count > MOST:
        raise BadValue(f"these are {count} trains; at most {MOST} are tried at once")
    lists = [[(place, one) for one in of] for place, of in choices.items() if of]
    return itertools.product(*lists)


def as_computed(solution: Solution) -> Solution:
    """The axis without what was measured on the train that it has now."""
    taken = [name for name in solution.sheet.inputs if name.endswith(("_reading", "_readings", "_history"))
             and not name.startswith(("ladder", "warming", "effort"))]
    taken += [name for name in ("measured_stiffness", "other_modes") if name in solution.sheet.inputs]
    return solution.changed(**dict.fromkeys(taken))


def tried(solution: Solution, changes: tuple[tuple[int, Choice], ...]) -> TriedTrain:
    """What one train comes to with the best settings it allows. solution: of the axis as computed."""
    train = solution["train"]
    real = [(place, one) for place, one in changes if one.fields and (
        place == IN_FRONT or any(getattr(train[place], name) != value for name, value in one.fields.items()))]
    fields = tuple((place, one.fields) for place, one in real)
    price = float(sum(np.nan if one.price is None else one.price for _, one in real))  # what is there already costs nothing
    words = ", ".join(one.words for _, one in real)
    made = TriedTrain(fields, words, price, there=not fields)
    after = solution.changed(train=train_with(train, fields)) if fields else solution
    best = after.find("settings_best")
    if isinstance(best, Unknown):
        return dataclasses.replace(made, why=best.reason)
    at_best = after.changed(cycle=capped(after["cycle"], best["speed"], best["acceleration"]))
    margin, ratio = at_best.get("working_margin"), at_best.get("inertia_ratio")
    odds = np.nan if margin is None or ratio is None else float(odds_over(at_best, margin, ratio))
    return dataclasses.replace(
        made, settled_cycle_time=float(best["settled_cycle_time"]), odds=odds, binds=str(best["limit"]),
        expected_accuracy=float(at_best.get("expected_accuracy", np.nan)), working_margin=float(margin or np.nan))


def search_trains(
    solution: Solution, choices: Mapping[int, Sequence[Choice]], progress: Progress
) -> tuple[TriedTrain, ...]:
    """Every train of these choices, and the one there is. choices: by the place of a link, IN_FRONT for one it has not.

    Raises BadValue for too many, Cancelled when `progress` says so.
    """
    computed, every = as_computed(solution), list(all_changes(choices))
    found = [tried(computed, ())]
    for done, changes in enumerate(every):
        if not progress(done, len(every)):
            raise Cancelled
        one = tried(computed, changes)
        if not one.there:
            found.append(one)
    progress(len(every), len(every))
    return tuple(found)


def beaten(trains: Sequence[TriedTrain]) -> np.ndarray:
    """Which of these trains another one beats: no worse in time, odds, price and accuracy, and better in one. What is not known of
    either is not compared; one that can do nothing is beaten.
    """
    costs = np.array([one.costs for one in trains], dtype=float).reshape(len(trains), 4)
    able = ~np.isnan(costs[:, 0])
    one, other = costs[:, None, :], costs[None, :, :]
    known = ~(np.isnan(one) | np.isnan(other))
    no_worse = np.where(known, other <= one, True).all(axis=-1)
    better = np.where(known, other < one, False).any(axis=-1)
    return np.asarray(~able | (no_worse & better & able[None, :]).any(axis=1))
