"""What tolerances of the inputs do to a quantity: the spread over many builds, and which input moves it most.

Every build goes through the same sheet at once; nothing is linearised. A stated ± is taken as evenly likely within it
(JCGM 100, 4.3.7: nothing more is known), the inputs as independent.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping
from typing import Any

import numpy as np

from urban_mule.core.sheet.given import LARGEST, Given, givens
from urban_mule.core.sheet.progress import Cancelled, Progress
from urban_mule.core.sheet.quantity import NotKnown, Unknown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import PLACE, Solution

BUILDS = 10_000
PART = 1000  # builds solved at once: with a hundred pieces of a cycle they stay within the processor's cache
SEED = 20  # of the builds, so that the same inputs give the same picture
WORST_PLAUSIBLE = 0.005  # quantile: one build in two hundred is worse


@record(frozen=True, eq=False, repr=False)
class Spread:
    """A quantity over many builds: its values sorted, the value as entered, and what each toleranced input does alone."""

    values: np.ndarray
    nominal: float
    swings: tuple[Swing, ...]

    @property
    def worst_plausible(self) -> float:
        """What all but one build in two hundred exceed."""
        return float(np.quantile(self.values, WORST_PLAUSIBLE))

    def share_above(self, limit: float) -> float:
        """Share of the builds whose value is at least this limit. limit: in the unit of the quantity."""
        return float(1 - np.searchsorted(self.values, limit) / self.values.size)


@record(frozen=True, eq=False, repr=False)
class Swing:
    """What one input does alone: the quantity at the low and the high end of its tolerance (a share of its value)."""

    name: str
    tolerance: float
    low: float
    high: float

    @property
    def width(self) -> float:
        return abs(self.high - self.low)


def given_at(solution: Solution, label: str) -> tuple[Given, Any]:
    """What the core says of an input and its value; label: `moving_mass` or `train[1].efficiency`. Raises KeyError."""
    found = PLACE.match(label)
    if found is None:
        return solution.sheet.inputs[label], solution.inputs[label]
    records = solution.inputs[found["list"]] or ()
    place = int(found["place"])
    if place >= len(records):
        raise KeyError(label)
    record = records[place]
    one = next((one for one in givens(type(record)) if one.name == found["field"]), None)
    if one is None:
        raise KeyError(label)
    return one, getattr(record, one.name)


def with_values(solution: Solution, values: Mapping[str, Any]) -> Solution:
    """The solution with other values at these labels, flat givens or fields of links and moves; arrays are builds."""
    changed: dict[str, Any] = {}
    for label, value in values.items():
        found = PLACE.match(label)
        if found is None:
            changed[label] = value
            continue
        name, place = found["list"], int(found["place"])
        records = changed.get(name, solution.inputs[name])
        record = dataclasses.replace(records[place], **{found["field"]: value})
        changed[name] = (*records[:place], record, *records[place + 1:])
    return solution.changed(**changed)


def within(one: Given, values: np.ndarray) -> np.ndarray:
    """Values kept inside what is allowed: an efficiency of 0.98 ± 5 % does not exceed 1."""
    low = -LARGEST if one.least is None else one.least
    if one.above is not None:
        low = np.nextafter(one.above, np.inf)
    return np.asarray(np.clip(values, low, LARGEST if one.most is None else one.most))


def spread(
    solution: Solution, name: str, tolerances: Mapping[str, float], builds: int = BUILDS, seed: int = SEED,
    progress: Progress = lambda _done, _total: True,
) -> Spread:
    """The spread of a quantity when these inputs vary within ± their tolerance, a share of their value.

    name: a scalar quantity. tolerances: by label, as `given_at` takes them; those of inputs without a value are left out.
    Raises NotKnown while the quantity has no value or no tolerance is given, Cancelled when `progress` says so. tolerances: [1].
    """
    nominal = float(solution[name])
    used = _used(solution, tolerances)
    if not used:
        raise NotKnown("no input carries a tolerance yet: type 5.6 ± 0.3 or 5.6 ± 5 % into a field")
    random = np.random.default_rng(seed)
    draws = {
        label: within(one, value * (1 + tolerance * random.uniform(-1, 1, builds)))
        for label, (one, value, tolerance) in used.items()
    }
    parts = []
    for first in range(0, builds, PART):
        if not progress(first, builds):
            raise Cancelled
        part = {label: draw[first:first + PART] for label, draw in draws.items()}
        parts.append(np.broadcast_to(_solved(solution, name, part), min(PART, builds - first)))
    values = np.sort(np.concatenate(parts))
    return Spread(values, nominal, _swings(solution, name, used))


def _solved(solution: Solution, name: str, values: Mapping[str, Any]) -> np.ndarray:
    found = with_values(solution, values).find(name)
    if isinstance(found, Unknown):
        raise NotKnown(found.reason)
    return np.asarray(np.nan_to_num(np.asarray(found, dtype=float), nan=0.0))


def _used(solution: Solution, tolerances: Mapping[str, float]) -> dict[str, tuple[Given, float, float]]:
    """What can vary of these inputs: those with a value that is a number of its own; its given, value and tolerance."""
    found: dict[str, tuple[Given, float, float]] = {}
    for label, tolerance in tolerances.items():
        one, value = given_at(solution, label)
        if value is not None and value != 0 and not one.whole and not one.choices:
            found[label] = (one, float(value), tolerance)
    return found


def swings_of(solution: Solution, name: str, tolerances: Mapping[str, float]) -> tuple[Swing, ...]:
    """What each input does alone to a quantity, the widest first. Raises NotKnown while the quantity has no value.

    tolerances: [1].
    """
    used = _used(solution, tolerances)
    return _swings(solution, name, used) if used else ()


def _swings(solution: Solution, name: str, used: Mapping[str, tuple[Given, float, float]]) -> tuple[Swing, ...]:
    """Each input at both ends of its tolerance, the others as entered: all of them solved at once."""
    count = len(used)
    values = {}
    for row, (label, (one, value, tolerance)) in enumerate(used.items()):
        column = np.full(2 * count, value)
        column[2 * row: 2 * row + 2] = within(one, value * np.array([1 - tolerance, 1 + tolerance]))
        values[label] = column
    ends = np.broadcast_to(_solved(solution, name, values), 2 * count).reshape(count, 2)
    swings = [Swing(label, used[label][2], float(low), float(high)) for label, (low, high) in zip(used, ends, strict=True)]
    return tuple(sorted(swings, key=lambda swing: -swing.width))
