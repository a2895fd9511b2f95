"""What measurements teach of the inputs of an axis, and how sure they then are.

Gauss and Newton's steps of the extended filter (R. E. Kalman, 1960; JCGM 100 for the doubts): x ← K (z − h(x) + J x), J anew at
each step, until nothing moves.
"""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType

import numpy as np

from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.compared import Compared, Moved, compare
from urban_mule.core.studies.doubts import UncertainInput

FARTHEST_STEP, STILL, MOST_STEPS, HALVES = 2.0, 0.01, 40, 30  # in standard uncertainties; steps; halvings of one
MOVED = 1e-3  # share of its uncertainty by which an input moves, or gets surer, that has learnt


@record(frozen=True, eq=False, repr=False)
class Learnt:
    """One input: its value and standard uncertainty before and after, in SI."""

    label: str
    value: float
    uncertainty: float
    learned_value: float
    learned_uncertainty: float


@record(frozen=True, eq=False, repr=False)
class Learning:
    """What the readings of an axis teach: each pair, each input that moves or gets surer, and how those are known together.

    correlation: of all inputs in their order after learning, in units of what they were sure to before. moved, jacobian: the
    pairs as functions of the inputs, and their slopes at the inputs as they are.
    """

    moved: Moved
    jacobian: np.ndarray
    compared: tuple[Compared, ...]
    learned: tuple[Learnt, ...]
    after: np.ndarray
    covariance: np.ndarray

    @property
    def contradictions(self) -> tuple[Compared, ...]:
        """The pairs that contradict each other and are not learnt from."""
        return tuple(one for one in self.compared if one.judgement == "contradicts" and not one.teaches)

    def correlation_of(self, labels: tuple[str, ...]) -> np.ndarray:
        """The correlation of some inputs after learning."""
        at = [n for label in labels for n, one in enumerate(self.moved.inputs) if one.label == label]
        part = self.covariance[np.ix_(at, at)]
        wide = np.sqrt(np.diag(part))
        found = part / np.outer(wide, wide)
        np.fill_diagonal(found, 1.0)
        return np.asarray((found + found.T) / 2)


def learning_of(
    solution: Solution, inputs: tuple[UncertainInput, ...], said: frozenset[str], correlation: np.ndarray | None = None,
    taught: Mapping[str, bool] = MappingProxyType({}), confirmed: frozenset[str] = frozenset(),
) -> Learning:
    """What the readings on a solution teach. said: labels that somebody has given; correlation: of the inputs as they are known.

    taught: of which pairs the reading was learnt from already; confirmed: the pairs whose reading somebody looked at again.
    """
    moved = Moved(solution, inputs, said, correlation)
    jacobian = moved.jacobian(np.zeros(len(inputs)))
    compared = compare(moved, jacobian, taught, confirmed)
    used = np.array([place for place, one in enumerate(compared) if one.teaches], dtype=int)
    x, covariance = _learnt(moved, used) if used.size else (np.zeros(len(inputs)), moved.prior)
    slopes = np.abs(jacobian[used]).max(axis=0, initial=0.0)
    wide = np.sqrt(np.maximum(np.diag(covariance), 0.0))
    learned = tuple(_input(one, float(x[place]), float(wide[place])) for place, one in enumerate(inputs)
                    if slopes[place] and (abs(x[place]) > MOVED or wide[place] < 1 - MOVED))
    return Learning(moved, jacobian, compared, learned, x, covariance)


def _learnt(moved: Moved, used: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """The inputs and their covariance after these pairs have taught."""
    seen, rest, prior = moved.seen()[used], np.diag(moved.left_out()[used]), moved.prior
    x = np.zeros(len(moved.inputs))
    for _ in range(MOST_STEPS):
        slopes = moved.jacobian(x)[used]
        gain = _gain(slopes, prior, rest)
        step = gain @ (seen - moved.at(x[None])[0, used] + slopes @ x) - x
        longest = float(np.max(np.abs(step), initial=0.0))
        step *= min(1.0, FARTHEST_STEP / longest) if longest else 1.0
        for _ in range(HALVES):
            if np.isfinite(moved.at((x + step)[None])[0, used]).all():
                break
            step /= 2
        before, x = x, np.clip(x + step, moved.low, moved.high)
        if float(np.max(np.abs(x - before), initial=0.0)) <= STILL:
            break
    slopes = moved.jacobian(x)[used]
    return x, prior - _gain(slopes, prior, rest) @ slopes @ prior


def _gain(slopes: np.ndarray, prior: np.ndarray, rest: np.ndarray) -> np.ndarray:
    across = slopes @ prior
    return np.asarray(np.linalg.solve(across @ slopes.T + rest, across).T)


def _input(one: UncertainInput, x: float, share: float) -> Learnt:
    after = float(one.at(x))
    return Learnt(one.label, one.value, one.sure_to(one.value, 1.0), after, one.sure_to(after, share))
