"""How sure every number of an axis is: what each uncertain input moves it by, all inputs moved at once as builds are.

JCGM 100 (GUM), 5.1 and 5.2: u² = dᵀ P d, d_i what one standard uncertainty of an input moves, P the correlation of the inputs:
of those that were learnt together as they were learnt, of all others none.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Mapping
from types import MappingProxyType
from typing import Any

import numpy as np

from urban_mule.core.load.assumed import FRICTION
from urban_mule.core.motor.margin import REALLY_GIVES_DOUBT
from urban_mule.core.sheet.given import Given, Reals, givens
from urban_mule.core.sheet.progress import Cancelled, Progress
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import PLACE, Solution
from urban_mule.core.studies.tolerance import Spread, with_values
from urban_mule.core.train.known import GUIDES
from urban_mule.core.train.link import Efficient

WIDE = 0.05  # share from which on the logarithm varies, so that no value falls below zero
SKEWED, COVERS = 0.2, 2.0  # share from which on an interval is by the logarithm; standard uncertainties on either side
EVEN = math.sqrt(3.0)  # of a half width, to the standard uncertainty of what is evenly likely within it
NAMED, LEAST_SHARE = 3, 0.01  # inputs that are named, and the least share of the variance
DECIDED = frozenset((  # what is decided rather than known: a setting has no doubt, what comes of it has
    "current_entry_value", "reference_voltage", "current_register", "current_peak_real", "torque_lost_to_setting",
    "acceleration_to_set"))
AT_ONCE, CARRIES_ON = 0.71, 4  # of its static torque a rotor bears when all of it comes at once (0.72 with no damping at all, by
# equal areas); with which power of the load's share of the inertia that counts: both as integrated motion of 2,200 axes has them
OF_A_MARGIN = 0.1  # share to which a margin is sure by papers: torque 6 %, current 5 %, what is moved and rubs 5 %
FARTHEST = 8.0  # standard deviations: surer than that is nobody
LOGISTIC, LOGISTIC_CUBE = 1.5976, 0.04417  # of a logistic approximation to the normal distribution, within 0.0002 of it
DRAWN = 2000  # builds of a spread that are looked at for how many lose a step


@record(frozen=True, eq=False, repr=False)
class UncertainInput:
    """An input by its label, its value, and what it becomes one standard uncertainty to either side; None: there is no such side.

    In SI. plus and minus are those of its variable: its logarithm where it is wide, of an efficiency the logarithm of (1 − η)/η.
    """

    label: str
    value: float
    minus: float | None
    plus: float | None

    def at(self, away: Reals) -> Reals:
        """What it becomes so many standard uncertainties away, towards plus; where there is one side only, to that one."""
        if self.minus is None or self.plus is None:
            end = self.plus if self.minus is None else self.minus
            return self.value if end is None else self.value + np.abs(away) * (end - self.value)
        if self.linear:
            return self.value + away * (self.plus - self.value)
        if self._even(self.minus, self.plus, math.log):
            return self.value * np.power(self.plus / self.value, away)
        lost = (1 - self.value) / self.value
        return 1 / (1 + lost * np.power((1 - self.plus) / self.plus / lost, away))

    @property
    def linear(self) -> bool:
        """Whether the value itself varies, rather than a logarithm."""
        return self.minus is None or self.plus is None or self._even(self.minus, self.plus, lambda x: x)

    def sure_to(self, value: float, share: float) -> float:
        """The standard uncertainty of another value of it that is surer by a share of what this one is."""
        end = self.plus if self.plus is not None else self.minus
        if end is None:
            return 0.0
        if self.linear:
            return share * abs(end - self.value)
        if self._even(self.minus or 0.0, end, math.log):
            return value * math.sqrt(math.expm1((share * math.log(end / self.value)) ** 2))
        wide = math.log((1 - self.value) / self.value) - math.log((1 - end) / end)
        return value * (1 - value) * math.sqrt(math.expm1((share * wide) ** 2))

    def _even(self, minus: float, plus: float, variable: Callable[[float], float]) -> bool:
        """Whether both sides are as far in this variable."""
        middle = variable(self.value)
        return math.isclose(variable(plus) - middle, middle - variable(minus), rel_tol=1e-6, abs_tol=1e-300)


@record(frozen=True, eq=False, repr=False)
class Doubts:
    """What every input moves every quantity by: rows d of the matrix J, in the unit of the quantity, one entry an input.

    correlation: of the inputs, where some were learnt together; None where each is unsure by itself.
    """

    inputs: tuple[UncertainInput, ...]
    values: dict[str, float]
    moved: dict[str, np.ndarray]
    correlation: np.ndarray | None = None

    def standard(self, name: str) -> float:
        """The standard uncertainty of a quantity."""
        return float(np.sqrt(max(np.sum(self._parts(name)), 0.0)))

    def named(self, name: str) -> tuple[tuple[str, float], ...]:
        """The inputs that make its doubt, with their share of the variance, greatest first; three at most."""
        parts = self._parts(name)
        shares = parts / parts.sum()
        order = np.argsort(-shares, kind="stable")[:NAMED]
        return tuple((self.inputs[n].label, float(shares[n])) for n in order if shares[n] >= LEAST_SHARE)

    def _parts(self, name: str) -> np.ndarray:
        """What each input makes of the variance; of inputs that are known together, with what it shares with the others."""
        row = self.moved[name]
        return row**2 if self.correlation is None else row * (self.correlation @ row)


@record(frozen=True, eq=False, repr=False)
class Odds:
    """The share of builds on the good side of a limit; quantity, limit in SI, good: above or below."""

    quantity: str
    limit: float
    good: str
    share: float


def interval(value: float, standard: float) -> tuple[float, float]:
    """The interval at k = 2, by the logarithm where the doubt is a large part of a value above zero."""
    if value > 0 and standard / value > SKEWED:
        wide = COVERS * log_width(standard / value)
        return value * math.exp(-wide), value * math.exp(wide)
    return value - COVERS * standard, value + COVERS * standard


def log_width(share: float) -> float:
    """The standard uncertainty of the logarithm of what is sure to a share of its value."""
    return math.sqrt(math.log1p(share**2))


def uncertain_inputs(
    solution: Solution, tolerances: Mapping[str, float], said: frozenset[str], learnt: Mapping[str, float] = MappingProxyType({}),
) -> tuple[UncertainInput, ...]:
    """The inputs of a solution that are not sure. tolerances: typed half widths, as shares of the value, by label [1].

    said: the labels of what somebody has given; what is declared of the rest holds only where it says so, and ideal values that
    nobody gave vary to their one possible side. learnt: standard uncertainties that were learnt, in SI, before all else.
    """
    return tuple(_all_inputs(solution, tolerances, said, learnt))


def _all_inputs(
    solution: Solution, tolerances: Mapping[str, float], said: frozenset[str], learnt: Mapping[str, float]
) -> Iterator[UncertainInput]:
    for label, one in solution.sheet.inputs.items():
        if not one.structure and not one.choices:
            yield from _of_one(label, one, solution.inputs[label], tolerances.get(label), label in said, learnt.get(label))
    for place, link in enumerate(solution.get("train") or ()):
        for one in givens(type(link)):
            label = f"train[{place}].{one.name}"
            if one.name == "efficiency" and label not in said and isinstance(link, Efficient) and link.usual_loss:
                yield UncertainInput(label, 1.0, 1.0 - link.usual_loss / EVEN, None)
            elif not one.choices:
                yield from _of_one(label, one, getattr(link, one.name), tolerances.get(label), label in said, learnt.get(label))
    for place, move in enumerate(solution.get("cycle") or ()):
        for one in givens(type(move)):
            label = f"cycle[{place}].{one.name}"  # decided, so that only what somebody typed makes it unsure
            yield from _of_one(label, one, getattr(move, one.name), tolerances.get(label), False, learnt.get(label))
    if FRICTION in (solution.get("assumed") or ()) and solution.sheet.has("friction_coefficient") and (
            not solution.get("friction_coefficient")):
        yield UncertainInput("friction_coefficient", 0.0, None, GUIDES[0].value / EVEN)


def _of_one(
    label: str, one: Given, value: Any, half_width: float | None, said: bool, learnt: float | None
) -> Iterator[UncertainInput]:
    if not isinstance(value, (int, float)) or isinstance(value, bool) or one.whole:
        return
    x, doubt = float(value), one.doubt
    standard = learnt or 0.0
    if learnt is None and half_width is not None:
        standard = half_width * abs(x) / EVEN
    elif learnt is None and doubt is not None and (said or doubt.unsaid):
        standard = doubt.standard(x)
    if not standard:
        return
    if doubt is not None and doubt.of_loss:
        yield _efficiency(label, x, standard)
    elif x > 0 and standard / x >= WIDE and not (doubt is not None and doubt.linear):
        width = log_width(standard / x)
        yield _within(label, x, x * math.exp(-width), x * math.exp(width), one)
    else:
        yield _within(label, x, x - standard, x + standard, one)


def _within(label: str, x: float, low: float, high: float, one: Given) -> UncertainInput:
    """An input with the sides that its given allows."""
    return UncertainInput(label, x, None if one.least is not None and low < one.least else low,
                          None if one.most is not None and high > one.most else high)


def _efficiency(label: str, x: float, standard: float) -> UncertainInput:
    """What gets through stays between 0 and 1: friction over load varies, by its logarithm; of 1 only the lower side exists."""
    if not 0 < x < 1:
        return UncertainInput(label, x, x - standard, None)
    lost, width = (1 - x) / x, log_width(standard / (x * (1 - x)))
    return UncertainInput(label, x, 1 / (1 + lost * math.exp(-width)), 1 / (1 + lost * math.exp(width)))


def doubts_of(
    solution: Solution, inputs: tuple[UncertainInput, ...], progress: Progress = lambda _done, _total: True,
    correlation: np.ndarray | None = None,
) -> Doubts:
    """How sure every known scalar quantity of a solution is. Raises Cancelled when `progress` says so."""
    count = len(inputs)
    columns = {one.label: _column(one, 2 * place, 2 * count) for place, one in enumerate(inputs)}
    moved = with_values(solution, columns) if inputs else solution
    values: dict[str, float] = {}
    rows: dict[str, np.ndarray] = {}
    scalars = [(name, float(value)) for name, q in solution.sheet.quantities.items()
               if not q.structure and not q.sought and name not in DECIDED and _is_number(value := solution.find(name))]
    alone = Alone(solution, inputs)
    exists = np.array([[one.minus is not None, one.plus is not None] for one in inputs], dtype=bool).reshape(count, 2)
    with solution.quiet(), moved.quiet():
        for number, (name, value) in enumerate(scalars):
            if not progress(number, len(scalars)):
                raise Cancelled
            ends = _ends(moved, name, alone)
            there = exists & np.isfinite(ends)
            ends = np.where(there, ends, value)
            row = (ends[:, 1] - ends[:, 0]) / np.where(there.all(axis=1), 2.0, 1.0)
            if np.any(np.abs(row) > 1e-12 * abs(value)):
                values[name], rows[name] = value, row
    return Doubts(inputs, values, rows, correlation)


def _column(one: UncertainInput, row: int, count: int) -> np.ndarray:
    """The input in every build: as given, but one standard uncertainty to either side in its own two."""
    column = np.full(count, one.value)
    column[row:row + 2] = [one.value if end is None else end for end in (one.minus, one.plus)]
    return column


def _is_number(value: Any) -> bool:
    return isinstance(value, (int, float, np.floating, np.integer)) and not isinstance(value, bool) and math.isfinite(value)


class Alone:
    """A solution with one input at one of its ends and all others as they are: made when first asked for, and kept for all that is
    asked of it.
    """

    def __init__(self, solution: Solution, inputs: tuple[UncertainInput, ...]) -> None:
        self.solution, self.inputs = solution, inputs
        self._made: dict[tuple[int, int], Solution] = {}

    def find(self, place: int, side: int, name: str) -> Any:
        """A quantity with the input at this place at its lower (0) or upper (1) end; None where there is no such end."""
        one = self.inputs[place]
        value = (one.minus, one.plus)[side]
        if value is None:
            return None
        found = PLACE.match(one.label)
        if name not in self.solution.sheet.dependents[one.label if found is None else found["list"]]:
            return self.solution.find(name)
        if (place, side) not in self._made:
            self._made[place, side] = with_values(self.solution, {one.label: value})
        return self._made[place, side].find(name)


def _ends(moved: Solution, name: str, alone: Alone) -> np.ndarray:
    """A quantity at both ends of every input, an input a row; nan where it is not known there."""
    count = len(alone.inputs)
    try:
        found = moved.find(name)
        if not isinstance(found, Unknown):
            return np.array(np.broadcast_to(np.asarray(found, dtype=float), 2 * count)).reshape(-1, 2)
    except (TypeError, ValueError, IndexError):
        pass  # it looks at one build at a time
    ends = np.full((count, 2), math.nan)
    for place, side in itertools.product(range(count), (0, 1)):
        if _is_number(value := alone.find(place, side, name)):
            ends[place, side] = value
    return ends


def odds_of(solution: Solution, doubts: Doubts, said: frozenset[str]) -> tuple[Odds, ...]:
    """How likely the axis loses no step, and stays within its accuracy; what is not known, or wanted, is left out.

    said: the labels of what somebody has given.
    """
    found = []
    margin = doubts.values.get("working_margin", _number(solution, "working_margin"))
    if margin is not None:
        factor, doubt = really_gives(solution, said)
        standard = doubts.standard("working_margin") if "working_margin" in doubts.moved else 0.0
        found.append(Odds("working_margin", 1.0, "above", _no_step_lost(margin, standard, factor, doubt)))
    lost, wanted = _number(solution, "expected_lost_motion"), solution.get("accuracy_wanted")
    if lost is not None and wanted is not None:
        standard = doubts.standard("expected_lost_motion") if "expected_lost_motion" in doubts.moved else 0.0
        found.append(Odds("expected_lost_motion", float(wanted), "below", 1 - share_above(lost, standard, float(wanted))))
    return tuple(found)


def _number(solution: Solution, name: str) -> float | None:
    value = solution.get(name)
    return float(value) if _is_number(value) else None


def really_gives(solution: Solution, said: frozenset[str]) -> tuple[float, float]:
    """What a motor really gives of its computed torque, and the standard uncertainty of its logarithm.

    A stepper before a ladder: what accelerates the load comes at once, and swings (a torque put suddenly on a synchronous machine,
    by equal areas); what is steady, and what accelerates the rotor, which its winding damps, does not. Median and doubt as
    integrated motion of 2,200 axes with 3 to 30 % damping gives them (docs/honesty.md).
    """
    if not solution.sheet.has("torque_factor") or "torque_factor" in said:
        return 1.0, 0.0
    return _given(_swinging_share(solution)), REALLY_GIVES_DOUBT


def _given(swinging: Reals) -> Reals:
    """What of its computed torque a stepper gives in the middle, by the share of it that swings."""
    return 1 / (1 + swinging * (1 / AT_ONCE - 1))


def odds_over(solution: Solution, margin: Reals, inertia_ratio: Reals) -> Reals:
    """The odds that no step is lost for many builds at once, each margin as sure as sheets and settings usually make it; a servo's
    that its torque suffices.
    """
    factor, doubt = 1.0, 0.0
    if solution.sheet.has("torque_factor"):
        cycle, peak = solution["cycle_torque"], solution["peak_torque"]
        even = cycle.moving & (cycle.pieces.acceleration_start == 0) & (cycle.pieces.acceleration_end == 0)
        steady = np.max(np.abs(np.asarray(cycle.start)[..., even]), axis=-1, initial=0.0)
        swinging = (1 - np.minimum(steady / peak, 1.0)) * (inertia_ratio / (1 + inertia_ratio)) ** CARRIES_ON
        factor, doubt = _given(swinging), REALLY_GIVES_DOUBT
    width = math.hypot(log_width(OF_A_MARGIN), doubt)
    with np.errstate(all="ignore"):
        ahead = np.clip(np.log(factor * margin) / width, -FARTHEST, FARTHEST)  # nan where the margin is
    return 1 / (1 + np.exp(-LOGISTIC * ahead * (1 + LOGISTIC_CUBE * ahead**2)))


def share_without_loss(spread: Spread, factor: float, doubt: float) -> float:
    """The share of builds that lose no step: of their margins, with what a motor really gives and how unsure that is."""
    if not doubt:
        return spread.share_above(1.0 / factor)
    ahead = np.log(np.maximum(factor * spread.values, 1e-300)) / doubt
    return float(np.mean([normal(one) for one in ahead[:: max(1, ahead.size // DRAWN)]]))


def _swinging_share(solution: Solution) -> float:
    """How much of the torque at the tightest moment swings: what accelerates, the more so the more of the inertia is the load's."""
    ratio, tightest, cycle = solution.get("inertia_ratio"), solution.get("tightest_moment"), solution.get("cycle_torque")
    if ratio is None or tightest is None or cycle is None:
        return 1.0
    even = cycle.moving & (cycle.pieces.acceleration_start == 0) & (cycle.pieces.acceleration_end == 0)
    steady = float(np.max(np.abs(np.asarray(cycle.start)[..., even]), initial=0.0))
    load = float(ratio) / (1 + float(ratio))
    return float(1 - min(steady / abs(tightest[1]), 1.0)) * load**CARRIES_ON


def _no_step_lost(margin: float, standard: float, factor: float, doubt: float) -> float:
    if margin <= 0:
        return 0.0
    width = math.hypot(log_width(standard / margin), doubt)
    ahead = math.log(factor * margin)
    return normal(ahead / width) if width else float(ahead >= 0)


def share_above(value: float, standard: float, limit: float) -> float:
    """The share of builds above a limit; by the logarithm where the interval is."""
    if not standard:
        return float(value >= limit)
    if value > 0 and standard / value > SKEWED:
        return normal(math.log(value / limit) / log_width(standard / value)) if limit > 0 else 1.0
    return normal((value - limit) / standard)


def normal(x: float) -> float:
    """The share of a normal distribution below x standard deviations."""
    return 0.5 * math.erfc(-x / math.sqrt(2.0))

