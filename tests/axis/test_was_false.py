"""What was once said or computed wrongly, each by the numbers that showed it, against a second way."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from tests.axis.test_verdicts import CYCLE, SERVO, solve, two_way, verdict

from urban_mule.core.load.cycle import Move
from urban_mule.core.load.fall import rises
from urban_mule.core.moves.stations import stations_of
from urban_mule.core.readings.drift import DriftReading
from urban_mule.core.readings.travel import TravelReading
from urban_mule.core.readings.two_way import TwoWayReading
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.studies.doubts import uncertain_inputs
from urban_mule.core.studies.tolerance import spread
from urban_mule.core.train.links import Belt, Coupling, Screw

UPRIGHT: dict[str, Any] = {"incline": math.pi / 2, "train": (Screw(lead=0.01, diameter=0.012, length=0.4, efficiency=0.9),)}
WINDING: dict[str, Any] = {"torque_constant_rms": 0.11, "phase_resistance": 0.32, "winding_figures_are": "line to line"}


def test_newtons_are_no_newton_metres_before_the_train_has_its_last_link() -> None:
    open_ended = solve(friction_force=20.0, train=(Coupling(inertia=1e-6),))
    assert isinstance(open_ended.find("creep_torque_plus"), Unknown) and isinstance(open_ended.find("creep_torque_minus"), Unknown)
    assert all(found is None or found.level == "unknown" for name in ("creep", "torque margin")
               for found in (verdict(name, open_ended),))


def test_what_comes_back_under_jerk_is_what_small_steps_of_time_say() -> None:
    """An effort that changes its sign twice within a piece: the energy given back, summed over a fine walk of the same move."""
    move = Move(distance=1.0, speed=1.0, acceleration=1.0, jerk=1.0)
    train = (Coupling(inertia=8e-4), Screw(lead=0.02, diameter=0.03, length=0.2, efficiency=0.3, end_support="fixed-fixed"))
    solution = solve(train=train, moving_mass=271.1, friction_coefficient=0.003, friction_force=0.0, rotor_inertia=4e-5,
                     cycle=(move,))
    assert solution["regenerated_energy"] == pytest.approx(walked(solution, train[1], move), rel=2e-3)


def walked(solution: Any, screw: Screw, move: Move, steps: int = 400_000) -> float:
    """Energy that the motor gives back over a move too short for its speed [J], in small slices: jerk up, down twice, up."""
    part = (move.distance / (2 * move.jerk)) ** (1 / 3)
    time = (np.arange(steps) + 0.5) * 4 * part / steps
    step = time[1] - time[0]
    jerk = np.where((time < part) | (time >= 3 * part), move.jerk, -move.jerk)
    acceleration = np.cumsum(jerk) * step
    speed = np.cumsum(acceleration) * step
    lead, mass = screw.lead / (2 * math.pi), solution.inputs["moving_mass"]
    force = mass * acceleration + 0.003 * mass * 9.80665 * (speed > 0)
    behind = force * lead
    inner = behind / np.where(behind > 0, screw.efficiency, 1.0) * np.where(behind < 0, (2 - 1 / screw.efficiency), 1.0)
    before = 4e-5 + 8e-4 + math.pi / 32 * 7850 * screw.diameter**4 * screw.length  # rotor, coupling, the screw of steel
    power = (inner + before * acceleration / lead) * speed / lead
    return float(-np.minimum(power, 0.0).sum() * step)


def test_filling_in_the_winding_never_makes_more_of_a_servo_than_its_sheet() -> None:
    speeds = np.linspace(0.0, 480.0, 60)
    stated = solve("servo", motor_peak_torque=1.9)
    wound = solve("servo", **WINDING, pole_pairs=4, phase_inductance=9e-4)
    for name in ("torque_curve", "continuous_curve"):
        assert np.all(wound[name](speeds) <= stated[name](speeds) + 1e-12), name
    assert wound["speed_limit"] <= stated["speed_limit"]


def test_the_heat_of_a_servo_needs_neither_pole_pairs_nor_inductance() -> None:
    solution = solve("servo", **WINDING)
    by_hand = 3 * 0.16 * (solution["rms_torque"] / 0.11) ** 2
    assert solution["cycle_copper_loss"] == pytest.approx(by_hand)
    one_speed = solve("servo", rated_speed=400.0, max_speed=400.0)
    assert one_speed["torque_curve"](np.array([399.0, 401.0])).tolist() == [SERVO["motor_peak_torque"], 0.0]


def test_a_tolerance_on_a_move_with_jerk_spreads() -> None:
    cycle = (Move(distance=0.3, speed=0.3, acceleration=2.0, jerk=20.0, dwell=0.5), CYCLE[1])
    solution = solve(cycle=cycle)
    inputs = uncertain_inputs(solution, {"cycle[0].acceleration": 0.3}, frozenset())
    found = spread(solution, "working_margin", [one for one in inputs if one.label.startswith("cycle")], builds=300)
    assert found.values.size == 300 and np.ptp(found.values) > 0


@pytest.mark.parametrize(("offset", "rise"), [(0.0, 30e-6), (120e-6, 0.0), (-80e-6, 25e-6)])
def test_where_a_place_stood_at_first_is_no_drift(offset: float, rise: float) -> None:
    time = np.array([0, 1, 2, 4, 8, 15, 25, 40, 60, 90]) * 60.0
    noise = np.random.default_rng(2).normal(0, 0.2e-6, time.size)
    solution = solve(drift_reading=DriftReading(time, offset + rise * (1 - np.exp(-time / 1200.0)) + noise))
    final = solution.get("drift_final")
    assert (final is None or abs(final) < 2e-6) if rise == 0 else final == pytest.approx(rise, rel=0.1)


def test_a_wave_that_the_targets_cannot_tell_from_a_line_is_none() -> None:
    """Targets in whole millimetres under a lead of 2 mm: its wave is met at two places only, and no kilometres come of it."""
    for seed in range(100):
        rng = np.random.default_rng(seed)
        targets = np.sort(rng.choice(np.arange(10, 390), 11, replace=False)) * 1e-3
        run = TwoWayReading(targets, rng.normal(0, 3e-6, (3, 11)), rng.normal(0, 3e-6, (3, 11)))
        solution = solve(positioning_reading=run, train=(Screw(lead=0.002, diameter=0.012, length=0.5),))
        assert all(wave.amplitude < 1e-4 for wave in solution["periodic_errors"]), seed


def test_repeats_that_walk_one_way_are_slip_and_neither_scale_nor_drift() -> None:
    still = two_way(5e-6)
    walk = np.arange(len(still.up))[:, None] * 40e-6
    slipping = TwoWayReading(still.targets, still.up + walk, still.down + walk)
    assert solve(positioning_reading=slipping)["walks_one_way"] and not solve(positioning_reading=still)["walks_one_way"]
    said = " ".join(f"{one.sentence} {one.next}" for one in solve(positioning_reading=slipping, accuracy_wanted=1e-4).verdicts()
                    if one.stage == "Proof")
    assert "slip" in said
    travel = TravelReading(0.3, np.array([0.29, 0.286, 0.282, 0.277]), 1e-5)
    scale = verdict("scale", solve(scale_reading=travel, travel_reading=travel))
    assert scale is not None and scale.level == "short" and "slips" in scale.next
    assert isinstance(solve(scale_reading=travel, travel_reading=travel).find("steps_per_unit_to_set"), Unknown)


@pytest.mark.parametrize(("measured", "nxt"), [
    ((0.2, 0.46, 0.38), "windings"), ((-0.3, -0.3001), "direction"), ((0.0002, 0.0001), "does not turn")])
def test_a_ratio_that_no_setting_makes_sends_to_its_cause(measured: tuple[float, ...], nxt: str) -> None:
    travel = TravelReading(0.4, np.array(measured), 1e-5)
    solution = solve(scale_reading=travel, travel_reading=travel)
    scale = verdict("scale", solution)
    assert scale is not None and scale.level == "short" and nxt in scale.next and "steps per unit" not in scale.next
    assert isinstance(solution.find("steps_per_unit_to_set"), Unknown)


def test_what_goes_up_by_itself_is_said_and_a_counterweight_is_moved_too() -> None:
    weight = solve(**UPRIGHT)["gravity_load"]
    for push, up, words in ((0.0, False, "drops|falls"), (2 * weight, True, "rises|up")):
        solution = solve(**UPRIGHT, counterbalance_force=push)
        assert bool(rises(solution["gravity_load"], math.pi / 2)) is up
        held = verdict("vertical axis", solution)
        assert held is not None and any(word in held.sentence for word in words.split("|")), held.sentence
    light, heavy = (solve(**UPRIGHT, counterbalance_force=weight, counterweight_mass=mass) for mass in (0.0, 4.0))
    assert heavy["moved_inertia"] == pytest.approx(light["moved_inertia"] + 4.0) and heavy["peak_torque"] > light["peak_torque"]
    stations = stations_of({"links": ("screw",), "vertical": "yes", "rises": "yes", "motor kind": "stepper"})
    assert stations[0].name == "what rises" and "from above" in stations[0].do
    assert all("hand to both ends" not in one.do for one in stations)


def test_a_worm_through_which_nothing_gets_back_holds_its_load() -> None:
    for share, level in ((0.0, "tight"), (None, "short")):
        held = verdict("vertical axis", solve(incline=math.pi / 2, train=(Belt(pitch=0.003, teeth=20, back_efficiency=share),)))
        assert held is not None and held.level == level, held.sentence
