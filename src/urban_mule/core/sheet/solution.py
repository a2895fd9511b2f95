"""Solutions of a sheet: lazy, each value computed when first asked for and never twice."""

from __future__ import annotations

import dataclasses
import math
import re
from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager
from typing import TYPE_CHECKING, Any

import numpy as np

from urban_mule.core.sheet.alike import alike
from urban_mule.core.sheet.given import Given, givens, words
from urban_mule.core.sheet.progress import PACE
from urban_mule.core.sheet.quantity import NotKnown, Quantity, Unknown

if TYPE_CHECKING:
    from urban_mule.core.sheet.sheet import Sheet

# Records have no == and no repr: comparing what holds arrays means nothing. What a solution compares it compares in _same.
PLACE = re.compile(r"^(?P<list>\w+)\[(?P<place>\d+)\]\.(?P<field>\w+)$")  # a field of a link or a move: train[1].efficiency
OF_ONE = re.compile(r"^(?P<list>\w+)\.(?:(?P<kind>[\w ]+)\.)?(?P<field>\w+)$")  # one that some link or move lacks: train.screw.lead


class Solution:
    """The quantities of a sheet for one set of givens, computed when first asked for."""

    def __init__(self, sheet: Sheet, inputs: dict[str, Any], known: dict[str, Any]) -> None:
        self.sheet = sheet
        self.inputs = inputs
        self._known = known
        self._inside = False
        self._at_worst: Solution | None = None

    def __getitem__(self, name: str) -> Any:
        """The value of a quantity or given, in SI. Raises NotKnown with the reason."""
        value = self.find(name)
        if isinstance(value, Unknown):
            raise NotKnown(value.reason, *value.missing)
        return value

    def find(self, name: str) -> Any:
        """The value, or an Unknown that says why there is none. Raises KeyError for a name not on the sheet."""
        known = self._known
        if name in known:
            return known[name]
        if name in self.sheet.inputs:
            value = self.inputs[name]
            known[name] = value if value is not None else Unknown(self.sheet.inputs[name].absent, (name,))
        elif self._inside:
            known[name] = self._computed(self.sheet.quantities[name])
        else:
            with self.quiet():
                known[name] = self._computed(self.sheet.quantities[name])
        return known[name]

    @contextmanager
    def quiet(self) -> Iterator[None]:
        """Where many quantities are asked for: what is not finite becomes an Unknown, without a warning.

        Entered once around them all, since entering costs as much as a short formula.
        """
        before, self._inside = self._inside, True
        try:
            with np.errstate(all="ignore"):
                yield
        finally:
            self._inside = before

    def get(self, name: str, otherwise: Any = None) -> Any:
        """The value, or `otherwise` when it is not known or does not apply to this kind. Raises KeyError for a misspelt name."""
        if not self.sheet.has(name):
            return otherwise
        value = self.find(name)
        return otherwise if isinstance(value, Unknown) else value

    def arguments(self, parameters: Iterable[str], optional: frozenset[str]) -> dict[str, Any] | Unknown:
        """The values a function needs; else the first Unknown among those it cannot do without, missing what all of them miss."""
        found: dict[str, Any] = {}
        lacking: list[Unknown] = []
        known = self._known
        for name in parameters:
            value = known[name] if name in known else self.find(name)
            if not isinstance(value, Unknown):
                found[name] = value
            elif name not in optional:
                lacking.append(value)
        if not lacking:
            return found
        inside = tuple(f"{name}[{place}].{one}" for name, value in found.items() if isinstance(value, tuple)
                       for place, record in enumerate(value) if hasattr(record, "unsaid") for one in record.unsaid())
        if len(lacking) == 1 and not inside:
            return lacking[0]
        names = (*(name for one in lacking for name in one.missing), *inside)
        return Unknown(lacking[0].reason, tuple(dict.fromkeys(names)))

    def _computed(self, q: Quantity) -> Any:
        PACE.breathe()
        why_not = "" if q.unless is None else q.unless(**{name: self.get(name) for name in q.decided_by})
        if why_not:
            return Unknown(why_not, applies=False)
        given = self.get(q.instead) if q.instead else None
        if given is not None:
            return given
        arguments = self.arguments(q.parameters, q.optional)
        if isinstance(arguments, Unknown):
            return arguments
        try:
            value = q.function(**arguments)
        except NotKnown as why:
            return Unknown(str(why), self.placed(why.missing))
        except (OverflowError, ZeroDivisionError):
            return Unknown(f"the values given lead to no finite {words(q.name).lower()}")
        if isinstance(value, np.ndarray) and value.ndim == 0:
            value = value[()]
        return value if _finite(value) else Unknown(f"the values given lead to no finite {words(q.name).lower()}")

    def placed(self, missing: tuple[str, ...]) -> tuple[str, ...]:
        """What is missing; of a link or a move by the place of the first that lacks it: `train.screw.lead` as `train[0].lead`."""
        return tuple(map(self._placed, missing))

    def _placed(self, name: str) -> str:
        found = OF_ONE.match(name)
        if found is None:
            return name
        for place, one in enumerate(self.inputs.get(found["list"]) or ()):
            if found["kind"] in (None, getattr(one, "kind", None)) and getattr(one, found["field"]) is None:
                return f"{found['list']}[{place}].{found['field']}"
        return found["list"]

    def given_of(self, name: str) -> tuple[Given, str]:
        """What was declared of a given, and whose it is: of a link or a move by its place too. Raises KeyError."""
        found = PLACE.match(name)
        one = None if found is None else self.inputs[found["list"]][int(found["place"])]
        if found is None or one is None:
            return self.sheet.inputs[name], ""
        whose = getattr(one, "kind", "") or (f"move {int(found['place']) + 1}")
        return next(known for known in givens(type(one)) if known.name == found["field"]), whose

    def knows(self, name: str) -> bool:
        """Whether a name is on the sheet, or is that of a field of a link or a move."""
        found = PLACE.match(name)
        return self.sheet.has(name) if found is None else bool(self.inputs.get(found["list"]))

    def label(self, name: str) -> str:
        """What a given, or a quantity, is called: `Lead of the screw`."""
        if PLACE.match(name) is None:
            return self.sheet.label(name)
        one, whose = self.given_of(name)
        return f"{one.label} of {whose}" if whose.startswith("move ") else f"{one.label} of the {whose}"

    def changed(self, **inputs: Any) -> Solution:
        """The solution after some givens changed; only what depends on them is computed again.

        Raises BadValue and MissingInput as `Sheet.solve` does.
        """
        new = self.sheet._checked({
            name: value for name, value in inputs.items()
            if name not in self.inputs or not _same(value, self.inputs[name])
        })
        stale = frozenset(new).union(*(self.sheet.dependents[name] for name in new))
        known = {name: value for name, value in self._known.items() if name not in stale}
        return Solution(self.sheet, {**self.inputs, **new}, known)

    def knowing(self, **values: Any) -> Solution:
        """The same solution with quantities that were computed elsewhere for the same givens, say in a worker."""
        return Solution(self.sheet, self.inputs, {**self._known, **values})

    def own(self) -> Solution:
        """The same solution with a memory of its own, made for another thread before it is handed over."""
        return Solution(self.sheet, dict(self.inputs), dict(self._known))

    def differing(self, other: Solution) -> frozenset[str]:
        """Names whose value may differ between two solutions of one sheet: givens and what depends on them."""
        names = {
            name for name, value in self.inputs.items()
            if not _same(value, other.inputs[name])
        }
        return frozenset(names).union(*(self.sheet.dependents[name] for name in names))

    def verdicts(self) -> tuple[Any, ...]:
        """Every check of the sheet that has something to say here, its advice tried."""
        from urban_mule.core.sheet.advice import advised

        return tuple(advised(self, verdict) for verdict in self.judged().values() if verdict is not None)

    def verdict(self, name: str) -> Any:
        """What one check says, its advice tried; None for nothing. name: of a check of the sheet."""
        from urban_mule.core.sheet.advice import advised

        rule = next(one for one in self.sheet.checks if one.name == name)
        with self.quiet():
            found = self._doubted(rule, rule.judge(self))
        return None if found is None else advised(self, found)

    def judged(self, before: Mapping[str, Any] | None = None, differing: frozenset[str] = frozenset()) -> dict[str, Any]:
        """What each check says, by its name; None for nothing. before: what they said when only `differing` was different.

        What is good only as long as something holds that nobody has said is no more than tight. Advice is not tried yet.
        """
        if self.sheet.at_worst and not differing.isdisjoint(self.sheet.quantities[self.sheet.at_worst].needs):
            before = None  # another thing is assumed now, so that what was doubted may hold
        with self.quiet():
            return {rule.name: self._doubted(rule, rule.judge(self)) if before is None or rule.may_change(differing)
                    else before[rule.name] for rule in self.sheet.checks}

    def _doubted(self, rule: Any, verdict: Any) -> Any:
        """A good verdict as it is where it stays good at the unfavourable end of what was assumed; else a tight one."""
        if verdict is None or verdict.level != "good" or not self.sheet.at_worst:
            return verdict
        assumed = self.get(self.sheet.at_worst)
        if not assumed or not rule.may_change(self._reached_by(assumed.changes)):
            return verdict
        if self._at_worst is None:
            self._at_worst = self.changed(**assumed.changes)
        with self._at_worst.quiet():
            worst = rule.judge(self._at_worst)
        if worst is None or worst.level in ("good", "unknown"):
            return verdict
        return dataclasses.replace(
            verdict, level="tight", headroom=min(verdict.headroom or 0.0, worst.headroom or 0.0), ways=(),
            sentence=f"{verdict.sentence} That counts on {assumed.words}, which nobody has said.", next=assumed.next)

    def _reached_by(self, changes: Mapping[str, Any]) -> frozenset[str]:
        return frozenset(changes).union(*(self.sheet.dependents[name] for name in changes))

    def sensitivity(self, name: str, step: float = 0.01) -> tuple[tuple[str, float], ...]:
        """How much each given moves a quantity: (given, per cent of change for one per cent), largest first.

        name: a scalar quantity. step: relative change tried. Raises NotKnown while the quantity has no value.
        """
        base = self[name]
        moved = []
        for label, change in self._variations(step):
            stale = self.sheet.dependents[next(iter(change))]
            if base and name in stale:
                kept = {one: value for one, value in self._known.items() if one not in stale and one not in change}
                after = Solution(self.sheet, {**self.inputs, **change}, kept).get(name)
                if after is not None and abs(after / base - 1) > 1e-9:
                    moved.append((label, float((after / base - 1) / step)))
        return tuple(sorted(moved, key=lambda one: -abs(one[1])))

    def _variations(self, step: float) -> Iterator[tuple[str, dict[str, Any]]]:
        """Each number the user gave, a little larger: flat givens, and fields inside a train or a cycle."""
        for name, value in self.inputs.items():
            if _varies(value) and not self.sheet.inputs[name].whole:
                yield name, {name: value * (1 + step)}
            if isinstance(value, tuple):
                for place, record in enumerate(value):
                    for field in givens(type(record)) if dataclasses.is_dataclass(record) else ():
                        inner = getattr(record, field.name)
                        if _varies(inner):
                            more = dataclasses.replace(record, **{field.name: inner * (1 + step)})
                            yield f"{name}[{place}].{field.name}", {
                                name: (*value[:place], more, *value[place + 1:])}


def _finite(value: Any) -> bool:
    """Whether a number, or every number in a list or mapping, is finite; arrays over builds may hold what is not."""
    if isinstance(value, (float, np.floating)):
        return math.isfinite(value)
    if isinstance(value, dict):
        return all(map(_finite, value.values()))
    return not isinstance(value, list) or all(map(_finite, value))


def _varies(value: Any) -> bool:
    return isinstance(value, (int, float)) and not isinstance(value, bool) and value != 0


def _same(one: Any, other: Any) -> bool:
    """Whether two values of a given are alike; a reading only when it is the same one, which costs no look at its numbers."""
    return one is other or (not dataclasses.is_dataclass(one) and alike(one, other, _by_field))


def _by_field(one: Any, other: Any) -> bool:
    """Whether two records of a train, a cycle or a bank say the same."""
    return type(one) is type(other) and alike(tuple(vars(one).values()), tuple(vars(other).values()), _by_field)
