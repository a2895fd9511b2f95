"""How sure the numbers of the shown axis are, and the odds that follow."""

from __future__ import annotations

from urban_mule.core.sheet.progress import Progress
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.doubts import Doubts, Odds, doubts_of, odds_of
from urban_mule.desk.model.last_used import LastUsed
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.doubts import axis_inputs_in_doubt

Made = tuple[Doubts, tuple[Odds, ...]]
MADE_BEFORE = LastUsed[int, Made](64)  # a step taken back, a file that is opened again


@record(frozen=True, eq=False)
class Sure:
    """The doubts of one solution, and the odds that follow."""

    solution: Solution
    doubts: Doubts
    odds: tuple[Odds, ...]

    def standard(self, name: str, value: float) -> float | None:
        """The standard uncertainty of a quantity that has this value now, in its unit; None where nothing makes any."""
        was = self.doubts.values.get(name)
        if was is None or isinstance(value, bool) or not isinstance(value, (int, float)):
            return None
        standard = self.doubts.standard(name)
        return standard * abs(value / was) if was and value != was else standard

    def share_of_builds(self, quantity: str) -> float | None:
        """The share of builds on the good side of the limit of a quantity, where that is told."""
        return next((one.share for one in self.odds if one.quantity == quantity), None)


def worked_out(project: Project, axis: Axis, solution: Solution, progress: Progress = lambda _done, _total: True) -> Made:
    """The doubts of an axis and the odds that follow; kept from before where every number and every input was as now."""
    inputs, said, correlation = axis_inputs_in_doubt(project, axis, solution)
    with solution.quiet():
        every = ((name, solution.find(name)) for name, one in solution.sheet.quantities.items()
                  if not one.structure and not one.slow and not one.sought)
        numbers = tuple((name, value.reason if isinstance(value, Unknown) else str(value)) for name, value in every)
    mark = hash((numbers, said, tuple((one.label, one.value, one.minus, one.plus) for one in inputs),
                 None if correlation is None else correlation.tobytes()))
    made = MADE_BEFORE.get(mark)
    if made is None:
        found = doubts_of(solution, inputs, progress, correlation)
        made = found, odds_of(solution, found, said)
        MADE_BEFORE.keep(mark, made)
    return made


def names_of(before: Made | None, now: Made) -> frozenset[str]:
    """What is surer, or less sure, than it was said."""
    return frozenset(now[0].values) | (frozenset() if before is None else frozenset(before[0].values))
