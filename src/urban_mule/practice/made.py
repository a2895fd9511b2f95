"""The machine that is made up for an axis: each uncertain given drawn about what the project says, and kept as it was then.

What is measured on it may be taken over into the project without moving it; a setting, or another part, moves it.
"""

from __future__ import annotations

import zlib
from collections.abc import Iterable, Iterator

import numpy as np

from urban_mule.bench.simulated.truth import Frame, Truth
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.doubts import UncertainInput
from urban_mule.core.studies.tolerance import given_at, with_values, within
from urban_mule.store.document.practice import DrawnInput, MadeMachine
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.doubts import axis_inputs_in_doubt, known_by_learning
from urban_mule.store.solve import solve_axis

FARTHEST = 1.7  # standard uncertainties: odder machines teach nothing
ANOTHER_PART = 3.0  # standard uncertainties from which a given that was changed is another part
SETTINGS = frozenset(("current_peak",))  # what is turned moves the machine by as much
MEASURED = "measured_stiffness"  # stands for parts that are there already


def seed_of(project: Project, axis: Axis) -> int:
    """The seed of the machine behind an axis: that it was made from, else that of its faults, else by its names."""
    made, hidden = _made(project, axis), project.hidden
    if made is not None:
        return int(made.seed)
    if hidden is not None and hidden.axis == axis.name:
        return int(hidden.seed)
    return zlib.crc32(f"{project.name} {axis.name}".encode())


def _made(project: Project, axis: Axis) -> MadeMachine | None:
    return next((one for one in project.machines or () if one.axis == axis.name), None)


def made_machines(project: Project, axes: Iterable[Axis]) -> tuple[MadeMachine, ...]:
    """Machines for these axes, drawn about what the project says now."""
    return tuple(made_machine(project, axis, seed_of(project, axis)) for axis in axes)


def made_machine(project: Project, axis: Axis, seed: int) -> MadeMachine:
    """The machine of an axis, by a seed."""
    inputs, _, _ = axis_inputs_in_doubt(project, axis, solve_axis(project, axis))
    return MadeMachine.model_validate({"axis": axis.name, "seed": seed, "drawn": [
        {"input": one.label, "given": one.value, "really": _drawn(one, seed)} for one in inputs]})


def _drawn(one: UncertainInput, seed: int) -> float:
    away = np.random.default_rng((seed, zlib.crc32(one.label.encode()))).standard_normal()
    return float(one.at(float(np.clip(away, -FARTHEST, FARTHEST))))


def real_solution(project: Project, axis: Axis, solution: Solution) -> Solution:
    """The axis as it really is behind a solution of the project."""
    made = _made(project, axis)
    kept = {} if made is None else {one.input: one for one in made.drawn}
    adopted = frozenset(one.given for one in axis.adopted or ()) | known_by_learning(project, axis, solution).keys()
    inputs, _, _ = axis_inputs_in_doubt(project, axis, solution)
    seed = seed_of(project, axis)
    values: dict[str, float | None] = {one.label: _really(one, kept.get(one.label), adopted, seed) for one in inputs}
    values |= dict(_forgotten(solution, kept.values(), values.keys()))
    if made is not None and MEASURED not in kept:
        values.pop(MEASURED, None)
        values |= {MEASURED: None} if MEASURED in solution.sheet.inputs else {}
    return with_values(solution, {label: None if value is None else float(within(given_at(solution, label)[0], np.array(value)))
                                  for label, value in values.items()})


def _really(one: UncertainInput, kept: DrawnInput | None, adopted: frozenset[str], seed: int) -> float:
    if kept is None or kept.given is None:
        return _drawn(one, seed)
    if one.label in SETTINGS and one.label not in adopted:
        return one.value * float(kept.really) / float(kept.given)
    near = abs(one.value - float(kept.given)) <= ANOTHER_PART * max(abs(end - one.value) for end in (one.minus, one.plus)
                                                                    if end is not None)
    return float(kept.really) if near or one.label in adopted else _drawn(one, seed)


def _forgotten(solution: Solution, kept: Iterable[DrawnInput], known: Iterable[str]) -> Iterator[tuple[str, float]]:
    """What the machine has and the project does not say any more."""
    there = frozenset(known)
    for one in kept:
        if one.input in there:
            continue
        try:
            given_at(solution, one.input)
        except (KeyError, IndexError):
            continue
        yield one.input, float(one.really)


def sound_truth(seed: int, linear: bool = True) -> Truth:
    """What no sheet says of a machine with nothing wrong: small, as no machine is free of it. Lengths of a rotary axis are
    in rad."""
    random = np.random.default_rng(seed)
    long = 1.0 if linear else 10.0

    def even(low: float, high: float) -> float:
        return float(random.uniform(low, high))

    return Truth(
        seed=seed % 2**32, clearance_wear=long * even(0, 8e-6), periodic_error=long * even(1e-6, 5e-6),
        bow=long * even(-8e-6, 8e-6), scatter=long * even(0.8e-6, 2e-6), indicator_noise=long * 0.4e-6,
        indicator_resolution=long * 1e-6,
        frame=Frame(even(5, 14), even(45, 110), even(0.025, 0.05), (1.0, even(1.0, 2.0), even(0.2, 0.8))),
        rotor_damping=float(np.exp(even(np.log(0.03), np.log(0.3)))),
        train_damping=float(np.clip(random.normal(0.03, 0.01), 0.012, 0.06)), homing_scatter=long * 1.5e-6,
        warm_growth=long * even(12e-6, 35e-6), warm_time=even(900, 2400))
