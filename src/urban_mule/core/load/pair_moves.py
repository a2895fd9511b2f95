"""What both motors of a pair give over one move: along one axis, or along both at once."""

from __future__ import annotations

import numpy as np

from urban_mule.core.load.cycle import Pieces
from urban_mule.core.load.torque import motor_torque
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.record import record
from urban_mule.core.train.link import Link

INSTANTS = 400
Drive = tuple[Pieces, Reals]  # of one axis: pieces of its cycle, what one train puts on the load in them [N] at both ends


@record(frozen=True, eq=False, repr=False)
class PairMove:
    """One move over time [s]: torque [N·m] and shaft speed [rad/s] of motor A and of motor B, a row each."""

    time: Reals
    torque: Reals
    speed: Reals


def lasts(drive: Drive) -> float:
    """How long the first move of a cycle takes [s]."""
    pieces = drive[0]
    return float(np.sum(pieces.duration[_first(pieces)]))


def _first(pieces: Pieces) -> Reals:
    return (pieces.move == pieces.move[0]) & (pieces.direction != 0)


def _at(drive: Drive | None, time: Reals) -> tuple[Reals, Reals, Reals]:
    """Acceleration, speed and force on one train of the first move at these times; nothing where the axis stands."""
    if drive is None:
        return np.zeros_like(time), np.zeros_like(time), np.zeros_like(time)
    pieces, loads = drive
    there = _first(pieces)
    duration, start, end = pieces.duration[there], pieces.acceleration_start[there], pieces.acceleration_end[there]
    ends = np.cumsum(duration)
    place = np.minimum(np.searchsorted(ends, time, side="right"), ends.size - 1)
    share = (time - (ends - duration)[place]) / duration[place]
    moves = time < ends[-1]
    acceleration = start[place] + (end - start)[place] * share
    speed = pieces.speed_start[there][place] + duration[place] * (start[place] * share + (end - start)[place] * share**2 / 2)
    first, last = loads[0][there], loads[1][there]
    load = first[place] + (last - first)[place] * share
    return np.where(moves, acceleration, 0.0), np.where(moves, speed, 0.0), np.where(moves, load, 0.0)


def pair_move(
    train: tuple[Link, ...], first: Drive | None, second: Drive | None, travel_per_radian: float, shaft_inertia: float
) -> PairMove:
    """The first moves of the axis of motor A and of that of motor B, begun at the same instant; None: that axis stands.

    travel_per_radian [m/rad], shaft_inertia [kg·m²]. Source: q_A = x + y, q_B = x − y.
    """
    time = np.linspace(0.0, max(lasts(one) for one in (first, second) if one is not None), INSTANTS)
    (a, v, f), (other_a, other_v, other_f) = _at(first, time), _at(second, time)
    torques, speeds = [], []
    for sign in (1, -1):
        acceleration, speed = a + sign * other_a, v + sign * other_v
        torques.append(motor_torque(train, acceleration, np.sign(speed), f + sign * other_f, travel_per_radian, shaft_inertia))
        speeds.append(speed / travel_per_radian)
    return PairMove(time, np.array(torques), np.array(speeds))
