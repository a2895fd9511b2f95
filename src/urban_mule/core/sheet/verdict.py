"""Verdicts: a judgement on the sheet, as one sentence with the deciding number and the next step."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import TYPE_CHECKING, Any, Literal, TypeVar

from urban_mule.core.sheet.quantity import NotKnown, Unknown, parameters_of
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.stages import StageName

if TYPE_CHECKING:
    from urban_mule.core.sheet.solution import Solution

Level = Literal["good", "tight", "short", "unknown"]
LEVELS: tuple[Level, ...] = ("good", "unknown", "tight", "short")
NOT_FINITE = re.compile(r"\b(inf|nan)\b")
F = TypeVar("F", bound=Callable[..., Any])


@record(frozen=True, eq=False)
class Verdict:
    """What a check finds.

    level: good, tight, short or unknown. sentence: with the number. next: what to do. school: where practitioners
    differ, the one applied and why. headroom: how near the limit, from 0 (at or past it) to 1 (ample), or None.
    """

    level: Level
    sentence: str
    next: str = ""
    school: str = ""
    headroom: float | None = None
    check: str = ""
    stage: str = ""


@record(frozen=True, eq=False, repr=False)
class Check:
    """One rule: the stage it belongs to, its name, the quantities it needs, and where it has something to say."""

    name: str
    stage: StageName
    applies: Callable[[Solution], bool]
    function: Callable[..., Verdict | None]
    parameters: tuple[str, ...]
    optional: frozenset[str]

    def judge(self, solution: Solution) -> Verdict | None:
        """The verdict for one solution; unknown, with what is missing, when a needed quantity has no value."""
        if not self.applies(solution):
            return None
        arguments = solution.arguments(self.parameters, self.optional)
        if isinstance(arguments, Unknown):
            return self._unknown(arguments.reason)
        try:
            found = self.function(**arguments)
        except NotKnown as why:
            return self._unknown(str(why))
        except (ZeroDivisionError, OverflowError):
            return self._unknown("the values given are out of all proportion to each other")
        if found is not None and NOT_FINITE.search(found.sentence):
            return self._unknown("the values given are out of all proportion to each other")
        return None if found is None else Verdict(**vars(found) | {"check": self.name, "stage": self.stage})

    def _unknown(self, reason: str) -> Verdict:
        return Verdict("unknown", f"The {self.name} cannot be judged: {reason}.",
                       "Fill in what is missing.", check=self.name, stage=self.stage)


def check(name: str, *, stage: StageName, applies: Callable[[Solution], bool] = lambda _solution: True) -> Callable[[F], F]:
    """Mark a function of quantities as a check; it returns a Verdict, or None when it has nothing to say.

    applies: whether the check concerns such an axis at all, asked before anything is computed.
    """

    def mark(function: F) -> F:
        function.__check__ = Check(name, stage, applies, function, *parameters_of(function))  # type: ignore[attr-defined]
        return function

    return mark


def worst(verdicts: tuple[Verdict, ...]) -> Verdict | None:
    """The verdict that decides: short before tight before unknown before good; the least headroom among equals."""
    return max(
        verdicts,
        key=lambda v: (LEVELS.index(v.level), -(1.0 if v.headroom is None else v.headroom)),
        default=None,
    )
