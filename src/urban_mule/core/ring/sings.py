"""Whether an axis sings, hunts or overshoots on a move, by a trace of it: what a person hears and sees beside the machine."""

from __future__ import annotations

import numpy as np

from urban_mule.core.ring.response import rings_at

AWAY, RUNNING = 0.02, 0.015  # of the greatest: how strong a ringing at rest is, or while it runs evenly, that is heard
GOES_ON = 0.6  # of what it was at first: a ringing that keeps so much of itself does not die away
STILL = 1e-6  # of the greatest: a change of the command that is none
LEAST = 24  # samples in which a song can be told
OVERSHOT = {"velocity": np.inf, "integral": 0.3, "position": 0.05}  # of the greatest speed, of the way


def _song(time: np.ndarray, left: np.ndarray, least: float) -> bool:
    """Whether what is left over goes on ringing at least so strongly."""
    if left.size < LEAST:
        return False
    late = left.size // 2
    before, last = (float(np.ptp(part)) for part in np.array_split(left[late:], 2))
    return last > least and last > GOES_ON * before and rings_at(time[late:], left[late:], least) is not None


def sings(what: str, time: np.ndarray, commanded: np.ndarray, actual: np.ndarray) -> bool:
    """Whether it sang while `what` was raised: velocity gain or integral, by a trace of speeds, or position gain, by one of places;
    time [s].
    """
    way = np.sign(commanded[-1] - commanded[0]) or 1.0
    over = float(((actual - commanded.max()) if way > 0 else (commanded.min() - actual)).max()) / (float(np.ptp(commanded)) or 1.0)
    if over > OVERSHOT[what]:
        return True
    if what == "position":
        time, commanded, actual = time[1:], np.diff(commanded) / np.diff(time), np.diff(actual) / np.diff(time)
    scale = float(np.abs(commanded).max()) or 1.0
    rest = int(np.flatnonzero(np.append(True, np.abs(np.diff(commanded)) > STILL * scale))[-1])
    if _song(time[rest:], (actual - commanded)[rest:], AWAY * scale):
        return True
    even = np.flatnonzero((np.abs(np.diff(commanded)) <= STILL * scale) & (np.abs(commanded[1:]) > scale / 2))
    return _song(time[even], (actual - commanded)[even], RUNNING * scale)
