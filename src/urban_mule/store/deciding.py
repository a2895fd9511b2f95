"""The path of decisions as it stands: what the project says of each, what was written down, what must be looked at again."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, Literal

from urban_mule.core.brief.decisions import DECISIONS, Decision, before, rests_on
from urban_mule.core.brief.safety import QUESTIONS, TOPICS
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.units import number_text
from urban_mule.store.document.brief import DecisionBody, SafetyAnswer
from urban_mule.store.document.project import Project

SAFETY_TOPICS = {"stop": "stop circuit", "noise": "noise"}
MARKS = {"written down": "good", "look again": "tight", "decided in the project": "unknown", "open": "unknown"}
State = Literal["written down", "look again", "decided in the project", "open"]


@record(frozen=True)
class Stand:
    """A decision as it stands.

    fact: what the project says; written: what was written down; changed: (earlier decision, what it said then, what it says now);
    early: earlier decisions that it rests on and that are open.
    """

    decision: Decision
    fact: str
    written: DecisionBody | None
    changed: tuple[tuple[str, str, str], ...]
    early: tuple[str, ...]

    @property
    def state(self) -> State:
        if self.written is not None:
            return "look again" if self.changed else "written down"
        return "decided in the project" if self.fact else "open"

    @property
    def holds(self) -> str:
        """What it comes to now, for the decisions behind it."""
        said = () if self.written is None else (self.written.school, self.written.decided)
        return "; ".join(part for part in (*said, self.fact) if part)


def path_of_decisions(project: Project) -> tuple[Stand, ...]:
    """All decisions in their order."""
    facts = facts_of(project)
    written = {one.decision: one for one in project.decisions or ()}
    found: dict[str, Stand] = {}
    for one in DECISIONS:
        mine, earlier = written.get(one.name), [found[name] for name in rests_on(one.name)]
        then: dict[str, Any] = {} if mine is None else dict(mine.conditions or {})
        changed = tuple((before.decision.name, str(then[before.decision.name]), before.holds) for before in earlier
                        if before.decision.name in then and str(then[before.decision.name]) != before.holds)
        early = tuple(before.decision.name for before in earlier if before.state == "open")
        found[one.name] = Stand(one, facts[one.name], mine, changed, early)
    return tuple(found.values())


def conditions_of(project: Project, name: str) -> dict[str, str]:
    """What the earlier decisions say now, to be kept beside one that is made."""
    return {one.decision.name: one.holds for one in path_of_decisions(project) if one.decision.name in before(name)}


def _chosen(motor: Any) -> str:
    """What a motor is called that is more than its kind, which a new axis has before anybody has decided; else nothing."""
    figures = ("holding_torque", "rated_torque", "rated_current", "peak_torque")
    if motor is None or not (motor.name or any(getattr(motor, name, None) is not None for name in figures)):
        return ""
    return str(motor.name or motor.kind)


def facts_of(project: Project) -> dict[str, str]:
    """What the project itself says of each decision; nothing where it says nothing."""
    mains = [f"{number_text(value)} {unit}" for name, unit in (("mains_voltage", "V"), ("circuit_rating", "A"))
             if (value := getattr(project, name, None)) is not None]
    supplies = [getattr(project, "supply_voltage", None),
                *(axis.driver.supply_voltage for axis in project.axes if axis.driver is not None)]
    kind, power = getattr(project, "supply_kind", None), getattr(project, "supply_power", None)
    return {
        "mains": ", ".join(mains),
        "spindle": _listed(one.name for one in project.spindles or ()),
        "controller": _listed(axis.controller.name for axis in project.axes if axis.controller is not None),
        "driver": _listed(axis.driver.name for axis in project.axes if axis.driver is not None),
        "motor": _listed(_chosen(axis.motor) for axis in project.axes if _chosen(axis.motor)),
        "motor voltage": _listed(f"{number_text(one)} V" for one in supplies if one),
        "supply": ", ".join([*([kind] if kind else []), *([f"{number_text(power)} W"] if power else [])]),
        **{name: _answered(project.safety or (), topic) for name, topic in SAFETY_TOPICS.items()}}


def _listed(names: Iterable[str]) -> str:
    return ", ".join(dict.fromkeys(name for name in names if name))


def _answered(answers: Iterable[SafetyAnswer], topic: str) -> str:
    """How many of the questions of a topic are answered as they should be."""
    asked = next(one.questions for one in TOPICS if one.name == topic)
    wanted = {one.name: one.wanted for one in asked}
    good = sum(1 for one in answers if wanted.get(one.question) == one.answer)
    return f"{good} of {len(asked)} questions answered as they should be" if good else ""


def open_questions(answers: Iterable[SafetyAnswer]) -> list[str]:
    """The questions of safety that are not answered as they should be, in their order."""
    said = {one.question: one.answer for one in answers}
    return [one.name for one in QUESTIONS if said.get(one.name) not in (one.wanted, "does not apply")]
