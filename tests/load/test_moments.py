"""What a cycle asks between the ends of its pieces, against the same cycle walked in small steps, for random axes."""

from __future__ import annotations

import math
import os
import random
from typing import Any

import numpy as np
import pytest

from urban_mule.core.load.cycle import Move, cycle_pieces, cycle_span, sampled, take, unrolled
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.subjects import axis_sheet
from urban_mule.core.train.belt import slack_strand
from urban_mule.core.train.fold import torque_into_train
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import Belt, Reduction, Screw, Worm

COUNT = int(os.environ.get("URBAN_MULE_AXES", "60")) // 2  # of each kind of motor
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
    last: Link = (Belt(pitch=0.005, teeth=int(rng.integers(14, 40)), efficiency=efficiency) if rng.random() < 0.6
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


def longest_run(over: np.ndarray, step: np.ndarray) -> float:
    """The longest time at a stretch above, twice round the cycle; steps that are roundings end nothing."""
    lasting = step > 1e-14 * step.sum()
    above, lasts = np.tile(over[lasting], 2), np.tile(step[lasting], 2)
    passed = np.concatenate([[0.0], np.cumsum(lasts * above)])
    ended = np.where(above, 0.0, passed[1:])
    return float((passed[1:] - np.maximum.accumulate(ended)).max())


@pytest.mark.parametrize("motor", ["stepper", "servo"])
def test_energy_power_margin_and_rms_are_those_of_the_walked_cycle(motor: str) -> None:
    rng = np.random.default_rng(3)
    for number in range(COUNT):
        solution = solve(motor, **random_axis(rng))
        time, speed, torque, moving = walked(solution)
        power, step = torque * speed, np.diff(time)
        moved = float(np.sum(np.abs(power[1:] + power[:-1]) / 2 * step))
        back = -float(np.sum(np.minimum(power[1:] + power[:-1], 0) / 2 * step))
        assert solution["regenerated_energy"] == pytest.approx(back, rel=1e-6, abs=1e-7 * moved), number
        assert solution["peak_power"] == pytest.approx(max(power.max(), 0.0), rel=1e-6, abs=1e-9), number
        mean = float(np.sum((torque[1:] ** 2 + torque[:-1] ** 2) / 2 * step)) / time[-1]
        assert solution["rms_torque"] == pytest.approx(math.sqrt(mean), rel=1e-6), number
        asked = moving & (torque != 0)
        margin = (solution["torque_curve"](np.abs(speed[asked])) / np.abs(torque[asked])).min()
        assert solution["working_margin"] == pytest.approx(margin, rel=1e-6), number
        at, hard = solution["tightest_moment"]
        assert solution["torque_curve"](np.array([abs(at)]))[0] / abs(hard) == pytest.approx(solution["working_margin"], rel=1e-9)
        if motor == "servo":
            rated = 0.5 * np.abs(torque).max()
            longest = longest_run(np.abs((torque[1:] + torque[:-1]) / 2) > rated, step)
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
    three = Move(distance=-0.05804288970220353, speed=0.9612283276333917, acceleration=5.478664429073398, repeat=3)
    whole = solve("servo", moving_mass=40.0, rated_torque=0.1, cycle=(three,))
    assert whole["time_above_rated"] == pytest.approx(whole["cycle_duration"]), "a cruise of a rounding ends no run"
    tiny = Move(distance=1e-12, speed=1.0, acceleration=1e3, dwell=0.0)
    waits = Move(distance=0.1, speed=1.0, acceleration=5.0, dwell=1e9)
    assert solve("servo", cycle=(tiny, waits))["time_above_rated"] >= 0
    fast = solve("servo", moving_mass=2.0, friction_force=40.0, cycle=(Move(distance=80.0, speed=5.6, acceleration=5.0),))
    assert fast["continuous_margin"] == pytest.approx(1.15, abs=0.01), "at the mean speed it may give less"
    lowered = solve(moving_mass=10.0, incline=math.pi / 2, friction_force=60.0, cycle=(
        Move(distance=-0.4, speed=0.5, acceleration=2.0),))
    assert lowered["peak_torque"] == pytest.approx(0.930, abs=1e-3), "a dwell of 0 s holds nothing"


def test_stopping_strands_falling_and_creeping_are_what_statics_and_kinematics_say() -> None:
    short = Move(distance=-0.01, speed=0.05, acceleration=10.0)
    assert solve(cycle=(Move(distance=2.0, speed=1.0, acceleration=1.0), short))["braking_distance"] == pytest.approx(0.5)
    jerky = solve(cycle=(Move(distance=2.0, speed=1.0, acceleration=10.0, jerk=500.0), short))
    assert jerky["braking_distance"] == pytest.approx(1 / 2 * (1 / 10 + 10 / 500)), "v/2·(v/a + a/j)"
    assert jerky["shortest_speed_up"] == pytest.approx(0.05 / 10)
    soft = solve(cycle=(Move(distance=2.0, speed=1.0, acceleration=10.0, jerk=50.0), short))
    assert soft["braking_distance"] == pytest.approx(math.sqrt(1 / 50)), "v·√(v/j): the acceleration of 10 is never reached"
    belt = Belt(pitch=0.005, teeth=20, span=1.0, specific_stiffness=1e5, pretension=60.0)
    stretched = 1e5 * np.array([1 / 0.1, 1 / 1.9])  # both strands, the load 0.1 m from the driving pulley
    give = 100.0 / stretched.sum()
    assert 60.0 - give * stretched[0] == pytest.approx(slack_strand(belt, 100.0, 0.1)) == pytest.approx(-35.0)
    pulled = solve(train=(belt,), moving_mass=10.0, travel=0.8, cycle=(Move(distance=0.5, speed=0.5, acceleration=10.0),))
    loose = next(v for v in pulled.verdicts() if v.check == "belt tension")
    assert loose.level == "short" and "loses 95 N of its 60 N" in loose.sentence
    upright: dict[str, Any] = {"incline": math.pi / 2, "travel": 0.3, "cycle": (Move(distance=0.2, speed=0.1, acceleration=1.0),)}
    for efficiency, falls in ((0.45, True), (0.41, True), (0.39, False)):
        screw = solve(train=(Screw(lead=0.004, inertia=1e-6, efficiency=efficiency),), **upright)
        said = next(v.sentence for v in screw.verdicts() if v.check == "vertical axis")
        assert (screw.get("fall_time") is not None) == falls == said.startswith("Falls when power goes"), efficiency
    bare = solve(train=(Screw(lead=0.004),), microsteps=16, friction_force=20.0)
    assert bare["reversal_microsteps"] > 0 and bare.get("peak_torque") is None, "creeping needs no inertia"


def test_many_moves_are_cut_as_each_alone_is() -> None:
    rng = random.Random(5)
    moves = tuple(Move(
        distance=rng.choice((-1, 1)) * rng.uniform(1e-4, 1), speed=rng.uniform(0.01, 1), acceleration=rng.uniform(0.1, 20),
        jerk=rng.choice((None, rng.uniform(1, 500))), dwell=rng.choice((0, 0.4)), process_load=rng.choice((None, 3.0)),
        repeat=rng.choice((1, 4))) for _ in range(60))
    whole = cycle_pieces(moves)
    alone = [cycle_pieces((move,)) for move in moves]
    for name in vars(whole):
        apart = [np.full_like(one.move, place) if name == "move" else getattr(one, name) for place, one in enumerate(alone)]
        assert np.array_equal(getattr(whole, name), np.concatenate(apart), equal_nan=name == "process_load"), name
    with pytest.raises(NotKnown, match="speed of a move"):
        cycle_pieces((*moves, Move(distance=1.0, acceleration=1.0, speed=None)))
    assert cycle_span(whole) == pytest.approx(np.ptp([0.0, *np.cumsum([one.distance * one.repeat for one in moves])]))
