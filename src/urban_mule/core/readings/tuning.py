"""Gains raised one after another, each answered by whether the axis then sang."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.readings.kind import ReadingKind, column
from urban_mule.core.sheet.record import record

STAGES = ("velocity", "integral", "position")
HALF = 0.5  # of the gain at which it sang


@record(frozen=True, eq=False, repr=False)
class TuningReading:
    """Rows in the order in which they were tried: which gain was raised (0 velocity, 1 integral, 2 position), all three gains, and
    whether it sang (1) or not (0).
    """

    stage: np.ndarray = column("", "which was raised: 0 velocity gain, 1 integral, 2 position gain", "list")
    velocity_gain: np.ndarray = column("N·m·s/rad", "velocity gain then", "list")
    velocity_integral: np.ndarray = column("s", "integral time then; 0 where it was off", "list")
    position_gain: np.ndarray = column("1/s", "position gain then", "list")
    sang: np.ndarray = column("", "1 where it sang, hunted or overshot, 0 where it held", "list")


@record(frozen=True, eq=False, repr=False)
class Tuned:
    """The gains that follow [N·m·s/rad, s, 1/s]; None for what was not tried yet."""

    velocity_gain: float | None
    velocity_integral: float | None
    position_gain: float | None


def tuned(reading: TuningReading) -> Tuned:
    """Half of where the velocity gain began to sing, between the last that held and the first that sang; the last integral time
    and position gain that held, or twice, half of the first.
    """
    def rows(stage: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        there = reading.stage == stage
        outer = np.stack([reading.velocity_integral, reading.position_gain])
        return reading.velocity_gain[there], outer[:, there], reading.sang[there] > 0

    gains, _, sang = rows(0)
    velocity = None
    if gains.size:
        first = int(np.argmax(sang)) if sang.any() else gains.size
        velocity = half_of(gains.tolist(), first)

    def last_held(stage: int, column: int, otherwise: float) -> float | None:
        values, sang = rows(stage)[1][column], rows(stage)[2]
        if not values.size:
            return None
        return float(values[~sang][-1]) if (~sang).any() else otherwise * float(values[0])

    return Tuned(velocity, last_held(1, 0, 1 / HALF), last_held(2, 1, HALF))


def half_of(gains: list[float], first: int) -> float:
    """The gain that follows where the one at this place of rising ones was the first that sang; none did past the last."""
    if first >= len(gains):
        return gains[-1]
    return HALF * (math.sqrt(gains[first] * gains[first - 1]) if first else gains[first])


def fits(reading: TuningReading) -> None:
    """As many of each; known stages and answers; gains above 0. Raises ValueError."""
    for name in ("velocity_gain", "velocity_integral", "position_gain", "sang"):
        if getattr(reading, name).size != reading.stage.size:
            raise ValueError(f"{name} has {getattr(reading, name).size} rows for {reading.stage.size} stages")
    if not np.isin(reading.stage, range(len(STAGES))).all():
        raise ValueError("stage holds what is none; allowed is 0 velocity, 1 integral, 2 position")
    if not np.isin(reading.sang, (0, 1)).all():
        raise ValueError("sang holds what is no answer; allowed is 1 for yes, 0 for no")
    if np.any(reading.velocity_gain <= 0) or np.any(reading.velocity_integral < 0) or np.any(reading.position_gain <= 0):
        raise ValueError("a gain is not above 0, or an integral time below 0")


TUNING = ReadingKind(name="tuning", stage="Ring", words="gains raised until it sings", record=TuningReading, fits=fits)
