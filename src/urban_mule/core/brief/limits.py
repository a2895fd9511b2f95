"""A limit of what an axis reaches: how far, by which stage, why, and which given moves it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from urban_mule.core.load.asked import POINTS, crossing
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


def fastest(curve: Callable[[Reals], Reals], torque: float, travel_per_radian: Reals) -> float | None:
    """Speed of the load [travel/s] up to which a motor's curve gives a torque [N·m]; None where it gives it at any speed.

    curve: torque over shaft speeds [rad/s].
    """
    speeds = np.concatenate(([0.0], np.geomspace(0.1, FASTEST_SHAFT, POINTS)))
    enough = np.asarray(curve(speeds)) >= torque
    if enough.all():
        return None
    first = int(np.argmin(enough))
    if first == 0:
        return 0.0
    return crossing(lambda near: torque - np.asarray(curve(near)), speeds[first - 1], speeds[first]) * float(travel_per_radian)
