"""Points of a printed curve as text, one a line: typed, pasted from a table, or read from a CSV file."""

from __future__ import annotations

import re
from collections.abc import Iterable
from pathlib import Path

from urban_mule.core.sheet.given import BadValue, shown
from urban_mule.core.sheet.units import factor
from urban_mule.core.sheet.wording import typed
from urban_mule.store.text_files import BadFile, from_file, heading, utf8

LARGEST = 1e6  # bytes of a file with the points of a curve
SPEED, TORQUE = "rad/s", "N·m"


def points_in(text: str, speed_unit: float, torque_unit: float) -> list[tuple[float, float]]:
    """Speeds [rad/s] and torques [N·m] in a text. speed_unit, torque_unit: what 1 in it is, where no heading says it.

    Raises BadValue with the line.
    """
    found: list[tuple[float, float]] = []
    for number, line in enumerate(text.splitlines(), start=1):
        cells = _cells(line)
        if not cells:
            continue
        if len(cells) != 2:
            raise BadValue(f"line {number}: {shown(line.strip())} is no point; a speed and a torque are needed")
        values = [_number(cell) for cell in cells]
        if None in values:
            if found or any(value is not None for value in values):
                raise BadValue(f"line {number}: {shown(line.strip())} holds no two numbers")
            speed_unit, torque_unit = _unit(cells[0], SPEED, speed_unit), _unit(cells[1], TORQUE, torque_unit)
            continue
        found.append((values[0] * speed_unit, values[1] * torque_unit))  # type: ignore[operator]
    return found


def _cells(line: str) -> list[str]:
    """The cells of a line: by tab or semicolon, by a comma that is no decimal one, else by blanks."""
    for delimiter in ("\t", ";"):
        if delimiter in line:
            return [cell.strip() for cell in line.split(delimiter) if cell.strip()]
    if "[" in line or "(" in line:
        return [cell.strip() for cell in line.split("," if "," in line else "] ") if cell.strip()]
    parts = line.split()
    if len(parts) < 2 and "," in line:
        return [cell.strip() for cell in line.split(",") if cell.strip()]
    return [part.removesuffix(",") for part in parts] if parts and parts[0].endswith(",") else parts


def _number(cell: str) -> float | None:
    text = cell.replace(",", ".").replace("−", "-")
    return float(text) if re.fullmatch(r"[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?", text) else None


def _unit(cell: str, si_unit: str, otherwise: float) -> float:
    named = heading(cell)
    return factor(named[1], si_unit) if named is not None and named[1] else otherwise


def text_of(points: Iterable[tuple[float, float]], speed_unit: float, torque_unit: float) -> str:
    """Points as text, a line each."""
    return "\n".join(f"{typed(speed / speed_unit)}\t{typed(torque / torque_unit)}" for speed, torque in points)


def read_curve(path: Path) -> str:
    """The text of a file with the points of a curve. Raises BadFile."""
    text = from_file(path, LARGEST, utf8)
    try:
        if not points_in(text, 1.0, 1.0):
            raise BadFile(f"{path.name}: the file holds no points.")
    except BadValue as why:
        raise BadFile(f"{path.name}: {why}.") from None
    return text
