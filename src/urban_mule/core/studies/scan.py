"""What a search tries: rows of the library, and many of them as arrays for one sheet.

Motor, supply, share of the current and reduction are an axis of the arrays each, in this order, so that what does not depend on the
supply is computed once for all supplies.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from urban_mule.core.motor.printed import CURVES
from urban_mule.core.motor.stepper import StepperWinding, as_wired
from urban_mule.core.sheet.given import givens
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import LINKS, Reduction

NO_REDUCTION = {"kind": "reduction", "ratio": 1.0, "efficiency": 1.0}
SPARE_VOLTAGE = 1.1  # of the supply that a driver takes, at least: the bus rises when an axis stops
WINDING = "running_winding"


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


def column(rows: Sequence[Mapping[str, Any]], name: str, missing: float = np.nan) -> np.ndarray:
    """One figure of every row as an array; `missing` where a row does not say it."""
    return np.array([missing if row.get(name) is None else row[name] for row in rows], dtype=float)


def as_tried(sheet: Sheet, row: Mapping[str, Any]) -> dict[str, Any]:
    """A row said so that it can stand in one array with others: for the wiring that is used, and with the winding that its printed
    curve fits in place of the curve.
    """
    if CURVES not in row:
        return as_wired(row)
    winding = sheet.solve(**_on(sheet, row)).get("running_winding")
    return as_wired({**row, CURVES: None, WINDING: winding}) if isinstance(winding, StepperWinding) else dict(row)


def alike_rows(motors: Sequence[Mapping[str, Any]], each: int) -> list[list[int]]:
    """Rows that say the same words and figures, since only numbers can stand in an array; about `each`."""
    groups: dict[frozenset[Any], list[int]] = {}
    for place, row in enumerate(motors):
        said = frozenset((name, _word(value)) for name, value in row.items() if value is not None and name != "name")
        groups.setdefault(said, []).append(place)
    return [part.tolist() for rows in groups.values() for part in np.array_split(rows, max(1, round(len(rows) / each)))]


def _word(value: Any) -> Any:
    """What of a value keeps rows apart: a word, or what is printed of one motor and of no other; a number does not."""
    return value if isinstance(value, str) else id(value) if isinstance(value, tuple) else None


def windings_of(motors: Sequence[Mapping[str, Any]]) -> dict[str, Any]:
    """What turns these motors, as a solution knows it, where their printed curves say it and not their figures."""
    if motors[0].get(WINDING) is None:
        return {}
    fields = [vars(row[WINDING]) for row in motors]
    return {WINDING: StepperWinding(**{name: column(fields, name)[:, None, None, None] for name in fields[0]})}


def _on(sheet: Sheet, row: Mapping[str, Any]) -> dict[str, Any]:
    """What of a row a sheet takes."""
    return {name: value for name, value in row.items() if name in sheet.inputs}


def as_arrays(sheet: Sheet, scan: Scan, motors: Sequence[Mapping[str, Any]]) -> dict[str, Any]:
    """What the sheet takes for these motors: an axis of the array each for motor, supply, current, then reduction."""
    given = _on(sheet, motors[0])
    for name, value in given.items():
        if isinstance(value, (int, float)):
            given[name] = column(motors, name)[:, None, None, None]
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


def driven_by(scan: Scan, beside: np.ndarray | None) -> dict[str, Any]:
    """What the sheet takes of the drivers that go with the combinations."""
    return {} if beside is None else {"voltage_drop": np.append(column(scan.drivers, "voltage_drop", 0.0), 0.0)[beside]}


def set_current(rated_peak: Any, share: Any) -> Any:
    """The peak current that a share of the rated peak current is [A]."""
    return rated_peak * share


RATING = ("rated_current", "rated_current_is", "wiring", "figures_for")


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
