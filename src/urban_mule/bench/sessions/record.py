"""The plan of a record: the axis is swept through frequencies, tapped or moved, and a sensor records."""

from __future__ import annotations

from typing import Any

from urban_mule.bench.sessions.by_hand import positive
from urban_mule.bench.sessions.rounds import PlanAxis, Step
from urban_mule.core.readings.warming import STATES
from urban_mule.core.sheet.given import BadValue

WAYS = ("sweep", "tap", "move")
HALF = 0.5  # of the travel: how far the move goes that is recorded


def settings_record(_axis: PlanAxis) -> dict[str, Any]:
    return {"by": WAYS[0], "lowest": "8", "highest": "110", "duration": "6", "direction": "along, across, up"}


def steps_record(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """A record of the sensor while the axis is struck, moved or shaken. Raises BadValue."""
    by, duration = str(settings.get("by") or WAYS[0]), positive(settings, "duration") or 0.0
    if by not in WAYS:
        raise BadValue(f"by is {by[:20]}; allowed is {' or '.join(WAYS)}", "by")
    if by == "tap":
        words = (f"The sensor records for {duration:g} s from the press on. Tap the carriage once with a soft hammer, hands off,"
                 " and let it ring out.")
        return (Step("record", words, duration, 0.0, (("listen", duration),)),)
    if by == "move":
        travel, speed = axis.room, axis.speed or 0.1
        acceleration = max((a for _, a in axis.rungs), default=speed / 0.1)
        words = (f"The sensor records for {duration:g} s while the axis goes from {axis.said(0.25 * travel)} to"
                 f" {axis.said((0.25 + HALF) * travel)} and stops: what rings after the stop counts.")
        return (Step("record", words, duration, 0.0, (
            ("move", 0.25 * travel), ("begin", (0.25 + HALF) * travel, speed, acceleration), ("listen", duration))),)
    low, high = (positive(settings, name) or 0.0 for name in ("lowest", "highest"))
    if low >= high:
        raise BadValue(f"lowest is {low:g} Hz, not below highest, {high:g} Hz", "lowest")
    words = f"The axis shakes from {low:g} to {high:g} Hz within {duration:g} s, and the sensor records."
    return (Step("record", words, duration, 0.0, (("record", low, high, duration),)),)


def columns_record(settings: dict[str, Any], values: dict[str, Any]) -> dict[str, Any]:
    by = str(settings.get("by") or WAYS[0])
    return {**values["record"], "direction": str(settings.get("direction") or ""), "state": STATES[by == "tap"]}
