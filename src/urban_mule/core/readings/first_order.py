"""A rise of the first order through readings over time: where it ends and how fast, by least squares."""

from __future__ import annotations

import numpy as np

from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.record import record

RISE = "first-order rise by least squares over the time constant"
TRIED = 400  # time constants between the shortest and the longest that a record can show
LEAST_PLACES = 3


@record(frozen=True)
class FirstOrder:
    """start + rise·(1 − e^(−t/τ)): all by least squares; rest: standard deviation of what is left."""

    start: float
    rise: float
    time_constant: float
    rest: float


def first_order(time: np.ndarray, values: np.ndarray, from_zero: bool) -> FirstOrder:
    """The rise that fits a record; from_zero: it starts at nothing.

    For each time constant the rest is linear; the best is sought on a grid, then by golden section. Raises NotKnown below three
    places, for a record that shows no rise or is shorter than its time constant. time: [s], n; values: any unit, n.
    """
    if time.size < LEAST_PLACES + (not from_zero):
        raise NotKnown(f"{time.size} readings do not tell a rise; take {LEAST_PLACES + (not from_zero)} or more")
    length = float(time[-1])
    grid = np.geomspace(max(length * 1e-3, 1e-9), 20 * length, TRIED)
    misfits = np.array([_misfit(one, time, values, from_zero)[0] for one in grid])
    at = int(np.argmin(misfits))
    if at in (0, TRIED - 1) or not np.ptp(values):
        raise NotKnown("no time constant fits: it does not level off, or does not move at all")
    low, high = float(grid[at - 1]), float(grid[at + 1])
    golden = (np.sqrt(5) - 1) / 2
    for _ in range(80):
        one, other = high - golden * (high - low), low + golden * (high - low)
        if _misfit(one, time, values, from_zero)[0] < _misfit(other, time, values, from_zero)[0]:
            high = other
        else:
            low = one
    tau = (low + high) / 2
    squares, start, rise = _misfit(tau, time, values, from_zero)
    if tau > length:
        raise NotKnown(f"the record of {length / 60:.3g} min is shorter than its time constant of {tau / 60:.3g} min; go on")
    return FirstOrder(start, rise, tau, float(np.sqrt(squares / max(1, time.size - 2 - (not from_zero)))))


def _misfit(tau: float, time: np.ndarray, values: np.ndarray, from_zero: bool) -> tuple[float, float, float]:
    """Sum of squares, start and rise for a time constant."""
    shape = -np.expm1(-time / tau)
    if from_zero:
        square = float(shape @ shape)
        rise, start = (float(shape @ values) / square if square else 0.0), 0.0
    else:
        middle, mean = shape - shape.mean(), values - values.mean()
        square = float(middle @ middle)
        rise = float(middle @ mean) / square if square else 0.0
        start = float(values.mean() - rise * shape.mean())
    return float(np.sum((values - start - rise * shape) ** 2)), start, rise
