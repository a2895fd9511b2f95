"""What was measured on the demo machine: each axis as it really was by then, and the sets that its simulation gave."""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass
from datetime import datetime
from typing import Any

import numpy as np

from urban_mule.bench.sessions.carried import usual, walk
from urban_mule.bench.sessions.rounds import PlanAxis, as_typed, spread_targets
from urban_mule.bench.simulated.axis import HiddenMode, SimulatedAxis, Truth
from urban_mule.core.proof.circle import shapes_of
from urban_mule.core.sheet.solution import Solution
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.document.readings import SIMULATED
from urban_mule.store.solve import solve_axis

SCALE, RULE = "scale on the long rail", "steel rule of 1 m"
STEEL = 11.5e-6  # 1/K
GAUGES: list[dict[str, Any]] = [
    {"name": SCALE, "unit": "mm", "sign": "plus", "resolution": 1e-6, "gauge_uncertainty": 1.5e-6},
    {"name": RULE, "unit": "mm", "sign": "plus", "resolution": 1e-5, "gauge_uncertainty": 2e-5, "gauge_expansion": STEEL}]

LOOSE = Truth(seed=11, clearance=62e-6, clearance_wear=18e-6, scale_error=0.00006, periodic_error=5e-6, bow=9e-6,
              scatter=3.5e-6, modes=(HiddenMode(31.4, 0.035), HiddenMode(52.0, 0.05, (0.55, 0.3, 0.1))), pretension=27.0)
SET = Truth(seed=12, clearance=20e-6, clearance_wear=6e-6, scale_error=0.00002, periodic_error=5e-6, bow=9e-6,
            scatter=1.6e-6, modes=(HiddenMode(34.2, 0.045), HiddenMode(71.0, 0.04, (0.1, 0.22, 0.05))), pretension=58.0,
            warm_growth=21e-6)
BEAM = Truth(seed=41, clearance=96e-6, clearance_wear=9e-6, scale_error=-0.00003, periodic_error=7e-6, bow=14e-6, scatter=1.8e-6,
             modes=(HiddenMode(70.4, 0.03), HiddenMode(43.5, 0.035, (0.5, 0.45, 0.05))), warm_growth=16e-6)
PRESS = Truth(seed=51, clearance=3e-6, clearance_wear=1e-6, scale_error=0.00006, periodic_error=3e-6, bow=2e-6, scatter=0.9e-6,
              modes=(HiddenMode(149.0, 0.035), HiddenMode(88.0, 0.05, (0.12, 0.3, 0.2))), warm_growth=38e-6, warm_time=1400.0,
              preload_torque=0.022)
TURN = Truth(seed=61, clearance=9.4e-4, scale_error=0.0, periodic_error=1.1e-4, scatter=4e-5, indicator_noise=1e-5,
             indicator_resolution=2e-5, modes=(HiddenMode(58.6, 0.04, (1.0,)),), homing_scatter=9e-5)

TROUGH = Truth(seed=71, clearance=9e-6, clearance_wear=2e-6, scale_error=-0.00005, periodic_error=4e-6, bow=6e-6, scatter=1.2e-6,
               modes=(HiddenMode(214.0, 0.03), HiddenMode(61.0, 0.05, (0.1, 0.5, 0.1))), warm_growth=14e-6, preload_torque=0.017)


@dataclass(frozen=True)
class Day:
    """A day of measuring on one axis: days after the beginning, the machine as it was by then, the plans by kind with what is set
    otherwise than usual, a note; aside: why none of it counts.
    """

    axis: str
    days: float
    truth: Truth
    plans: dict[str, dict[str, Any]]
    note: str
    aside: str = ""


def worn(seed: int, play: float) -> Truth:
    """Y with so much play [m] at its new pinions."""
    return dataclasses.replace(BEAM, seed=seed, clearance=play)


SPREAD: dict[str, Any] = {"reversal": {"targets": "100 300 500 700 850", "repeats": 5, "overrun": "20"}}
TONE: dict[str, Any] = {"span": "420", "linear_mass": "12.6"}
OF_BEAM: dict[str, Any] = {"reversal": {"targets": "80 400 700 1000 1300", "overrun": "20"}}
HIGH: dict[str, Any] = {"lowest": "20", "highest": "240"}
DAYS: tuple[Day, ...] = (
    Day("X", 9, LOOSE, {"travel": {}, **SPREAD, "acceleration": {}, "push": {}, "positioning": {}},
        "before the preload was set"),
    Day("Y", 11, BEAM, OF_BEAM, "with the pinions out of the drawer", "taken before the pinions were changed"),
    Day("Y", 14, worn(42, 29e-6), {"travel": {}, **OF_BEAM, "acceleration": {}}, "new pinions"),
    Day("Y", 29, worn(43, 34e-6), OF_BEAM, "two weeks of tiles"),
    Day("X", 38, SET, {"travel": {}, **SPREAD, "acceleration": {}, "tone": TONE, "push": {}, "positioning": {}}, "preload set"),
    Day("X", 40, SET, {"drag": {"radius": "40"}, "homing": {}, "lengths": {}, "ripple": {"speed": "300"}, "drift": {},
                       "warming": {}}, "a quiet day"),
    Day("Y", 45, worn(44, 38e-6), OF_BEAM, "a month and a half of tiles"),
    Day("Z", 47, PRESS, {"travel": {}, "reversal": {}, "push": {"forces": "20 40 60 80"}, "homing": {}, "acceleration": HIGH,
                         "drift": {}, "positioning": {}}, "before the glaze run"),
    Day("C", 51, TURN, {"travel": {}, "reversal": {}, "push": {"forces": "0.2 0.4 0.6 0.8"}, "homing": {}, "acceleration": {},
                      "positioning": {}}, "before the glaze run"),
    Day("W", 55, TROUGH, {"travel": {}, "reversal": {}, "push": {"forces": "30 60 90 120"}, "homing": {}, "acceleration": HIGH,
                          "drift": {}, "positioning": {}}, "before the first bed of sand"),
    Day("Y", 61, worn(45, 43e-6), OF_BEAM, "two months of tiles"),
    Day("Y", 77, worn(46, 47e-6), {**OF_BEAM, "push": {"forces": "40 60 80 100"}, "homing": {}, "acceleration": {}, "drift": {},
                                   "positioning": {}}, "a look before winter"))


def measured(project: Project, day: Day, taken: datetime) -> list[dict[str, Any]]:
    """The sets of a day, as the simulated axis gives them."""
    axis = project.axis(day.axis)
    solution = solve_axis(project, axis)
    machine = SimulatedAxis(solution, stiff_as(solution, day.truth))
    plan = PlanAxis(axis.travel, axis.motion == "linear")
    said = {"taken": taken.isoformat(), "device": SIMULATED, "source": "practice", "note": day.note} | (
        {"aside": day.aside} if day.aside else {})
    return [{"kind": kind, **walk(kind, plan, usual(kind, plan, **_settings(kind, axis, day.truth), **changed), machine,
                                  lambda *_: True), **_more(kind, axis), **said} for kind, changed in day.plans.items()]


def stiff_as(solution: Solution, truth: Truth) -> Truth:
    """A machine that gives way under a push as much as it is computed to."""
    stiffness = solution.get("axial_stiffness")
    return dataclasses.replace(truth, compliance=1 / float(stiffness)) if stiffness else truth


def _settings(kind: str, axis: Axis, truth: Truth) -> dict[str, Any]:
    if kind == "positioning":
        targets = as_typed(PlanAxis(axis.travel, axis.motion == "linear"), spread_targets(axis.travel, 11, truth.seed))
        return {"targets": targets, "overrun": "20" if axis.travel > 0.5 else "4"}
    return {"direction": f"along {axis.name}, across, up"} if kind == "acceleration" and axis.motion == "linear" else {}


def _more(kind: str, axis: Axis) -> dict[str, Any]:
    """What a set says of its gauge."""
    if kind == "travel":
        return {"gauge_uncertainty": 1.2e-5 if axis.motion == "linear" else math.radians(0.01)}
    if kind == "lengths":
        return {"gauge": RULE, "gauge_uncertainty": 2e-5, "gauge_expansion": STEEL, "temperature": 22.4}
    return {"gauge": SCALE} if kind == "positioning" and axis.motion == "linear" else {}


def two_axes(project: Project, taken: datetime, seed: int = 21) -> list[dict[str, Any]]:
    """Circle and diagonals of X and Y as an indicator and a long rule would read them: scale, squareness and play of both axes."""
    random, radius = np.random.default_rng(seed), 0.15
    said = {"axes": ["X", "Y"], "taken": taken.isoformat(), "device": SIMULATED, "source": "practice"}
    truth = np.array([0.0, 4e-6, -3e-6, 1.6e-4, 2.1e-4, 14e-6, 26e-6])
    ways = {}
    for name, turn in (("clockwise", -1.0), ("counterclockwise", 1.0)):
        angle = np.radians(np.arange(2.5, 360, 5))
        seen = shapes_of(angle, turn, radius) @ truth + random.normal(0, 1.2e-6, angle.size)
        ways[name] = {"angle": np.round(angle, 5).tolist(), "deviation": np.round(seen, 7).tolist()}
    a, b, u = 0.8, 0.5, 3e-5
    sine = float(np.sin(truth[4]))
    long, short = (math.sqrt(a * a + b * b + way * 2 * a * b * sine) for way in (1, -1))
    return [{"kind": "circle", "radius": radius, **ways, **said},
            {"kind": "diagonals", "side_x": a, "side_y": b, "diagonal_plus": round(long, 5), "diagonal_minus": round(short, 5),
             "gauge_uncertainty": u, **said}]
