"""A rise of the first order through readings over time: where it ends and how fast, by least squares."""

from __future__ import annotations

import numpy as np

from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.record import record

RISE = "first-order rise by least squares over the time constant"
TRIED = 120  # time constants between the shortest and the longest that a record can show
FINER, AT_A_TIME = 2, 41  # grids between the neighbours of the best so far, and places on each
LEAST_PLACES = 3
TOLD = 3  # readings of a slow record that tell something of their own: what lies off it goes together


@record(frozen=True, eq=False, repr=False)
class FirstOrder:
    """start + rise·(1 − e^(−t/τ)): all by least squares; rest: standard deviation of what is left; the standard uncertainties of
    rise and time constant by the covariance of the fit, what is left taken as going together over a third of the record.
    """

    start: float
    rise: float
    time_constant: float
    rest: float
    rise_uncertainty: float
    time_constant_uncertainty: float


def first_order(time: np.ndarray, values: np.ndarray, from_zero: bool) -> FirstOrder:
    """The rise that fits a record; from_zero: it starts at nothing.

    For each time constant the rest is linear; the best is sought on a grid, then on finer ones, then as the lowest place of the
    parabola through the best and its neighbours. Raises NotKnown below three
    places, for a record that shows no rise or is shorter than its time constant. time: [s], n; values: any unit, n.
    """
    if time.size < LEAST_PLACES + (not from_zero):
        raise NotKnown(f"{time.size} readings do not tell a rise; take {LEAST_PLACES + (not from_zero)} or more")
    length = float(time[-1])
    grid = np.geomspace(max(length * 1e-3, 1e-9), 20 * length, TRIED)
    at = int(np.argmin(_misfits(grid, time, values, from_zero)[0]))
    if at in (0, TRIED - 1) or not np.ptp(values):
        raise NotKnown("no time constant fits: it does not level off, or does not move at all")
    for _ in range(FINER):
        grid = np.linspace(grid[at - 1], grid[at + 1], AT_A_TIME)
        misfits = _misfits(grid, time, values, from_zero)[0]
        at = min(max(int(np.argmin(misfits)), 1), AT_A_TIME - 2)
    below, best, above = misfits[at - 1:at + 2]
    bend = below - 2 * best + above
    tau = float(grid[at] + (0.5 * (below - above) / bend * (grid[1] - grid[0]) if bend > 0 else 0.0))
    squares, start, rise = (float(one[0]) for one in _misfits(np.array([tau]), time, values, from_zero))
    if tau > length:
        raise NotKnown(f"the record of {length / 60:.3g} min is shorter than its time constant of {tau / 60:.3g} min; go on")
    rest = float(np.sqrt(squares / max(1, time.size - 2 - (not from_zero))))
    return FirstOrder(start, rise, tau, rest, *_uncertainties(time, rise, tau, rest, from_zero))


def _uncertainties(time: np.ndarray, rise: float, tau: float, rest: float, from_zero: bool) -> tuple[float, float]:
    """Standard uncertainties of rise and time constant, from what is left; neighbours in time do not tell new things."""
    shape = -np.expm1(-time / tau)
    slopes = np.array([shape, -rise * time / tau**2 * np.exp(-time / tau)] + ([] if from_zero else [np.ones_like(time)]))
    long = np.linalg.norm(slopes, axis=1)  # metres beside seconds: each in its own size
    long[long == 0] = 1.0
    even = slopes / long[:, None]
    variance = np.diag(np.linalg.pinv(even @ even.T)) / long**2 * rest**2 * max(1.0, time.size / TOLD)
    return float(np.sqrt(variance[0])), float(np.sqrt(variance[1]))


def _misfits(taus: np.ndarray, time: np.ndarray, values: np.ndarray, from_zero: bool) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Sum of squares, start and rise for each time constant."""
    shapes = -np.expm1(-time / taus[:, None])
    if from_zero:
        squares, along, starts = np.sum(shapes**2, axis=1), shapes @ values, np.zeros_like(taus)
        rises = np.divide(along, squares, out=np.zeros_like(taus), where=squares > 0)
    else:
        middles = shapes - shapes.mean(axis=1, keepdims=True)
        squares, along = np.sum(middles**2, axis=1), middles @ (values - values.mean())
        rises = np.divide(along, squares, out=np.zeros_like(taus), where=squares > 0)
        starts = values.mean() - rises * shapes.mean(axis=1)
    return np.sum((values - starts[:, None] - rises[:, None] * shapes) ** 2, axis=1), starts, rises
