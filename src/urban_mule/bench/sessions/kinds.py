"""The plan of every kind of reading, each declared once."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import Any

import numpy as np

from urban_mule.bench.sessions.by_command import USUAL, columns_command, ends_command, odd_command, steps_command
from urban_mule.bench.sessions.by_hand import (
    ALONG,
    DIAGONALS,
    columns_cooling,
    columns_drag,
    columns_push,
    columns_tone,
    columns_warming,
    settings_push,
    steps_cooling,
    steps_drag,
    steps_push,
    steps_tone,
    steps_warming,
)
from urban_mule.bench.sessions.by_place import (
    columns_drift,
    columns_lengths,
    columns_two_way,
    presets_positioning,
    presets_reversal,
    settings_lengths,
    settings_travel,
    settings_two_way,
    steps_drift,
    steps_lengths,
    steps_positioning,
    steps_travel,
    steps_two_way,
)
from urban_mule.bench.sessions.by_speed import (
    columns_homing,
    columns_ladder,
    led_ladder,
    settings_homing,
    settings_ladder,
    steps_homing,
    steps_ladder,
)
from urban_mule.bench.sessions.by_stand import beside, drift_out
from urban_mule.bench.sessions.gauged import gauge_of
from urban_mule.bench.sessions.pair_plans import GOES, HAND, LENGTH, OTHER_AXIS, PAIR_PLANS, REPEATS, TARGETS
from urban_mule.bench.sessions.ring_plans import RING_PLANS
from urban_mule.bench.sessions.rounds import (
    BY_HAND,
    FREE_TRAVEL,
    PlanAxis,
    PlanKind,
    Step,
    in_travel,
    listed,
    numbers,
    on_its_travel,
    share_typed,
)
from urban_mule.core.readings.gauge import LENGTHS
from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.readings.warming import STATES
from urban_mule.core.sheet.given import BadValue, Given

TURN = (
    Given("overrun", "", "", "how far an end is passed before turning, [place]", label="Overrun"),
    Given("dwell", "", "", "seconds it stands before it is read", label="Dwell"),
)
SENSOR_PLACE = Given("sensor_place", "", "", "where gauge or sensor stands", label="Place of the sensor")
TEMPERATURE = Given("temperature", "°C", "", "of axis and gauge while it is read; empty where nobody looked", least=-273.15,
                    most=200, label="Temperature")
TEMPERATURE_DOUBT = Given("temperature_uncertainty", "K", "", "how sure that is, of axis and gauge each (standard)", least=0,
                          most=50, label="Temperature is sure to")
BLOCKS = "block_uncertainty"  # the setting that says how sure each block or face is, standard, in µm
HOMES = f"It runs towards its end and may hit it: nothing in between. {HAND}"
STALLS = f"It is meant to stall and may strike: loose things off, nobody near, nothing in its way. {HAND}"
PUSHES = "The motor is powered and holds: fingers out of the train; let go when it gives way."
PLUCKS = "Power off and the plug out: fingers are in the belt."
TURNS = "Power off, the plug out, the motor unplugged: turned by hand it makes a voltage that can destroy its driver."
HOT = f"The case can burn a hand: fix the thermometer while it is cold. It moves or holds all the time. {HAND}"
CABINET = "Mains is within reach in the cabinet: fix the thermometer with the power off, then close it. Fins burn."
INDICATOR = "The indicator stands on what does not move and touches the carriage as near to the tool as it can."
DIAGONAL = Given("direction", "", "", "A: both axes to the same side; B: to opposite sides; the indicator along it",
                 choices=(ALONG, *DIAGONALS), label="Pushed along")
SMALL, SMALL_MOVE, SMALL_TURN = "small move", 5e-3, float(np.radians(5.0))
HOW_FAR = Given(FREE_TRAVEL, "", "", "how far it may go from where 0 is, [place], on a table or feed without ends",
                label="Free travel")
PLAN_KINDS: dict[str, PlanKind] = {
    one.kind: one
    for one in (
        PlanKind(
            kind="reversal",
            called="backlash",
            setup="indicator",
            where=INDICATOR,
            tells="how much motion is lost at a reversal, and where along the travel",
            unit="[travel]",
            reads=LENGTH,
            settings=settings_two_way(5, 3),
            presets=presets_reversal,
            steps=steps_two_way,
            columns=columns_two_way,
            givens=(TARGETS, REPEATS, *TURN),
            deviations=True,
            moves=True, caution=GOES,
        ),
        PlanKind(
            kind="positioning",
            setup="indicator",
            where=INDICATOR,
            tells="accuracy and repeatability as ISO 230-2 has them, and what the error is made of",
            unit="[travel]",
            reads=LENGTH,
            settings=settings_two_way(11, 5),
            presets=presets_positioning,
            steps=steps_positioning,
            columns=columns_two_way,
            givens=(TARGETS, REPEATS, *TURN),
            deviations=True,
            moves=True, caution=GOES,
        ),
        PlanKind(
            kind="travel",
            setup="scale",
            where="A scale or caliper lies along the axis; the carriage carries its pointer.",
            tells="whether steps per unit are right, or a setting is wrong",
            unit="[travel]",
            reads=("mm", "°"),
            settings=settings_travel,
            steps=steps_travel,
            columns=lambda settings, values: {"commanded": settings["places"][0], "measured": listed(values, "measured")},
            givens=(Given("commanded", "", "", "travel to measure, [place]", label="Travel"), REPEATS),
            moves=True, caution=GOES,
        ),
        PlanKind(
            kind="lengths",
            called="several lengths",
            setup="scale",
            where="A scale lies along the axis; the carriage carries its pointer.",
            tells="the scale apart from an offset, and what temperature explains of it",
            unit="[travel]",
            reads=("mm", "°"),
            settings=settings_lengths,
            steps=steps_lengths,
            columns=columns_lengths,
            givens=(TARGETS, REPEATS, *TURN),
            moves=True, caution=GOES,
        ),
        PlanKind(
            kind="push",
            called="push test",
            setup="push",
            where="The indicator touches the carriage; a spring balance pushes it, the motor holds.",
            tells="clearance, which is repaired, apart from spring, which wants a stiffer part",
            unit="[travel]",
            reads=LENGTH,
            settings=settings_push,
            steps=steps_push,
            columns=columns_push,
            givens=(Given("forces", "", "", "rising, [effort], apart by spaces", label="Forces"), REPEATS),
            deviations=True,
            caution=PUSHES,
        ),
        PlanKind(
            kind="tone",
            called="belt tension",
            setup="belt",
            where="The belt is plucked at the middle of its free span; a phone or a tuner hears the tone.",
            tells="the tension of the belt",
            unit="Hz",
            reads=("Hz", "Hz"),
            settings=lambda axis: {"span": "", "linear_mass": ""},
            steps=steps_tone,
            columns=columns_tone,
            givens=(
                Given("span", "[length]", "", "free length of the belt", label="Free span"),
                Given("linear_mass", "g/m", "", "mass of a metre of this belt in its width", label="Mass per metre"),
            ),
            caution=PLUCKS, needs="belt",
        ),
        PlanKind(
            kind="drag",
            called="preload",
            setup="drag",
            where="A spring balance pulls at a lever on the shaft, the motor unplugged.",
            tells="whether the preload is in its range",
            unit="N",
            reads=("N", "N"),
            settings=lambda axis: {"radius": "", "lowest": "", "highest": ""},
            steps=steps_drag,
            columns=columns_drag,
            givens=(
                Given("radius", "[length]", "", "lever arm", label="Lever"),
                Given("lowest", "[torque]", "", "least wanted", label="Least torque wanted"),
                Given("highest", "[torque]", "", "most wanted", label="Most torque wanted"),
            ),
            caution=TURNS,
        ),
        PlanKind(
            kind="drift",
            called="warm-up drift",
            setup="indicator",
            where=INDICATOR,
            tells="how far it wanders while it warms, and how long to wait",
            unit="[travel]",
            reads=LENGTH,
            settings=lambda axis: {"minutes": "0 2 5 10 15 20 30 45 60", "targets": share_typed(axis, 0.5)},
            steps=steps_drift,
            columns=columns_drift,
            givens=(
                Given("minutes", "", "", "minutes from the cold start", label="Minutes"),
                Given("targets", "", "", "the place, [place]", label="Place"),
            ),
            deviations=True,
            moves=True, times="time", caution=GOES,
        ),
        PlanKind(
            kind="homing",
            setup="indicator",
            where=INDICATOR,
            tells="whether homing comes back to the same place, or jumps by full steps",
            unit="[travel]",
            reads=LENGTH,
            settings=settings_homing,
            steps=steps_homing,
            columns=columns_homing,
            givens=(Given("targets", "", "", "the place read at, [place]", label="Place"), REPEATS),
            deviations=True,
            moves=True, caution=HOMES,
        ),
        PlanKind(
            kind="ladder",
            setup="indicator",
            where="The indicator touches the carriage where the move begins, and is set to zero there.",
            tells="what the motor really gives of the computed torque, and what to set",
            unit="[travel]",
            reads=("mm", "°"),
            settings=settings_ladder,
            steps=steps_ladder,
            columns=columns_ladder,
            led=led_ladder,
            givens=(
                Given("rungs", "", "", "speed/acceleration of each ladder step, [place]/s and [place]/s²", label="Ladder steps"),
                Given("distance", "", "", "how far, [place]", label="Distance"),
                Given("times", "", "", "how often out and back", label="Moves out and back"),
                Given("direction", "", "", "the direction in which a stall counts", choices=("both", "plus", "minus"),
                      label="Direction that counts"),
            ),
            moves=True, caution=STALLS, needs="stepper",
        ),
        PlanKind(
            kind="warming",
            setup="case",
            where="A thermometer touches the case of the motor in its middle; the case can burn a hand.",
            tells="how far the motor really warms, how fast, and its thermal resistance",
            unit="°C",
            reads=("°C", "°C"),
            settings=lambda axis: {"minutes": "0 2 5 10 15 20 30 45 60 90", "state": "moving"},
            steps=steps_warming,
            columns=columns_warming,
            givens=(
                Given("minutes", "", "", "minutes from the cold start", label="Minutes"),
                Given("state", "", "", "what the motor does meanwhile", choices=STATES, label="Motor is"),
            ),
            times="time", caution=HOT,
        ),
        PlanKind(
            kind="cooling",
            setup="fins",
            where="The power is off while a thermometer is fixed to the fin or the case of the driver: mains is within reach there."
            " Then the cabinet is closed as in use.",
            tells="how far the driver really warms, how fast, and how well its heat gets away",
            unit="°C",
            reads=("°C", "°C"),
            settings=lambda axis: {"minutes": "0 2 5 10 15 20 30 45"},
            steps=steps_cooling,
            columns=columns_cooling,
            givens=(Given("minutes", "", "", "minutes from the cold start", label="Minutes"),),
            times="time", caution=CABINET,
        ),
        *RING_PLANS,
        *PAIR_PLANS,
        PlanKind(
            kind="command",
            called="speed table",
            setup="",
            where="A tachometer on the tool, or the controller's own reading of its speed.",
            tells="the table from command to speed, and what it departs by from a straight line",
            unit="rad/s",
            reads=("rpm", "rpm"),
            settings=lambda _axis: {"voltages": USUAL},
            steps=steps_command,
            columns=columns_command,
            givens=(Given("voltages", "", "", "from, to, and in how many steps; or one by one", label="Voltages"),),
            caution="It turns at each step of the round: guard shut, a hand on the stop.",
            key="spindles",
            words="a table of commands",
            lacks=("highest_speed", "How fast may the tool turn? Give its highest speed first"),
            ends=ends_command,
            odd=odd_command,
        ),
    )
}


def givens_of(kind: str, axis: PlanAxis) -> tuple[Given, ...]:
    """What is asked before a round on this axis: what the plan lets be changed, where the gauge stands, how warm it is.

    One that moves an axis without a travel asks first how far it may go.
    """
    plan = PLAN_KINDS[kind]
    asked = (*((HOW_FAR,) if plan.moves and axis.travel is None else ()), *plan.givens,
             *((DIAGONAL,) if kind == "push" and axis.fellow else ()),
             *((SENSOR_PLACE,) if plan.sensed else ()), *((TEMPERATURE,) if plan.moves else ()),
             *((TEMPERATURE_DOUBT,) if kind in ("lengths", "positioning") else ()))
    units = {"[place]": axis.place_unit, "[length]": axis.length_unit, "[effort]": axis.effort_unit, "[torque]": axis.torque_unit}

    def worded(text: str) -> str:
        for placeholder, unit in units.items():
            text = text.replace(placeholder, unit)
        return text

    others = tuple(name for name, _ in axis.others)
    return tuple(replace(one, **{key: worded(getattr(one, key)) for key in ("unit", "doc")},
                         **({"choices": others} if one is OTHER_AXIS else {})) for one in asked)


def temperature_in(settings: dict[str, Any]) -> float | None:
    """The temperature that was read for a round [°C], or None. Raises BadValue."""
    typed = str(settings.get("temperature") or "").strip()
    return None if not typed else float(TEMPERATURE.check(numbers(typed, "temperature")[0]))


def sure_to(settings: dict[str, Any], name: str) -> float | None:
    """A number beside the readings that says how sure something is, as it is typed; None where nothing is. Raises BadValue."""
    typed = str(settings.get(name) or "").strip()
    if not typed:
        return None
    value = numbers(typed, name)[0]
    if value < 0:
        raise BadValue(f"{name} is {value:g}; allowed is 0 or more", name)
    return value


def steps_of(kind: str, axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """The steps of a plan. Raises BadValue for settings that make none, and for a travel that nobody has said."""
    axis = replace(on_its_travel(axis.typed_in(settings), settings), gauge=gauge_of(settings))
    temperature_in(settings)
    for name in (TEMPERATURE_DOUBT.name, BLOCKS):
        sure_to(settings, name)
    if axis.gauge is not None and axis.gauge.kind and axis.gauge.kind not in LENGTHS and PLAN_KINDS[kind].unit in ("[travel]", "m"):
        raise BadValue(f"a {axis.gauge.kind} reads no lengths; a dial, a scale or a caliper does", "gauge")
    if PLAN_KINDS[kind].moves and axis.room <= 0:
        raise BadValue("the travel is nothing to go along", "travel")
    return PLAN_KINDS[kind].steps(axis, settings)


def left_of(kind: str, axis: PlanAxis, settings: dict[str, Any], steps: tuple[Step, ...], values: dict[str, float]
            ) -> tuple[Step, ...]:
    """The steps that are still to come, in their order; of a plan that is led only the next one is known. Raises BadValue."""
    led = PLAN_KINDS[kind].led
    if led is None:
        return tuple(step for step in steps if step.place not in values)
    ahead = next((step for step in steps if beside(step.place) and step.place not in values), None)
    place = led(axis.typed_in(settings), settings, values) if ahead is None else ahead.place
    return tuple(step for step in steps if step.place == place)


def expected_of(kind: str, axis: PlanAxis, settings: dict[str, Any]) -> tuple[Step, ...]:
    """The steps that a plan takes; of one that is led, if none of its answers says that something is wrong. Raises BadValue."""
    steps, values, found = steps_of(kind, axis, settings), dict[str, float](), list[Step]()
    if PLAN_KINDS[kind].led is None:
        return steps
    while left := left_of(kind, axis, settings, steps, values):
        found.append(left[0])
        values[left[0].place] = 0.0
    return tuple(found)


def small_move(axis: PlanAxis) -> Step:
    """What comes before the first round of an axis goes anywhere: a move of a few millimetres, compared by eye."""
    most = SMALL_MOVE if axis.linear else SMALL_TURN
    far = most if axis.travel is None else min(most, axis.travel / 20)
    return Step(SMALL, f"First a small move: {axis.said(far)} towards plus from where it stands, away from both ends. Look: does"
                " it go about so far, and that way?", BY_HAND, 0.0, (("creep", far),))


def columns_of(kind: str, axis: PlanAxis, settings: dict[str, Any], values: dict[str, float]) -> dict[str, Any]:
    """What was taken as the columns of a reading. Raises BadValue when not even one whole repeat was taken."""
    axis = axis.typed_in(settings)
    if gauge_of(settings) is not None:
        values = drift_out(steps_of(kind, axis, settings), values)
    typed = settings.get("targets") or settings.get("commanded")
    places = in_travel(axis, numbers(typed, "targets")) if typed and not PLAN_KINDS[kind].pair else []
    try:
        found = PLAN_KINDS[kind].columns({**settings, "places": places, "axis": axis}, values)
    except KeyError:
        raise BadValue("not enough was taken to make a reading") from None
    if any(isinstance(value, list) and not value for value in found.values()):
        raise BadValue("not even one whole repeat was taken")
    return found


def possible(kinds: Iterable[str], parts: Iterable[str]) -> tuple[str, ...]:
    """Of these kinds of readings, those that a subject can have; parts: kinds of its links and of its motor."""
    there = set(parts)
    return tuple(kind for kind in kinds if not PLAN_KINDS[kind].needs or PLAN_KINDS[kind].needs in there)


def words_of(kind: str) -> str:
    """What a round of a kind takes, in a few words."""
    return PLAN_KINDS[kind].words or reading_kinds()[kind].words
