"""Search for a drive: every motor × wiring × supply × current × reduction through the same sheet, many at once.

Every combination that fails says which rule rejected it; what is left is ranked elsewhere.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

import numpy as np

from urban_mule.core.motor.margin import SAFETY_FACTOR
from urban_mule.core.sheet.progress import Cancelled, Progress
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.doubts import odds_over
from urban_mule.core.studies.scan import (
    Scan,
    alike_rows,
    as_arrays,
    as_tried,
    column,
    driven_by,
    fitting_drivers,
    place_of_reduction,
    trains_with,
    windings_of,
)

PART = 32768  # combinations solved at once: they stay near the processor, and the search can be stopped between
FIGURES = ("working_margin", "heat", "inertia_ratio", "noise_proxy", "mass", "price", "lead_time", "odds")


@record(frozen=True, eq=False, repr=False)
class Rules:
    """What a combination must hold; temperatures in °C. `frame` [m] is the largest flange that fits, or None."""

    safety_factor: float = SAFETY_FACTOR
    hottest: float = 105.0
    largest_ratio: float = 30.0
    frame: float | None = None


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
    return solution["worst_efforts"][place + 1] > train[place].rated_torque


def _continuous(solution: Solution, _rules: Rules, _figures: dict[str, Any]) -> Any:
    return solution["continuous_margin"] < 1 if "continuous_margin" in solution.sheet.quantities else False


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


def search(sheet: Sheet, inputs: Mapping[str, Any], scan: Scan, rules: Rules, progress: Progress) -> Found:
    """Solve every combination of the scan on a sheet; inputs: what the axis gives, its own motor left out.

    Raises Cancelled when `progress` says so, NotKnown when the axis itself leaves the torque unknown.
    """
    shape = scan.shape
    figures = {name: np.empty(shape) for name in FIGURES}
    drivers = np.full(shape, -1, dtype=np.int16) if scan.drivers else None
    rejected = np.empty(shape, dtype=np.int8)
    each = max(1, PART // max(1, shape[1] * shape[2] * shape[3]))
    trains = trains_with(inputs["train"], scan.reductions)
    said = [as_tried(sheet, row) for row in scan.motors]
    solved = [sheet.solve(**{**inputs, "train": train}) for _, train in trains]
    names = {name for row in said for name in row if name in sheet.inputs}
    unsaid = {name: inputs.get(name, sheet.inputs[name].default) for name in names}  # of a motor that leaves it out
    done = 0
    for rows in alike_rows(said, each):
        if not progress(done * scan.size // len(said), scan.size):
            raise Cancelled
        motors = [said[row] for row in rows]
        given = unsaid | as_arrays(sheet, scan, motors)
        beside = fitting_drivers(scan, motors, given) if scan.drivers else None
        given |= driven_by(scan, beside)
        windings = windings_of(motors)
        for number, (columns, _) in enumerate(trains):
            solution = solved[number] = solved[number].changed(**given)  # what the motor changes nothing of stays for the next ones
            if windings:
                solution = solution.knowing(**windings)
            part = _figures(solution, scan, motors, columns, beside)
            failed = _failed(solution, rules, part, (len(rows), *shape[1:3], len(columns)))
            at = rows if len(trains) == 1 else np.ix_(rows, range(shape[1]), range(shape[2]), columns)
            for name in FIGURES:
                figures[name][at] = part[name]
            rejected[at] = failed
            if drivers is not None:
                drivers[at] = np.broadcast_to(part["driver"], failed.shape)
        done += len(rows)
    progress(scan.size, scan.size)
    return Found(scan, rules, figures, rejected, drivers)


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
        for number, rule in reversed(list(enumerate(RULES.values()))):  # the first is written last
            np.copyto(failed, np.int8(number), where=rule(solution, rules, figures))
    return failed
