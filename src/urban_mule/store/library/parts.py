"""The parts library: motors, drivers, supplies, reductions, brakes that ship, and the user's own, as CSV or JSON to be extended.

CSV: the first row names the columns, with units in brackets; `kind` says what a row is: stepper, servo, driver, supply,
reduction, worm, brake. The switches and jumpers of a driver stand in the column `banks`, the curves of a motor in
`printed_curves`, as JSON. JSON: {"format": "urban-mule-parts/1", "parts": [{"kind": …, "name": …, …}]} in SI. A row that cannot be
taken is refused alone, with its line and the reason; the good rows are kept.
"""

from __future__ import annotations

import csv
import fcntl
import io
import json
import os
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from functools import cache
from importlib import resources
from pathlib import Path
from typing import Any

from urban_mule.core.drive.mains import Supply
from urban_mule.core.motor.datasheet import doubts
from urban_mule.core.motor.printed import CURVES
from urban_mule.core.motor.servo import ServoMotor
from urban_mule.core.motor.shaft import AnyMotor, FittedBrake
from urban_mule.core.motor.stepper import StepperMotor
from urban_mule.core.parts.figures import BrakeFigures, DriverFigures, MotorLeads, PartFigures
from urban_mule.core.sheet.given import BadValue, Given, givens, shown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.units import factor, unit_shown
from urban_mule.core.train.links import Reduction, Worm
from urban_mule.store.document.base import named
from urban_mule.store.document.drivers import Bank, DriverModel
from urban_mule.store.document.faults import Refused
from urban_mule.store.document.plain import plain
from urban_mule.store.document.printed import PrintedCurveModel
from urban_mule.store.places import data_place, made
from urban_mule.store.text_files import (
    MOST_FAULTS,
    BadFile,
    cell_text,
    csv_rows,
    from_file,
    heading,
    recognised_delimiter,
    text_cell,
    utf8,
    write_whole,
)

FORMAT = "urban-mule-parts/1"
LARGEST = 20e6
RECORDS: dict[str, tuple[type, ...]] = {
    "stepper": (StepperMotor, AnyMotor, MotorLeads, PartFigures), "servo": (ServoMotor, AnyMotor, PartFigures),
    "driver": (*DriverModel.records, DriverFigures, PartFigures), "supply": (Supply, PartFigures),
    "reduction": (Reduction, PartFigures), "worm": (Worm, PartFigures), "brake": (FittedBrake, BrakeFigures, PartFigures)}
NEEDED: dict[str, tuple[str, ...]] = {  # without which a row is of no use to anybody
    "stepper": ("holding_torque", "rated_current", "rotor_inertia", "step_angle"),
    "servo": ("rated_torque", "motor_peak_torque", "rotor_inertia"),
    "driver": ("current_limit", "voltage_limit"), "supply": ("supply_voltage", "supply_power"),
    "reduction": ("ratio",), "worm": ("ratio", "efficiency"), "brake": ("brake_torque",)}
ONE_OF: dict[str, tuple[tuple[str, ...], ...]] = {  # and one of these sets in full: what ends the torque at speed
    "stepper": (("phase_resistance", "phase_inductance"), (CURVES,)),
    "servo": (("rated_speed", "max_speed", "rated_voltage"),
              ("torque_constant_rms", "pole_pairs", "phase_resistance", "phase_inductance"), (CURVES,))}
OF_THE_AXIS = frozenset((  # what is set on a driver, or what it hangs on: of no use to another axis
    "supply_voltage", "current_peak", "microsteps", "hold_fraction", "sense_resistance_entered", "chopping", "changeover_speed",
    "bus_address", "electronic_gear_numerator", "electronic_gear_denominator", "cooling", "velocity_gain", "velocity_integral",
    "position_gain", "gains_by", "mode_damping", "notch_frequency", "notch_width", "notch_depth", "velocity_feedforward"))
OF_THE_MACHINE = frozenset((  # what is asked about supply and driver together, of no use to another machine
    "standing_load", "driver_efficiency", "phase_current_factor", "supply_headroom", "total_pulse_rate_limit", "shared_pulses"))
NOT_OF_A_PART = {"driver": OF_THE_AXIS, "supply": OF_THE_MACHINE}
GIVENS: dict[str, dict[str, Given]] = {
    kind: {one.name: one for record in records for one in givens(record) if one.name not in NOT_OF_A_PART.get(kind, ())}
    for kind, records in RECORDS.items()}
BANKS = "banks"
AS_JSON: dict[str, tuple[tuple[str, ...], Any]] = {  # columns that hold JSON: of which kinds, and what each of the list is
    BANKS: (("driver",), Bank), CURVES: (("stepper", "servo"), PrintedCurveModel)}
SHIPPED = ("steppers", "servos", "with_curves", "drivers", "servo_drivers", "supplies", "reductions", "brakes")
IN_CSV = {"phase_inductance": "mH"} | dict.fromkeys(("rotor_inertia", "inertia_in", "inertia_out", "brake_inertia"), "g·cm²")


@record(frozen=True, eq=False)
class Part:
    """One row: its kind, its name, its givens in SI (what is not known is left out), and whether the user added it."""

    kind: str
    name: str
    values: dict[str, Any]
    own: bool = False

    @property
    def row(self) -> dict[str, Any]:
        """Kind, name and values together, as a search takes them."""
        return {"kind": self.kind, "name": self.name, **self.values}


@record(frozen=True, eq=False)
class Parts:
    """What a file gave: the parts, the rows refused and why, and what looks odd of those that were kept."""

    parts: tuple[Part, ...]
    refused: tuple[str, ...] = ()
    doubtful: tuple[str, ...] = ()


def read_parts(path: Path, own: bool = True) -> Parts:
    """The parts in a CSV or JSON file. Raises BadFile when the file as a whole cannot be taken."""
    parse = parse_json if path.suffix.lower() == ".json" else parse_csv
    return from_file(path, LARGEST, lambda raw: parse(utf8(raw), own))


def parse_csv(text: str, own: bool = True) -> Parts:
    """The parts in a CSV text. Raises BadFile for a first row that is not one of columns."""
    delimiter = recognised_delimiter(text)
    lines = csv_rows(text, delimiter)
    _, head = next(lines, (1, []))
    if not {"kind", "name"} <= {cell.strip() for cell in head}:
        raise BadFile("line 1: the columns kind and name are needed in a parts list.")
    columns = [_column(cell) for cell in head]
    return _collected(((f"line {line}", _cells(columns, cells, delimiter)) for line, cells in lines), own)


def parse_json(text: str, own: bool = True) -> Parts:
    """The parts in a JSON text. Raises BadFile for a text that is not such a list."""
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as why:
        raise BadFile(f"this is not JSON: {str(why).split(';')[0].lower()}.") from None
    if not isinstance(data, dict) or data.get("format") != FORMAT or not isinstance(data.get("parts"), list):
        raise BadFile(f"the file holds no parts list; an object with format {FORMAT!r} and parts is needed.")
    return _collected(((f"parts[{place}]", row if isinstance(row, dict) else {}) for place, row in enumerate(data["parts"])), own)


def _column(cell: str) -> tuple[str, str]:
    """Name and unit of a column. Raises BadFile."""
    found = heading(cell)
    if found is None:
        raise BadFile(f"line 1: {shown(cell.strip())} is no column.")
    return found


def _cells(columns: list[tuple[str, str]], cells: list[str], delimiter: str) -> dict[str, Any]:
    """The cells of a row as values in SI; a text where a number cannot be read, so that the row is refused by name."""
    if len(cells) > len(columns):
        return {"": f"{len(cells)} columns where the first row names {len(columns)}"}
    row: dict[str, Any] = {}
    kind = dict(zip((name for name, _ in columns), cells, strict=False)).get("kind", "").strip()
    known = GIVENS.get(kind, {})
    for (name, unit), cell in zip(columns, cells, strict=False):
        text = cell.strip()
        if not text:
            continue
        one = known.get(name)
        if one is None or one.choices:
            row[name] = cell_text(text)
            continue
        try:
            row[name] = float(text.replace(",", ".") if delimiter != "," else text) * (factor(unit, one.unit) if unit else 1.0)
        except ValueError as why:  # of float, and BadValue of a unit that does not fit
            row[name] = str(why) if isinstance(why, BadValue) else f"{shown(text)} where a number is needed"
    return row


def _collected(rows: Iterable[tuple[str, dict[str, Any]]], own: bool) -> Parts:
    parts: list[Part] = []
    refused: list[str] = []
    doubtful: list[str] = []
    seen: dict[str, str] = {}
    for where, row in rows:
        try:
            part = part_of(row, own)
            if part.name in seen:
                raise BadValue(f"{shown(part.name)} stands already in {seen[part.name]}")
        except BadValue as why:
            refused.append(f"{where}: {why}.")
            if len(refused) == MOST_FAULTS:
                refused.append(f"After {MOST_FAULTS} faults the rest of the list was not looked at.")
                break
            continue
        seen[part.name] = where
        parts.append(part)
        doubtful += [f"{where}: {doubt.sentence}" for doubt in doubts(part.kind, part.values)]
    return Parts(tuple(parts), tuple(refused), tuple(doubtful))


def part_of(row: dict[str, Any], own: bool = True) -> Part:
    """A part from a row of values in SI. Raises BadValue with the field, what was given and what is allowed."""
    if "" in row:
        raise BadValue(str(row[""]))
    kind, name = row.get("kind"), row.get("name")
    if not isinstance(kind, str) or kind not in RECORDS:
        raise BadValue(f"kind is {shown(kind)}; allowed is one of {', '.join(RECORDS)}")
    try:
        named(name or "")
    except ValueError as why:
        raise BadValue(f"name {why}") from None
    known, values = GIVENS[kind], dict[str, Any]()
    for key, value in row.items():
        if key in ("kind", "name") or value is None:
            continue
        if key in AS_JSON:
            values |= {key: listed(key, value)} if kind in AS_JSON[key][0] else {}
            continue
        if key not in known:
            if str(key).startswith("x_") or any(key in others for others in GIVENS.values()):
                continue  # a column of another kind of part in the same list
            raise BadValue(f"{key} is not known of a {kind}")
        if isinstance(value, str) and not known[key].choices:
            raise BadValue(f"{key} is {value}")
        checked = known[key].check(value)
        values[key] = int(checked) if known[key].whole else checked
    sets = ONE_OF.get(kind, ((),))
    missing = [field for field in (*NEEDED[kind], *sets[0]) if field not in values]
    if missing and (missing[0] in NEEDED[kind] or not any(all(field in values for field in one) for one in sets)):
        either = " or ".join(", ".join(one) for one in sets)
        raise BadValue(f"{missing[0]} is not given; a {kind} needs {', '.join(NEEDED[kind])}{f', and {either}' if either else ''}")
    return Part(kind, str(name).strip(), values, own)


def listed(key: str, value: Any) -> list[dict[str, Any]]:
    """Banks of a driver or curves of a motor, from JSON text or from what it says; as the document writes them. Raises BadValue."""
    said = key.replace("_", " ")
    try:
        found = json.loads(value) if isinstance(value, str) else value
        if not isinstance(found, list):
            raise BadValue(f"{said} is no list")
        return [plain(AS_JSON[key][1].model_validate(one)) for one in found]
    except Refused as why:
        raise BadValue(f"{said}: {str(why).rstrip('.')}") from None
    except (ValueError, RecursionError) as why:
        raise BadValue(str(why) if isinstance(why, BadValue) else f"{said} is not JSON") from None


@cache
def shipped_parts() -> tuple[Part, ...]:
    """The parts that ship with the application."""
    folder = resources.files("urban_mule.store.library").joinpath("shipped")
    return tuple(
        part for name in SHIPPED
        for part in parse_csv(folder.joinpath(f"{name}.csv").read_text(encoding="utf-8"), own=False).parts)


def own_parts_file() -> Path:
    """Where the user's own parts are kept."""
    return data_place("parts.csv")


def own_parts() -> Parts:
    """The user's own parts; none when there is no file yet. Raises BadFile when it cannot be read."""
    path = own_parts_file()
    return read_parts(path) if path.is_file() else Parts(())


def all_parts() -> tuple[Part, ...]:
    """The user's own parts first, then those that ship, one of each name. Raises BadFile."""
    found = {part.name: part for part in (*own_parts().parts, *shipped_parts()) [::-1]}
    return tuple(reversed(found.values()))


def add_parts(parts: Iterable[Part]) -> None:
    """Keep parts among the user's own; one of the same name is replaced. Raises BadFile."""
    path = own_parts_file()
    made(path.parent)
    with _alone(path):  # another window may be adding parts at this moment
        kept = {part.name: part for part in own_parts().parts} | {part.name: part for part in parts}
        write_parts(path, kept.values())


@contextmanager
def _alone(path: Path) -> Iterator[None]:
    """Hold a list of parts while it is read and written again."""
    try:
        held = os.open(path.with_name(f".{path.name}.held"), os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
    except OSError as why:
        raise BadFile(f"{path}: the file cannot be written: {why.strerror or why}.") from None
    try:
        fcntl.flock(held, fcntl.LOCK_EX)
        yield
    finally:
        os.close(held)


def write_parts(path: Path, parts: Iterable[Part]) -> None:
    """Parts as CSV, or as JSON when the name ends so. Raises BadFile."""
    write_whole(path, parts_json(parts) if path.suffix.lower() == ".json" else parts_csv(parts))


def csv_unit(one: Given) -> str:
    """The unit in which a column is written: the one that data sheets print."""
    return IN_CSV.get(one.name) or ("" if one.unit == "" else unit_shown(one.unit, own=one.shown))


def parts_csv(parts: Iterable[Part]) -> str:
    """Parts as CSV text with the columns that any of them uses."""
    parts = tuple(parts)
    columns = {key: GIVENS[part.kind][key] for part in parts for key in part.values if key not in AS_JSON}
    units = {key: csv_unit(one) for key, one in columns.items()}
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    last = [key for key in AS_JSON if any(key in part.values for part in parts)]
    table.writerow(["kind", "name", *(f"{key} [{units[key]}]" if units[key] else key for key in columns), *last])
    for part in parts:
        lists = [json.dumps(part.values[key], ensure_ascii=False) if key in part.values else "" for key in last]
        cells = (_cell(part.values.get(key), one, units[key]) for key, one in columns.items())
        table.writerow([part.kind, text_cell(part.name), *cells, *lists])
    return out.getvalue()


def _cell(value: Any, one: Given, unit: str) -> str:
    if value is None or isinstance(value, str):
        return text_cell(value or "")
    return f"{value / factor(unit, one.unit):.12g}"


def parts_json(parts: Iterable[Part]) -> str:
    """Parts as JSON text, in SI."""
    rows = [{"kind": part.kind, "name": part.name, **part.values} for part in parts]
    return json.dumps({"format": FORMAT, "parts": rows}, indent=1, ensure_ascii=False) + "\n"
