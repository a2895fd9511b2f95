"""Rounds: measuring sessions that lead a person step by step, whoever does the reading; no interface code.

A plan says which numbers are taken, in which order, and what to do before each; a round is a plan with the numbers so far.
Both are plain enough to be kept in the project file after every number and to go on from there next week.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Any, Literal, Protocol

import numpy as np

from urban_mule.bench.sessions.gauged import PlanGauge
from urban_mule.bench.sessions.loops import PlanLoops, plan_loops
from urban_mule.bench.sessions.plain import plain_number
from urban_mule.bench.sessions.set_move import SetMove, set_move_of
from urban_mule.core.load.fall import without_power
from urban_mule.core.sheet.given import BadValue, Given, shown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.units import FACTORS, SHOWN, cut, unit_shown

BY_ITSELF = {"falls": "It falls when the power goes: block it before anybody reaches under it.",
             "rises": "It rises when the power goes: block it before anybody reaches over it."}
BY_HAND = 18.0  # s that a person takes to move, to read and to type
FREE_TRAVEL = "free_travel"  # the setting in which a round on an axis without a travel says how far it may go
SYSTEM = "system"  # the setting that says in which units a plan was typed, where they are not metric
IN_INCH = {"mm": "in", "µm": "mil", "N": "lbf", "N·m": "ozf·in"}  # units in which numbers are read, of an inch project
DECIMALS = {"mm": 1, "°": 2, "in": 3}
MOST_SEEDS, FEW_TARGETS, SAME_PHASE = 30, 4, 0.7  # ways to spread targets that are tried; targets from which a phase is looked at;
# length of the mean of their phases from which on they are in step
MOST_TYPED, MOST_NUMBERS = 1e9, 2000  # of a number in a plan, in the unit in which it is typed; of them in one list
FURTHEST = 0.9  # of the travel that is used by default: ends are left alone


@record(frozen=True)
class PlanAxis:
    """What a plan is made for. travel [m or rad]; linear: whether that is metres; speed [m/s or rad/s] of its cycle; rungs: usual
    speeds and accelerations of a ladder; without_power: what it does by itself when the power goes, if it does: falls, rises;
    highest [rad/s]: speed of a tool that nothing may pass; system: metric or inch, in which places and lengths are typed; friction
    and weight [N or N·m], which a push has to overcome, and the one at which the motor jumps; full_step of a stepper [m or rad];
    gauge: what reads it, where one is chosen; turn: travel for one turn of the part that turns last; run: targets of the last
    positioning run, and how far apart its first and last are; others: the linear axes beside it and how far they travel;
    set_move: the fastest move of its cycle through the shaper that is set; loops: of a servo whose drive is known; fellow: the axis
    that it shares both motors with.
    """

    travel: float | None
    linear: bool
    speed: float | None = None
    rungs: tuple[tuple[float, float], ...] = ()
    without_power: str = ""
    highest: float | None = None
    system: str = "metric"
    friction: float = 0.0
    weight: float = 0.0
    slips: float | None = None
    full_step: float | None = None
    gauge: PlanGauge | None = None
    turn: float | None = None
    run: tuple[int, float] = (0, 0.0)
    others: tuple[tuple[str, float | None], ...] = ()
    set_move: SetMove | None = None
    loops: PlanLoops | None = None
    fellow: str = ""

    @property
    def length_unit(self) -> str:
        """The unit in which lengths are typed."""
        return "in" if self.system == "inch" else "mm"

    @property
    def place_unit(self) -> str:
        """The unit in which places along it are typed."""
        return self.length_unit if self.linear else "°"

    def si(self, typed: float) -> float:
        """A place or a way along it as it is typed, in SI."""
        return typed * FACTORS[self.place_unit]

    @property
    def effort_unit(self) -> str:
        """The unit in which forces or torques at it are typed."""
        return unit_shown("N" if self.linear else "N·m", self.system)

    @property
    def torque_unit(self) -> str:
        """The unit in which torques beside it are typed."""
        return unit_shown("N·m", self.system)

    def effort(self, typed: float) -> float:
        """A force or torque at it as it is typed [N or N·m]."""
        return typed * FACTORS[self.effort_unit]

    def torque(self, typed: float) -> float:
        """A torque beside it as it is typed [N·m]."""
        return typed * FACTORS[self.torque_unit]

    def length(self, typed: float) -> float:
        """A length beside it as it is typed [m]."""
        return typed * FACTORS[self.length_unit]

    @property
    def said_in(self) -> dict[str, Any]:
        """What a plan keeps of the units in which it was typed."""
        return {} if self.system == "metric" else {SYSTEM: self.system}

    def typed_in(self, settings: dict[str, Any]) -> PlanAxis:
        """The axis with the units in which a plan was typed, whatever those of the project have become. Raises BadValue."""
        system = settings.get(SYSTEM, "metric")
        if system not in SHOWN:
            raise BadValue(f"the plan says that it is typed in {shown(system)}; allowed is {' or '.join(SHOWN)}", SYSTEM)
        return self if system == self.system else replace(self, system=system)

    @property
    def room(self) -> float:
        """How far it may go [m or rad]. Raises BadValue where nobody has said: no plan moves an axis whose ends are not known."""
        if self.travel is None:
            raise BadValue("how far does it travel? Give it on the Brief; of a table or a feed without ends, say here how far it"
                           " may go", FREE_TRAVEL)
        return self.travel

    def said(self, place: float) -> str:
        """A place as it is read at the machine. place: [travel]."""
        text = np.format_float_positional(round(place / FACTORS[self.place_unit], 5 if self.system == "inch" else 4), trim="-")
        return f"{text} {self.place_unit}"


class Planned(Protocol):
    """A subject as a plan looks at it."""

    motion: Any


def plan_of(axis: Planned, solution: Solution, system: str = "metric") -> PlanAxis:
    """What the plan of a round is made for; system: metric or inch, in which it is typed."""
    def known(name: str, instead: Any = None) -> Any:
        return solution.get(name, instead) if name in solution.sheet.quantities or name in solution.sheet.inputs else instead

    run = solution.get("positioning_reading") if "positioning_reading" in solution.sheet.inputs else None
    travel, highest = getattr(axis, "travel", None), known("highest_speed")
    return PlanAxis(None if travel is None else float(travel), axis.motion == "linear", known("top_speed"),
                    known("planned_rungs", ()), without_power(getattr(axis, "incline", None), known("gravity_load")),
                    None if highest is None else float(highest), system, float(known("friction_load", 0.0)),
                    float(known("gravity_load", 0.0)), known("slip_effort"),
                    float(known("step_angle", 0.0)) * float(known("travel_per_radian", 0.0)) or None, turn=known("travel_per_turn"),
                    run=(0, 0.0) if run is None else (int(run.targets.size), float(np.ptp(run.targets))),
                    set_move=set_move_of(solution), loops=plan_loops(solution), fellow=getattr(known("fellow"), "name", ""))


@record(frozen=True)
class Step:
    """One number to take: where it belongs, what to do first, how long that takes by hand [s], and where it is drawn.

    does: the same for a machine on a wire, act after act: ("move", place), ("zero",), ("hand", what, values…), and at the end what
    gives the number: ("read",), a hand, or ("record", from Hz, to Hz, seconds). adds: to what the indicator reads, to make the
    number. asks: a number, or that something is done.
    """

    place: str
    instruction: str
    seconds: float
    at: float
    does: tuple[tuple[Any, ...], ...] = ()
    adds: float = 0.0
    asks: Literal["number", "done"] = "number"

    @property
    def moves(self) -> tuple[float, ...]:
        """Where the machine goes for it, in this order."""
        return tuple(0.0 if act[0] == "home" else act[1] for act in self.does if act[0] in ("move", "run", "begin", "home"))


@record(frozen=True)
class Preset:
    """A plan that is offered: what it is called, what it tells, its settings as they are typed; next: whether it is the one that
    tells most a minute now.
    """

    name: str
    tells: str
    settings: dict[str, Any]
    next: bool = False


@record(frozen=True, kw_only=True)
class PlanKind:
    """How readings of a kind are taken.

    setup: what is drawn of it (a word that the picture knows); where: how the gauge stands; tells: what comes of it. settings:
    what may be changed, with its usual value; a list is one text. unit: of the numbers taken, `[travel]` for lengths; reads: the
    unit in which they are usually read, on a linear and on a rotary axis. deviations: whether zero is the right answer.
    records: its one step is a record that only a device takes. moves: whether it goes from place to place, so that the travel
    has to be known. caution: what can hurt at its steps. times: the column that holds when each number was taken. key: under
    which the subjects stand that it is for. words: what it takes, where no kind of reading says it. called: what is measured, where
    the trade has another word than its kind. lacks: a given that it cannot
    do without, and what the key says that leads there. ends: why the next number is not asked for, or nothing. odd: what is odd
    about a number, where it is told in a way of its own. led: the place of the number that tells most after those so far, where
    one number may make another needless; nothing when enough is known. needs: a kind of link or of motor without which there
    is nothing to read.
    """

    kind: str
    setup: str
    where: str
    tells: str
    unit: str
    reads: tuple[str, str]
    settings: Callable[[PlanAxis], dict[str, Any]]
    steps: Callable[[PlanAxis, dict[str, Any]], tuple[Step, ...]]
    columns: Callable[[dict[str, Any], dict[str, float]], dict[str, Any]]
    givens: tuple[Given, ...] = ()
    deviations: bool = False
    records: bool = False
    moves: bool = False
    caution: str = ""
    times: str = ""
    key: str = "axes"
    words: str = ""
    called: str = ""
    pair: bool = False
    presets: Callable[[PlanAxis], tuple[Preset, ...]] | None = None
    lacks: tuple[str, str] = ("travel", "To the travel on the Brief")
    ends: Callable[[PlanAxis, dict[str, Any], dict[str, float]], str] | None = None
    odd: Callable[[dict[str, Any], dict[str, float], str, float], str] | None = None
    led: Callable[[PlanAxis, dict[str, Any], dict[str, float]], str] | None = None
    needs: str = ""

    def usual(self, axis: PlanAxis) -> dict[str, Any]:
        """The usual plan, typed in the units of the axis. Raises BadValue."""
        return self.settings(axis) | axis.said_in

    def usual_unit(self, axis: PlanAxis) -> str:
        """The unit in which such numbers are usually read."""
        usual = self.reads[0 if axis.linear else 1]
        return IN_INCH.get(usual, usual) if axis.system == "inch" else usual

    def si_unit(self, axis: PlanAxis) -> str:
        """The unit in which such numbers are kept."""
        return self.unit.replace("[travel]", "m" if axis.linear else "rad")

    def caution_on(self, axis: PlanAxis) -> str:
        """What can hurt at a step on this axis: of the reading itself, and of an axis that moves by itself."""
        by_itself = BY_ITSELF.get(axis.without_power)
        return f"{self.caution} {by_itself}" if by_itself and self.caution else self.caution

    def lacks_on(self, axis: PlanAxis) -> bool:
        """Whether nobody has said what it cannot do without."""
        return axis.travel is None and self.moves if self.lacks[0] == "travel" else axis.highest is None

    @property
    def repeats(self) -> bool:
        """Whether it takes the same number again and again."""
        return any(one.name == "repeats" for one in self.givens)

    @property
    def sensed(self) -> bool:
        """Whether its numbers depend on where the gauge or the sensor stands."""
        return self.setup in ("indicator", "push", "sensor")


@dataclass
class Round:
    """A round under way: its plan, and every number taken so far with its source and time, in the order of taking.

    subject: whose, and gauge: which one takes it, both by their ids. begun: when, an ISO time; empty where nobody wrote it.
    """

    key: str
    kind: str
    subject: str
    settings: dict[str, Any]
    taken: list[dict[str, Any]] = field(default_factory=list)
    gauge: str = ""
    begun: str = ""

    @property
    def values(self) -> dict[str, float]:
        """The numbers by their place, in SI."""
        return {one["place"]: one["value"] for one in self.taken}

    def plain(self) -> dict[str, Any]:
        """The round as JSON holds it."""
        return {
            "key": self.key,
            "kind": self.kind,
            "subject": self.subject,
            "settings": self.settings,
            "taken": self.taken,
            "gauge": self.gauge,
            "begun": self.begun,
        }

    @classmethod
    def from_plain(cls, plain: dict[str, Any]) -> Round:
        """A round from what the file holds. Raises KeyError, TypeError for what is none."""
        return cls(
            str(plain["key"]),
            str(plain["kind"]),
            str(plain["subject"]),
            dict(plain["settings"]),
            list(plain["taken"]),
            str(plain.get("gauge", "")),
            str(plain.get("begun", "")),
        )


def numbers(text: Any, name: str, least: int = 1) -> list[float]:
    """A typed list of numbers. Raises BadValue."""
    parts = [part for part in re.split(r"[;\s]+", str(text).strip()) if part]
    try:
        found = [plain_number(part) for part in parts]
    except ValueError:
        raise BadValue(f"“{cut(str(text).strip())}” is no list of numbers, such as 50 200 350", name) from None
    if max(map(abs, found), default=0.0) > MOST_TYPED:
        raise BadValue(f"{name} holds {max(found, key=abs):g}; nothing on a machine is so much", name)
    if len(set(found)) < len(found):
        raise BadValue(f"{name} holds a number twice; each is needed once", name)
    if len(found) > MOST_NUMBERS:
        raise BadValue(f"{name} holds {len(found)} numbers; at most {MOST_NUMBERS} are taken", name)
    if len(found) < least:
        raise BadValue(f"{name} holds {len(found)} numbers; at least {least} are needed", name)
    return found


def repeats_of(settings: dict[str, Any]) -> int:
    """How often each number is taken. Raises BadValue."""
    count = settings.get("repeats")
    if not isinstance(count, (int, float)) or not 1 <= count <= 50 or count != int(count):
        raise BadValue(f"repeats is {cut(str(count).strip()) or 'empty'}; allowed is a whole number from 1 to 50", "repeats")
    return int(count)


def in_travel(axis: PlanAxis, values: list[float]) -> list[float]:
    """Typed places in SI. Raises BadValue for one outside the travel."""
    found = [axis.si(value) for value in values]
    for value in found:
        if axis.travel is not None and not -1e-9 <= value <= axis.travel * (1 + 1e-9):
            raise BadValue(f"{axis.said(value)} lies outside the travel of {axis.said(axis.travel)}", "targets")
    return found


def as_typed(axis: PlanAxis, values: Any) -> str:
    """Places as they are typed in a plan."""
    return " ".join(axis.said(float(value)).split(" ")[0] for value in values)


def share_typed(axis: PlanAxis, *shares: float) -> str:
    """Shares of the travel as places are typed; nothing where the travel is not known."""
    return "" if axis.travel is None else rounded(axis, np.asarray(shares) * axis.travel)


def on_its_travel(axis: PlanAxis, settings: dict[str, Any]) -> PlanAxis:
    """The axis with what a plan says of how far it may go, where the axis itself does not say. Raises BadValue."""
    typed = str(settings.get(FREE_TRAVEL) or "").strip()
    if axis.travel is not None or not typed:
        return axis
    value = numbers(typed, FREE_TRAVEL)[0]
    if value <= 0:
        raise BadValue(f"{value:g} is no way to go; a length above 0 is needed", FREE_TRAVEL)
    return replace(axis, travel=axis.si(value))


def spread_targets(travel: float, count: int, seed: int) -> np.ndarray:
    """Targets [travel] over the travel with a random part in their spacing, so that a periodic error is not hidden.

    Source: ISO 230-2, choice of target positions.
    """
    interval = 0.9 * travel / (count - 1)
    random = np.random.default_rng(seed).uniform(-0.25, 0.25, count)
    return np.asarray(np.round(0.05 * travel + (np.arange(count) + random) * interval, 6))


def spread(axis: PlanAxis, count: int) -> str:
    """Usual targets over the travel, with the standard's random part in their spacing, finer than whole ones:
    those would meet a lead of whole millimetres in the same phase each time. Nothing where the travel is not known.
    """
    if axis.travel is None:
        return ""
    seeds = (spread_targets(axis.travel, count, seed) for seed in range(1, MOST_SEEDS))
    return rounded(axis, next((one for one in seeds if not in_step(one, axis.turn)), spread_targets(axis.travel, count, 1)))


def in_step(targets: np.ndarray, period: float | None) -> bool:
    """Whether targets meet what repeats in nearly the same phase each time, so that it is not seen [travel]."""
    if period is None or targets.size < FEW_TARGETS or not period:
        return False
    return bool(abs(np.mean(np.exp(2j * np.pi * targets / period))) > SAME_PHASE)


def rounded(axis: PlanAxis, places: Any) -> str:
    """Places as they are typed, to a tenth of a millimetre, a hundredth of a degree or a thousandth of an inch; on a short axis to
    a thousandth of it.
    """
    one = axis.si(1.0)
    decimals = max(DECIMALS[axis.place_unit], 3 - int(np.floor(np.log10((axis.travel or one) / one))))
    return as_typed(axis, np.round(np.asarray(places) / one, decimals) * one)


PLANNED = (0.5, 2.0)  # of the planned gap between numbers: within it the clock is believed


def really_taken(planned: list[float], times: list[str]) -> list[float]:
    """When numbers were taken, counted as the plan counts [s]: by the clock, where it follows the plan at all.

    planned: the plan's times [s]; times: ISO times at which the numbers came. Numbers that came faster than half the plan were
    typed from paper, and keep the plan's.
    """
    clock = [datetime.fromisoformat(one).timestamp() for one in times[:len(planned)]]
    real = [planned[0] + one - clock[0] for one in clock]
    gaps = zip(planned, planned[1:], real, real[1:], strict=False)
    if all(PLANNED[0] * (after - before) <= there - here <= PLANNED[1] * (after - before) for before, after, here, there in gaps):
        return real
    return planned


def table_of(values: dict[str, float], name: str, columns: int) -> list[list[float]]:
    """The whole rows of a table; a repeat that was begun and not ended is left out."""
    rows: list[list[float]] = []
    while all(f"{name}[{len(rows)}][{column}]" in values for column in range(columns)):
        rows.append([values[f"{name}[{len(rows)}][{column}]"] for column in range(columns)])
    return rows


def listed(values: dict[str, float], name: str) -> list[float]:
    """The numbers of a list, up to the first that was not taken."""
    found: list[float] = []
    while f"{name}[{len(found)}]" in values:
        found.append(values[f"{name}[{len(found)}]"])
    return found
