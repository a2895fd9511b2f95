"""What readings teach, tried: machines drawn as their inputs are unsure, measured by rounds, sound and with one gross mistake.

A part of docs/honesty.md. Each machine is one of the five sorts of the demo; what is true of it is known here and nowhere else.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace

import numpy as np

from tools.intervals import SORTS, drawn
from urban_mule.bench.sessions.carried import taken_into, usual
from urban_mule.bench.sessions.kinds import possible
from urban_mule.bench.sessions.rounds import PlanAxis, plan_of
from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.bench.simulated.truth import Truth
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.doubts import Doubts, UncertainInput, doubts_of, interval, uncertain_inputs
from urban_mule.core.studies.learning import Learning, learning_of
from urban_mule.core.studies.suspects import causes_of, suspects_of
from urban_mule.core.studies.tolerance import given_at, with_values
from urban_mule.practice.made import sound_truth
from urban_mule.store.document.project import Project
from urban_mule.store.doubts import axis_inputs_in_doubt
from urban_mule.store.solve import solve_axis

READ = ("reversal", "push", "travel", "ladder", "acceleration", "drag", "tone", "warming")
GOALS = ("working_margin", "expected_lost_motion")
MOVES = 4.0  # √(J P Jᵀ + R), by which a mistake moves a pair so that it must be flagged
EACH, WRONG = 12, 4  # machines of each sort; mistakes that are tried on each


@dataclass(frozen=True)
class Sort:
    """An axis of the demo as it is written down: its solution without readings, its inputs, how a plan sees it."""

    name: str
    solution: Solution
    inputs: tuple[UncertainInput, ...]
    said: frozenset[str]
    plan: PlanAxis
    linear: bool
    parts: tuple[str, ...]


def sort_of(project: Project, name: str) -> Sort:
    """A sort of machine."""
    from urban_mule.desk.shared.setup_view import parts_of

    axis = project.axis(name).model_copy(update={"readings": ()})
    solution = solve_axis(project, axis)
    inputs, said, _ = axis_inputs_in_doubt(project, axis, solution)
    return Sort(name, solution, inputs, said, plan_of(axis, solution), axis.motion == "linear", tuple(parts_of(axis)))


def measured(sort: Sort, truth: Truth, real: Solution) -> Solution:
    """The solution with every reading that such a machine can take, each by a whole round."""
    found = sort.solution
    for kind in possible(READ, sort.parts):
        machine = SimulatedAxis(sort.solution, truth, real)
        try:
            found, _ = taken_into(found, kind, sort.plan, usual(kind, sort.plan), machine)
        except (BadValue, NotKnown):
            continue
    modes = real.get("axis_modes") or ([real["first_resonance"]] if real.get("first_resonance") else [])
    record = found.get("acceleration_reading")
    if record is not None and modes:  # somebody said which hump is the train's, as by another current
        found = found.changed(acceleration_reading=replace(record, train_mode=float(real["first_resonance"])))
    return found


def learning(sort: Sort, solution: Solution) -> Learning:
    """What the readings teach."""
    return learning_of(solution, sort.inputs, sort.said)


@dataclass(frozen=True)
class Mistake:
    """A gross mistake or fault: the label of what it is of, and how many times as much that really is."""

    label: str
    times: float


def mistakes_of(sort: Sort, random: np.random.Generator) -> Iterator[Mistake]:
    """What may be grossly wrong on such an axis."""
    for place, link in enumerate(sort.solution["train"]):
        of = f"train[{place}]."
        teeth = getattr(link, "teeth", None)
        if teeth:
            yield Mistake(f"{of}teeth", float((teeth + random.choice((-3, -2, -1, 1, 2, 3))) / teeth))
        if getattr(link, "lead", None):
            yield Mistake(f"{of}lead", float(random.choice((0.5, 2.0))))
        if getattr(link, "specific_stiffness", None):
            yield Mistake(f"{of}specific_stiffness", float(random.uniform(0.25, 0.4)))
        if getattr(link, "pretension", None):
            yield Mistake(f"{of}pretension", float(random.uniform(0.2, 0.4)))
        if getattr(link, "mesh_stiffness", None):
            yield Mistake(f"{of}mesh_stiffness", float(random.uniform(0.15, 0.3)))
        if getattr(link, "torsional_stiffness", None):
            yield Mistake(f"{of}torsional_stiffness", float(random.uniform(0.15, 0.3)))
        if getattr(link, "clearance", None):
            yield Mistake(f"{of}clearance", float(random.uniform(4.0, 8.0)))
        if getattr(link, "drag_torque", None):
            yield Mistake(f"{of}drag_torque", float(random.uniform(4.0, 6.0)))
    if sort.solution.get("microsteps"):
        yield Mistake("microsteps", float(random.choice((0.5, 2.0))))
        yield Mistake("current_peak", float(random.uniform(0.5, 0.62)))
        yield Mistake("holding_torque", float(random.uniform(0.5, 0.65)))
    for name, low, high in (("friction_force", 3.0, 5.0), ("friction_torque", 3.0, 5.0), ("moving_mass", 1.6, 2.2),
                            ("load_inertia", 2.0, 3.0)):
        if sort.solution.sheet.has(name) and sort.solution.get(name):
            yield Mistake(name, float(random.uniform(low, high)))


def with_mistake(solution: Solution, one: Mistake) -> Solution:
    """A machine as it really is with a mistake."""
    return with_values(solution, {one.label: float(given_at(solution, one.label)[1]) * one.times})


def moves(sort: Sort, found: Learning, one: Mistake) -> float:
    """By how many √(J P Jᵀ + R) a mistake moves the pair that it moves most."""
    moved = found.moved
    alone = np.einsum("ij,jk,ik->i", found.jacobian, moved.prior, found.jacobian) + moved.left_out()
    wrong = {one.label: float(given_at(moved.solution, one.label)[1]) * one.times}
    after = moved.over({} if one.label == "microsteps" else wrong, 1)[0]
    if one.label == "microsteps":
        after = after * np.where([pair.name == "scale" for pair, _, _ in moved.pairs], 1 / one.times, 1.0)
    there = np.array([pair.judgement != "unassigned" for pair in found.compared])
    return float(np.nanmax(np.where(there, np.abs(after - moved.computed()) / np.sqrt(alone), 0.0)))


CAUSES = {"lead": ("starts", "lead", "thread_pitch"), "pretension": ("pretension", "specific_stiffness"),
          "current_peak": ("current_peak", "sense_resistance", "wiring")}


def named(one: Mistake, labels: tuple[str, ...]) -> bool:
    """Whether the cause is among what is suspected."""
    before, _, key = one.label.rpartition(".")
    of = f"{before}." if before else ""
    return any(f"{of}{name}" in labels or name in labels for name in CAUSES.get(key, (key,)))


def after(sort: Sort, found: Learning) -> tuple[Solution, Doubts]:
    """The axis as it is written down once it has learnt, and how sure it then is."""
    values = {one.label: one.learned_value for one in found.learned}
    solution = with_values(sort.solution, values)
    learnt = {one.label: one.learned_uncertainty for one in found.learned}
    inputs = uncertain_inputs(solution, {}, sort.said, learnt)
    return solution, doubts_of(solution, inputs, correlation=found.correlation_of(tuple(one.label for one in inputs)))


@dataclass
class Tried:
    """What was seen: intervals that held before and after; errors of the goals before and after learning, as shares of what is so,
    and whether a pair reaches them; sound machines that were flagged; mistakes that were; the cause among three, by either way.
    """

    held: dict[str, list[bool]] = field(default_factory=lambda: {"before": [], "after": []})
    errors: dict[str, list[tuple[float, float]]] = field(default_factory=lambda: {one: [] for one in GOALS})
    sound: list[bool] = field(default_factory=list)
    flagged: list[bool] = field(default_factory=list)
    causes: list[bool] = field(default_factory=list)
    suspects: list[bool] = field(default_factory=list)


def try_machine(sort: Sort, seed: int, tried: Tried, wrong: int = WRONG) -> None:
    """One machine of a sort: measured, learnt from; then with each of some mistakes."""
    random = np.random.default_rng((SORTS.index(sort.name), seed, 5))
    real, truth = drawn(sort.solution, sort.inputs, random), sound_truth(1000 * SORTS.index(sort.name) + seed, sort.linear)
    found = learning(sort, measured(sort, truth, real))
    tried.sound.append(bool(found.contradictions))
    _learnt(sort, found, real, tried)
    every = list(mistakes_of(sort, random))
    for place in random.permutation(len(every))[:wrong]:
        one = every[place]
        wrongly = learning(sort, measured(sort, truth, with_mistake(real, one)))
        if moves(sort, wrongly, one) <= MOVES:
            continue
        tried.flagged.append(bool(wrongly.contradictions))
        if wrongly.contradictions:
            for kept, named_by in ((tried.causes, causes_of), (tried.suspects, suspects_of)):
                kept.append(named(one, tuple(suspect.label for suspect in named_by(wrongly))))


def _learnt(sort: Sort, found: Learning, real: Solution, tried: Tried) -> None:
    doubts = {"before": doubts_of(sort.solution, sort.inputs), "after": after(sort, found)[1]}
    for when, known in doubts.items():
        for name, value in known.values.items():
            truth = real.get(name)
            if isinstance(truth, (int, float)) and np.isfinite(truth):
                low, high = interval(value, known.standard(name))
                tried.held[when].append(low <= truth <= high)
    for goal in GOALS:
        truth, before = real.get(goal), sort.solution.get(goal)
        now = after(sort, found)[0].get(goal)
        if truth and before is not None and now is not None:
            tried.errors[goal].append((abs(float(before) / float(truth) - 1), abs(float(now) / float(truth) - 1)))


def tried_on(project: Project, each: int = EACH) -> Tried:
    """So many machines of each sort."""
    tried = Tried()
    for name in SORTS:
        sort = sort_of(project, name)
        for seed in range(each):
            try_machine(sort, seed, tried)
    return tried


def lines_of(tried: Tried) -> list[str]:
    """The part of the page."""
    held = {when: (len(wells), float(np.mean(wells))) for when, wells in tried.held.items()}
    lines = [f"\n## What readings teach: {len(tried.sound)} machines of five sorts, each measured by whole rounds\n",
             "Reversal, push, travel, ladder, record, drag and tone, as far as an axis has them; somebody said which hump is the"
             " train's. Then the same machines with one gross mistake each: wrong teeth, lead, microsteps or current, a slack belt,"
             " a soft part, play, drag, a dirty rail, a weak motor, a load twice as heavy.\n",
             "| | |", "|---|---|"]
    lines += [f"| intervals that held {when} learning, of {number} | {share:.1%} |" for when, (number, share) in held.items()]
    for goal, errors in tried.errors.items():
        before, now = (np.array(one) for one in zip(*errors, strict=True))
        lines.append(f"| `{goal}`, {len(errors)} machines: mean error before, after | {before.mean():.1%}, {now.mean():.1%} |")
        lines.append(f"| `{goal}`: median of the error before, after | {np.median(before):.1%}, {np.median(now):.1%} |")
    lines += [f"| sound machines that were flagged, of {len(tried.sound)} | {np.mean(tried.sound):.1%} |",
              f"| mistakes flagged, of {len(tried.flagged)} that move a pair by more than {MOVES:g} |"
              f" {np.mean(tried.flagged):.1%} |",
              f"| the cause among the three likeliest, of {len(tried.causes)} | {np.mean(tried.causes):.1%} |",
              f"| the cause among three suspects by stated doubts alone | {np.mean(tried.suspects):.1%} |"]
    return lines


if __name__ == "__main__":
    import sys

    from urban_mule.demo.courtyard import demo_project

    print("\n".join(lines_of(tried_on(demo_project(), int(sys.argv[1])))))
