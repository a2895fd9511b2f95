"""Moves and the cycle they make: trapezoid, triangular and jerk-limited, cut into pieces.

Pieces stand on the last axis, so that a scan over many builds broadcasts in front of it.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from urban_mule.core.sheet import NotKnown, Reals, given, quantity

JERK_PIECES = 24  # per phase of changing acceleration: energy within 1e-4 of the integral


@dataclass(frozen=True, kw_only=True, eq=False, repr=False)
class Move:
    """One move of a cycle and the dwell after it."""

    distance: Reals = given("[travel]", "d", "how far, with its sign", nonzero=True)
    speed: Reals = given("[travel]/s", "v", "speed limit", above=0)
    acceleration: Reals = given("[travel]/s²", "a", "acceleration and deceleration", above=0)
    jerk: Reals = given("[travel]/s³", "j", "limit of the change of acceleration; none when empty", above=0)
    dwell: Reals = given("s", "t_d", "standstill after the move", default=0.0, least=0)


@dataclass(frozen=True, eq=False, repr=False)
class Pieces:
    """A cycle cut into pieces of constant jerk; arrays whose last axis is the piece.

    duration [s], speed_start and speed_end [travel/s], acceleration_start and acceleration_end [travel/s²], all with
    the sign of travel; direction +1, −1, or 0 in a dwell.
    """

    duration: Reals
    speed_start: Reals
    speed_end: Reals
    acceleration_start: Reals
    acceleration_end: Reals
    direction: Reals

    @property
    def distance(self) -> Reals:
        """Travel in each piece; exact for constant jerk."""
        mean = (self.speed_start + self.speed_end) / 2
        bend = (self.acceleration_start - self.acceleration_end) * self.duration / 12
        return self.duration * (mean + bend)


def lift(value: Reals) -> Reals:
    """A value with an axis for the pieces appended."""
    return np.asarray(value)[..., np.newaxis]


def trapezoid(distance: Reals, speed: Reals, acceleration: Reals) -> tuple[Reals, Reals, Reals]:
    """Duration of the speed-up, of the cruise [s] and the speed reached; triangular when the distance is short.

    distance, speed, acceleration: magnitudes in travel, travel/s, travel/s².
    """
    peak = np.minimum(speed, np.sqrt(distance * acceleration))
    ramp = peak / acceleration
    return ramp, distance / peak - ramp, peak


def jerk_limited(
    distance: Reals, speed: Reals, acceleration: Reals, jerk: Reals
) -> tuple[Reals, Reals, Reals, Reals]:
    """The seven-segment move: duration of a change of acceleration, of constant acceleration, of the cruise; speed.

    distance, speed, acceleration, jerk: magnitudes. A move that never reaches the acceleration or the speed has the
    segments that fall away at 0 s. The ramp to speed v takes v/a + a/j, or 2√(v/j) when v j < a², and covers half v
    times its duration, which the distance must hold twice.
    """
    with_plateau = (np.sqrt((acceleration**2 / jerk) ** 2 + 4 * acceleration * distance) - acceleration**2 / jerk) / 2
    without_plateau = np.cbrt(distance**2 * jerk / 4)
    reachable = np.where(with_plateau * jerk >= acceleration**2, with_plateau, without_plateau)
    peak = np.minimum(speed, reachable)
    change = np.minimum(acceleration / jerk, np.sqrt(peak / jerk))
    plateau = np.maximum(0.0, peak / (jerk * change) - change)
    cruise = np.maximum(0.0, distance / peak - (2 * change + plateau))
    return change, plateau, cruise, peak


def ramp_phases(move: Move) -> list[tuple[Reals, Reals, Reals]]:
    """The moving phases of one move: (duration, acceleration at its start, at its end), magnitudes along the travel."""
    for name in ("distance", "speed", "acceleration"):
        if getattr(move, name) is None:
            raise NotKnown(f"the {name} of a move is not given")
    distance, acceleration = abs(move.distance), move.acceleration
    if move.jerk is None:
        ramp, cruise, _ = trapezoid(distance, move.speed, acceleration)
        return [(ramp, acceleration, acceleration), (cruise, 0.0, 0.0), (ramp, -acceleration, -acceleration)]
    change, plateau, cruise, _ = jerk_limited(distance, move.speed, acceleration, move.jerk)
    top = move.jerk * change
    rise = [(change, 0.0, top), (plateau, top, top), (change, top, 0.0)]
    return [*rise, (cruise, 0.0, 0.0), *((t, -a, -b) for t, a, b in rise)]


def move_pieces(move: Move) -> list[tuple[Reals, ...]]:
    """Pieces of one move and its dwell as rows (duration, speed, speed, acceleration, acceleration, direction)."""
    rows: list[tuple[Reals, ...]] = []
    sign = np.sign(move.distance)
    speed: Reals = 0.0
    for duration, first, last in ramp_phases(move):
        parts = 1 if first is last or (np.ndim(first) == 0 and first == last) else JERK_PIECES
        for part in range(parts):
            begin = first + (last - first) * part / parts
            end = first + (last - first) * (part + 1) / parts
            after = speed + (begin + end) / 2 * duration / parts
            rows.append((duration / parts, sign * speed, sign * after, sign * begin, sign * end, sign))
            speed = after
        speed = np.maximum(speed, 0.0)
    rows.append((move.dwell, 0.0, 0.0, 0.0, 0.0, 0.0))
    return rows


@quantity("", symbol="", source="constant-jerk kinematics", structure=True,
          formula="each move cut where its jerk changes, and finely while the acceleration changes")
def cycle_pieces(cycle: tuple[Move, ...]) -> Pieces:
    """The whole cycle as pieces; cycle: its moves in order. Raises NotKnown."""
    if not cycle:
        raise NotKnown("the cycle has no move yet")
    rows = [row for move in cycle for row in move_pieces(move)]
    return Pieces(*(np.stack(np.broadcast_arrays(*column), axis=-1) for column in zip(*rows, strict=True)))


@quantity("s", symbol="t_c", source="sum of the moves and dwells", formula="∑ durations")
def cycle_duration(cycle_pieces: Pieces) -> Reals:
    """Time of one whole cycle with its dwells."""
    return np.sum(cycle_pieces.duration, axis=-1)


@quantity("[travel]/s", symbol="v_max", source="greatest speed of the cycle", formula="max |v|")
def top_speed(cycle_pieces: Pieces) -> Reals:
    """Greatest speed of the load that the cycle really reaches."""
    return np.max(np.abs(cycle_pieces.speed_end), axis=-1)


@quantity("[travel]/s²", symbol="a_max", source="greatest acceleration of the cycle", formula="max |a|")
def top_acceleration(cycle_pieces: Pieces) -> Reals:
    """Greatest acceleration of the load that the cycle really reaches."""
    return np.max(np.abs(cycle_pieces.acceleration_end), axis=-1)


@quantity("rad/s", symbol="ω_max", source="kinematics")
def peak_speed(top_speed: Reals, travel_per_radian: Reals) -> Reals:
    """Greatest speed of the motor shaft in the cycle; top_speed [travel/s], travel_per_radian [travel/rad]."""
    return top_speed / travel_per_radian


def sampled(pieces: Pieces, points_per_piece: int = 12) -> tuple[Reals, Reals, Reals, Reals]:
    """Dense samples for pictures: time [s], position, speed, acceleration of the load, for a single cycle."""
    part = np.linspace(0.0, 1.0, points_per_piece)
    start = np.concatenate([[0.0], np.cumsum(pieces.duration)[:-1]])[:, None]
    origin = np.concatenate([[0.0], np.cumsum(pieces.distance)[:-1]])[:, None]
    t = part * pieces.duration[:, None]
    jerk = np.divide(pieces.acceleration_end - pieces.acceleration_start, pieces.duration,
                     out=np.zeros_like(pieces.duration), where=pieces.duration > 0)[:, None]
    a0, v0 = pieces.acceleration_start[:, None], pieces.speed_start[:, None]
    position = origin + v0 * t + a0 * t**2 / 2 + jerk * t**3 / 6
    return (start + t).ravel(), position.ravel(), (v0 + a0 * t + jerk * t**2 / 2).ravel(), (a0 + jerk * t).ravel()
