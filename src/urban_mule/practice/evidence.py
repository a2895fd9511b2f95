"""The readings that tell faults apart: what each shows of a machine, and how that departs from a sound one."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from urban_mule.bench.sessions.carried import usual, walk
from urban_mule.bench.sessions.rounds import PlanAxis
from urban_mule.bench.simulated.axis import BUZZES, MOVES, RACKS, SimulatedAxis, Truth, goes, loses_steps
from urban_mule.core.moves.ladder import as_computed
from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.sheet.solution import Solution
from urban_mule.practice.faults import Built, Hidden, Signs, afflicted

USUAL = "as it should"
SAID = {MOVES: "it moves as commanded", BUZZES: "buzzes, and does not turn",
        RACKS: "one side runs ahead, and the beam jams"}
LOOK, HIDDEN = "a short move", "hidden by another fault"
SLOW, FAST = 0.55, 0.95  # of the top speed: up to which a rung is slow, from which it is fast
HIGHEST = 1.3  # share that is taken for a ladder that never lost
LOW, APART = 0.8, 0.14  # share below which the torque is low; by how much slow and fast rungs differ at least
PLAY, LAG, GROWTH = 60e-6, 40e-6, 40e-6  # m beyond what a sound machine has


@dataclass(frozen=True)
class Seen:
    """What a reading shows of one symptom: as it should, or how it departs; the number in words."""

    how: str
    words: str


@dataclass(frozen=True)
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
    Sort("push", "push", ("clearance", "spring", "sign of a push"), moves=False),
    Sort("belt tone", "tone", ("tension",), lambda s: any(type(link).__name__ == "Belt" for link in s.get("train") or ()), False),
    Sort("drag at the shaft", "drag", ("drag",), moves=False),
    Sort("sweep", "acceleration", ("first mode", "damping", "time base")),
    Sort("ladder", "ladder", ("torque", "torque over speed"), lambda s: "step_angle" in s.sheet.inputs),
    Sort("drift", "drift", ("drift",)),
)


def sorts_of(solution: Solution) -> tuple[Sort, ...]:
    """What can be read on this axis."""
    return tuple(one for one in SORTS if one.needs(solution))


class Reckoner:
    """How each reading of an axis departs with any of its possible faults, as reckoned: nothing is measured.

    truth: of a machine with nothing wrong; hidden: every fault it could have, with the size it would have.
    """

    def __init__(self, solution: Solution, truth: Truth, hidden: Iterable[Hidden]) -> None:
        self.solution, self.truth, self.sorts = solution, truth, sorts_of(solution)
        self.hidden = {one.fault.name: one for one in hidden}
        self._ladders: dict[frozenset[str], Signs] = {}
        self._whole: dict[tuple[str, ...], dict[str, tuple[str, ...]]] = {}

    def signature(self, names: Iterable[str]) -> dict[str, tuple[str, ...]]:
        """How each reading departs with these faults, symptom by symptom."""
        names = tuple(sorted(names))
        if names not in self._whole:
            signs: dict[str, str] = {}
            for name in names:
                for symptom, how in self.hidden[name].fault.signs.items():
                    both = symptom == "scale" and symptom in signs
                    signs[symptom] = "off by both at once" if both else signs.get(symptom, how)
            hiding = any(self.hidden[name].fault.hides for name in names)
            signs |= {} if hiding else self._ladder(names)
            self._whole[names] = {sort.name: tuple(
                HIDDEN if hiding and sort.moves and sort.kind else signs.get(symptom, USUAL) for symptom in sort.symptoms)
                for sort in self.sorts}
        return self._whole[names]

    def _ladder(self, names: Iterable[str]) -> Signs:
        """How the ladder departs, reckoned anew only for faults that change what the sheet makes of the motor."""
        felt = frozenset(name for name in names if self.hidden[name].fault.on_sheet)
        if felt not in self._ladders:
            built = afflicted(self.solution, self.truth, [self.hidden[name] for name in sorted(felt)])
            self._ladders[felt] = _ladder_signs(self.solution, built)
        return self._ladders[felt]

    def shown_by(self, name: str) -> frozenset[str]:
        """The readings that show a fault which is there alone."""
        nothing, alone = self.signature(()), self.signature((name,))
        return frozenset(one for one in nothing if alone[one] != nothing[one] and HIDDEN not in alone[one])

    def telling(self) -> tuple[Hidden, ...]:
        """Those that show in some reading at all."""
        nothing = self.signature(())
        return tuple(one for name, one in self.hidden.items() if self.signature((name,)) != nothing)


def _ladder_signs(solution: Solution, built: Built) -> Signs:
    """How the ladder of a machine departs, rung by rung as the motor would hold or lose it."""
    rungs, top, far = solution.get("planned_rungs") or (), float(solution.get("top_speed") or 0.0), goes(solution, built.real)
    asked, curve = solution.get("asked_torque"), solution.get("torque_curve")
    if asked is None or curve is None:
        return {}
    sound = as_computed(curve)
    shares = []
    for speed, acceleration in rungs:
        lost = any(loses_steps(built.real, built.truth.torque_factor, speed * far, acceleration * far, way) for way in (1.0, -1.0))
        there = float(sound(np.asarray([speed / float(solution["travel_per_radian"])]))[0])
        shares.append((speed / top, float(np.asarray(asked(acceleration))) / there, lost))
    return _of_shares(shares)


def _of_shares(shares: Iterable[tuple[float, float, bool]]) -> dict[str, str]:
    """What a ladder says: (share of the top speed, share of the torque, whether steps were lost) of each rung."""
    shares = tuple(shares)
    slow = min((share for at, share, lost in shares if lost and at <= SLOW), default=HIGHEST)
    fast = min((share for at, share, lost in shares if lost and at >= FAST), default=HIGHEST)
    trend = "falls" if fast - slow <= -APART else "rises" if fast - slow >= APART else USUAL
    return {"torque": "low" if max(slow, fast) < LOW else USUAL, "torque over speed": trend}


def read(machine: SimulatedAxis, sort: Sort, axis: PlanAxis) -> dict[str, Any]:
    """One reading of a practice machine by the same plan as a person walks: numbers by symptom. Raises DeviceError."""
    solution = machine.solution
    if not sort.kind:
        return {LOOK: machine.truth.shows}
    settings = {**usual(sort.kind, axis), **SETTINGS.get(sort.kind, {})}
    columns = walk(sort.kind, axis, settings, machine, lambda *_: True)
    record = reading_kinds()[sort.kind].record
    names = {field.name for field in dataclasses.fields(record)}
    made: Any = record(**{name: np.asarray(value, dtype=float) if isinstance(value, (list, np.ndarray)) else value
                     for name, value in columns.items() if name in names})
    more = {"scale_reading": made} if sort.kind == "travel" else {}
    return NUMBERS[sort.kind](solution.changed(**{f"{sort.kind}_reading": made}, **more), made)


SETTINGS: dict[str, dict[str, Any]] = {
    "tone": {"span": "400", "linear_mass": "12"}, "drag": {"radius": "50"}, "push": {"forces": "10 20 40 60", "repeats": 2},
    "travel": {"repeats": 2}, "reversal": {"repeats": 2}}


def _reversal(_solution: Solution, reading: Any) -> dict[str, Any]:
    gaps = np.abs(np.mean(reading.down, axis=0) - np.mean(reading.up, axis=0))
    half = reading.targets < 0.5 * (reading.targets.min() + reading.targets.max()) + 1e-9
    return {"lost motion": float(gaps[half].mean()), "along the travel": float(gaps[~half].mean() - gaps[half].mean())}


def _push(solution: Solution, reading: Any) -> dict[str, Any]:
    line = solution["push_line"]
    sign = float(np.sign(np.mean(reading.plus) - np.mean(reading.minus)))
    return {"clearance": sign * line.clearance, "spring": sign * line.compliance, "sign of a push": sign}


def _sweep(solution: Solution, reading: Any) -> dict[str, Any]:
    first = solution["modes"][0]
    gaps = np.diff(reading.time)
    return {"first mode": first.frequency, "damping": first.damping_ratio, "time base": int(np.sum(gaps > 1.5 * np.median(gaps)))}


def _ladder(solution: Solution, reading: Any) -> dict[str, Any]:
    rungs, top = solution["ladder_rungs"], float(solution["top_speed"])
    return {"shares": [(float(v) / top, float(share), bool(lost > 0))
                       for v, share, lost in zip(reading.speed, rungs.share, rungs.lost, strict=True)]}


NUMBERS: dict[str, Callable[[Solution, Any], dict[str, Any]]] = {
    "travel": lambda solution, _reading: {"scale": float(solution["scale_ratio"])},
    "reversal": _reversal,
    "push": _push,
    "tone": lambda solution, _reading: {"tension": float(solution["tone_tension"])},
    "drag": lambda solution, _reading: {"drag": float(solution["preload_torque"])},
    "acceleration": _sweep,
    "ladder": _ladder,
    "drift": lambda _solution, reading: {"drift": float(np.max(np.abs(reading.deviation - reading.deviation[0])))},
}


def _micro(value: float) -> str:
    return f"{value * 1e6:.0f} µm"


def seen(sort: Sort, here: Mapping[str, Any], sound: Mapping[str, Any]) -> dict[str, Seen]:
    """What a reading says of a machine beside that of a sound one, symptom by symptom."""
    if sort.kind == "ladder":
        found, lost = _of_shares(here["shares"]), [share for _, share, gone in here["shares"] if gone]
        said = f"steps are lost from {min(lost):.0%} of the computed torque on" if lost else "no ladder step lost steps"
        return {symptom: Seen(how, said) for symptom, how in found.items()}
    return {symptom: JUDGED[symptom](here[symptom], sound[symptom]) for symptom in sort.symptoms}


def _scale(ratio: float, _sound: float) -> Seen:
    if abs(ratio) < 1e-3:
        return Seen("does not move", "nothing moved")
    twos = 2.0 ** round(math.log2(abs(ratio)))
    tooth, doubled = abs(abs(ratio) / twos - 1) > 0.01, twos != 1
    how = {(True, True): "off by both at once", (True, False): "off by a tooth", (False, True): "off by a power of two"}.get(
        (tooth, doubled), USUAL)
    return Seen(how, f"{ratio:.4g} times what is commanded")


def _more(by: float, how: str, words: Callable[[float], str] = _micro) -> Callable[[float, float], Seen]:
    return lambda here, sound: Seen(how if abs(here) > abs(sound) + by else USUAL, f"{words(here)}, {words(sound)} on a sound one")


def _times(factor: float, how: str, words: Callable[[float], str]) -> Callable[[float, float], Seen]:
    """Departing by a factor: above 1 it is more, below 1 less."""
    def judge(here: float, sound: float) -> Seen:
        odd = here > factor * sound if factor > 1 else here < factor * sound
        return Seen(how if odd else USUAL, f"{words(here)}, {words(sound)} on a sound one")

    return judge


JUDGED: dict[str, Callable[[Any, Any], Seen]] = {
    LOOK: lambda here, _sound: Seen(USUAL if here == MOVES else SAID[here], SAID[here]),
    "scale": _scale,
    "lost motion": _more(PLAY, "much"),
    "along the travel": _more(LAG, "grows to plus"),
    "clearance": _more(PLAY, "much"),
    "spring": _times(1.6, "soft", lambda v: f"{v * 1e6:.2f} µm for each newton"),
    "sign of a push": lambda here, _sound: Seen(USUAL if here > 0 else "against the hand",
                                                "the reading grows with the push" if here > 0 else "the reading falls with the"
                                                " push"),
    "tension": _times(0.6, "little", lambda v: f"{v:.0f} N"),
    "drag": _times(2.0, "much", lambda v: f"{v:.3f} N·m"),
    "first mode": _times(0.82, "low", lambda v: f"{v:.1f} Hz"),
    "damping": _times(1.8, "high", lambda v: f"{v:.1%}"),
    "time base": lambda here, _sound: Seen(USUAL if here == 0 else "with gaps", f"{here} gaps in the record" if here else "no gap"),
    "drift": _more(GROWTH, "much"),
}
