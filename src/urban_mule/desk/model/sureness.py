"""How sure the numbers of the shown axis are: worked out in a worker once nothing has changed for a moment, kept until it does."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from urban_mule.core.sheet.progress import Progress
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.doubts import Doubts, Odds, doubts_of, odds_of
from urban_mule.desk.model.works import Works
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.doubts import axis_inputs_in_doubt

Made = tuple[Doubts, tuple[Odds, ...]]
MADE_BEFORE: dict[int, Made] = {}  # a step taken back, a file that is opened again
MOST_KEPT = 64
PAUSE = 300  # ms without a change: a person who drags or types has the processor to himself


@dataclass(frozen=True, eq=False)
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


def worked_out(project: Project, axis: Axis, solution: Solution, progress: Progress) -> Made:
    """The doubts of an axis and the odds that follow; kept from before where every number and every input was as now."""
    inputs, said, correlation = axis_inputs_in_doubt(project, axis, solution)
    with solution.quiet():
        every = ((name, solution.find(name)) for name, one in solution.sheet.quantities.items()
                  if not one.structure and not one.slow)
        numbers = tuple((name, value.reason if isinstance(value, Unknown) else str(value)) for name, value in every)
    mark = hash((numbers, said, tuple((one.label, one.value, one.minus, one.plus) for one in inputs),
                 None if correlation is None else correlation.tobytes()))
    if mark not in MADE_BEFORE:
        found = doubts_of(solution, inputs, progress, correlation)
        while len(MADE_BEFORE) >= MOST_KEPT:
            MADE_BEFORE.pop(next(iter(MADE_BEFORE)), None)
        MADE_BEFORE[mark] = found, odds_of(solution, found, said)
    return MADE_BEFORE[mark]


class Sureness(QObject):
    """found(names): these have another uncertainty than before."""

    found = pyqtSignal(object)

    def __init__(self, works: Works, parent: QObject) -> None:
        super().__init__(parent)
        self._works = works
        self._kept: dict[str, Sure] = {}
        self._asked: tuple[Project, Axis, Solution] | None = None
        self._pause = QTimer(self, singleShot=True, interval=PAUSE)
        self._pause.timeout.connect(self._begin)

    def of(self, who: str, solution: Solution) -> Sure | None:
        """What is known of an axis: of this very solution, or none."""
        kept = self._kept.get(who)
        return kept if kept is not None and kept.solution is solution else None

    def before(self, who: str) -> Sure | None:
        """What was known of an axis last, of whichever solution."""
        return self._kept.get(who)

    def follow(self, project: Project, axis: Axis, solution: Solution) -> None:
        """The axis shown has this solution now: work it out once there is time."""
        asked = None if self._asked is None else self._asked[2]
        if self.of(axis.id, solution) is None and asked is not solution:
            self._asked = project, axis, solution
            self._pause.start()

    def _begin(self) -> None:
        if self._asked is None:
            return
        project, axis, solution = self._asked
        own = solution.own()
        self._works.run(("how sure the numbers are", id(self)), self, lambda progress: worked_out(project, axis, own, progress),
                        lambda made: self._take(axis.id, solution, *made))

    def _take(self, who: str, solution: Solution, doubts: Doubts, odds: tuple[Odds, ...]) -> None:
        before = self._kept.get(who)
        self._kept[who] = Sure(solution, doubts, odds)
        names = set(doubts.values) | (set() if before is None else set(before.doubts.values))
        self.found.emit(frozenset(names))

    def stop(self) -> None:
        """Begin no more."""
        self._pause.stop()
