"""Readings as CSV: the layout of each kind follows from its columns; delimiter and decimal comma recognised.

First row: column names with units in brackets: of travel m, mm, µm, in, rad, mrad, °; of time s, ms; of acceleration
m/s², mm/s², g; without one, SI. A kind with rows of repeats has one row a number: what it is at (target), the side it was
approached from (direction) where there are two, repeat, and the number (deviation). A wide kind has one row a sample: time,
then one column for each direction of the sensor. Others have their columns side by side; what is given once stands in one row.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Iterator, Sequence
from pathlib import Path
from typing import Any

import numpy as np

from urban_mule.core.readings.kind import Column, ReadingKind
from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.sheet.given import shown
from urban_mule.core.sheet.progress import Cancelled, Progress
from urban_mule.core.sheet.units import units_of
from urban_mule.store.document.faults import Refused
from urban_mule.store.document.readings import READING_MODELS
from urban_mule.store.exchange.csv_said import said_in, said_lines, said_of
from urban_mule.store.text_files import BadFile, csv_rows, from_file, heading, recognised_delimiter, utf8

Row = tuple[int, list[Any]]  # the line that it ends in, and its cells in SI
LARGEST_CSV, MOST_ROWS, MOST_COLUMNS = 60e6, 2_000_000, 60
MOST_CAREFUL_ROWS = 200_000  # of a table that is read cell by cell
LONGEST_SAID = 40  # characters of a heading that a sentence repeats
PIECE = 4000  # rows read at a time


class OtherLayout(BadFile):
    """The table may well be read, but its layout is not ours: a person is to say what its columns are."""


DIRECTION, REPEAT = "direction", "repeat"


def layout(kind: ReadingKind) -> tuple[tuple[str, str], ...]:
    """The columns of a kind's CSV: name and SI unit. A wide kind has any number of further columns of its last unit."""
    by_shape: dict[str, list[Column]] = {}
    for one in kind.columns:
        by_shape.setdefault(one.shape, []).append(one)
    if kind.wide:
        return tuple((one.name, one.given.unit) for one in by_shape["list"])
    if not by_shape.get("rows"):
        return tuple((one.name, one.given.unit) for one in kind.columns if one.shape in ("one", "list"))
    tables, over = by_shape["rows"], by_shape["list"][0]
    side = ((DIRECTION, ""),) if len(tables) > 1 else ()
    once = tuple((one.name, one.given.unit) for one in by_shape.get("one", ()))
    return ((kind.item, over.given.unit), *side, (REPEAT, ""), (kind.cell, tables[0].given.unit), *once)


def layouts_table() -> list[str]:
    """The layout of every kind as rows of a table of the documentation."""
    rows = ["| kind | columns | what |", "|---|---|---|"]
    for kind in reading_kinds().values():
        named = [f"`{name} [{_plainly(unit)}]`" if unit else f"`{name}`" for name, unit in layout(kind)]
        if kind.wide:
            named.append(f"then one a direction, `[{next(one.given.unit for one in kind.columns if one.shape == 'rows')}]`")
        tables = [one.name for one in kind.columns if one.shape == "rows"]
        once = [f"`{one.name}`" for one in kind.columns if one.shape == "one" and not one.needed]
        notes = [kind.words, *([f"direction is {' or '.join(tables)}"] if kind.item and len(tables) > 1 else []),
                 *([f"every repeat holds every {kind.item}"] if kind.item else []),
                 *([f"{', '.join(once)} once, or left out"] if once else [])]
        rows.append(f"| {kind.name} | {', '.join(named)} | {'; '.join(notes)} |")
    every = dict.fromkeys(one.given.unit for kind in reading_kinds().values() for one in kind.columns if one.given.unit)
    return [*rows, "", "Units that a column may be in, by the one above; without one it is SI:", "",
            *(f"- `{_plainly(si)}`: {', '.join(unit for unit in units_of(si) if unit)}" for si in every)]


def _plainly(unit: str) -> str:
    """A unit as the documentation has it: travel is a length or an angle, effort a force or a torque."""
    return unit.replace("[travel]", "travel").replace("[effort]", "effort")


def read_csv(path: Path, kind: str | None = None, progress: Progress | None = None) -> Any:
    """The readings in a CSV file. kind: needed only to tell kinds of one layout apart, else by the columns.

    Raises BadFile with the file, the line and the fault; Cancelled where progress says no.
    """
    return from_file(path, LARGEST_CSV, lambda raw: parse_csv(_text(raw), kind, progress))


def _text(raw: bytes) -> str:
    try:
        return utf8(raw)
    except BadFile as why:
        raise OtherLayout(str(why)) from None


def parse_csv(text: str, kind: str | None = None, progress: Progress | None = None) -> Any:
    """The readings in a CSV text. Raises BadFile with the line and the fault, OtherLayout where it is no table of ours."""
    said, text, before = said_in(text)
    delimiter = recognised_delimiter(text)
    if text.count("\n") > MOST_ROWS:
        raise BadFile(f"the table has more than {MOST_ROWS} rows; at most so many are taken.")
    if text.partition("\n")[0].count(delimiter) >= MOST_COLUMNS:
        raise OtherLayout(f"line {1 + before}: the table has more than {MOST_COLUMNS} columns; at most so many are taken.")
    lines = csv_rows(text, delimiter, 1 + before)
    headings = _headings(lines)
    found = _kind_of([name for name, _ in headings], kind or next((value for key, _, value in said if key == "kind"), None))
    told = said_of(found, said)
    names, factors = [name for name, _ in headings], _factors(headings, found)
    if found.wide and (table := _plain_numbers(text, delimiter, factors, progress)) is not None:
        return wide_table(found, names, table[:, 0], table[:, 1:],
                          [n for n, line in enumerate(text.split("\n"), start=1 + before) if line.strip()][1:], told)
    if text.count("\n") > MOST_CAREFUL_ROWS:
        raise BadFile(f"the table has more than {MOST_CAREFUL_ROWS} rows; more are only taken of a record of plain numbers.")
    rows = list(_rows(lines, names, factors, delimiter))
    if not rows:
        raise BadFile("line 2: there is no row of numbers.")
    if found.wide:
        short = next((number for number, row in rows if None in row), None)
        if short is not None:
            raise BadFile(f"line {short}: a value is missing; each row needs a {names[0]} and every acceleration.")
        return wide_table(found, names, [r[0] for _, r in rows], [r[1:] for _, r in rows], [number for number, _ in rows], told)
    return made(found, {**(long_table(found, names, rows, bool(said)) if found.item else side_by_side(found, names, rows)), **told})


def _headings(lines: Iterator[tuple[int, list[str]]]) -> list[tuple[str, str]]:
    """Name and unit of each column of the first row."""
    _, first = next(lines, (1, None))
    if first is None:
        raise BadFile("line 1: the file is empty; the first row names the columns.")
    found = []
    for cell in first:
        name, unit = heading(cell) or (cell[:LONGEST_SAID], "?")
        found.append((name.lower(), unit))
    return found


def _kind_of(names: list[str], wanted: str | None) -> ReadingKind:
    """The kind whose layout these columns have; of several the wanted one, else the first. Raises BadFile."""
    fitting = [one for one in reading_kinds().values() if _has_layout(one, names)]
    if not fitting:
        layouts = {", ".join(name for name, _ in layout(one)) + (" and accelerations" if one.wide else "")
                   for one in reading_kinds().values()}
        more = f" and {len(names) - 8} more" if len(names) > 8 else ""
        said = ", ".join(name[:LONGEST_SAID] for name in names[:8])
        raise OtherLayout(f"line 1: the columns are {said}{more}; allowed are {'; or '.join(sorted(layouts))}.")
    return next((one for one in fitting if one.name == wanted), fitting[0])


def _has_layout(kind: ReadingKind, names: list[str]) -> bool:
    needed = [name for name, _ in layout(kind)]
    optional = {one.name for one in kind.columns if one.shape == "one" and not one.needed}
    least = [name for name in needed if name not in optional]
    if kind.wide:
        return names[:1] == needed[:1] and len(names) > 1
    return names[:len(least)] == least and set(names[len(least):]) <= optional


def _factors(headings: list[tuple[str, str]], kind: ReadingKind) -> list[float]:
    """What brings each column to SI. Raises BadFile for a unit that does not fit."""
    units = dict(layout(kind))
    wide = next((one.given.unit for one in kind.columns if one.shape == "rows"), "") if kind.wide else ""
    factors = []
    for name, unit in headings:
        fitting = units_of(units.get(name, wide))
        if unit not in fitting:
            known = ", ".join(one for one in fitting if one)
            raise OtherLayout(f"line 1: {shown(f'{name} [{unit}]')} is no column with a unit that fits; "
                          + (f"known units are {known}." if known else "it has none."))
        factors.append(fitting[unit])
    return factors


def _plain_numbers(text: str, delimiter: str, factors: list[float], progress: Progress | None) -> np.ndarray | None:
    """All rows below the first at once in SI, ten times as fast; None where a cell is no plain number, to be told by its line."""
    body = text.partition("\n")[2]
    lines = [line for line in (body if delimiter == "," else body.replace(",", ".")).split("\n") if line.strip()]
    try:  # in pieces, so that a window that waits has its turn
        pieces = []
        for first in range(0, len(lines), PIECE):
            pieces.append(np.loadtxt(lines[first:first + PIECE], delimiter=delimiter, comments=None, ndmin=2))
            if progress is not None and not progress(first, len(lines)):
                raise Cancelled
        table = np.concatenate(pieces)
    except ValueError:  # also of no rows, and of rows of unlike length
        return None
    if table.shape[1] != len(factors):
        return None
    with np.errstate(over="ignore"):
        table *= factors
    return table if np.isfinite(table).all() else None


def _rows(
    lines: Iterable[tuple[int, list[str]]], names: list[str], factors: list[float], delimiter: str
) -> Iterator[Row]:
    for line, cells in lines:
        if len(cells) > len(names):
            raise BadFile(f"line {line}: {len(cells)} columns where the first row names {len(names)}.")
        cells += [""] * (len(names) - len(cells))
        yield line, [
            cell.strip().lower() if name == DIRECTION else _number(cell, factor, delimiter, line, name)
            for cell, factor, name in zip(cells, factors, names, strict=True)
        ]


def _number(cell: str, factor: float, delimiter: str, line: int, name: str) -> float | None:
    text = cell.strip().replace("−", "-")
    if not text:
        return None
    if delimiter != ",":
        text = text.replace(",", ".")
    try:
        value = float(text) * factor
    except ValueError:
        raise BadFile(f"line {line}: {name} is {shown(cell.strip())}; a number is needed.") from None
    if not np.isfinite(value):
        raise BadFile(f"line {line}: {name} is {shown(cell.strip())}; a finite number is needed.")
    return value


def wide_table(kind: ReadingKind, names: list[str], first: Any, values: Any, lines: Sequence[int],
               told: dict[str, Any] | None = None) -> Any:
    over, table = (next(one.name for one in kind.columns if one.shape == shape) for shape in ("list", "rows"))
    heads = next(one.name for one in kind.columns if one.shape == "text")
    return made(kind, {over: first, table: values, heads: ", ".join(names[1:]), **(told or {})}, lines)


def side_by_side(kind: ReadingKind, names: list[str], rows: list[Row]) -> dict[str, Any]:
    """Columns side by side: lists as they stand, what is given once from whichever rows say it."""
    shapes, found = {one.name: one.shape for one in kind.columns}, dict[str, Any]()
    for name, column in zip(names, zip(*(cells for _, cells in rows), strict=True), strict=True):
        if shapes[name] == "list":
            found[name] = [value for value in column if value is not None]
        else:
            value = _once(kind, next(one for one in kind.columns if one.name == name), column)
            found |= {} if value is None else {name: value}
    return found


def _once(kind: ReadingKind, one: Column, column: Iterable[float | None]) -> float | None:
    """What is given once, from whichever rows say it. Raises BadFile for several, and for none where it is needed."""
    said = {value for value in column if value is not None}
    if len(said) > 1:
        raise BadFile(f"{one.name} holds several values; one is {one.name} in {kind.what}.")
    if not said and one.needed:
        raise BadFile(f"{one.name} holds no value; one is {one.name} in {kind.what}.")
    return next(iter(said), None)


def long_table(kind: ReadingKind, names: list[str], rows: list[Row], as_they_come: bool = False) -> dict[str, Any]:
    """One row a number as a list of items and a table for each side, repeats by items; these rise, or stand as they come.

    Raises BadFile.
    """
    tables = [one.name for one in kind.columns if one.shape == "rows"]
    over = next(one.name for one in kind.columns if one.shape == "list")
    sides = {word: name for name, known in kind.sides for word in known}
    place = {name: n for n, name in enumerate(names)}
    cells: dict[str, dict[int, dict[float, float]]] = {name: {} for name in tables}
    needed = ", ".join(name for name in place if name not in {one.name for one in kind.columns})
    for number, row in rows:
        item, repeat, value = (row[place[name]] for name in (kind.item, REPEAT, kind.cell))
        if None in (item, repeat, value):
            raise BadFile(f"line {number}: a value is missing; each row needs {needed}.")
        direction = row[place[DIRECTION]] if DIRECTION in place else ""
        if DIRECTION in place and direction not in sides:
            raise BadFile(f"line {number}: direction is {shown(direction)}; allowed are {' and '.join(tables)}.")
        if repeat != int(repeat):
            raise BadFile(f"line {number}: repeat is {repeat:g}; a whole number is needed.")
        found = cells[sides.get(direction, tables[0])].setdefault(int(repeat), {})
        if item in found:
            raise BadFile(f"line {number}: repeat {int(repeat)} {direction} has this {kind.item} already.".replace("  ", " "))
        found[item] = value
    met = dict.fromkeys(row[place[kind.item]] for _, row in rows)
    items = list(met) if as_they_come else sorted(met)
    once = {one.name: _once(kind, one, [row[place[one.name]] for _, row in rows]) for one in kind.columns
            if one.shape == "one" and one.name in place}
    for side, repeats in cells.items():
        for repeat, found in repeats.items():
            if len(found) != len(items):
                raise BadFile(f"repeat {repeat} {side} has {len(found)} of {len(items)} {over}; each is needed once.")
    told = {name: value for name, value in once.items() if value is not None}
    tabled = {side: [[repeats[r][t] for t in items] for r in sorted(repeats)] for side, repeats in cells.items()}
    return {over: items, **told, **tabled}


def made(kind: ReadingKind, data: dict[str, Any], lines: Sequence[int] | None = None) -> Any:
    """The readings of these columns; lines: at which each row stood. Raises BadFile."""
    try:
        return READING_MODELS[kind.name].model_validate({"source": "file", **data, "kind": kind.name})
    except Refused as why:
        raise BadFile(_with_line(str(why), lines or [])) from None


def _with_line(said: str, lines: Sequence[int]) -> str:
    """A sentence about a sample with the line at which that stands."""
    found = re.search(r"at sample (\d{1,9})", said)
    at = -1 if found is None else int(found[1])
    return f"line {lines[at]}: {said}" if 0 <= at < len(lines) else said


def export_csv(reading: Any, linear: bool = True) -> str:
    """A reading as CSV text in the layout that `parse_csv` takes, in SI; linear: whether its axis is, else it is read in angles."""
    kind = reading_kinds()[reading.kind]
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    in_table = {name for name, _ in layout(kind)} if not kind.item else set()
    out.writelines(f"{line}\n" for line in said_lines(reading, kind, in_table))
    if kind.wide:
        over, table = (next(one for one in kind.columns if one.shape == shape) for shape in ("list", "rows"))
        values = getattr(reading, table.name)
        rows.writerow([f"{over.name} [{over.given.unit}]", *(f"a{i + 1} [{table.given.unit}]" for i in range(values.shape[1]))])
        rows.writerows([repr(float(t)), *(repr(float(v)) for v in row)]
                       for t, row in zip(getattr(reading, over.name), values, strict=True))
        return out.getvalue()
    head = list(layout(kind))
    if kind.item:
        head = [one for one in head if one[0] not in {column.name for column in kind.columns if column.shape == "one"}]
    length, effort = ("m", "N") if linear else ("rad", "N·m")
    units = [unit.replace("[travel]", length).replace("[effort]", effort) for _, unit in head]
    rows.writerow([f"{name} [{unit}]" if unit else name for (name, _), unit in zip(head, units, strict=True)])
    rows.writerows(_long_rows(kind, reading) if kind.item else _columns(kind, reading))
    return out.getvalue()


def _long_rows(kind: ReadingKind, reading: Any) -> Iterator[list[Any]]:
    tables = [one.name for one in kind.columns if one.shape == "rows"]
    over = next(one.name for one in kind.columns if one.shape == "list")
    for table in tables:
        for repeat, row in enumerate(getattr(reading, table)):
            for place, item in enumerate(getattr(reading, over)):
                side = [table] if len(tables) > 1 else []
                yield [repr(float(item)), *side, repeat + 1, repr(float(row[place]))]


def _columns(kind: ReadingKind, reading: Any) -> Iterator[list[Any]]:
    shapes = {one.name: one.shape for one in kind.columns}
    names = [name for name, _ in layout(kind)]
    length = max((len(getattr(reading, name)) for name in names if shapes[name] == "list"), default=1)
    for row in range(length):
        cells = [getattr(reading, name) for name in names]
        cells = [cell[row] if isinstance(cell, np.ndarray) else cell for cell in cells]
        yield ["" if cell is None else repr(float(cell)) for cell in cells]
