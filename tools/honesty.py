"""Writes docs/honesty.md: what the sheet computes of an axis beside what the same axis does when it is integrated in time."""

from __future__ import annotations

import math
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np

from tools.intervals import counted, lines_of
from tools.learning import lines_of as taught_lines
from tools.learning import tried_on
from tools.loop_trials import lines_of as loop_lines
from tools.loop_trials import trials as loop_trials
from tools.settings_trials import lines_of as set_lines
from tools.settings_trials import trials_of
from urban_mule.bench.sessions.carried import taken_into, usual
from urban_mule.bench.sessions.rounds import plan_of
from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.bench.simulated.body import mechanism_of
from urban_mule.bench.simulated.motion import kicked, loses_steps_in, pulled_out
from urban_mule.bench.simulated.truth import SOUND
from urban_mule.core.load.asked import acceleration_for
from urban_mule.core.load.cycle import Move
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.doubts import doubts_of, odds_of, uncertain_inputs
from urban_mule.core.studies.tolerance import with_values
from urban_mule.demo.courtyard import demo_project
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.doubts import paths_of
from urban_mule.store.solve import solve_axis

PAGE = Path(__file__).parent.parent / "docs" / "honesty.md"
AXES = {"X": "belt", "Y": "rack", "Z": "ball screw", "C": "reduction"}
OF_CORNER = (0.2, 0.5, 1.0, 1.5, 2.0, 3.0)
DAMPED = 0.3  # damping ratio of the rotor with which the torque is looked at
MACHINES, LEAST, MOST = 200, 0.5, 4.0  # of each train; margins that are drawn, evenly by their logarithm
HEAD = """# What is computed, and what the same axis does in time

Made by `make honesty`. Each stepper axis of the demo is integrated in time (`bench/simulated/motion.py`): two phases under a
limited voltage, the rotor on its field, the train as a spring with play, the load with friction. It has the same givens, and none
of the formulas for resonance, torque over speed or lost motion. Practice machines move by it.
"""


def lost_motion_bounds(solution: Solution) -> tuple[float, float]:
    """The lost motion with none and with all of the wind-up [travel]."""
    least, most = (float(solution.changed(windup_share=share)["expected_lost_motion"]) for share in (0.0, 1.0))
    return least, most


def ringing(solution: Solution) -> list[float]:
    """The resonances [Hz] of the integrated axis, each near one that is computed."""
    swing = kicked(mechanism_of(solution), 2.0)
    padded = 8 * len(swing.speed)
    heights = np.abs(np.fft.rfft(swing.speed * np.hanning(len(swing.speed)), padded))
    at = np.fft.rfftfreq(padded, float(swing.time[1] - swing.time[0]))
    near = [(at > 0.8 * mode) & (at < 1.25 * mode) for mode in solution["axis_modes"]]
    return [float(at[there][np.argmax(heights[there])]) for there in near]


def falling_out(solution: Solution) -> list[tuple[float, float]]:
    """Computed and integrated torque [N·m] at which steps are lost, at each share of the corner speed."""
    speeds = [share * float(solution["corner_speed"]) for share in OF_CORNER]
    curve, mechanism = solution["torque_curve"], mechanism_of(solution, rotor_damping=DAMPED)
    return [(float(curve(np.array([speed]))[0]), pulled_out(mechanism, speed)) for speed in speeds]


def read_on(axis: Axis, solution: Solution, kind: str, **settings: Any) -> Solution:
    """The solution with a set of readings that a round takes on the machine as it is written down, with no noise."""
    plan = plan_of(axis, solution)
    return taken_into(solution, kind, plan, usual(kind, plan, **settings), SimulatedAxis(solution, SOUND))[0]


def moving_as_told(axis: Axis, solution: Solution) -> float:
    """How far it goes for what it is told, over whole steps, so that none is rounded away."""
    step = float(solution["step_length"])
    travel = 16 * step * round(0.8 * float(solution["travel"]) / 16 / step)
    factor = 1e3 if axis.motion == "linear" else 180 / math.pi
    return float(read_on(axis, solution, "travel", commanded=repr(travel * factor), repeats=1)["scale_ratio"])


def pushed(axis: Axis, solution: Solution) -> tuple[float, float]:
    """The free play [travel] and the stiffness [effort/travel] that a push finds."""
    found = read_on(axis, solution, "push")
    return float(found["free_play"]), 1 / float(found["push_compliance"])


def warming(axis: Axis, solution: Solution) -> float:
    """How far the winding is above its surroundings after six time constants, by the thermometer on its case."""
    slow = float(solution.get("thermal_time_constant") or SOUND.warm_time)
    minutes = " ".join(f"{share * slow / 60:g}" for share in (0, 0.5, 1, 2, 3, 4, 6))
    case = read_on(axis, solution, "warming", minutes=minutes)["warming_reading"].temperature
    return float(case[-1] - case[0]) / SOUND.case_share


def drawn_machines(project: Project, name: str, seed: int, count: int = MACHINES) -> Iterator[tuple[float, bool]]:
    """Machines like this axis with other motors, loads and speeds: the odds that no step is lost, and whether one was.

    Each is really as its uncertain inputs were drawn, its rotor damped by 3 to 30 %, evenly by the logarithm; it runs its cycle.
    """
    random, axis = np.random.default_rng(seed), project.axis(name)
    base, left = solve_axis(project, axis), count
    said = frozenset(paths_of(project, axis))
    while left:
        masses = {name: float(base[name]) * float(random.uniform(0.6, 1.7)) for name in ("moving_mass", "load_inertia")
                  if name in base.sheet.inputs and base.get(name)}
        motor = {name: float(base[name]) * float(random.uniform(0.6, most)) for name, most in (
            ("phase_inductance", 1.6), ("rotor_inertia", 1.6), ("current_peak", 1.1))}
        solution = base.changed(**masses, **motor)
        r = float(solution["travel_per_radian"])
        speed = float(random.uniform(0.3, 2.2)) * float(solution["corner_speed"]) * r
        margin = math.exp(float(random.uniform(math.log(LEAST), math.log(MOST))))
        torque = float(solution["torque_curve"](np.array([speed / r]))[0])
        acceleration = acceleration_for(solution["asked_torque"], torque / margin, 1.0)
        if acceleration <= speed / 4:
            continue
        left -= 1
        far = max(1.5 * speed**2 / acceleration, 0.15 * speed)
        cycle = tuple(Move(distance=way * far, speed=speed, acceleration=acceleration, dwell=0.2) for way in (1.0, -1.0))
        doubts = doubts_of(solution.changed(cycle=cycle), inputs := uncertain_inputs(solution, {}, said))
        odds = next(one.share for one in odds_of(solution.changed(cycle=cycle), doubts, said) if one.quantity == "working_margin")
        really = with_values(solution, {one.label: one.at(float(np.clip(random.standard_normal(), -1.7, 1.7))) for one in inputs})
        works = float(really.get("process_load", 0.0)) + float(really["friction_load"])  # in its cycle it works
        body = mechanism_of(really, friction=works / float(really["motor_count"]),
                            rotor_damping=math.exp(random.uniform(math.log(0.03), math.log(0.3))),
                            train_damping=float(np.clip(random.normal(0.03, 0.01), 0.01, 0.06)))
        yield odds, loses_steps_in(body, far, speed, acceleration, 0.2)


def _off(computed: float, integrated: float) -> str:
    return f"{computed:.4g} | {integrated:.4g} | {100 * (integrated / computed - 1):+.1f} %"


def _shares(found: list[tuple[float, bool]]) -> str:
    parts = [found, [one for one in found if one[0] < 0.5], [one for one in found if one[0] >= 0.5]]
    held = ((np.mean([not lost for _, lost in part]), np.mean([odds for odds, _ in part])) for part in parts)
    return " | ".join(f"{real:.0%} | {said:.0%}" for real, said in held)


def page() -> str:
    """The page, as it is written."""
    project = demo_project()
    solutions = {name: solve_axis(project, project.axis(name)) for name in AXES}
    lines = [HEAD, "## Resonances, Hz\n", "| axis | computed | integrated | off |", "|---|---|---|---|"]
    for name, solution in solutions.items():
        lines += [f"| {name}, {AXES[name]} | {_off(float(mode), rings)} |"
                  for mode, rings in zip(solution["axis_modes"], ringing(solution), strict=True)]
    lines += [f"\n## Torque at which steps are lost, N·m, the rotor damped by {DAMPED:.0%}\n",
              "The load grows slowly while the motor runs.\n", "| axis | of the corner speed | computed | integrated | off |",
              "|---|---|---|---|---|"]
    for name, solution in solutions.items():
        lines += [f"| {name} | {share:g} | {_off(*both)} |" for share, both in zip(OF_CORNER, falling_out(solution), strict=True)]
    lines += ["\n## Lost motion at a reversal, µm (C: millidegrees)\n",
              "As a round takes it. Least: play and the motor's lag; most: all of the wind-up too.\n",
              "| axis | least | a round | most |", "|---|---|---|---|"]
    for name, solution in solutions.items():
        in_unit = 1e6 if name != "C" else 1e3 * 180 / math.pi
        found = (*lost_motion_bounds(solution), float(read_on(project.axis(name), solution, "reversal")["backlash"]))
        lines.append(f"| {name} | " + " | ".join(f"{one * in_unit:.3g}" for one in (found[0], found[2], found[1])) + " |")
    lines += ["\n## How far it goes, free play, stiffness by pushing, warmth\n",
              "| axis | goes for what it is told | play computed | a push finds | stiffness computed | a push finds | off | winding"
              " computed, K | by its case | off |", "|---|---|---|---|---|---|---|---|---|---|"]
    for name, solution in solutions.items():
        axis, in_unit = project.axis(name), 1e6 if name != "C" else 1e3 * 180 / math.pi
        play, stiffness = pushed(axis, solution)
        rise = float(solution["temperature_rise"])
        lines.append(f"| {name} | {moving_as_told(axis, solution):.6f} | {float(solution['train_clearance']) * in_unit:.3g} |"
                     f" {play * in_unit:.3g} | {_off(float(solution['stiffness_when_pushed']), stiffness)} |"
                     f" {_off(rise, warming(axis, solution))} |")
    lines += [f"\n## Whether steps are lost: {MACHINES} machines of each train\n",
              "Like those of the demo, with other motors, loads and speeds, computed margins from a half to four, each as its"
              " doubts were drawn, the rotor damped by 3 to 30 %; ten moves to and fro, ramps without limited jerk.\n",
              "| train | lost no step | the odds said | where they said under one half | they said | above | they said |",
              "|---|---|---|---|---|---|---|"]
    everyone: list[tuple[float, bool]] = []
    for seed, name in enumerate(solutions):
        found = list(drawn_machines(project, name, seed))
        everyone += found
        lines.append(f"| {AXES[name]} | {_shares(found)} |")
    lines += [f"| all | {_shares(everyone)} |", "",
              "The odds are on the safe side everywhere, most where a steady force rather than inertia takes the torque (the press"
              " on its screw): what a sudden speed-up overshoots by is a share of the inertia's torque only.",
              *lines_of(counted(project)), *taught_lines(tried_on(project)), *set_lines(trials_of(project)),
              *loop_lines(loop_trials()), ""]
    return "\n".join(lines)


if __name__ == "__main__":
    PAGE.write_text(page(), encoding="utf-8")
    print(f"Wrote {PAGE}")
