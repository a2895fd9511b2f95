"""Formulas against independent methods: time-domain simulation, numerical integration, eigenvalues, hand-worked cases."""

from __future__ import annotations

import math
from fractions import Fraction
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.linalg import eigh

from urban_mule.core.load.cycle import Move, cycle_pieces, sampled
from urban_mule.core.load.shares import torque_shares
from urban_mule.core.motor.stepper import StepperCurve
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.subjects import axis_sheet
from urban_mule.core.train.fold import self_locking, torque_into_train
from urban_mule.core.train.links import Belt, Coupling, Reduction, Screw
from urban_mule.core.train.screw import buckling_force, screw_life, whirling_speed

MOTOR: dict[str, Any] = {
    "holding_torque": 1.9, "rated_current": 3.0, "phase_resistance": 0.7, "phase_inductance": 0.0028, "rotor_inertia": 4.8e-5,
    "step_angle": math.pi / 100, "supply_voltage": 40.0, "current_peak": 4.0, "microsteps": 16, "drag_torque": 0.0}
VERTICAL: dict[str, Any] = {
    "moving_mass": 6.0, "incline": math.pi / 2, "friction_force": 9.0, "process_force": 12.0, "unit": "mm",
    "train": (Coupling(inertia=3e-6), Screw(lead=0.008, diameter=0.014, length=0.4, efficiency=0.85, drag_torque=0.015)),
    "cycle": (Move(distance=0.2, speed=0.12, acceleration=1.5, jerk=25.0, dwell=0.4),
              Move(distance=-0.2, speed=0.2, acceleration=2.5, dwell=0.2))}


def solve(**more: Any) -> Solution:
    return axis_sheet("linear", "stepper").solve(**{**MOTOR, **VERTICAL, **more})


def simulated_torque(speed: float, volts: np.ndarray, angle: np.ndarray, motor: tuple[float, ...]) -> tuple[np.ndarray, ...]:
    """Mean torque and current amplitude of two phases under a sine of voltage, stepped through time (Runge-Kutta)."""
    k, p, r, ind = motor
    w, i = p * speed, np.zeros((2, *np.broadcast_shapes(volts.shape, angle.shape)))
    settling, steps = 12 * ind / r, 40
    h = 2 * math.pi / w / steps

    def slope(t: float, i: np.ndarray) -> np.ndarray:
        back = k * speed * np.array([-math.sin(w * t), math.cos(w * t)])[:, None, None]
        return (volts * np.stack([np.cos(w * t + angle), np.sin(w * t + angle)]) - r * i - back) / ind

    torque, amplitude, t = np.zeros(i.shape[1:]), np.zeros(i.shape[1:]), 0.0
    for step in range(math.ceil(settling / h) + steps):
        k1 = slope(t, i)
        k2 = slope(t + h / 2, i + h / 2 * k1)
        k3 = slope(t + h / 2, i + h / 2 * k2)
        i, t = i + h / 6 * (k1 + 2 * k2 + 2 * k3 + slope(t + h, i + h * k3)), t + h
        if step >= math.ceil(settling / h):
            torque += k * (-i[0] * math.sin(w * t) + i[1] * math.cos(w * t)) / steps
            amplitude = np.maximum(amplitude, np.hypot(*i))
    return torque, amplitude


def test_pull_out_torque_agrees_with_currents_simulated_in_time() -> None:
    """The best phase angle and voltage within the current limit, searched on a grid twice refined."""
    motor, limit, supply = (0.448, 50.0, 0.7, 0.0028), 4.0, 39.0
    curve = StepperCurve(*motor, limit, supply, 0.0)
    for speed in (20.0, 70.0, 150.0):
        low, high = np.array([0.05, 1.0]), np.array([1.0, 3.6])
        for _ in range(3):
            share, angle = (np.linspace(a, b, 15) for a, b in zip(low, high, strict=True))
            torque, amplitude = simulated_torque(speed, supply * share[:, None], angle[None, :], motor)
            allowed = np.where(amplitude <= limit * 1.002, torque, -np.inf)
            row, column = np.unravel_index(int(allowed.argmax()), allowed.shape)
            best, half = np.array([share[row], angle[column]]), (high - low) / 8
            low, high = np.maximum(best - half, [0.01, 0.0]), np.minimum(best + half, [1.0, 4.0])
        assert allowed.max() == pytest.approx(float(curve(np.array([speed]))[0]), rel=0.02), speed


def test_corner_speed_is_where_the_full_current_stops_being_held() -> None:
    solution = solve()
    corner, curve = solution["corner_speed"], solution["torque_curve"]
    at = curve.quadrature_current(np.array([0.0, 0.999, 1.001, 1.5]) * corner)
    assert at[0] == at[1] == 4.0 and at[2] < 4.0 and at[3] < at[2]
    assert solve(supply_voltage=1.0)["corner_speed"] == 0.0


def test_the_voltage_needed_gives_just_the_usual_margin() -> None:
    needed = solve()["voltage_needed"]
    assert solve(supply_voltage=needed)["working_margin"] == pytest.approx(1.5, rel=1e-6)
    fast = solve(cycle=(Move(distance=0.3, speed=0.9, acceleration=9.0),), drag_torque=0.05)
    assert solve(cycle=fast.inputs["cycle"], drag_torque=0.05, supply_voltage=fast["voltage_needed"])["working_margin"] == (
        pytest.approx(1.5, rel=1e-6))
    assert "no voltage" in solve(moving_mass=400.0).find("voltage_needed").reason


def test_wiring_changes_the_winding_and_nothing_else() -> None:
    """At each wiring's own rated current heat and holding torque are the same; more turns give less at speed."""
    def wired(how: str, sheet_is_for: str = "half coil") -> Solution:
        known = solve(wiring=how, figures_for=sheet_is_for)
        return known.changed(current_peak=known["rated_current_peak"])

    half, series, parallel = wired("half coil"), wired("series"), wired("parallel")
    for other in (series, parallel):
        assert other["copper_loss"] == pytest.approx(half["copper_loss"])
        assert other["set_torque"] == pytest.approx(half["set_torque"] * math.sqrt(2))
    assert series["winding_resistance"] == 4 * parallel["winding_resistance"]
    assert series["winding_inductance"] == 4 * parallel["winding_inductance"]
    assert 2 * series["corner_speed"] < parallel["corner_speed"] < half["corner_speed"]
    assert wired("series", "series")["torque_constant"] == solve()["torque_constant"]
    assert wired("parallel", "series")["winding_resistance"] == pytest.approx(0.7 / 4)
    assert {v.check for v in solve(wiring="series").verdicts() if v.level == "tight"} >= {"wiring"}


def test_profile_energy_and_rms_agree_with_numerical_integration() -> None:
    """The cycle walked in 200 000 steps: position, RMS torque, peak power, energy back."""
    solution = solve()
    time, position, speed, acceleration = sampled(solution["cycle_pieces"], 2500)
    assert position[-1] == pytest.approx(0.0, abs=1e-9) and position.max() == pytest.approx(0.2, rel=1e-9)
    step = np.diff(time)
    assert np.allclose(np.diff(position), (speed[1:] + speed[:-1]) / 2 * step, atol=1e-9)
    assert np.abs(acceleration).max() <= 2.5 + 1e-9 and np.abs(speed).max() <= 0.2 + 1e-12
    r, moving = 0.008 / (2 * math.pi), np.abs(speed) > 1e-9
    j_screw = math.pi * 7850 * 0.4 * 0.014**4 / 32
    force = 6 * acceleration + np.sign(speed) * 21.0 + 6 * 9.80665
    flow = np.where(force * speed > 0, 1 / 0.85, 2 - 1 / 0.85)
    torque = (4.8e-5 + 3e-6 + j_screw) * acceleration / r + np.sign(speed) * 0.015 + force * r * flow
    torque = np.where(moving, torque, 6 * 9.80665 * r * (2 - 1 / 0.85))
    rms = math.sqrt(np.trapezoid(torque**2, time) / time[-1])
    power = torque * speed / r
    assert solution["rms_torque"] == pytest.approx(rms, rel=1e-3)
    assert solution["peak_power"] == pytest.approx(power.max(), rel=1e-3)
    assert solution["regenerated_energy"] == pytest.approx(-np.trapezoid(np.minimum(power, 0), time), rel=2e-3)
    assert solution["cycle_duration"] == pytest.approx(time[-1], rel=1e-12)


@settings(max_examples=60, deadline=None)
@given(d=st.floats(1e-4, 3), v=st.floats(1e-3, 3), a=st.floats(1e-2, 30), j=st.floats(0.05, 5e3))
def test_every_move_arrives_at_rest_within_its_limits(d: float, v: float, a: float, j: float) -> None:
    for move in (Move(distance=d, speed=v, acceleration=a), Move(distance=-d, speed=v, acceleration=a, jerk=j)):
        pieces = cycle_pieces((move,))
        assert pieces.distance.sum() == pytest.approx(move.distance, rel=1e-6)
        assert np.abs(pieces.speed_end).max() <= v * (1 + 1e-6)
        assert np.abs(pieces.acceleration_end).max() <= a * (1 + 1e-6)
        assert pieces.speed_end[-2] == pytest.approx(0.0, abs=1e-6 * v)
        assert np.all(pieces.duration >= -1e-12)


@settings(max_examples=40, deadline=None)
@given(eff=st.floats(0.55, 1.0), ratio=st.floats(0.3, 12), force=st.floats(-200, 200), a=st.floats(-20, 20))
def test_the_fold_balances_power(eff: float, ratio: float, force: float, a: float) -> None:
    """Without losses the motor's power is the load's plus what speeds the inertias up; losses never give power."""
    def power_in(efficiency: float) -> float:
        train = (Reduction(ratio=ratio, efficiency=efficiency, inertia_in=1e-5, inertia_out=2e-4),
                 Belt(pitch=0.005, teeth=20, efficiency=efficiency, inertia=3e-5))
        r = 0.1 / (2 * math.pi) / ratio
        return float(torque_into_train(train, force, 1.0, a / r)) * (0.3 / r)

    r = 0.1 / (2 * math.pi) / ratio
    stored = (1e-5 + 2e-4 / ratio**2 + 3e-5 / ratio**2) * (a / r) * (0.3 / r)
    assert power_in(1.0) == pytest.approx(force * 0.3 + stored, rel=1e-9, abs=1e-9)
    assert power_in(eff) >= power_in(1.0) - 1e-9


def test_torque_shares_sum_to_the_peak() -> None:
    solution = solve()
    assert sum(torque_shares(solution).values()) == pytest.approx(solution["peak_torque"], rel=1e-9)


def test_many_builds_solve_as_one_by_one() -> None:
    """Arrays broadcast through the same functions: motors, currents, masses, screws."""
    rng = np.random.default_rng(5)
    n = 7
    lead, mass, current = rng.uniform(0.004, 0.02, n), rng.uniform(2, 9, n), rng.uniform(2, 4, n)

    def build(lead: Any, mass: Any, current: Any) -> Solution:
        screw = Screw(lead=lead, diameter=0.014, length=0.4, efficiency=0.85)
        return solve(train=(screw,), moving_mass=mass, current_peak=current, thermal_resistance=2.0)

    names = ("working_margin", "rms_torque", "inertia_ratio", "temperature_rise", "regenerated_energy", "corner_speed",
             "peak_torque", "pulse_rate", "holding_force", "available_torque_at_peak_speed")
    together = build(lead, mass, current)
    for i in range(n):
        alone = build(float(lead[i]), float(mass[i]), float(current[i]))
        for name in names:
            assert together[name][i] == pytest.approx(alone[name], rel=1e-9), name


def test_whirling_and_buckling_agree_with_a_beam_of_finite_elements() -> None:
    """Euler beam, 40 elements with mass and geometric stiffness, assembled here; every way to hold its ends."""
    d, length, e, rho, n = 0.012, 0.6, 206e9, 7850.0, 40
    ei, mass, h = e * math.pi * d**4 / 64, rho * math.pi * d**2 / 4, length / 40
    k = np.zeros((2 * n + 2, 2 * n + 2))
    m = np.zeros_like(k)
    ke = ei / h**3 * np.array([[12, 6*h, -12, 6*h], [6*h, 4*h*h, -6*h, 2*h*h], [-12, -6*h, 12, -6*h], [6*h, 2*h*h, -6*h, 4*h*h]])
    me = mass * h / 420 * np.array([
        [156, 22*h, 54, -13*h], [22*h, 4*h*h, 13*h, -3*h*h], [54, 13*h, 156, -22*h], [-13*h, -3*h*h, -22*h, 4*h*h]])
    ge = np.array([[36, 3*h, -36, 3*h], [3*h, 4*h*h, -3*h, -h*h], [-36, -3*h, 36, -3*h], [3*h, -h*h, -3*h, 4*h*h]]) / (30 * h)
    g = np.zeros_like(k)
    for i in range(n):
        g[2*i:2*i+4, 2*i:2*i+4] += ge
        k[2*i:2*i+4, 2*i:2*i+4] += ke
        m[2*i:2*i+4, 2*i:2*i+4] += me
    for support, fixed in (("fixed-supported", [0, 1, 2 * n]), ("supported-supported", [0, 2 * n]),
                           ("fixed-fixed", [0, 1, 2 * n, 2 * n + 1]), ("fixed-free", [0, 1])):
        free = np.setdiff1d(np.arange(2 * n + 2), fixed)
        lowest = math.sqrt(eigh(k[np.ix_(free, free)], m[np.ix_(free, free)], eigvals_only=True)[0])
        screw = Screw(lead=0.01, diameter=0.02, root_diameter=d, length=length, end_support=support)
        assert whirling_speed(screw) == pytest.approx(lowest, rel=1e-3), support
        load = eigh(k[np.ix_(free, free)], g[np.ix_(free, free)], eigvals_only=True)[0]
        assert buckling_force(screw) == pytest.approx(load, rel=1e-3), support


@pytest.mark.parametrize(("counts", "numerator", "denominator", "per_mm"), [
    (4000, 1, 1, Fraction(400)), (131072, 131072, 3600, Fraction(360)), (131072, 100, 3, Fraction(49152, 125)),
    (4000, 1, 3, Fraction(1200)), (10_000, 3, 1, Fraction(1000, 3))])
def test_an_electronic_gear_is_counted_exactly(counts: int, numerator: int, denominator: int, per_mm: Fraction) -> None:
    """A lead of 10 mm: pulses that make a turn, tallied one by one as a driver does, carrying the rest over."""
    solution = axis_sheet("linear", "servo").solve(
        train=(Screw(lead=0.01, inertia=0.0),), unit="mm", counts_per_turn=counts, electronic_gear_numerator=numerator,
        electronic_gear_denominator=denominator, moving_mass=1.0, rotor_inertia=1e-5,
        cycle=(Move(distance=0.1, speed=0.05, acceleration=1.0),))
    moved = rest = pulses = 0
    while moved < 3 * counts:
        step, rest = divmod(numerator + rest, denominator)
        moved, pulses = moved + step, pulses + 1
    assert pulses == pytest.approx(3 * solution["pulses_per_turn"], abs=1)
    assert solution["steps_fraction"].fraction == per_mm and solution["steps_per_unit"] == pytest.approx(float(per_mm))
    assert solution["pulse_rate"] == pytest.approx(50 * float(per_mm))


def test_hand_worked_cases() -> None:
    exact = solve(train=(Belt(pitch=0.003, teeth=24),))
    assert exact["steps_fraction"].fraction == Fraction(400, 9) and str(exact["steps_fraction"]) == "400/9"
    assert float(exact["steps_fraction"]) == pytest.approx(exact["steps_per_unit"], rel=1e-12)
    assert solve(unit="in", train=(Screw(lead=0.00508),))["steps_fraction"].fraction == Fraction(16000)
    assert solve()["voltage_by_inductance"] == pytest.approx(32 * math.sqrt(2.8))
    assert not self_locking((Screw(lead=0.002, efficiency=0.45),)) and self_locking((Screw(lead=0.002, efficiency=0.35),))
    # Below η = 0.5 the motor drives the load down: lowering needs torque towards minus.
    low = solve(train=(Screw(lead=0.004, diameter=0.014, length=0.4, efficiency=0.3),), friction_force=0.0, process_force=0.0)
    assert low["static_torque"] == 0.0 and low["creep_torque_minus"] < 0
    assert screw_life(Screw(lead=0.01, dynamic_load_rating=1000.0), 100.0) == pytest.approx(1e9)
    steady = solve(incline=0.0, cycle=tuple(Move(distance=d, speed=0.1, acceleration=0.05) for d in (0.2, -0.2)))
    assert steady["cubic_mean_load"] == pytest.approx(21.0, rel=1e-3), "friction and work all the way, hardly any speeding up"
    assert steady["peak_load"] == pytest.approx(6.0 * 0.05 + 21.0)
    hot = solve(thermal_resistance=40.0)
    assert "runaway" in hot.find("temperature_rise").reason
