"""Search for a drive: every motor × wiring × supply × current × reduction through the same sheet, many at once.

Each of the four is an axis of one array, so that what does not depend on the supply is computed once for all supplies.
Every combination that fails says which rule rejected it; the rest are ranked by the user's own order of wishes.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from typing import Any

import numpy as np

from urban_mule.core.load.link_loads import worst_efforts
from urban_mule.core.motor.margin import CAREFUL_FACTOR, COMFORTABLE_RATIO, SAFETY_FACTOR
from urban_mule.core.motor.printed import CURVES
from urban_mule.core.sheet.given import givens
from urban_mule.core.sheet.progress import Cancelled, Progress
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.wording import size
from urban_mule.core.studies.doubts import odds_over
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import LINKS, Reduction

PART = 16384  # combinations solved at once: they stay near the processor, and the search can be stopped between
WISHES = {  # what may be wished for: the figure, and whether more of it is better
    "margin": ("working_margin", True), "heat": ("heat", False), "inertia ratio": ("inertia_ratio", False),
    "price": ("price", False), "noise": ("noise_proxy", False), "mass": ("mass", False), "lead time": ("lead_time", False),
    "odds": ("odds", True)}
FIGURES = ("working_margin", "heat", "inertia_ratio", "noise_proxy", "mass", "price", "lead_time", "odds")
NO_REDUCTION = {"kind": "reduction", "ratio": 1.0, "efficiency": 1.0}
WIRING_FIELDS = ("wiring", "figures_for")


@record(frozen=True, eq=False, repr=False)
class Rules:
    """What a combination must hold; temperatures in °C. `frame` [m] is the largest flange that fits, or None."""

    safety_factor: float = SAFETY_FACTOR
    hottest: float = 105.0
    largest_ratio: float = 30.0
    frame: float | None = None


@record(frozen=True, eq=False, repr=False)
class Scan:
    """What is tried: rows of motors and of reductions as the library has them, supplies [V], shares of the rated current.

    motors: dictionaries of givens with name, mass [kg], price, lead_time [s], frame [m]; a motor with several wirings
    stands once for each. reductions: the same for reductions; the first may be empty: no reduction, or the one there is.
    drivers: of which the cheapest that fits goes with each combination; empty where the axis keeps its own.
    """

    motors: Sequence[Mapping[str, Any]]
    reductions: Sequence[Mapping[str, Any]]
    supplies: Sequence[float]
    current_shares: Sequence[float]
    drivers: Sequence[Mapping[str, Any]] = ()

    @property
    def shape(self) -> tuple[int, int, int, int]:
        return len(self.motors), len(self.supplies), len(self.current_shares), len(self.reductions)

    @property
    def size(self) -> int:
        return int(np.prod(self.shape))


@record(frozen=True, eq=False, repr=False)
class Found:
    """Every combination's figures, in the shape of the scan, and the rule that rejected it (-1: none did).

    drivers: the row of the driver that goes with it (-1: none fits), where drivers were searched.
    """

    scan: Scan
    rules: Rules
    figures: dict[str, np.ndarray]
    rejected_by: np.ndarray
    drivers: np.ndarray | None = None

    @property
    def accepted(self) -> np.ndarray:
        return np.asarray(self.rejected_by < 0)


Rule = Callable[[Solution, Rules, dict[str, Any]], Any]


def _current(solution: Solution, _rules: Rules, figures: dict[str, Any]) -> Any:
    if "driver" in figures:
        return figures["driver"] < 0
    limit = solution.inputs.get("current_limit")
    return False if limit is None else solution["current_peak"] > limit * (1 + 1e-9)


def _pulses(solution: Solution, _rules: Rules, _figures: dict[str, Any]) -> Any:
    limit = solution.inputs.get("max_pulse_rate")
    return False if limit is None or solution.get("pulse_rate") is None else solution["pulse_rate"] > limit


def _frame(_solution: Solution, rules: Rules, figures: dict[str, Any]) -> Any:
    return False if rules.frame is None else figures["frame"] > rules.frame * (1 + 1e-9)


def _rating(solution: Solution, _rules: Rules, _figures: dict[str, Any]) -> Any:
    train = solution["train"]
    place = place_of_reduction(train)
    if place is None or train[place].rated_torque is None:
        return False
    efforts = worst_efforts(train, solution["cycle_pieces"], solution["cycle_loads"], solution["travel_per_radian"])
    return efforts[place + 1] > train[place].rated_torque


def _continuous(solution: Solution, _rules: Rules, _figures: dict[str, Any]) -> Any:
    return solution["continuous_margin"] < 1 if "continuous_margin" in solution.sheet.quantities else False


SPARE_VOLTAGE = 1.1  # of the supply that a driver takes, at least: the bus rises when an axis stops
RULES: dict[str, Rule] = {  # in this order: the last that is reached tells how near a part came
    "frame size": _frame,
    "driver current": _current,
    "torque margin": lambda _s, rules, figures: ~(figures["working_margin"] >= rules.safety_factor),
    "continuous torque": _continuous,
    "winding temperature": lambda s, rules, figures: s["ambient_temperature"] + figures["heat"] > rules.hottest,  # nan: not known
    "inertia ratio": lambda _s, rules, figures: ~(figures["inertia_ratio"] <= rules.largest_ratio),
    "pulse rate": _pulses,
    "reduction rating": _rating,
}


NO_DRIVER = "no driver of the library gives its current at these supplies"
SAID = {
    "driver current": "even the least share of its current is more than the driver gives",
    "continuous torque": "the RMS torque is more than it may give all the time",
    "pulse rate": "the controller cannot make its pulses",
    "reduction rating": "the cycle asks more than any of the reductions carries",
}


def column(rows: Sequence[Mapping[str, Any]], name: str, missing: float = np.nan) -> np.ndarray:
    """One figure of every row as an array; `missing` where a row does not say it."""
    return np.array([missing if row.get(name) is None else row[name] for row in rows], dtype=float)


def search(sheet: Sheet, inputs: Mapping[str, Any], scan: Scan, rules: Rules, progress: Progress) -> Found:
    """Solve every combination of the scan on a sheet; inputs: what the axis gives, its own motor left out.

    Raises Cancelled when `progress` says so, NotKnown when the axis itself leaves the torque unknown.
    """
    shape = scan.shape
    figures = {name: np.full(shape, np.nan) for name in FIGURES}
    drivers = np.full(shape, -1, dtype=np.int16) if scan.drivers else None
    rejected = np.zeros(shape, dtype=np.int8)
    each = max(1, PART // max(1, shape[1] * shape[2] * shape[3]))
    done, trains = 0, trains_with(inputs["train"], scan.reductions)
    for rows in _alike(scan.motors, each):
        if not progress(done * scan.size // len(scan.motors), scan.size):
            raise Cancelled
        motors = [scan.motors[row] for row in rows]
        given = _inputs(sheet, inputs, scan, motors)
        beside = fitting_drivers(scan, motors, given) if scan.drivers else None
        given |= _driven(scan, beside)
        for columns, train in trains:
            solution = sheet.solve(**{**inputs, **given, "train": train})
            part = _figures(solution, scan, motors, columns, beside)
            failed = _failed(solution, rules, part, (len(rows), *shape[1:3], len(columns)))
            at = np.ix_(rows, range(shape[1]), range(shape[2]), columns)
            for name in FIGURES:
                figures[name][at] = part[name]
            rejected[at] = failed
            if drivers is not None:
                drivers[at] = np.broadcast_to(part["driver"], failed.shape)
        done += len(rows)
    progress(scan.size, scan.size)
    return Found(scan, rules, figures, rejected, drivers)


def _alike(motors: Sequence[Mapping[str, Any]], each: int) -> list[list[int]]:
    """Rows that say the same words (wiring and the like), since only numbers can stand in an array; at most `each`."""
    groups: dict[tuple[Any, ...], list[int]] = {}
    for place, row in enumerate(motors):
        words = tuple(sorted((name, value) for name, value in row.items() if isinstance(value, str) and name != "name"))
        curves = (id(row[CURVES]),) if CURVES in row else ()  # no two motors share what is printed of one
        groups.setdefault((*words, *curves, *(name for name in sorted(row) if row[name] is not None)), []).append(place)
    return [rows[first:first + each] for rows in groups.values() for first in range(0, len(rows), each)]


def _inputs(sheet: Sheet, inputs: Mapping[str, Any], scan: Scan, motors: Sequence[Mapping[str, Any]]) -> dict[str, Any]:
    """What the sheet takes for these motors: an axis of the array each for motor, supply, current, then reduction."""
    given: dict[str, Any] = {}
    for name in motors[0]:
        if name in sheet.inputs and name not in ("frame", "mass", "price", "lead_time"):
            value = motors[0][name]
            plain = isinstance(value, (str, tuple)) or value is None
            given[name] = value if plain else column(motors, name)[:, None, None, None]
    given["supply_voltage"] = np.array(scan.supplies, dtype=float)[None, :, None, None]
    if "current_peak" in sheet.inputs:
        rated = sheet.solve(**{name: given[name] for name in given if name in RATING})["rated_current_peak"]
        given["current_peak"] = set_current(rated, np.array(scan.current_shares, dtype=float)[None, None, :, None])
    return given


def fitting_drivers(scan: Scan, motors: Sequence[Mapping[str, Any]], given: Mapping[str, Any]) -> np.ndarray:
    """For each of these motors, supplies and shares the row of the cheapest driver that bears both, -1 where none does."""
    current = given.get("current_peak")
    if current is None:
        torque, constant = (column(motors, name)[:, None, None, None] for name in ("motor_peak_torque", "torque_constant_rms"))
        current = servo_current(torque, constant)
    voltage = given["supply_voltage"]
    found = np.full(np.broadcast_shapes(np.shape(current), np.shape(voltage)), -1, dtype=np.int16)
    for row in reversed(by_price(scan.drivers)):  # the cheapest is written last
        found = np.where(bears(scan.drivers[row], current, voltage), np.int16(row), found)
    return found


def servo_current(motor_peak_torque: Any, torque_constant_rms: Any) -> Any:
    """The peak current of a servo's peak torque [A]; torque [N·m], constant [N·m/A RMS]."""
    return math.sqrt(2.0) * motor_peak_torque / torque_constant_rms


def by_price(drivers: Sequence[Mapping[str, Any]]) -> list[int]:
    """The rows of drivers, the cheapest first."""
    price, limits = column(drivers, "price", np.inf), column(drivers, "current_limit")
    return sorted(range(len(drivers)), key=lambda row: (price[row], limits[row]))


def bears(driver: Mapping[str, Any], current: Any, voltage: Any) -> Any:
    """Whether a driver gives a peak current [A] at a supply [V], with something to spare for what comes back at a stop."""
    with np.errstate(invalid="ignore"):
        enough = current <= driver["current_limit"] * (1 + 1e-9)
    return enough & (SPARE_VOLTAGE * voltage <= driver["voltage_limit"] * (1 + 1e-9))


def _driven(scan: Scan, beside: np.ndarray | None) -> dict[str, Any]:
    """What the sheet takes of the drivers that go with the combinations."""
    return {} if beside is None else {"voltage_drop": np.append(column(scan.drivers, "voltage_drop", 0.0), 0.0)[beside]}


def set_current(rated_peak: Any, share: Any) -> Any:
    """The peak current that a share of the rated peak current is [A]."""
    return rated_peak * share


RATING = ("rated_current", "rated_current_is", *WIRING_FIELDS)


def place_of_reduction(train: tuple[Any, ...]) -> int | None:
    """Where the reduction or the worm of a train stands, or None. train: of records, or as a document has it."""
    return next((place for place, link in enumerate(train) if issubclass(LINKS[link.kind], Reduction)), None)


def trains_with(train: tuple[Link, ...], reductions: Sequence[Mapping[str, Any]]) -> list[tuple[list[int], tuple[Link, ...]]]:
    """The train with these reductions, in place of the one there is, else in front: each train with the rows that it is for.

    An empty row is the train as it is: its own reduction, or where it has none one that changes nothing. Those of one kind that
    say the same of their back efficiency stand in one train, as arrays.
    """
    place = place_of_reduction(train)
    own = NO_REDUCTION if place is None else {"kind": train[place].kind, **{
        one.name: value for one in givens(type(train[place])) if (value := getattr(train[place], one.name)) is not None}}
    reductions = [row or own for row in reductions]
    groups: dict[tuple[str, bool], list[int]] = {}
    for number, row in enumerate(reductions):
        groups.setdefault((str(row.get("kind", "reduction")), row.get("back_efficiency") is not None), []).append(number)
    return [(numbers, with_reduction(train, _together(kind, [reductions[n] for n in numbers])))
            for (kind, _), numbers in groups.items()]


def with_reduction(train: tuple[Any, ...], reduction: Any) -> tuple[Any, ...]:
    """The train with a reduction in place of the one there is, else in front."""
    place = place_of_reduction(train)
    return (reduction, *train) if place is None else (*train[:place], reduction, *train[place + 1:])


def _together(kind: str, rows: Sequence[Mapping[str, Any]]) -> Link:
    """Reductions of one kind as one whose fields are arrays, on the last axis of a scan; what no row says is left out."""
    made = LINKS[kind]
    fields = {one.name: one for one in givens(made)}
    said = [name for name in fields if any(row.get(name) is not None for row in rows)]
    missing = {name: np.nan if one.default is None else one.default for name, one in fields.items()} | {"rated_torque": np.inf}
    return made(**{name: column(rows, name, missing[name]) for name in said})


def _figures(
    solution: Solution, scan: Scan, motors: Sequence[Mapping[str, Any]], columns: Sequence[int], beside: np.ndarray | None
) -> dict[str, Any]:
    """The figures of a part of the scan, each broadcasting to its shape; columns: the rows of the reductions that it is for."""
    found: dict[str, Any] = {name: solution[name] for name in ("working_margin", "inertia_ratio", "noise_proxy")}
    found["heat"] = solution.get("cycle_temperature_rise", np.nan)  # a sparse data sheet says nothing of it
    found["odds"] = odds_over(solution, found["working_margin"], found["inertia_ratio"])
    reductions = [scan.reductions[number] for number in columns]
    for name in ("mass", "price", "lead_time"):
        found[name] = column(motors, name)[:, None, None, None] + column(reductions, name, 0.0)
    found["frame"] = column(motors, "frame", 0.0)[:, None, None, None]
    if beside is not None:
        found["driver"] = beside
        found["price"] = found["price"] + np.append(column(scan.drivers, "price"), np.nan)[beside]
    return found


def _failed(solution: Solution, rules: Rules, figures: dict[str, Any], shape: tuple[int, ...]) -> np.ndarray:
    """For each combination the first rule that it breaks, -1 where it breaks none."""
    failed = np.full(shape, -1, dtype=np.int8)
    with np.errstate(all="ignore"):
        for number, rule in enumerate(RULES.values()):
            broken = np.broadcast_to(rule(solution, rules, figures), shape)
            failed[broken & (failed < 0)] = number
    return failed


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
