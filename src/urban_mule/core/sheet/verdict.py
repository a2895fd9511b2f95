"""Verdicts: a judgement on the sheet, as one sentence with the deciding number and the next step."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, Any, Literal, TypeVar

from urban_mule.core.sheet.given import in_a_sentence, is_reading
from urban_mule.core.sheet.quantity import NotKnown, Unknown, parameters_of
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.stages import StageName

if TYPE_CHECKING:
    from urban_mule.core.sheet.solution import Solution

Level = Literal["good", "tight", "short", "unknown"]
LEVELS: tuple[Level, ...] = ("good", "unknown", "tight", "short")
MEASURE = "Measure it, or import a CSV."
OUT_OF_PROPORTION = "the values given are out of all proportion to each other"
NOT_FINITE = re.compile(r"\b(inf|nan)\b")
F = TypeVar("F", bound=Callable[..., Any])


@record(frozen=True, eq=False)
class Way:
    """One way out of what a verdict finds: what to do, and what doing it would change, so that it is tried before it is said.

    words: without a capital and without a full stop. changes: givens and what they would become. cures: a number to buy or to
    set, which must leave nothing to ask for once it is done.
    """

    words: str
    changes: Mapping[str, Any]
    cures: bool = False


@record(frozen=True, eq=False)
class Verdict:
    """What a check finds.

    level: good, tight, short or unknown. sentence: with the number. next: what to do. school: where practitioners
    differ, the one applied and why. headroom: how near the limit, from 0 (at or past it) to 1 (ample), or None.
    missing: the givens that an unknown one lacks. main: whether its number is the stage's own when all is well.
    measure: its number where more of it is better, also beyond what headroom can show. ways: what may be advised once it has
    been tried (see advice), of several in a tuple the first that holds; it is said before `next`. otherwise: what is said where
    no way holds.
    """

    level: Level
    sentence: str
    next: str = ""
    school: str = ""
    headroom: float | None = None
    check: str = ""
    stage: str = ""
    missing: tuple[str, ...] = ()
    main: bool = False
    measure: float | None = None
    ways: tuple[Way | tuple[Way, ...], ...] = ()
    otherwise: str = ""


def always(_solution: Solution) -> bool:
    """Where most checks have something to say."""
    return True


@record(frozen=True, eq=False, repr=False)
class Check:
    """One rule: the stage it belongs to, its name, the quantities it needs, and where it has something to say."""

    name: str
    stage: StageName
    applies: Callable[[Solution], bool]
    function: Callable[..., Verdict | None]
    parameters: tuple[str, ...]
    optional: frozenset[str]
    main: bool = False

    def fitting(self, names: set[str]) -> Check:
        """The rule for a sheet with these names; what such an axis does not have and it can do without takes its default."""
        kept = tuple(name for name in self.parameters if name in names or name not in self.optional)
        return self if kept == self.parameters else Check(**{**vars(self), "parameters": kept})

    def may_change(self, differing: frozenset[str]) -> bool:
        """Whether it may say something else where these names have another value."""
        return self.applies is not always or not differing.isdisjoint(self.parameters)

    def judge(self, solution: Solution) -> Verdict | None:
        """The verdict for one solution; unknown, with what is missing, when a needed quantity has no value."""
        if not self.applies(solution):
            return None
        arguments = solution.arguments(self.parameters, self.optional)
        if isinstance(arguments, Unknown):
            return self._unknown(solution, arguments.reason, arguments.missing)
        try:
            found = self.function(**arguments)
        except NotKnown as why:
            return self._unknown(solution, str(why), solution.placed(why.missing))
        except (ZeroDivisionError, OverflowError):
            return self._unknown(solution, OUT_OF_PROPORTION)
        if found is not None and NOT_FINITE.search(found.sentence):
            return self._unknown(solution, OUT_OF_PROPORTION)
        if found is None:
            return None
        missing = tuple(dict.fromkeys(solution.placed(tuple(
            given for name in found.missing for given in _givens_lacking(solution, name)))))
        return Verdict(**vars(found) | {"check": self.name, "stage": self.stage, "main": self.main, "missing": missing})

    def _unknown(self, solution: Solution, reason: str, missing: tuple[str, ...] = ()) -> Verdict:
        """What is missing, by name, and what the first of it is good for; else why it cannot be judged."""
        sentence, nxt = f"The {self.name} cannot be judged: {reason}.", ""
        if missing:
            sentence = f"The {self.name} cannot be judged yet: {reason}."
            one = solution.given_of(missing[0])[0]
            nxt = MEASURE if is_reading(one) else f"{solution.label(missing[0])}: {one.doc}."
        if len(missing) > 1:
            sentence = f"The {self.name} cannot be judged yet; missing: {listed([solution.label(name) for name in missing])}."
        return Verdict("unknown", sentence, nxt, check=self.name, stage=self.stage, missing=missing, main=self.main)


def _givens_lacking(solution: Solution, name: str) -> tuple[str, ...]:
    """A given itself; of a quantity, the givens that it lacks."""
    if not solution.sheet.has(name) or name in solution.sheet.inputs:
        return (name,)
    found = solution.find(name)
    return found.missing if isinstance(found, Unknown) else ()


def listed(labels: list[str], most: int = 3) -> str:
    """Labels as a list within a sentence, the rest counted."""
    return listed_names([in_a_sentence(one) for one in labels], most)


def listed_names(names: list[str], most: int = 3) -> str:
    """Names as they are, as a list within a sentence, the rest counted."""
    said = names[:most]
    more = len(names) - most
    last = f"{more} more" if more > 0 else said.pop()
    return f"{', '.join(said)} and {last}" if said else last


def taken(reading: str, least: int = 1) -> Callable[[Solution], bool]:
    """Whether readings of a kind are there, so many sets of them at least."""
    def applies(solution: Solution) -> bool:
        found = solution.get(reading)
        return found is not None and (least == 1 or len(found) >= least)

    return applies


def check(
    name: str, *, stage: StageName, applies: Callable[[Solution], bool] = always, main: bool = False
) -> Callable[[F], F]:
    """Mark a function of quantities as a check; it returns a Verdict, or None when it has nothing to say.

    applies: whether the check concerns such an axis at all, asked before anything is computed. main: whether it says the stage's
    own main number, which is the headline when all is well.
    """

    def mark(function: F) -> F:
        function.__check__ = Check(name, stage, applies, function, *parameters_of(function), main)  # type: ignore[attr-defined]
        return function

    return mark


def missing_in(verdicts: tuple[Verdict, ...]) -> tuple[str, ...]:
    """The givens that any of these verdicts lacks, each once."""
    return tuple(dict.fromkeys(name for verdict in verdicts for name in verdict.missing))


def next_number(verdicts: tuple[Verdict, ...]) -> Verdict | None:
    """Of the verdicts that lack something the one to be completed next: the stage's main number, else the first."""
    lacking = [verdict for verdict in verdicts if verdict.missing]
    return next((verdict for verdict in lacking if verdict.main), lacking[0] if lacking else None)


def headline(verdicts: tuple[Verdict, ...]) -> Verdict | None:
    """The verdict to say first: the one that decides; when all is well, the stage's own main number."""
    deciding = worst(verdicts)
    if deciding is None or deciding.level != "good":
        return deciding
    return next((verdict for verdict in verdicts if verdict.main), deciding)


def worst(verdicts: tuple[Verdict, ...]) -> Verdict | None:
    """The verdict that decides: short before tight before unknown before good; the least headroom among equals."""
    return max(
        verdicts,
        key=lambda v: (LEVELS.index(v.level), -(1.0 if v.headroom is None else v.headroom)),
        default=None,
    )
