"""The sheet: quantities wired by name.

A sheet gathers the functions of several modules with what the user gives, refuses missing, doubled and circular names when
it is built, and hands out solutions. Nothing here computes physics.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from graphlib import CycleError, TopologicalSorter
from types import ModuleType
from typing import Any

from urban_mule.core.sheet.given import Given, OwnUnit
from urban_mule.core.sheet.once import once
from urban_mule.core.sheet.quantity import Circular, Doubled, MissingInput, Quantity, marked
from urban_mule.core.sheet.solution import Solution


class Sheet:
    """Quantities and givens wired by name.

    modules: where the quantities and checks stand. inputs: what the user gives.
    units: what the placeholders in units stand for. elsewhere: whether a name stands on the sheet of another kind, so that
    it only does not apply here. Raises MissingInput, Doubled, Circular.
    """

    def __init__(
        self, modules: Iterable[ModuleType], inputs: Iterable[Given], units: Mapping[str, str] | None = None,
        elsewhere: Callable[[str], bool] = lambda _name: False,
    ) -> None:
        modules = tuple(modules)
        self.units = dict(units or {})
        self._elsewhere = elsewhere
        self.inputs: dict[str, Given] = {}
        self.quantities: dict[str, Quantity] = {}
        for one in inputs:
            self._once(one.name)
            self.inputs[one.name] = one
        for q in marked(modules, "__quantity__"):
            self._once(q.name)
            self.quantities[q.name] = q
        names = {*self.inputs, *self.quantities}
        self.checks = tuple(rule.fitting(names) for rule in marked(modules, "__check__"))
        for rule in self.checks:
            self._needs(f"check {rule.name!r}", rule.parameters)
        for q in self.quantities.values():
            self._needs(q.name, q.needs)
        self.pairs = tuple(one for one in marked(modules, "__pair__") if one.fits(names))
        self.at_worst = next((name for name, q in self.quantities.items() if q.name == "assumed_at_worst"), "")
        self.order = self._ordered()

    def _once(self, name: str) -> None:
        if name in self.inputs or name in self.quantities:
            raise Doubled(f"{name} is given twice")

    def _needs(self, who: str, parameters: Iterable[str]) -> None:
        for name in parameters:
            if name not in self.quantities and name not in self.inputs:
                raise MissingInput(f"{who} needs {name}, which nothing gives")

    def _ordered(self) -> tuple[str, ...]:
        graph = {q.name: q.needs for q in self.quantities.values()}
        try:
            return tuple(TopologicalSorter(graph).static_order())
        except CycleError as ring:
            raise Circular(" needs ".join(reversed(ring.args[1]))) from None

    @once
    def dependents(self) -> dict[str, frozenset[str]]:
        """For every name, the quantities that depend on it."""
        reach: dict[str, set[str]] = {name: set() for name in (*self.inputs, *self.quantities)}
        for name in reversed(self.order):
            for parameter in self.quantities[name].needs if name in self.quantities else ():
                reach[parameter] |= {name} | reach[name]
        return {name: frozenset(found) for name, found in reach.items()}

    def knows(self, name: str) -> bool:
        """Whether a name that a file or a person said stands on this sheet."""
        return name in self.inputs or name in self.quantities

    def has(self, name: str) -> bool:
        """Whether a name stands on this sheet. Raises KeyError for one that stands on no sheet at all: it is misspelt."""
        if self.knows(name):
            return True
        if not self._elsewhere(name):
            raise KeyError(f"{name} is no quantity of any axis")
        return False

    def unit(self, name: str) -> str:
        """The unit of a quantity or given on this sheet."""
        unit = self.quantities[name].unit if name in self.quantities else self.inputs[name].unit
        for placeholder, real in self.units.items():
            unit = unit.replace(placeholder, real)
        return unit

    def label(self, name: str) -> str:
        """What a quantity or given is called."""
        return (self.quantities.get(name) or self.inputs[name]).label

    def shown(self, name: str) -> OwnUnit:
        """The unit in which it is shown where that is not the usual one."""
        return (self.quantities.get(name) or self.inputs[name]).shown

    @property
    def slow(self) -> tuple[str, ...]:
        """The quantities that are computed in a worker."""
        return tuple(name for name, one in self.quantities.items() if one.slow)

    def symbol(self, name: str) -> str:
        return self.quantities[name].symbol if name in self.quantities else self.inputs[name].symbol

    def solve(self, **inputs: Any) -> Solution:
        """A solution for these givens; what is left out takes its default or is not known.

        Raises BadValue for a value outside what is allowed, MissingInput for a name the sheet does not have.
        """
        values: dict[str, Any] = {name: one.default for name, one in self.inputs.items()}
        values.update(self._checked(inputs))
        return Solution(self, values, {})

    def _checked(self, inputs: Mapping[str, Any]) -> dict[str, Any]:
        for name, value in inputs.items():
            if name not in self.inputs:
                raise MissingInput(f"{name} is not something this sheet takes")
            if value is not None and not self.inputs[name].structure:
                self.inputs[name].check(value)
        return dict(inputs)
