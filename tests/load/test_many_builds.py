"""Many builds in one array against each build by itself, and what is inside a piece against looking at a thousand places of it."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from scipy.integrate import quad
from scipy.optimize import brentq

from urban_mule.core.brief.limits import fastest_of
from urban_mule.core.load.asked import WAYS, AskedTorque, accelerations_for, crossing
from urban_mule.core.load.cycle import Move, cycle_pieces
from urban_mule.core.load.moments import cut, edges_of_signs, work_given
from urban_mule.core.load.torque import lifted, torque_over
from urban_mule.core.motor.stepper import StepperCurve, as_wired
from urban_mule.core.subjects import axis_sheet
from urban_mule.core.train.fold import efforts_through_train, gains_in_front
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import Belt, Coupling, Rack, Reduction, Screw, Worm

BUILDS = 7


def random_train(rng: np.random.Generator, builds: int = 0) -> tuple[Link, ...]:
    """A coupling, perhaps gears or a worm, and what makes travel of it; its numbers as arrays where there are several builds."""
    def some(low: float, high: float) -> Any:
        return rng.uniform(low, high, builds) if builds else float(rng.uniform(low, high))

    gears = {"ratio": some(1.5, 9), "efficiency": some(0.4, 1), "inertia_in": some(0, 4e-5), "inertia_out": some(0, 4e-4),
             "drag_torque": some(0, 0.03)}
    between = ((), (Reduction(**gears),), (Worm(**gears),), (Reduction(**gears, back_efficiency=some(0.1, 0.9)),))[rng.integers(4)]
    last = (Belt(pitch=0.005, teeth=some(12, 40), efficiency=some(0.6, 1), inertia=some(0, 1e-4)),
            Screw(lead=some(0.002, 0.02), efficiency=some(0.3, 0.95), inertia=some(0, 1e-4), drag_torque=some(0, 0.05)),
            Rack(module=some(0.0005, 0.002), teeth=some(15, 30), efficiency=some(0.6, 1), inertia=some(0, 1e-4)))[rng.integers(3)]
    return (Coupling(inertia=some(1e-6, 1e-5)), *between, last)


def build(train: tuple[Link, ...], place: int) -> tuple[Link, ...]:
    """One of the builds of a train."""
    return tuple(type(link)(**{name: float(value[place]) if isinstance(value, np.ndarray) else value
                               for name, value in vars(link).items()}) for link in train)


@pytest.mark.parametrize("seed", range(40))
def test_power_balances_at_every_link(seed: int) -> None:
    """What goes into a link is what comes out of it, what it loses, and what its inertia takes: never a gain on the way."""
    rng = np.random.default_rng(seed)
    train = random_train(rng)
    effort, way, turning = float(rng.uniform(-400, 400)), float(rng.choice([-1, 1])), float(rng.uniform(-300, 300))
    efforts = efforts_through_train(train, effort, way, turning)
    speed = way * 10.0  # rad/s of the motor
    for link, front, before, behind in zip(train, gains_in_front(train), efforts[:-1], efforts[1:], strict=True):
        into, out = before * speed * front, behind * speed * front * link.gain
        kinetic = link.inertia_at_input * front**2 * turning * speed
        drag = link.drag_torque * abs(speed * front)
        lost = into - out - kinetic - drag
        assert lost >= -1e-9 * max(abs(into), abs(out)), "what sits between makes no power"
        if out > 0:
            assert out == pytest.approx((into - kinetic - drag) * link.forward_efficiency)
        elif link.back_efficiency is not None:
            assert into - kinetic - drag == pytest.approx(out * link.back_efficiency)


@pytest.mark.parametrize("seed", range(25))
def test_builds_in_one_array_are_those_solved_one_by_one(seed: int) -> None:
    """Torque and speed at every edge of every piece, the pieces cut alike or more finely where another build needs it."""
    rng = np.random.default_rng(100 + seed)
    train = random_train(rng, BUILDS)
    moves = tuple(Move(distance=float(rng.choice([-1, 1]) * rng.uniform(0.05, 0.6)), speed=float(rng.uniform(0.1, 0.8)),
                       acceleration=float(rng.uniform(0.5, 5)), jerk=float(rng.uniform(5, 80))) for _ in range(2))
    pieces, inertia = cycle_pieces(moves), rng.uniform(1e-6, 2e-4, (3, 1))
    r = np.prod([np.broadcast_to(link.gain, BUILDS) for link in train], axis=0)
    gravity, friction, mass = float(rng.uniform(-150, 150)), float(rng.uniform(0, 60)), float(rng.uniform(1, 30))
    loads = np.stack([mass * a + pieces.direction * friction + gravity for a in (
        pieces.acceleration_start, pieces.acceleration_end)])
    together = torque_over(train, pieces, loads, inertia, r, 0.0)
    assert together.start.shape[:2] == (3, BUILDS)
    worked = np.sum(work_given(together), axis=-1)
    for place in range(BUILDS):
        for row in range(3):
            alone = torque_over(build(train, place), pieces, loads, float(inertia[row, 0]), float(r[place]), 0.0)
            of_all = [np.abs(np.broadcast_to(one, together.start.shape)[row, place]) for one in (together.start, together.end)]
            assert max(one.max() for one in of_all) == pytest.approx(
                max(np.abs(alone.start).max(), np.abs(alone.end).max()), rel=1e-9)
            time = np.broadcast_to(together.pieces.duration, together.start.shape)[row, place]
            assert time.sum() == pytest.approx(np.sum(pieces.duration), rel=1e-12), "no time is lost by cutting"
            assert float(worked[row, place]) == pytest.approx(float(np.sum(work_given(alone))), rel=1e-9, abs=1e-9)


@pytest.mark.parametrize("seed", range(30))
def test_no_effort_changes_its_sign_inside_a_piece_that_was_cut(seed: int) -> None:
    """At a hundred places of every cut piece each effort has the sign that it has at the ends; the cuts keep time and travel."""
    rng = np.random.default_rng(200 + seed)
    train = random_train(rng)
    pieces = cycle_pieces((Move(distance=0.4, speed=0.5, acceleration=3.0, jerk=float(rng.uniform(8, 60))),))
    r, inertia = float(np.prod([link.gain for link in train])), float(rng.uniform(1e-6, 1e-4))
    loads = np.stack([8.0 * a + 30.0 * pieces.direction + float(rng.uniform(-120, 120)) for a in (
        pieces.acceleration_start, pieces.acceleration_end)])
    edges = edges_of_signs(lifted(train), pieces, loads, np.array([r]), np.array([inertia]))
    parts, efforts = cut(pieces, loads, edges)
    assert np.sum(parts.duration) == pytest.approx(np.sum(pieces.duration), rel=1e-12)
    assert np.sum(parts.distance) == pytest.approx(np.sum(pieces.distance), rel=1e-9)
    for share in np.linspace(0.01, 0.99, 99):
        acceleration = parts.acceleration_start + (parts.acceleration_end - parts.acceleration_start) * share
        load = efforts[0] + (efforts[1] - efforts[0]) * share
        here = efforts_through_train(train, load, parts.direction, acceleration / r)
        first = efforts_through_train(train, efforts[0], parts.direction, parts.acceleration_start / r)
        last = efforts_through_train(train, efforts[1], parts.direction, parts.acceleration_end / r)
        for one, before, after in zip(here, first, last, strict=True):
            room = 1e-9 * np.maximum(np.abs(before), np.abs(after))
            inside = (one >= np.minimum(before, after) - room) & (one <= np.maximum(before, after) + room)
            assert np.all(inside), "straight from end to end, so that the ends say all"


@pytest.mark.parametrize("seed", range(20))
def test_what_a_torque_lets_speed_up_is_where_the_root_lies(seed: int) -> None:
    """The acceleration for a torque, one by one by bisection; several torques at once give the same."""
    rng = np.random.default_rng(300 + seed)
    train = random_train(rng)
    asked = AskedTorque(train, float(rng.uniform(1, 20)), float(rng.uniform(-80, 80)), float(rng.uniform(0, 40)), 1.0, 3e-5,
                        float(np.prod([link.gain for link in train])))
    for ways in WAYS.values():
        standing = float(asked(0.0, ways))
        torques = [standing * factor + 0.01 for factor in (1.2, 2.0, 6.0)] + [0.5 * standing]
        found = accelerations_for(asked, torques, 3.0, ways)
        assert found[-1] == 0.0, "standing takes more already"
        for torque, value in zip(torques[:-1], found[:-1], strict=True):
            beyond = brentq(lambda a, t=torque, w=ways: float(asked(a, w)) - t, 0.0, 1e6, xtol=1e-12, rtol=1e-13)
            assert value == pytest.approx(beyond, rel=1e-5)


@pytest.mark.parametrize("seed", range(20))
def test_what_a_torque_lets_turn_is_where_the_curve_falls_below_it(seed: int) -> None:
    rng = np.random.default_rng(400 + seed)
    curve = StepperCurve(float(rng.uniform(0.1, 1.0)), 50.0, float(rng.uniform(0.2, 4)), float(rng.uniform(5e-4, 8e-3)),
                         float(rng.uniform(1, 6)), float(rng.uniform(20, 80)), 0.02)
    still = float(curve(np.zeros(1))[0])
    shares = (0.15, 0.5, 0.9, 1.1)
    found = fastest_of(curve, [share * still for share in shares], 0.01)
    assert found[-1] == 0.0, "more than it ever gives"
    for share, speed in zip(shares[:-1], found[:-1], strict=True):
        if speed is not None:
            at = brentq(lambda w, t=share * still: float(curve(np.array([w]))[0]) - t, 0.0, 3000.0, xtol=1e-9)
            assert speed == pytest.approx(0.01 * at, rel=1e-5)
    assert [one for one in found if one is not None] == sorted((one for one in found if one is not None), reverse=True)


def test_a_crossing_is_found_whatever_the_curve_does_before_it() -> None:
    """Straight, bent, with a step in it, or flat before it rises."""
    curves = {"straight": lambda x: x - 0.31, "bent": lambda x: x**5 - 0.2, "flat first": lambda x: np.maximum(x - 0.7, 0.0) - 1e-3,
              "a step": lambda x: np.where(x < 0.42, -1.0, 1.0)}
    where = {"straight": 0.31, "bent": 0.2**0.2, "flat first": 0.701, "a step": 0.42}
    for name, curve in curves.items():
        assert crossing(curve, 0.0, 1.0) == pytest.approx(where[name], abs=1e-3 if name == "a step" else 1e-7), name


@pytest.mark.parametrize("seed", range(12))
def test_what_is_said_for_another_wiring_is_the_same_motor(seed: int) -> None:
    """Every number of a stepper's sheet from figures with their wiring, and from the figures said for that wiring."""
    rng = np.random.default_rng(500 + seed)
    figures: dict[str, Any] = {
        "holding_torque": float(rng.uniform(0.3, 6)), "rated_current": float(rng.uniform(0.5, 6)), "rated_current_is": "rms",
        "phase_resistance": float(rng.uniform(0.2, 5)), "phase_inductance": float(rng.uniform(5e-4, 1e-2)),
        "step_angle": math.pi / 100, "rotor_inertia": 5e-5, "thermal_resistance": 2.0,
        "wiring": str(rng.choice(["half coil", "series", "parallel"])), "figures_for": str(rng.choice(["half coil", "series"]))}
    more = {"supply_voltage": 48.0, "current_peak": 2.0, "moving_mass": 4.0, "unit": "mm", "ambient_temperature": 20.0,
            "train": (Belt(pitch=0.005, teeth=20),), "cycle": (Move(distance=0.3, speed=0.4, acceleration=3.0, jerk=60.0),)}
    said = as_wired(figures)
    assert said["wiring"] is None and figures["wiring"] is not None
    sheet = axis_sheet("linear", "stepper")
    as_given, rewired = sheet.solve(**figures, **more), sheet.solve(**said, **more)
    compared = 0
    for name, one in sheet.quantities.items():
        value, other = as_given.get(name), rewired.get(name)
        if isinstance(value, float) and not one.sought:
            assert other == pytest.approx(value, rel=1e-9), name
            compared += 1
    assert compared > 60
    still = as_given["torque_curve"](np.zeros(1))[0]
    assert still == pytest.approx(as_given["torque_constant"] * 2.0 - as_given["drag_torque"], rel=1e-9)


def test_the_work_of_a_piece_is_its_power_added_up() -> None:
    """Of a cycle with limited jerk, by an integral over each piece."""
    rng = np.random.default_rng(6)
    train, moves = random_train(rng), (Move(distance=0.5, speed=0.6, acceleration=4.0, jerk=40.0),)
    pieces, r = cycle_pieces(moves), float(np.prod([link.gain for link in train]))
    loads = np.stack([9.0 * a + 25.0 * pieces.direction - 40.0 for a in (pieces.acceleration_start, pieces.acceleration_end)])
    cycle = torque_over(train, pieces, loads, 2e-5, r, 0.0)
    for place, given in enumerate(work_given(cycle)):
        def power(share: float, place: int = place) -> float:
            speed, torque = cycle.inside(np.full(cycle.start.shape, share))
            return float(speed[place] * torque[place])

        expected = quad(power, 0.0, 1.0, epsabs=1e-12)[0] * cycle.pieces.duration[place]
        assert given == pytest.approx(expected, rel=1e-9, abs=1e-12)
