"""From the parts library to a search on an axis, and what was found back into the document."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from urban_mule.core.motor.printed import CURVES
from urban_mule.core.motor.shaft import BRAKE
from urban_mule.core.motor.stepper import WIRINGS
from urban_mule.core.sheet.given import BadValue, givens
from urban_mule.core.sheet.progress import Progress
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.studies.ranking import Candidate
from urban_mule.core.studies.scan import Scan, set_current, with_reduction
from urban_mule.core.studies.search import Found, Rules, search
from urban_mule.core.subjects import axis_sheet
from urban_mule.core.train.links import Reduction
from urban_mule.store.document.base import RENAMED
from urban_mule.store.document.drivers import DriverModel
from urban_mule.store.document.edit import edited
from urban_mule.store.document.made import LINK_MODELS, MOTOR_MODELS
from urban_mule.store.document.once import OnceEach
from urban_mule.store.document.plain import plain
from urban_mule.store.document.printed import PrintedCurveModel, plain_curve
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.library.parts import BANKS, GIVENS, OF_THE_AXIS, Part, part_of
from urban_mule.store.solve import axis_inputs

WIRINGS_OF = {4: (), 6: ("half coil", "series"), 8: WIRINGS}
USUAL_SUPPLIES, RECTIFIED = (24.0, 36.0, 48.0, 60.0, 72.0), 310.0  # V; the mains behind its rectifier, which feeds one drive
REDUCTION_KEYS = tuple(one.name for one in givens(Reduction))


@record(frozen=True, eq=False)
class Space:
    """What is to be tried on an axis: kind of motor, parts, supplies [V], shares of the rated current.

    drivers: of which the cheapest that fits goes with each motor; empty where the axis keeps its own.
    """

    kind: str
    motors: tuple[Part, ...]
    reductions: tuple[Part, ...]
    supplies: tuple[float, ...]
    current_shares: tuple[float, ...] = (0.6, 0.7, 0.8, 0.9, 1.0)
    as_it_is: bool = True
    drivers: tuple[Part, ...] = ()

    @property
    def scan(self) -> Scan:
        """The space as rows; a motor with six or eight leads stands once for each way to wire it."""
        rows = [row for part in self.motors for row in wired_rows(part)]
        kept: tuple[dict[str, Any], ...] = ({},) if self.as_it_is else ()
        shares = self.current_shares if self.kind == "stepper" else (1.0,)
        return Scan(tuple(rows), (*kept, *(part.row for part in self.reductions)), self.supplies, shares,
                    tuple(part.row for part in self.drivers))


_curves_of = OnceEach(lambda part: tuple(PrintedCurveModel.model_validate(one).core for one in part.values.get(CURVES, ())))


def wired_rows(part: Part) -> list[dict[str, Any]]:
    """A motor as rows of a search: one, or one for each wiring its leads allow."""
    ways = WIRINGS_OF.get(int(part.values.get("leads", 4)), ()) if part.values.get("figures_for") else ()
    curves = _curves_of(part)
    row = {**part.row, **({CURVES: curves} if curves else {})}
    return [{**row, "wiring": way} for way in ways] or [{**row, "wiring": None, "figures_for": None}]


def bare_axis(axis: Axis, kind: str) -> Axis:
    """The axis with a motor of a kind of which nothing is known; its brake stays."""
    kept = {} if axis.motor is None else {name: getattr(axis.motor, name) for name in BRAKE}
    bare: Axis = axis.model_copy(update={"motor": MOTOR_MODELS[kind].model_validate({"kind": kind, **kept})})
    return bare


def search_inputs(project: Project, axis: Axis, kind: str, new_driver: bool = False) -> tuple[Sheet, dict[str, Any]]:
    """The sheet for a kind of motor and what the axis gives on it, without readings. Raises BadValue without a train.

    new_driver: what the axis' own driver is says nothing, since another takes its place.
    """
    bare = bare_axis(axis, kind)
    if new_driver and bare.driver is not None:
        bare = bare.model_copy(update={"driver": DriverModel.model_validate(_stays(bare.driver))})
    inputs = axis_inputs(project, bare)
    if not inputs["train"]:
        raise BadValue("the axis has no train yet; give it one on the Load stage")
    if not inputs["cycle"]:
        raise BadValue("the axis has no cycle yet; give it a move on the Load stage")
    return axis_sheet(axis.motion, kind), {name: value for name, value in inputs.items() if not name.endswith("_reading")}


def search_drives(project: Project, axis: Axis, space: Space, rules: Rules, progress: Progress) -> Found:
    """Search the space for drives of an axis. Raises BadValue, NotKnown, Cancelled."""
    sheet, inputs = search_inputs(project, axis, space.kind, bool(space.drivers))
    scan = space.scan
    if not scan.motors or not scan.supplies or not scan.reductions:
        raise BadValue("nothing is left to try: choose at least one motor, one supply and one way to reduce")
    return search(sheet, inputs, scan, rules, progress)


def with_candidate(project: Project, index: int, kind: str, found: Found, chosen: Candidate) -> Project:
    """The project with a candidate taken on an axis: motor, wiring, driver, supply, current and reduction; of a pair on
    both. Raises BadValue.
    """
    m, v, c, r = chosen.place
    row, axis = dict(found.scan.motors[m]), project.axes[index]
    model = MOTOR_MODELS[kind]
    kept = {name: getattr(axis.motor, name, None) for name in BRAKE}
    motor = {RENAMED.get(key, key): value for key, value in row.items() if RENAMED.get(key, key) in model.model_fields}
    if CURVES in motor:
        motor[CURVES] = [plain_curve(one) for one in motor[CURVES]]
    taken = edited(project, ("axes", index, "motor"), model.model_validate({"kind": kind, **kept, **motor}))
    if found.drivers is not None and found.drivers[m, v, c, r] >= 0:
        driver = driver_of(found, chosen)
        taken = edited(taken, ("axes", index, "driver"), driver_from(driver, axis.driver))
    volts = float(found.scan.supplies[v])
    taken = edited(taken, supply_place(project, index, volts), volts)
    if kind == "stepper":
        current = set_current(rated_peak(row), found.scan.current_shares[c])
        for place in project.places_sharing(index):
            taken = edited(taken, ("axes", place, "driver", "current_peak"), round(current, 4))
    reduction = found.scan.reductions[r]
    return edited(taken, ("axes", index, "train"), train_taking(axis, reduction)) if reduction else taken


def driver_of(found: Found, chosen: Candidate) -> Part:
    """The driver that goes with a candidate of a search over drivers."""
    assert found.drivers is not None
    return driver_at(found, int(found.drivers[chosen.place]))


def driver_at(found: Found, row: int) -> Part:
    """The driver in a row of a search."""
    said = dict(found.scan.drivers[row])
    return Part("driver", str(said["name"]), {key: value for key, value in said.items() if key not in ("kind", "name")})


def supply_place(project: Project, index: int, volts: float) -> tuple[str | int, ...]:
    """Where a supply taken for an axis is said: what rectifies the mains is a drive's own, the first one is for all axes."""
    if volts == RECTIFIED:
        return ("axes", index, "driver", "supply_voltage")
    named = any(project.supply_of(axis) is not None for axis in project.axes)
    return project.supply_path(index) if named else ("supply_voltage",)


def rated_peak(row: dict[str, Any]) -> float:
    """The rated peak current of a row of a search, as it is wired [A]."""
    names = ("rated_current", "rated_current_is", "wiring", "figures_for")
    return float(axis_sheet("linear", "stepper").solve(**{name: row.get(name) for name in names})["rated_current_peak"])


def train_taking(axis: Axis, reduction: Any) -> tuple[Any, ...]:
    """The train of an axis with a reduction of the library in place of its own, else in front."""
    kind = str(reduction.get("kind", "reduction"))
    link = LINK_MODELS[kind].model_validate(
        {"kind": kind, **{key: reduction[key] for key in REDUCTION_KEYS if reduction.get(key) is not None}})
    return with_reduction(tuple(axis.train or ()), link)


def driver_from(part: Part, kept: DriverModel | None) -> DriverModel:
    """The driver of the document that a part makes; what the axis sets on it, and its wiring, stay as they are. Raises BadValue."""
    return DriverModel.model_validate({**_stays(kept), "name": part.name, **{
        name: value for name, value in part.values.items() if name in DriverModel.model_fields}})


def _stays(kept: DriverModel | None) -> dict[str, Any]:
    """What of a driver stays when another takes its place: what the axis sets on it, and its wiring."""
    return {} if kept is None else {name: value for name, value in kept if name in (*OF_THE_AXIS, "terminals", "tolerances")}


def driver_part(name: str, driver: DriverModel, drives: str = "stepper") -> Part:
    """A driver of the document as a part of one's own. Raises BadValue for one of which too little is known."""
    banks = [plain(bank) for bank in driver.banks or ()] or [
        {"name": bank.name, "kind": bank.kind, "count": bank.count, "tables": [
            {"switches": list(table.switches), "rows": [
                {"positions": row.positions, "current_peak": row.current_peak} for row in table.rows]} for table in bank.tables]}
        for bank in driver.core_banks]
    values = {key: value for key, value in driver if key in GIVENS["driver"] and value is not None}
    return part_of({"kind": "driver", "name": name, "drives": drives, **values, **({BANKS: banks} if banks else {})})


def parts_of(parts: Iterable[Part], *kinds: str) -> tuple[Part, ...]:
    """The parts of some kinds."""
    return tuple(part for part in parts if part.kind in kinds)


def drivers_for(parts: Iterable[Part], kind: str) -> tuple[Part, ...]:
    """The drivers for a kind of motor."""
    return tuple(part for part in parts_of(parts, "driver") if part.values.get("drives", "stepper") == kind)


def supplies_of(project: Project, axis: Axis) -> tuple[float, ...]:
    """The supply there is: this axis' own, else those of the other axes of the project [V]; empty where none is known."""
    own, others = ({volts for one in axes if (volts := project.supply_of(one)) is not None} for axes in ((axis,), project.axes))
    return tuple(sorted(own or others))


def supplies_for(axis: Axis, kind: str) -> tuple[float, ...]:
    """The usual supplies for a kind of motor, as far as the driver of an axis takes them [V]; a servo's rectified mains too."""
    limit = None if axis.driver is None else axis.driver.voltage_limit
    return tuple(v for v in (*USUAL_SUPPLIES, *((RECTIFIED,) if kind == "servo" else ())) if limit is None or v <= limit)
