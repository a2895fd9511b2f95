"""What the doubt of the inputs does to a quantity: the spread over many builds, and which input moves it most.

Every build goes through the same sheet at once; nothing is linearised (JCGM 101). Each input is drawn as it is unsure: normally in
its own variable; inputs that were learnt together are drawn together, all others by themselves.
"""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Mapping, Sequence
from typing import Any, Protocol

import numpy as np

from urban_mule.core.sheet.given import LARGEST, Given, givens
from urban_mule.core.sheet.progress import Cancelled, Progress
from urban_mule.core.sheet.quantity import NotKnown, Unknown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import PLACE, Solution

BUILDS = 10_000
PART = 1000  # builds solved at once: with a hundred pieces of a cycle they stay within the processor's cache
SEED = 20  # of the builds, so that the same inputs give the same picture
COVERS, SHOWS = 2.0, 1e-3  # standard uncertainties to either side; share of the quantity that a swing has to move to be named
WORST_PLAUSIBLE = 0.005  # quantile: one build in two hundred is worse


@record(frozen=True, eq=False, repr=False)
class Spread:
    """A quantity over many builds: its values sorted, the value as entered, and what each unsure input does alone."""

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


class Varying(Protocol):
    """An input that is not sure: its label and value in SI, and what it is so many standard uncertainties away."""

    @property
    def label(self) -> str: ...

    @property
    def value(self) -> float: ...

    def at(self, away: Any) -> Any: ...


@record(frozen=True, eq=False, repr=False)
class Swing:
    """What one input does alone: the quantity where the input lies two standard uncertainties below and above its value; and what
    it is good for, twice its standard uncertainty as a share of its value.
    """

    name: str
    sure_to: float
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
    solution: Solution, name: str, inputs: Sequence[Varying], builds: int = BUILDS, seed: int = SEED,
    progress: Progress = lambda _done, _total: True, correlation: np.ndarray | None = None,
) -> Spread:
    """The spread of a quantity when these inputs vary as they are unsure.

    name: a scalar quantity; correlation: of the inputs, where some were learnt together. Raises NotKnown while the quantity has no
    value or no input is unsure, Cancelled when `progress` says so.
    """
    nominal = float(solution[name])
    if not inputs:
        raise NotKnown("no input is unsure: type 5.6 ± 0.3 or 5.6 ± 5 % into a field")
    random = np.random.default_rng(seed)
    away = random.standard_normal((len(inputs), builds))
    if correlation is not None:
        spans, ways = np.linalg.eigh(correlation)
        away = ways * np.sqrt(np.maximum(spans, 0.0)) @ away
    draws = {one.label: _within(solution, one, drawn) for one, drawn in zip(inputs, away, strict=True)}
    parts = []
    for first in range(0, builds, PART):
        if not progress(first, builds):
            raise Cancelled
        part = {label: draw[first:first + PART] for label, draw in draws.items()}
        parts.append(np.broadcast_to(_solved(solution, name, part), min(PART, builds - first)))
    return Spread(np.sort(np.concatenate(parts)), nominal, _swings(solution, name, inputs))


def _within(solution: Solution, one: Varying, away: np.ndarray) -> np.ndarray:
    """An input so many standard uncertainties away, inside what is allowed."""
    return within(given_at(solution, one.label)[0], np.asarray(one.at(away), dtype=float))


def _solved(solution: Solution, name: str, values: Mapping[str, Any]) -> np.ndarray:
    found = with_values(solution, values).find(name)
    if isinstance(found, Unknown):
        raise NotKnown(found.reason)
    return np.asarray(np.nan_to_num(np.asarray(found, dtype=float), nan=0.0))


def _swings(solution: Solution, name: str, inputs: Sequence[Varying]) -> tuple[Swing, ...]:
    """Each input two standard uncertainties to either side, the others as entered: all of them solved at once."""
    count = len(inputs)
    values, sides = {}, {}
    for row, one in enumerate(inputs):
        column = np.full(2 * count, one.value)
        column[2 * row: 2 * row + 2] = sides[one.label] = _within(solution, one, np.array([-COVERS, COVERS]))
        values[one.label] = column
    ends = np.broadcast_to(_solved(solution, name, values), 2 * count).reshape(count, 2)
    half = {one.label: float(np.ptp(np.append(sides[one.label], one.value))) / 2 for one in inputs}
    swings = [Swing(one.label, half[one.label] / abs(one.value) if one.value else math.inf, float(low), float(high))
              for one, (low, high) in zip(inputs, ends, strict=True)]
    return tuple(sorted((one for one in swings if one.width > SHOWS * abs(float(solution[name]))), key=lambda one: -one.width))
