"""Tables of other layouts, read by a mapping that says what each column is; what a table leaves out is counted or followed."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Iterator
from contextlib import suppress
from dataclasses import asdict, field
from datetime import datetime
from functools import cache
from typing import Any

import numpy as np

from urban_mule.core.readings.kind import ReadingKind
from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import shown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.units import SPELLINGS
from urban_mule.store.exchange.csv_readings import DIRECTION, REPEAT, Row, long_table, made, side_by_side, wide_table
from urban_mule.store.text_files import LONGEST_HEADING, BadFile, may_be_a_row

DELIMITERS = {";": "semicolon", "\t": "tab", "|": "bar", ",": "comma", " ": "blanks"}
DECIMALS = {".": "point", ",": "comma"}
COMMENT = re.compile(r"^\s*(#|%|//|!|\*)+\s*")
CLOCK, UNSAID = "clock time", "?"
CLOCKS = ("%H:%M:%S", "%H:%M", "%Y-%m-%d %H:%M:%S", "%Y-%m-%dT%H:%M:%S", "%d.%m.%Y %H:%M:%S", "%m/%d/%Y %H:%M:%S")
DAY = 86_400.0
OTHER_UNITS = {"sec": "s", "secs": "s", "seconds": "s", "msec": "ms", "inches": "in", "micron": "µm",
               "microns": "µm", "newton": "N"}  # beside the spellings that a field takes
OTHER_SIDES = (("1", "+1", "forward", "fwd", "f", "rising", "push"),
               ("-1", "backward", "back", "b", "reverse", "rev", "r", "falling", "pull"))
PLACED = "place reached"  # a column of places, of which the deviations are made
LONGEST_NUMBER = 60  # characters of a cell that are looked at: more is no number
NUMBER = re.compile(r"^(?P<number>[-+−]?[\d.,'’\s]*\d[\d.,'’\s]*(?:[eE][-+]?\d+)?)\s*(?P<unit>[^\d\s.,].*)?$")


@record(frozen=True)
class Mapping:
    """How a table is read: its first and last line of numbers, its signs, and for each column what it is and its unit.

    columns: role and unit of each column from the left, the role empty for a column that is left out. once: what no column
    says and a person does, in SI. turned: the sign of what the gauge read is turned. last: 0 for the end of the file.
    """

    kind: str
    delimiter: str = ","
    decimal: str = "."
    first: int = 1
    last: int = 0
    columns: tuple[tuple[str, str], ...] = ()
    headings: tuple[str, ...] = ()
    once: dict[str, float] = field(default_factory=dict)
    turned: bool = False

    @property
    def header(self) -> str:
        """What such tables are known by again."""
        return DELIMITERS[self.delimiter] + "|" + "|".join(one.strip().lower() for one in self.headings)

    def as_json(self) -> dict[str, Any]:
        """The mapping as plain data."""
        return asdict(self)


def mapping_from(data: Any) -> Mapping | None:
    """A mapping from plain data, or None where it is none."""
    try:
        found = Mapping(**{**data, "columns": tuple((str(role), str(unit)) for role, unit in data["columns"]),
                           "headings": tuple(map(str, data["headings"]))})
    except (TypeError, ValueError, KeyError):
        return None
    if not all(isinstance(one, str) for one in (found.kind, found.delimiter, found.decimal)):
        return None
    return found if found.kind in reading_kinds() and found.delimiter in DELIMITERS and found.decimal in DECIMALS else None


@cache
def roles(kind: str) -> dict[str, str]:
    """What a column may be for a kind of reading, with its SI unit."""
    declared = reading_kinds()[kind]
    units = {one.name: one.given.unit for one in declared.columns if one.shape != "text"}
    tables = [one for one in declared.columns if one.shape == "rows"]
    if declared.wide or not tables:
        return units
    over = next(one for one in declared.columns if one.shape == "list")
    unit = tables[0].given.unit
    found = {declared.item: over.given.unit, declared.cell: unit}
    if declared.cell == "deviation":
        found[PLACED] = unit
    if len(tables) > 1:
        found |= {DIRECTION: "", **{one.name: unit for one in tables}}
    return {**found, REPEAT: "", **{one.name: one.given.unit for one in declared.columns if one.shape == "one"}}


def units_of(kind: str, role: str) -> tuple[str, ...]:
    """The units that a column of this role may be in."""
    unit = roles(kind).get(role, "")
    return tuple(one for one in units.units_of(unit) if one) + ((CLOCK,) if unit == "s" else ())


def lines_of(text: str) -> Iterator[tuple[int, str]]:
    """Number and text of every line that holds anything. Raises BadFile for one that is no row."""
    for number, line in enumerate(text.splitlines(), start=1):
        may_be_a_row(number, line)
        if line.strip():
            yield number, line


def split(line: str, delimiter: str) -> list[str]:
    """The cells of a line."""
    if delimiter == " ":
        return line.split()
    if '"' in line:
        import csv

        with suppress(csv.Error):  # a cell without end is none that is quoted
            return [cell.strip() for cell in next(csv.reader([line], delimiter=delimiter, skipinitialspace=True))]
    return [cell.strip() for cell in line.split(delimiter)]


def seconds_of(cell: str) -> float | None:
    """A clock time or a date with one, in seconds; None for anything else."""
    told = re.match(r"^(.*\d:\d\d)(?:[.,](\d+))?Z?$", cell.strip())
    if told is None:
        return None
    whole, part = told[1], told[2] or ""
    for form in CLOCKS:
        try:
            found = datetime.strptime(whole, form)
        except ValueError:
            continue
        return (found - datetime(1900, 1, 1)).total_seconds() + float(f"0.{part or 0}")
    return None


def plain_number(text: str, decimal: str) -> float | None:
    """A number as people and programs write it, groups of three digits apart or not; None where it is none."""
    bare = re.sub(r"[\s'’]", "", text.replace("−", "-"))
    other = "." if decimal == "," else ","
    if other in bare:
        if not re.match(rf"^[-+]?\d{{1,3}}(\{other}\d{{3}})+(\{decimal}\d*)?$", bare):
            return None
        bare = bare.replace(other, "")
    try:
        value = float(bare.replace(decimal, "."))
    except ValueError:
        return None
    return value if np.isfinite(value) else None


@cache
def _all_units() -> dict[str, str]:
    every = {column.given.unit for kind in reading_kinds().values() for column in kind.columns}
    return {unit.lower(): unit for si in sorted(every) for unit in units.units_of(si) if unit} | OTHER_UNITS


def known_unit(text: str) -> str:
    """The unit that a text names, or an empty one."""
    spelt = text.strip()
    return _all_units().get(SPELLINGS.get(spelt, spelt).replace("μ", "µ").lower(), "")


def name_and_unit(heading: str) -> tuple[str, str]:
    """Name and unit of a heading: `name [unit]`, `name (unit)`, `name / unit`, `name in unit`, `name, unit`, `name_unit`."""
    if len(heading) > LONGEST_HEADING:
        return heading, ""
    for form in (r"^(.*?)\s*[\[(](.*?)[\])]\s*$", r"^(.*\S)\s*/\s*(\S+)$", r"^(.*\S)\s+in\s+(\S+)$", r"^(.*\S)\s*,\s*(\S+)$",
                 r"^(.*\S)[_ ](\S+)$"):
        found = re.match(form, heading)
        if found and (unit := known_unit(found[2])):
            return found[1], unit
    return heading, ""


def lacking(mapping: Mapping) -> list[str]:
    """What is still to be said before the table can be read, a sentence each."""
    declared, found = reading_kinds()[mapping.kind], [role for role, _ in mapping.columns if role]
    said = [f"Column {place}: its unit is not said." for place, (_, unit) in enumerate(mapping.columns, start=1) if unit == UNSAID]
    if declared.item:
        sides = [one.name for one in declared.columns if one.shape == "rows"]
        cells = {declared.cell, PLACED, *(sides if len(sides) > 1 else ())}
        said += [] if declared.item in found else [f"No column is the {declared.item}."]
        said += [] if cells & set(found) else [f"No column is the {declared.cell}."]
    else:
        said += [f"Nothing says the {one.name.replace('_', ' ')}." for one in declared.columns
                 if one.needed and one.name not in found and one.name not in mapping.once]
    many = {"values", *(one.name for one in declared.columns if one.shape == "rows")}
    twice = [role for role, count in Counter(found).items() if count > 1 and role not in many]
    return said + [f"Two columns are the {role}." for role in twice]


def rows_of(text: str, mapping: Mapping) -> Iterator[tuple[int, list[str]]]:
    """Line and cells of every row that is read."""
    for number, line in lines_of(text):
        if number >= mapping.first and (not mapping.last or number <= mapping.last) and not COMMENT.match(line):
            yield number, split(line, mapping.delimiter)


def read_mapped(text: str, mapping: Mapping) -> Any:
    """The readings in a table of another layout. Raises BadFile with the line and the fault."""
    if faults := lacking(mapping):
        raise BadFile(" ".join(faults))
    kind = reading_kinds()[mapping.kind]
    rows = list(_clocked(_values(text, mapping), mapping))
    if not rows:
        raise BadFile(f"line {mapping.first}: there is no row of numbers from here on.")
    once = {name: value for name, value in mapping.once.items() if name in roles(mapping.kind)}
    if kind.wide:
        return _wide(kind, mapping, rows)
    if not kind.item:
        names = [role for role, _ in mapping.columns if role]
        return made(kind, {**once, **side_by_side(kind, names, rows)})
    names, long = _long(kind, mapping, rows)
    return made(kind, {**once, **long_table(kind, names, long)})


def _values(text: str, mapping: Mapping) -> Iterator[Row]:
    """The cells that are read, in SI, in the order of their columns. Raises BadFile."""
    known = roles(mapping.kind)
    used = [(place, role, unit, units.units_of(known[role])) for place, (role, unit) in enumerate(mapping.columns) if role]
    tables = {one.name for one in reading_kinds()[mapping.kind].columns if one.shape == "rows"}
    turned = ({PLACED, "deviation", "place"} | tables) - {"measured"} if mapping.turned else set()
    for number, cells in rows_of(text, mapping):
        found: list[Any] = []
        for place, role, unit, factors in used:
            cell = cells[place] if place < len(cells) else ""
            if role == DIRECTION:
                found.append(_side(cell.lower(), mapping.kind))
            elif not cell:
                found.append(None)
            elif unit == CLOCK:
                found.append(_clock(cell, number))
            else:
                sign = -1.0 if role in turned else 1.0
                found.append(sign * _value(cell, mapping.decimal, unit, factors, f"line {number}, column {place + 1}"))
        yield number, found


def _side(cell: str, kind: str) -> str:
    """The side that a word or a sign tells, in the words of our own layout; the cell itself where it tells none."""
    for (name, known), others in zip(reading_kinds()[kind].sides, OTHER_SIDES, strict=True):
        if cell in (*known, *others):
            return name
    return cell


def _clock(cell: str, line: int) -> float:
    found = seconds_of(cell)
    if found is None:
        raise BadFile(f"line {line}: {shown(cell)} is no clock time.")
    return found


def _value(cell: str, decimal: str, unit: str, factors: dict[str, float], place: str) -> float:
    """A cell in SI; a unit that stands in the cell itself goes before that of the column."""
    found = NUMBER.match(cell[:LONGEST_NUMBER])
    value = None if found is None else plain_number(found["number"], decimal)
    own = "" if found is None else (found["unit"] or "").strip()
    own_unit = known_unit(own) if own else unit
    if value is None or (not own_unit and own and f" {own}" not in cell):
        raise BadFile(f"{place}: {shown(cell)} is no number with a decimal {DECIMALS[decimal]}.")
    if own_unit not in factors or (own and not own_unit):
        raise BadFile(f"{place}: {shown(cell)} is in no unit that fits; known are {', '.join(one for one in factors if one)}.")
    return value * factors[own_unit]


def _clocked(rows: Iterable[Row], mapping: Mapping) -> Iterator[Row]:
    """Clock times as times since the first row; past midnight they go on."""
    clocks = [n for n, (_, unit) in enumerate((role, unit) for role, unit in mapping.columns if role) if unit == CLOCK]
    start: float | None = None
    days, before = 0.0, 0.0
    for number, row in rows:
        for n in clocks:
            if row[n] is None:
                continue
            start = row[n] if start is None else start
            days += DAY if row[n] + days < before and row[n] < DAY else 0.0
            before = row[n] = row[n] + days
            row[n] -= start
        yield number, row


def _wide(kind: ReadingKind, mapping: Mapping, rows: list[Row]) -> Any:
    named = [(role, heading) for (role, _), heading in zip(mapping.columns, mapping.headings, strict=True) if role]
    time = next(n for n, (role, _) in enumerate(named) if role != "values")
    short = next((number for number, row in rows if None in row), None)
    if short is not None:
        raise BadFile(f"line {short}: a value is missing; each row needs a time and every acceleration.")
    names = ["time", *(name_and_unit(heading)[0] or f"a{n}" for n, (role, heading) in enumerate(named) if role == "values")]
    return wide_table(kind, names, [row[time] for _, row in rows],
                      [[value for n, value in enumerate(row) if n != time] for _, row in rows], [number for number, _ in rows])


def _long(kind: ReadingKind, mapping: Mapping, rows: list[Row]) -> tuple[list[str], list[Row]]:
    """One row a number, in our own order: what the table leaves out is counted (repeats) or seen from the way gone (sides)."""
    used = [role for role, _ in mapping.columns if role]
    tables = [one.name for one in kind.columns if one.shape == "rows"]
    once = [name for name in used if name in {one.name for one in kind.columns if one.shape == "one"}]
    sided, runs = len(tables) > 1, Counter[tuple[Any, str]]()
    for number, row in rows:
        if row[used.index(kind.item)] is None:
            raise BadFile(f"line {number}: the {kind.item} is missing.")
    way = _ways([row[used.index(kind.item)] for _, row in rows], tables) if sided and DIRECTION not in used else []
    found: list[Row] = []
    for n, (number, row) in enumerate(rows):
        item = row[used.index(kind.item)]
        for role, value in zip(used, row, strict=True):
            if value is None or role not in (kind.cell, PLACED, *(tables if sided else ())):
                continue
            said = row[used.index(DIRECTION)] if DIRECTION in used else way[n] if sided else ""
            side = role if sided and role in tables else said
            runs[item, side] += 1
            repeat = row[used.index(REPEAT)] if REPEAT in used and role not in tables else runs[item, side]
            cell = value - item if role == PLACED else value
            found.append((number, [item, *([side] if sided else []), repeat, cell, *(row[used.index(name)] for name in once)]))
    return [kind.item, *([DIRECTION] if sided else []), REPEAT, kind.cell, *once], found


def _ways(items: list[float], tables: list[str]) -> list[str]:
    """The side that each place was come from, by the way gone: up while places rise, down while they fall, turned at one twice."""
    up, down = tables
    found: list[str] = []
    for n, item in enumerate(items):
        if n and item == items[n - 1]:
            found.append(down if found[-1] == up else up)
        elif n:
            found.append(up if item > items[n - 1] else down)
        else:
            later = next((one for one in items if one != item), item)
            found.append(up if later >= item else down)
    return found
