"""What really swings when a shaped move ends: by a record, in time, on the practice machine, through the window."""

from __future__ import annotations

import math
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from scipy.integrate import cumulative_trapezoid
from scipy.signal import lsim, lti
from tests.driving import leaf_of, practise
from tools.settings_trials import WITHIN, trials

from urban_mule.core.load.cycle import Move, ramp_phases
from urban_mule.core.readings.acceleration import AccelerationReading
from urban_mule.core.ring.end_of_move import in_time
from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.set_shaper import impulses_of
from urban_mule.core.ring.shaped import swing_at_end
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.demo.courtyard import demo_project
from urban_mule.desk.walk import settle
from urban_mule.store.document.readings import READING_MODELS
from urban_mule.store.exchange.csv_readings import export_csv, parse_csv
from urban_mule.store.solve import solve_axis

pytestmark = pytest.mark.every_axis

RATE = 1600


def rings_down(swing: float, frequency: float, damping: float, noise: float = 0.03, seed: int = 2) -> tuple[np.ndarray, np.ndarray]:
    """The acceleration of a load that swings by so much [m], and a weaker mode above it, in three directions."""
    time = np.arange(0, 1.5, 1 / RATE)
    random = np.random.default_rng(seed)

    def rings(far: float, at: float, fades: float, phase: float) -> np.ndarray:
        w = 2 * math.pi * at
        return far * w**2 * np.exp(-fades * w * time) * np.cos(w * math.sqrt(1 - fades**2) * time + phase)

    along = rings(swing, frequency, damping, 0.1) + rings(swing / 40, 2.7 * frequency, 0.03, 1.0)
    return time, np.stack([along, 0.2 * along, 0.05 * along], axis=1) + noise * random.standard_normal((time.size, 3)) + 0.2


@pytest.mark.parametrize(("frequency", "damping"), [(11.0, 0.02), (35.0, 0.07), (90.0, 0.12)])
def test_the_swing_is_read_from_what_rings_down(frequency: float, damping: float) -> None:
    """Also where the mode is some percent from where it was guessed, and beside noise and an offset of the sensor."""
    for off in (0.92, 1.0, 1.06):
        time, values = rings_down(80e-6, off * frequency, damping)
        assert swing_at_end(time, values, [frequency, 2.7 * frequency]) == pytest.approx(80e-6, rel=0.12)
    with pytest.raises(NotKnown, match="at least"):
        swing_at_end(time[:20], values[:20], [4.0])


@pytest.mark.parametrize("jerk", [None, 60.0])
def test_the_end_of_a_move_in_time_is_that_of_an_integration(jerk: float | None) -> None:
    move, mode = Move(distance=0.25, speed=0.5, acceleration=4.0, jerk=jerk), Mode(14.0, 0.05, 1.0, 1.0)
    shaper = impulses_of("ZVD", 15.0, mode, None)
    time = np.arange(0, 1.4, 2e-5)
    acceleration, now = np.zeros(time.size), 0.0
    for duration, first, last in ramp_phases(move):
        inside = (time >= now) & (time < now + duration)
        acceleration[inside] = first + (last - first) * (time[inside] - now) / duration
        now += float(duration)
    pushed = sum(share * np.interp(time - at, time, acceleration, left=0.0) for at, share in zip(
        shaper.times, shaper.amplitudes, strict=True))
    w = 2 * math.pi * mode.frequency
    _, off, _ = lsim(lti([-1.0], [1.0, 2 * mode.damping_ratio * w, w * w]), pushed, time)
    placed = cumulative_trapezoid(cumulative_trapezoid(pushed, time, initial=0), time, initial=0)
    command, behind = in_time(move, shaper, mode, time[::50])
    assert np.abs(command - placed[::50]).max() < 1e-4 and command[-1] == pytest.approx(0.25)
    assert np.abs(behind - off[::50]).max() < 0.01 * np.abs(off).max()


def shaped(swing: float, **other: Any) -> AccelerationReading:
    time, values = rings_down(swing, 35.0, 0.07)
    return AccelerationReading(**{"time": time, "values": values, "shaped": "ZV", "shaped_frequency": 35.0, "move_distance": 0.4,
                                  "move_speed": 0.6, "move_acceleration": 8.0, **other})


def test_a_record_of_a_shaped_move_is_what_counts_from_then_on() -> None:
    project = demo_project()
    axis = project.axis("X")
    x = solve_axis(project, axis).changed(shaper_kind="ZV", shaper_frequency=35.0)
    before, tolerance = x["settings_as_set"], float(x["settled_within"])
    assert x.find("really_left").reason and x["residual_swing"] < 2 * tolerance
    left = x.changed(shaped_reading=shaped(90e-6))
    really = left["really_left"]
    assert left["residual_swing"] == pytest.approx(really.found, rel=0.03) and really.found == pytest.approx(90e-6, rel=0.1)
    assert really.floor == pytest.approx(math.sqrt(really.found**2 - really.promised**2))
    assert left["settings_as_set"]["settled_cycle_time"] > before["settled_cycle_time"], "the floor has to die away"
    other = left.changed(shaper_kind="EI", shaper_frequency=36.0)
    linear = x.changed(shaper_kind="EI", shaper_frequency=36.0)["residual_swing"]
    assert other["residual_swing"] == pytest.approx(math.hypot(linear, really.floor)), "whatever the shaper"
    less = x.changed(shaped_reading=shaped(5e-6))
    assert less["residual_swing"] == pytest.approx(5e-6, rel=0.3) and less["really_left"].floor == 0
    assert less.changed(shaper_frequency=39.0)["residual_swing"] == x.changed(shaper_frequency=39.0)["residual_swing"]


def test_a_shaped_record_never_makes_modes_and_says_its_move() -> None:
    project, model = demo_project(), READING_MODELS["acceleration"]
    axis = project.axis("X")
    one = shaped(40e-6)
    columns = {name: getattr(one, name) for name in (field.name for field in model.declared.columns)}
    reading = model.model_validate({"kind": "acceleration", **{name: value.tolist() if isinstance(value, np.ndarray) else value
                                                               for name, value in columns.items() if value is not None}})
    with_it = axis.model_copy(update={"readings": (*axis.readings, reading)})
    assert with_it.last_reading("acceleration") is axis.last_reading("acceleration")
    solution = solve_axis(project, with_it)
    assert solution.get("modes") is None and solution["shaped_reading"].shaped == "ZV"
    again = parse_csv(export_csv(reading))
    assert (again.shaped, again.move_acceleration) == ("ZV", 8.0)
    for wrong, said in (({"shaped": "ZVX"}, "allowed is ZV"), ({"move_speed": None}, "move_speed is missing"),
                        ({"shaped_frequency": None}, "shaped_frequency is missing")):
        with pytest.raises(ValueError, match=said):
            model.declared.fits(replace(one, **wrong))


def test_on_a_practice_machine_the_best_set_is_the_best_and_swings_as_promised() -> None:
    """One machine here; twenty, with 200 sets on each, in docs/honesty.md."""
    (one,) = trials(demo_project(), "X", 41, machines=1, sets=25)
    assert one.best <= WITHIN * one.tried and one.margin >= 1 and one.holds


def test_the_end_of_a_move_is_recorded_on_the_bench_and_counts_on_both_leaves(demo_copy: Path, qtbot: Any) -> None:
    window, picture = leaf_of(demo_copy, qtbot, "Ring", "move")
    session = window.session
    settle(session)
    picture.bring_up_to_date()
    assert "friction and detent leave a floor" in picture.says()[1]
    modes, records = session.solution["modes"], len(session.axis.readings)
    last = session.axis.last_reading("acceleration")
    picture.mark.click()
    settle(session)
    assert session.solution["shaped_reading"].shaped == "ZVDD" and session.axis.last_reading("acceleration") is not last
    session.undo_stack.undo()
    settle(session)
    assert session.axis.last_reading("acceleration") is last and len(session.axis.readings) == records
    practise(window, qtbot, "acceleration", by="shaped move", duration="2")
    settle(session)
    reading = session.axis.readings[-1]
    assert (reading.shaped, reading.practice) == ("ZVDD", True), "what the plan offers beside a sweep"
    assert reading.move_acceleration == pytest.approx(session.solution["acceleration_to_set"])
    assert session.solution["modes"] == modes
    window.stage.leaves.turn("move")
    assert window.stage.leaves.picture.says()[1].startswith("By the record of a move with ZVDD")
    window.show_stage("Brief")
    window.stage.leaves.turn("set")
    leaf = window.stage.leaves.picture
    leaf.bring_up_to_date()
    qtbot.waitUntil(lambda: leaf.together is not None, timeout=20_000)
    settle(session)
    assert "By a record of a move with ZVDD at" in leaf.said.text()
    wanted: list[str] = []
    leaf.measure_wanted.connect(wanted.append)
    leaf.record.click()
    assert wanted == ["acceleration"]
    window.close()
