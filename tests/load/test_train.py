"""Trains in full depth: worms, starts, belts, stiffness, what each link carries, what falls, what does not match."""

from __future__ import annotations

import json
import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from urban_mule.core.load.cycle import Move, cycle_pieces, take, unrolled
from urban_mule.core.load.shares import torque_shares
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.core.subjects import axis_sheet
from urban_mule.core.train.belt import slack_strand, teeth_in_mesh, tight_strand
from urban_mule.core.train.fold import gains_behind, self_locking
from urban_mule.core.train.links import (
    LINKS,
    Belt,
    Coupling,
    Direct,
    Rack,
    Reduction,
    Screw,
    Worm,
)
from urban_mule.core.train.stiffness import link_compliances
from urban_mule.core.train.threads import square_thread_back_efficiency
from urban_mule.store.exchange.open_json import export_project, parse_project
from urban_mule.store.solve import open_solution, solve_axis
from urban_mule.store.text_files import BadFile

STEP = math.pi / 100
STEPPER: dict[str, Any] = {
    "holding_torque": 1.9, "rated_current": 3.0, "phase_resistance": 0.7, "phase_inductance": 0.0028, "rotor_inertia": 4.8e-5,
    "step_angle": STEP, "supply_voltage": 40.0, "current_peak": 4.0, "microsteps": 16}
THERE_AND_BACK = (Move(distance=0.3, speed=0.25, acceleration=2.0, dwell=0.4), Move(distance=-0.3, speed=0.25, acceleration=2.0))
LINEAR: dict[str, Any] = {"moving_mass": 8.0, "friction_force": 12.0, "unit": "mm", "cycle": THERE_AND_BACK, "travel": 0.4}


def solve(*train: Any, motion: str = "linear", **more: Any) -> Solution:
    base = {**STEPPER, **(LINEAR if motion == "linear" else {"unit": "deg"}), "train": train}
    return axis_sheet(motion, "stepper").solve(**{**base, **more})


def verdict(solution: Solution, name: str) -> Verdict | None:
    return next((v for v in solution.verdicts() if v.check == name), None)


# Worms, threads and starts

def test_a_worm_is_a_reduction_that_may_lock_itself() -> None:
    turn = (Move(distance=math.pi, speed=1.0, acceleration=4.0),)
    rotary = {"motion": "rotary", "load_inertia": 0.4, "friction_torque": 2.0, "cycle": turn}
    as_gear, as_worm = solve(Reduction(ratio=20.0, efficiency=0.35), Direct(), **rotary), solve(
        Worm(ratio=20.0, efficiency=0.35), Direct(), **rotary)
    assert as_gear["load_inertia_at_motor"] == as_worm["load_inertia_at_motor"] == pytest.approx(0.4 / 400)
    assert as_gear["creep_torque_plus"] == as_worm["creep_torque_plus"], "forwards they are alike"
    assert as_worm["rest_back_efficiency"] == 0.0 < as_gear["rest_back_efficiency"]
    assert self_locking(as_worm["train"]) and not self_locking(as_gear["train"])
    assert not self_locking((Worm(ratio=20.0, efficiency=0.45),)), "between 0.4 and 0.5 vibration lets it run down"
    assert str(as_worm["steps_fraction"]) == str(as_gear["steps_fraction"]) == "1600/9"


def test_lead_is_pitch_times_starts_and_a_contradiction_is_named() -> None:
    by_lead, by_pitch = solve(Screw(lead=0.008, inertia=1e-6)), solve(Screw(thread_pitch=0.002, starts=4, inertia=1e-6))
    assert by_lead["travel_per_turn"] == by_pitch["travel_per_turn"] == pytest.approx(0.008)
    assert by_pitch["steps_fraction"].fraction == by_lead["steps_fraction"].fraction == 400
    both = verdict(solve(Screw(lead=0.002, thread_pitch=0.002, starts=4, inertia=1e-6)), "screw lead")
    assert both is not None and both.level == "short" and "4 starts makes a lead of 8 mm; 2 mm is given" in both.sentence
    assert verdict(solve(Screw(lead=0.008, thread_pitch=0.002, starts=4, inertia=1e-6)), "screw lead") is None
    with pytest.raises(NotKnown, match="lead of the screw is not given"):
        solve(Screw(inertia=1e-6))["travel_per_turn"]


@settings(max_examples=60, deadline=None)
@given(friction=st.floats(0.02, 0.6), slope=st.floats(0.01, 0.8))
def test_the_exact_back_efficiency_is_that_of_the_inclined_plane(friction: float, slope: float) -> None:
    """Friction angle ρ, slope angle λ: forwards tan λ/tan(λ + ρ), backwards tan(λ − ρ)/tan λ."""
    lam, rho = math.atan(slope), math.atan(friction)
    forwards, backwards = math.tan(lam) / math.tan(lam + rho), math.tan(lam - rho) / math.tan(lam)
    if lam + rho < math.pi / 2:
        assert square_thread_back_efficiency(forwards, slope) == pytest.approx(backwards, rel=1e-9, abs=1e-12)


def test_a_known_pitch_diameter_makes_the_screw_exact() -> None:
    plain = Screw(lead=0.004, efficiency=0.55)
    exact = Screw(lead=0.004, efficiency=0.55, pitch_diameter=0.0145)
    flat = Screw(lead=1e-6, efficiency=0.55, pitch_diameter=0.0145)
    assert plain.backward_efficiency == pytest.approx(2 - 1 / 0.55)
    assert flat.backward_efficiency == pytest.approx(plain.backward_efficiency, rel=1e-6), "a flat thread: the usual form"
    assert 0 < exact.backward_efficiency - plain.backward_efficiency < 0.02
    assert Screw(lead=0.004, efficiency=0.55, back_efficiency=0.3).backward_efficiency == 0.3, "what is given rules"


# Stiffness: springs in a row, against a chain of masses solved as a matrix

def test_the_train_gives_way_as_a_chain_of_springs_does() -> None:
    """Unit force on the load of a coupling, a reduction and a screw; displacements by a stiffness matrix, gears as ratios."""
    coupling, reduction = Coupling(torsional_stiffness=90.0), Reduction(ratio=3.0, torsional_stiffness=700.0)
    screw = Screw(lead=0.01, diameter=0.016, root_diameter=0.0135, length=0.5, end_support="fixed-supported", inertia=1e-6,
                  nut_stiffness=9e7, bearing_stiffness=6e7)
    solution = solve(coupling, reduction, screw)
    # Unknowns: twist behind the coupling (at the motor's speed), twist behind the reduction, its output carried by the screw
    # (twist of the screw's far end), axial motion of the load. Springs couple neighbours; the gear divides by 3.
    twist = 79.3e9 * math.pi * 0.0135**4 / 32 / 0.5
    area = math.pi / 4 * 0.0135**2
    axial = 1 / (0.5 / (206e9 * area) + 1 / 9e7 + 1 / 6e7)
    r = 0.01 / (2 * math.pi)
    springs = [(90.0, [1, 0, 0, 0]), (700.0, [-1 / 3, 1, 0, 0]), (twist, [0, -1, 1, 0]), (axial, [0, 0, -r, 1])]
    matrix = sum(k * np.outer(row, row) for k, row in springs)
    give = np.linalg.solve(matrix, np.array([0, 0, 0, 1.0]))[3]
    assert solution["train_stiffness"] == pytest.approx(1 / give, rel=1e-9)
    assert solution["first_axial_mode"] == pytest.approx(math.sqrt(1 / give / 8.0) / (2 * math.pi), rel=1e-9)
    assert sum(c for c in link_compliances(solution["train"]) if c is not None) == pytest.approx(give)
    said = verdict(solution, "stiffness")
    assert said is not None and "the screw is softest" in said.school


def test_the_softest_place_of_belts_and_screws() -> None:
    """The carriage mid-way: both strands of a belt alike; a screw fixed at both ends four times as stiff as one held at one."""
    loop, free = Belt(pitch=0.003, teeth=20, specific_stiffness=4e5, span=1.0), Belt(
        pitch=0.003, teeth=20, specific_stiffness=4e5, span=1.0, layout="open")
    strands = [(x, 2.0 - x) for x in np.linspace(0.05, 1.0, 200)]
    assert loop.stiffness_at_output == pytest.approx(min(4e5 * (1 / a + 1 / b) for a, b in strands))
    assert free.stiffness_at_output == pytest.approx(2 * loop.stiffness_at_output)
    one, both = (Screw(lead=0.01, diameter=0.016, length=0.6, end_support=ends) for ends in ("fixed-free", "fixed-fixed"))
    along = np.linspace(0.01, 0.59, 400)
    area = 206e9 * math.pi / 4 * 0.016**2
    assert both.stiffness_at_output == pytest.approx(float(np.min(area * 0.6 / (along * (0.6 - along)))), rel=1e-3)
    assert both.stiffness_at_output == pytest.approx(4 * one.stiffness_at_output)


def test_lost_motion_is_friction_on_the_springs_and_clearance() -> None:
    """Pushed with ±friction a train moves 2F/k; the clearances come on top, each through the gain behind it."""
    train = (Reduction(ratio=4.0, clearance=math.radians(0.2)), Rack(module=0.001, teeth=20, mesh_stiffness=2e7, clearance=3e-5,
                                                                     inertia=1e-6))
    solution = solve(*train, friction_force=40.0, accuracy_wanted=1e-4)
    wheel = 0.01
    assert solution["train_clearance"] == pytest.approx(math.radians(0.2) * wheel + 3e-5)
    assert solution["predicted_lost_motion"] == pytest.approx(2 * 40 / 2e7 + solution["train_clearance"])
    assert gains_behind(train) == [pytest.approx(wheel), 1.0]
    said = verdict(solution, "lost motion")
    assert said is not None and said.level == "tight" and "4 µm wound up by friction, 64.9 µm clearance" in said.sentence
    rigid = solve(Belt(pitch=0.003, teeth=20))
    assert "neither stiffness nor clearance" in rigid.find("predicted_lost_motion").reason
    assert {"stiffness", "lost motion"}.isdisjoint({v.check for v in rigid.verdicts()}), "nothing is said of what nobody knows"
    two = solve(*train, friction_force=40.0, motor_count=2)
    assert two["predicted_lost_motion"] < solution["predicted_lost_motion"], "two trains share the friction"


def test_the_idle_axis_answers_a_push_with_motor_and_train_in_a_row() -> None:
    stiff, soft = solve(Screw(lead=0.01, inertia=1e-6)), solve(Screw(lead=0.01, inertia=1e-6), Coupling())
    r = 0.01 / (2 * math.pi)
    spring = 50 * stiff["set_torque"] / r**2
    assert stiff["axial_stiffness"] == pytest.approx(spring)
    with_train = solve(Coupling(torsional_stiffness=5.0), Screw(lead=0.01, inertia=1e-6))
    assert with_train["axial_stiffness"] == pytest.approx(1 / (1 / spring + r**2 / 5.0))
    assert soft["axial_stiffness"] == stiff["axial_stiffness"]


# What each link carries

def test_each_link_carries_what_newton_says() -> None:
    """A reduction and a belt without losses: torque falls with the ratio, inertia torque is taken out on the way."""
    train = (Coupling(inertia=4e-6), Reduction(ratio=3.0, inertia_in=1e-5, inertia_out=9e-5),
             Belt(pitch=0.005, teeth=20, inertia=2e-5))
    solution = solve(*train)
    radius, a = 0.1 / (2 * math.pi), 2.0
    turn = a / radius  # rad/s² of the pulley
    pulley = (8.0 * a + 12.0) * radius + 2e-5 * turn
    behind = pulley + 9e-5 * turn
    geared = behind / 3 + 1e-5 * 3 * turn
    coupled = geared + 4e-6 * 3 * turn
    loads = solution["link_loads"]
    assert [load.kind for load in loads] == ["coupling", "reduction", "belt"]
    assert loads[2].torque_in == pytest.approx(pulley) and loads[2].effort_out == pytest.approx(8.0 * a + 12.0)
    assert loads[1].effort_out == pytest.approx(pulley) and loads[1].torque_in == pytest.approx(geared)
    assert loads[0].torque_in == pytest.approx(coupled)
    assert solution["peak_torque"] == pytest.approx(coupled + 4.8e-5 * 3 * turn)
    speeds = [load.speed for load in loads]
    assert speeds == [pytest.approx(0.25 / radius * n) for n in (3, 3, 1)]
    assert sum(load.inertia for load in loads) == pytest.approx(solution["train_inertia"])
    assert loads[1].stall_effort == pytest.approx(3 * solution["stall_torque"])
    assert loads[0].stall_effort == solution["stall_torque"]


@pytest.mark.parametrize(("train", "check", "levels"), [
    (lambda rated: (Coupling(rated_torque=rated), Belt(pitch=0.003, teeth=20)), "coupling", (0.1, 1.0, 5.0)),
    (lambda rated: (Reduction(ratio=2.0, rated_torque=rated), Belt(pitch=0.003, teeth=20)), "reduction rating", (0.1, 2.0, 9.0)),
    (lambda rated: (Worm(ratio=2.0, efficiency=0.8, rated_torque=rated), Belt(pitch=0.003, teeth=20)), "reduction rating",
     (0.1, 2.0, 9.0)),
    (lambda rated: (Rack(module=0.001, teeth=20, rated_force=rated, inertia=0.0),), "pinion rating", (20.0, 100.0, 400.0)),
])
def test_ratings_are_held_against_the_cycle_and_against_a_stall(train: Any, check: str, levels: tuple[float, ...]) -> None:
    found = [verdict(solve(*train(rated)), check) for rated in levels]
    assert [v.level for v in found if v is not None] == ["short", "tight", "good"]
    assert "the cycle asks" in found[0].sentence and "in a stall" in found[1].sentence  # type: ignore[union-attr]
    assert verdict(solve(*train(None)), check) is None


def test_belts_hang_loose_break_stretch_and_need_teeth() -> None:
    belt = Belt(pitch=0.003, teeth=14, specific_stiffness=2e5, span=1.2, pretension=20.0, rated_force=90.0)
    assert tight_strand(belt, 50.0) == 70.0 and slack_strand(belt, 30.0) == -10.0 and slack_strand(belt, 30.0, 0.6) == -2.5
    assert teeth_in_mesh(belt) == 7
    assert teeth_in_mesh(Belt(pitch=0.003, teeth=14, wrap_angle=math.pi / 2)) == 3.5
    with pytest.raises(NotKnown, match="pretension of the belt"):
        tight_strand(Belt(pitch=0.003, teeth=14), 50.0)
    gentle = (Move(distance=0.3, speed=0.2, acceleration=1.0),)
    good = solve(belt, cycle=gentle, accuracy_wanted=1e-4)
    assert verdict(good, "belt tension").level == "good"  # type: ignore[union-attr]
    loose = verdict(solve(belt, moving_mass=20.0), "belt tension")
    assert loose is not None and loose.level == "short" and "hangs loose" in loose.sentence
    broken = verdict(solve(Belt(pitch=0.003, teeth=14, pretension=80.0, rated_force=90.0)), "belt tension")
    assert broken is not None and broken.level == "short" and "may carry 90 N" in broken.sentence
    stretch = verdict(good, "belt stretch")
    assert stretch is not None and "60 µm" in stretch.sentence and stretch.level == "good", stretch
    fine = verdict(solve(belt, accuracy_wanted=1e-5), "belt stretch")
    assert fine is not None and fine.level == "tight" and "settle first" in fine.sentence
    few = verdict(solve(Belt(pitch=0.003, teeth=10)), "teeth in mesh")
    assert few is not None and few.level == "tight" and "5 teeth" in few.sentence


# What falls

def dropped(torque: float, brake: float, delay: float, speed: float, inertia: float, r: float) -> float:
    """The fall stepped through time: free until the brake bites, then against it, until it stands."""
    x, v, t, h = 0.0, speed, 0.0, 1e-6
    while v > 0 or t < delay:
        pull = torque - (brake if t >= delay else 0.0)
        v += pull / inertia * r * h
        x += v * h
        t += h
    return x


def test_a_falling_axis_agrees_with_a_fall_stepped_through_time() -> None:
    screw = Screw(lead=0.02, diameter=0.016, length=0.3, efficiency=0.9)
    upright = {"incline": math.pi / 2, "brake_torque": 0.9, "brake_delay": 0.03, "travel": 0.25}
    solution = solve(screw, **upright)
    r, inertia = 0.02 / (2 * math.pi), 4.8e-5 + solution["load_inertia_at_motor"]
    torque = 8.0 * 9.80665 * r
    assert solution["frictionless_static_torque"] == pytest.approx(torque)
    assert solution["fall_acceleration"] == pytest.approx(torque / inertia * r)
    assert solution["fall_distance"] == pytest.approx(dropped(torque, 0.9, 0.03, 0.25, inertia, r), rel=1e-3)
    assert solution["fall_time"] == pytest.approx(math.sqrt(2 * 0.25 / solution["fall_acceleration"]))
    said = verdict(solution, "vertical axis")
    assert said is not None and said.level == "good" and "mm from top speed before it stands" in said.sentence
    assert "0.25 N·m without friction, 0.222 N·m with the friction" in said.sentence
    heavy = solve(screw, **upright, brake_inertia=3e-5)
    assert heavy["fall_distance"] == pytest.approx(dropped(torque, 0.9, 0.03, 0.25, inertia + 3e-5, r), rel=1e-3)
    none = verdict(solve(screw, incline=math.pi / 2, travel=0.25), "vertical axis")
    assert none is not None and none.level == "short" and "falls its 250 mm in" in none.sentence and "Block the axis" in none.next
    slow = verdict(solve(screw, **{**upright, "brake_delay": 0.4}), "vertical axis")
    assert slow is not None and slow.level == "short" and "through its travel" in slow.next
    weak = solve(screw, **{**upright, "brake_torque": 0.2})
    assert "does not stop it" in weak.find("fall_distance").reason
    locked = solve(Screw(lead=0.002, inertia=1e-6, efficiency=0.3), incline=math.pi / 2)
    assert locked["fall_acceleration"] == 0 and "nothing falls" in locked.find("fall_time").reason
    level = solve(screw, brake_torque=0.5)
    assert "Nothing falls" in verdict(level, "vertical axis").sentence  # type: ignore[union-attr]
    half = solve(screw, incline=math.radians(30), counterbalance_force=20.0, travel=0.25)
    assert half["frictionless_static_torque"] == pytest.approx((8.0 * 9.80665 * 0.5 - 20.0) * r)


# Moves that repeat and work on their own

def test_a_repeated_move_is_the_same_as_writing_it_out() -> None:
    once = Move(distance=0.02, speed=0.3, acceleration=3.0, dwell=0.1, process_load=25.0)
    back = Move(distance=-0.1, speed=0.3, acceleration=3.0, jerk=80.0, process_load=0.0)
    folded = solve(Belt(pitch=0.003, teeth=20), cycle=(Move(**{**vars(once), "repeat": 5}), back), process_force=60.0)
    written = solve(Belt(pitch=0.003, teeth=20), cycle=(*[once] * 5, back), process_force=60.0)
    for name in ("cycle_duration", "rms_torque", "peak_torque", "peak_power", "regenerated_energy", "cubic_mean_load",
                 "moving_share", "top_speed", "working_margin"):
        assert folded[name] == pytest.approx(written[name], rel=1e-12), name
    assert len(unrolled(folded["cycle_pieces"])) == len(written["cycle_pieces"].duration)
    walked = take(folded["cycle_pieces"], unrolled(folded["cycle_pieces"]))
    assert walked.distance.sum() == pytest.approx(0.0, abs=1e-12)


def test_a_moves_own_work_replaces_that_of_the_axis() -> None:
    cycle = (Move(distance=0.2, speed=0.2, acceleration=2.0, process_load=50.0), Move(distance=-0.2, speed=0.2, acceleration=2.0))
    solution = solve(Belt(pitch=0.003, teeth=20), cycle=cycle, process_force=10.0)
    loads = solution["cycle_loads"][0]
    assert loads[0] == pytest.approx(8 * 2 + 12 + 50) and loads[4] == pytest.approx(-(8 * 2 + 12 + 10))
    first, second = torque_shares(solution, 0), torque_shares(solution, 1)
    r = 0.06 / (2 * math.pi)
    assert first["work"] == pytest.approx(50 * r) and second["work"] == pytest.approx(10 * r)
    assert sum(first.values()) == pytest.approx(solution["peak_torque"])
    assert cycle_pieces(cycle).move.tolist() == [0.0] * 4 + [1.0] * 4


# Two motors on one beam, and the document

BEAM: dict[str, Any] = {
    "name": "Y", "motor_count": 2, "moving_mass": 40, "friction_force": 20, "travel": 1.0,
    "train": [{"kind": "reduction", "ratio": 3}, {"kind": "rack", "module": 0.001, "teeth": 22}],
    "cycle": [{"distance": 0.5, "speed": 0.3, "acceleration": 1.5, "repeat": 3, "process_load": 5}],
    "motor": {"kind": "stepper", "holding_torque": 2.9, "rated_current": 4.2}, "driver": {"microsteps": 8, "current_peak": 5.5}}


def beam(**follower: Any) -> Solution:
    axis = {**BEAM, **({"follower": follower} if follower else {})}
    project = parse_project(json.dumps({"format": "urban-mule/1", "axes": [axis]}).encode())
    again = parse_project(export_project(project).encode())
    assert export_project(again) == export_project(project)
    return solve_axis(project, project.axes[0])


@pytest.mark.parametrize(("follower", "said"), [
    ({"driver": {"microsteps": 16}}, "microsteps 16 instead of 8"),
    ({"motor": {"kind": "stepper", "rated_current": 2.8}}, "rated current 2.8 A instead of 4.2 A"),
    ({"train": [{"kind": "reduction", "ratio": 3}, {"kind": "rack", "teeth": 20}]}, "rack teeth 20 instead of 22"),
    ({"train": [{"kind": "rack", "module": 0.001, "teeth": 22}]}, "the train rack instead of reduction, rack"),
    ({"motor": {"kind": "servo"}}, "kind servo instead of stepper"),
    ({"driver": {"microsteps": 16, "current_peak": 5.0, "hold_fraction": 0.2, "voltage_drop": 2}}, "and 1 more"),
])
def test_whatever_differs_on_the_follower_is_named(follower: dict[str, Any], said: str) -> None:
    found = verdict(beam(**follower), "follower")
    assert found is not None and found.level == "short" and said in found.sentence and "racks and jams" in found.next


def test_a_follower_like_its_leader_is_good_and_one_motor_has_none() -> None:
    for alike in ({}, {"driver": {"microsteps": 8}}, {"train": [{"kind": "reduction"}, {"kind": "rack", "teeth": 22}]}):
        found = verdict(beam(**alike), "follower")
        assert found is not None and found.level == "good" and "each carries 1/2" in found.sentence
    assert verdict(solve(Belt(pitch=0.003, teeth=20)), "follower") is None
    json.dumps(open_solution(beam()), allow_nan=False)


@pytest.mark.parametrize(("change", "fault"), [
    ({"tolerances": {"moving_mass": 0.0}}, "tolerances.moving_mass is 0.0"),
    ({"tolerances": {"moving_mass": 2}}, "tolerances.moving_mass is 2; allowed is a share above 0, at most 0.9"),
    ({"tolerances": {"luck": 0.1}}, "tolerances names 'luck', which is no number of an axis"),
    ({"tolerances": {"motor_count": 0.1}}, "tolerances names 'motor_count'"),
    ({"tolerances": [1]}, "tolerances is [1]; an object of shares by key is needed"),
    ({"follower": {"colour": 1}}, "a follower has no key 'colour'"),
    ({"follower": {"driver": {"microsteps": 0}}}, "follower.driver.microsteps is 0"),
    ({"cycle": [{**BEAM["cycle"][0], "repeat": 0}]}, "cycle[0].repeat is 0"),
    ({"cycle": [{**BEAM["cycle"][0], "process_load": -1}]}, "cycle[0].process_load is -1"),
    ({"train": [{"kind": "worm", "ratio": 0}]}, "train[0].ratio is 0"),
    ({"train": [{"kind": "belt", "layout": "knot"}]}, "train[0].layout is 'knot'; allowed is one of loop, open"),
    ({"safety_factor": 0.5}, "safety_factor is 0.5; allowed is a number at least 1"),
])
def test_what_the_new_keys_refuse(change: dict[str, Any], fault: str) -> None:
    with pytest.raises(BadFile) as why:
        parse_project(json.dumps({"format": "urban-mule/1", "axes": [{**BEAM, **change}]}).encode())
    assert fault in str(why.value) and str(why.value).startswith("axes[0]")


def test_every_kind_of_link_draws_solves_and_says_what_it_needs() -> None:
    assert set(LINKS) == {"coupling", "reduction", "worm", "screw", "belt", "rack", "feed roller", "direct"}
    for kind, record in LINKS.items():
        bare = record()
        assert bare.kind == kind
        if kind not in ("coupling", "direct"):
            with pytest.raises(NotKnown, match=f"of the {kind} is not given"):
                _ = bare.gain
        assert bare.stiffness_at_input is None and bare.stiffness_at_output is None and bare.clearance_at_output == 0.0


# Usual values for what nobody has said

def test_a_sliding_screw_gets_through_what_an_inclined_plane_lets() -> None:
    """A block pushed up a flank, step by step round the thread: work out over work in."""
    for lead, starts, outer in ((0.002, 1, 0.008), (0.008, 4, 0.008), (0.004, 1, 0.02)):
        mean = outer - lead / starts / 2
        friction = 0.12 / math.cos(math.radians(15))
        slope = lead / (math.pi * mean)
        pushed = (slope + friction) / (1 - friction * slope)  # sideways for one unit of load, about the axis
        assert Screw(lead=lead, starts=starts, diameter=outer).usual_efficiencies[1].value == pytest.approx(
            slope / pushed, abs=6e-4)
    assert [one.words for one in Screw(lead=0.01).usual_efficiencies] == ["rolls on balls"], "without a size only what rolls"
    offered = [one for kind in (Belt(), Rack(), Reduction(), Worm()) for one in kind.usual_efficiencies]
    assert len(offered) == 8 and all(0 < one.value < 1 and one.source for one in offered)
    assert Coupling().usual_efficiencies == ()
