"""The plan of a record: the axis is swept through frequencies, tapped or moved, its shaper set or not, and a sensor records."""

from __future__ import annotations

from typing import Any

from urban_mule.bench.devices import LONGEST_RECORD
from urban_mule.bench.sessions.by_hand import positive
from urban_mule.bench.sessions.rounds import PlanAxis, Preset, Step
from urban_mule.core.readings.warming import STATES
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.units import number_text

SHAPED = "shaped move"
WAYS = ("sweep", "tap", "move", SHAPED)
MOVING = WAYS[2:]  # that go along the axis
HALF = 0.5  # of the travel: how far the move goes that is recorded
RINGS_DOWN = 2.0  # s of a shaped move's end that tell all
DIRECTION = "along, across, up"
NO_SET = ("the settings of this axis are not known yet: they want a cycle, a motor, and a record or a stiffness. See Brief, leaf"
          " set", "by")


def preset_shaped(axis: PlanAxis) -> tuple[Preset, ...]:
    """The usual record, and that of the move as it is set."""
    usual = Preset("where it rings", "a sweep, a tap or a move without shaper", settings_record(axis))
    if axis.set_move is None:
        return (usual,)
    tells = f"how the fastest move ends with shaper {axis.set_move.called}: what friction and detent leave"
    return (usual, Preset("what is really left", tells, {**settings_record(axis), "by": SHAPED, "duration": f"{RINGS_DOWN:g}"}))


def settings_record(_axis: PlanAxis) -> dict[str, Any]:
    return {"by": WAYS[0], "lowest": "8", "highest": "110", "duration": "6", "direction": DIRECTION}


def steps_record(axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """A record of the sensor while the axis is struck, moved or shaken. Raises BadValue."""
    by, duration = str(settings.get("by") or WAYS[0]), positive(settings, "duration") or 0.0
    if by not in WAYS:
        raise BadValue(f"by is {by[:20]}; allowed is {' or '.join(WAYS)}", "by")
    if duration > LONGEST_RECORD:
        raise BadValue(f"a record of {duration:g} s is too long; {LONGEST_RECORD:g} s at most, and a few tell more", "duration")
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
    if by == SHAPED:
        return (_of_shaped(axis, duration),)
    low, high = (positive(settings, name) or 0.0 for name in ("lowest", "highest"))
    if low >= high:
        raise BadValue(f"lowest is {low:g} Hz, not below highest, {high:g} Hz", "lowest")
    words = f"The axis shakes from {low:g} to {high:g} Hz within {duration:g} s, and the sensor records."
    return (Step("record", words, duration, 0.0, (("record", low, high, duration),)),)


def _of_shaped(axis: PlanAxis, duration: float) -> Step:
    """The end of a move as it is set. Raises BadValue while nobody knows how it is set."""
    one, travel = axis.set_move, axis.room
    if one is None:
        raise BadValue(*NO_SET)
    pace, steep = (number_text(value / axis.si(1.0), 4) for value in (one.speed, one.acceleration))
    words = (f"Set at the controller: shaper {one.called}, {pace} {axis.place_unit}/s, {steep} {axis.place_unit}/s². The sensor"
             f" records while the axis goes from {axis.said(0.25 * travel)} to {axis.said((0.25 + HALF) * travel)} and stops: what"
             " swings after the stop counts.")
    return Step("record", words, duration, 0.0, (
        ("move", 0.25 * travel), ("hand", "shaper", *(number for impulse in one.impulses for number in impulse)),
        ("begin", (0.25 + HALF) * travel, one.speed, one.acceleration, one.delay), ("listen", duration)))


def columns_record(settings: dict[str, Any], values: dict[str, Any]) -> dict[str, Any]:
    by = str(settings.get("by") or WAYS[0])
    found = {**values["record"], "direction": str(settings.get("direction") or ""), "state": STATES[by == "tap"]}
    axis: PlanAxis = settings["axis"]
    one = axis.set_move
    if by != SHAPED or one is None:
        return found
    return {**found, "shaped": one.shaper, "shaped_frequency": one.frequency, "move_distance": HALF * axis.room,
            "move_speed": one.speed, "move_acceleration": one.acceleration}
