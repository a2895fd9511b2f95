"""The readings that tell faults apart: what each shows of a machine, and how that departs from a sound one."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any

import numpy as np

from urban_mule.bench.devices import DeviceError
from urban_mule.bench.sessions.carried import taken_into, usual
from urban_mule.bench.sessions.rounds import PlanAxis
from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.bench.simulated.truth import ASKEW, BUZZES, CROSSES, EXCHANGED, MOVES, RACKS
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.practice.faults import Built, Hidden, afflicted

USUAL = "as it should"
SAID = {MOVES: "it moves as commanded", BUZZES: "buzzes, and does not turn",
        RACKS: "one side runs ahead, and the beam jams",
        EXCHANGED: "commanded to plus, the first of both axes goes to plus and the second to minus",
        CROSSES: "commanded to plus, each of both axes goes to plus along the other one",
        ASKEW: "commanded along one of both axes, it goes aslant, along the other one too"}
LOOK, HIDDEN = "a short move", "hidden by another fault"
SLOW, FAST = 0.55, 0.95  # of the top speed: up to which a rung is slow, from which it is fast
APART = 0.25  # of what a sound motor gives: how much less it is at least
LINEAR, LEVER = "linear", 10.0  # whether it is; rad for a metre that count as alike
PLAY, LAG, GROWTH = 90e-6, 40e-6, 40e-6  # m beyond what a sound machine has
STRONG, BINS = 0.2, 5  # of the highest hump of a spectrum, from which one counts; over so many lines it is evened out
TELLS = 2e-6  # m that a push has to move it, or it tells no sign


@record(frozen=True)
class Seen:
    """What a reading shows of one symptom: as it should, or how it departs; the number in words."""

    how: str
    words: str


@record(frozen=True)
class Sort:
    """A reading that tells something: its kind (nothing for a look at a short move), and the symptoms that it shows."""

    name: str
    kind: str
    symptoms: tuple[str, ...]
    needs: Callable[[Solution], bool] = lambda _solution: True
    moves: bool = True


SORTS: tuple[Sort, ...] = (
    Sort("a look at a short move", "", (LOOK,)),
    Sort("travel", "travel", ("scale",)),
    Sort("reversal", "reversal", ("lost motion", "along the travel")),
    Sort("push", "push", ("clearance", "sign of a push"), moves=False),
    Sort("belt tone", "tone", ("tension",), lambda s: any(type(link).__name__ == "Belt" for link in s.get("train") or ()), False),
    Sort("drag at the shaft", "drag", ("drag",), moves=False),
    Sort("sweep", "acceleration", ("swing", "first mode", "time base")),
    Sort("ladder", "ladder", ("torque", "torque over speed"), lambda s: "step_angle" in s.sheet.inputs),
    Sort("drift", "drift", ("drift",)),
    Sort("warmth of the motor", "warming", ("warmth",), lambda s: "step_angle" in s.sheet.inputs),
)


def sorts_of(solution: Solution) -> tuple[Sort, ...]:
    """What can be read on this axis."""
    return tuple(one for one in SORTS if one.needs(solution))


DULL = Seen(USUAL, "too little to be read")
NOT_TAKEN = Seen("could not be taken", "could not be taken")


class Reckoner:
    """How each reading of an axis departs with any of its possible faults: read on the machine itself, each kind once for the
    faults that it feels.

    sound: a machine with nothing wrong; hidden: every fault it could have, with the size it would have.
    """

    def __init__(self, plan: PlanAxis, solution: Solution, sound: Built, hidden: Iterable[Hidden]) -> None:
        self.plan, self.solution, self.sound = plan, solution, sound
        self.hidden = {one.fault.name: one for one in hidden}
        self._read: dict[tuple[str, tuple[str, ...]], dict[str, Any]] = {}
        self.sorts = tuple(sort for sort in sorts_of(solution) if self.numbers(sort, ()))

    def signature(self, names: Iterable[str]) -> dict[str, tuple[str, ...]]:
        """How each reading departs with these faults, symptom by symptom."""
        names = tuple(sorted(names))
        hiding = any(self.hidden[name].fault.hides for name in names)
        return {sort.name: tuple(HIDDEN for _ in sort.symptoms) if hiding and sort.moves and sort.kind else tuple(
            self.shown(sort, names)[symptom].how for symptom in sort.symptoms) for sort in self.sorts}

    def shown(self, sort: Sort, names: tuple[str, ...]) -> dict[str, Seen]:
        """What a reading says of a machine with these faults, beside a sound one."""
        return seen(sort, self.numbers(sort, names), self.numbers(sort, ()))

    def numbers(self, sort: Sort, names: tuple[str, ...]) -> dict[str, Any]:
        """What a reading gives with these faults, by symptom; nothing where it cannot be taken."""
        felt = tuple(name for name in names if not sort.kind or sort.kind in self.hidden[name].fault.felt_in)
        if (sort.name, felt) not in self._read:
            try:
                self._read[sort.name, felt] = read(self.machine(felt), sort, self.plan)
            except (DeviceError, BadValue, NotKnown):
                self._read[sort.name, felt] = {}
        return self._read[sort.name, felt]

    def machine(self, names: Iterable[str]) -> SimulatedAxis:
        """The machine with these faults."""
        built = afflicted(self.sound, [self.hidden[name] for name in names])
        return SimulatedAxis(self.solution, built.truth, built.real)

    def shown_by(self, name: str) -> frozenset[str]:
        """The readings that show a fault which is there alone."""
        nothing, alone = self.signature(()), self.signature((name,))
        return frozenset(one for one in nothing if alone[one] != nothing[one] and HIDDEN not in alone[one])

    def telling(self) -> frozenset[str]:
        """The names of those that show in some reading at all."""
        nothing = self.signature(())
        return frozenset(name for name in self.hidden if self.signature((name,)) != nothing)

    def only(self, names: Iterable[str]) -> None:
        """From now on only these could be there."""
        self.hidden = {name: self.hidden[name] for name in sorted(names)}


def _given(factors: Sequence[tuple[float, float]]) -> tuple[float, float]:
    """What a motor gives of its computed torque, slow and fast; factors: (share of the top speed, that) of each speed."""
    slow, fast = [factor for at, factor in factors if at <= SLOW], [factor for at, factor in factors if at >= FAST]
    return float(np.mean(slow or [1.0])), float(np.mean(fast or [1.0]))


def _climbed(here: Mapping[str, Any], sound: Mapping[str, Any]) -> dict[str, Seen]:
    """What a ladder says beside that of a sound machine."""
    slow, fast = (one / other for one, other in zip(_given(here["factors"]), _given(sound["factors"]), strict=True))
    of_sound = _given(sound["factors"])
    said = (f"slow it gives {slow * of_sound[0]:.0%} of what was computed, fast {fast * of_sound[1]:.0%}; a sound one"
            f" {of_sound[0]:.0%} and {of_sound[1]:.0%}")
    trend = "falls" if fast / slow <= 1 - APART else USUAL
    return {"torque": Seen("low" if slow <= 1 - APART else USUAL, said), "torque over speed": Seen(trend, said)}


def read(machine: SimulatedAxis, sort: Sort, axis: PlanAxis) -> dict[str, Any]:
    """One reading of a practice machine by the same plan as a person walks: numbers by symptom. Raises DeviceError."""
    if not sort.kind:
        return {LOOK: machine.truth.shows}
    settings = {**usual(sort.kind, axis), **SETTINGS.get(sort.kind, {})}
    return {**NUMBERS[sort.kind](*taken_into(machine.solution, sort.kind, axis, settings, machine)), LINEAR: axis.linear}


SETTINGS: dict[str, dict[str, Any]] = {
    "tone": {"span": "400", "linear_mass": "12"}, "drag": {"radius": "50"}, "push": {"repeats": 1},
    "ladder": {"times": "1", "direction": "plus"},  # lost both ways it may come back to where it was
    "travel": {"repeats": 2}, "reversal": {"repeats": 2}, "acceleration": {"duration": "4"}}


def _reversal(_solution: Solution, reading: Any) -> dict[str, Any]:
    gaps = np.abs(np.mean(reading.down, axis=0) - np.mean(reading.up, axis=0))
    half = reading.targets < 0.5 * (reading.targets.min() + reading.targets.max()) + 1e-9
    return {"lost motion": float(gaps[half].mean()), "along the travel": float(gaps[~half].mean() - gaps[half].mean())}


def _push(solution: Solution, reading: Any) -> dict[str, Any]:
    line = solution["push_line"]
    sign = -1.0 if np.mean(reading.plus) - np.mean(reading.minus) < -TELLS else 1.0
    return {"clearance": sign * line.clearance, "spring": sign * line.compliance, "sign of a push": sign}


def _sweep(solution: Solution, reading: Any) -> dict[str, Any]:
    gaps, seen_in = np.diff(reading.time), solution["spectrum"]
    smooth = np.convolve(seen_in.summed, np.ones(BINS) / BINS, "same")
    strong = (smooth[1:-1] >= smooth[:-2]) & (smooth[1:-1] > smooth[2:]) & (smooth[1:-1] >= STRONG * smooth.max())
    return {"swing": float(np.std(reading.values[:, 0])), "first mode": float(seen_in.frequency[1 + int(np.argmax(strong))]),
            "time base": int(np.sum(gaps > 1.5 * np.median(gaps)))}


def _ladder(solution: Solution, _reading: Any) -> dict[str, Any]:
    return {"factors": [(one.speed / float(solution["top_speed"]), one.factor) for one in solution["torque_by_speed"]]}


NUMBERS: dict[str, Callable[[Solution, Any], dict[str, Any]]] = {
    "travel": lambda solution, _reading: {"scale": float(solution["scale_ratio"])},
    "reversal": _reversal,
    "push": _push,
    "tone": lambda solution, _reading: {"tension": float(solution["tone_tension"])},
    "drag": lambda solution, _reading: {"drag": float(solution["preload_torque"])},
    "acceleration": _sweep,
    "ladder": _ladder,
    "warming": lambda _solution, reading: {"warmth": float(reading.temperature[-1] - reading.temperature[0])},
    "drift": lambda _solution, reading: {"drift": float(np.max(np.abs(reading.deviation - reading.deviation[0])))},
}


def seen(sort: Sort, here: Mapping[str, Any], sound: Mapping[str, Any]) -> dict[str, Seen]:
    """What a reading says of a machine beside that of a sound one, symptom by symptom."""
    if not here:
        return dict.fromkeys(sort.symptoms, NOT_TAKEN)
    if sort.kind == "ladder":
        return _climbed(here, sound)
    found = {symptom: _more(symptom, here, sound) if symptom in LENGTHS else JUDGED[symptom](here[symptom], sound[symptom])
             for symptom in sort.symptoms}
    if found.get("swing", DULL).how != USUAL:  # what hardly swings has no mode to be read
        found["first mode"] = DULL
    return found


def _scale(ratio: float, _sound: float) -> Seen:
    if abs(ratio) < 1e-3:
        return Seen("does not move", "nothing moved")
    twos = 2.0 ** round(math.log2(abs(ratio)))
    tooth, doubled = abs(abs(ratio) / twos - 1) > 0.01, twos != 1
    how = {(True, True): "off by both at once", (True, False): "off by a tooth", (False, True): "off by a power of two"}.get(
        (tooth, doubled), USUAL)
    return Seen(how, f"{ratio:.4g} times what is commanded")


def _more(symptom: str, here: Mapping[str, Any], sound: Mapping[str, Any]) -> Seen:
    """A length beside that of a sound machine; on a rotary axis an angle, which is looked at ten times as wide."""
    by, how = LENGTHS[symptom]
    one, other = (float(values[symptom]) for values in (here, sound))
    linear = bool(here[LINEAR])
    room = by if linear else LEVER * by
    said = ", ".join(f"{v * 1e6:.0f} µm" if linear else f"{math.degrees(v):.3f}°" for v in (one, other))
    return Seen(how if abs(one) > abs(other) + room else USUAL, f"{said} on a sound one")


def _times(factor: float, how: str, words: Callable[[float], str]) -> Callable[[float, float], Seen]:
    """Departing by a factor: above 1 it is more, below 1 less."""
    def judge(here: float, sound: float) -> Seen:
        odd = here > factor * sound if factor > 1 else here < factor * sound
        return Seen(how if odd else USUAL, f"{words(here)}, {words(sound)} on a sound one")

    return judge


LENGTHS = {"lost motion": (PLAY, "much"), "along the travel": (LAG, "grows to plus"), "clearance": (PLAY, "much"),
           "drift": (GROWTH, "much")}  # by how much more than a sound one, and how it is called then
JUDGED: dict[str, Callable[[Any, Any], Seen]] = {
    LOOK: lambda here, _sound: Seen(USUAL if here == MOVES else SAID[here], SAID[here]),
    "scale": _scale,
    "sign of a push": lambda here, _sound: Seen(USUAL if here > 0 else "against the hand",
                                                "the reading grows with the push" if here > 0 else "the reading falls with the"
                                                " push"),
    "tension": _times(0.6, "little", lambda v: f"{v:.0f} N"),
    "drag": _times(2.0, "much", lambda v: f"{v:.3f} N·m"),
    "swing": _times(0.57, "hardly any", lambda v: f"{v:.1f} m/s²"),
    "first mode": _times(0.72, "low", lambda v: f"{v:.1f} Hz"),
    "time base": lambda here, _sound: Seen(USUAL if here == 0 else "with gaps", f"{here} gaps in the record" if here else "no gap"),
    "warmth": _times(0.6, "little", lambda v: f"{v:.0f} K"),
}
