"""The plans of the Ring stage: records, ripples, responses, torque over moves, gains by hand."""

from __future__ import annotations

from urban_mule.bench.sessions.by_hand import columns_ripple, steps_ripple
from urban_mule.bench.sessions.by_trace import (
    columns_effort,
    columns_response,
    columns_tuning,
    led_tuning,
    odd_answer,
    settings_effort,
    settings_response,
    settings_tuning,
    steps_effort,
    steps_response,
    steps_tuning,
)
from urban_mule.bench.sessions.record import WAYS, columns_record, preset_shaped, settings_record, steps_record
from urban_mule.bench.sessions.rounds import PlanKind, as_typed
from urban_mule.core.readings.response import OF
from urban_mule.core.sheet.given import Given

SHAKES = "It shakes or moves at once: hands off, nothing loose on it. A hand on the stop that removes the power."
A_MOVE = (Given("distance", "", "", "how far each move goes, [place]", label="Distance"),
          Given("speed", "", "", "its speed, [place]/s", label="Speed"),
          Given("acceleration", "", "", "its acceleration, [place]/s²", label="Acceleration"))
RUNS_AWAY = ("A loop may run away: a hand on the stop that removes the power, the travel free, the drive's torque limit low first."
             " What hangs falls when the power goes.")
RING_PLANS = (
    PlanKind(
        kind="acceleration",
        called="vibration",
        setup="sensor",
        where="The accelerometer is screwed or waxed on as near to the tool as it can be.",
        tells="where the axis rings, how strongly, and which shaper and acceleration it allows",
        unit="m/s²",
        reads=("m/s²", "m/s²"),
        settings=settings_record,
        steps=steps_record,
        columns=columns_record,
        presets=preset_shaped,
        givens=(
            Given("by", "", "", "what makes it vibrate: a swept tone, a tap with a hammer, a move that stops, one with its"
                  " shaper", choices=WAYS,
                  label="Made to vibrate by"),
            Given("lowest", "Hz", "", "sweep from", label="Sweep from"),
            Given("highest", "Hz", "", "sweep up to", label="Sweep up to"),
            Given("duration", "s", "", "how long the sweep lasts", label="Duration"),
            Given("direction", "", "", "directions of the sensor, apart by commas", label="Directions"),
        ),
        records=True,
        caution=SHAKES,
    ),
    PlanKind(
        kind="response",
        setup="",
        where="The trace of the drive is set to command and actual value.",
        tells="overshoot, settling and ringing, and what to turn next",
        unit="[travel]",
        reads=("mm", "°"),
        settings=settings_response,
        steps=steps_response,
        columns=columns_response,
        givens=(*A_MOVE, Given("of", "", "", "what is followed", choices=OF, label="Trace of")),
        records=True, caution=RUNS_AWAY,
    ),
    PlanKind(
        kind="effort",
        called="effort",
        setup="",
        where="The trace of the drive is set to the speed of the motor and its torque.",
        tells="inertia, dry and viscous friction and weight, as they really are",
        unit="N·m",
        reads=("N·m", "N·m"),
        settings=settings_effort,
        steps=steps_effort,
        columns=columns_effort,
        givens=A_MOVE,
        records=True, caution=RUNS_AWAY, needs="servo",
    ),
    PlanKind(
        kind="tuning",
        called="gains by hand",
        setup="",
        where="A hand lies on the stop; the drive's torque limit is set low first.",
        tells="velocity gain, integral and position gain that hold on this axis",
        unit="",
        reads=("", ""),
        settings=settings_tuning,
        steps=steps_tuning,
        columns=columns_tuning,
        givens=A_MOVE,
        caution=RUNS_AWAY, needs="servo", led=led_tuning, odd=odd_answer,
    ),
    PlanKind(
        kind="ripple",
        setup="piece",
        where="A ruler lies along the ripple of a test piece, behind a sharp corner.",
        tells="frequency and damping of what rings, without a sensor",
        unit="[travel]",
        reads=("mm", "°"),
        settings=lambda axis: {"speed": as_typed(axis, [axis.speed or 0.1]), "crests": "4"},
        steps=steps_ripple,
        columns=columns_ripple,
        givens=(
            Given("speed", "", "", "speed at which it was made, [place]/s", label="Speed"),
            Given("crests", "", "", "crests whose height is read; 0 for none", label="Crests"),
        ),
    ),
)
