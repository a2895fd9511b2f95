"""Writes docs/honesty.md: what the sheet computes of an axis beside what the same axis does when it is integrated in time."""

from __future__ import annotations

import math
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from urban_mule.bench.simulated.motion import kicked, loses_steps_on, mechanism_of, moved, pulled_out
from urban_mule.core.load.asked import acceleration_for
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.doubts import REALLY_GIVES, REALLY_GIVES_DOUBT, normal
from urban_mule.demo.courtyard import demo_project
from urban_mule.store.solve import solve_axis

PAGE = Path(__file__).parent.parent / "docs" / "honesty.md"
AXES = {"X": "belt", "Y": "rack", "Z": "ball screw", "C": "reduction"}
OF_CORNER = (0.2, 0.5, 1.0, 1.5, 2.0, 3.0)
DAMPED = 0.3  # damping ratio of the rotor with which the torque is looked at
MACHINES, LEAST, MOST = 50, 0.6, 3.0  # of each train; margins that are drawn, evenly by their logarithm
HEAD = """# What is computed, and what the same axis does in time

Made by `make honesty`. Each stepper axis of the demo is integrated in time (`bench/simulated/motion.py`): two phases under a
limited voltage, the rotor on its field, the train as a spring with play, the load with friction. It has the same givens, and none
of the formulas for resonance, torque over speed or lost motion. No practice machine moves by it yet: it checks what is computed.
"""


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
    curve, mechanism = solution["torque_curve"], mechanism_of(solution, DAMPED)
    return [(float(curve(np.array([speed]))[0]), pulled_out(mechanism, speed)) for speed in speeds]


def reversing(solution: Solution) -> float:
    """How far apart slow moves from both sides come to rest from where they were sent, together [travel]."""
    speed, acceleration = 0.2 * float(solution["top_speed"]), 0.1 * float(solution["top_acceleration"])
    ends = [moved(mechanism_of(solution), way * speed, speed, acceleration).position[-1] for way in (1.0, -1.0)]
    return float(speed - ends[0] + ends[1] + speed)


def lag_by_drag(solution: Solution) -> float:
    """What the motor's own drag adds to its lag at a reversal [travel]."""
    share = float(solution.get("drag_torque") or 0.0) / float(solution["set_torque"])
    return 2 * math.asin(share) / float(solution["rotor_teeth"]) * float(solution["travel_per_radian"])


def drawn_machines(base: Solution, seed: int, count: int = MACHINES) -> Iterator[tuple[float, bool]]:
    """Machines like this one with other motors, loads, speeds and dampings: the computed margin, and whether it lost steps."""
    random = np.random.default_rng(seed)
    left = count
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
        mechanism = mechanism_of(solution, float(random.uniform(0.03, 0.3)), float(np.clip(random.normal(0.03, 0.01), 0.01, 0.06)))
        if acceleration > speed / 4:
            left -= 1
            yield margin, loses_steps_on(mechanism, max(1.5 * speed**2 / acceleration, 0.15 * speed), speed, acceleration)


def odds(margin: float) -> float:
    """What is said of a margin before a ladder: that no step is lost."""
    return normal(math.log(REALLY_GIVES * margin) / REALLY_GIVES_DOUBT)


def _off(computed: float, integrated: float) -> str:
    return f"{computed:.4g} | {integrated:.4g} | {100 * (integrated / computed - 1):+.1f} %"


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
    lines += ["\n## Lost motion of slow moves, µm (C: millidegrees)\n",
              "Least: play and the motor's lag. Most: all of the wind-up too, and what the motor's own drag adds to its lag, which"
              " the sheet leaves out.\n",
              "| axis | least | integrated | most |", "|---|---|---|---|"]
    for name, solution in solutions.items():
        in_unit = 1e6 if name != "C" else 1e3 * 180 / math.pi
        least = float(solution.changed(windup_share=0.0)["expected_lost_motion"])
        most = float(solution.changed(windup_share=1.0)["expected_lost_motion"]) + lag_by_drag(solution)
        lines.append(f"| {name} | " + " | ".join(f"{one * in_unit:.3g}" for one in (least, reversing(solution), most)) + " |")
    lines += [f"\n## Whether steps are lost: {MACHINES} machines of each train\n",
              "Like those of the demo, with other motors, loads, speeds and 3 to 30 % of damping; ramps without limited jerk.\n",
              "| train | lost no step | the odds said | of those with a margin under 1.2 | the odds said | above | the odds said |",
              "|---|---|---|---|---|---|---|"]
    everyone: list[tuple[float, bool]] = []
    for seed, (name, solution) in enumerate(solutions.items()):
        found = list(drawn_machines(solution, seed))
        everyone += found
        parts = [found, [one for one in found if one[0] < 1.2], [one for one in found if one[0] >= 1.2]]
        shares = [f"{np.mean([not lost for _, lost in part]):.0%} | {np.mean([odds(margin) for margin, _ in part]):.0%}"
                  for part in parts]
        lines.append(f"| {AXES[name]} | {' | '.join(shares)} |")
    held, said = np.mean([not lost for _, lost in everyone]), np.mean([odds(margin) for margin, _ in everyone])
    lines.append(f"\nOf all of them {held:.0%} lost no step, where the odds said {said:.0%}.\n")
    return "\n".join(lines)


if __name__ == "__main__":
    PAGE.write_text(page(), encoding="utf-8")
    print(f"Wrote {PAGE}")
