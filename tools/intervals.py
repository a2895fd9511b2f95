"""How often an interval holds: machines drawn as their inputs are unsure, computed, then measured, against what is so.

A part of docs/honesty.md. Each machine is one of the five sorts of the demo, really another one within its doubts, and moves by
integration; what is true of it is what it shows to a gauge without noise, often enough that its scatter averages out.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import numpy as np

from urban_mule.bench.sessions.carried import taken_into, usual
from urban_mule.bench.sessions.rounds import PlanAxis, plan_of
from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.bench.simulated.truth import Truth
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.doubts import UncertainInput, doubts_of, interval
from urban_mule.core.studies.tolerance import given_at, with_values, within
from urban_mule.practice.made import sound_truth
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.doubts import axis_inputs_in_doubt
from urban_mule.store.solve import solve_axis

SORTS = ("X", "Y", "Z", "C", "W")
EACH, OFTEN = 12, 12  # machines of each sort; repeats that average its scatter out
COVERED = 2.0  # standard uncertainties
MEASURED = {  # of a plan: what it measures, and the settings with which the truth is told
    "reversal": (("backlash",), {"repeats": OFTEN}),
    "travel": (("scale_ratio",), {"repeats": OFTEN}),
    "push": (("free_play", "push_compliance"), {"repeats": OFTEN}),
    "drift": (("drift_final", "drift_time_constant"), {}),
    "positioning": (("positioning_accuracy", "reversal_value", "systematic_deviation", "mean_deviation_range", "repeatability"),
                    {"repeats": OFTEN}),
}
Held = tuple[str, bool]  # a quantity, and whether its interval held what is so


def drawn(solution: Solution, inputs: tuple[UncertainInput, ...], random: np.random.Generator) -> Solution:
    """The axis as it might really be: each input as far off as it is unsure."""
    values = {one.label: float(within(given_at(solution, one.label)[0], np.array(one.at(float(random.standard_normal())))))
              for one in inputs}
    return with_values(solution, values)


def computed(solution: Solution, inputs: tuple[UncertainInput, ...], real: Solution) -> Iterator[Held]:
    """Of everything that is computed with a doubt, whether that doubt holds what is so."""
    doubts = doubts_of(solution, inputs)
    for name, value in doubts.values.items():
        truth = real.get(name)
        if isinstance(truth, (int, float)) and math.isfinite(truth):
            low, high = interval(value, doubts.standard(name))
            yield f"computed {name}", low <= truth <= high


def quiet(truth: Truth, scatters: bool) -> Truth:
    """The same machine before a gauge that shows what is so; scatters: its own scatter stays, since it is part of what is asked."""
    return replace(truth, indicator_noise=0.0, indicator_resolution=1e-9, scatter=truth.scatter if scatters else 0.0)


def measured(solution: Solution, real: Solution, truth: Truth, plan: PlanAxis) -> Iterator[Held]:
    """Of everything that is measured with a doubt, whether that doubt holds what is so."""
    for kind, (names, often) in MEASURED.items():
        try:
            found, _ = taken_into(solution, kind, plan, usual(kind, plan), SimulatedAxis(solution, truth, real))
            so, _ = taken_into(solution, kind, plan, usual(kind, plan, **often),
                               SimulatedAxis(solution, quiet(truth, kind == "positioning"), real))
        except (BadValue, NotKnown):
            continue
        for name in names:
            value, wanted, u = found.get(name), so.get(name), found.get(f"{name}_uncertainty")
            if value is not None and wanted is not None and u is not None:
                yield f"measured {name}", abs(float(value) - float(wanted)) <= COVERED * float(u)


Machine = tuple[Solution, tuple[UncertainInput, ...], Solution, Truth, PlanAxis]


def machines(project: Project, name: str, count: int) -> Iterator[Machine]:
    """So many machines of a sort: as it is written down, its inputs, as it is, what no sheet says, and how a plan sees it."""
    axis: Axis = project.axis(name).model_copy(update={"readings": ()})
    solution = solve_axis(project, axis)
    inputs, _, _ = axis_inputs_in_doubt(project, axis, solution)
    for seed in range(count):
        random = np.random.default_rng((SORTS.index(name), seed))
        truth = sound_truth(1000 * SORTS.index(name) + seed, axis.motion == "linear")
        yield solution, inputs, drawn(solution, inputs, random), truth, plan_of(axis, solution)


def counted(project: Project, each: int = EACH) -> dict[str, list[bool]]:
    """Of every quantity, whether its interval held, machine by machine."""
    held: dict[str, list[bool]] = defaultdict(list)
    for name in SORTS:
        for solution, inputs, real, truth, plan in machines(project, name, each):
            for what, well in (*computed(solution, inputs, real), *measured(solution, real, truth, plan)):
                held[what].append(well)
    return held


def pooled(held: dict[str, list[bool]], of: str) -> tuple[int, float]:
    """How many intervals of a sort were looked at, and the share that held."""
    every = [well for name, wells in held.items() if name.startswith(of) for well in wells]
    return len(every), float(np.mean(every)) if every else math.nan


def lines_of(held: dict[str, list[bool]]) -> list[str]:
    """The part of the page."""
    lines: list[Any] = [f"\n## How often an interval holds: {EACH * len(SORTS)} machines of five sorts\n",
                        "Each stated to hold 95 in 100. Least: the quantity of 40 or more cases whose intervals held least.\n",
                        "| | intervals | held | least |", "|---|---|---|---|"]
    for of in ("computed", "measured"):
        number, share = pooled(held, of)
        worst = min(((float(np.mean(wells)), name) for name, wells in held.items() if name.startswith(of) and len(wells) >= 40),
                    default=(math.nan, ""))
        lines.append(f"| {of} | {number} | {share:.1%} | `{worst[1].partition(' ')[2]}` {worst[0]:.0%} |")
    lines += ["", "| measured | cases | held |", "|---|---|---|"]
    lines += [f"| `{name.partition(' ')[2]}` | {len(wells)} | {np.mean(wells):.0%} |" for name, wells in sorted(held.items())
              if name.startswith("measured")]
    return lines
