"""The cycle of the machine: which axes move at once, how long that takes, which of them holds the others up, and what it draws.

Source: sequence of moves, each begun when the slowest of the one before has ended; power balance link by link.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from itertools import cycle, repeat

import numpy as np

from urban_mule.core.drive.together import Axes, MadeMove, balance_of, heat_of
from urban_mule.core.load.moments import CycleTorque
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.units import number_text
from urban_mule.core.sheet.verdict import Verdict, check

SOURCE = "a step begins when the slowest of the one before has ended"
BESIDE = 1e-9  # s beside a corner, where its piece is there for sure
LEAST_HELD = 0.02  # of the whole cycle: what holds it up by less is no matter


@record(frozen=True, kw_only=True, eq=False, repr=False)
class MachineStep:
    """One step of the machine's cycle: these axes make their next move at once, then it rests."""

    axes: tuple[str, ...] = ()
    dwell: Reals = given("s", "t_d", "rest after the slowest of them has ended", default=0.0, least=0)


@record(frozen=True, eq=False, repr=False)
class Lane:
    """A move in the machine's cycle: whose it is, its place among the steps, when it begins and ends [s], what it is."""

    axis: str
    step: int
    begins: float
    ends: float
    move: MadeMove


@record(frozen=True, eq=False, repr=False)
class Step:
    """A step: when it begins, and when its slowest move ends and its rest ends [s]; the axis it waits for, and how long [s]."""

    begins: float
    moved: float
    ends: float
    slowest: str
    held_up: float


@record(frozen=True, eq=False, repr=False)
class Lanes:
    """The whole cycle of the machine."""

    steps: tuple[Step, ...]
    moves: tuple[Lane, ...]


def moves_of(cycle_torque: CycleTorque, motor_count: float, repeats: tuple[int, ...], waits: float) -> tuple[MadeMove, ...]:
    """The moves of an axis in order, each with how often it is repeated. waits: what the shaper and settling add to each [s]."""
    pieces, found = cycle_torque.pieces, []
    for place, times in enumerate(repeats):
        rows = (pieces.move == place) & (pieces.direction != 0) & (pieces.duration > 0)
        ends = np.cumsum(pieces.duration[rows])
        time = np.stack([ends - pieces.duration[rows], ends], axis=1).ravel()
        power = motor_count * np.stack([(cycle_torque.start * cycle_torque.speed_start)[rows],
                                        (cycle_torque.end * cycle_torque.speed_end)[rows]], axis=1).ravel()
        found.append(MadeMove(float(ends[-1] if ends.size else 0.0) + waits, time, power, times))
    return tuple(found)


def endlessly(moves: tuple[MadeMove, ...]) -> Iterator[MadeMove]:
    """The moves one after another, each as often as it is repeated, and all of them again and again."""
    for move in cycle(moves):
        yield from repeat(move, move.times)


@quantity("", symbol="", source=SOURCE, structure=True, formula="each axis of a step makes the next move of its own cycle")
def machine_lanes(machine_cycle: tuple[MachineStep, ...], axes_together: Axes) -> Lanes:
    """Every move of the machine's cycle. Raises NotKnown where an axis in it has no cycle."""
    left = {axis.name: endlessly(axis.moves) for axis in axes_together if axis.moves}
    there = {axis.name for axis in axes_together}
    at, steps, lanes = 0.0, list[Step](), list[Lane]()
    for place, one in enumerate(machine_cycle):
        silent = [name for name in one.axes if name not in left]
        if silent:
            raise NotKnown(f"how long {silent[0]} moves is not known: its cycle, load and train tell it" if silent[0] in there else
                           f"step {place + 1} moves {silent[0]}, which is no axis of this machine")
        made = {name: next(left[name]) for name in dict.fromkeys(one.axes)}
        lanes += [Lane(name, place, at, at + move.lasts, move) for name, move in made.items()]
        order = sorted(made, key=lambda name: made[name].lasts)
        lasts = [made[name].lasts for name in order]
        held = lasts[-1] - (lasts[-2] if len(lasts) > 1 else 0.0) if lasts else 0.0
        moved = at + (lasts[-1] if lasts else 0.0)
        steps.append(Step(at, moved, moved + float(one.dwell), order[-1] if order else "", held))
        at = steps[-1].ends
    return Lanes(tuple(steps), tuple(lanes))


@quantity("s", symbol="t_mc", source=SOURCE, formula="∑ (max T of each step + rest)", label="Cycle of the machine")
def machine_cycle_time(machine_lanes: Lanes) -> float:
    """How long the cycle of the machine takes. Raises NotKnown for one without a step."""
    if not machine_lanes.steps or machine_lanes.steps[-1].ends <= 0:
        raise NotKnown("no axis moves in the machine's cycle")
    return machine_lanes.steps[-1].ends


@quantity("", symbol="", source=SOURCE, structure=True, label="Holds the cycle up",
          formula="∑ over its steps of T − the next slowest")
def held_up_by(machine_lanes: Lanes) -> tuple[tuple[str, float], ...]:
    """By how much each axis holds the others up, the most first [s]; where it moves alone, by its whole move."""
    found: Counter[str] = Counter()
    for step in machine_lanes.steps:
        if step.slowest:
            found[step.slowest] += step.held_up  # type: ignore[assignment]
    return tuple((name, float(value)) for name, value in found.most_common())


@quantity("", symbol="P(t)", source="power balance link by link; windings are heated all the time", structure=True,
          formula="∑ n·max(0, T·ω)/η_d + ∑ P_Cu + P_st")
def machine_power(
    machine_lanes: Lanes, axes_together: Axes, driver_efficiency: Reals, standing_load: Reals,
) -> tuple[np.ndarray, np.ndarray]:
    """Times [s] and what all axes draw then [W], a corner at both ends of every piece of every move.

    An axis that is in no step is counted as always moving at its hardest.
    """
    inside = {one.axis for one in machine_lanes.moves}
    resting = float(standing_load) + sum(
        heat_of(axis) if axis.name in inside else balance_of(axis, float(driver_efficiency)) or 0.0 for axis in axes_together)
    corners = sorted({0.0, *(corner for one in machine_lanes.moves for corner in (one.begins + one.move.time).tolist()),
                      *(step.ends for step in machine_lanes.steps)})
    time = np.repeat(corners, 2)[1:-1]
    aside = time + BESIDE * np.tile([1.0, -1.0], len(corners) - 1)  # just after a corner, and just before the next
    drawn = np.full(time.size, resting)
    for one in machine_lanes.moves:
        drawn += one.move.power_at(aside - one.begins) / float(driver_efficiency)
    return time, drawn


@quantity("W", symbol="P_mx", source="the machine's cycle", formula="max P(t)", label="Greatest power in the machine's cycle")
def machine_peak_power(machine_power: tuple[np.ndarray, np.ndarray]) -> float:
    """The most that all axes draw at any instant of the cycle."""
    return float(np.max(machine_power[1], initial=0.0))


@quantity("W", symbol="P_mm", source="the machine's cycle", formula="∫ P dt ÷ t_mc", label="Mean power in the machine's cycle")
def machine_mean_power(machine_power: tuple[np.ndarray, np.ndarray], machine_cycle_time: float) -> float:
    """What all axes draw in the mean; machine_cycle_time [s]."""
    time, drawn = machine_power
    return float(np.trapezoid(drawn, time) / machine_cycle_time)


@check("machine cycle", stage="Moves", applies=lambda solution: solution.get("machine_cycle") is not None)
def cycle_of_the_machine(machine_cycle_time: float, held_up_by: tuple[tuple[str, float], ...]) -> Verdict:
    """How long the machine's cycle takes, and which axis holds it up."""
    takes = f"The machine's cycle takes {number_text(machine_cycle_time, 3)} s"
    if not held_up_by or held_up_by[0][1] < LEAST_HELD * machine_cycle_time:
        return Verdict("good", f"{takes}; no axis holds the others up.", "Nothing to do.", headroom=0.9)
    name, held = held_up_by[0]
    return Verdict("good", f"{takes}; {name} holds it up by {number_text(held, 2)} s.",
                   f"Quicken {name} first, or let it move together with another axis.", headroom=0.7)
