"""How sure the numbers of an axis are, from what the document says of its inputs and what is usual for the rest."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

import numpy as np

from urban_mule.core.sheet.progress import Progress
from urban_mule.core.sheet.solution import PLACE, Solution
from urban_mule.core.studies.doubts import Doubts, UncertainInput, doubts_of, interval, odds_of, uncertain_inputs
from urban_mule.core.studies.tolerance import given_at
from urban_mule.core.subjects import KINDS, OWN, PROJECT
from urban_mule.store.document.belief import HOLDS
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.solve import axis_tolerances

OF_PROJECT = "project."


def _places(project: Project, axis: Axis) -> Iterator[tuple[str, str, Any, str]]:
    """Of every given of the axis: its label on the sheet, its path in the open JSON, the part that holds it, its key there."""
    kind = KINDS[axis.kind_name]
    for part in kind.parts:
        held = axis if part == OWN else project if part == PROJECT else getattr(axis, part, None)
        before = "" if part == OWN else OF_PROJECT if part == PROJECT else f"{part}."
        for key in getattr(type(held), "givens", {}):
            yield kind.name_of(part, key), f"{before}{key}", held, key
    for name in ("train", "cycle"):
        for place, one in enumerate(getattr(axis, name) or ()):
            for key in type(one).givens:
                yield f"{name}[{place}].{key}", f"{name}[{place}].{key}", one, key


def paths_of(project: Project, axis: Axis) -> dict[str, str]:
    """The path in the open JSON of every given that somebody has said, by its label on the sheet; the project's last."""
    found: dict[str, str] = {}
    shared = ("supply_voltage", "") if getattr(project, "supply_voltage", None) is not None else ()
    for label, path, held, key in (*_places(project, axis), *((one, f"{OF_PROJECT}{one}", project, one) for one in shared if one)):
        if getattr(held, key, None) is not None:
            found.setdefault(label, path)
    return found


def known_by_learning(project: Project, axis: Axis, solution: Solution) -> dict[str, int]:
    """The labels of what an axis has learnt and still has the value for, with their place in its belief."""
    if axis.belief is None:
        return {}
    labels = {path: label for label, path in paths_of(project, axis).items()}
    found = {}
    for place, path in enumerate(axis.belief.inputs):
        label = labels.get(path, path.removeprefix(OF_PROJECT))
        try:
            value = given_at(solution, label)[1]
        except KeyError:
            continue
        if isinstance(value, (int, float)) and math.isclose(value, axis.belief.values[place], rel_tol=HOLDS):
            found[label] = place
    return found


def axis_inputs_in_doubt(
    project: Project, axis: Axis, solution: Solution
) -> tuple[tuple[UncertainInput, ...], frozenset[str], np.ndarray | None]:
    """The inputs of an axis that are not sure, the labels of what somebody has said, and how the inputs are known together."""
    said = frozenset(paths_of(project, axis))
    shares = axis_tolerances(axis)
    for key, share in (getattr(project, "tolerances", None) or {}).items():
        if paths_of(project, axis).get(key, "").startswith(OF_PROJECT):
            shares.setdefault(key, share)
    learnt = known_by_learning(project, axis, solution)
    sure_to = {label: axis.belief.uncertainties[place] for label, place in learnt.items()} if axis.belief is not None else {}
    inputs = uncertain_inputs(solution, shares, said, sure_to)
    return inputs, said, _together(axis, inputs, learnt)


def _together(axis: Axis, inputs: tuple[UncertainInput, ...], learnt: dict[str, int]) -> np.ndarray | None:
    """The correlation of the inputs; None where none were learnt together."""
    at = [(n, learnt[one.label]) for n, one in enumerate(inputs) if one.label in learnt]
    if axis.belief is None or len(at) < 2:
        return None
    found = np.eye(len(inputs))
    here, there = map(list, zip(*at, strict=True))
    found[np.ix_(here, here)] = np.array(axis.belief.correlation, dtype=float)[np.ix_(there, there)]
    return found


def axis_doubts(
    project: Project, axis: Axis, solution: Solution, progress: Progress = lambda _done, _total: True
) -> tuple[Doubts, frozenset[str]]:
    """How sure every number of an axis is, and the labels of what somebody has said. Raises Cancelled when `progress` says so."""
    inputs, said, correlation = axis_inputs_in_doubt(project, axis, solution)
    return doubts_of(solution, inputs, progress, correlation), said


def open_doubts(project: Project, axis: Axis, solution: Solution) -> dict[str, Any]:
    """`uncertainty` and `odds` of an axis as JSON holds them."""
    doubts, said = axis_doubts(project, axis, solution)
    paths = paths_of(project, axis)
    found = {}
    for name, value in doubts.values.items():
        standard = doubts.standard(name)
        low, high = interval(value, standard)
        found[name] = {"standard": standard, "low": low, "high": high, "inputs": [
            {"input": path_of(label, paths), "share": share} for label, share in doubts.named(name)]}
    return {"uncertainty": found, "odds": [
        {"quantity": one.quantity, "limit": one.limit, "good": one.good, "share": one.share}
        for one in odds_of(solution, doubts, said)]}


def path_of(label: str, paths: dict[str, str]) -> str:
    """The path of an input, said or not."""
    if label in paths or PLACE.match(label):
        return paths.get(label, label)
    return f"{OF_PROJECT}{label}" if label == "ambient_temperature" else label
