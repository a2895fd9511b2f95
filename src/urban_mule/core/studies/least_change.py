"""Where a goal of speed or acceleration is missed: the least change of one given that meets it and spoils nothing else."""

from __future__ import annotations

import math
from collections.abc import Iterator

from urban_mule.core.brief.goals import is_met
from urban_mule.core.sheet.advice import spoils_any
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.tolerance import with_values

FLAT = ("path_tolerance", "current_peak", "supply_voltage")
MOST = 4.0  # times a value that are tried, up and down
HALVINGS = 10
DIGITS = 3  # to which the value that meets it is rounded, away from the present one


@record(frozen=True, eq=False, repr=False)
class LeastChange:
    """A given by its label, its value now and the one that meets a goal, in SI."""

    label: str
    before: float
    after: float


def missed(solution: Solution, goal: str) -> bool:
    """Whether a goal, speed or acceleration, is set, known, and not met."""
    wanted, reached = solution.get(f"{goal}_wanted"), solution.get(f"{goal}_reached")
    return wanted is not None and reached is not None and not is_met(wanted, reached.value, True)


def least_change(solution: Solution, goal: str) -> LeastChange | None:
    """The least change, by its ratio, of one given that meets a goal; None where none of them does.

    goal: speed or acceleration. What makes any other verdict short, or takes room from one that has little, does not count.
    """
    tried = (_meeting(solution, goal, *one) for one in _tried(solution))
    found = [change for change in tried if change is not None]
    for change in sorted(found, key=lambda one: abs(math.log(one.after / one.before))):
        if not _spoils(solution, with_values(solution, {change.label: change.after})):
            return change
    return None


def _tried(solution: Solution) -> Iterator[tuple[str, float, float]]:
    """Labels with their values and the way in which they may go: +1 up, −1 down."""
    for name in FLAT:
        value = solution.get(name) if name in solution.sheet.inputs else None
        if value:
            yield name, float(value), 1.0
    for place, link in enumerate(solution.inputs["train"]):
        ratio = getattr(link, "ratio", None)
        if ratio:
            yield from ((f"train[{place}].ratio", float(ratio), way) for way in (1.0, -1.0))


def _meeting(solution: Solution, goal: str, label: str, value: float, way: float) -> LeastChange | None:
    """The nearest value in one way that meets the goal, or none within what is tried."""
    def meets(share: float) -> bool:
        try:
            after = with_values(solution, {label: value * share**way})
        except BadValue:
            return False
        with after.quiet():
            return after.get(f"{goal}_reached") is not None and not missed(after, goal)

    low, high = 1.0, MOST
    if not meets(high):
        return None
    for _ in range(HALVINGS):
        middle = math.sqrt(low * high)
        low, high = (low, middle) if meets(middle) else (middle, high)
    return LeastChange(label, value, rounded_away(value, value * high**way))


def rounded_away(before: float, after: float) -> float:
    """A value to three digits, further away from the one before rather than nearer."""
    unit = 10.0 ** (math.floor(math.log10(abs(after))) - DIGITS + 1)
    return (math.ceil(after / unit - 1e-9) if after > before else math.floor(after / unit + 1e-9)) * unit


def _spoils(before: Solution, after: Solution) -> bool:
    stale = before.differing(after)
    with after.quiet(), before.quiet():
        return spoils_any(before.sheet.checks, before, after, stale)
