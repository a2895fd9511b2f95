"""What was measured on the demo machine: each axis as it really was by then, and the sets that its simulation gave."""

from __future__ import annotations

import dataclasses
import math
from dataclasses import field
from datetime import datetime
from typing import Any

import numpy as np

from urban_mule.bench.sessions.carried import usual, walk
from urban_mule.bench.sessions.rounds import PlanAxis, as_typed, plan_of, spread_targets
from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.core.proof.circle import shapes_of
from urban_mule.core.sheet.record import record
from urban_mule.core.studies.tolerance import with_values
from urban_mule.practice.faults import Built
from urban_mule.practice.machine import simulated, sound_machine
from urban_mule.practice.made import made_machine
from urban_mule.store.document.edit import edited
from urban_mule.store.document.practice import MadeMachine
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.document.readings import SIMULATED

SCALE, RULE = "scale on the long rail", "steel rule of 1 m"
STEEL = 11.5e-6  # 1/K
GAUGES: list[dict[str, Any]] = [
    {"name": SCALE, "unit": "mm", "sign": "plus", "resolution": 1e-6, "gauge_uncertainty": 1.5e-6},
    {"name": RULE, "unit": "mm", "sign": "plus", "resolution": 1e-5, "gauge_uncertainty": 2e-5, "gauge_expansion": STEEL}]

PINIONS, BELT, REDUCTION = "train[1].clearance", "train[1].pretension", "train[0].clearance"
SEEDS = {"X": 7037, "Y": 11839, "Z": 3350, "C": 1594, "W": 3204}
STANDS: dict[str, dict[str, float]] = {  # where a machine stands at the end of its story
    "X": {BELT: 58.0, "train[1].pitch": 2.99994e-3}, "Y": {PINIONS: 47e-6, "train[1].module": 1.00003e-3}}


@record(frozen=True)
class Day:
    """A day of measuring on one axis: days after the beginning, the plans by kind with what is set otherwise than usual, a note;
    aside: why none of it counts. really: givens that were others by then than at the end; truth: what no sheet says, likewise.
    """

    axis: str
    days: float
    plans: dict[str, dict[str, Any]]
    note: str
    aside: str = ""
    really: dict[str, float] = field(default_factory=dict)
    truth: dict[str, float] = field(default_factory=dict)


def worn(play: float) -> dict[str, float]:
    """Y with so much play [m] at its pinions."""
    return {PINIONS: play}


SPREAD: dict[str, Any] = {"reversal": {"targets": "100 300 500 700 850", "repeats": 5, "overrun": "20"}}
TONE: dict[str, Any] = {"span": "420", "linear_mass": "12.6"}
OF_BEAM: dict[str, Any] = {"reversal": {"targets": "80 400 700 1000 1300", "overrun": "20"}}
HIGH: dict[str, Any] = {"lowest": "20", "highest": "240"}
DAYS: tuple[Day, ...] = (
    Day("X", 9, {"travel": {}, **SPREAD, "acceleration": {}, "push": {}, "positioning": {}}, "before the preload was set",
        really={BELT: 27.0}, truth={"looseness": 48e-6, "clearance_wear": 18e-6, "scatter": 3.5e-6}),
    Day("Y", 11, OF_BEAM, "with the pinions out of the drawer", "taken before the pinions were changed", really=worn(96e-6)),
    Day("Y", 14, {"travel": {}, **OF_BEAM, "acceleration": {}}, "new pinions", really=worn(29e-6)),
    Day("Y", 29, OF_BEAM, "two weeks of tiles", really=worn(34e-6)),
    *(Day("Z", days, {"reversal": {}, "acceleration": HIGH}, note, really={PINIONS: play}) for days, play, note in (
        (17, 11e-6, "as it was bought"), (32, 4e-6, "the nut preloaded"))),
    *(Day("C", days, {"reversal": {}, "acceleration": {}}, note, really={REDUCTION: math.radians(play)}) for days, play, note in (
        (21, 0.05, "as it was bought"), (36, 0.033, "the reduction closed up"))),
    Day("X", 38, {"travel": {}, **SPREAD, "acceleration": {}, "tone": TONE, "push": {}, "positioning": {}}, "preload set"),
    Day("X", 40, {"drag": {"radius": "40", "lowest": "0.08", "highest": "0.16"}, "homing": {}, "lengths": {},
                  "ripple": {"speed": "300"}, "drift": {}, "warming": {}}, "a quiet day"),
    Day("Y", 45, OF_BEAM, "a month and a half of tiles", really=worn(38e-6)),
    Day("Z", 47, {"travel": {}, "reversal": {}, "push": {}, "homing": {}, "acceleration": HIGH, "drift": {}, "positioning": {},
                  "lengths": {}, "ladder": {"times": "1"}, "ripple": {"speed": "120"}, "warming": {},
                  "drag": {"radius": "40", "lowest": "0.05", "highest": "0.1"}}, "before the glaze run"),
    Day("C", 51, {"travel": {}, "reversal": {}, "push": {}, "homing": {}, "acceleration": {}, "positioning": {}, "lengths": {},
                  "ladder": {"times": "1"}, "ripple": {"speed": "120"}, "drift": {}, "warming": {}}, "before the glaze run"),
    Day("W", 54.2, {"response": {}}, "the velocity gain at which it sang"),
    Day("W", 54.6, {"tuning": {}, "effort": {}, "response": {}}, "gains by the limit of the loop"),
    Day("W", 55, {"travel": {}, "reversal": {}, "push": {}, "homing": {}, "acceleration": HIGH, "drift": {}, "positioning": {},
                  "lengths": {}}, "before the first bed of sand"),
    Day("Y", 61, OF_BEAM, "two months of tiles", really=worn(43e-6)),
    *(Day("W", days, {"reversal": {}, "acceleration": HIGH}, note) for days, note in (
        (63, "after a week of sand"), (70, "after two weeks of sand"))),
    Day("X", 72, SPREAD, "a look before winter"),
    Day("Y", 77, {**OF_BEAM, "push": {}, "homing": {}, "acceleration": {}, "drift": {}, "positioning": {}, "lengths": {},
                  "ladder": {"times": "1"}, "ripple": {"speed": "200"}, "warming": {}}, "a look before winter"))


def with_machines(project: Project) -> Project:
    """The project with the machines behind its axes, as they stand at the end of its story."""
    def standing(one: MadeMachine) -> MadeMachine:
        ends = STANDS.get(one.axis, {})
        return one.model_copy(update={"drawn": tuple(
            drawn.model_copy(update={"really": ends.get(drawn.input, drawn.really)}) for drawn in one.drawn)})

    made = (made_machine(project, axis, SEEDS[axis.name]) for axis in project.axes)
    return edited(project, ("machines",), tuple(map(standing, made)))


def machine_by(project: Project, day: Day) -> SimulatedAxis:
    """The machine of an axis as it was on a day."""
    axis = project.axis(day.axis)
    built = sound_machine(project, axis)
    truth = dataclasses.replace(built.truth, seed=round(100 * day.days), **day.truth)  # type: ignore[arg-type]
    return simulated(project, axis, Built(with_values(built.real, day.really), truth))


def measured(project: Project, day: Day, taken: datetime) -> list[dict[str, Any]]:
    """The sets of a day, as the simulated axis gives them."""
    axis, machine = project.axis(day.axis), machine_by(project, day)
    plan = plan_of(axis, machine.solution)
    said = {"taken": taken.isoformat(), "device": SIMULATED, "source": "practice", "note": day.note} | (
        {"aside": day.aside} if day.aside else {})
    return [{"kind": kind, **walk(kind, plan, usual(kind, plan, **_settings(kind, axis, plan, day), **changed), machine,
                                  lambda *_: True), **_more(kind, axis), **said} for kind, changed in day.plans.items()]


def _settings(kind: str, axis: Axis, plan: PlanAxis, day: Day) -> dict[str, Any]:
    if kind == "positioning":
        targets = as_typed(plan, spread_targets(axis.travel, 11, round(100 * day.days)))
        return {"targets": targets, "overrun": "20" if axis.travel > 0.5 else "4"}
    return {"direction": f"along {axis.name}, across, up"} if kind == "acceleration" and axis.motion == "linear" else {}


def _more(kind: str, axis: Axis) -> dict[str, Any]:
    """What a set says of its gauge."""
    if kind == "travel":
        return {"gauge_uncertainty": 1.2e-5 if axis.motion == "linear" else math.radians(0.01)}
    if kind == "lengths":
        return {"gauge": RULE, "gauge_uncertainty": 2e-5, "gauge_expansion": STEEL, "temperature": 22.4}
    return {"gauge": SCALE} if kind == "positioning" and axis.motion == "linear" else {}


def circle_ways(radius: float, truth: np.ndarray, scatter: float, random: np.random.Generator) -> dict[str, Any]:
    """A circle both ways as an indicator would read it. truth: what it is made of, as shapes_of has it; lengths in m."""
    ways = {}
    for name, turn in (("clockwise", -1.0), ("counterclockwise", 1.0)):
        angle = np.radians(np.arange(2.5, 360, 5))
        seen = shapes_of(angle, turn, radius) @ truth + random.normal(0, scatter, angle.size)
        ways[name] = {"angle": np.round(angle, 5).tolist(), "deviation": np.round(seen, 7).tolist()}
    return {"radius": radius, **ways}


def two_axes(project: Project, taken: datetime, seed: int = 21) -> list[dict[str, Any]]:
    """Circle and diagonals of X and Y as an indicator and a long rule would read them: scale, squareness and play of both axes."""
    random = np.random.default_rng(seed)
    said = {"axes": ["X", "Y"], "taken": taken.isoformat(), "device": SIMULATED, "source": "practice"}
    truth = np.array([0.0, 4e-6, -3e-6, 1.6e-4, 2.1e-4, 14e-6, 26e-6])
    circle = circle_ways(0.15, truth, 1.2e-6, random)
    a, b, u = 0.8, 0.5, 3e-5
    sine = float(np.sin(truth[4]))
    long, short = (math.sqrt(a * a + b * b + way * 2 * a * b * sine) for way in (1, -1))
    return [{"kind": "circle", **circle, **said},
            {"kind": "diagonals", "side_x": a, "side_y": b, "diagonal_plus": round(long, 5), "diagonal_minus": round(short, 5),
             "gauge_uncertainty": u, **said}]
