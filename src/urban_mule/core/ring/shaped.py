"""What really swings when a shaped move ends, by a record of one: friction and detent leave what no shaper takes away."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import lru_cache
from typing import Any

import numpy as np

from urban_mule.core.load.cycle import Move
from urban_mule.core.readings.acceleration import AccelerationReading
from urban_mule.core.readings.shapers import NONE, TWO_MODES
from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.set_shaper import Tried, shaper_of
from urban_mule.core.ring.swing import lifts, moved
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

PERIODS, LEAST_PERIODS = 6, 1.5  # of the slowest mode: how much of a record is looked at, and how much it needs
APART = 1.2  # times another frequency from which on a mode is one of its own
OFF = np.linspace(0.85, 1.15, 13).tolist()  # of a mode's frequency: where it is looked for at first
DAMPED = (0.01, 0.02, 0.04, 0.08, 0.15)
FINER = (0.02, 0.01, 0.005)  # of what was found: how finely it is looked for then
ROUNDS, RIDGE = 2, 1e-12
GRAIN, MOST = 1.03, 3  # frequencies that count as one; modes that are fitted
SAME = 0.05  # Hz that one setting of a shaper is told from the next


@record(frozen=True, eq=False, repr=False)
class Really:
    """What a record of a shaped move shows of it.

    shaper, frequency [Hz]: as it was set; promised, found [travel]: the swing that was to be left, and that was. share: what this
    shaper really leaves; floor [travel]: what friction and detent leave, whatever is set.
    """

    shaper: str
    frequency: float | None
    promised: float
    found: float
    share: float
    floor: float

    def is_of(self, tried: Tried) -> bool:
        """Whether this shaper is the one that was recorded."""
        alike = self.frequency is None or (tried.frequency is not None and abs(tried.frequency - self.frequency) < SAME)
        return tried.name == self.shaper and alike


@record(frozen=True, eq=False, repr=False)
class Swinging:
    """What an axis swings in, within what it has settled [travel], and what a record of a shaped move told, if there is one."""

    mode: Mode
    tolerance: float
    really: Really | None = None

    def as_found(self, tried: Tried) -> Tried:
        """A shaper with what it leaves; the recorded one with what it left."""
        if self.really is None or not self.really.is_of(tried):
            return tried
        return replace(tried, left=self.really.share)

    def left_of(self, swing: Reals) -> Reals:
        """A swing of what is linear with the floor that friction and detent leave beneath it [travel]."""
        return swing if self.really is None else np.hypot(swing, self.really.floor)


def _shapes(time: np.ndarray, frequency: float, damping_ratio: float) -> np.ndarray:
    omega = 2 * math.pi * frequency
    return np.asarray(np.exp(-damping_ratio * omega * time)[:, None]
                      * np.stack([np.cos(omega * time), np.sin(omega * time)], axis=1))


def swing_at_end(time: np.ndarray, values: np.ndarray, guesses: list[float]) -> float:
    """How far it swings just after the beginning of a record [m or rad]: its modes near the guesses fitted together to what rings
    down, each direction by itself; of the direction that swings most.

    time: [s], n; values: [m/s²], n × directions; guesses: [Hz]. Raises NotKnown for a record that is too short.
    """
    time = time - time[0]
    whole = float(time[-1])
    slowest = min(guesses)
    if whole < LEAST_PERIODS / slowest or time.size < 8:
        raise NotKnown(f"the record of the shaped move lasts {whole:.2g} s; at least {LEAST_PERIODS / slowest:.2g} s are needed")
    kept = time <= PERIODS / slowest
    at, rows = time[kept], values[kept]
    found = [(guess, DAMPED[1]) for guess in guesses]

    def fitted(modes: list[tuple[float, float]]) -> tuple[float, np.ndarray]:
        shapes = np.hstack([np.ones((at.size, 1)), *(_shapes(at, *mode) for mode in modes)])
        squared = shapes.T @ shapes
        weights = np.linalg.solve(squared + RIDGE * np.trace(squared) * np.eye(len(squared)), shapes.T @ rows)
        return float(np.sum((shapes @ weights - rows) ** 2)), weights

    def better(place: int, offs: list[float], dampings: list[float]) -> list[tuple[float, float]]:
        tries = [[*found[:place], (found[place][0] * off, damped), *found[place + 1:]] for off in offs for damped in dampings]
        return min([found, *tries], key=lambda modes: fitted(modes)[0])

    for _ in range(ROUNDS):
        for place in range(len(guesses)):
            found = better(place, OFF, list(DAMPED))
            for step in FINER:
                found = better(place, [1 - step, 1.0, 1 + step], [found[place][1] * (1 + 10 * off) for off in (-step, 0.0, step)])
    weights = fitted(found)[1][1:]
    fine = np.linspace(0, min(1 / slowest, whole), 200)
    swung = sum(_shapes(fine, *mode) @ weights[2 * n:2 * n + 2] / (2 * math.pi * mode[0]) ** 2 for n, mode in enumerate(found))
    return float(np.abs(swung).max())


@lru_cache(maxsize=8)  # the same record is looked at with every edit of anything else
def _swing(reading: AccelerationReading, guesses: tuple[float, ...]) -> float:
    return swing_at_end(reading.time, reading.values, list(guesses))


@quantity("[travel]", symbol="x_m", source="the modes fitted to what rings down after the move", formula="max |∑ a_m ÷ ω_m²|",
          label="Swing left, as recorded", shown=("µm", ""))
def recorded_swing(
    shaped_reading: AccelerationReading, swinging_mode: Mode, modes: tuple[Mode, ...] | None = None,
) -> float:
    """How far it really swung when the recorded move had ended. Raises NotKnown for a record that is too short."""
    guesses: list[float] = []
    for one in (swinging_mode, *(modes or ())):
        near = GRAIN ** round(math.log(one.frequency, GRAIN))  # so that a small edit asks for no other fit
        if all(max(near / other, other / near) > APART for other in guesses):
            guesses.append(near)
    return _swing(shaped_reading, tuple(guesses[:MOST]))


@quantity("", symbol="x_0", source="the swing recorded beside the one that is linear", structure=True,
          formula="x_0 = √(x_m² − (a·V/ω²·…)²) where more was left, else V by the record")
def really_left(
    shaped_reading: AccelerationReading, recorded_swing: float, swinging_mode: Mode, path_tolerance: float,
    two_mode_shaper: dict[str, Any] | None = None,
) -> Really:
    """What a shaped move really leaves, by the last record of one."""
    one = shaped_reading
    move = Move(distance=one.move_distance, speed=one.move_speed, acceleration=one.move_acceleration)
    lift = float(lifts(moved((move,), one.move_speed, one.move_acceleration), swinging_mode).max())
    left = shaper_of(one.shaped, one.shaped_frequency, swinging_mode, path_tolerance, two_mode_shaper).left
    floor = math.sqrt(max(recorded_swing**2 - (lift * left) ** 2, 0.0))
    plain = one.shaped in (NONE, TWO_MODES)
    return Really(one.shaped, None if plain else one.shaped_frequency, lift * left, recorded_swing,
                  min(left, recorded_swing / lift), floor)


@quantity("", symbol="", source="the mode, what counts as settled, and the last record of a shaped move", structure=True,
          formula="f, ζ; τ; x_0")
def swinging(swinging_mode: Mode, settled_within: float, really_left: Really | None = None) -> Swinging:
    """What moves are left swinging in."""
    return Swinging(swinging_mode, settled_within, really_left)
