"""The state of one axis: what every picture, tag, report and comparison is drawn from."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from urban_mule.core.sheet.advice import advised
from urban_mule.core.sheet.once import once
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.stages import StageName
from urban_mule.core.sheet.verdict import Verdict, headline, missing_in, next_number, worst
from urban_mule.core.sheet.wording import in_inch
from urban_mule.core.subjects import as_looked_up
from urban_mule.store.document.project import Axis
from urban_mule.store.file.project_file import Applied


@record(frozen=True)
class Turned:
    """What stands for the axis while another subject is shown: its names, and that it has no readings of an axis."""

    id: str
    name: str
    letter: str
    motor_kind: str
    unit: str = ""
    motion: str = "rotary"
    readings: tuple[Any, ...] = ()
    following: None = None

    def last_reading(self, _kind: str) -> None:
        """None: it has none."""
        return


@record(frozen=True, eq=False)
class AxisState:
    """An axis with its numbers, its judgements and what is on its hardware.

    id: who it is, whatever its name or its place become. applied: what runs; stored: what a reset brings back. system: metric or
    inch. together: the judgements on all axes together that ask for something; they stand on their stage, beside those of the axis.
    leading: of a follower, its leader.
    """

    id: str
    axis: Axis
    solution: Solution
    all_verdicts: tuple[Verdict, ...]
    applied: Mapping[str, Applied]
    stored: Mapping[str, Applied]
    system: str
    together: tuple[Verdict, ...] = ()
    leading: Solution | None = None

    @property
    def sheet(self) -> Sheet:
        return self.solution.sheet

    def says_the_same(self, other: AxisState) -> bool:
        """Whether another state is made of the very same things."""
        return self.system == other.system and all(getattr(self, name) is getattr(other, name) for name in (
            "axis", "solution", "applied", "stored", "together"))

    def verdicts(self, stage: StageName | None = None) -> tuple[Verdict, ...]:
        """The verdicts of one stage, with those on all axes together; or all of the axis; in the units of the system.

        Their advice is tried here, once somebody asks for the words: that takes longer than the judgement itself.
        """
        together = () if stage is None else tuple(one for one in self.together if one.stage == stage)
        return (*self.own_verdicts(stage), *self._in_system(together))

    def judged(self, stage: StageName) -> tuple[Verdict, ...]:
        """The verdicts of a stage, with those on all axes together, before their advice is tried: `told` tries that of one."""
        return tuple(one for one in (*self.all_verdicts, *self.together) if one.stage == stage)

    def own_verdicts(self, stage: StageName | None = None) -> tuple[Verdict, ...]:
        """The verdicts of one stage without those on all axes together."""
        if stage not in self._tried:
            self._tried[stage] = tuple(self.told(one) for one in self.all_verdicts if stage in (None, one.stage))
        return self._tried[stage]

    def told(self, verdict: Verdict) -> Verdict:
        """One of its verdicts as it is told: its advice tried, in the units of the system."""
        kept = self._told.get(id(verdict))
        if kept is None:
            kept = self._told[id(verdict)] = verdict, self._in_system((advised(self.solution, verdict),))[0]
        return kept[1]

    def tell_ahead(self, stage: StageName) -> bool:
        """Try the advice of one more verdict of a stage, while there is time; whether there was one."""
        one = next((one for one in self.all_verdicts if one.stage == stage and id(one) not in self._told), None)
        if one is not None:
            self.told(one)
        return one is not None

    @once
    def _told(self) -> dict[int, tuple[Verdict, Verdict]]:
        return {}

    @once
    def _tried(self) -> dict[str | None, tuple[Verdict, ...]]:
        return {}

    def _in_system(self, verdicts: tuple[Verdict, ...]) -> tuple[Verdict, ...]:
        """Judgements speak metric; here is the edge at which what they say is turned into inch."""
        if self.system != "inch":
            return verdicts
        return tuple(replace(one, sentence=in_inch(one.sentence), next=in_inch(one.next), school=in_inch(one.school))
                     for one in verdicts)

    @once
    def _deciding(self) -> dict[str | None, Verdict | None]:
        return {}

    def worst(self, stage: StageName | None = None) -> Verdict | None:
        """The verdict that decides on the axis, or at a stage; a plate asks for the first only."""
        if stage not in self._deciding:
            at = self.all_verdicts if stage is None else tuple(
                one for one in (*self.all_verdicts, *self.together) if one.stage == stage)
            self._deciding[stage] = worst(at)
        return self._deciding[stage]

    def headline(self, stage: StageName) -> Verdict | None:
        """The verdict that a stage says first."""
        deciding = headline(self.judged(stage))
        return None if deciding is None else self.told(deciding)

    def missing(self, stage: StageName | None = None) -> tuple[str, ...]:
        """The givens that what cannot be judged yet lacks."""
        return missing_in(self.all_verdicts if stage is None else tuple(
            one for one in (*self.all_verdicts, *self.together) if one.stage == stage))

    def next_missing(self, stage: StageName | None = None) -> tuple[str, ...]:
        """The givens that the next number lacks, in the order in which one looks them up."""
        every = (*self.all_verdicts, *(() if stage is None else self.together))
        ahead = next_number(tuple(one for one in every if stage in (None, one.stage)))
        return () if ahead is None else as_looked_up(ahead.missing)

    def reason_unknown(self, name: str) -> str:
        """Why a quantity has no value, or nothing."""
        if not self.sheet.has(name):
            return f"a {self.axis.motor_kind} has no {name.replace('_', ' ')}"
        value = self.solution.find(name)
        return value.reason if isinstance(value, Unknown) else ""
