"""How a value of a sheet reads: number and unit, or a dash where there is none."""

from __future__ import annotations

from typing import Any

from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import is_reading
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.sheet.solution import Solution

AS_SET = ("steps_per_unit", "steps_per_unit_to_set")  # typed into a controller as they stand: every digit counts
SUFFIX = {"inertia_ratio": "to 1", "working_margin": "×"}


def lacks_reading(solution: Solution, value: Unknown) -> bool:
    """Whether a value is unknown for want of a measurement alone."""
    given = solution.sheet.inputs
    return bool(value.missing) and all(name in given and is_reading(given[name]) for name in value.missing)


def uncertainty_of(name: str) -> str:
    """What the standard uncertainty of a quantity is called, where it has one."""
    return f"{name}_uncertainty"


def solved_text(solution: Solution, name: str, system: str, axis_unit: str = "", doubt: float | None = None) -> units.Shown:
    """The value of a quantity with its unit, and with how sure it is where that is known: `47.7 ± 1.3 µm`.

    doubt: its standard uncertainty by its inputs; one that was measured with it goes before.
    """
    measured = solution.get(uncertainty_of(name)) if uncertainty_of(name) in solution.sheet.quantities else None
    doubt = doubt if measured is None else measured
    return doubted_text(solution.sheet, name, solution.get(name), doubt, system, axis_unit)


def doubted_text(sheet: Sheet, name: str, value: Any, doubt: float | None, system: str, axis_unit: str = "") -> units.Shown:
    """A value of a quantity with its unit and twice its standard uncertainty, where that is known."""
    shown = value_text(sheet, name, value, system, axis_unit=axis_unit)
    if value is None or not doubt or name in AS_SET:
        return shown
    return units.Shown(units.with_doubt(*(in_unit(one, sheet, name, shown.unit) for one in (value, doubt))), shown.unit)


def in_unit(value: float, sheet: Sheet, name: str, unit: str) -> float:
    """A value of a quantity in the unit in which it is shown."""
    return float(value) * units.FACTORS.get(sheet.unit(name), 1.0) / units.FACTORS.get(unit, 1.0) if unit else float(value)


def value_text(sheet: Sheet, name: str, value: Any, system: str, digits: int = 3, axis_unit: str = "") -> units.Shown:
    """A value with its unit; a dash where there is none."""
    if value is None or isinstance(value, Unknown):
        return units.Shown("–", "")
    if isinstance(value, str):
        return units.Shown(value, "")
    if name in ("scale_ratio", "length_slope"):
        return units.Shown(f"{float(value):.6f}", "")
    if name in ("steps_per_unit", "corrected_steps_per_unit", "steps_per_unit_to_set"):
        return units.Shown(units.number_text(float(value), 6), f"per {axis_unit}")
    shown = units.show(float(value), sheet.unit(name), system, digits, own=sheet.shown(name))
    return units.Shown(shown.number, SUFFIX.get(name, shown.unit))
