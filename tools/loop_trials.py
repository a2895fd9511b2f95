"""The gains of the sheet against gains tried on the machine itself: stable with its delay, as soon at rest, few responses."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from urban_mule.bench.sessions.by_trace import tuned_so_far
from urban_mule.bench.sessions.carried import carry_out, taken_into, usual
from urban_mule.bench.sessions.kinds import left_of, steps_of
from urban_mule.bench.sessions.rounds import PlanAxis, plan_of
from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.bench.simulated.body import Mechanism
from urban_mule.bench.simulated.motion import RATE, STEP, at_rest, integrated, ramps
from urban_mule.core.motor.loop import INTEGRAL
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.doubts import uncertain_inputs
from urban_mule.core.studies.tolerance import with_values
from urban_mule.demo.courtyard import demo_project
from urban_mule.practice.made import sound_truth
from urban_mule.store.solve import solve_axis

MACHINES, MOST_RESPONSES, WITHIN = 20, 12, 1.5
SHORT, BAND = 2e-3, 0.02  # m of the move that is to be settled soon, and within what share of it
TRIED = np.geomspace(0.3, 3.0, 7)  # times both gains recommended
WAITS = 0.5  # s after the command in which it is looked at
SWINGS = 0.02  # of the greatest speed that a motor still has when it does not come to rest


@dataclass(frozen=True)
class LoopTrial:
    """A machine: its settling with the gains recommended and with the best tried, by hand; how many responses that took; inertia
    found ÷ real; whether noise was called ringing.
    """

    settles: float
    best: float
    by_hand: float
    responses: int
    inertia: float
    noise_rings: bool


def settles(body: Mechanism, tolerance: float, far: float, speed: float, steep: float) -> float:
    """How long from its beginning until a move is within a tolerance and stays [s]; infinite where it goes on swinging."""
    places = ramps(far, speed, steep, STEP, 0.0)
    swing = integrated(body, at_rest(body), np.append(places, np.full(int(WAITS / STEP), places[-1])))
    tail = swing.motor_speed[-RATE // 10:]
    if not np.all(np.isfinite(tail)) or float(np.ptp(tail)) > SWINGS * speed:
        return math.inf
    off = np.abs(swing.position - far) > tolerance
    last = np.flatnonzero(off)
    end = float(swing.time[last[-1]]) if last.size else 0.0
    return math.inf if last.size and last[-1] == off.size - 1 else max(end, places.size * STEP)


def drawn(random: np.random.Generator) -> tuple[Solution, Solution]:
    """A servo axis as its sheet has it, and as it really is: other loads, springs, drives."""
    project = demo_project()
    axis = project.axis("W")
    base = solve_axis(project, axis)

    def times(low: float, high: float) -> float:
        return float(np.exp(random.uniform(math.log(low), math.log(high))))

    solution = base.changed(
        moving_mass=float(base["moving_mass"]) * times(0.3, 3), rotor_inertia=float(base["rotor_inertia"]) * times(0.5, 2),
        measured_stiffness=float(base["train_stiffness"]) * times(0.05, 2), current_loop_bandwidth=times(400, 2500),
        velocity_sample_time=times(6e-5, 5e-4), torque_filter_time=float(random.choice((0.0, 1e-4, 4e-4))),
        velocity_feedforward=float(random.choice((0.0, 0.5, 1.0))), velocity_gain=None, velocity_integral=None, position_gain=None)
    real = with_values(solution, {one.label: one.at(float(np.clip(random.standard_normal(), -1.7, 1.7)))
                                  for one in uncertain_inputs(solution, {}, frozenset())})
    return solution, real


def with_gains(body: Mechanism, velocity: float, integral: float, position: float) -> Mechanism:
    """A machine with other gains in its drive."""
    return replace(body, velocity_gain=velocity, velocity_integral=integral, position_gain=position)


def holds_doubled(body: Mechanism, gains: tuple[float, float, float], move: tuple[float, float, float, float]) -> bool:
    """Whether neither of both gains sings when it is doubled: as a person leaves them who takes half of what sings."""
    velocity, integral, position = gains
    return all(math.isfinite(settles(with_gains(body, *one), *move)) for one in (
        (2 * velocity, integral / 2, position), (velocity, integral, 2 * position)))


def tuned_by_hand(plan: PlanAxis, machine: SimulatedAxis) -> tuple[int, tuple[float, float, float]]:
    """How many responses a led round takes, and the gains that follow."""
    settings, values = usual("tuning", plan), dict[str, float]()
    steps = steps_of("tuning", plan, settings)
    machine.enable()
    while left := left_of("tuning", plan, settings, steps, values):
        values[left[0].place] = carry_out(left[0], machine)
    found = tuned_so_far(plan, values)
    assert found.velocity_gain is not None and found.velocity_integral is not None and found.position_gain is not None
    return len(values), (found.velocity_gain, found.velocity_integral, found.position_gain)


def trial(seed: int) -> LoopTrial:
    """One machine."""
    random = np.random.default_rng((seed, 5))
    solution, real = drawn(random)
    project = demo_project()
    axis = project.axis("W")
    truth = replace(sound_truth(int(random.integers(2**31))), scatter=0.0)
    machine, plan = SimulatedAxis(solution, truth, real), plan_of(axis, solution)
    gains = tuple(float(solution[f"{name}_to_set"]) for name in ("velocity_gain", "velocity_integral", "position_gain"))
    longest = max(solution["cycle"], key=lambda one: abs(float(one.distance)))
    far = SHORT
    move = (BAND * far, far, float(longest.speed), float(longest.acceleration))
    body = machine.body
    recommended = settles(with_gains(body, *gains), *move)
    inertia = float(solution["loop_inertia"])
    tries = [(k * gains[0], INTEGRAL * inertia / (k * gains[0]), p * gains[2]) for k in TRIED for p in TRIED]
    best = min(settles(with_gains(body, *one), *move) for one in tries if holds_doubled(body, one, move))
    responses, hand = tuned_by_hand(plan, machine)
    by_hand = settles(with_gains(body, *hand), *move)
    told = taken_into(solution, "effort", plan, usual("effort", plan), SimulatedAxis(solution, truth, real))[0]
    calm = taken_into(solution, "response", plan, usual("response", plan), SimulatedAxis(
        solution.changed(velocity_gain=0.5 * gains[0]), truth, real))[0]
    return LoopTrial(recommended, best, by_hand, responses, float(told["measured_inertia"]) / float(real["loop_inertia"]),
                     calm.get("response_ringing") is not None)


def trials() -> list[LoopTrial]:
    """All of them."""
    return [trial(seed) for seed in range(MACHINES)]


def lines_of(found: list[LoopTrial]) -> list[str]:
    """The trials as lines of the page."""
    lines = [f"\n## Servo loops: {len(found)} machines\n",
             "Like the servo of the demo with other loads, springs and drives, each as its doubts were drawn. Time in ms until a"
             f" move of {1e3 * SHORT:g} mm is within {BAND:.0%} of it and stays: with the gains of the sheet, with the best of"
             f" {TRIED.size**2} tried on the machine of which neither gain sings when doubled, with those of the led round.\n",
             "| of the sheet | best tried | by hand | responses of the round | inertia found ÷ real | calm, called ringing |",
             "|---|---|---|---|---|---|"]
    lines += [f"| {1e3 * one.settles:.1f} | {1e3 * one.best:.1f} | {1e3 * one.by_hand:.1f} | {one.responses} | {one.inertia:.3f} |"
              f" {'yes' if one.noise_rings else 'no'} |" for one in found]
    stable = sum(math.isfinite(one.settles) for one in found)
    near = sum(one.settles <= WITHIN * one.best for one in found)
    few = sum(one.responses <= MOST_RESPONSES for one in found)
    return [*lines, "", f"Stable with the gains of the sheet: {stable} of {len(found)}. Settled within {WITHIN:g} times the best"
            f" tried: {near}. Rounds of at most {MOST_RESPONSES} responses: {few}. Noise called ringing:"
            f" {sum(one.noise_rings for one in found)}."]
