"""Judgements that hold for every axis: each one sentence with the deciding number and the next step.

Thresholds carry the school they belong to. Motor-specific judgements stand in checks_stepper and checks_servo.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from urban_mule.core.motor.margin import CAREFUL_FACTOR, COMFORTABLE_RATIO, SAFETY_FACTOR, USABLE_RATIO
from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.spectrum import TimeBase
from urban_mule.core.scale.steps import TravelReading, telling_ratio
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import microns, share_of, size
from urban_mule.core.train.fold import LINEAR_UNITS

STEPPER_OR_SERVO = ("Stepper or servo: a stepper holds without hunting and is simplest below its corner speed; a servo runs faster,"
                    " cooler, and notices when it is late.")


class Goals:
    """What the Brief asks of an axis."""

    accuracy_wanted: Reals = given("[travel]", "A_w", "accuracy the work needs", above=0)
    speed_wanted: Reals = given("[travel]/s", "v_w", "speed the work needs", above=0)
    acceleration_wanted: Reals = given("[travel]/s²", "a_w", "acceleration the work needs", above=0)
    safety_factor: Reals = given(
        "", "S_f", "torque in hand at the tightest moment: 1.5 is usual, 2 is careful", default=SAFETY_FACTOR, least=1, most=10)


@check("goals", stage="Brief")
def goals_are_set(
    accuracy_wanted: Reals = None, speed_wanted: Reals = None, acceleration_wanted: Reals = None,
    positioning_accuracy: Reals = None, top_speed: Reals = None, top_acceleration: Reals = None,
) -> Verdict:
    """How many of the goals are set, and how many of those are met."""
    pairs = ((speed_wanted, top_speed, True), (acceleration_wanted, top_acceleration, True),
             (accuracy_wanted, positioning_accuracy, False))
    wanted = [(goal, reached, more) for goal, reached, more in pairs if goal is not None]
    if not wanted:
        return Verdict("unknown", "No goal is set for this axis, so nothing can be judged against one.",
                       "Write down speed, acceleration and accuracy before buying parts.")
    met = sum(1 for goal, reached, more in wanted
              if reached is not None and (reached >= goal * (1 - 1e-9) if more else reached <= goal))
    open_ = sum(1 for _, reached, _ in wanted if reached is None)
    said = f"{met} of {len(wanted)} goals of this axis are met"
    if met == len(wanted):
        return Verdict("good", f"{said}.", "Nothing to do.", headroom=0.9)
    if met + open_ == len(wanted):
        return Verdict("unknown", f"{said}; {open_} cannot be judged yet.", "Go on along the trail.")
    return Verdict("tight", f"{said}.", "Follow the trail to the stage that falls short.", headroom=0.25)


@check("torque margin", stage="Motor")
def torque_margin(working_margin: float, safety_factor: float) -> Verdict:
    """Torque available over torque needed at the tightest moment."""
    school = (f"Safety factor {size(safety_factor)}, as set. Two schools: {SAFETY_FACTOR:g} is usual; {CAREFUL_FACTOR:g}, one motor"
              " size up, is careful and right for an undamped load near the corner speed.")
    room = share_of(working_margin, 1.0, safety_factor) if safety_factor > 1 else share_of(working_margin, 1.0, SAFETY_FACTOR)
    if working_margin >= safety_factor:
        nxt = "Nothing to do." if working_margin < 4 else "A smaller motor or less current would do."
        return Verdict("good", f"Pulls with {size(working_margin)} times the torque needed at the tightest moment.",
                       nxt, school, room)
    if working_margin >= 1:
        return Verdict("tight", f"Pulls with only {size(working_margin)} times the torque needed at the tightest moment.",
                       "Lower the acceleration or the speed, or raise the supply voltage.", school, room)
    return Verdict("short", f"Gives only {size(working_margin)} of the torque needed at the tightest moment: it will stall.",
                   "Choose a stronger motor, a reduction, a higher supply voltage or a slower move.", school, 0.0)


@check("reachable speed", stage="Motor")
def reachable_speed(available_torque_at_peak_speed: float, top_speed: float, speed_wanted: Reals = None) -> Verdict:
    """Whether this supply carries the motor to the speed of the cycle and of the Brief."""
    if available_torque_at_peak_speed <= 0:
        return Verdict("short", "On this supply the motor has no torque left at the top speed of the cycle.",
                       "Raise the supply voltage or lower the speed.", headroom=0.0)
    if speed_wanted is not None and top_speed < speed_wanted * (1 - 1e-9):
        return Verdict("tight", f"The cycle reaches {size(top_speed / speed_wanted * 100)} % of the speed the Brief asks for.",
                       "Raise the speed of a move, or its distance if it is triangular.", headroom=0.15)
    return Verdict("good", f"At the top speed {size(available_torque_at_peak_speed)} N·m are left on this supply.",
                   "Nothing to do.", headroom=0.8)


@check("inertia ratio", stage="Motor")
def inertia_balance(inertia_ratio: float, comfortable_reduction: float) -> Verdict:
    """Load seen by the rotor against the rotor."""
    school = f"Comfortable to {COMFORTABLE_RATIO:g}:1, usable to {USABLE_RATIO:g}:1, beyond it only with careful tuning."
    ratio = f"The load is {size(inertia_ratio)} times the rotor"
    if inertia_ratio <= COMFORTABLE_RATIO:
        return Verdict("good", f"{ratio}: comfortable.", "Nothing to do.", school, 1 - inertia_ratio / 3 / COMFORTABLE_RATIO)
    if inertia_ratio <= USABLE_RATIO:
        return Verdict("tight", f"{ratio}: usable.", "Accelerate gently, or reduce the moving mass.", school, 0.4)
    return Verdict(
        "tight", f"{ratio}: careful, it rings and loses steps easily.",
        f"A reduction of about {size(comfortable_reduction)}:1 more would make it comfortable.", school,
        float(np.clip(0.35 * USABLE_RATIO / inertia_ratio, 0.02, 0.35)))


@check("cycle", stage="Moves")
def cycle_is_given(
    top_speed: float, top_acceleration: float, unit: str, speed_wanted: Reals = None, acceleration_wanted: Reals = None
) -> Verdict:
    """What the cycle asks, against the goals of the Brief."""
    short = [
        name for name, value, wanted in (
            ("speed", top_speed, speed_wanted), ("acceleration", top_acceleration, acceleration_wanted))
        if wanted is not None and value < wanted * (1 - 1e-9)
    ]
    metres = unit in LINEAR_UNITS
    speed = f"{size(top_speed)} m/s" if metres else f"{size(np.degrees(top_speed))} °/s"
    pace = f"{size(top_acceleration)} m/s²" if metres else f"{size(np.degrees(top_acceleration))} °/s²"
    if short:
        return Verdict("tight", f"The cycle moves at {speed} and {pace}, below the {' and '.join(short)} the Brief asks for.",
                       "Raise the move, or lower the goal.", headroom=0.2)
    return Verdict("good", f"Moves at {speed} and speeds up at {pace}.", "Nothing to do.", headroom=0.9)


@check("pulse rate", stage="Drive")
def pulse_rate_reachable(pulse_rate: float, max_pulse_rate: float, minimum_pulse_width: Reals = None) -> Verdict:
    """Pulses at top speed against what the controller makes and the driver sees."""
    limit, who = max_pulse_rate, "controller"
    if minimum_pulse_width is not None and 0.5 / minimum_pulse_width < limit:
        limit, who = 0.5 / minimum_pulse_width, "driver"
    share = pulse_rate / limit
    said = f"Top speed needs {pulse_rate / 1e3:.3g} kHz of pulses, {size(100 * share)} % of what the {who} takes"
    if share > 1:
        return Verdict("short", f"{said}.", "Use fewer microsteps, or a controller that counts faster.", headroom=0.0)
    if share > 0.8:
        return Verdict("tight", f"{said}.", "Use fewer microsteps to have a fifth in hand.", headroom=(1 - share) * 1.5)
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=min(1.0, 1 - share + 0.2))


@check("scale", stage="Scale")
def scale_correction(
    scale_ratio: float, steps_per_unit: float, travel_reading: TravelReading, scale_ratio_uncertainty: Reals = None
) -> Verdict:
    """Whether a measured travel asks for a correction, or gives away a wrong setting."""
    off, u = scale_ratio - 1, scale_ratio_uncertainty
    told = telling_ratio(scale_ratio, u or 0.0)
    if told is not None:
        return Verdict("short", f"It moved {size(scale_ratio)} times what was commanded, near {told[0]}: {told[1]}.",
                       "Find the wrong setting; do not correct it away.", headroom=0.0)
    said = f"It moved {abs(off) * 100:.2g} % {'more' if off > 0 else 'less'} than commanded"
    if u is None:
        return Verdict("unknown", f"{said}; what the gauge can see is not given.", "Give the uncertainty of the gauge.")
    if abs(off) <= 2 * u:
        return Verdict("good", f"{said}, within what the gauge can see (±{200 * u:.2g} %).",
                       "Leave the steps per unit as they are.", headroom=0.9)
    if abs(off) > 0.05:
        return Verdict("short", f"{said}: too much for a worn part or a pitch error.",
                       "Look for a wrong tooth count, lead or microstep setting.", headroom=0.0)
    return Verdict("tight", f"{said}, more than the gauge's ±{200 * u:.2g} %.",
                   f"Set {steps_per_unit / scale_ratio:.6g} steps per unit and measure again.", headroom=0.25)


@check("backlash", stage="Slack")
def backlash_against_goal(
    backlash: float, accuracy_wanted: float, unit: str, backlash_uncertainty: Reals = None
) -> Verdict:
    """Measured backlash against the accuracy that the Brief asks for."""
    share, b = backlash / accuracy_wanted, microns(backlash, unit)
    sure = "" if backlash_uncertainty is None else f" ± {microns(2 * backlash_uncertainty, unit)}"
    school = "Repair first; compensate the small, stable rest."
    if share > 1:
        return Verdict("short", f"Backlash is {b}{sure}, {size(share)} times the accuracy wanted.",
                       "Find the play: preload, pinion, coupling, belt tension. Then measure again.", school, 0.0)
    if share > 1 / 3:
        return Verdict("tight", f"Backlash is {b}{sure}, {size(100 * share)} % of the accuracy wanted.",
                       "Adjust the preload; compensate what is left.", school, (1 - share) / 2)
    return Verdict("good", f"Backlash is {b}{sure}, {size(100 * share)} % of the accuracy wanted.",
                   "Compensate it, and watch the trend.", school, 1 - share)


@check("time base", stage="Ring")
def even_time_base(time_base: TimeBase) -> Verdict:
    """Whether the acceleration record lost samples."""
    if time_base.lost:
        return Verdict("tight", f"The record lost {time_base.lost} samples, at most {time_base.longest_gap} in a row;"
                       " they were filled in by straight lines.", "Use a faster sensor link and record again.", headroom=0.2)
    if time_base.resampled:
        return Verdict("tight", f"The samples come {size(100 * time_base.jitter)} % unevenly; the record was resampled.",
                       "Time the samples by the sensor's own clock.", headroom=0.3)
    return Verdict("good", f"{len(time_base.values)} samples came evenly at {size(time_base.sample_rate)} Hz.",
                   "Nothing to do.", headroom=1.0)


@check("resonance", stage="Ring")
def clear_mode(modes: tuple[Mode, ...]) -> Verdict:
    """One clear mode, or several that mean play."""
    first = modes[0]
    strong = [m for m in modes if m.strength >= 0.15]
    said = f"{first.frequency:.1f} Hz with damping ratio {first.damping_ratio:.3f}"
    if len(strong) == 1:
        return Verdict("good", f"One clear mode at {said}.", "Choose a shaper for it.", headroom=0.8)
    others = ", ".join(f"{m.frequency:.1f} Hz" for m in modes[1:] if m in strong)
    return Verdict("tight", f"{len(strong)} modes share the energy: {said}, and {others}.",
                   "Look for play, a loose rail, a dragging cable or a slack belt; then measure again.",
                   headroom=0.3 if len(strong) == 2 else 0.1)


@check("acceleration", stage="Ring")
def acceleration_allowed(
    top_acceleration: float, chosen_shaper: dict[str, Any], unit: str
) -> Verdict:
    """The acceleration of the cycle against what the shaper allows."""
    allowed = float(chosen_shaper["allowed_acceleration"])
    share = top_acceleration / allowed
    shown = f"{size(allowed)} m/s²" if unit in LINEAR_UNITS else f"{size(np.degrees(allowed))} °/s²"
    said = f"With {chosen_shaper['name']} the path stays true up to {shown}; the cycle uses {size(100 * share)} % of it."
    if share > 1:
        return Verdict("tight", said, "Lower the acceleration, or allow a larger path tolerance.", headroom=0.1)
    return Verdict("good", said, "Set this shaper.", headroom=1 - share / 1.5)


@check("accuracy", stage="Proof")
def accuracy_against_goal(positioning_accuracy: float, accuracy_wanted: float, unit: str,
                          error_shares: dict[str, float]) -> Verdict:
    """Bidirectional accuracy against the goal of the Brief, and what dominates the error."""
    share = positioning_accuracy / accuracy_wanted
    main = max(error_shares, key=lambda name: error_shares[name])
    repair = {
        "reversal": "Most of it is reversal: take out the play, or compensate it.",
        "scatter": "Most of it is scatter: look for play and loose parts; repeat with a better gauge.",
        "scale error": "Most of it is a straight line: correct the steps per unit.",
        "rest along the travel": "Most of it is along the travel: use a correction table.",
    }[main]
    said = f"Accuracy A is {microns(positioning_accuracy, unit)}, {size(100 * share)} % of what the Brief asks for."
    if share > 1:
        return Verdict("short", said, repair, "ISO 230-2, k = 2", 0.0)
    if share > 0.8:
        return Verdict("tight", said, repair, "ISO 230-2, k = 2", (1 - share) * 1.5)
    return Verdict("good", said, "Proven. Write it down and repeat it when something changes.", "ISO 230-2, k = 2",
                   1 - share * 0.7)
