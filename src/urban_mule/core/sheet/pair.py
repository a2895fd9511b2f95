"""Pairs: what is computed of an axis beside what is measured of it, each declared once in the room of its subject."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import TYPE_CHECKING, Any, Literal, TypeVar

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, Unknown, parameters_of
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.stages import StageName

if TYPE_CHECKING:
    from urban_mule.core.sheet.solution import Solution

F = TypeVar("F", bound=Callable[..., Any])
TOLD = ("computed", "said")  # what is computed at the inputs as they are, and the labels of what somebody has given


@record(frozen=True, eq=False, repr=False)
class Measured:
    """What was measured: its value and standard uncertainty, in the unit of what is computed.

    now: what is computed of a solution where no quantity of the sheet says it. starts_at: what is computed at the inputs as they
    are, where that says only by what share it changes. model: what the formula itself leaves out, as a share, where that is not
    what the pair declares. whose: whether it is known to be the one that is computed; of several the nearest, which may be too far
    off; or none of them. used: whether it is calculated with already, so that it must not teach again.
    """

    value: float
    uncertainty: float
    now: Callable[[Solution], Reals] | None = None
    starts_at: float | None = None
    model: float | None = None
    whose: Literal["its own", "nearest", "none"] = "its own"
    used: bool = False


@record(frozen=True, eq=False, repr=False)
class Pair:
    """What is computed and measured both.

    computes: the quantity of the sheet that is computed, nothing where what was measured says it; words: as people call it; model:
    what its formula leaves out, a share.
    readings: the kinds of readings that measure it, the first of them what one takes for it; minutes: how long that takes; gauge:
    how sure it is then, a share. before: the quantity that stands for it while nothing is measured. without: givens that are left
    out on the computed side. from_below: what is measured is no more than a lower bound. shown_as: as which quantity.
    """

    name: str
    words: str
    stage: StageName
    computes: str
    model: float
    readings: tuple[str, ...]
    minutes: float
    gauge: float
    before: str
    without: tuple[str, ...]
    from_below: bool
    shown_as: str
    function: Callable[..., Measured | None]
    parameters: tuple[str, ...]
    optional: frozenset[str]

    def fits(self, names: Iterable[str]) -> bool:
        """Whether a sheet with these names has all that it needs."""
        needed = {*self.parameters, *filter(None, (self.computes, *self.without))} - self.optional
        return needed.difference(TOLD) <= set(names)

    def measured(self, solution: Solution, computed: float, said: frozenset[str]) -> Measured | None:
        """What was measured, on one solution; None where nothing was. computed: what is computed there; said: as in `TOLD`."""
        names = tuple(name for name in self.parameters if name not in TOLD and solution.sheet.has(name))
        arguments = solution.arguments(names, self.optional)
        if isinstance(arguments, Unknown):
            return None
        told = {name: value for name, value in (("computed", computed), ("said", said)) if name in self.parameters}
        try:
            return self.function(**told, **arguments)
        except NotKnown:
            return None


def pair(
    words: str, *, stage: StageName, computes: str = "", model: float, readings: tuple[str, ...], minutes: float = 0.0,
    gauge: float = 0.0, before: str = "", without: tuple[str, ...] = (), from_below: bool = False, shown_as: str = "",
) -> Callable[[F], F]:
    """Mark a function as what was measured of a pair; its name is the pair's. It takes quantities of the sheet, and what stands in
    `TOLD`, and returns a Measured, or None where nothing was measured. minutes: 0 for what is not measured for this pair alone.
    """

    def mark(function: F) -> F:
        function.__pair__ = Pair(  # type: ignore[attr-defined]
            function.__name__, words, stage, computes, model, readings, minutes, gauge, before or computes, without, from_below,
            shown_as or computes, function, *parameters_of(function))
        return function

    return mark
