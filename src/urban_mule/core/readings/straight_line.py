"""A straight line through places by least squares, and how sure it is."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.record import record

ROUND_OFF = 1e-12  # of the greatest value: what lies nearer to the line lies on it


@record(frozen=True, eq=False, repr=False)
class StraightLine:
    """y = at_middle + slope·(x − middle) through places whose mean is middle; spread: ∑(x − middle)²; variance: of what is left,
    over the places less two, None below three.
    """

    middle: float
    at_middle: float
    slope: float
    spread: float
    places: int
    variance: float | None

    def at(self, x: np.ndarray) -> np.ndarray:
        """The line at places x. x: in the unit of the places."""
        return np.asarray(self.at_middle + self.slope * (x - self.middle))

    def variance_at(self, x: float) -> float:
        """Squared standard uncertainty of the line at a place. Raises NotKnown below three places. x: in the unit of the places."""
        return self._variance() * (1 / self.places + (x - self.middle) ** 2 / self.spread)

    def slope_uncertainty(self) -> float:
        """Standard uncertainty of the slope. Raises NotKnown below three places."""
        return math.sqrt(self._variance() / self.spread)

    def _variance(self) -> float:
        if self.variance is None:
            raise NotKnown("two places lie on any line; a third shows how sure it is")
        return self.variance


def straight_line(x: np.ndarray, y: np.ndarray) -> StraightLine:
    """The line through places x, whose values are y. Raises NotKnown where all places are the same one. x, y: any units, n each."""
    middle, at_middle = float(x.mean()), float(y.mean())
    aside = x - middle
    slope = float(slopes(aside, y))
    left = y - at_middle - slope * aside
    left[np.abs(left) < ROUND_OFF * np.abs(y).max()] = 0.0
    variance = float(left @ left) / (x.size - 2) if x.size > 2 else None
    return StraightLine(middle, at_middle, slope, float(aside @ aside), x.size, variance)


def slopes(aside: np.ndarray, y: np.ndarray) -> np.ndarray:
    """The slope of the line through the values y, or through each row of them. Raises NotKnown where all places are the same one.

    aside: of each place how far it lies from their mean, n; y: n, or rows × n; any units.
    """
    spread = float(aside @ aside)
    if spread == 0:
        raise NotKnown("one place shows no slope; take two or more")
    return np.asarray((y - y.mean(axis=-1, keepdims=True)) @ aside / spread)
