"""The best set of the sheet against sets tried on the machine itself, and the swing promised after a record against the next."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from urban_mule.bench.sessions.carried import taken_into, usual
from urban_mule.bench.sessions.record import RINGS_DOWN, SHAPED
from urban_mule.bench.sessions.rounds import plan_of
from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.bench.simulated.body import Mechanism, mechanism_of
from urban_mule.bench.simulated.motion import RATE, STEP, at_rest, integrated, ramps, through_shaper
from urban_mule.bench.simulated.truth import Truth
from urban_mule.core.brief.settings_room import breaks_of
from urban_mule.core.load.cycle import Move, capped
from urban_mule.core.readings.shapers import KINDS, NONE
from urban_mule.core.ring.set_shaper import impulses_of, shaper_of
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.doubts import uncertain_inputs
from urban_mule.core.studies.tolerance import with_values
from urban_mule.practice.made import sound_truth
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.doubts import paths_of
from urban_mule.store.solve import solve_axis

AXES = ("X", "Y", "Z", "C")
MORE = 3.0  # times the speed and the acceleration of the cycle that are asked for at most
MACHINES, SETS = 5, 200  # of each axis; of each machine
WITHIN, OF_PROMISE = 1.05, 1.3
WAITS = 1.0  # s after a move in which it is looked at
TOO_SMALL = 0.1  # of what counts as settled: a swing that a record tells from nothing


@dataclass(frozen=True)
class Trial:
    """A machine: time of its cycle with the best set and with the best of those tried [s]; what limits the best set, and the torque
    margin that it has on the machine; the swing promised after a record and found by the next one, as shares of what counts as
    settled.
    """

    axis: str
    best: float
    tried: float
    limit: str
    margin: float
    promised: float
    found: float

    @property
    def holds(self) -> bool:
        """Whether the swing is what was promised, or both are nothing beside what counts as settled."""
        least, most = sorted((max(self.promised, TOO_SMALL), max(self.found, TOO_SMALL)))
        return most <= OF_PROMISE * least


def on_machine(solution: Solution, body: Mechanism, one: dict[str, Any]) -> float:
    """Time of the cycle on the machine until it stands still [s]; infinite where it loses steps."""
    shaper = impulses_of(one["shaper"], one["frequency"], solution["swinging_mode"], solution.get("two_mode_shaper"))
    impulses = tuple(zip(shaper.times.tolist(), shaper.amplitudes.tolist(), strict=True))
    known: dict[tuple[float, ...], float] = {}
    whole = 0.0
    for move in solution["cycle"]:
        speed, steep = min(move.speed, one["speed"]), min(move.acceleration, one["acceleration"])
        key = (move.distance, speed, steep)
        if key not in known:
            places = through_shaper(ramps(move.distance, speed, steep, STEP, 0.0), impulses, STEP)
            swing = integrated(body, at_rest(body), np.append(places, np.full(int(WAITS / STEP), places[-1])))
            if swing.lost_steps:
                return math.inf
            rest = float(swing.position[-RATE // 10:].mean())
            outside = np.flatnonzero(np.abs(swing.position - rest) > float(solution["settled_within"]))
            known[key] = max(float(swing.time[outside[-1]]), places.size * STEP)
        whole += move.repeat * (known[key] + move.dwell)
    return whole


def drawn_set(solution: Solution, random: np.random.Generator) -> dict[str, Any]:
    """Any set: speed and acceleration up to those of the cycle, any shaper at any frequency near the mode, or none."""
    cycle = solution["cycle"]
    speed, steep = (max(getattr(move, name) for move in cycle) * float(random.uniform(0.3, 1.0))
                    for name in ("speed", "acceleration"))
    kind = str(random.choice((*KINDS, NONE, NONE)))
    frequency = None if kind == NONE else float(solution["swinging_mode"].frequency * random.uniform(0.6, 1.9))
    return {"speed": speed, "acceleration": steep, "shaper": kind, "frequency": frequency}


def broken(solution: Solution, one: dict[str, Any]) -> tuple[str, ...]:
    """The limits that a set breaks."""
    allowed = shaper_of(one["shaper"], one["frequency"], solution["swinging_mode"], float(solution["path_tolerance"]),
                        solution.get("two_mode_shaper")).allowed
    return tuple(breaks_of(solution["fastest_settings"], solution["capped_torque"], solution["torque_limits"], allowed,
                           one["speed"], one["acceleration"]))


def asked(cycle: tuple[Move, ...], random: np.random.Generator) -> tuple[Move, ...]:
    """The same moves without a rest, asked for up to three times as fast and as steep, so that limits bind."""
    fast, steep = (float(random.uniform(1.0, MORE)) for _ in range(2))
    return tuple(dataclasses.replace(move, speed=fast * move.speed, acceleration=steep * move.acceleration, dwell=0.0)
                 for move in cycle)


def recorded(axis: Axis, solution: Solution, machine: SimulatedAxis, one: dict[str, Any]) -> Solution:
    """The axis with this set taken, and a record of its move."""
    cycle = capped(solution["cycle"], one["speed"], one["acceleration"])
    taken = solution.changed(cycle=cycle, shaper_kind=one["shaper"], shaper_frequency=one["frequency"])
    plan = plan_of(axis, taken)
    _, made = taken_into(taken, "acceleration", plan, usual("acceleration", plan, by=SHAPED, duration=f"{RINGS_DOWN:g}"), machine)
    return taken.changed(shaped_reading=made)


def trials(project: Project, name: str, seed: int, machines: int = MACHINES, sets: int = SETS) -> Iterator[Trial]:
    """Machines like an axis of the project, with other loads, each really as its uncertain inputs were drawn."""
    axis, random = project.axis(name), np.random.default_rng(seed)
    base, said = solve_axis(project, axis), frozenset(paths_of(project, axis))
    for _ in range(machines):
        loads = {key: float(base[key]) * float(random.uniform(0.6, 1.5)) for key in ("moving_mass", "load_inertia")
                 if key in base.sheet.inputs and base.get(key)}
        solution = base.changed(**loads, cycle=asked(base["cycle"], random), speed_wanted=None, acceleration_reading=None,
                                acceleration_readings=None, shaped_reading=None)
        real = with_values(solution, {one.label: one.at(float(np.clip(random.standard_normal(), -1.7, 1.7)))
                                      for one in uncertain_inputs(solution, {}, said)})
        truth = sound_truth(int(random.integers(2**31)), axis.motion == "linear")
        machine, plan = SimulatedAxis(solution, truth, real), plan_of(axis, solution)
        swept = taken_into(solution, "acceleration", plan, usual("acceleration", plan, by="sweep"), machine)[0]
        told = recorded(axis, swept, machine, swept["settings_best"])
        told = told.changed(cycle=swept["cycle"], shaper_kind=None, shaper_frequency=None)
        best = told["settings_best"]
        again = recorded(axis, told, machine, best)
        body = mechanism_of(real, rotor_damping=truth.rotor_damping, train_damping=truth.train_damping, **_frame(truth, real))
        tries = [one for one in (drawn_set(swept, random) for _ in range(sets)) if not broken(swept, one)]
        tolerance = float(told["settled_within"])
        set_best = real.changed(cycle=capped(told["cycle"], best["speed"], best["acceleration"]))
        yield Trial(name, on_machine(told, body, best), min((on_machine(told, body, one) for one in tries), default=math.inf),
                    best["limit"], float(set_best["working_margin"]), best["residual_swing"] / tolerance,
                    float(again["recorded_swing"]) / tolerance)


def _frame(truth: Truth, real: Solution) -> dict[str, float]:
    return {"frame_mass": truth.frame.mass * float(real["moved_inertia"]) / float(real["motor_count"]),
            "frame_frequency": truth.frame.frequency, "frame_damping": truth.frame.damping_ratio}


def lines_of(found: list[Trial]) -> list[str]:
    """The trials as lines of the page."""
    near = sum(one.best <= WITHIN * one.tried for one in found)
    lines = [f"\n## Settings: {len(found)} machines, {SETS} sets tried on each\n",
             f"Like those of the demo with other loads, their cycles without rests and asked for up to {MORE:g} times as fast and"
             " steep, each as its doubts were drawn. Swept, the best set taken, recorded, the best set sought anew and recorded"
             " again. Time: of the whole cycle on the machine until it stands still; tried: the best of those that keep the limits"
             " of the sheet and lose no step on the machine. Torque margin: on the machine. Swing in shares of what counts as"
             f" settled; below {TOO_SMALL:g} it is nothing.\n",
             "| axis | best set, s | best tried, s | what limits it | torque margin | swing promised | swing recorded |",
             "|---|---|---|---|---|---|---|"]
    lines += [f"| {one.axis} | {one.best:.3f} | {one.tried:.3f} | {one.limit} | {one.margin:.2f} | {one.promised:.2f} |"
              f" {one.found:.2f} |" for one in found]
    lost = sum(not math.isfinite(one.best) or one.margin < 1 for one in found)
    return [*lines, "", f"Within {WITHIN - 1:.0%} of the best tried, or better: {near} of {len(found)}. Steps lost, or less torque"
            f" than needed: {lost}. Swing within {OF_PROMISE - 1:.0%} of what was promised: {sum(one.holds for one in found)}."]


def trials_of(project: Project) -> list[Trial]:
    """All of them."""
    return [one for seed, name in enumerate(AXES) for one in trials(project, name, 40 + seed)]
