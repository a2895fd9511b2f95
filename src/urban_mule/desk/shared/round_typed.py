"""What a number that is typed in a round means: its unit, its sign, a place or a deviation, and what is odd about it."""

from __future__ import annotations

import math
from typing import Any

from urban_mule.bench.sessions.by_stand import SENSED, beside, leans
from urban_mule.bench.sessions.doubt import doubt, smallest_step
from urban_mule.bench.sessions.gauged import READS_PLACES, divisions
from urban_mule.bench.sessions.kinds import PLAN_KINDS
from urban_mule.bench.sessions.rounds import PlanAxis, PlanKind, Round, Step
from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import LARGEST, BadValue
from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class TypedIn:
    """The numbers of a round, with the gauge that takes them as the project keeps it, or None."""

    axis: PlanAxis
    made: Round
    steps: tuple[Step, ...]
    gauge: Any

    @property
    def kind(self) -> PlanKind:
        return PLAN_KINDS[self.made.kind]

    @property
    def si_unit(self) -> str:
        return self.kind.si_unit(self.axis)

    @property
    def unit(self) -> str:
        """The unit of what is typed: the gauge's where it says one that fits."""
        unit = "" if self.gauge is None else self.gauge.unit
        return unit if unit in units.DIMENSIONS.get(self.si_unit, ()) else self.kind.usual_unit(self.axis)

    @property
    def factor(self) -> float:
        """What one of that unit is in SI."""
        return units.factor(self.unit, self.si_unit)

    @property
    def counts_in(self) -> str:
        """What a number that is typed counts in, in words: the unit, or divisions of the gauge."""
        gauge = self.gauge
        if gauge is None or gauge.read_as != "divisions" or not gauge.resolution:
            return self.unit
        return f"divisions of {units.number_text(gauge.resolution / self.factor, 3)} {self.unit}"

    def read(self, step: Step, text: str) -> float:
        """A typed number as the plan means it, in SI: divisions of the gauge, a place less its target, by the sense. Raises
        BadValue.
        """
        gauge = self.gauge
        value = divisions(text, gauge) if gauge is not None else None
        if value is None:
            value = units.parse(text, self.si_unit, self.unit)[0]
        if abs(value) > LARGEST:
            raise BadValue(f"“{units.cut(text)}” is more than anything on a machine measures")
        if step.place.startswith(SENSED):
            return value
        if self.kind.deviations and gauge is not None and gauge.gauge_kind in READS_PLACES:
            return value - step.at
        return self.sign * value

    @property
    def sign(self) -> float:
        """Which way the gauge counts: as its small move told, else as it says of itself; 1 where no deviations are read."""
        if not self.kind.deviations:
            return 1.0
        sensed = next((value for place, value in self.made.values.items() if place.startswith(SENSED)), None)
        if sensed:
            step = next(one for one in self.steps if one.place.startswith(SENSED))
            return math.copysign(1.0, sensed * step.adds)
        return -1.0 if self.gauge is not None and self.gauge.sign == "minus" else 1.0

    def odd(self, place: str, value: float, text: str) -> str:
        """What is odd about a number beside those so far, by what the gauge says of itself, else by how it was typed. Raises
        BadValue.
        """
        made, gauge = self.made, self.gauge
        if self.kind.odd is not None:
            return self.kind.odd(made.settings, made.values, place, value)
        if place.startswith(SENSED):
            return leans(next(step for step in self.steps if step.place == place), value, gauge)
        typed = [*(str(one["typed"]) for one in made.taken), text]
        step = getattr(gauge, "resolution", None) or smallest_step(typed) * self.factor
        others = {one: number for one, number in made.values.items() if one != place and not beside(one)}
        return doubt(others, place, value, float(step), float(getattr(gauge, "gauge_uncertainty", None) or 0.0), self.kind.repeats)
