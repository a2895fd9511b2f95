"""Measurement analysis: truth, distorted by a seeded generator, recovered; and hand-worked or published cases."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from scipy.signal import cont2discrete, find_peaks, lfilter, welch

from urban_mule.bench.devices import DeviceError
from urban_mule.bench.sessions.carried import usual, walk
from urban_mule.bench.sessions.rounds import PlanAxis
from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.bench.simulated.truth import Frame, Truth
from urban_mule.core.motor.stepper_modes import modes_on_field
from urban_mule.core.readings.acceleration import AccelerationReading
from urban_mule.core.readings.two_way import TwoWayReading
from urban_mule.core.ring.shaper import residual_vibration, shaper_sequences
from urban_mule.core.ring.spectrum import segment_length
from urban_mule.core.sheet.progress import Cancelled
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.subjects import axis_sheet
from urban_mule.core.train.links import Screw

RATE = 3200.0
PLAN = PlanAxis(0.5, True)


def solve(**given: Any) -> Solution:
    return axis_sheet("linear", "stepper").solve(**given)


def on(_done: int, _total: int) -> bool:
    return True


def ringing(drive: np.ndarray, modes: tuple[tuple[float, float, float], ...], noise: float, seed: int) -> AccelerationReading:
    """Accelerance of a few modes (frequency, damping ratio, weight) under a drive, by recursive filters."""
    total = np.zeros(drive.size)
    for f, zeta, weight in modes:
        w = 2 * math.pi * f
        b, a, _ = cont2discrete(([weight, 0, 0], [1, 2 * zeta * w, w * w]), 1 / RATE, method="bilinear")
        total += lfilter(np.ravel(b), a, drive)
    total += noise * np.random.default_rng(seed).standard_normal(drive.size)
    return AccelerationReading(np.arange(drive.size) / RATE, total[:, None])


T = np.arange(0, 6, 1 / RATE)
DRIVES = {
    "tap": (np.where((T > 0.1) & (T < 0.102), np.sin(np.pi * (T - 0.1) / 0.002), 0) * 100, 0.05, 0.005, 0.05),
    "sweep": (np.sin(2 * np.pi * (5 * T + 145 / 12 * T**2)) * (T < 5.6), 0.005, 0.01, 0.1),
    "shaken": (np.random.default_rng(7).standard_normal(20 * T.size), 0.01, 0.012, 0.25),
}


@pytest.mark.parametrize("name", DRIVES)
def test_modes_are_recovered_from_a_tap_a_sweep_and_noise(name: str) -> None:
    drive, noise, frequency_room, damping_room = DRIVES[name]
    truth = ((31.4, 0.03, 1.0), (58.0, 0.025, -0.7))
    found = solve(acceleration_reading=ringing(drive, truth, noise, 3))["resonances"]
    for f, zeta, _ in truth:
        near = min(found, key=lambda mode: abs(mode["frequency"] - f))
        assert near["frequency"] == pytest.approx(f, rel=frequency_room)
        assert near["damping_ratio"] == pytest.approx(zeta, rel=damping_room)


def test_the_density_is_welchs_and_its_peaks_are_where_another_finder_sees_them() -> None:
    record = ringing(DRIVES["shaken"][0], ((31.4, 0.03, 1.0), (58.0, 0.025, -0.7)), 0.01, 1)
    mine = solve(acceleration_reading=record)["spectrum"]
    f, density = welch(record.values[:, 0], RATE, nperseg=segment_length(record.time.size, RATE))
    assert np.allclose(mine.frequency, f) and np.allclose(mine.summed, density, rtol=1e-9)
    peaks, _ = find_peaks(10 * np.log10(density[:200]), prominence=6)
    modes = solve(acceleration_reading=record)["modes"]
    assert all(np.abs(f[peaks] - mode.frequency).min() < 1.6 for mode in modes[:2])


def test_lost_and_uneven_samples_are_named_filled_or_refused() -> None:
    record = ringing(DRIVES["tap"][0], ((31.4, 0.03, 1.0),), 0.02, 2)
    keep = np.delete(np.arange(record.time.size), np.random.default_rng(1).choice(np.arange(1, 19_000), 300, replace=False))
    torn = solve(acceleration_reading=AccelerationReading(record.time[keep], record.values[keep]))
    base = torn["time_base"]
    assert base.lost == 300 and base.resampled
    assert torn["resonances"][0]["frequency"] == pytest.approx(31.4, rel=0.01)
    verdict = next(v for v in torn.verdicts() if v.check == "time base")
    assert verdict.level == "tight" and "lost 300 samples" in verdict.sentence
    hole = np.r_[0:5000, 5200:record.time.size]
    with pytest.raises(NotKnown, match="200 in a row"):
        solve(acceleration_reading=AccelerationReading(record.time[hole], record.values[hole]))["modes"]
    with pytest.raises(NotKnown, match="has 10 samples"):
        solve(acceleration_reading=AccelerationReading(record.time[:10], record.values[:10]))["modes"]
    with pytest.raises(NotKnown, match="still"):
        solve(acceleration_reading=AccelerationReading(record.time, np.zeros_like(record.values)))["modes"]


def test_shapers_do_to_a_simulated_mode_what_their_formula_says() -> None:
    """Impulses through a damped oscillator, its free amplitude afterwards read off position and velocity."""
    for shaper in shaper_sequences(30.0, 0.05):
        assert shaper.amplitudes.sum() == pytest.approx(1.0)
        for f in (30.0, 27.0, 36.0):
            w, zeta = 2 * math.pi * f, 0.05
            damped, end = w * math.sqrt(1 - zeta**2), shaper.times[-1]
            pole = -zeta * w + 1j * damped
            left = abs(np.sum(shaper.amplitudes * np.exp(pole * (end - shaper.times))))
            assert residual_vibration(shaper, f, zeta) == pytest.approx(left, rel=1e-9, abs=1e-12), (shaper.name, f)
    zv, zvd, zvdd, ei = shaper_sequences(30.0, 0.0)
    assert zv.amplitudes.tolist() == [0.5, 0.5] and zvd.amplitudes.tolist() == [0.25, 0.5, 0.25]
    assert zvdd.times.tolist() == pytest.approx([0, 1 / 60, 2 / 60, 3 / 60])
    assert residual_vibration(ei, 30.0, 0.0) == pytest.approx(0.05) and residual_vibration(zvd, 30.0, 0.0) < 1e-12


def test_choosing_a_shaper_weighs_what_is_left_against_acceleration() -> None:
    record = ringing(DRIVES["tap"][0], ((31.4, 0.03, 1.0),), 0.05, 3)
    solution = solve(acceleration_reading=record, path_tolerance=2e-4)
    shapers = {s["name"]: s for s in solution["shapers"]}
    assert shapers["ZV"]["allowed_acceleration"] > shapers["ZVD"]["allowed_acceleration"] > shapers["ZVDD"]["allowed_acceleration"]
    assert solution["chosen_shaper"]["name"] in ("ZVD", "EI")
    half = solve(acceleration_reading=record, path_tolerance=1e-4)["shapers"][0]["allowed_acceleration"]
    assert half == pytest.approx(shapers["ZV"]["allowed_acceleration"] / 2)


def machine(truth: Truth, play: float = 0.0, longer: float = 0.0) -> SimulatedAxis:
    """A screw with this much play [m] and a lead that is longer by a share than what is written down."""
    solution = solve(travel=0.5, train=(Screw(lead=0.01),), step_angle=math.pi / 100, microsteps=64, unit="mm", moving_mass=6.0,
                     friction_force=1.0)
    return SimulatedAxis(solution, truth, solution.changed(train=(Screw(lead=0.01 * (1 + longer), clearance=play),)))


def columns(axis: SimulatedAxis, kind: str, **changed: Any) -> dict[str, Any]:
    """A whole reading of a kind, taken by the simulated axis; tables as arrays."""
    found = walk(kind, PLAN, usual(kind, PLAN, **changed), axis, on)
    return {name: np.array(value) for name, value in found.items()}


@pytest.mark.long
def test_the_bench_hides_a_truth_and_the_analysis_finds_it() -> None:
    truth = Truth(seed=4, periodic_error=3e-6, scatter=1e-6, frame=Frame(0.0))
    axis = machine(truth, 34e-6, 2.4e-4)
    targets = {"targets": "50 150 250 350 450", "overrun": "20"}
    found = solve(reversal_reading=TwoWayReading(**columns(axis, "reversal", repeats=6, **targets)))
    assert found["backlash"] == pytest.approx(34e-6, abs=4 * found["backlash_uncertainty"] + 3e-6)
    measured = columns(axis, "travel", repeats=6)["measured"]
    assert np.mean(measured) / 0.4 - 1 == pytest.approx(2.4e-4, abs=2e-5)
    run = columns(axis, "positioning", targets=" ".join(str(place) for place in range(10, 500, 60)))
    shares = solve(positioning_reading=TwoWayReading(**run))["error_shares"]
    assert shares["scale error"] == pytest.approx(2.4e-4 * 0.48, rel=0.05) and max(shares, key=shares.get) == "scale error"  # type: ignore[arg-type]
    tight = machine(truth)
    sweep, body = columns(tight, "acceleration"), tight.body
    record = AccelerationReading(sweep["time"], sweep["values"])
    field = body.rotor_teeth * body.torque_constant * body.current_peak
    rings = modes_on_field(field, body.turning_inertia, body.moved_inertia, 1, body.travel_per_radian, body.train_stiffness)[0]
    assert solve(acceleration_reading=record)["resonances"][0]["frequency"] == pytest.approx(rings, rel=0.04)
    again = columns(machine(truth), "reversal", **targets)["up"]
    assert np.array_equal(again, columns(machine(truth), "reversal", **targets)["up"])


def test_devices_refuse_and_sessions_cancel() -> None:
    axis = machine(Truth())
    with pytest.raises(DeviceError, match="not enabled"):
        axis.move(0.1)
    axis.enable()
    with pytest.raises(DeviceError, match="outside the travel"):
        axis.move(0.7)
    with pytest.raises(DeviceError, match="cannot be made"):
        axis.shake(50, 5, 1)
    with pytest.raises(DeviceError, match="two samples at least"):
        axis.record(0.0)
    moves = []

    def twice(done: int, _total: int) -> bool:
        moves.append(done)
        return done < 2

    with pytest.raises(Cancelled):
        walk("reversal", PLAN, usual("reversal", PLAN), axis, twice)
    assert moves == [1, 2]


def test_positioning_by_hand() -> None:
    """Two targets, two repeats, worked on paper [µm]: up 0 2 | 10 10, down 4 6 | 16 12."""
    reading = TwoWayReading(np.array([0.0, 0.1]), 1e-6 * np.array([[0, 10], [2, 10]]), 1e-6 * np.array([[4, 16], [6, 12]]))
    found = solve(positioning_reading=reading)
    s1, s2 = math.sqrt(2), math.sqrt(8)
    assert found["reversal_value"] == pytest.approx(4e-6)
    assert found["systematic_deviation"] == pytest.approx(13e-6)
    assert found["mean_deviation_range"] == pytest.approx(9e-6)
    assert found["repeatability"] == pytest.approx(1e-6 * max(2 * s1 + 2 * s1 + 4, 4 * s1, 2 * s2 + 4, 4 * s2))
    assert found["positioning_accuracy"] == pytest.approx(1e-6 * (14 + 2 * s2 - (1 - 2 * s1)))
    single = solve(positioning_reading=TwoWayReading(reading.targets, reading.up[:1], reading.down[:1]))
    assert single["reversal_value"] == pytest.approx(6e-6)
    assert "one repeat" in single.find("positioning_accuracy").reason
    lone = solve(reversal_reading=TwoWayReading(np.array([0.1]), np.array([[1e-6]]), np.array([[5e-6]])))
    assert lone["backlash"] == pytest.approx(4e-6) and "no scatter" in lone.find("backlash_uncertainty").reason
