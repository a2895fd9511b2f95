"""The plan of every kind of reading, each declared once."""

from __future__ import annotations

from typing import Any

from urban_mule.bench.sessions.by_hand import (
    columns_cooling,
    columns_drag,
    columns_push,
    columns_ripple,
    columns_tone,
    columns_warming,
    settings_push,
    steps_cooling,
    steps_drag,
    steps_push,
    steps_ripple,
    steps_tone,
    steps_warming,
)
from urban_mule.bench.sessions.by_place import (
    columns_drift,
    columns_lengths,
    columns_two_way,
    settings_lengths,
    settings_travel,
    settings_two_way,
    steps_drift,
    steps_lengths,
    steps_travel,
    steps_two_way,
)
from urban_mule.bench.sessions.by_speed import (
    columns_homing,
    columns_ladder,
    settings_homing,
    settings_ladder,
    steps_homing,
    steps_ladder,
)
from urban_mule.bench.sessions.record import columns_record, settings_record, steps_record
from urban_mule.bench.sessions.rounds import PlanAxis, PlanKind, Step, as_typed, in_travel, listed, numbers
from urban_mule.core.sheet.given import BadValue, Given

LENGTH = ("µm", "°")
REPEATS = Given("repeats", "", "", "how often each is taken", whole=True, least=1, most=50, label="Repeats")
TARGETS = Given("targets", "", "", "places, mm or degrees, apart by spaces", label="Targets")
TURN = (
    Given("overrun", "", "", "how far an end is passed before turning, mm or degrees", label="Overrun"),
    Given("dwell", "", "", "seconds it stands before it is read", label="Dwell"),
)
SENSOR_PLACE = Given("sensor_place", "", "", "where gauge or sensor stands; kept with the set", label="Place of the sensor")
INDICATOR = "The indicator stands on what does not move and touches the carriage as near to the tool as it can."
PLAN_KINDS: dict[str, PlanKind] = {
    one.kind: one
    for one in (
        PlanKind(
            "reversal",
            "indicator",
            INDICATOR,
            "how much motion is lost at a reversal, and where along the travel",
            "[travel]",
            LENGTH,
            settings_two_way(5, 3),
            steps_two_way,
            columns_two_way,
            (TARGETS, REPEATS, *TURN),
            True,
        ),
        PlanKind(
            "positioning",
            "indicator",
            INDICATOR,
            "accuracy and repeatability as ISO 230-2 has them, and what the error is made of",
            "[travel]",
            LENGTH,
            settings_two_way(11, 5),
            steps_two_way,
            columns_two_way,
            (TARGETS, REPEATS, *TURN),
            True,
        ),
        PlanKind(
            "travel",
            "scale",
            "A scale or caliper lies along the axis; the carriage carries its pointer.",
            "whether steps per unit are right, or a setting is wrong",
            "[travel]",
            ("mm", "°"),
            settings_travel,
            steps_travel,
            lambda settings, values: {"commanded": settings["places"][0], "measured": listed(values, "measured")},
            (Given("commanded", "", "", "travel to measure, mm or degrees", label="Travel"), REPEATS),
        ),
        PlanKind(
            "lengths",
            "scale",
            "A scale lies along the axis; the carriage carries its pointer.",
            "the scale apart from an offset, and what temperature explains of it",
            "[travel]",
            ("mm", "°"),
            settings_lengths,
            steps_lengths,
            columns_lengths,
            (TARGETS, REPEATS, *TURN),
        ),
        PlanKind(
            "push",
            "push",
            "The indicator touches the carriage; a spring balance pushes it, the motor holds.",
            "clearance, which is repaired, apart from spring, which wants a stiffer part",
            "[travel]",
            LENGTH,
            settings_push,
            steps_push,
            columns_push,
            (Given("forces", "", "", "forces, apart by spaces", label="Forces"), REPEATS),
            True,
        ),
        PlanKind(
            "tone",
            "belt",
            "The belt is plucked at the middle of its free span; a phone or a tuner hears the tone.",
            "the tension of the belt",
            "Hz",
            ("Hz", "Hz"),
            lambda axis: {"span": "", "linear_mass": ""},
            steps_tone,
            columns_tone,
            (
                Given("span", "mm", "", "free length of the belt", label="Free span"),
                Given("linear_mass", "g/m", "", "mass of a metre of this belt in its width", label="Belt, g/m"),
            ),
        ),
        PlanKind(
            "drag",
            "drag",
            "A spring balance pulls at a lever on the shaft, the motor unplugged.",
            "whether the preload is in its range",
            "N",
            ("N", "N"),
            lambda axis: {"radius": "", "lowest": "", "highest": ""},
            steps_drag,
            columns_drag,
            (
                Given("radius", "mm", "", "lever arm", label="Lever"),
                Given("lowest", "N·m", "", "least wanted", label="Wanted from"),
                Given("highest", "N·m", "", "most wanted", label="Wanted up to"),
            ),
        ),
        PlanKind(
            "drift",
            "indicator",
            INDICATOR,
            "how far it wanders while it warms, and how long to wait",
            "[travel]",
            LENGTH,
            lambda axis: {"minutes": "0 2 5 10 15 20 30 45 60", "targets": as_typed(axis, [0.5 * (axis.travel or 0.5)])},
            steps_drift,
            columns_drift,
            (
                Given("minutes", "", "", "minutes from the cold start", label="Minutes"),
                Given("targets", "", "", "the place, mm or degrees", label="Place"),
            ),
            True,
        ),
        PlanKind(
            "homing",
            "indicator",
            INDICATOR,
            "whether homing comes back to the same place, or jumps by full steps",
            "[travel]",
            LENGTH,
            settings_homing,
            steps_homing,
            columns_homing,
            (Given("targets", "", "", "the place read at, mm or degrees", label="Place"), REPEATS),
            True,
        ),
        PlanKind(
            "ladder",
            "indicator",
            "The indicator touches the carriage at the beginning of the way, and is set to zero there.",
            "what the motor really gives of the computed torque, and what to set",
            "[travel]",
            ("mm", "°"),
            settings_ladder,
            steps_ladder,
            columns_ladder,
            (
                Given("rungs", "", "", "speed/acceleration of each rung, mm/s and mm/s² or degrees", label="Rungs"),
                Given("distance", "", "", "how far, mm or degrees", label="Way"),
                Given("times", "", "", "how often out and back", label="Times"),
                Given("direction", "", "", "both, plus or minus", label="Way that counts"),
            ),
        ),
        PlanKind(
            "warming",
            "case",
            "A thermometer touches the case of the motor in its middle; the case can burn a hand.",
            "how far the motor really warms, how fast, and its thermal resistance",
            "°C",
            ("°C", "°C"),
            lambda axis: {"minutes": "0 2 5 10 15 20 30 45 60 90", "state": "moving"},
            steps_warming,
            columns_warming,
            (
                Given("minutes", "", "", "minutes from the cold start", label="Minutes"),
                Given("state", "", "", "moving or holding", label="It is"),
            ),
        ),
        PlanKind(
            "cooling",
            "fins",
            "The power is off while a thermometer is fixed to the fin or the case of the driver: mains is within reach there."
            " Then the cabinet is closed as in use.",
            "how far the driver really warms, how fast, and how well its heat gets away",
            "°C",
            ("°C", "°C"),
            lambda axis: {"minutes": "0 2 5 10 15 20 30 45"},
            steps_cooling,
            columns_cooling,
            (Given("minutes", "", "", "minutes from the cold start", label="Minutes"),),
        ),
        PlanKind(
            "acceleration",
            "sensor",
            "The accelerometer is screwed or waxed on as near to the tool as it can be.",
            "where the axis rings, how strongly, and which shaper and acceleration it bears",
            "m/s²",
            ("m/s²", "m/s²"),
            settings_record,
            steps_record,
            columns_record,
            (
                Given("by", "", "", "sweep, tap or move", label="By"),
                Given("lowest", "Hz", "", "sweep from", label="Sweep from"),
                Given("highest", "Hz", "", "sweep up to", label="Up to"),
                Given("duration", "s", "", "how long the sweep lasts", label="Within"),
                Given("direction", "", "", "directions of the sensor, apart by commas", label="Directions"),
            ),
            records=True,
        ),
        PlanKind(
            "ripple",
            "piece",
            "A ruler lies along the ripple of a test piece, behind a sharp corner.",
            "frequency and damping of what rings, without a sensor",
            "[travel]",
            ("mm", "°"),
            lambda axis: {"speed": as_typed(axis, [axis.speed or 0.1]), "crests": "4"},
            steps_ripple,
            columns_ripple,
            (
                Given("speed", "", "", "speed at which it was made, mm/s or degrees a second", label="Speed"),
                Given("crests", "", "", "crests whose height is read; 0 for none", label="Crests"),
            ),
        ),
    )
}


def steps_of(kind: str, axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """The steps of a plan. Raises BadValue for settings that make none."""
    return PLAN_KINDS[kind].steps(axis, settings)


def columns_of(kind: str, axis: PlanAxis, settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    """What was taken as the columns of a reading. Raises BadValue when not even one whole repeat was taken."""
    typed = settings.get("targets") or settings.get("commanded")
    places = in_travel(axis, numbers(typed, "targets")) if typed else []
    try:
        found = PLAN_KINDS[kind].columns({**settings, "places": places, "linear": axis.linear}, values)
    except KeyError:
        raise BadValue("not enough was taken to make a reading") from None
    if any(isinstance(value, list) and not value for value in found.values()):
        raise BadValue("not even one whole repeat was taken")
    return found
