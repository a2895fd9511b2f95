"""What an axis really reaches: the least of what all stages allow, with the one that binds."""

from __future__ import annotations

from typing import Any

import numpy as np

from urban_mule.core.brief.limits import Limits, Reach, fastest_of
from urban_mule.core.drive.pulses import SharedPulses, pulse_limits
from urban_mule.core.load.asked import AskedTorque, accelerations_for
from urban_mule.core.load.cycle import Pieces
from urban_mule.core.load.pair import OthersPart
from urban_mule.core.motor.margin import TorqueCurve
from urban_mule.core.readings.two_way import SPREAD
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.wording import size
from urban_mule.core.train.fold import gains_in_front
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import Screw
from urban_mule.core.train.screw import WHIRLING_SHARE, whirling_speed

LEAST = "the least of what the stages allow"


def needed(peak_torque: Reals, asked_torque: AskedTorque, cycle_pieces: Pieces) -> tuple[float, float, str]:
    """Torque at the cycle's accelerations, those of each way [N·m], what of it is the work rather than the moving, and what it is
    in words: that of the cycle, or of a way back that the cycle leaves out.
    """
    p = cycle_pieces
    greatest = np.maximum(np.abs(p.acceleration_start), np.abs(p.acceleration_end))
    own = {way: float(greatest[p.direction == way].max()) for way in (1.0, -1.0) if np.any(p.direction == way)}
    back = max(own.values())  # what goes one way only has to come back, as quickly
    moving = {way: float(np.asarray(asked_torque(own.get(way, back), (way,)))) for way in (1.0, -1.0)}
    most = max(moving, key=lambda way: moving[way])
    left_out = most not in own and moving[most] > peak_torque
    return (max(moving[most], float(peak_torque)), max(0.0, float(peak_torque) - moving[most]),
            "the torque needed on the return move, which the cycle leaves out" if left_out else "the torque needed")


def why_motor(torque_curve: TorqueCurve, factor: float, whole: float, of: str, reached: float) -> str:
    """Why a motor that is to have so many times a torque [N·m] ends where it does; of: which torque that is, in words."""
    if reached:
        return f"beyond it less than {size(factor)} times {of} is left" if factor > 1 else f"it stalls beyond: less than {of}"
    there = float(np.asarray(torque_curve(np.zeros(1)))[0]) / whole
    return (f"at no speed has the motor {size(factor)} times {of}, {size(there)} times is all" if factor > 1 else
            f"the motor stalls at any speed: it gives {size(there)} times {of}")


@quantity("", symbol="", source=LEAST, structure=True, formula="motor, pulses, whirling, ladder, resonance")
def speed_limits(
    torque_curve: TorqueCurve, peak_torque: Reals, asked_torque: AskedTorque, cycle_pieces: Pieces, travel_per_radian: Reals,
    safety_factor: Reals, train: tuple[Link, ...], top_speed: Reals, peak_speed: Reals, ladder_limits: Limits,
    pulse_rate: Reals = None, max_pulse_rate: Reals = None, minimum_pulse_width: Reals = None, minimum_pulse_gap: Reals = None,
    pulses_shared: SharedPulses | None = None, speeds_to_cross: tuple[float, ...] = (), others_part: OthersPart | None = None,
) -> tuple[Reach, ...]:
    """Every limit of the speed at the cycle's acceleration, the least first; speeds [travel/s, rad/s], pulse times [s].

    Of a pair the other axis takes its part of the motor's speed as it is.
    """
    whole, _, of = needed(peak_torque, asked_torque, cycle_pieces)
    others = 0.0 if others_part is None else float(others_part.speed)
    found = [*ladder_limits.speed]
    factors = 1.0, float(safety_factor)
    for factor, speed in zip(factors, fastest_of(torque_curve, [one * whole for one in factors], travel_per_radian), strict=True):
        why = why_motor(torque_curve, factor, whole, of, speed or 0.0)
        found += [] if speed is None else [Reach(max(speed - others, 0.0), "Motor", why, "supply_voltage")]
    for limit in pulse_limits(max_pulse_rate, minimum_pulse_width, minimum_pulse_gap, pulses_shared) if pulse_rate else ():
        given = "max_pulse_rate" if limit.who.startswith("the controller") else "minimum_pulse_width"
        why = f"more step pulses are needed than {limit.who}"
        found.append(Reach(max(float((top_speed + others) * limit.rate / pulse_rate) - others, 0.0), "Drive", why, given))
    for place, (link, turns) in enumerate(zip(train, gains_in_front(train), strict=True)):
        if isinstance(link, Screw) and link.end_support is not None and peak_speed:
            limit_speed = WHIRLING_SHARE * whirling_speed(link) / (peak_speed * turns) * top_speed
            found.append(Reach(float(limit_speed), "Load", "the screw begins to whirl", f"train[{place}].end_support"))
    if found and speeds_to_cross and speeds_to_cross[0] <= min(one.value for one in found) <= speeds_to_cross[1]:
        found.append(Reach(speeds_to_cross[0], "Motor", "from there on its full steps ring it, and it does not get past that",
                           "supply_voltage"))
    return tuple(sorted(found, key=lambda one: one.value))


@quantity("", symbol="", source=LEAST, structure=True, formula="motor, path of the shaper, ladder")
def acceleration_limits(
    torque_curve: TorqueCurve, peak_torque: Reals, asked_torque: AskedTorque, cycle_pieces: Pieces, top_acceleration: Reals,
    top_speed: Reals, travel_per_radian: Reals, safety_factor: Reals, ladder_limits: Limits,
    chosen_shaper: dict[str, Any] | None = None, others_part: OthersPart | None = None,
) -> tuple[Reach, ...]:
    """Every limit of the acceleration at the cycle's top speed, the least first [travel/s²]."""
    whole, work, of = needed(peak_torque, asked_torque, cycle_pieces)
    fastest_belt = float(top_speed) + (0.0 if others_part is None else float(others_part.speed))
    there = float(np.asarray(torque_curve(np.asarray([fastest_belt / float(travel_per_radian)])))[0])
    found = [*ladder_limits.acceleration]
    factors = 1.0, float(safety_factor)
    most = accelerations_for(asked_torque, [there / one - work for one in factors], float(top_acceleration))
    for factor, value in zip(factors, most, strict=True):
        found.append(Reach(value, "Motor", why_motor(torque_curve, factor, whole, of, value), "current_peak"))
    if chosen_shaper is not None:
        found.append(Reach(float(chosen_shaper["allowed_acceleration"]), "Ring",
                           f"beyond it {chosen_shaper['name']} bends the path by more than its tolerance", "path_tolerance"))
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


@quantity("[travel]/s²", symbol="a_s", source=LEAST, formula="min (a of the cycle, motor, ladder, shaper)",
          label="Acceleration to set")
def acceleration_to_set(acceleration_bound: Reach) -> float:
    """The one acceleration for the controller: that of the cycle, or the least that the stages allow where that is less."""
    return acceleration_bound.value


@quantity("", symbol="", source=LEAST, structure=True, formula="the limit that binds the acceleration to set")
def acceleration_bound(top_acceleration: Reals, acceleration_limits: tuple[Reach, ...] = ()) -> Reach:
    """What binds the acceleration to set: the cycle itself, or a limit below it."""
    found = [Reach(float(top_acceleration), "Moves", "the cycle asks no more", "cycle")]
    found += [one for one in acceleration_limits if one.value > 0]
    return min(found, key=lambda one: one.value)


@quantity("", symbol="A_r", source="a place is no better than the run or the homing behind it", structure=True,
          formula="max (A, 4·s_h)")
def accuracy_reached(positioning_accuracy: Reals, homing_scatter: Reals = None) -> Reach:
    """Accuracy with which a place is found again [travel]; homing binds where it wanders more than the run."""
    run = Reach(float(positioning_accuracy), "Proof", "the last positioning run", "positioning_reading")
    if homing_scatter is None or SPREAD * homing_scatter <= positioning_accuracy:
        return run
    return Reach(SPREAD * float(homing_scatter), "Moves", "homing wanders more than the axis errs", "homing_reading")
