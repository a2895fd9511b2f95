"""Quantities: plain functions named as what they give, whose parameters are what they need, with unit, symbol and source."""

from __future__ import annotations

import inspect
from collections.abc import Callable, Iterable, Iterator
from types import FunctionType, ModuleType
from typing import Any, TypeVar

from urban_mule.core.sheet.given import OwnUnit, words
from urban_mule.core.sheet.once import once
from urban_mule.core.sheet.record import record

F = TypeVar("F", bound=Callable[..., Any])


class SheetError(ValueError):
    """A sheet cannot be built: the modules do not fit together."""


class MissingInput(SheetError):
    """A quantity needs a name that nothing gives."""


class Doubled(SheetError):
    """Two places give the same name."""


class Circular(SheetError):
    """Quantities need each other in a ring."""


class NotKnown(Exception):
    """A quantity has no value, and why; quantities raise it, solutions hand on the reason.

    missing: the givens that would help, where the reason is that they are not given.
    """

    def __init__(self, reason: str, *missing: str) -> None:
        super().__init__(reason)
        self.missing = missing


@record(frozen=True, eq=False)
class Unknown:
    """Stands where a value would stand, and says why there is none.

    missing: the givens that would help. applies: False where the quantity means nothing for this axis.
    """

    reason: str
    missing: tuple[str, ...] = ()
    applies: bool = True


@record(frozen=True, eq=False, repr=False)
class Quantity:
    """One function of the sheet with what makes it legible: unit, symbol, source, formula."""

    name: str
    function: Callable[..., Any]
    unit: str
    symbol: str
    source: str
    formula: str
    structure: bool
    parameters: tuple[str, ...]
    optional: frozenset[str]
    label: str = ""
    shown: OwnUnit = ""
    slow: bool = False
    sought: bool = False
    unless: Callable[..., str] | None = None
    decided_by: tuple[str, ...] = ()
    instead: str = ""

    @once
    def needs(self) -> tuple[str, ...]:
        """All names on which its value depends: its parameters, what decides whether it applies, what stands in its place."""
        more = (*self.decided_by, *((self.instead,) if self.instead else ()))
        return (*self.parameters, *(name for name in more if name not in self.parameters))

    @property
    def doc(self) -> str:
        return inspect.getdoc(self.function) or ""


def quantity(
    unit: str, *, symbol: str, source: str, formula: str = "", structure: bool = False, label: str = "", shown: OwnUnit = "",
    slow: bool = False, sought: bool = False, unless: Callable[..., str] | None = None, instead: str = "",
) -> Callable[[F], F]:
    """Mark a function as a quantity of the sheet; the function stays a plain function.

    unit: as written by hand; `[travel]`, `[effort]` and `[inertia]` stand for m, N, kg on a linear and rad, N·m,
    kg·m² on a rotary axis. formula: only where the code of the function does not read as one.
    structure: the value is not a number (curves, pieces of a cycle) and is not shown or exported as one.
    label, shown: as for Given. slow: it takes longer than a frame and is computed in a worker, once for its inputs.
    sought: many are tried for it, so that nothing computes it but who asks for it.
    unless: a plain function of givens, None where not known, that says why the quantity does not apply, or nothing.
    instead: a given that, where somebody gave it, is the value in place of what would be computed.
    A parameter with a default takes that default while the quantity it names is unknown.
    """

    def mark(function: F) -> F:
        function.__quantity__ = Quantity(  # type: ignore[attr-defined]
            function.__name__, function, unit, symbol, source, formula, structure, *parameters_of(function),
            label or words(function.__name__), shown, slow, sought, unless, parameters_of(unless)[0] if unless else (), instead)
        return function

    return mark


def parameters_of(function: Callable[..., Any]) -> tuple[tuple[str, ...], frozenset[str]]:
    """The parameters of a plain function, and which of them have a default.

    `inspect.signature` says the same at ten times the cost, for two hundred functions at every start.
    """
    code = function.__code__
    names = code.co_varnames[:code.co_argcount]
    return names, frozenset(names[len(names) - len(function.__defaults__ or ()):])


def marked(modules: Iterable[ModuleType], mark: str) -> Iterator[Any]:
    """What the functions defined in these modules carry under `mark`, in order of definition."""
    for module in modules:
        for function in vars(module).values():
            if type(function) is FunctionType and function.__module__ == module.__name__ and mark in vars(function):
                yield vars(function)[mark]
