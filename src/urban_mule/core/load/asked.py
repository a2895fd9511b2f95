"""What one motor is asked for at any acceleration, apart from the cycle."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from urban_mule.core.load.torque import motor_torque
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.train.link import Link

POINTS = 200  # places looked at along a curve at first
CLOSER, BETWEEN = 2, 50  # how often it is then looked closer, and at how many places
LEAST, MOST = 1e-6, 1e6  # times an acceleration of the right size between which one is looked for
WAYS = {"both": (1.0, -1.0), "plus": (1.0,), "minus": (-1.0,)}


@record(frozen=True, eq=False, repr=False)
class AskedTorque:
    """What one motor is asked for at an acceleration [travel/s²], the rotor in it, no process force; call it."""

    train: tuple[Link, ...]
    moved_inertia: float
    gravity_load: float
    friction_load: float
    motor_count: float
    shaft_inertia: float
    travel_per_radian: float

    def __call__(self, acceleration: Reals, ways: tuple[float, ...] = WAYS["both"]) -> Reals:
        way = np.array([[one] for one in ways for _ in range(2)])
        a = np.array([[one] for way in ways for one in (way, -way)]) * acceleration  # speeding up, and slowing down from that speed
        effort = (self.moved_inertia * a + way * self.friction_load + self.gravity_load) / self.motor_count
        torque = motor_torque(self.train, a, way, effort, self.travel_per_radian, self.shaft_inertia)
        asked: Reals = np.abs(torque).max(axis=0)
        return asked if np.ndim(acceleration) or np.size(asked) > 1 else asked[0]


@quantity("", symbol="T(a)", source="power balance link by link from the load back to the motor", structure=True,
          formula="max |fold of (m·a ± friction + gravity)/n + J_m·θ̈| over the ways")
def asked_torque(
    train: tuple[Link, ...], moved_inertia: float, gravity_load: float, friction_load: float, motor_count: float,
    shaft_inertia: float, travel_per_radian: float,
) -> AskedTorque:
    """What one motor is asked for over the acceleration."""
    return AskedTorque(train, moved_inertia, gravity_load, friction_load, motor_count, shaft_inertia, travel_per_radian)


def crossings(rises: Callable[[Reals, Reals], Reals], low: Reals, high: Reals) -> np.ndarray:
    """Where several curves that are at most 0 at `low` and above 0 at `high` cross 0, looked at closer and closer, all places of
    all of them at once. rises: from places and the number of the curve of each, both of one axis.

    low, high: shares of a limit [1], one for each curve.
    """
    low, high = (np.asarray(one, dtype=float) for one in (low, high))
    of, grid = np.repeat(np.arange(low.size), BETWEEN), np.linspace(0.0, 1.0, BETWEEN)
    for _ in range(CLOSER):
        near = low[:, None] + (high - low)[:, None] * grid
        above = np.asarray(rises(near.ravel(), of)).reshape(near.shape)
        last, rows = np.argmax(above > 0, axis=1), np.arange(low.size)
        before = np.maximum(last - 1, 0)
        low, high, below, beyond = near[rows, before], near[rows, last], above[rows, before], above[rows, last]
    share = np.divide(-below, beyond - below, out=np.zeros_like(below), where=beyond > below)  # straight, so near together
    return np.asarray(low + (high - low) * np.clip(share, 0.0, 1.0))


def crossing(rises: Callable[[Reals], Reals], low: float, high: float) -> float:
    """The same of one curve; low, high: shares of a limit [1]."""
    return float(crossings(lambda at, _of: rises(at), np.array([low]), np.array([high]))[0])


def accelerations_for(
    asked: AskedTorque, torques: Sequence[float], near: float, ways: tuple[float, ...] = WAYS["both"]
) -> list[float]:
    """The acceleration [travel/s²] at which a motor is asked for each of these torques [N·m]; 0 where standing takes as much.

    near: an acceleration of the right size.
    """
    ladder = np.concatenate(([0.0], max(near, LEAST) * np.geomspace(LEAST, MOST, POINTS)))
    limits = np.asarray(torques, dtype=float)
    enough = np.asarray(asked(ladder, ways)) < limits[:, None]
    first = np.argmin(enough, axis=1)
    found = crossings(lambda at, of: np.asarray(asked(at, ways)) - limits[of], ladder[np.maximum(first - 1, 0)], ladder[first])
    reached = np.where(np.all(enough, axis=1), ladder[-1], np.where(first == 0, 0.0, found))
    return [float(one) for one in reached]


def acceleration_for(asked: AskedTorque, torque: float, near: float, ways: tuple[float, ...] = WAYS["both"]) -> float:
    """The same for one torque [N·m]."""
    return accelerations_for(asked, [torque], near, ways)[0]
