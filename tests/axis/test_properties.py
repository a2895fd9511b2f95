"""Properties that must hold whatever the numbers: edits equal fresh solutions, limits are kept, statistics do not care
where zero is; and small simulations beside closed forms."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

from urban_mule.core.load.cycle import Move
from urban_mule.core.motor.heat import steady_rise
from urban_mule.core.motor.servo import ServoCurve
from urban_mule.core.motor.stepper import StepperCurve
from urban_mule.core.readings.acceleration import AccelerationReading
from urban_mule.core.readings.two_way import TwoWayReading
from urban_mule.core.ring.shaper import residual_vibration, shaper_sequences
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.units import number_text
from urban_mule.core.subjects import axis_sheet
from urban_mule.core.train.fold import torque_into_train
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import Belt, Coupling, Rack, Reduction, Screw

BASE: dict[str, Any] = {
    "moving_mass": 4.0, "friction_force": 5.0, "incline": 0.3, "travel": 0.6, "unit": "mm", "travel_per_radian": None,
    "train": (Coupling(inertia=1e-6), Belt(pitch=0.003, teeth=20, inertia=1e-5, efficiency=0.95)),
    "cycle": (Move(distance=0.3, speed=0.4, acceleration=3.0, dwell=0.2), Move(distance=-0.3, speed=0.3, acceleration=2.0)),
    "holding_torque": 1.2, "rated_current": 2.5, "phase_resistance": 0.9, "phase_inductance": 0.0025, "rotor_inertia": 3e-5,
    "step_angle": math.pi / 100, "thermal_resistance": 2.2, "supply_voltage": 36.0, "current_peak": 3.0, "microsteps": 16,
    "hold_fraction": 0.6, "max_pulse_rate": 1e5, "accuracy_wanted": 1e-4,
}
del BASE["travel_per_radian"]
EDITS = {
    "moving_mass": st.floats(0.1, 50), "friction_force": st.floats(0, 80), "incline": st.floats(-1.5, 1.5),
    "current_peak": st.floats(0.1, 8), "supply_voltage": st.floats(5, 90), "microsteps": st.integers(1, 256),
    "phase_resistance": st.floats(0.1, 5), "thermal_resistance": st.one_of(st.none(), st.floats(0.2, 9)),
    "wiring": st.sampled_from([None, "series", "parallel"]), "figures_for": st.sampled_from([None, "half coil"]),
    "train": st.sampled_from([(Screw(lead=0.01, diameter=0.012, length=0.4),), (Belt(pitch=0.005, teeth=16),), (), None,
                              (Reduction(ratio=3.0), Rack(module=0.001, teeth=20))]),
    "cycle": st.sampled_from([None, (), (Move(distance=0.1, speed=0.2, acceleration=1.0, jerk=9.0),)]),
}


def solve(**more: Any) -> Solution:
    return axis_sheet("linear", "stepper").solve(**{**BASE, **more})


def same(one: Any, other: Any) -> bool:
    if isinstance(one, Unknown) or isinstance(other, Unknown):
        return type(one) is type(other) and one.reason == other.reason
    if isinstance(one, dict):
        return bool(one == other)
    return bool(np.allclose(one, other, rtol=1e-12, equal_nan=True))


@settings(max_examples=15, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.lists(st.sampled_from(sorted(EDITS)).flatmap(lambda name: EDITS[name].map(lambda value: (name, value))),
                min_size=1, max_size=6))
def test_any_chain_of_edits_equals_solving_afresh(edits: list[tuple[str, Any]]) -> None:
    """The heart of the window: what an edit leaves alone must be what a fresh solution would give."""
    walked, inputs = solve(), dict(BASE)
    walked.judged()
    for name, value in edits:
        before = walked
        walked = walked.changed(**{name: value})
        inputs[name] = value
        walked.judged()
        for q in walked.sheet.quantities.values():
            if q.name not in walked.differing(before) and not q.structure and not q.sought:
                assert same(walked.find(q.name), before.find(q.name)), q.name
    fresh = axis_sheet("linear", "stepper").solve(**inputs)
    for q in fresh.sheet.quantities.values():
        if not q.structure:
            assert same(walked.find(q.name), fresh.find(q.name)), q.name
    assert [v.sentence for v in walked.verdicts()] == [v.sentence for v in fresh.verdicts()]


@settings(max_examples=40, deadline=None)
@given(k=st.floats(0.05, 1.5), p=st.sampled_from([50.0, 100.0]), r=st.floats(0.2, 4), ind=st.floats(3e-4, 8e-3),
       limit=st.floats(0.5, 7), volts=st.floats(8, 80), speed=st.floats(0.5, 250))
def test_the_quadrature_current_is_the_best_of_all_that_are_allowed(
    k: float, p: float, r: float, ind: float, limit: float, volts: float, speed: float
) -> None:
    """Against every point of the current plane on a polar grid that the two circles allow."""
    found = float(StepperCurve(k, p, r, ind, limit, volts, 0.0).quadrature_current(np.array([speed]))[0])
    size, angle = np.meshgrid(np.linspace(0, limit, 160), np.linspace(0, 2 * math.pi, 721))
    i_d, i_q = size * np.cos(angle), size * np.sin(angle)
    x, e = p * speed * ind, k * speed
    allowed = np.hypot(r * i_d - x * i_q, r * i_q + x * i_d + e) <= volts
    best = float(i_q[allowed].max()) if allowed.any() else 0.0
    assert found <= limit * (1 + 1e-9)
    assert found == pytest.approx(max(best, 0.0), abs=0.02 * limit)
    assert found >= max(best, 0.0) - 1e-9 * limit


def test_torque_falls_with_speed_and_rises_with_voltage() -> None:
    speeds = np.linspace(0, 300, 400)
    curves = [StepperCurve(0.4, 50.0, 0.6, 0.0024, 4.0, v, 0.02)(speeds) for v in (12.0, 24.0, 48.0, 80.0)]
    for lower, higher in pairwise(curves):
        assert np.all(np.diff(lower) <= 1e-12) and np.all(higher >= lower - 1e-12)
    servo = ServoCurve(3.0, 200.0, 300.0)(np.array([0.0, 200.0, 250.0, 300.0, 400.0]))
    assert servo.tolist() == pytest.approx([3.0, 3.0, 1.5, 0.0, 0.0])


@settings(max_examples=40, deadline=None)
@given(loss=st.floats(0.5, 60), resistance=st.floats(0.2, 6), ambient=st.floats(-10, 60))
def test_heat_settles_where_iterating_the_balance_settles(loss: float, resistance: float, ambient: float) -> None:
    assume(0.00393 * loss * resistance < 0.9)
    rise = 0.0
    for _ in range(600):
        rise = resistance * loss * (1 + 0.00393 * (ambient + rise - 20))
    assert steady_rise(loss, resistance, ambient) == pytest.approx(rise, rel=1e-6)


def test_the_rotor_rings_at_its_resonance() -> None:
    """The equation of motion on the full sine of the magnetic spring, let go from a small lag; zero crossings timed."""
    solution = solve(friction_force=0.0)
    inertia = 3e-5 + solution["load_inertia_at_motor"]
    torque, teeth = solution["set_torque"], solution["rotor_teeth"]
    run = solve_ivp(lambda _t, y: [y[1], -torque / inertia * math.sin(teeth * y[0])], (0, 0.5), [0.002, 0.0],
                    events=lambda _t, y: y[0], rtol=1e-9, atol=1e-12)
    crossings = run.t_events[0]
    period = 2 * float(np.mean(np.diff(crossings)))
    assert 1 / period == pytest.approx(solution["rotor_resonance"], rel=1e-3)


def test_a_reversal_swallows_the_microsteps_that_the_spring_must_turn_round() -> None:
    """The command creeps forward, then back in small steps; the load follows when the spring overcomes friction."""
    solution = solve(incline=0.0, friction_force=20.0)
    torque, teeth, n = solution["set_torque"], 50.0, 16
    friction = solution["creep_torque_plus"]
    assert solution["creep_torque_minus"] == pytest.approx(-friction)
    microstep = math.pi / 2 / n / teeth
    lag = brentq(lambda a: torque * math.sin(teeth * a) - friction, 0.0, math.pi / 2 / teeth)
    command, rotor = lag, 0.0
    taken = 0
    while torque * math.sin(teeth * (command - rotor)) > -friction:
        command -= microstep / 100
        taken += 1
    assert taken / 100 == pytest.approx(solution["reversal_microsteps"], abs=0.02)


@pytest.mark.parametrize("train", [
    (Screw(lead=0.008, diameter=0.014, length=0.5),),
    (Coupling(inertia=2e-6), Reduction(ratio=4.0, inertia_in=1e-5, inertia_out=3e-4), Belt(pitch=0.005, teeth=18, inertia=4e-5)),
    (Reduction(ratio=0.5), Reduction(ratio=7.0, inertia_out=1e-4), Rack(module=0.0015, teeth=24, helix_angle=0.3, face_width=0.02)),
])
def test_inertia_at_the_motor_is_the_kinetic_energy_of_everything(train: tuple[Link, ...]) -> None:
    """½ J ω² at 1 rad/s of the motor against the sum over parts, each at its own speed."""
    solution = solve(train=train, moving_mass=3.0)
    energy, speed = 0.0, 1.0
    for stage in train:
        match stage:
            case Reduction():
                energy += (stage.inertia_in + stage.inertia_out / stage.ratio**2) * speed**2 / 2
            case _:
                energy += stage.inertia_at_input * speed**2 / 2
        speed *= stage.gain
    energy += 3.0 * speed**2 / 2
    assert solution["load_inertia_at_motor"] / 2 == pytest.approx(energy, rel=1e-12)
    assert solution["travel_per_radian"] == pytest.approx(speed)


@settings(max_examples=60, deadline=None)
@given(force=st.floats(-300, 300), eff=st.floats(0.51, 1.0), drag=st.floats(0, 0.2), direction=st.sampled_from([-1.0, 1.0]))
def test_a_screw_never_gives_more_than_it_gets(force: float, eff: float, drag: float, direction: float) -> None:
    torque = float(torque_into_train((Screw(lead=0.01, inertia=0.0, efficiency=eff, drag_torque=drag),), force, direction, 0.0))
    into_screw, out_of_screw = torque * direction, force * direction * 0.01 / (2 * math.pi)
    assert into_screw >= out_of_screw - 1e-12


readings = st.integers(2, 6).flatmap(lambda m: st.tuples(
    st.just(m), st.lists(st.lists(st.floats(-50, 50), min_size=m, max_size=m), min_size=2, max_size=5),
    st.lists(st.lists(st.floats(-50, 50), min_size=m, max_size=m), min_size=2, max_size=5)))
STATISTICS = ("positioning_accuracy", "repeatability", "reversal_value", "systematic_deviation", "mean_deviation_range")


@settings(max_examples=60, deadline=None)
@given(readings, st.floats(-100, 100), st.floats(0.1, 20))
def test_positioning_does_not_care_where_zero_is_and_grows_with_the_error(
    found: tuple[int, list[list[float]], list[list[float]]], shift: float, scale: float
) -> None:
    m, up, down = found
    targets = np.linspace(0, 0.5, m)

    def judge(change: Any, swapped: bool = False) -> Solution:
        a, b = (1e-6 * change(np.array(t)) for t in ((down, up) if swapped else (up, down)))
        return solve(positioning_reading=TwoWayReading(targets, a, b), reversal_reading=TwoWayReading(targets, a, b))

    plain, shifted, scaled = judge(lambda t: t), judge(lambda t: t + shift), judge(lambda t: t * scale)
    swapped = judge(lambda t: t, swapped=True)
    for name in (*STATISTICS, "backlash", "backlash_uncertainty"):
        assert shifted[name] == pytest.approx(plain[name], rel=1e-6, abs=1e-12), name
        assert scaled[name] == pytest.approx(scale * plain[name], rel=1e-6, abs=1e-12), name
        assert swapped[name] == pytest.approx(plain[name], rel=1e-9, abs=1e-15), name
    assert plain["positioning_accuracy"] >= plain["systematic_deviation"] - 1e-15
    assert plain["repeatability"] >= plain["reversal_value"] - 1e-15
    assert plain["systematic_deviation"] >= max(plain["reversal_value"], plain["mean_deviation_range"]) - 1e-15
    assert plain["backlash"] <= plain["reversal_value"] + 1e-15


@settings(max_examples=40, deadline=None)
@given(f=st.floats(8, 120), zeta=st.floats(0, 0.2))
def test_shapers_cancel_their_mode_sum_to_one_and_end_when_they_say(f: float, zeta: float) -> None:
    period = 1 / (f * math.sqrt(1 - zeta**2))
    for shaper, halves in zip(shaper_sequences(f, zeta), (1, 2, 3, 2), strict=True):
        assert shaper.amplitudes.sum() == pytest.approx(1.0) and np.all(shaper.amplitudes > 0)
        assert shaper.times[-1] == pytest.approx(halves * period / 2)
        left = residual_vibration(shaper, f, zeta)
        assert left < 1e-9 if shaper.name != "EI" else left <= 0.0501
        assert np.all(residual_vibration(shaper, np.linspace(1, 300, 400), zeta) <= 1 + 1e-9)


def test_a_shaped_corner_departs_from_the_path_as_the_variance_says() -> None:
    """A parabola of constant acceleration, shaped by adding delayed copies; compared with the time-shifted parabola."""
    acceleration = 4.0
    t = np.linspace(0.5, 1.0, 50)
    for shaper in shaper_sequences(30.0, 0.05):
        shaped = sum(a * 0.5 * acceleration * (t - d) ** 2 for a, d in zip(shaper.amplitudes, shaper.times, strict=True))
        mean = float(shaper.amplitudes @ shaper.times)
        departure = shaped - 0.5 * acceleration * (t - mean) ** 2
        assert np.allclose(departure, 0.5 * acceleration * shaper.variance)


def test_the_density_holds_the_power_of_the_record() -> None:
    """Parseval: the integral of the density is the mean square, for noise and for a tone."""
    rng, rate = np.random.default_rng(2), 1600.0
    t = np.arange(64_000) / rate
    for values in (rng.standard_normal(t.size), math.sqrt(2) * 3 * np.sin(2 * np.pi * 50 * t)):
        spectrum = solve(acceleration_reading=AccelerationReading(t, values[:, None]))["spectrum"]
        power = float(np.sum(spectrum.summed) * spectrum.frequency[1])
        assert power == pytest.approx(float(np.mean(values**2)), rel=0.02)


def test_three_directions_of_one_mode_are_fitted_as_one() -> None:
    rng, rate = np.random.default_rng(4), 1600.0
    t = np.arange(int(4 * rate)) / rate
    w, zeta = 2 * math.pi * 27.0, 0.035
    wd = w * math.sqrt(1 - zeta**2)
    ring = np.where(t > 0.2, np.exp(-zeta * w * (t - 0.2)) * np.sin(wd * (t - 0.2)), 0.0) * 40
    values = ring[:, None] * np.array([1.0, -0.4, 0.1]) + 0.05 * rng.standard_normal((t.size, 3))
    modes = solve(acceleration_reading=AccelerationReading(t, values))["modes"]
    assert len(modes) == 1 and modes[0].strength == pytest.approx(1.0)
    assert modes[0].frequency == pytest.approx(27.0, rel=0.003) and modes[0].damping_ratio == pytest.approx(zeta, rel=0.05)


@given(st.floats(-1e8, 1e8).filter(lambda v: v == 0 or abs(v) > 1e-5), st.integers(2, 8))
def test_numbers_on_screen_keep_their_value(value: float, digits: int) -> None:
    text = number_text(value, digits)
    assert float(text) == pytest.approx(value, rel=0.51 * 10 ** (1 - digits))
    assert "e" not in text and not text.endswith(".")
