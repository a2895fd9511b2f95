"""Moves and the cycle they make: trapezoid, triangular and jerk-limited, cut into pieces.

Pieces stand on the last axis, so that a scan over many builds broadcasts in front of it.
"""

from __future__ import annotations

from dataclasses import fields

import numpy as np

from urban_mule.core.load.fellow import Fellow, of_both
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.verdict import Way

EASED = 0.8  # of what the cycle asks: far enough to tell whether it helps
MANY_MOVES = 20  # from which on it is quicker to cut them all at once
JERK_PIECES = 2  # per phase of changing acceleration: so many that a torque bends once at most within one


@record(frozen=True, kw_only=True, eq=False, repr=False)
class Move:
    """One move of a cycle and the dwell after it."""

    distance: Reals = given("[travel]", "d", "how far, with its sign", nonzero=True)
    speed: Reals = given("[travel]/s", "v", "speed limit", above=0)
    acceleration: Reals = given("[travel]/s²", "a", "acceleration and deceleration", above=0)
    jerk: Reals = given("[travel]/s³", "j", "limit of the change of acceleration; none when empty", above=0)
    dwell: Reals = given("s", "t_d", "standstill after the move", default=0.0, least=0)
    process_load: Reals = given("[effort]", "F_p", "what the work resists with during this move; the axis' own when empty", least=0)
    repeat: Reals = given("", "n_r", "how often the move and its dwell are made before the next", default=1, whole=True, least=1)


@record(frozen=True, eq=False, repr=False)
class Pieces:
    """A cycle cut into pieces of constant jerk; arrays whose last axis is the piece.

    duration [s], speed_start and speed_end [travel/s], acceleration_start and acceleration_end [travel/s²], all with
    the sign of travel; direction +1, −1, or 0 in a dwell; process_load [effort], nan where the axis' own holds; times:
    how often the piece occurs in a cycle; move: the place in the cycle of the move that the piece belongs to.
    """

    duration: Reals
    speed_start: Reals
    speed_end: Reals
    acceleration_start: Reals
    acceleration_end: Reals
    direction: Reals
    process_load: Reals
    times: Reals
    move: Reals

    @property
    def time_spent(self) -> Reals:
        """Time of each piece in a whole cycle, its repeats together [s]."""
        return self.duration * self.times

    @property
    def distance(self) -> Reals:
        """Travel in each piece, once; exact for constant jerk."""
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
    distance, speed, acceleration, jerk: [travel] and its rates per s, s², s³.
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
    """The moving phases of one move: (duration, acceleration at its start, at its end), magnitudes along the travel.

    Raises NotKnown.
    """
    _complete([move])
    distance, acceleration = abs(move.distance), move.acceleration
    if move.jerk is None:
        ramp, cruise, _ = trapezoid(distance, move.speed, acceleration)
        return [(ramp, acceleration, acceleration), (cruise, 0.0, 0.0), (ramp, -acceleration, -acceleration)]
    change, plateau, cruise, _ = jerk_limited(distance, move.speed, acceleration, move.jerk)
    top = move.jerk * change
    rise = [(change, 0.0, top), (plateau, top, top), (change, top, 0.0)]
    return [*rise, (cruise, 0.0, 0.0), *((t, -a, -b) for t, a, b in rise)]


def _complete(moves: list[Move]) -> None:
    """Nothing, where every move says how far and how fast. Raises NotKnown."""
    lacking = [name for name in ("distance", "speed", "acceleration") if any(getattr(move, name) is None for move in moves)]
    if lacking:
        raise NotKnown(f"the {lacking[0]} of a move is not given", *(f"cycle.{name}" for name in lacking))


def slowed(cycle: tuple[Move, ...], share: float) -> tuple[Move, ...]:
    """The cycle with every move's speed limit at a share of what it was. share: [1]."""
    return tuple(Move(**{**vars(move), "speed": move.speed * share}) for move in cycle)


def eased(cycle: tuple[Move, ...], share: float) -> tuple[Move, ...]:
    """The cycle with every move's acceleration at a share of what it was. share: [1]."""
    return tuple(Move(**{**vars(move), "acceleration": move.acceleration * share}) for move in cycle)


def capped(cycle: tuple[Move, ...], speed: Reals, acceleration: Reals) -> tuple[Move, ...]:
    """The cycle with no move faster than speed [travel/s] and acceleration [travel/s²], its jerk kept. Raises NotKnown."""
    _complete(list(cycle))
    return tuple(Move(**{**vars(move), "speed": np.minimum(move.speed, speed),
                         "acceleration": np.minimum(move.acceleration, acceleration)}) for move in cycle)


def slower(cycle: tuple[Move, ...]) -> Way:
    """To run the cycle slower, as advice that can be tried."""
    return Way("run the cycle slower", {"cycle": slowed(cycle, EASED)})


def gentler(cycle: tuple[Move, ...]) -> Way:
    """To accelerate more gently, as advice that can be tried."""
    return Way("accelerate more gently", {"cycle": eased(cycle, EASED)})


def move_pieces(move: Move, place: Reals = 0) -> list[tuple[Reals, ...]]:
    """Pieces of one move and its dwell as rows in the order of the fields of `Pieces`; place: the move's, in its cycle."""
    rows: list[tuple[Reals, ...]] = []
    phases, sign = ramp_phases(move), np.sign(move.distance)
    work = np.nan if move.process_load is None else move.process_load
    speed: Reals = 0.0
    for duration, first, last in phases:
        parts = 1 if first is last or bool(np.all(np.equal(first, last))) else JERK_PIECES
        for part in range(parts):
            begin = first + (last - first) * part / parts
            end = first + (last - first) * (part + 1) / parts
            after = speed + (begin + end) / 2 * duration / parts
            rows.append((duration / parts, sign * speed, sign * after, sign * begin, sign * end, sign, work, move.repeat, place))
            speed = after
        speed = np.maximum(speed, 0.0)
    rows.append((move.dwell, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, move.repeat, place))
    return rows


@quantity("", symbol="", source="constant-jerk kinematics", structure=True,
          formula="each move cut where its jerk changes, and finely while the acceleration changes")
def cycle_pieces(cycle: tuple[Move, ...]) -> Pieces:
    """The whole cycle as pieces; cycle: its moves in order. Raises NotKnown."""
    if not cycle:
        raise NotKnown("the cycle has no move yet", "cycle")
    if len(cycle) >= MANY_MOVES and not any(isinstance(value, np.ndarray) for move in cycle for value in vars(move).values()):
        return _all_at_once(cycle)
    rows = [row for place, move in enumerate(cycle) for row in move_pieces(move, place)]
    return Pieces(*map(_pieces_last, zip(*rows, strict=True)))


def _all_at_once(cycle: tuple[Move, ...]) -> Pieces:
    """The pieces of many moves of a single build: those with a jerk together, and those without, then in their order."""
    columns: list[list[np.ndarray]] = []
    for limited in (False, True):
        places = [place for place, move in enumerate(cycle) if (move.jerk is not None) is limited]
        if places:
            rows = move_pieces(_together([cycle[place] for place in places]), np.array(places))
            columns.append([np.stack(np.broadcast_arrays(*column), axis=-1).ravel() for column in zip(*rows, strict=True)])
    found = [np.concatenate(parts) for parts in zip(*columns, strict=True)]
    order = np.argsort(found[-1], kind="stable")
    return Pieces(*(column[order] for column in found))


def _together(moves: list[Move]) -> Move:
    """Many moves as one, its figures arrays over them; all have a jerk or none. Raises NotKnown."""
    _complete(moves)
    figures = {name: np.array([np.nan if (value := getattr(move, name)) is None else value for move in moves])
               for name in (one.name for one in fields(Move))}
    return Move(**{**figures, "jerk": None if moves[0].jerk is None else figures["jerk"]})


def _pieces_last(column: tuple[Reals, ...]) -> Reals:
    """One value of every piece as an array whose last axis is the piece."""
    if any(isinstance(value, np.ndarray) for value in column):
        return np.stack(np.broadcast_arrays(*column), axis=-1)
    return np.array(column)  # one build: an array from plain numbers at a tenth of the cost


@quantity("s", symbol="t_c", source="sum of the moves and dwells", formula="∑ durations")
def cycle_duration(cycle_pieces: Pieces) -> Reals:
    """Time of one whole cycle with its dwells and repeats."""
    return np.sum(cycle_pieces.time_spent, axis=-1)


@quantity("", symbol="s_m", source="time in motion over the whole cycle", formula="∑ moving durations ÷ t_c", shown="%")
def moving_share(cycle_pieces: Pieces, cycle_duration: Reals) -> Reals:
    """Share of the cycle in which the axis moves; cycle_duration [s]."""
    return np.sum(cycle_pieces.time_spent * (cycle_pieces.direction != 0), axis=-1) / cycle_duration


@quantity("[travel]/s", symbol="v_max", source="greatest speed of the cycle", formula="max |v|", label="Speed of the cycle")
def top_speed(cycle_pieces: Pieces) -> Reals:
    """Greatest speed of the load that the cycle really reaches."""
    return np.max(np.abs(cycle_pieces.speed_end), axis=-1)


@quantity("[travel]/s²", symbol="a_max", source="greatest acceleration of the cycle", formula="max |a|",
          label="Acceleration of the cycle")
def top_acceleration(cycle_pieces: Pieces) -> Reals:
    """Greatest acceleration of the load that the cycle really reaches."""
    return np.max(np.abs(cycle_pieces.acceleration_end), axis=-1)


def begins(pieces: Pieces) -> np.ndarray:
    """The place of the first piece of each move; the pieces of a move stand one after another."""
    move = np.asarray(pieces.move)
    return np.flatnonzero(np.diff(move.reshape(-1, move.shape[-1])[0], prepend=-1))


def by_move(pieces: Pieces, of: Reals) -> Reals:
    """What a figure of the pieces sums to over each move; the last axis of `of` is the piece, that of the sums the move."""
    return np.asarray(np.add.reduceat(of, begins(pieces), axis=-1))


def ramps(pieces: Pieces, of: Reals, speeding_up: bool) -> Reals:
    """What a figure of the pieces sums to over the speeding up, or the slowing down, of each move."""
    sense = (pieces.acceleration_start + pieces.acceleration_end) * pieces.direction
    return by_move(pieces, of * (sense > 0 if speeding_up else sense < 0))


@quantity("[travel]", symbol="x_c", source="kinematics: the way of the moves one after another, repeats included",
          formula="max x − min x over the cycle", label="Span of the cycle")
def cycle_span(cycle_pieces: Pieces) -> Reals:
    """From end to end of where the cycle goes, wherever it begins."""
    ends = np.cumsum(by_move(cycle_pieces, cycle_pieces.distance * cycle_pieces.times), axis=-1)
    return np.maximum(np.max(ends, axis=-1), 0.0) - np.minimum(np.min(ends, axis=-1), 0.0)


@quantity("[travel]", symbol="x_b", source="constant-jerk kinematics, each move with its own speed, acceleration and jerk",
          formula="max v/2·(v/a + a/j) over the moves", label="Distance to stop")
def braking_distance(cycle_pieces: Pieces) -> Reals:
    """The longest way that a move of the cycle needs to stop from its top speed."""
    return np.max(ramps(cycle_pieces, np.abs(cycle_pieces.distance), False), axis=-1)


@quantity("s", symbol="t_a", source="constant-jerk kinematics, each move with its own speed, acceleration and jerk",
          formula="min (v/a + a/j) over the moves", label="Shortest speed-up")
def shortest_speed_up(cycle_pieces: Pieces) -> Reals:
    """How long the quickest speeding up of the cycle lasts."""
    return np.min(ramps(cycle_pieces, cycle_pieces.duration, True), axis=-1)


@quantity("rad/s", symbol="ω_max", source="kinematics", shown="rpm")
def peak_speed(
    top_speed: Reals, travel_per_radian: Reals, pair_peak_speed: Reals = None, fellow: Fellow | None = None
) -> Reals:
    """Greatest speed of the motor shaft in the cycle, of a pair in both at once; top_speed [travel/s], travel_per_radian
    [travel/rad], pair_peak_speed [rad/s]. Raises NotKnown.
    """
    return of_both(top_speed / travel_per_radian, pair_peak_speed, fellow)


MOST_UNROLLED = 40  # of a move that is repeated more often a picture shows so many


def unrolled(pieces: Pieces) -> np.ndarray:
    """The places of the pieces in the order in which they happen, repeated moves as often as a picture can show.

    Of a single cycle. `take` them to draw the cycle as it runs.
    """
    order: list[int] = []
    first = begins(pieces).tolist()
    for begin, end in zip(first, [*first[1:], len(pieces.move)], strict=True):
        order += [*range(begin, end)] * int(min(pieces.times[begin], MOST_UNROLLED))
    return np.array(order, dtype=int)


def take(pieces: Pieces, order: np.ndarray) -> Pieces:
    """The pieces at these places."""
    return Pieces(*(getattr(pieces, field.name)[order] for field in fields(pieces)))


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
