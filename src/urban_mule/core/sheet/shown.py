"""How a value of a sheet reads: number and unit, or a dash where there is none."""

from __future__ import annotations

from typing import Any

from urban_mule.core.sheet import units
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.sheet import Sheet

SUFFIX = {"inertia_ratio": "to 1", "working_margin": "×"}


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
