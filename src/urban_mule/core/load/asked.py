"""What one motor is asked for at any acceleration, apart from the cycle."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from urban_mule.core.load.torque import motor_torque
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.train.link import Link

POINTS, CLOSER = 200, 3  # places looked at along a curve at once, and how often closer
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


def crossing(rises: Callable[[Reals], Reals], low: float, high: float) -> float:
    """Where a curve that is at most 0 at `low` and above 0 at `high` crosses 0, looked at closer and closer, all places at once.

    low, high: shares of a limit [1].
    """
    for _ in range(CLOSER):
        near = np.linspace(low, high, POINTS)
        above = np.asarray(rises(near)) > 0
        last = int(np.argmax(above))
        if last == 0:
            return float(low)
        low, high = float(near[last - 1]), float(near[last])
    return low


def acceleration_for(asked: AskedTorque, torque: float, near: float, ways: tuple[float, ...] = WAYS["both"]) -> float:
    """The acceleration [travel/s²] at which a motor is asked for a torque [N·m]; 0 where standing takes as much already.

    near: an acceleration of the right size.
    """
    ladder = np.concatenate(([0.0], max(near, LEAST) * np.geomspace(LEAST, MOST, POINTS)))
    enough = np.asarray(asked(ladder, ways)) < torque
    if not enough[0]:
        return 0.0
    if enough.all():
        return float(ladder[-1])
    first = int(np.argmin(enough))
    return crossing(lambda at: np.asarray(asked(at, ways)) - torque, float(ladder[first - 1]), float(ladder[first]))
