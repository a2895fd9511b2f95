"""What a search found, ranked by the user's own order of wishes, and what of the library had no chance and why."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from urban_mule.core.motor.margin import CAREFUL_FACTOR, COMFORTABLE_RATIO
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.wording import size
from urban_mule.core.studies.search import RULES, Found, Rules

WISHES = {  # what may be wished for: the figure, and whether more of it is better
    "margin": ("working_margin", True), "heat": ("heat", False), "inertia ratio": ("inertia_ratio", False),
    "price": ("price", False), "noise": ("noise_proxy", False), "mass": ("mass", False), "lead time": ("lead_time", False),
    "odds": ("odds", True)}
NO_DRIVER = "no driver of the library gives its current at these supplies"
SAID = {
    "driver current": "even the least share of its current is more than the driver gives",
    "continuous torque": "the RMS torque is more than it may give all the time",
    "pulse rate": "the controller cannot make its pulses",
    "reduction rating": "the cycle asks more than any of the reductions carries",
}


def enough(rules: Rules) -> float:
    """The margin beyond which more of it is no wish: what is asked for, or the careful school's where that is more."""
    return max(rules.safety_factor, CAREFUL_FACTOR)


def scores(found: Found, wishes: Sequence[str]) -> np.ndarray:
    """How well each accepted combination meets the wishes, from 0 to 1; nan for those rejected.

    wishes: names of WISHES, the most important first. Each counts twice the next; a wish is met by rank among the
    accepted, so that grams and kelvins can be weighed against each other.
    """
    accepted = np.flatnonzero(found.accepted)
    total, weights = np.zeros(accepted.size), 0.0
    for number, wish in enumerate(wishes):
        name, more = WISHES[wish]
        values = found.figures[name].ravel()[accepted]
        if wish == "margin":
            values = np.minimum(values, enough(found.rules))
        elif wish == "inertia ratio":
            values = np.maximum(values, COMFORTABLE_RATIO)  # below it less is no wish
        values = np.where(np.isnan(values), -np.inf if more else np.inf, values)
        _, rank, count = np.unique(values if more else -values, return_inverse=True, return_counts=True)
        below = np.concatenate([[0], np.cumsum(count)[:-1]])[rank]
        total += 0.5**number * below / max(1, accepted.size - 1)
        weights += 0.5**number
    score = np.full(found.rejected_by.size, np.nan)
    score[accepted] = total / (weights or 1.0)
    return score.reshape(found.scan.shape)


@record(frozen=True, eq=False, repr=False)
class Candidate:
    """One combination: its places in the scan, its score, and its figures by name."""

    place: tuple[int, int, int, int]
    score: float
    figures: dict[str, float]


def candidate(found: Found, place: tuple[int, ...], score: float = np.nan) -> Candidate:
    """The combination at a place of the scan."""
    m, v, c, r = (int(one) for one in place)
    return Candidate((m, v, c, r), float(score), {name: float(array[m, v, c, r]) for name, array in found.figures.items()})


def best_of_each_part(found: Found, wishes: Sequence[str]) -> list[Candidate]:
    """The best combination of every motor that has one, the best first; wirings of one motor count as one part."""
    score = scores(found, wishes)
    best: dict[str, Candidate] = {}
    flat = score.reshape(len(found.scan.motors), -1)
    for row, motor in enumerate(found.scan.motors):
        if np.all(np.isnan(flat[row])):
            continue
        place = np.unravel_index(int(np.nanargmax(flat[row])), found.scan.shape[1:])
        one = candidate(found, (row, *(int(p) for p in place)), float(np.nanmax(flat[row])))
        name = str(motor["name"])
        if name not in best or one.score > best[name].score:
            best[name] = one
    return sorted(best.values(), key=lambda one: -one.score)


@record(frozen=True, eq=False, repr=False)
class Rejection:
    """A part with no combination left: the rule that rejected the one that came nearest, and how near it came."""

    name: str
    rule: str
    sentence: str


def rejected_parts(found: Found) -> list[Rejection]:
    """Every motor without an accepted combination, with the rule that rejected the nearest of them and its figure."""
    names: dict[str, list[int]] = {}
    for row, motor in enumerate(found.scan.motors):
        names.setdefault(str(motor["name"]), []).append(row)
    return [_rejection(found, name, rows) for name, rows in names.items() if not np.any(found.accepted[rows])]


def _rejection(found: Found, name: str, rows: list[int]) -> Rejection:
    by = found.rejected_by[rows]
    number = int(by.max())
    rule, near = list(RULES)[number], by == number
    rules = found.rules
    best = {key: array[rows][near] for key, array in found.figures.items()}
    match rule:
        case "torque margin":
            if np.all(np.isnan(best["working_margin"])):
                return Rejection(name, rule, f"{rule}: its printed curve fits no winding and is for another supply or current")
            margin = float(np.nanmax(best["working_margin"]))
            said = f"at best {size(margin)} times the torque needed, {size(rules.safety_factor)} wanted"
        case "winding temperature":
            said = f"at best {size(float(best['heat'].min()))} K of rise, {size(rules.hottest)} °C allowed"
        case "inertia ratio":
            said = f"at best {size(float(best['inertia_ratio'].min()))} to 1, {size(rules.largest_ratio)} to 1 allowed"
        case "frame size":
            said = f"larger than the {size((rules.frame or 0.0) * 1e3)} mm that fit"
        case "driver current" if found.scan.drivers:
            said = NO_DRIVER
        case _:
            said = SAID[rule]
    return Rejection(name, rule, f"{rule}: {said}")
