"""The glazing brush: a light gantry whose brush two motors move in X and Y together, and its cord feed. Everything is invented.

Its history: at first power the plugs of both motors were exchanged, which two looks told; one belt was slack beside the other,
which their tones told, and the circle.
"""

from __future__ import annotations

import math
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import numpy as np

from urban_mule.demo.machine import with_library_driver
from urban_mule.demo.measured import GAUGES, Day, circle_ways, measured
from urban_mule.practice.made import made_machine
from urban_mule.store.document.edit import edited
from urban_mule.store.document.project import Project
from urban_mule.store.document.readings import SIMULATED
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.solve import solve_axis

BEGUN = datetime(2026, 10, 5, 9, 0, tzinfo=UTC)
PRETENSION = "train[0].pretension"
MOTOR: dict[str, Any] = {
    "kind": "stepper", "name": "48 mm stepper 0.7 N·m", "holding_torque": 0.7, "rated_current": 2.8, "rated_current_is": "rms",
    "phase_resistance": 0.62, "phase_inductance": 0.0011, "rotor_inertia": 7.7e-6, "step_angle": math.radians(1.8),
    "drag_torque": 0.012, "thermal_resistance": 3.4, "thermal_time_constant": 900.0, "frame": 0.048, "length": 0.048}
DRIVER: dict[str, Any] = {"name": "4.2 A switch driver, 50 V", "current_peak": 3.4, "microsteps": 16, "hold_fraction": 0.5,
                          "cooling": "fan"}
SUPPLY: dict[str, Any] = {
    "mains_voltage": 230.0, "circuit_rating": 10.0, "supply_kind": "switching", "supply_voltage": 48.0, "supply_power": 350.0,
    "supply_capacitance": 0.01, "supply_efficiency": 0.88, "power_factor": 0.95, "standing_load": 9.0}


def _belted(name: str, travel: float, moving_mass: float, stroke: float, terminals: dict[str, str]) -> dict[str, Any]:
    """An axis of the pair: its belt, motor and driver are those of the other one."""
    ways = [{"distance": sign * stroke, "speed": 1.0, "acceleration": 12.0, "dwell": 0.25} for sign in (1, -1)]
    return {
        "name": name, "motion": "linear", "travel": travel, "moving_mass": moving_mass, "friction_force": 2.5,
        "accuracy_wanted": 0.2e-3, "speed_wanted": 1.0, "path_tolerance": 3e-4, "moves_what": "tool", "cycle": ways,
        "home_by": "switch", "home_end": "minus", "switch_overtravel": 0.004, "reaction_time": 0.02, "homing_speed": 0.04,
        "zero_offset": 0.003, "soft_limit_room": 0.002, "switch_free": "low", "switch_pressed": "high", "switch_wire_off": "high",
        "hours_a_week": 9.0, "maintenance": [{"task": "listen to the tones of both belts", "every_days": 30.0}], "lean_force": 8.0,
        "train": [{"kind": "belt", "pitch": 0.002, "teeth": 20, "inertia": 9e-7, "efficiency": 0.96, "specific_stiffness": 9e4,
                   "layout": "loop", "span": 0.8, "pretension": 35.0, "rated_force": 90.0}],
        "motor": MOTOR, "driver": {**DRIVER, "terminals": terminals}, "controller": {"unit": "mm", "max_pulse_rate": 250000.0}}


SHARED = {"enable": "E1", "upper_end_switch": "none"}
X = _belted("X", 0.42, 1.1, 0.24, {**SHARED, "step": "1A", "direction": "1B", "fan": "R1", "lower_end_switch": "S1"})
Y = _belted("Y", 0.30, 0.4, 0.18, {**SHARED, "step": "2A", "direction": "2B", "fan": "R2", "lower_end_switch": "S2"})
F: dict[str, Any] = {
    "name": "F", "motion": "linear", "moving_mass": 0.05, "friction_force": 9.0, "accuracy_wanted": 0.5e-3,
    "cycle": [{"distance": 0.06, "speed": 0.05, "acceleration": 1.0, "dwell": 0.8}],
    "train": [{"kind": "feed roller", "diameter": 0.0116, "efficiency": 0.9, "inertia": 2e-7}],
    "motor": {**MOTOR, "name": "40 mm stepper 0.32 N·m", "holding_torque": 0.32, "rated_current": 1.2, "phase_resistance": 2.3,
              "phase_inductance": 0.0036, "rotor_inertia": 3.6e-6, "frame": 0.04, "length": 0.038},
    "driver": {**DRIVER, "current_peak": 1.5, "terminals": {"step": "3A", "direction": "3B", "enable": "E1", "fan": "R3"}},
    "controller": {"unit": "mm", "max_pulse_rate": 250000.0}}
SEEDS = {"X": 4177, "Y": 9032, "F": 611}
TONE = {"tone": {"span": "400", "linear_mass": "8.4"}}


def brush_project() -> Project:
    """The brush as first written down, its plugs exchanged, without readings."""
    project = Project.model_validate({
        "format": "urban-mule/1", "name": "Glazing brush", "practice": True, "ambient_temperature": 21.0, **SUPPLY,
        "gauges": GAUGES, "pairs": [{"axes": ["X", "Y"]}], "axes": [with_library_driver(axis) for axis in (X, Y, F)],
        "notes": "Brushes glaze on tiles in short quick strokes. Beside the mosaic layer, in the same courtyard."})
    return edited(project, ("machines",), tuple(made_machine(project, axis, SEEDS[axis.name]) for axis in project.axes))


def build_brush(path: Path) -> ProjectFile:
    """The second demo with its history, written to a new file. Raises BadFile."""
    project = brush_project()
    file, who = ProjectFile.create(path, project, BEGUN), {axis.name: axis.id for axis in project.axes}
    file.write_entry(who["X"], "note", "First power, low current, a hand on the stop. Plus X went to plus X, plus Y to minus Y: the"
                     " plugs of the two motors are exchanged.", BEGUN)
    project = edited(edited(project, ("axes", 0, "direction_seen"), "as it should"), ("axes", 1, "direction_seen"), "the other way")
    file.commit(project, "two looks at X and Y: the motors are exchanged", BEGUN)
    time = BEGUN + timedelta(hours=1)
    for place in (0, 1):
        project = edited(project, ("axes", place, "direction_seen"), "as it should")
        project = edited(project, ("axes", place, "direction_turned_in"), "nowhere")
    file.write_entry(who["Y"], "set", "Power off, charge gone; exchanged the plugs at the drivers. Both looks are right.", time)
    file.commit(project, "X, Y: plugs exchanged, both looks right", time)
    for name in ("X", "Y"):
        solution = solve_axis(project, project.axis(name))
        file.apply(who[name], {one: solution.get(one) for one in ("microsteps", "steps_per_unit", "top_speed", "top_acceleration")},
                   {one: solution.get(one) for one in ("microsteps", "travel_per_turn", "top_speed")}, time)
    for days, tensions, note in ((2, (36.0, 24.5), "as they were fitted"), (3, (35.6, 35.1), "both belts tightened alike")):
        time = BEGUN + timedelta(days=days)
        for place, (name, tension) in enumerate(zip(("X", "Y"), tensions, strict=True)):
            more: dict[str, dict[str, Any]] = {} if days == 2 else {
                "travel": {}, "push": {"direction": "AB"[place]}, "reversal": {}, "acceleration": {}, "homing": {}, "lengths": {},
                "drift": {}, "warming": {}, "positioning": {}, "ripple": {"speed": "200"}, "ladder": {"times": "1"}}
            rows = measured(project, Day(name, days + place / 10, {**TONE, **more}, note, really={PRETENSION: tension}), time)
            project = edited(project, ("axes", place, "readings"), (*project.axes[place].readings, *rows))
        project = edited(project, ("readings",), (*(project.readings or ()), *_both(tensions, time)))
        file.write_entry(who["Y"], "measured" if days == 2 else "set", f"The tones of both belts, {note}; a circle after it.", time)
        file.commit(project, f"X, Y: {note}", time)
    cord = Day("F", 4, {"travel": {"free_travel": "120", "commanded": "100"}}, "a marked cord")
    project = edited(project, ("axes", 2, "readings"), tuple(measured(project, cord, BEGUN + timedelta(days=4))))
    file.commit(project, "F: fed length measured on a marked cord", BEGUN + timedelta(days=4))
    return file


def _both(tensions: tuple[float, float], taken: datetime) -> list[dict[str, Any]]:
    """A circle as an indicator on a bracket reads it, and the diagonals of a board by a rule: belts of unlike tension seat unlike
    deep, which shears the plane.
    """
    shear = 2.4e-4 * (tensions[0] - tensions[1]) / sum(tensions)
    truth = np.array([0, 5e-6, -4e-6, 3e-5, shear, 9e-6, 7e-6])
    circle = circle_ways(0.1, truth, 1.5e-6, np.random.default_rng(round(100 * tensions[1])))
    said = {"axes": ["X", "Y"], "taken": taken.isoformat(), "device": SIMULATED, "source": "practice"}
    a, b = 0.36, 0.24
    long, short = (math.sqrt(a * a + b * b + way * 2 * a * b * math.sin(shear)) for way in (1, -1))
    return [{"kind": "circle", **circle, **said},
            {"kind": "diagonals", "side_x": a, "side_y": b, "diagonal_plus": round(long, 5), "diagonal_minus": round(short, 5),
             "gauge_uncertainty": 2e-5, **said}]
