"""Judgements on torque, speed and inertia that hold for every kind of motor."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from urban_mule.core.load.cycle import Move, gentler, slower
from urban_mule.core.motor.margin import CAREFUL_FACTOR, COMFORTABLE_RATIO, REALLY_GIVES, SAFETY_FACTOR, USABLE_RATIO
from urban_mule.core.motor.ways import FIND_A_DRIVE, ONE_PAIR, geared, more_current, more_volts, stronger
from urban_mule.core.readings.ladder import LadderReading
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.units import LINEAR_UNITS
from urban_mule.core.sheet.verdict import Verdict, Way, check
from urban_mule.core.sheet.wording import rounded_up, share_of, size
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import Reduction


@check("torque margin", stage="Motor", main=True)
def torque_margin(
    working_margin: float, safety_factor: float, cycle: tuple[Move, ...], train: tuple[Link, ...], corner_speed: Reals = None,
    tightest_moment: tuple[float, float] | None = None, supply_voltage: Reals = None, voltage_limit: Reals = None,
    current_peak: Reals = None, rated_current_peak: Reals = None, current_limit: Reals = None, rotor_inertia: Reals = None,
    holding_torque: Reals = None, rated_torque: Reals = None, motor_peak_torque: Reals = None, step_angle: Reals = None,
    torque_factor: Reals = 1.0, ladder_reading: LadderReading | None = None,
) -> Verdict:
    """Torque available over torque needed at the tightest moment."""
    school = (f"Safety factor {size(safety_factor)}, as set. Two rules of thumb: {SAFETY_FACTOR:g} is usual; {CAREFUL_FACTOR:g},"
              " one motor size up, is careful and right for an undamped load near the corner speed.")
    wanted = max(safety_factor, SAFETY_FACTOR) if safety_factor <= 1 else safety_factor
    room = share_of(working_margin, 1.0, wanted)
    if working_margin >= safety_factor:
        least, usual, most = (size(share * working_margin) for share in REALLY_GIVES)
        low, middle, high = (size(100 * share) for share in REALLY_GIVES)
        untried = step_angle is not None and ladder_reading is None and torque_factor == 1
        enough = (f"Run the ladder on Moves: steppers lose steps between {low} and {high} % of what is computed, usually at"
                  f" {middle} %; here that leaves {least} to {most} times, usually {usual}." if untried else
                  "Nothing to do." if working_margin < 4 else "A smaller motor or less current would do.")
        return Verdict("good", f"Pulls with {size(working_margin)} times the torque needed at the tightest moment.",
                       enough, school, room, measure=working_margin)
    below = (corner_speed is not None and tightest_moment is not None and abs(tightest_moment[0]) <= corner_speed)
    torques = {"holding_torque": holding_torque} if holding_torque is not None else {
        "rated_torque": rated_torque, "motor_peak_torque": motor_peak_torque}
    ways: tuple[Way | tuple[Way, ...], ...] = (
        gentler(cycle), slower(cycle), *more_current(current_peak, rated_current_peak, current_limit),
        *(() if below else more_volts(supply_voltage, voltage_limit)), geared(train), *stronger(rotor_inertia, **torques))
    only = "only " if working_margin >= 1 else ""
    said = (f"Pulls with {only}{size(working_margin)} times the torque needed at the tightest moment." if only else
            f"Gives only {size(working_margin)} times the torque needed at the tightest moment: it will stall.")
    return Verdict("tight" if only else "short", said, "More volts do not help below its corner speed." if below else "", school,
                   room, measure=working_margin, ways=ways, otherwise=f"{FIND_A_DRIVE}.")


@check("reachable speed", stage="Motor")
def reachable_speed(
    available_torque_at_peak_speed: float, top_speed: float, working_margin: float, safety_factor: float, cycle: tuple[Move, ...],
    speed_wanted: Reals = None, supply_voltage: Reals = None, voltage_limit: Reals = None,
) -> Verdict:
    """Whether this supply carries the motor to the speed of the cycle, with what the cycle asks, and to that of the Brief."""
    if available_torque_at_peak_speed <= 0:
        return Verdict("short", "On this supply the motor has no torque left at the top speed of the cycle.", headroom=0.0,
                       measure=available_torque_at_peak_speed, ways=(*more_volts(supply_voltage, voltage_limit), slower(cycle)),
                       otherwise="See the torque margin.")
    if speed_wanted is not None and top_speed < speed_wanted * (1 - 1e-9):
        faster = replace_speed(cycle, float(speed_wanted))
        return Verdict("short", f"The cycle reaches {size(top_speed / speed_wanted * 100)} % of the speed the Brief asks for.",
                       headroom=0.0, measure=top_speed / speed_wanted,
                       ways=(Way("raise the speed of its moves", {"cycle": faster}),),
                       otherwise="Ask for less on the Brief, or for a motor and distances that reach it.")
    said = f"At the top speed {size(available_torque_at_peak_speed)} N·m are available on this supply"
    if working_margin < safety_factor:
        return Verdict("tight" if working_margin >= 1 else "short", f"{said}; the cycle asks more than that leaves in reserve.",
                       "See the torque margin.", headroom=share_of(working_margin, 1.0, max(safety_factor, 1.1)),
                       measure=working_margin)
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=0.8)


def replace_speed(cycle: tuple[Move, ...], speed: float) -> tuple[Move, ...]:
    """The cycle with every move at least so fast [travel/s]."""
    return tuple(replace(move, speed=max(move.speed, speed)) for move in cycle)


@check("inertia ratio", stage="Motor")
def inertia_balance(
    inertia_ratio: float, comfortable_reduction: float, train_inertia: float, load_inertia_at_motor: float, unit: str,
    train: tuple[Link, ...],
) -> Verdict:
    """Load seen by the rotor against the rotor."""
    school = f"Comfortable to {COMFORTABLE_RATIO:g}:1, usable to {USABLE_RATIO:g}:1, beyond it only with careful tuning."
    lighter = ("a lighter screw, pulley or gear: they are most of it" if train_inertia > load_inertia_at_motor / 2
               else "a lighter load" if unit in LINEAR_UNITS else "a load of less inertia")
    ratio = f"The load is {size(inertia_ratio)} times the rotor"
    if inertia_ratio <= COMFORTABLE_RATIO:
        return Verdict("good", f"{ratio}: comfortable.", "Nothing to do.", school, 1 - inertia_ratio / 3 / COMFORTABLE_RATIO)
    if inertia_ratio <= USABLE_RATIO:
        return Verdict("tight", f"{ratio}: usable.", f"Take {lighter}, or keep its acceleration gentle.", school, 0.4,
                       measure=-inertia_ratio)
    ratios = [rounded_up(comfortable_reduction, digits) for digits in (2, 3)]
    ways = tuple(Way(f"a reduction of {size(one)}:1 more makes it comfortable", {
        "train": (Reduction(ratio=one, efficiency=ONE_PAIR), *train)}, cures=True) for one in ratios)
    return Verdict(
        "tight", f"{ratio}: careful, it rings and loses steps easily.", "", school,
        float(np.clip(0.35 * USABLE_RATIO / inertia_ratio, 0.02, 0.35)), measure=-inertia_ratio, ways=(ways,),
        otherwise=f"Take {lighter} or a motor with more inertia; a reduction that would cure it leaves too little torque or speed.")
