"""Readings as CSV: one documented layout for each kind, delimiter and decimal comma recognised.

First row: column names with units in brackets: of travel m, mm, µm, in, rad, mrad, °; of time s, ms; of acceleration
m/s², mm/s², g; without one, SI.
  reversal, positioning   target [mm], direction (up or down), repeat, deviation [µm]
  travel                  commanded [mm], measured [mm], and, once, gauge_uncertainty [µm]
  acceleration            time [s], then one column of acceleration [m/s²] for each direction of the sensor
"""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
from pydantic import ValidationError

from urban_mule.core.load.linear import STANDARD_GRAVITY
from urban_mule.core.sheet.given import shown
from urban_mule.store.document.faults import sentence
from urban_mule.store.document.readings import READING_MODELS
from urban_mule.store.text_files import HEADING, BadFile, csv_rows, from_file, recognised_delimiter, utf8

Row = tuple[int, list[Any]]  # the line that it ends in, and its cells in SI
LARGEST_CSV = 200e6
PIECE = 4000  # rows read at a time
COUNTED = {"": 1.0}
TIME = {"s": 1.0, "ms": 1e-3, "": 1.0}
TRAVEL = {"m": 1.0, "mm": 1e-3, "µm": 1e-6, "um": 1e-6, "in": 0.0254, "rad": 1.0, "mrad": 1e-3, "°": np.pi / 180,
          "deg": np.pi / 180, "": 1.0}
ACCELERATION = {"m/s²": 1.0, "m/s2": 1.0, "mm/s²": 1e-3, "g": STANDARD_GRAVITY, "": 1.0}
DIRECTIONS = {"up": "up", "+": "up", "plus": "up", "down": "down", "-": "down", "minus": "down", "−": "down"}


def read_csv(path: Path, kind: str | None = None) -> Any:
    """The readings in a CSV file. kind: needed only to tell reversal from positioning, else by the columns.

    Raises BadFile with the file, the line and the fault.
    """
    return from_file(path, LARGEST_CSV, lambda raw: parse_csv(utf8(raw), kind))


def parse_csv(text: str, kind: str | None = None) -> Any:
    """The readings in a CSV text. Raises BadFile with the line and the fault."""
    delimiter = recognised_delimiter(text)
    lines = csv_rows(text, delimiter)
    names, factors = _columns(lines)
    if names[0] == "time" and (table := _plain_numbers(text, delimiter, factors)) is not None:
        return _made("acceleration", {"time": table[:, 0], "values": table[:, 1:], "direction": ", ".join(names[1:])})
    rows = list(_rows(lines, names, factors, delimiter))
    if not rows:
        raise BadFile("line 2: there is no row of numbers.")
    if names[0] == "time":
        short = next((number for number, row in rows if None in row), None)
        if short is not None:
            raise BadFile(f"line {short}: a value is missing; each row needs a time and every acceleration.")
        return _made("acceleration", {"time": [r[0] for _, r in rows], "values": [r[1:] for _, r in rows],
                                      "direction": ", ".join(names[1:])})
    if names[:2] == ["commanded", "measured"]:
        return _made("travel", _travel(rows))
    if names[:4] == ["target", "direction", "repeat", "deviation"]:
        return _made(kind or "positioning", _two_way(rows))
    raise BadFile("line 1: the columns are " + ", ".join(names) + "; allowed are target, direction, repeat, deviation;"
                  " or commanded, measured, gauge_uncertainty; or time and accelerations.")


def _plain_numbers(text: str, delimiter: str, factors: list[float]) -> np.ndarray | None:
    """All rows below the first at once in SI, ten times as fast; None where a cell is no plain number, to be told by its line."""
    body = text.partition("\n")[2]
    lines = [line for line in (body if delimiter == "," else body.replace(",", ".")).split("\n") if line.strip()]
    try:  # in pieces, so that a window that waits has its turn
        pieces = [np.loadtxt(lines[first:first + PIECE], delimiter=delimiter, comments=None, ndmin=2)
                  for first in range(0, len(lines), PIECE)]
        table = np.concatenate(pieces)
    except ValueError:  # also of no rows, and of rows of unlike length
        return None
    if table.shape[1] != len(factors):
        return None
    with np.errstate(over="ignore"):
        table *= factors
    return table if np.isfinite(table).all() else None


def _columns(lines: Iterator[tuple[int, list[str]]]) -> tuple[list[str], list[float]]:
    """Names of the columns, and the factors that bring them to SI."""
    _, first = next(lines, (1, None))
    if first is None:
        raise BadFile("line 1: the file is empty; the first row names the columns.")
    names, factors = [], []
    for cell in first:
        found = HEADING.match(cell)
        name, unit = (found["name"].strip().lower(), found["unit"] or "") if found else (cell, "?")
        names.append(name)
        units = _units(name, names[0])
        if unit not in units:
            known = ", ".join(one for one in units if one)
            raise BadFile(f"line 1: {shown(cell.strip())} is no column with a unit that fits; "
                          + (f"known units are {known}." if known else "it has none."))
        factors.append(units[unit])
    return names, factors


def _units(name: str, first: str) -> dict[str, float]:
    """The units that a column may have, by its name and by what the first column says the file holds."""
    if name in ("direction", "repeat"):
        return COUNTED
    if first == "time":
        return TIME if name == "time" else ACCELERATION
    return TRAVEL


def _rows(
    lines: Iterable[tuple[int, list[str]]], names: list[str], factors: list[float], delimiter: str
) -> Iterator[Row]:
    for line, cells in lines:
        if len(cells) > len(names):
            raise BadFile(f"line {line}: {len(cells)} columns where the first row names {len(names)}.")
        cells += [""] * (len(names) - len(cells))
        yield line, [
            cell.strip().lower() if name == "direction" else _number(cell, factor, delimiter, line, name)
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


def _travel(rows: list[Row]) -> dict[str, Any]:
    """Rows of (commanded, measured, gauge_uncertainty), the first and the last given at least once."""
    first, *_ = columns = list(zip(*(cells for _, cells in rows), strict=True))
    commanded = {value for value in first if value is not None}
    if len(commanded) != 1:
        many = "several values" if commanded else "no value"
        raise BadFile(f"commanded holds {many}; one travel is commanded in a travel reading.")
    given = [value for column in columns[2:3] for value in column if value is not None]
    found: dict[str, Any] = {"commanded": commanded.pop(), "measured": [value for value in columns[1] if value is not None]}
    return found | ({"gauge_uncertainty": given[0]} if given else {})


def _two_way(rows: list[Row]) -> dict[str, Any]:
    """Rows of (target, direction, repeat, deviation) as targets and two tables, repeats by targets."""
    cells: dict[str, dict[int, dict[float, float]]] = {"up": {}, "down": {}}
    for number, row in rows:
        target, direction, repeat, deviation = row[:4]
        if None in (target, repeat, deviation):
            raise BadFile(f"line {number}: a value is missing; each row needs target, direction, repeat, deviation.")
        if direction not in DIRECTIONS:
            raise BadFile(f"line {number}: direction is {shown(direction)}; allowed are up and down.")
        if repeat != int(repeat):
            raise BadFile(f"line {number}: repeat is {repeat:g}; a whole number is needed.")
        found = cells[DIRECTIONS[direction]].setdefault(int(repeat), {})
        if target in found:
            raise BadFile(f"line {number}: repeat {int(repeat)} {direction} has this target already.")
        found[target] = deviation
    targets = sorted({row[0] for _, row in rows})
    tables = {}
    for direction, repeats in cells.items():
        for repeat, found in repeats.items():
            if len(found) != len(targets):
                raise BadFile(f"repeat {repeat} {direction} has {len(found)} of {len(targets)} targets; each is needed once.")
        tables[direction] = [[repeats[r][t] for t in targets] for r in sorted(repeats)]
    return {"targets": targets, **tables}


def _made(kind: str, data: dict[str, Any]) -> Any:
    try:
        return READING_MODELS[kind].model_validate({"kind": kind, **data})
    except ValidationError as error:
        raise BadFile(sentence(error)) from None


def export_csv(reading: Any) -> str:
    """A reading as CSV text in the layout that `parse_csv` takes, in m, rad, s and m/s²."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    match reading.kind:
        case "acceleration":
            rows.writerow(["time [s]", *(f"a{i + 1} [m/s²]" for i in range(reading.values.shape[1]))])
            rows.writerows([repr(float(t)), *(repr(float(v)) for v in row)]
                           for t, row in zip(reading.time, reading.values, strict=True))
        case "travel":
            rows.writerow(["commanded [m]", "measured [m]", "gauge_uncertainty [m]"])
            rows.writerows([reading.commanded, repr(float(m)), reading.gauge_uncertainty or ""] for m in reading.measured)
        case _:
            rows.writerow(["target [m]", "direction", "repeat", "deviation [m]"])
            rows.writerows(
                [repr(float(target)), direction, repeat + 1, repr(float(row[place]))]
                for direction in ("up", "down") for repeat, row in enumerate(getattr(reading, direction))
                for place, target in enumerate(reading.targets))
    return out.getvalue()
