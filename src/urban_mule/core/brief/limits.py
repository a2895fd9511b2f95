"""A limit of what an axis reaches: how far, by which stage, why, and which given moves it."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from urban_mule.core.load.asked import POINTS, crossings
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.stages import StageName

FASTEST_SHAFT = 3000.0  # rad/s beyond which no shaft here turns


@record(frozen=True, eq=False, repr=False)
class Reach:
    """What is reached [travel/s, travel/s² or travel], the stage and the reason that hold it there, the given that moves it."""

    value: float
    stage: StageName
    why: str
    given: str


@record(frozen=True, eq=False, repr=False)
class Limits:
    """What limits the speed, and what the acceleration."""

    speed: tuple[Reach, ...] = ()
    acceleration: tuple[Reach, ...] = ()


def fastest_of(curve: Callable[[Reals], Reals], torques: Sequence[float], travel_per_radian: Reals) -> list[float | None]:
    """Speed of the load [travel/s] up to which a motor's curve gives each of these torques [N·m]; None where at any speed.

    curve: torque over shaft speeds [rad/s].
    """
    speeds, limits = np.concatenate(([0.0], np.geomspace(0.1, FASTEST_SHAFT, POINTS))), np.asarray(torques, dtype=float)
    enough = np.asarray(curve(speeds)) >= limits[:, None]
    first = np.argmin(enough, axis=1)
    found = crossings(lambda at, of: limits[of] - np.asarray(curve(at)), speeds[np.maximum(first - 1, 0)], speeds[first])
    reached = np.where(first == 0, 0.0, found) * float(travel_per_radian)
    return [None if every else float(speed) for every, speed in zip(np.all(enough, axis=1), reached, strict=True)]


def fastest(curve: Callable[[Reals], Reals], torque: float, travel_per_radian: Reals) -> float | None:
    """The same for one torque [N·m]."""
    return fastest_of(curve, [torque], travel_per_radian)[0]
