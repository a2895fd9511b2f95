"""What a move leaves swinging when it ends, and how long that takes to die away.

Source: N. Singer and W. Seering, Preshaping Command Inputs to Reduce System Vibration, 1990; a lightly damped mode answers a step
of acceleration with a/ω², and what the speed-up left has decayed until the end.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from urban_mule.core.load.cycle import Move, capped, ramp_phases
from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.shaper import Shaper
from urban_mule.core.ring.tuned import surviving
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.record import record

USUAL_DAMPING = 0.03  # damping ratio of a computed mode until a record tells it
USUAL_SHARE = 0.25  # of the accuracy wanted: within what an axis has settled
USUAL_TOLERANCE = {"m": 25e-6, "rad": math.radians(0.01)}  # where no accuracy is wanted


class SettleTolerance:
    """Within what an axis counts as standing still."""

    settle_tolerance: Reals = given(
        "[travel]", "τ", "within what the swing counts as settled; a quarter of the accuracy wanted when empty", above=0,
        label="Settled within", shown=("µm", ""))


@record(frozen=True, eq=False, repr=False)
class Moved:
    """Kinds of moves of a cycle at speeds and accelerations that may be arrays; the kinds stand on the first axis.

    time: of each move without shaper, speeding_up: of its first ramp [s]; acceleration: the greatest that it reaches [travel/s²];
    times: how often it is made in a cycle; rest: the dwells of the whole cycle [s].
    """

    time: np.ndarray
    speeding_up: np.ndarray
    acceleration: np.ndarray
    times: np.ndarray
    rest: float


def moved(cycle: tuple[Move, ...], speed: Reals, acceleration: Reals) -> Moved:
    """The moves of a cycle, each no faster than speed [travel/s] and acceleration [travel/s²], its jerk kept; moves that are alike
    once. Raises NotKnown.
    """
    kinds: dict[tuple[Any, ...], list[Any]] = {}
    for move in cycle:
        key = (None if move.distance is None else abs(move.distance), move.speed, move.acceleration, move.jerk)
        kinds.setdefault(key, [move, 0.0])[1] += float(move.repeat)
    speed, acceleration = np.broadcast_arrays(np.asarray(speed, dtype=float), np.asarray(acceleration, dtype=float))
    found = []
    for one in capped(tuple(move for move, _ in kinds.values()), speed, acceleration):
        phases = ramp_phases(one)
        ramp = phases[: len(phases) // 2]
        found.append([np.broadcast_to(one, speed.shape) for one in (
            sum(duration for duration, _, _ in phases), sum(duration for duration, _, _ in ramp),
            np.max([np.broadcast_to(end, speed.shape) for _, first, last in ramp for end in (first, last)], axis=0))])
    time, up, top = (np.stack(one) for one in zip(*found, strict=True))
    rest = float(sum(move.dwell * move.repeat for move in cycle))
    return Moved(time, up, top, np.array([times for _, times in kinds.values()]), rest)


def lifts(moves: Moved, mode: Mode) -> np.ndarray:
    """The swing that each move leaves of a mode without shaper, worst phase [travel]:
    a/ω²·(1 + e^(−ζωt_a))·(1 + e^(−ζω(T − t_a))).
    """
    omega = 2 * math.pi * mode.frequency
    fades = mode.damping_ratio * omega
    return np.asarray(moves.acceleration / omega**2 * (1 + np.exp(-fades * moves.speeding_up))
                      * (1 + np.exp(-fades * (moves.time - moves.speeding_up))))


def settling(swing: Reals, tolerance: float, mode: Mode) -> np.ndarray:
    """How long a swing [travel] takes until it is within a tolerance [travel]: ln(x/τ)/(ζω), not below 0 [s]."""
    swing = np.asarray(swing, dtype=float)
    beyond = np.log(np.maximum(swing / tolerance, 1.0))
    return np.asarray(beyond / (mode.damping_ratio * 2 * math.pi * mode.frequency))


def left_by(shaper: Shaper, mode: Mode) -> float:
    """The greatest share that a shaper leaves of a mode that is up to 7 % off [1]."""
    return float(surviving(shaper.times[None, :], shaper.amplitudes, (mode,))[0])
