"""What a cycle asks between the ends of its pieces, against the same cycle walked in small steps, for random axes."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest

from urban_mule.core.assembly import axis_sheet
from urban_mule.core.load.cycle import Move, sampled, take, unrolled
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.train.fold import torque_into_train
from urban_mule.core.train.links import Belt, Reduction, Screw, Stage, Worm

BASE: dict[str, Any] = {
    "moving_mass": 5.0, "unit": "mm", "train": (Belt(pitch=0.005, teeth=20),), "supply_voltage": 48.0,
    "rotor_inertia": 5e-5}
STEPPER = {"holding_torque": 2.0, "rated_current": 3.0, "rated_current_is": "rms", "phase_resistance": 0.8,
           "phase_inductance": 3e-3, "step_angle": math.pi / 100, "current_peak": 4.2, "thermal_resistance": 2.0}
SERVO = {"rated_torque": 1.0, "motor_peak_torque": 3.0, "rated_speed": 300.0, "max_speed": 400.0, "rated_voltage": 48.0,
         "rotor_inertia": 1e-4}


def solve(motor: str = "stepper", **more: Any) -> Solution:
    return axis_sheet("linear", motor).solve(**{**BASE, **(STEPPER if motor == "stepper" else SERVO), **more})


def random_axis(rng: np.random.Generator) -> dict[str, Any]:
    """A random load on a random train: belts and screws behind reductions and worms, loads that push and pull, both slopes."""
    moves = tuple(Move(distance=float(rng.choice([-1, 1]) * rng.uniform(0.02, 0.8)), speed=float(rng.uniform(0.1, 1.2)),
                       acceleration=float(rng.uniform(0.5, 6)), jerk=float(rng.uniform(4, 200)) if rng.random() < 0.8 else None,
                       dwell=float(rng.choice([0.0, 0.3])), repeat=int(rng.integers(1, 4))) for _ in range(rng.integers(1, 3)))
    efficiency = float(rng.uniform(0.55, 1))
    last: Stage = (Belt(pitch=0.005, teeth=int(rng.integers(14, 40)), efficiency=efficiency) if rng.random() < 0.6
                   else Screw(lead=0.02, inertia=2e-5, efficiency=efficiency))
    geared = {"ratio": float(rng.uniform(2, 8)), "efficiency": float(rng.uniform(0.5, 1)), "inertia_in": 1e-5, "inertia_out": 1e-5,
              "drag_torque": float(rng.choice([0.0, 0.02]))}
    first = ((), (Reduction(**geared),), (Worm(**geared),))[rng.integers(3)]
    return {"moving_mass": float(rng.uniform(1, 60)), "friction_force": float(rng.uniform(0, 150)), "train": (*first, last),
            "incline": float(rng.choice([0.0, math.pi / 2, -math.pi / 2, 0.4])), "cycle": moves}


def walked(solution: Solution, points: int = 4000) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Time [s], shaft speed [rad/s], torque [N·m] and whether it moves, all pieces of the cycle in turn, in small steps."""
    pieces = take(solution["cycle_pieces"], unrolled(solution["cycle_pieces"]))
    time, _, speed, acceleration = sampled(pieces, points)
    s, r = np.repeat(pieces.direction, points), solution["travel_per_radian"]
    force = solution["moved_inertia"] * acceleration + s * solution["friction_load"] + solution["gravity_load"]
    torque = torque_into_train(solution["train"], force, s, acceleration / r) + solution["shaft_inertia"] * acceleration / r
    return time, speed / r, np.where(s == 0, solution["dwell_torque"], torque), s != 0


@pytest.mark.parametrize("motor", ["stepper", "servo"])
def test_energy_power_margin_and_rms_are_those_of_the_walked_cycle(motor: str) -> None:
    rng = np.random.default_rng(3)
    for number in range(30):
        solution = solve(motor, **random_axis(rng))
        time, speed, torque, moving = walked(solution)
        power, step = torque * speed, np.diff(time)
        scale = np.abs(power).max() * time[-1]
        back = -float(np.sum(np.minimum(power[1:] + power[:-1], 0) / 2 * step))
        assert solution["regenerated_energy"] == pytest.approx(back, rel=1e-5, abs=3e-8 * scale), number
        assert solution["peak_power"] == pytest.approx(max(power.max(), 0.0), rel=1e-6, abs=1e-9), number
        mean = float(np.sum((torque[1:] ** 2 + torque[:-1] ** 2) / 2 * step)) / time[-1]
        assert solution["rms_torque"] == pytest.approx(math.sqrt(mean), rel=1e-5), number
        asked = moving & (torque != 0)
        margin = (solution["torque_curve"](np.abs(speed[asked])) / np.abs(torque[asked])).min()
        assert solution["working_margin"] == pytest.approx(margin, rel=2e-6), number
        at, hard = solution["tightest_moment"]
        assert solution["torque_curve"](np.array([abs(at)]))[0] / abs(hard) == pytest.approx(solution["working_margin"], rel=1e-9)
        if motor == "servo":
            rated = 0.5 * np.abs(torque).max()
            over = np.abs((torque[1:] + torque[:-1]) / 2) > rated
            longest, run = 0.0, 0.0
            for one, lasts in zip(np.tile(over, 2), np.tile(step, 2), strict=True):  # round the cycle
                run = run + lasts if one or not lasts else 0.0
                longest = max(longest, run)
            found = solve(motor, **{**solution.inputs, "rated_torque": rated})["time_above_rated"]
            fine = 2e-3 * time[-1] / len(solution["cycle_pieces"].duration) + 1e-4
            assert found == pytest.approx(min(longest, time[-1]), abs=fine), number


def test_the_cases_that_were_wrong() -> None:
    belt = (Belt(pitch=0.005, teeth=20, efficiency=0.94),)
    jerky = solve(moving_mass=59.7, friction_force=142.0, train=belt, rotor_inertia=1e-4, cycle=(
        Move(distance=0.57, speed=0.59, acceleration=3.0, jerk=10.0),))
    assert jerky["regenerated_energy"] == pytest.approx(7.44e-3, rel=2e-3)
    servo = solve("servo", moving_mass=100.0, peak_time=1.0, cycle=(Move(distance=0.5, speed=1.0, acceleration=1.0, dwell=1.0),))
    assert servo["time_above_rated"] == pytest.approx(1.414, abs=1e-3), "speeding up and slowing down follow each other"
    fast = solve("servo", moving_mass=2.0, friction_force=40.0, cycle=(Move(distance=80.0, speed=5.6, acceleration=5.0),))
    assert fast["continuous_margin"] == pytest.approx(1.15, abs=0.01), "at the mean speed it may give less"
    lowered = solve(moving_mass=10.0, incline=math.pi / 2, friction_force=60.0, cycle=(
        Move(distance=-0.4, speed=0.5, acceleration=2.0),))
    assert lowered["peak_torque"] == pytest.approx(0.930, abs=1e-3), "a dwell of 0 s holds nothing"
