"""Inside the pieces of a cycle: cut where an effort changes its sign, searched where something is greatest.

While the acceleration changes, the torque is linear in time between changes of sign of the effort at any link, for there
the losses change sides. Between such cuts it is linear, the speed is quadratic, and their product cubic.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from urban_mule.core.load.cycle import Pieces
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.record import record
from urban_mule.core.train.fold import efforts_through_train
from urban_mule.core.train.link import Link

SEARCHED = 3  # pieces looked into at once for each build
ROUNDS_OF_ONE, ROUNDS_OF_MANY = 7, 2  # times that the best place is closed in on: within 1e-6 of one build, 1e-3 in a scan
GRID = np.linspace(0, 1, 9)


@record(frozen=True, eq=False, repr=False)
class CycleTorque:
    """Torque of one motor [N·m] at the start and the end of each piece, and shaft speed [rad/s] there.

    bend: how far the speed in the middle of a piece lies above the mean of its ends [rad/s]. moving: where it moves. pieces:
    those of the cycle, cut so that the torque is linear in time and of one sign in each. bent: whether any acceleration changes.
    """

    start: Reals
    end: Reals
    speed_start: Reals
    speed_end: Reals
    bend: Reals
    moving: Reals
    pieces: Pieces
    bent: bool

    def inside(self, share: Reals) -> tuple[Reals, Reals]:
        """Speed [rad/s] and torque [N·m] at a share of the time of each piece."""
        return moment((self.start, self.end, self.speed_start, self.speed_end, self.bend), share)

    @property
    def happens(self) -> Reals:
        """Where a piece takes any time, or moves."""
        return self.moving | (self.pieces.duration > 0)


def moment(ends: Sequence[Reals], share: Reals) -> tuple[Reals, Reals]:
    """Speed [rad/s] and torque [N·m] at a share of the time of pieces; ends: torque and speed at both, and the bend."""
    start, end, speed_start, speed_end, bend = ends
    return speed_start + (speed_end - speed_start) * share + 4 * share * (1 - share) * bend, start + (end - start) * share


def edges_of_signs(
    train: tuple[Link, ...], pieces: Pieces, loads: Reals, travel_per_radian: Reals, shaft_inertia: Reals
) -> Reals:
    """Shares of each piece's time, from 0 to 1 on the first axis, at which the effort at a link or the shaft changes sign.

    loads [N or N·m] at both ends of each piece (first axis), travel_per_radian and shaft_inertia [kg·m²] lifted.
    """
    (l0, l1), a0, a1 = loads, pieces.acceleration_start, pieces.acceleration_end
    shape = np.broadcast(l0, a0 / travel_per_radian, *(value for link in train for value in _arrays(link))).shape
    edges = np.stack([np.zeros(shape), np.ones(shape)])
    for depth in range(len(train), -1, -1):
        if depth == 0:  # only here the motor has a say: before, there is one of each train however many motors there are
            shape = np.broadcast_shapes(shape, np.shape(shaft_inertia))
            edges = np.stack([np.broadcast_to(edge, shape) for edge in edges])
        turning = (a0 + (a1 - a0) * edges) / travel_per_radian
        effort = efforts_through_train(train, l0 + (l1 - l0) * edges, pieces.direction, turning)[depth]
        effort = np.broadcast_to(effort + (shaft_inertia * turning if depth == 0 else 0.0), edges.shape)
        before, after = effort[:-1], effort[1:]
        crosses = (before * after < 0) & (pieces.direction != 0)
        most = int(crosses.sum(axis=0).max())  # an effort that bends within a piece may change its sign more than once
        if most:
            part = np.divide(before, before - after, out=np.ones(before.shape), where=crosses)
            roots = np.where(crosses, edges[:-1] + (edges[1:] - edges[:-1]) * part, 1.0)
            edges = np.sort(np.concatenate([edges, np.sort(roots, axis=0)[:most]]), axis=0)
    return edges


def _arrays(link: Link) -> list[Reals]:
    return [value for value in vars(link).values() if isinstance(value, np.ndarray)]


def cut(pieces: Pieces, loads: Reals, edges: Reals) -> tuple[Pieces, Reals]:
    """The pieces and their loads cut at these shares of their time; of a single build without those that take no time.

    edges: shares [1] of each piece's time.
    """
    def at(first: Reals, last: Reals, share: Reals) -> Reals:
        return first + (last - first) * share

    a0, a1 = pieces.acceleration_start, pieces.acceleration_end
    speed = pieces.speed_start + pieces.duration * (a0 * edges + (a1 - a0) * edges**2 / 2)
    shares = np.diff(edges, axis=0)
    load = at(loads[0], loads[1], edges)
    changing = (pieces.duration * shares, speed[:-1], speed[1:], at(a0, a1, edges[:-1]), at(a0, a1, edges[1:]), load[:-1], load[1:])
    flat = [np.moveaxis(row, 0, -1).reshape(*row.shape[1:-1], -1) for row in changing]
    same = [np.repeat(row, len(shares), axis=-1) for row in (pieces.direction, pieces.process_load, pieces.times, pieces.move)]
    if flat[0].ndim == 1:
        kept = (flat[0] > 0) | (same[0] == 0) & (np.arange(flat[0].size) % len(shares) == 0)
        flat, same = ([row[kept] for row in rows] for rows in (flat, same))
    return Pieces(*flat[:5], *same), np.stack(flat[5:])


def greatest(c: CycleTorque, of: Callable[[Reals, Reals], Reals]) -> tuple[Reals, ...]:
    """Where something is greatest in the moving pieces: its value, and speed [rad/s] and torque [N·m] there.

    of: from magnitudes of speed and torque, moments on the last axis; it does not fall with either, so that no piece gives more
    than its greatest speed and torque together, and one in which they are greatest at the same end gives that there.
    """
    ends: list[Reals] = [c.start, c.end, c.speed_start, c.speed_end, c.bend]
    counted = c.moving & (c.pieces.duration > 0)
    if any(np.ndim(one) > 1 for one in ends):  # of one build it costs more to find out
        kept = _not_beaten(ends, counted)
        ends, counted = [one[..., kept] if np.shape(one)[-1:] == counted.shape[-1:] else one for one in ends], counted[..., kept]
    start, end, speed_start, speed_end, _ = ends
    faster, harder = np.abs(speed_end) - np.abs(speed_start), np.abs(end) - np.abs(start)
    speed, torque = np.maximum(np.abs(speed_start), np.abs(speed_end)), np.maximum(np.abs(start), np.abs(end))
    bound = np.where(counted, of(speed, torque), -np.inf)
    at_end = (faster >= 0) & (harder >= 0)
    at_one = at_end | (faster <= 0) & (harder <= 0)  # speed and torque are greatest at the same end: the bound is reached there
    reached = np.where(at_one, bound, -np.inf)
    best = np.argmax(reached, axis=-1)[..., None]
    found: tuple[Reals, ...] = tuple(_there(one, best, bound.shape) for one in (
        reached, np.where(at_end, speed_end, speed_start), np.where(at_end, end, start)))
    if np.all(at_one):
        return found
    ends = [np.broadcast_to(one, bound.shape) for one in ends]
    bound = np.where(at_one, -np.inf, np.where(np.isnan(bound), np.inf, bound))  # beyond what can be said: looked into first
    order = np.argsort(-bound, axis=-1)
    for first in range(0, bound.shape[-1], SEARCHED):
        places = order[..., first:first + SEARCHED]
        left = np.take_along_axis(bound, places[..., :1], axis=-1)[..., 0]
        if not np.any(left > found[0] + 1e-9 * np.where(np.isfinite(found[0]), np.abs(found[0]), 0.0)):
            break
        here = _closed_in([np.take_along_axis(one, places, axis=-1) for one in ends], of,
                          np.take_along_axis(bound, places, axis=-1) > -np.inf)
        higher = (here[0] > found[0]) | np.isnan(here[0])
        found = tuple(np.where(higher, new, old) for new, old in zip(here, found, strict=True))
    return found


def _not_beaten(ends: list[Reals], counted: Reals) -> np.ndarray:
    """The places of the pieces that may decide: none that is slower and asks for less, in every build, than an end of another."""
    start, end, speed_start, speed_end, _ = (np.abs(np.broadcast_arrays(one, counted)[0]) for one in ends)
    speed, torque = np.maximum(speed_start, speed_end), np.maximum(start, end)
    over = tuple(range(np.broadcast(speed, torque).ndim - 1))
    always = np.all(np.atleast_2d(counted), axis=tuple(range(np.atleast_2d(counted).ndim - 1)))
    hardest = np.argsort(-(np.mean(speed, axis=tuple(range(speed.ndim - 1))) * np.mean(torque, axis=tuple(range(torque.ndim - 1)))))
    gone = np.zeros(counted.shape[-1], dtype=bool)
    for place in hardest:  # what one beats that is itself beaten, the other beats too: who is gone need not be asked
        if gone[place] or not always[place]:
            continue
        beaten = np.zeros(gone.size, dtype=bool)
        for fast, strong in ((speed_start, start), (speed_end, end)):
            beaten |= np.all((fast[..., place, None] >= speed) & (strong[..., place, None] >= torque), axis=over)
        beaten[place] = False  # of pieces that are the same the first one stays
        gone |= beaten
    return np.flatnonzero(~gone)


def _there(values: Reals, place: Reals, shape: tuple[int, ...]) -> Reals:
    all_of_them = np.broadcast_to(values, shape)
    if shape[-1] == 1:  # as mostly in a scan, and a tenth of its time
        return all_of_them[..., 0]
    return np.take_along_axis(all_of_them, place, axis=-1)[..., 0]


def _closed_in(ends: list[Reals], of: Callable[[Reals, Reals], Reals], asked: Reals) -> tuple[Reals, Reals, Reals]:
    """The greatest inside these pieces, a few of each build, on a grid that closes in on the best place of each."""
    wide = [one[..., None] for one in ends]
    shape = asked.shape
    first, last = np.zeros(shape), np.ones(shape)
    rounds = ROUNDS_OF_ONE if len(shape) == 1 else ROUNDS_OF_MANY
    for number in range(rounds):
        grid = first[..., None] + (last - first)[..., None] * GRID
        speed, torque = moment(wide, grid)
        values = of(np.abs(speed).reshape(*shape[:-1], -1), np.abs(torque).reshape(*shape[:-1], -1)).reshape(speed.shape)
        top = np.argmax(values, axis=-1)[..., None]
        high, at = (np.take_along_axis(one, top, axis=-1)[..., 0] for one in (values, grid))
        if number < rounds - 1:
            step = (last - first) * (GRID[1] - GRID[0])
            first, last = np.maximum(first, at - step), np.minimum(last, at + step)
    speed, torque = moment(ends, at)
    high = np.where(asked, high, -np.inf)
    best = np.argmax(high, axis=-1)[..., None]
    return tuple(_there(one, best, shape) for one in (high, speed, torque))


def work_given(c: CycleTorque) -> Reals:
    """Work that the motor gives in each piece, once [J]: the torque is linear and the speed quadratic, so this rule is exact."""
    middle_speed, middle_torque = c.inside(0.5)
    powers = c.start * c.speed_start + 4 * middle_torque * middle_speed + c.end * c.speed_end
    return powers / 6 * c.pieces.duration
