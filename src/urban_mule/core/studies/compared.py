"""What is computed beside what is measured: each pair of an axis with its doubts, at the inputs as they are and moved about."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any, Literal

import numpy as np

from urban_mule.core.sheet.once import once
from urban_mule.core.sheet.pair import Measured, Pair
from urban_mule.core.sheet.quantity import NotKnown, Unknown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.doubts import UncertainInput
from urban_mule.core.studies.tolerance import given_at, with_values, within

AGREES, CONTRADICTS = 2.0, 3.0  # departures in standard uncertainties
FIRST_MODE = "first_mode"
Judgement = Literal["agrees", "strained", "contradicts", "unassigned"]
NOT_KNOWN = (TypeError, ValueError, IndexError)  # what a formula raises that looks at one build at a time


@record(frozen=True, eq=False, repr=False)
class Compared:
    """A pair: what is computed and what measured, each with its standard uncertainty, in SI; how far apart in both together.

    computed_uncertainty: what the inputs make of it, with what the formula leaves out. teaches: whether learning uses it; taught:
    whether it is learnt from already.
    """

    pair: Pair
    computed: float
    computed_uncertainty: float
    measured: float
    uncertainty: float
    departure: float
    judgement: Judgement
    teaches: bool
    taught: bool
    of: Measured


class Moved:
    """The pairs of an axis as functions of its unsure inputs, each in units of its standard uncertainty."""

    def __init__(
        self, solution: Solution, inputs: tuple[UncertainInput, ...], said: frozenset[str], correlation: np.ndarray | None = None
    ) -> None:
        self.solution, self.inputs, self.said = solution, inputs, said
        self.prior = np.eye(len(inputs)) if correlation is None else correlation
        self.low, self.high = np.array([_reach(solution, one) for one in inputs]).reshape(-1, 2).T
        self.pairs: list[tuple[Pair, Measured, float]] = []
        self._plain: dict[tuple[str, ...], Solution] = {(): solution}
        for one in solution.sheet.pairs:
            self._begin(one)

    def _begin(self, one: Pair) -> None:
        computed = math.nan
        if one.computes:
            found = self._without(one).find(one.computes)
            computed = math.nan if isinstance(found, Unknown) else float(found)
            if not math.isfinite(computed):
                return
        measured = one.measured(self.solution, computed, self.said)
        if measured is None or not (math.isfinite(measured.value) and math.isfinite(measured.uncertainty)):
            return
        start = self._value(one, measured, self._without(one))
        if math.isfinite(start) and (start or measured.starts_at is None):
            self.pairs.append((one, measured, start))

    def _without(self, one: Pair) -> Solution:
        if one.without not in self._plain:
            self._plain[one.without] = self.solution.changed(**dict.fromkeys(one.without))
        return self._plain[one.without]

    @staticmethod
    def _value(one: Pair, measured: Measured, solution: Solution) -> Any:
        """What is computed of a solution, over its builds where it has some; nan where it is not known."""
        if measured.now is not None:
            try:
                return np.asarray(measured.now(solution), dtype=float)[()]
            except NotKnown:
                return math.nan
        found = solution.find(one.computes)
        return math.nan if isinstance(found, Unknown) else np.asarray(found, dtype=float)[()]

    def at(self, x: np.ndarray) -> np.ndarray:
        """What is computed of every pair at inputs moved by x: builds × inputs in, builds × pairs out; nan where unknown."""
        return self.over({one.label: np.asarray(one.at(column), dtype=float) for one, column in zip(
            self.inputs, np.clip(x, self.low, self.high).T, strict=True) if np.any(column)}, len(x))

    def over(self, values: Mapping[str, Any], builds: int) -> np.ndarray:
        """What is computed of every pair with other values at these labels, an array a label or one value."""
        found, made = np.full((builds, len(self.pairs)), math.nan), dict[tuple[str, ...], Builds]()
        for place, (one, measured, start) in enumerate(self.pairs):
            if one.without not in made:
                own = {label: value for label, value in values.items() if label not in one.without}
                made[one.without] = Builds(self._without(one), own, builds)
            row = made[one.without].find(lambda solution, one=one, measured=measured: self._value(one, measured, solution))
            found[:, place] = row if measured.starts_at is None else measured.starts_at * row / start
        return found

    def jacobian(self, x: np.ndarray) -> np.ndarray:
        """By how much one standard uncertainty of each input moves each pair, about x: pairs × inputs."""
        count = len(self.inputs)
        about = np.tile(x, (2 * count + 1, 1))
        for place in range(count):
            about[2 * place, place] -= 1.0
            about[2 * place + 1, place] += 1.0
        about = np.clip(about, self.low, self.high)
        values = self.at(about)
        found = np.zeros((len(self.pairs), count))
        for place in range(count):
            ends, sides = values[[2 * place, 2 * place + 1]], about[[2 * place, 2 * place + 1], place]
            known = np.isfinite(ends)
            ends = np.where(known, ends, values[-1])
            apart = np.where(known, sides[:, None], x[place])
            wide = apart[1] - apart[0]
            found[:, place] = np.divide(ends[1] - ends[0], wide, out=np.zeros_like(wide), where=wide > 0)
        return np.asarray(np.nan_to_num(found))

    def slopes(self, names: tuple[str, ...]) -> dict[str, tuple[float, np.ndarray]]:
        """What quantities are, and by how much one standard uncertainty of each input moves them; nothing where unknown."""
        count = len(self.inputs)
        about = np.clip(np.kron(np.eye(count), np.array([[-1.0], [1.0]])), self.low, self.high)
        values = {one.label: np.asarray(one.at(column), dtype=float) for one, column in zip(self.inputs, about.T, strict=True)}
        found, moved = {}, Builds(self.solution, values, 2 * count)
        for name in dict.fromkeys(names):
            start, row = _plain(self.solution, name), np.zeros(count)
            if math.isfinite(start):
                over = moved.find(lambda solution, name=name: _plain(solution, name))
                ends = np.nan_to_num(over, nan=start).reshape(count, 2)
                wide = np.array([np.ptp(about[2 * n:2 * n + 2, n]) for n in range(count)])
                row = np.divide(ends[:, 1] - ends[:, 0], wide, out=row, where=wide > 0)
            found[name] = (start if math.isfinite(start) else 0.0), row
        return found

    def seen(self) -> np.ndarray:
        """What was measured of every pair."""
        return np.array([measured.value for _, measured, _ in self.pairs])

    def computed(self) -> np.ndarray:
        """What is computed of every pair at the inputs as they are."""
        return np.array([start if measured.starts_at is None else measured.starts_at for _, measured, start in self.pairs])

    def left_out(self) -> np.ndarray:
        """The variance of each pair that no input makes: of the reading, and of what the formula leaves out."""
        shares = np.array([one.model if measured.model is None else measured.model for one, measured, _ in self.pairs])
        read = np.array([measured.uncertainty for _, measured, _ in self.pairs])
        return np.asarray(read**2 + (shares * self.computed()) ** 2)


def compare(moved: Moved, jacobian: np.ndarray, taught: Mapping[str, bool], confirmed: frozenset[str]) -> tuple[Compared, ...]:
    """Every pair of an axis. taught: of which pairs the reading was learnt from already; confirmed: whose reading says so."""
    made = []
    computed, rest = moved.computed(), moved.left_out()
    of_inputs = np.einsum("ij,jk,ik->i", jacobian, moved.prior, jacobian)
    for place, (one, measured, _) in enumerate(moved.pairs):
        whole = math.sqrt(max(float(of_inputs[place] + rest[place]), 1e-300))
        departure = (measured.value - float(computed[place])) / whole
        judgement, teaches = _judged(one, measured, departure, one.name in confirmed)
        known = measured.used or taught.get(one.name, False)
        made.append(Compared(
            one, float(computed[place]), math.sqrt(max(whole**2 - measured.uncertainty**2, 0.0)), measured.value,
            measured.uncertainty, departure, judgement, teaches and not known, known, measured))
    return tuple(made)


def _judged(one: Pair, measured: Measured, departure: float, confirmed: bool) -> tuple[Judgement, bool]:
    """What a departure says, and whether it may teach."""
    far = abs(departure)
    if measured.whose == "none" or (measured.whose == "nearest" and far > CONTRADICTS):
        return "unassigned", False
    if one.from_below and departure <= 0:
        return "agrees", False
    said: Judgement = "agrees" if far <= AGREES else "strained" if far <= CONTRADICTS else "contradicts"
    return said, far <= CONTRADICTS or confirmed


def _reach(solution: Solution, one: UncertainInput) -> tuple[float, float]:
    """Between which departures from its value an input may lie at all, in its standard uncertainties."""
    given, value = given_at(solution, one.label)
    low, high = (-math.inf if one.minus is not None else 0.0), (math.inf if one.plus is not None else 0.0)
    end = one.plus if one.plus is not None else one.minus
    if end is None or not one.linear:
        return low, high
    wide = abs(float(end) - float(value))
    least = given.least if given.least is not None else given.above
    if least is not None:
        low = max(low, (least - value) / wide)
    if given.most is not None:
        high = min(high, (given.most - value) / wide)
    return low, high


def _plain(solution: Solution, name: str) -> Any:
    found = solution.find(name) if solution.sheet.has(name) else None
    return math.nan if found is None or isinstance(found, Unknown) else np.asarray(found, dtype=float)[()]


class Builds:
    """A solution with other values at some labels, an array a label or one value: over all builds at once, and where a formula
    looks at one build at a time, each by itself; both kept for all that is asked of them.
    """

    def __init__(self, solution: Solution, values: Mapping[str, Any], builds: int) -> None:
        self.solution, self.count = solution, builds
        self.values = {label: within(given_at(solution, label)[0], np.asarray(one)) for label, one in values.items()}

    @once
    def together(self) -> Solution:
        """All builds as arrays."""
        return with_values(self.solution, self.values)

    @once
    def each(self) -> tuple[Solution, ...]:
        """The builds one by one."""
        every = {label: np.broadcast_to(one, self.count) for label, one in self.values.items()}
        return tuple(with_values(self.solution, {label: float(one[build]) for label, one in every.items()})
                     for build in range(self.count))

    def find(self, value: Any) -> np.ndarray:
        """What is computed of every build; value: from a solution to it."""
        if not self.values:
            return np.full(self.count, float(value(self.solution)))
        with self.together.quiet():
            try:
                found = np.asarray(value(self.together), dtype=float)
                if np.ndim(found) == 0 or found.shape == (self.count,):
                    return np.asarray(np.broadcast_to(found, self.count))
            except NOT_KNOWN:
                pass
        found = np.empty(self.count)
        for place, one in enumerate(self.each):
            with one.quiet():
                found[place] = float(value(one))
        return found
