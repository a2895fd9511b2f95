"""Which number of a round is odd beside its fellows, so that a question is asked; honest readings are not asked about."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from itertools import pairwise

from urban_mule.core.readings.place import place_of

LEAST_FREEDOM = 5  # degrees of freedom from which the pooled scatter is known well enough to judge by
# Student's two-sided 99.9 % quantile by degrees of freedom (tables of the distribution); between them it is linear in 1/f.
QUANTILES = ((5, 6.869), (6, 5.959), (7, 5.408), (8, 5.041), (9, 4.781), (10, 4.587), (12, 4.318), (15, 4.073), (20, 3.850),
             (30, 3.646), (60, 3.460), (120, 3.373), (math.inf, 3.291))
STEPS, SURE = 3.0, 2.0  # smallest steps of the gauge, and times its uncertainty, within which two numbers are the same
FIRST, WILD = 3, 6.0  # numbers of a table from which one, and times their range that one, is wild before any repeat was taken
ALIKE, PLAIN = 0.1, 5.0  # share within which a second number is the first, slipped; times what is the same, from where it is plain
TEN_TIMES = 5.0  # times its fellows that a number with a slipped point is more than


def quantile(freedom: int) -> float:
    """Student's two-sided 99.9 % quantile for five degrees of freedom or more."""
    for (below, high), (above, low) in pairwise(QUANTILES):
        if below <= freedom < above:
            far = (1 / below - 1 / freedom) / (1 / below - 1 / above)
            return high + far * (low - high)
    return QUANTILES[-1][1]


def smallest_step(typed: Iterable[str]) -> float:
    """The smallest step of numbers as they were typed: one of the last digit of the finest; 0 where nothing was typed."""
    places = [len(text.replace(",", ".").partition(".")[2].split(" ")[0]) for text in typed if any(map(str.isdigit, text))]
    return 10.0 ** -max(places) if places else 0.0


def doubt(values: Mapping[str, float], place: str, value: float, step: float = 0.0, uncertainty: float = 0.0,
          repeats: bool = True) -> str:
    """What is odd about a number beside its fellows, as the beginning of a question; nothing where it fits.

    values: the numbers so far by their place. step, uncertainty: the smallest step and the standard uncertainty of the gauge,
    all in one unit. repeats: whether the table takes the same number again and again; one that rises or falls is asked only for
    its point. All in the unit of the reading; step: what the gauge shows least.
    """
    fellows, table = _fellows(values, place), _table(values, place)
    same = max(STEPS * step, SURE * uncertainty)
    if not repeats:
        return _of_its_size(value, table, same) if len(table) >= FIRST - 1 else ""
    scatter, freedom = pooled(values)
    if fellows and freedom >= LEAST_FREEDOM:
        middle = sum(fellows) / len(fellows)
        room = max(quantile(freedom) * scatter * math.sqrt(1 + 1 / len(fellows)), same)
    elif len(table) >= FIRST:
        middle = sorted(table)[len(table) // 2]
        room = WILD * max(max(table) - min(table), same)
    else:
        return _beside_one(value, fellows[0], same) if fellows else ""
    if abs(value - middle) <= room:
        return ""
    return _slipped(value, middle, room) or "far from the others"


def _slipped(value: float, middle: float, room: float) -> str:
    """A digit's size or a turned sign, where that would fit and the number itself is of another size than its fellows."""
    if abs(value / 10 - middle) <= room and abs(value) > TEN_TIMES * abs(middle):
        return "ten times too large"
    if value and abs(value * 10 - middle) <= room and TEN_TIMES * abs(value) < abs(middle):
        return "ten times too small"
    if abs(-value - middle) <= room and value * middle < 0:
        return "the other sign than the others"
    return ""


def _beside_one(value: float, fellow: float, same: float) -> str:
    """Of a second number only a slipped point and a turned sign are told, where both are far more than the gauge can be off."""
    room = max(same, ALIKE * abs(fellow))
    return _slipped(value, fellow, room) if max(abs(value), abs(fellow)) > PLAIN * same and same else ""


def _of_its_size(value: float, table: list[float], same: float) -> str:
    """Of numbers that rise or fall only a slipped point is told: a tenth of it lies among the others, it itself far off."""
    low, high = min(table), max(table)
    room = max(high - low, same)
    if abs(value) > TEN_TIMES * max(abs(low), abs(high)) and low - room <= value / 10 <= high + room and (low or high):
        return "ten times too large"
    return ""


def _fellows(values: Mapping[str, float], place: str) -> list[float]:
    """The other repeats of the same number."""
    table, at = place_of(place)
    return [value for one, value in values.items() if one != place and _group(one) == (table, at[1:])]


def _table(values: Mapping[str, float], place: str) -> list[float]:
    """The other numbers of its table."""
    table, _ = place_of(place)
    return [value for one, value in values.items() if one != place and place_of(one)[0] == table]


def _group(place: str) -> tuple[str, tuple[int, ...]]:
    """What is the same number again: its table, and its column."""
    table, at = place_of(place)
    return table, tuple(at[1:])


def pooled(values: Mapping[str, float]) -> tuple[float, int]:
    """Standard deviation of the repeats about their means, over all places and both ways, and its degrees of freedom."""
    groups: dict[tuple[str, tuple[int, ...]], list[float]] = {}
    for place, value in values.items():
        groups.setdefault(_group(place), []).append(value)
    squares, freedom = 0.0, 0
    for group in groups.values():
        middle = sum(group) / len(group)
        squares += sum((one - middle) ** 2 for one in group)
        freedom += len(group) - 1
    return (math.sqrt(squares / freedom) if freedom else 0.0), freedom
