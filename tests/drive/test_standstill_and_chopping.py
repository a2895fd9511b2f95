"""The idle axis leaned on, and quiet chopping: each against a way of its own."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest

from urban_mule.core.drive.microsteps import COUNTS
from urban_mule.core.load.cycle import Move, sampled
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.subjects import axis_sheet
from urban_mule.core.train.links import Belt, Screw

AXIS: dict[str, Any] = {
    "moving_mass": 5.0, "friction_force": 6.0,
    "train": (Belt(pitch=0.003, teeth=24, inertia=1e-5, specific_stiffness=4e5, span=1.0),),
    "holding_torque": 1.6, "rated_current": 2.8, "rated_current_is": "rms", "phase_resistance": 0.8, "phase_inductance": 0.0025,
    "rotor_inertia": 1e-4, "step_angle": math.pi / 100, "supply_voltage": 36.0, "current_peak": 3.4, "microsteps": 16, "unit": "mm",
    "hold_fraction": 0.5, "cycle": (Move(distance=0.4, speed=0.5, acceleration=4.0, jerk=60.0), Move(distance=-0.4, speed=0.3,
                                                                                                    acceleration=6.0))}


def solve(**more: Any) -> Any:
    return axis_sheet("linear", "stepper").solve(**{**AXIS, **more})


@pytest.mark.parametrize("upright", [False, True])
def test_leaning_moves_the_rotor_along_its_spring_and_stretches_the_train(upright: bool) -> None:
    """Newton's method on the balance of the magnetic spring, before and after somebody leans."""
    more = {"incline": math.pi / 2, "train": (Screw(lead=0.008, diameter=0.012, length=0.3, nut_stiffness=5e7),)} if upright else {}
    solution = solve(lean_force=20.0, **more)
    r, held, teeth = solution["travel_per_radian"], 0.5 * solution["set_torque"], solution["rotor_teeth"]
    places = []
    for push in (0.0, 20.0):
        angle, load = 0.0, (abs(solution["gravity_load"]) + push) * r
        for _ in range(40):
            angle -= (held * math.sin(teeth * angle) - load) / (held * teeth * math.cos(teeth * angle))
        places.append(angle * r)
    expected = places[1] - places[0] + 20.0 / solution["train_stiffness"]
    assert solution["lean_shift"] == pytest.approx(expected, rel=1e-9)
    just = solve(lean_force=20.0, **more, hold_fraction=solution["hold_fraction_needed"])
    assert just["holding_force"] == pytest.approx(1.5 * (20.0 + abs(solution["gravity_load"])))


def test_leaning_too_hard_pushes_it_off_and_no_share_holds() -> None:
    force = solve()["holding_force"]
    gone = solve(lean_force=force * 1.001).find("lean_shift")
    assert isinstance(gone, Unknown) and "pushed off" in gone.reason and solve(lean_force=force * 0.999)["lean_shift"] > 0
    assert isinstance(solve(lean_force=2 * force).find("hold_fraction_needed"), Unknown)
    assert isinstance(solve(lean_force=1.0, hold_fraction=0.0).find("lean_shift"), Unknown)


@pytest.mark.parametrize("changeover", [0.05, 0.17, 0.29, 0.45, 0.7])
def test_the_quiet_margin_is_the_least_of_a_dense_walk_below_the_changeover(changeover: float) -> None:
    solution = solve(chopping="both", changeover_speed=changeover, quiet_torque_share=0.6)
    c, r = solution["cycle_torque"], solution["travel_per_radian"]
    share = np.linspace(0, 1, 4001)[:, None]
    speed, torque = c.inside(share)
    moving = np.broadcast_to(c.moving, speed.shape) & (np.abs(speed) <= changeover / r * (1 + 1e-12)) & (np.abs(torque) > 0)
    walked = float(np.min(0.6 * solution["torque_curve"](np.abs(speed[moving])) / np.abs(torque[moving])))
    assert solution["quiet_margin"] == pytest.approx(walked, rel=2e-3)
    assert solution["quiet_margin"] <= walked * (1 + 1e-9), "a walk never finds less than the least"
    top = float(np.max(np.abs(sampled(solution["cycle_pieces"])[2])))
    quiet = solve(chopping="quiet", quiet_torque_share=0.6)
    assert quiet["quiet_margin"] == pytest.approx(0.6 * solution["working_margin"])
    assert changeover < top or solution["quiet_margin"] == pytest.approx(quiet["quiet_margin"], rel=1e-6)


def test_ticks_are_what_a_driver_would_count() -> None:
    """A rotor at the changeover, its 256ths of a full step timed by the clock."""
    solution = solve(chopping="both", changeover_speed=0.1, driver_clock=12e6, quiet_torque_share=0.7)
    turns = 0.1 / solution["travel_per_turn"]
    assert solution["changeover_ticks"] == pytest.approx(12e6 / (turns * 200 * 256))
    assert solution["changeover_full_step_rate"] == pytest.approx(turns * 200)


def test_the_school_that_wins_never_breaks_its_own_condition() -> None:
    rng = np.random.default_rng(4)
    seen = set()
    for _ in range(400):
        more = {"max_pulse_rate": float(10 ** rng.uniform(3.3, 6.5)), "friction_force": float(10 ** rng.uniform(-1, 2)),
                "finest_microsteps": int(rng.choice([16, 64, 256])), "interpolated_microsteps": int(rng.choice([16, 256]))}
        solution = solve(**more)
        schools = solution.get("microstep_schools")
        winner = next(one for one in schools if one.wins)
        seen.add(winner.words)
        assert sum(one.wins for one in schools) == 1 and all(any(c.isdigit() for c in one.decides) for one in schools)
        if winner.words.startswith("the finest"):
            assert solution["pulse_rate"] * winner.microsteps / 16 <= 0.8 * more["max_pulse_rate"] * (1 + 1e-9)
            assert winner.microsteps <= solution["finest_moving_microsteps"]
        if winner.words.startswith("few"):
            assert winner.microsteps in COUNTS and winner.microsteps < more["interpolated_microsteps"]
    assert len(seen) == 3
