"""The sheet against methods of another kind: other units of measure, mirrored and divided machines, heat and wear in time."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from hypothesis import given as hypothesis_given
from hypothesis import settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from urban_mule.core.load.cycle import Move, sampled, take, unrolled
from urban_mule.core.motor.heat import rise_over_time
from urban_mule.core.readings.acceleration import AccelerationReading
from urban_mule.core.readings.two_way import TwoWayReading
from urban_mule.core.sheet.given import givens
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.units import parse
from urban_mule.core.subjects import axis_sheet
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import Belt, Coupling, Direct, Rack, Reduction, Screw, Worm

STEPPER: dict[str, Any] = {
    "holding_torque": 2.1, "rated_current": 3.1, "rated_current_is": "rms", "phase_resistance": 0.7, "phase_inductance": 0.0028,
    "rotor_inertia": 4.8e-5, "step_angle": math.pi / 100, "drag_torque": 0.04, "supply_voltage": 40.0, "voltage_drop": 1.5,
    "current_peak": 4.0, "microsteps": 16, "hold_fraction": 0.5, "thermal_resistance": 2.2, "thermal_time_constant": 1500.0,
    "max_pulse_rate": 1.5e5, "current_limit": 5.0}
SERVO: dict[str, Any] = {
    "rated_torque": 0.9, "motor_peak_torque": 2.9, "rated_speed": 310.0, "max_speed": 480.0, "rated_voltage": 60.0,
    "peak_time": 2.0, "counts_per_turn": 4000, "rotor_inertia": 3e-5, "supply_voltage": 48.0,
    "voltage_drop": 1.0}
LINEAR: dict[str, Any] = {
    "moving_mass": 9.0, "friction_force": 14.0, "process_force": 6.0, "counterbalance_force": 30.0, "travel": 0.6, "unit": "mm",
    "accuracy_wanted": 1e-4, "speed_wanted": 0.3, "brake_torque": 2.0, "brake_delay": 0.03,
    "train": (Coupling(inertia=2e-6, torsional_stiffness=160.0), Reduction(ratio=2.0, efficiency=0.95, inertia_in=1e-5,
                                                                           torsional_stiffness=800.0, clearance=0.001),
              Belt(pitch=0.003, teeth=24, inertia=1e-5, efficiency=0.96, specific_stiffness=2e5, span=0.8)),
    "cycle": (Move(distance=0.3, speed=0.4, acceleration=3.0, dwell=0.4, process_load=11.0, repeat=2),
              Move(distance=-0.6, speed=0.5, acceleration=4.0, jerk=90.0, dwell=0.2)),
    "reversal_reading": TwoWayReading(np.linspace(0.1, 0.5, 5), np.linspace(0, 5e-5, 5) + np.array([[1e-6], [-1e-6]]),
                                      np.linspace(2e-5, 8e-5, 5) + np.array([[-2e-6], [1e-6]]))}
ROTARY: dict[str, Any] = {
    "load_inertia": 0.02, "friction_torque": 0.3, "process_torque": 0.2, "travel": 6.0, "unit": "deg", "accuracy_wanted": 1e-3,
    "train": (Worm(ratio=10.0, efficiency=0.7, inertia_in=2e-5, torsional_stiffness=900.0), Direct()),
    "cycle": (Move(distance=2.0, speed=2.0, acceleration=12.0, dwell=0.3),
              Move(distance=-2.0, speed=3.0, acceleration=9.0, jerk=300.0))}
MACHINES = {"linear": LINEAR, "rotary": ROTARY}
MOTORS = {"stepper": STEPPER, "servo": SERVO}


def solve(motion: str, motor: str, **more: Any) -> Solution:
    return axis_sheet(motion, motor).solve(**{**MACHINES[motion], **MOTORS[motor], **more})


# Every declared unit: the same machine written down with other kilograms, metres, seconds and amperes

BASE = {  # powers of kg, m, s, A
    "kg": (1, 0, 0, 0), "m": (0, 1, 0, 0), "s": (0, 0, 1, 0), "A": (0, 0, 0, 1), "N": (1, 1, -2, 0), "J": (1, 2, -2, 0),
    "W": (1, 2, -3, 0), "V": (1, 2, -3, -1), "Ω": (1, 2, -3, -2), "H": (1, 2, -2, -2), "Hz": (0, 0, -1, 0), "rad": (0, 0, 0, 0),
    "K": (0, 0, 0, 0), "°C": (0, 0, 0, 0), "unit": (0, 0, 0, 0), "1": (0, 0, 0, 0)}
RAISED = {"²": 2, "³": 3}
RULE_OF_THUMB = {"voltage_by_inductance", "expected_accuracy", "expected_accuracy_corrected", "expected_accuracy_uncertainty",
                 "expected_accuracy_corrected_uncertainty"}  # 32 √(mH), and waves of so many µm: true in their own units only
PER_UNIT = {"steps_per_unit", "corrected_steps_per_unit", "unit_size"}  # the unit shown to the controller stays as it was


def powers(unit: str, motion: str) -> np.ndarray:
    """Powers of kg, m, s and A in a unit as the sheet writes it."""
    unit = unit.replace("[travel]", "m" if motion == "linear" else "rad").replace("[effort]", "N" if motion == "linear" else "N·m")
    total = np.zeros(4)
    for place, part in enumerate(unit.split("/")):
        for factor in filter(None, part.split("·")):
            power = RAISED.get(factor[-1], 1)
            total += (-1 if place else 1) * power * np.array(BASE[factor.rstrip("²³")])
    return total


def rewritten(part: Any, motion: str, grow: Callable[[str], float]) -> Any:
    """A link or a move in the other units; its fields say what they are."""
    declared = {one.name: one for one in givens(type(part))}
    return type(part)(**{name: value * grow(declared[name].unit) if isinstance(value, float) else value
                         for name, value in vars(part).items()})


@pytest.mark.parametrize("motor", MOTORS)
@pytest.mark.parametrize("motion", MACHINES)
def test_every_quantity_has_the_dimension_that_it_states(motion: str, motor: str) -> None:
    """In units 2, 3, 5 and 7 times smaller each number grows by its own dimension: a formula with a slip does not."""
    sizes = np.array([2.0, 3.0, 5.0, 7.0])

    def grow(unit: str) -> float:
        return float(np.prod(sizes ** powers(unit, motion)))

    sheet = axis_sheet(motion, motor)
    given: dict[str, Any] = {**MACHINES[motion], **MOTORS[motor]}
    other: dict[str, Any] = {
        name: value * grow(sheet.inputs[name].unit) for name, value in given.items() if isinstance(value, float)}
    other["train"] = tuple(rewritten(stage, motion, grow) for stage in given["train"])
    other["cycle"] = tuple(rewritten(move, motion, grow) for move in given["cycle"])
    if "reversal_reading" in given:
        was = given["reversal_reading"]
        other["reversal_reading"] = TwoWayReading(*(part * grow("[travel]") for part in (was.targets, was.up, was.down)))
    plain, scaled = sheet.solve(**given), sheet.solve(**{**given, **other})
    seen = 0
    for name, stated in sheet.quantities.items():
        value, found = plain.get(name), scaled.get(name)
        if name in RULE_OF_THUMB | PER_UNIT or not isinstance(value, (float, np.floating)) or not np.isfinite(value):
            continue
        seen += 1
        assert found == pytest.approx(value * grow(stated.unit), rel=1e-6, abs=1e-12), f"{name} [{stated.unit}]"
    assert seen > 40


# The same machine seen otherwise

@pytest.mark.parametrize("motor", MOTORS)
@pytest.mark.parametrize("motion", MACHINES)
def test_a_machine_in_a_mirror_asks_the_same(motion: str, motor: str) -> None:
    """Every move turned round and gravity with it: nothing that has no direction changes."""
    given = MACHINES[motion]
    turned: dict[str, Any] = {"cycle": tuple(Move(**{**vars(move), "distance": -move.distance}) for move in given["cycle"])}
    if motion == "linear":
        turned |= {"incline": -0.5, "counterbalance_force": -30.0}
    one, other = solve(motion, motor, **({"incline": 0.5} if motion == "linear" else {})), solve(motion, motor, **turned)
    for name in ("peak_torque", "rms_torque", "peak_power", "regenerated_energy", "working_margin", "static_torque", "peak_load",
                 "cubic_mean_load", "cycle_duration", "moving_share"):
        assert other[name] == pytest.approx(one[name], rel=1e-12), name
    assert other["creep_torque_plus"] == pytest.approx(-one["creep_torque_minus"], rel=1e-12)


@pytest.mark.parametrize("motor", MOTORS)
def test_two_motors_do_each_what_one_does_with_half_the_load(motor: str) -> None:
    both = solve("linear", motor, motor_count=2)
    half = {name: LINEAR[name] / 2 for name in ("moving_mass", "friction_force", "process_force", "counterbalance_force")}
    there, back = LINEAR["cycle"]
    cycle = (Move(**{**vars(there), "process_load": there.process_load / 2}), back)
    alone = solve("linear", motor, **half, cycle=cycle)
    for name in ("peak_torque", "rms_torque", "inertia_ratio", "working_margin", "regenerated_energy", "peak_power", "stall_torque",
                 "creep_torque_plus", "static_torque"):
        assert both[name] == pytest.approx(alone[name], rel=1e-12), name
    if motor == "stepper":
        assert both["axial_stiffness"] == pytest.approx(2 * alone["axial_stiffness"])
        assert both["holding_force"] == pytest.approx(2 * alone["holding_force"])


def test_an_axis_typed_in_inches_is_the_same_axis() -> None:
    """What two people would type for one machine, each in the units at hand."""
    typed = {
        "moving_mass": ("9.0 kg", "19.8416036 lb"), "friction_force": ("14 N", "3.14732520 lbf"),
        "travel": ("0.6 m", "23.622047 in"),
        "holding_torque": ("2,1 N·m", "297.385055 ozf·in"),
        "rotor_inertia": ("0.48 kg·cm²", "480 g·cm²"),
        "phase_inductance": ("2.8 mH", "0.0028 H"), "step_angle": ("1.8°", "0.031415927 rad"),
        "max_speed": ("4583.66236 rpm", "480 rad/s"),
        "accuracy_wanted": ("100 µm", "0.003937008 in"), "speed_wanted": ("300 mm/s", "708.661417 in/min")}
    sheet = axis_sheet("linear", "stepper")
    inputs = {**sheet.inputs, **axis_sheet("linear", "servo").inputs}
    one, other = ({name: parse(texts[side], inputs[name].unit.replace("[travel]", "m"), "")[0] for name, texts in typed.items()}
                  for side in (0, 1))
    for name in one:
        assert other[name] == pytest.approx(one[name], rel=1e-7), name
    metric, inch = (solve("linear", "stepper", **{name: values[name] for name in typed if name in sheet.inputs})
                    for values in (one, other))
    for name in ("working_margin", "peak_torque", "rotor_resonance", "inertia_ratio", "braking_distance"):
        assert inch[name] == pytest.approx(metric[name], rel=1e-6), name


# What the cycle asks, sampled in time instead of summed over pieces

SPEED_UP = (Move(distance=2.0, speed=6.0, acceleration=90.0, jerk=2500.0, dwell=0.3),
            Move(distance=-2.0, speed=3.0, acceleration=150.0))
DISC: dict[str, Any] = {"train": (Direct(),), "load_inertia": 0.011, "friction_torque": 0.1, "process_torque": 0.05}


@pytest.mark.parametrize("motor", MOTORS)
def test_torque_margin_and_time_above_the_rating_are_those_of_a_sampled_cycle(motor: str) -> None:
    """A disc on the shaft: torque from speed differenced in time; the margin is the least over all samples."""
    solution = solve("rotary", motor, **DISC, cycle=SPEED_UP)
    time, _, speed, _ = sampled(solution["cycle_pieces"], 4000)
    fine = np.diff(time) > 0
    slope = np.diff(speed)[fine] / np.diff(time)[fine]
    mid_speed, mid_time, step = ((a[1:] + a[:-1])[fine] / 2 for a in (speed, time, time))
    step = np.diff(time)[fine]
    torque = (0.011 + solution["rotor_inertia"]) * slope + 0.15 * np.sign(np.round(mid_speed, 9))
    assert np.abs(torque).max() == pytest.approx(solution["peak_torque"], rel=2e-3)
    assert math.sqrt((torque**2 * step).sum() / step.sum()) == pytest.approx(solution["rms_torque"], rel=2e-3)
    moving = np.abs(mid_speed) > 1e-6
    margin = solution["torque_curve"](np.abs(mid_speed[moving])) / np.abs(torque[moving])
    assert margin.min() == pytest.approx(solution["working_margin"], rel=3e-3)
    if motor == "servo":
        over = np.abs(torque) > SERVO["rated_torque"]
        starts = np.flatnonzero(np.diff(np.concatenate([[False], over]).astype(int)) == 1)
        ends = np.flatnonzero(np.diff(np.concatenate([over, [False]]).astype(int)) == -1)
        longest = max(float(mid_time[e] - mid_time[s]) for s, e in zip(starts, ends, strict=True))
        assert longest <= solution["time_above_rated"] <= longest * 1.15, "whole pieces are counted: never too short"


def test_a_screw_wears_as_the_sum_of_its_damage_says() -> None:
    """Miner's sum over the sampled cycle: each step takes (F/C)³ of a million turns' worth of life."""
    screw = Screw(lead=0.01, diameter=0.016, length=0.5, dynamic_load_rating=400.0)
    solution = solve("linear", "stepper", train=(screw,), incline=0.4, counterbalance_force=0.0)
    pieces = solution["cycle_pieces"]
    time, position, speed, acceleration = sampled(take(pieces, unrolled(pieces)), 4000)
    assert position[-1] == pytest.approx(0.0, abs=1e-9)
    work = np.where(speed > 0, 11.0, 6.0)
    force = 9.0 * acceleration + np.sign(np.round(speed, 12)) * (14.0 + work) + 9.0 * 9.80665 * math.sin(0.4)
    turns = np.abs(np.diff(position)) / 0.01
    damage, duration = float((np.abs((force[1:] + force[:-1]) / 2 / 400.0) ** 3 * turns).sum() / 1e6), float(time[-1])
    said = next(v.sentence for v in solution.verdicts() if v.check == "screw life")
    hours = duration / damage / 3600
    assert np.cbrt(damage * 1e6 / turns.sum()) * 400.0 == pytest.approx(solution["cubic_mean_load"], rel=2e-3)
    told = float(said.split("outlive ")[1].split(" hours")[0].replace(" ", "").replace(" ", ""))
    assert told == pytest.approx(hours, rel=5e-3)


# Heat, stepped through time

@settings(max_examples=12, deadline=None)
@hypothesis_given(current=st.floats(1.5, 4.2), hold=st.floats(0.2, 1.0), dwell=st.floats(0.2, 6.0), ambient=st.floats(0, 40))
def test_a_winding_warms_as_its_heat_balance_does_in_time(current: float, hold: float, dwell: float, ambient: float) -> None:
    """Current on while moving and cut in the dwells, resistance growing with temperature, cycle after cycle."""
    cycle = (Move(distance=0.2, speed=0.2, acceleration=4.0, dwell=dwell),)
    solution = solve("linear", "stepper", cycle=cycle, current_peak=current, hold_fraction=hold, ambient_temperature=ambient)
    moving, period = 1.05, 1.05 + dwell
    assert solution["cycle_duration"] == pytest.approx(period)
    capacity = 1500.0 / 2.2
    mean = 0.7 * current**2 * (moving + hold**2 * dwell) / period

    def warming(_t: float, rise: np.ndarray) -> np.ndarray:
        return (mean * (1 + 0.00393 * (ambient + rise - 20)) - rise / 2.2) / capacity

    end = solution["warm_up_time"]
    run = solve_ivp(warming, (0, 12 * end), [0.0], t_eval=[end / 3, end, 12 * end], rtol=1e-8, atol=1e-9)
    third, at_end, steady = run.y[0]
    assert steady == pytest.approx(solution["cycle_temperature_rise"], rel=1e-4)
    assert at_end == pytest.approx(0.95 * steady, rel=2e-3), "warm-up is to 95 % of the rise"
    assert third == pytest.approx(rise_over_time(end / 3, solution["cycle_temperature_rise"], end), rel=1e-3)


def test_currents_switched_cycle_by_cycle_average_as_the_shares_say() -> None:
    """The mean is no guess: stepping each move and dwell on its own ends within the swing of one cycle."""
    solution = solve("linear", "stepper", cycle=(Move(distance=0.2, speed=0.2, acceleration=4.0, dwell=5.0),))
    rise, step, t = 0.0, 0.25, 0.0
    for _ in range(int(6 * 1500 / step)):
        current = 4.0 if t % 6.05 < 1.05 else 2.0
        rise += step * (0.7 * current**2 * (1 + 0.00393 * rise) - rise / 2.2) / (1500 / 2.2)
        t += step
    assert rise == pytest.approx(solution["cycle_temperature_rise"], abs=0.25)


def test_an_open_belt_and_a_rack_of_the_same_wheel_move_alike() -> None:
    """Two kinds of link with one radius: whatever does not ask for their materials is the same."""
    wheel = {"inertia": 1e-5, "efficiency": 0.95}
    links: list[Link] = [Belt(pitch=0.005, teeth=24, layout="open", **wheel), Rack(module=0.005 / math.pi, teeth=24, **wheel)]
    belt, rack = (solve("linear", "stepper", train=(link,)) for link in links)
    for name in ("travel_per_turn", "steps_per_unit", "load_inertia_at_motor", "peak_torque", "working_margin", "holding_force"):
        assert rack[name] == pytest.approx(belt[name], rel=1e-9), name


def test_a_record_without_any_swing_is_no_mode() -> None:
    flat = AccelerationReading(np.arange(4000) / 1600.0, np.full((4000, 1), 9.81))
    reason = solve("linear", "stepper", acceleration_reading=flat).find("modes")
    assert getattr(reason, "reason", "") or reason == ()
