"""The axis integrated in time agrees with what the sheet computes of it, and the plain loop with the compiled one."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest
from tools.honesty import (
    AXES,
    DAMPED,
    OF_CORNER,
    drawn_machines,
    falling_out,
    lost_motion_bounds,
    moving_as_told,
    pushed,
    read_on,
    ringing,
    warming,
)

from urban_mule.bench.simulated import motion
from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.bench.simulated.body import mechanism_of
from urban_mule.bench.simulated.motion import loses_steps_in, moved
from urban_mule.bench.simulated.truth import SOUND
from urban_mule.core.load.asked import acceleration_for
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.demo.courtyard import demo_project
from urban_mule.store.solve import solve_axis

PROJECT = demo_project()
SOLUTIONS = {name: solve_axis(PROJECT, PROJECT.axis(name)) for name in ("X", "Y", "Z", "C")}


@pytest.mark.parametrize("name", SOLUTIONS)
def test_with_nothing_hidden_the_rounds_return_what_the_sheet_computes(name: str) -> None:
    solution, axis = SOLUTIONS[name], PROJECT.axis(name)
    assert ringing(solution) == pytest.approx(list(map(float, solution["axis_modes"])), rel=0.02)
    for share, (computed, integrated) in zip(OF_CORNER, falling_out(solution), strict=True):
        assert integrated == pytest.approx(computed, rel=0.15), (share, DAMPED)
    least, most = lost_motion_bounds(solution)
    assert least < float(read_on(axis, solution, "reversal")["backlash"]) < 1.05 * most
    assert moving_as_told(axis, solution) == pytest.approx(1.0, abs=1e-6)
    play, stiffness = pushed(axis, solution)
    assert play == pytest.approx(float(solution["train_clearance"]), abs=1e-6 if axis.motion == "linear" else 2e-5)
    assert stiffness == pytest.approx(float(solution["stiffness_when_pushed"]), rel=0.05)
    assert warming(axis, solution) == pytest.approx(float(solution["temperature_rise"]), rel=0.02)


@pytest.mark.parametrize("name", ["X", "Z"])
def test_a_motor_with_much_in_hand_loses_nothing_and_one_with_too_little_does(name: str) -> None:
    """The margin sorts the two as the sheet says it does; what is lost comes in fours."""
    solution = SOLUTIONS[name]
    r, speed = float(solution["travel_per_radian"]), float(solution["top_speed"])
    torque = float(solution["torque_curve"](np.array([speed / r]))[0])
    at = {margin: acceleration_for(solution["asked_torque"], torque / margin, 1.0) for margin in (0.6, 3.0)}
    body = mechanism_of(solution, rotor_damping=0.1)
    runs = {margin: moved(body, 2 * speed**2 / one + 0.1 * speed, speed, one) for margin, one in at.items()}
    assert runs[3.0].lost_steps == 0 != runs[0.6].lost_steps
    short = 2 * speed**2 / at[0.6] + 0.1 * speed - runs[0.6].position[-1]
    assert short == pytest.approx(runs[0.6].lost_steps * float(solution["step_angle"]) * r, rel=0.05), "where it stands says it too"
    assert not loses_steps_in(body, 2 * speed**2 / at[3.0], speed, at[3.0], 0.2)


def test_the_plain_loop_does_what_the_compiled_one_does(monkeypatch: pytest.MonkeyPatch) -> None:
    one = mechanism_of(SOLUTIONS["X"])
    monkeypatch.setattr(motion, "SETTLES", 0.02)
    fast = moved(one, 0.002, 0.2, 8.0)
    assert hasattr(motion._loop, "py_func"), "the tests run where the compiler is installed"
    for name in ("_ramped", "_slowed", "_loop"):
        monkeypatch.setattr(motion, name, getattr(motion, name).py_func)
    plain = moved(one, 0.002, 0.2, 8.0)
    assert plain.position == pytest.approx(fast.position, rel=1e-6, abs=1e-12) and plain.lost_steps == fast.lost_steps == 0
    assert fast.position[-1] == pytest.approx(0.002, abs=4e-4), "it swings about where it was sent"


def test_what_the_axis_does_not_know_is_named() -> None:
    with pytest.raises(NotKnown, match="not known"):
        mechanism_of(SOLUTIONS["X"].changed(phase_inductance=None))


def test_a_machine_that_loses_its_place_when_shaken_is_shaken_more_weakly() -> None:
    """A load three times as heavy as anybody wrote down, with no friction, on a rotor that is hardly damped."""
    told = SOLUTIONS["X"]
    really = told.changed(friction_force=0.0, drag_torque=0.0, moving_mass=3 * float(told["moving_mass"]))
    machine = SimulatedAxis(told, dataclasses.replace(SOUND, rotor_damping=0.03, train_damping=0.01), really)
    machine.enable()
    machine.shake(8.0, 110.0, 6.0)
    _, lost = machine._swung(11_000, 1.0)
    assert lost, "as strongly as usual it would lose steps"
    fresh = SimulatedAxis(told, machine.truth, really)
    fresh.enable()
    before = fresh.position()
    fresh.shake(8.0, 110.0, 6.0)
    _, rows = fresh.record(7.2)
    assert np.ptp(rows[:, 0]) > 1.0 and fresh.position() == before
    assert abs(fresh._stands() - before) < float(told["step_length"]), "and it stands where it stood"


@pytest.mark.long
@pytest.mark.parametrize("name", AXES)
def test_the_share_of_drawn_machines_that_loses_no_step_is_as_the_odds_say(name: str) -> None:
    found = list(drawn_machines(PROJECT, name, seed=7, count=200))
    odds, lost = np.array(found).T
    assert np.mean(1 - lost) == pytest.approx(np.mean(odds), abs=0.1)
