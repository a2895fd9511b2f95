"""What is to be set for every kind of subject, and what of it is on the machine; here those that are no axes."""

from __future__ import annotations

from typing import Any

from urban_mule.core.sheet.units import number_text, show
from urban_mule.core.sheet.wording import counted
from urban_mule.store.settings import Settable, SettingRow, against_machine, settings_of


def rows_of(key: str, of: Settable) -> list[SettingRow]:
    """The rows of the tag of a subject. key: under which such stand in the document."""
    known = {"axes": settings_of, "spindles": spindle_settings}
    return known[key](of) if key in known else []


def spindle_settings(of: Settable) -> list[SettingRow]:
    """The rows of its tag, in the order in which they are set."""
    rows = [_chosen(of, "control_mode", "Control"), _gear(of), _highest(of), _command(of),
            _chosen(of, "stop_by", "Way of stopping"), _chosen(of, "encoder_at", "Place of the encoder")]
    return [against_machine(of, row) for row in rows if row is not None]


def _chosen(of: Settable, name: str, title: str) -> SettingRow | None:
    value = of.solution.get(name)
    return None if value is None else SettingRow(name, title, value, ((str(value), ""),))


def _gear(of: Settable) -> SettingRow | None:
    """The electronic gear, where pulses are what it is told by."""
    counts, pulses = (of.solution.get(f"electronic_gear_{part}") for part in ("numerator", "denominator"))
    if of.solution.get("counts_per_turn") is None or (counts, pulses) == (1, 1):
        return None
    return SettingRow("electronic_gear", "Gear", f"{counts:g} to {pulses:g}",
                      ((f"{counts:g}", "counts"), (f"{pulses:g}", "pulses")))


def _highest(of: Settable) -> SettingRow | None:
    """The speed that the controller may ask for: what is wanted, as far as motor and mains let it."""
    wanted, limit = of.solution.get("highest_speed"), of.solution.get("spindle_speed_limit")
    if wanted is None:
        return None
    value = float(wanted) if limit is None else min(float(wanted), float(limit))
    shown = show(value, "rad/s", of.system, 4, "rpm")
    return SettingRow("highest_speed", "At most", value, ((shown.number, shown.unit),))


def _command(of: Settable) -> SettingRow | None:
    """The voltages that were measured, from the lowest to the highest."""
    table: Any = of.solution.get("speed_table")
    if table is None:
        return None
    ends = [f"{number_text(float(table.command[at]), 4)} V for {show(float(table.speed[at]), 'rad/s', of.system, 4, 'rpm')}"
            for at in (0, -1)]
    cut = of.solution.get("command_for_speed")
    lines = ((number_text(float(cut), 3), "V"),) if cut is not None else ((counted(len(table.command), "row"), ""),)
    return SettingRow("speed_table", "Command", "; ".join(ends), lines, beneath="; ".join(ends))
