"""What stands on the tag of an axis: each value computed now, measured, and on the machine, and why they differ."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from urban_mule.core.sheet import units
from urban_mule.desk.model.session import Session
from urban_mule.desk.model.words import label, value_text
from urban_mule.store.file.project_file import Applied

SAME = 5e-4  # share of a value that a settings field rounds away


@dataclass(frozen=True)
class TagRow:
    """One value to set. lines: (number, unit); measured, on_machine, reason: text, empty where there is nothing."""

    name: str
    title: str
    value: Any
    lines: tuple[tuple[str, str], ...]
    measured: str = ""
    on_machine: str = ""
    reason: str = ""
    differs: bool = False


def tag_rows(session: Session) -> list[TagRow]:
    """The rows of the shown axis, in the order in which they are set."""
    applied = session.applied()
    rows = [_current(session), _switches(session), _gear(session), *(_plain(session, name) for name in (
        "microsteps", "steps_per_unit", "top_speed", "top_acceleration", "hold_fraction")), _backlash(session), _shaper(session)]
    return [_against(session, row, applied.get(row.name)) for row in rows if row is not None]


def _current(session: Session) -> TagRow | None:
    peak = session.solution.get("current_peak")
    if peak is None:
        return None
    rms = session.solution["current_rms"]
    return TagRow("current_peak", "Current", peak, (
        (units.number_text(rms, 3), "A RMS"), (units.number_text(peak, 3), "A peak")))


def _switches(session: Session) -> TagRow | None:
    row = session.solution.get("switch_position")
    if row is None:
        return None
    return TagRow("switches", "Switches", row.switches, ((" ".join("up" if s == "1" else "dn" for s in row.switches), ""),))


def _gear(session: Session) -> TagRow | None:
    """The electronic gear of a servo driver, once somebody has decided on one."""
    counts, pulses = (session.solution.get(f"electronic_gear_{part}") for part in ("numerator", "denominator"))
    if counts is None or (counts, pulses) == (1, 1):
        return None
    return TagRow("electronic_gear", "Gear", f"{counts:g} to {pulses:g}", ((f"{counts:g}", "counts"), (f"{pulses:g}", "pulses")))


def _plain(session: Session, name: str) -> TagRow | None:
    value = session.solution.get(name)
    if value is None or (name in session.sheet.inputs and session.value(session.axis_path("driver", name)) is None):
        return None  # a default is nothing that somebody decided to set
    shown = value_text(session.sheet, name, value, session.system, 4, session.axis.unit)
    titles = {"hold_fraction": "Current idle", "top_acceleration": "Acceleration"}
    title = f"Steps per {session.axis.unit}" if name == "steps_per_unit" else titles.get(name, label(name))
    measured = ""
    corrected = session.solution.get("corrected_steps_per_unit") if name == "steps_per_unit" else None
    if corrected is not None and abs(corrected / value - 1) > 1e-5:
        measured = f"measured: {units.number_text(corrected, 6)}"
    unit = "" if name == "steps_per_unit" else shown.unit
    return TagRow(name, title, float(value), ((shown.number, unit),), measured)


def _backlash(session: Session) -> TagRow | None:
    value = session.solution.get("backlash")
    if value is None:
        return None
    shown = units.show(value, "", session.sheet.unit("backlash"), session.system, 2)
    return TagRow("backlash", "Backlash", round(value, 7), ((shown.number, shown.unit),), "measured")


def _shaper(session: Session) -> TagRow | None:
    chosen = session.solution.get("chosen_shaper")
    if chosen is None:
        return None
    frequency = session.solution["modes"][0].frequency
    return TagRow("shaper", "Shaper", f"{chosen['name']} {frequency:.1f} Hz", ((chosen["name"], f"{frequency:.1f} Hz"),))


def _against(session: Session, row: TagRow, applied: Applied | None) -> TagRow:
    """The row with what is on the machine, and the reason where it differs."""
    if applied is None:
        return TagRow(row.name, row.title, row.value, row.lines, row.measured, "not set yet", "", True)
    if _equal(row.value, applied.value):
        return row
    return TagRow(row.name, row.title, row.value, row.lines, row.measured,
                  f"on the machine: {_as_shown(session, row, applied.value)}", _reason(session, row, applied), True)


def _equal(one: Any, other: Any) -> bool:
    if isinstance(one, (int, float)) and isinstance(other, (int, float)):
        return math.isclose(one, other, rel_tol=SAME, abs_tol=1e-9)
    return bool(one == other)


def _as_shown(session: Session, row: TagRow, value: Any) -> str:
    if isinstance(value, str):
        return value
    if row.name == "backlash":
        return str(units.show(value, "", session.sheet.unit("backlash"), session.system, 2))
    shown = value_text(session.sheet, row.name, value, session.system, 4, session.axis.unit)
    return shown.number if row.name == "steps_per_unit" else str(shown)


def _reason(session: Session, row: TagRow, applied: Applied) -> str:
    """Which given has changed since the value was set, when it was set, or that only the value itself changed."""
    day = f"{applied.time.day} {applied.time:%B}"
    for name, then in applied.computed_from.items():
        now = session.solution.get(name)
        if name != row.name and now is not None and not _equal(now, then):
            shown = [str(value_text(session.sheet, name, v, session.system, 4)) if not isinstance(v, str) else v
                     for v in (then, now)]
            return f"set {day}; {label(name).lower()} was {shown[0]}, is {shown[1]}"
    return f"set {day}"
