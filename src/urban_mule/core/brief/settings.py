"""Settings that belong together: speed, acceleration and shaper as one set that the axis can keep, and the best such set."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from urban_mule.core.brief.settings_room import SAME, SHARES, STEP, STEPS, SettingsRoom, TorqueLimits, breaks_of
from urban_mule.core.load.capped import CappedTorque
from urban_mule.core.load.cycle import Move
from urban_mule.core.readings.shapers import NONE, TWO_MODES
from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.set_shaper import Tried, shaper_of
from urban_mule.core.ring.shaped import SAME as SAME_FREQUENCY
from urban_mule.core.ring.shaped import Swinging
from urban_mule.core.ring.shaper import Shaper, shaper_sequences
from urban_mule.core.ring.swing import USUAL_SHARE, USUAL_TOLERANCE, lifts, moved, settling
from urban_mule.core.ring.tuned import surviving, tuned_shapers, tuning_frequencies
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

LEAST_DRAWN, DRAWN = 0.05, 60  # of the greatest acceleration from which on lines are looked for, and at how many places
MANY = 512  # pairs that are tried at once for the best set
AT_ONCE = 64  # pairs of shaper and speed that are tried at once for the quiet set
QUIET = 1.1  # how many times the best time a quiet cycle may take
SOURCE = "the least time until the axis stands still, of speeds, accelerations and shapers on a grid, under every limit"


@quantity("[travel]", symbol="τ", source="within what the swing counts as settled",
          formula="as given; else ¼ of the accuracy wanted; else 25 µm or 0.01°", label="Settled within", shown=("µm", ""))
def settled_within(unit: str, settle_tolerance: Reals = None, accuracy_wanted: Reals = None) -> float:
    """Within what an axis counts as standing still."""
    if settle_tolerance is not None:
        return float(settle_tolerance)
    if accuracy_wanted is not None:
        return USUAL_SHARE * float(accuracy_wanted)
    return USUAL_TOLERANCE["rad" if unit in ("°", "rad") else "m"]


@record(frozen=True, eq=False, repr=False)
class Sequences:
    """Shapers, one a row: place of the kind, frequency [Hz], what is left [1], delay [s], acceleration allowed [travel/s²]."""

    kind: np.ndarray
    frequency: np.ndarray
    left: np.ndarray
    delay: np.ndarray
    allowed: np.ndarray



def _sequences(mode: Mode, modes: tuple[Mode, ...], path_tolerance: float, kinds: tuple[Shaper, ...]) -> Sequences:
    """Every kind of shaper at every frequency at which one is tried; not where a higher one leaves less, too: that one is quicker
    and allows more.
    """
    frequencies, found = tuning_frequencies(modes or (mode,)), []
    for place, one in enumerate(kinds):
        left = surviving(one.times / frequencies[:, None], one.amplitudes, (mode,))
        better = np.minimum.accumulate(left[::-1])[::-1]
        worth = left <= np.append(better[1:], np.inf)
        at = frequencies[worth]
        found.append((np.full(at.size, place), at, left[worth], one.times[-1] / at, 2 * path_tolerance * at**2 / one.variance))
    return Sequences(*map(np.concatenate, zip(*found, strict=True)))


def _not_beaten(all_of_them: Sequences, top_acceleration: float) -> np.ndarray:
    """Which of them to try: of those whose path allows all that the cycle asks only such as none that is as quick leaves less than;
    they would be tried at the very same speeds and accelerations.
    """
    free = np.flatnonzero(all_of_them.allowed >= top_acceleration)
    quickest = free[np.lexsort((all_of_them.left[free], all_of_them.delay[free]))]
    left = all_of_them.left[quickest]
    less = left < np.append(np.inf, np.minimum.accumulate(left)[:-1])
    kept = all_of_them.allowed < top_acceleration
    kept[quickest[less]] = True
    return np.asarray(kept)


@quantity("", symbol="", source="ZV, ZVD, ZVDD, EI on the tuning grid, the one for two modes, none", structure=True,
          formula="V_s greatest at 0.93, 1 and 1.07 f; t_s its last time; a_s = 2·δ/Var(t)", sought=True)
def settings_shapers(
    swinging: Swinging, path_tolerance: float, cycle: tuple[Move, ...], modes: tuple[Mode, ...] | None = None,
    two_mode_shaper: dict[str, Any] | None = None,
) -> tuple[Tried, ...]:
    """The shapers that are worth trying; path_tolerance [travel]. The one that was recorded is, whatever it is."""
    both = () if two_mode_shaper is None else (shaper_of(TWO_MODES, None, swinging.mode, path_tolerance, two_mode_shaper),)
    kinds = shaper_sequences(1.0, swinging.mode.damping_ratio)
    every = _sequences(swinging.mode, modes or (), path_tolerance, kinds)
    top_acceleration = max((float(move.acceleration or 0.0) for move in cycle), default=0.0)
    rows = _not_beaten(every, top_acceleration)
    if swinging.really is not None:
        rows |= np.abs(every.frequency - (swinging.really.frequency or 0.0)) <= SAME_FREQUENCY
    columns = (column[rows].tolist() for column in vars(every).values())
    tried = (Tried(kinds[kind].name, *numbers) for kind, *numbers in zip(*columns, strict=True))
    return tuple(map(swinging.as_found, (Tried(NONE, None, 1.0, 0.0, math.inf), *tried, *both)))


def outcome(
    cycle: tuple[Move, ...], swinging: Swinging, tried: Tried, speed: Reals, acceleration: Reals
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Time of the cycle until it stands still [s], the greatest swing left [travel], the longest settling [s].

    speed [travel/s], acceleration [travel/s²]: caps, or arrays of them. Raises NotKnown.
    """
    return _comes_to(cycle, swinging, speed, acceleration, tried.left, tried.delay)


def _comes_to(
    cycle: tuple[Move, ...], swinging: Swinging, speed: Reals, acceleration: Reals, left: Reals, delay: Reals,
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    moves = moved(cycle, speed, acceleration)
    swing = np.asarray(swinging.left_of(lifts(moves, swinging.mode) * left))
    settles = settling(swing, swinging.tolerance, swinging.mode)
    times = moves.times.reshape(-1, *(1,) * (moves.time.ndim - 1))
    whole = (times * (moves.time + delay + settles)).sum(axis=0) + moves.rest
    return whole, swing.max(axis=0), settles.max(axis=0)


def _least_over(room: SettingsRoom) -> tuple[np.ndarray, np.ndarray]:
    """At each speed the greatest acceleration without a shaper's path, and whether the speed is allowed at all."""
    steep = np.min([np.full(room.speeds.size, room.top_acceleration), *room.steepest.values()], axis=0)
    allowed = room.speeds <= min(room.fastest.values(), default=math.inf) * (1 + SAME)
    return steep, allowed & (steep > 0)


def _binds(room: SettingsRoom, place: int, tried: Tried, acceleration: float) -> str:
    """What set the greatest acceleration at a speed; `swing` where a lower one is better."""
    limits = {"cycle": room.top_acceleration, "path": tried.allowed}
    limits |= {name: float(of[place]) for name, of in room.steepest.items()}
    name = min(limits, key=lambda one: limits[one])
    return name if acceleration >= limits[name] * (1 - STEP / 2) else "swing"


@record(frozen=True, eq=False, repr=False)
class Pairs:
    """Shapers at speeds, a pair a row: which shaper, which speed of the room, its speed [travel/s], the greatest acceleration there
    [travel/s²], what is left [1], the delay [s].
    """

    shaper: np.ndarray
    place: np.ndarray
    speed: np.ndarray
    steepest: np.ndarray
    left: np.ndarray
    delay: np.ndarray

    def of(self, rows: np.ndarray) -> Pairs:
        """These rows of it."""
        return Pairs(*(column[rows] for column in vars(self).values()))


@record(frozen=True, eq=False, repr=False)
class Search:
    """What all pairs are tried with: the cycle, and what it is left swinging in."""

    cycle: tuple[Move, ...]
    swinging: Swinging

    def plain(self, pairs: Pairs, share: Reals) -> np.ndarray:
        """The time of the cycle were there no swing, at a share of the greatest acceleration of each pair [s]."""
        moves = moved(self.cycle, pairs.speed, pairs.steepest * share)
        return np.asarray(np.tensordot(moves.times, moves.time, 1) + moves.times.sum() * pairs.delay + moves.rest)

    def least(self, pairs: Pairs, room: SettingsRoom, steep: np.ndarray) -> np.ndarray:
        """What each pair takes at least [s]: its delay on top of the time at its speed with no path to keep."""
        moves = moved(self.cycle, room.speeds, np.maximum(steep, SAME * room.top_acceleration))
        free = np.tensordot(moves.times, moves.time, 1) + moves.rest
        return np.asarray(free[pairs.place] + moves.times.sum() * pairs.delay)

    def all(self, pairs: Pairs) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Time, swing and settling of each pair, a row, at all shares of its acceleration."""
        speed, steepest, left, delay = (column[:, None] for column in (pairs.speed, pairs.steepest, pairs.left, pairs.delay))
        return _comes_to(self.cycle, self.swinging, speed, steepest * SHARES, left, delay)

    def at(self, pairs: Pairs, share: Reals) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """The same at a share of each pair's acceleration."""
        return _comes_to(self.cycle, self.swinging, pairs.speed, pairs.steepest * share, pairs.left, pairs.delay)

    def best(self, pairs: Pairs, bound: np.ndarray) -> tuple[int, int]:
        """The pair and the place of the share with the least time; of equal ones that with the lowest acceleration.

        bound: what each takes at least [s]; who cannot beat the least found is not tried.
        """
        order, least, tried = np.argsort(bound, kind="stable"), math.inf, 0
        while tried < order.size and bound[order[tried]] <= least + SAME:
            chunk = order[tried:tried + MANY]
            least, tried = min(least, float(self.at(pairs.of(chunk), 1.0)[0].min())), tried + MANY
        rows = np.sort(order[:tried])
        rows = rows[self.plain(pairs.of(rows), 1.0) <= least + SAME]
        some = pairs.of(rows)
        time = self.all(some)[0]
        alike = np.argwhere(time <= time.min() + SAME)
        row, share = min(alike.tolist(), key=lambda at: (some.steepest[at[0]] * SHARES[at[1]], some.speed[at[0]]))
        return int(rows[row]), int(share)

    def quiet(self, pairs: Pairs, bound: np.ndarray, budget: float) -> tuple[int, int]:
        """The pair and the place of the share that swings least within a time [s]. What swings least were there no settling is a
        bound: who cannot beat the least found is not tried. bound: what each pair takes at least [s].
        """
        rows = np.flatnonzero(bound <= budget)
        rows = rows[self.plain(pairs.of(rows), 1.0) <= budget]
        some = pairs.of(rows)
        low, high = np.zeros(rows.size, dtype=int), np.full(rows.size, STEPS - 1)
        while np.any(low < high):
            middle = (low + high + 1) // 2
            kept = self.plain(some, SHARES[middle]) <= budget
            low, high = np.where(kept, middle, low), np.where(kept, high, middle - 1)
        swings = self.at(some, SHARES[low])[1]
        order, least, found = np.argsort(swings, kind="stable"), math.inf, (0, 0)
        for begin in range(0, order.size, AT_ONCE):
            chunk = order[begin:begin + AT_ONCE]
            if swings[chunk[0]] >= least:
                break
            time, swing, _ = self.all(some.of(chunk))
            swing = np.where(time <= budget, swing, math.inf)
            row, share = np.unravel_index(int(np.argmin(swing)), swing.shape)
            if swing[row, share] < least:
                least, found = float(swing[row, share]), (int(rows[chunk[row]]), int(share))
        return found


@quantity("", symbol="", source=SOURCE, structure=True, sought=True,
          formula="min ∑ (T + t_s + t_settle + dwell), and the least swing within 10 % of it")
def settings_tried(
    settings_room: SettingsRoom, settings_shapers: tuple[Tried, ...], cycle: tuple[Move, ...], swinging: Swinging,
) -> tuple[dict[str, Any], dict[str, Any]]:
    """The best set and the quiet one. Raises NotKnown where nothing is allowed at any speed."""
    room, shapers, search = settings_room, settings_shapers, Search(cycle, swinging)
    steep, allowed = _least_over(room)
    at_speed = np.flatnonzero(allowed)
    if not at_speed.size:
        raise NotKnown("at no speed are all limits kept", "cycle")
    which, where = (one.ravel() for one in np.meshgrid(np.arange(len(shapers)), at_speed, indexing="ij"))
    left, delay, path = (np.array([getattr(one, name) for one in shapers])[which] for name in ("left", "delay", "allowed"))
    pairs = Pairs(which, where, room.speeds[where], np.minimum(steep[where], path), left, delay)

    def told(found: tuple[int, int]) -> dict[str, Any]:
        one, share = pairs.of(np.array([found[0]])), float(SHARES[found[1]])
        tried, acceleration = shapers[int(one.shaper[0])], float(one.steepest[0]) * share
        time, swing, settles = (float(value[0]) for value in search.at(one, share))
        return {"speed": float(one.speed[0]), "acceleration": acceleration, "shaper": tried.name, "frequency": tried.frequency,
                "settled_cycle_time": time, "residual_swing": swing, "settle_time": settles,
                "limit": _binds(room, int(one.place[0]), tried, acceleration)}

    bound = search.least(pairs, room, steep)
    best = told(search.best(pairs, bound))
    return best, told(search.quiet(pairs, bound, QUIET * best["settled_cycle_time"] + SAME))


@quantity("", symbol="(v, a, s)_b", source=SOURCE, formula="min ∑ (T + t_s + t_settle + dwell) under all limits",
          label="Best settings", sought=True)
def settings_best(settings_tried: tuple[dict[str, Any], dict[str, Any]]) -> dict[str, Any]:
    """Speed [travel/s], acceleration [travel/s²], shaper and its frequency [Hz], time of the cycle until it stands still [s], swing
    left [travel], time that it takes to settle [s], and what limits it.
    """
    return settings_tried[0]


@quantity("", symbol="(v, a, s)_q", source="the least swing that a tenth more time buys",
          formula="min x within 1.1 of the best time", label="Quiet settings", sought=True)
def settings_quiet(settings_tried: tuple[dict[str, Any], dict[str, Any]]) -> dict[str, Any]:
    """The quietest set within a tenth of the best time, told as the best one is."""
    return settings_tried[1]


@record(frozen=True, eq=False, repr=False)
class AsSet:
    """The cycle as it is with the shaper that is set: greatest speed and acceleration [travel/s, travel/s²], the shaper, the time
    of the cycle until it stands still [s], the swing left [travel], the longest settling [s].
    """

    speed: float
    acceleration: float
    tried: Tried
    settled_cycle_time: float
    residual_swing: float
    settle_time: float


@quantity("", symbol="", source="the cycle as it is, with the shaper that is set", structure=True, sought=True,
          formula="∑ (T + t_s + t_r + t_d); x_r; t_r")
def cycle_as_set(
    cycle: tuple[Move, ...], swinging: Swinging, path_tolerance: float, modes: tuple[Mode, ...] | None = None,
    two_mode_shaper: dict[str, Any] | None = None, shaper_kind: str | None = None, shaper_frequency: Reals = None,
    chosen_shaper: dict[str, Any] | None = None,
) -> AsSet:
    """What the cycle and the shaper come to, whatever limits they break. Raises NotKnown."""
    if not cycle:
        raise NotKnown("the cycle has no move yet", "cycle")
    speed, steep = (float(max(getattr(move, name) for move in cycle)) for name in ("speed", "acceleration"))
    kind, frequency = shaper_kind, shaper_frequency
    if kind is None and chosen_shaper is not None:  # nobody chose one by hand: that of the tag
        kind, frequency = chosen_shaper["name"], chosen_shaper["frequency"]
    kind, frequency = kind or NONE, None if frequency is None else float(frequency)
    if frequency is None and kind not in (NONE, TWO_MODES):
        tuned = tuned_shapers(modes or (swinging.mode,), path_tolerance)
        frequency = next(float(one["frequency"]) for one in tuned if one["name"] == kind)
    tried = swinging.as_found(shaper_of(kind, frequency, swinging.mode, path_tolerance, two_mode_shaper))
    return AsSet(speed, steep, tried, *map(float, outcome(cycle, swinging, tried, speed, steep)))


@quantity("", symbol="(v, a, s)", source="the cycle as it is, with the shaper that is set", label="Present settings",
          formula="greatest v and a of the cycle; limits that they break", sought=True)
def settings_as_set(
    cycle_as_set: AsSet, capped_torque: CappedTorque, torque_limits: TorqueLimits, fastest_settings: dict[str, float],
) -> dict[str, Any]:
    """The set that the cycle and the shaper make, told as the best one is, with the limits that it breaks."""
    one = cycle_as_set
    breaks = breaks_of(fastest_settings, capped_torque, torque_limits, one.tried.allowed, one.speed, one.acceleration)
    return {"speed": one.speed, "acceleration": one.acceleration, "shaper": one.tried.name, "frequency": one.tried.frequency,
            "settled_cycle_time": one.settled_cycle_time, "residual_swing": one.residual_swing, "settle_time": one.settle_time,
            "limit": breaks[0] if breaks else "cycle", "breaks": breaks}


@quantity("", symbol="", source="the top speed, the one acceleration to set and the shaper, as the tag has them", structure=True,
          formula="limits that they break together", label="Limits that the tag breaks", sought=True)
def breaks_on_tag(
    fastest_settings: dict[str, float], capped_torque: CappedTorque, torque_limits: TorqueLimits, top_speed: float,
    acceleration_to_set: float, chosen_shaper: dict[str, Any] | None = None,
) -> list[str]:
    """The limits that the set on the tag breaks, by their names."""
    allowed = math.inf if chosen_shaper is None else float(chosen_shaper["allowed_acceleration"])
    return breaks_of(fastest_settings, capped_torque, torque_limits, allowed, float(top_speed), acceleration_to_set)


@quantity("[travel]", symbol="x_r", source="Singer and Seering 1990: a shaped step of acceleration, and what fades until the end",
          formula="a·V_s/ω²·(1 + e^(−ζωt_a))·(1 + e^(−ζω(T − t_a))), the greatest of the moves", label="Swing left after a move",
          shown=("µm", ""), sought=True)
def residual_swing(cycle_as_set: AsSet) -> float:
    """How far the load still swings when a move as it is set ends, worst phase; of what is linear."""
    return cycle_as_set.residual_swing


@quantity("s", symbol="t_r", source="a lightly damped mode fades with ζω", formula="max(0, ln(x_r/τ) ÷ (ζω))", shown="ms",
          label="Settling time", sought=True)
def settle_time(cycle_as_set: AsSet) -> float:
    """How long until the swing of a move as it is set is within what counts as settled."""
    return cycle_as_set.settle_time


@quantity("s", symbol="t_cs", source="moves, delay of the shaper, settling and dwells", formula="∑ (T + t_s + t_r + t_d)",
          label="Cycle time until it stands still", sought=True)
def settled_cycle_time(cycle_as_set: AsSet) -> float:
    """Time of the whole cycle as it is set, each move until it has settled."""
    return cycle_as_set.settled_cycle_time


def equal_times(
    search: Search, tried: Tried, room: SettingsRoom, most: float, levels: np.ndarray
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Lines of equal cycle time with one shaper: levels, the times [s]; the speeds [travel/s]; and at each time, a row, the
    acceleration [travel/s²] that makes it at each speed; nan where none up to `most` does.
    """
    speeds = np.sort(room.speeds)
    steep = most * np.geomspace(LEAST_DRAWN, 1.0, DRAWN)
    time = _comes_to(search.cycle, search.swinging, speeds[:, None], steep[None, :] + 0 * speeds[:, None],
                     tried.left, tried.delay)[0]
    falling = np.minimum.accumulate(time, axis=1)  # beyond its least, more acceleration takes longer
    found = np.array([[np.interp(-level, -row, steep, left=math.nan, right=math.nan) for row in falling] for level in levels])
    return levels, speeds, found
