"""From the parts library to a search on an axis, and what was found back into the document."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from urban_mule.core.motor.shaft import BRAKE
from urban_mule.core.motor.stepper import WIRINGS
from urban_mule.core.sheet.given import BadValue, givens
from urban_mule.core.sheet.progress import Progress
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.studies.search import Candidate, Found, Rules, Scan, search, set_current, with_reduction
from urban_mule.core.subjects import axis_sheet
from urban_mule.core.train.links import Reduction
from urban_mule.store.document.base import RENAMED
from urban_mule.store.document.drivers import DriverModel
from urban_mule.store.document.edit import edited
from urban_mule.store.document.made import LINK_MODELS, MOTOR_MODELS
from urban_mule.store.document.plain import plain
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.library.parts import BANKS, GIVENS, OF_THE_AXIS, Part, part_of
from urban_mule.store.solve import axis_inputs

WIRINGS_OF = {4: (), 6: ("half coil", "series"), 8: WIRINGS}
REDUCTION_KEYS = tuple(one.name for one in givens(Reduction))


@dataclass(frozen=True, eq=False)
class Space:
    """What is to be tried on an axis: kind of motor, parts, supplies [V], shares of the rated current."""

    kind: str
    motors: tuple[Part, ...]
    reductions: tuple[Part, ...]
    supplies: tuple[float, ...]
    current_shares: tuple[float, ...] = (0.6, 0.7, 0.8, 0.9, 1.0)
    as_it_is: bool = True

    @property
    def scan(self) -> Scan:
        """The space as rows; a motor with six or eight leads stands once for each way to wire it."""
        rows = [row for part in self.motors for row in wired_rows(part)]
        kept: tuple[dict[str, Any], ...] = ({},) if self.as_it_is else ()
        shares = self.current_shares if self.kind == "stepper" else (1.0,)
        return Scan(tuple(rows), (*kept, *(part.row for part in self.reductions)), self.supplies, shares)


def wired_rows(part: Part) -> list[dict[str, Any]]:
    """A motor as rows of a search: one, or one for each wiring its leads allow."""
    ways = WIRINGS_OF.get(int(part.values.get("leads", 4)), ()) if part.values.get("figures_for") else ()
    return [{**part.row, "wiring": way} for way in ways] or [{**part.row, "wiring": None, "figures_for": None}]


def bare_axis(axis: Axis, kind: str) -> Axis:
    """The axis with a motor of a kind of which nothing is known; its brake stays."""
    kept = {} if axis.motor is None else {name: getattr(axis.motor, name) for name in BRAKE}
    bare: Axis = axis.model_copy(update={"motor": MOTOR_MODELS[kind].model_validate({"kind": kind, **kept})})
    return bare


def search_inputs(project: Project, axis: Axis, kind: str) -> tuple[Sheet, dict[str, Any]]:
    """The sheet for a kind of motor and what the axis gives on it, without readings. Raises BadValue without a train."""
    bare = bare_axis(axis, kind)
    inputs = axis_inputs(project, bare)
    if not inputs["train"]:
        raise BadValue("the axis has no train yet; give it one on the Load stage")
    if not inputs["cycle"]:
        raise BadValue("the axis has no cycle yet; give it a move on the Load stage")
    return axis_sheet(axis.motion, kind), {name: value for name, value in inputs.items() if not name.endswith("_reading")}


def search_drives(project: Project, axis: Axis, space: Space, rules: Rules, progress: Progress) -> Found:
    """Search the space for drives of an axis. Raises BadValue, NotKnown, Cancelled."""
    sheet, inputs = search_inputs(project, axis, space.kind)
    scan = space.scan
    if not scan.motors or not scan.supplies or not scan.reductions:
        raise BadValue("nothing is left to try: choose at least one motor, one supply and one way to reduce")
    return search(sheet, inputs, scan, rules, progress)


def with_candidate(project: Project, index: int, kind: str, found: Found, chosen: Candidate) -> Project:
    """The project with a candidate taken on an axis: motor, wiring, supply, current and reduction. Raises BadValue."""
    m, v, c, r = chosen.place
    row, axis = dict(found.scan.motors[m]), project.axes[index]
    model = MOTOR_MODELS[kind]
    kept = {name: getattr(axis.motor, name, None) for name in BRAKE}
    motor = {RENAMED.get(key, key): value for key, value in row.items() if RENAMED.get(key, key) in model.model_fields}
    taken = edited(project, ("axes", index, "motor"), model.model_validate({"kind": kind, **kept, **motor}))
    taken = edited(taken, project.supply_path(index), float(found.scan.supplies[v]))
    if kind == "stepper":
        current = set_current(rated_peak(row), found.scan.current_shares[c])
        taken = edited(taken, ("axes", index, "driver", "current_peak"), round(current, 4))
    reduction = found.scan.reductions[r]
    return edited(taken, ("axes", index, "train"), train_taking(axis, reduction)) if reduction else taken


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
    stays = {} if kept is None else {name: value for name, value in kept if name in (*OF_THE_AXIS, "terminals", "tolerances")}
    return DriverModel.model_validate({**stays, "name": part.name, **{
        name: value for name, value in part.values.items() if name in DriverModel.model_fields}})


def driver_part(name: str, driver: DriverModel) -> Part:
    """A driver of the document as a part of one's own. Raises BadValue for one of which too little is known."""
    banks = [plain(bank) for bank in driver.banks or ()] or [
        {"name": bank.name, "kind": bank.kind, "count": bank.count, "tables": [
            {"switches": list(table.switches), "rows": [
                {"positions": row.positions, "current_peak": row.current_peak} for row in table.rows]} for table in bank.tables]}
        for bank in driver.core_banks]
    values = {key: value for key, value in driver if key in GIVENS["driver"] and value is not None}
    return part_of({"kind": "driver", "name": name, **values, **({BANKS: banks} if banks else {})})


def parts_of(parts: Iterable[Part], *kinds: str) -> tuple[Part, ...]:
    """The parts of some kinds."""
    return tuple(part for part in parts if part.kind in kinds)


def supplies_of(project: Project, axis: Axis) -> tuple[float, ...]:
    """The supply there is: this axis' own, else those of the other axes of the project [V]; empty where none is known."""
    own, others = ({volts for one in axes if (volts := project.supply_of(one)) is not None} for axes in ((axis,), project.axes))
    return tuple(sorted(own or others))


def supplies_for(axis: Axis, usual: Sequence[float] = (24.0, 36.0, 48.0, 60.0, 72.0)) -> tuple[float, ...]:
    """The usual supplies that the driver of an axis takes [V]."""
    limit = None if axis.driver is None else axis.driver.voltage_limit
    return tuple(v for v in usual if limit is None or v <= limit)
