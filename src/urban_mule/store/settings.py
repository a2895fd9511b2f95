"""What is to be set on the machine: each value computed now, measured, and on the machine, and why they differ."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Protocol

from urban_mule.core.sheet import units
from urban_mule.core.sheet.shown import value_text
from urban_mule.core.sheet.solution import Solution
from urban_mule.store.document.project import Axis, from_practice
from urban_mule.store.file.project_file import Applied


class Settable(Protocol):
    """An axis with its numbers and with what is on its hardware."""

    @property
    def axis(self) -> Axis: ...
    @property
    def solution(self) -> Solution: ...
    @property
    def applied(self) -> Mapping[str, Applied]: ...
    @property
    def system(self) -> str: ...


SAME = 5e-4  # share of a value that a settings field rounds away


@dataclass(frozen=True)
class SettingRow:
    """One value to set. lines: (number, unit); measured, on_machine, reason: text, empty where there is nothing."""

    name: str
    title: str
    value: Any
    lines: tuple[tuple[str, str], ...]
    measured: str = ""
    on_machine: str = ""
    reason: str = ""
    differs: bool = False

    @property
    def practice(self) -> bool:
        """Whether it rests on readings that were made up for practice."""
        return self.measured.startswith("practice") and self.name != "steps_per_unit"


def settings_of(of: Settable) -> list[SettingRow]:
    """The rows of an axis, in the order in which they are set."""
    rows = [_current(of), _switches(of), _gear(of), *(_plain(of, name) for name in (
        "microsteps", "steps_per_unit", "top_speed", "top_acceleration", "hold_fraction")), _backlash(of), _shaper(of)]
    return [_against(of, row, of.applied.get(row.name)) for row in rows if row is not None]


def _current(of: Settable) -> SettingRow | None:
    peak = of.solution.get("current_peak")
    if peak is None:
        return None
    rms = of.solution["current_rms"]
    return SettingRow("current_peak", "Current", peak, (
        (units.number_text(rms, 3), "A RMS"), (units.number_text(peak, 3), "A peak")))


def _switches(of: Settable) -> SettingRow | None:
    row = of.solution.get("switch_position")
    if row is None:
        return None
    return SettingRow("switches", "Switches", row.switches, ((" ".join("up" if s == "1" else "dn" for s in row.switches), ""),))


def _gear(of: Settable) -> SettingRow | None:
    """The electronic gear of a servo driver, once somebody has decided on one."""
    counts, pulses = (of.solution.get(f"electronic_gear_{part}") for part in ("numerator", "denominator"))
    if counts is None or (counts, pulses) == (1, 1):
        return None
    return SettingRow("electronic_gear", "Gear", f"{counts:g} to {pulses:g}",
                      ((f"{counts:g}", "counts"), (f"{pulses:g}", "pulses")))


def _plain(of: Settable, name: str) -> SettingRow | None:
    value = of.solution.get(name)
    if value is None or (name in of.solution.sheet.inputs and getattr(of.axis.driver, name, None) is None):
        return None  # a default is nothing that somebody decided to set
    shown = value_text(of.solution.sheet, name, value, of.system, 4, of.axis.unit)
    titles = {"hold_fraction": "Current idle", "top_acceleration": "Acceleration"}
    title = f"Steps per {of.axis.unit}" if name == "steps_per_unit" else titles.get(name, of.solution.sheet.label(name))
    measured = ""
    corrected = of.solution.get("corrected_steps_per_unit") if name == "steps_per_unit" else None
    if corrected is not None and abs(corrected / value - 1) > 1e-5:
        measured = f"{_measured(of, 'travel')}: {units.number_text(corrected, 6)}"
    unit = "" if name == "steps_per_unit" else shown.unit
    return SettingRow(name, title, float(value), ((shown.number, unit),), measured)


def _backlash(of: Settable) -> SettingRow | None:
    value = of.solution.get("backlash")
    if value is None:
        return None
    shown = units.show(value, of.solution.sheet.unit("backlash"), of.system, 2)
    return SettingRow("backlash", "Backlash", round(value, 7), ((shown.number, shown.unit),), _measured(of, "reversal"))


def _shaper(of: Settable) -> SettingRow | None:
    chosen = of.solution.get("chosen_shaper")
    if chosen is None:
        return None
    frequency = of.solution["modes"][0].frequency
    return SettingRow("shaper", "Shaper", f"{chosen['name']} {frequency:.1f} Hz", ((chosen["name"], f"{frequency:.1f} Hz"),),
                      _measured(of, "acceleration"))


def _measured(of: Settable, kind: str) -> str:
    """Where a value comes from that readings gave: the machine, or practice, which corrects no machine."""
    return "practice, made up" if from_practice(of.axis, kind) else "measured"


def _against(of: Settable, row: SettingRow, applied: Applied | None) -> SettingRow:
    """The row with what is on the machine, and the reason where it differs."""
    if applied is None:
        return SettingRow(row.name, row.title, row.value, row.lines, row.measured, "not set yet", "", True)
    if _equal(row.value, applied.value):
        return row
    return SettingRow(row.name, row.title, row.value, row.lines, row.measured,
                  f"on the machine: {_as_shown(of, row, applied.value)}", _reason(of, row, applied), True)


def _equal(one: Any, other: Any) -> bool:
    if isinstance(one, (int, float)) and isinstance(other, (int, float)):
        return math.isclose(one, other, rel_tol=SAME, abs_tol=1e-9)
    return bool(one == other)


def _as_shown(of: Settable, row: SettingRow, value: Any) -> str:
    if isinstance(value, str):
        return value
    if row.name == "backlash":
        return str(units.show(value, of.solution.sheet.unit("backlash"), of.system, 2))
    shown = value_text(of.solution.sheet, row.name, value, of.system, 4, of.axis.unit)
    return shown.number if row.name == "steps_per_unit" else str(shown)


def _reason(of: Settable, row: SettingRow, applied: Applied) -> str:
    """Which given has changed since the value was set, when it was set, or that only the value itself changed."""
    day = f"{applied.time.day} {applied.time:%B}"
    for name, then in applied.computed_from.items():
        now = of.solution.get(name)
        if name != row.name and now is not None and not _equal(now, then):
            shown = [str(value_text(of.solution.sheet, name, v, of.system, 4)) if not isinstance(v, str) else v
                     for v in (then, now)]
            return f"set {day}; {of.solution.sheet.label(name).lower()} was {shown[0]}, is {shown[1]}"
    return f"set {day}"
