"""What an axis really reaches: the least of what all stages allow, with the one that binds."""

from __future__ import annotations

from typing import Any

import numpy as np

from urban_mule.core.brief.limits import Limits, Reach, fastest
from urban_mule.core.drive.pulses import SharedPulses, pulse_limits
from urban_mule.core.load.asked import AskedTorque, acceleration_for
from urban_mule.core.motor.margin import TorqueCurve
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.wording import size
from urban_mule.core.train.fold import gains_in_front
from urban_mule.core.train.links import Screw, Stage
from urban_mule.core.train.screw import WHIRLING_SHARE, whirling_speed

LEAST = "the least of what the stages allow"
STALLS = "the motor stalls beyond"
FULL = 4.0  # standard deviations that a place after homing spreads over, two to either side


def needed(peak_torque: Reals, asked_torque: AskedTorque, top_acceleration: Reals) -> tuple[float, float]:
    """Torque at the cycle's acceleration [N·m], and what of it is the work rather than the moving."""
    moving = float(np.asarray(asked_torque(top_acceleration)))
    return max(moving, float(peak_torque)), max(0.0, float(peak_torque) - moving)


def in_hand(safety_factor: Reals) -> str:
    return f"less than {size(safety_factor)} times in hand beyond"


@quantity("", symbol="", source=LEAST, structure=True, formula="motor, pulses, whirling, ladder")
def speed_limits(
    torque_curve: TorqueCurve, peak_torque: Reals, asked_torque: AskedTorque, top_acceleration: Reals, travel_per_radian: Reals,
    safety_factor: Reals, train: tuple[Stage, ...], top_speed: Reals, peak_speed: Reals, ladder_limits: Limits,
    pulse_rate: Reals = None, max_pulse_rate: Reals = None, minimum_pulse_width: Reals = None, minimum_pulse_gap: Reals = None,
    pulses_shared: SharedPulses | None = None,
) -> tuple[Reach, ...]:
    """Every limit of the speed at the cycle's acceleration, the least first; speeds [travel/s, rad/s], pulse times [s]."""
    whole, _ = needed(peak_torque, asked_torque, top_acceleration)
    found = [*ladder_limits.speed]
    for factor, why in ((1.0, STALLS), (float(safety_factor), in_hand(safety_factor))):
        speed = fastest(torque_curve, factor * whole, travel_per_radian)
        found += [] if speed is None else [Reach(speed, "Motor", why, "supply_voltage")]
    for limit in pulse_limits(max_pulse_rate, minimum_pulse_width, minimum_pulse_gap, pulses_shared) if pulse_rate else ():
        given = "max_pulse_rate" if limit.who.startswith("the controller") else "minimum_pulse_width"
        found.append(Reach(float(top_speed * limit.rate / pulse_rate), "Drive", f"{limit.who} no more pulses", given))
    for stage, turns in zip(train, gains_in_front(train), strict=True):
        if isinstance(stage, Screw) and stage.end_support is not None and peak_speed:
            limit_speed = WHIRLING_SHARE * whirling_speed(stage) / (peak_speed * turns) * top_speed
            found.append(Reach(float(limit_speed), "Load", "the screw begins to whirl", "train"))
    return tuple(sorted(found, key=lambda one: one.value))


@quantity("", symbol="", source=LEAST, structure=True, formula="motor, path of the shaper, ladder")
def acceleration_limits(
    torque_curve: TorqueCurve, peak_torque: Reals, asked_torque: AskedTorque, top_acceleration: Reals, top_speed: Reals,
    travel_per_radian: Reals, safety_factor: Reals, ladder_limits: Limits, chosen_shaper: dict[str, Any] | None = None,
) -> tuple[Reach, ...]:
    """Every limit of the acceleration at the cycle's top speed, the least first [travel/s²]."""
    _, work = needed(peak_torque, asked_torque, top_acceleration)
    there = float(np.asarray(torque_curve(np.asarray([float(top_speed) / float(travel_per_radian)])))[0])
    found = [*ladder_limits.acceleration]
    for factor, why in ((1.0, STALLS), (float(safety_factor), in_hand(safety_factor))):
        value = acceleration_for(asked_torque, there / factor - work, float(top_acceleration))
        found.append(Reach(value, "Motor", why, "current_peak"))
    if chosen_shaper is not None:
        found.append(Reach(float(chosen_shaper["allowed_acceleration"]), "Ring",
                           f"with {chosen_shaper['name']} the path stays true only up to there", "path_tolerance"))
    return tuple(sorted(found, key=lambda one: one.value))


@quantity("", symbol="v_r", source=LEAST, structure=True, formula="min (motor, pulses, whirling, ladder)")
def speed_reached(speed_limits: tuple[Reach, ...]) -> Reach:
    """The speed that this axis reaches at the acceleration of its cycle. Raises NotKnown where nothing limits it."""
    if not speed_limits:
        raise NotKnown("nothing that is known limits the speed", "max_pulse_rate")
    return speed_limits[0]


@quantity("", symbol="a_r", source=LEAST, structure=True, formula="min (motor, path of the shaper, ladder)")
def acceleration_reached(acceleration_limits: tuple[Reach, ...]) -> Reach:
    """The acceleration that this axis reaches with its path true, at the top speed of its cycle."""
    return acceleration_limits[0]


@quantity("", symbol="A_r", source="a place is no better than the run or the homing behind it", structure=True,
          formula="max (A, 4·s_h)")
def accuracy_reached(positioning_accuracy: Reals, homing_scatter: Reals = None) -> Reach:
    """Accuracy with which a place is found again [travel]; homing binds where it wanders more than the run."""
    run = Reach(float(positioning_accuracy), "Proof", "the last positioning run", "positioning_reading")
    if homing_scatter is None or FULL * homing_scatter <= positioning_accuracy:
        return run
    return Reach(FULL * float(homing_scatter), "Moves", "homing wanders more than the axis errs", "homing_reading")
