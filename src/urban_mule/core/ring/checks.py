"""Judgements on an acceleration record, its modes and the shaper for them."""

from __future__ import annotations

from typing import Any

import numpy as np

from urban_mule.core.load.cycle import Move, eased
from urban_mule.core.readings.acceleration import AccelerationReading
from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.sensor import FEW_STEPS, SensorFaults
from urban_mule.core.ring.spectrum import TimeBase
from urban_mule.core.ring.train_hump import (
    AGREES,
    CONTRADICTS,
    NAMED_WITHIN,
    OTHER_CURRENT,
    OTHER_LOAD,
    USUAL,
    departure,
    is_unassigned,
    train_hump,
)
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.units import LINEAR_UNITS
from urban_mule.core.sheet.verdict import Verdict, Way, check
from urban_mule.core.sheet.wording import size

LITTLE = 0.01  # of a swing: below it is no number


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


@check("sensor", stage="Ring")
def sensor_serves(sensor_faults: SensorFaults, sample_rate: float) -> Verdict | None:
    """Whether the record is one of the machine and not of its sensor; nothing where nothing speaks against it."""
    one = sensor_faults
    if one.clipped:
        return Verdict("short", f"{one.clipped} samples stand at the stops of the sensor: it was shaken beyond its range.",
                       "Shake more gently, or take a sensor of a larger range; nothing below is to be trusted.", headroom=0.0)
    if one.steps is not None and one.steps < FEW_STEPS:
        return Verdict("tight", f"The sensor has {one.steps} steps within this record: small modes drown in them.",
                       "Shake harder, or take a finer sensor.", headroom=0.2)
    if one.hum is not None:
        return Verdict("tight", f"A line of {one.hum:g} Hz stands alone: hum of the mains, no mode.",
                       "Part the sensor's wire from mains and motor leads, and ground it at one end.", headroom=0.3)
    if one.content_ends is not None:
        return Verdict("tight", f"Above {size(one.content_ends)} Hz the record holds nothing, though it was sampled at"
                       f" {size(sample_rate)} Hz.", "A filter or a loose sensor; modes above are not seen.", headroom=0.2)
    return None


@check("resonance", stage="Ring", main=True)
def clear_mode(modes: tuple[Mode, ...], other_modes: tuple[float, ...] | None = None) -> Verdict:
    """One clear mode, or several that mean play; what is named as frame, tool or table needs no explaining."""
    all_strong = [m for m in modes if m.strength >= 0.15]
    strong = [m for m in all_strong if all(abs(m.frequency / one - 1) > NAMED_WITHIN for one in other_modes or ())] or all_strong
    first = strong[0] if strong else modes[0]
    said = f"{first.frequency:.1f} Hz with damping ratio {first.damping_ratio:.3f}"
    if len(strong) <= 1:
        named = "; what else rings there is named" if len(all_strong) > 1 else ""
        return Verdict("good", f"One clear mode at {said}{named}.", "Choose a shaper for it.", headroom=0.8)
    others = ", ".join(f"{m.frequency:.1f} Hz" for m in strong[1:])
    return Verdict("tight", f"{len(strong)} modes share the energy: {said}, and {others}.",
                   "Look for play, a loose rail, a dragging cable or a slack belt; then measure again.",
                   headroom=0.3 if len(strong) == 2 else 0.1)


@check("first mode", stage="Ring", applies=lambda solution: solution.get("first_axial_mode") is not None)
def mode_as_computed(
    modes: tuple[Mode, ...], resonance_to_compare: float, acceleration_reading: AccelerationReading,
    rotor_compliance_share: Reals = None, other_modes: tuple[float, ...] | None = None,
) -> Verdict:
    """The train's hump against the resonance that train and motor make together."""
    hump = train_hump(modes, resonance_to_compare, acceleration_reading.train_mode, other_modes or ())
    away = departure(hump.frequency, resonance_to_compare, USUAL * resonance_to_compare)
    made = "the train" if rotor_compliance_share is None else "train and motor"
    if is_unassigned(hump, away):
        named = f"{acceleration_reading.train_mode:.1f} Hz was named as the train's and is not in this record" if hump.named else (
            f"None of these humps can be told to be the train's: {made} would make {resonance_to_compare:.1f} Hz, the nearest is"
            f" {hump.frequency:.1f} Hz")
        return Verdict("unknown", f"{named}.", OTHER_LOAD if rotor_compliance_share is None else OTHER_CURRENT)
    said = f"The train rings at {hump.frequency:.1f} Hz, {made} would make {resonance_to_compare:.1f} Hz"
    springs = "" if rotor_compliance_share is None else (
        f"The motor's field is {size(100 * rotor_compliance_share)} % of what gives way.")
    if abs(away) <= AGREES:
        return Verdict("good", f"{said}: they agree.", "Nothing to do.", springs, headroom=0.8)
    return Verdict("tight", f"{said}: they are strained." if abs(away) <= CONTRADICTS else f"{said}: they contradict each other.",
                   "See trust on the Brief: it names what is most likely wrong, and uses the measured value.", springs,
                   headroom=0.25)


@check("acceleration", stage="Ring")
def acceleration_allowed(
    top_acceleration: float, chosen_shaper: dict[str, Any], unit: str, cycle: tuple[Move, ...], path_tolerance: float,
    two_mode_shaper: dict[str, Any] | None = None,
) -> Verdict:
    """The acceleration of the cycle against what the shaper allows."""
    allowed = float(chosen_shaper["allowed_acceleration"])
    share = top_acceleration / allowed
    shown = f"{size(allowed)} m/s²" if unit in LINEAR_UNITS else f"{size(np.degrees(allowed))} °/s²"
    said = (f"With {chosen_shaper['name']} the path error stays within the tolerance up to {shown}; the cycle"
            f" uses {size(100 * share)} % of it.")
    if share > 1:
        two, better = two_mode_shaper or {"residual": 1.0, "allowed_acceleration": 0.0}, ""
        if two["allowed_acceleration"] > allowed and two["residual"] <= chosen_shaper["residual"]:
            more = two["allowed_acceleration"] if unit in LINEAR_UNITS else np.degrees(two["allowed_acceleration"])
            left = size(100 * two["residual"]) if two["residual"] >= LITTLE else f"less than {100 * LITTLE:g}"
            better = (f"A shaper for the two modes leaves {left} % and allows {size(more)}"
                      f" {'m' if unit in LINEAR_UNITS else '°'}/s²: take it where the controller has it, or cure the second mode"
                      " (causes).")
        ways = (Way("lower the acceleration of the cycle", {"cycle": eased(cycle, 0.999 * allowed / top_acceleration)}),
                Way("allow a larger path tolerance", {"path_tolerance": path_tolerance * share}))
        return Verdict("short", said, better, headroom=0.0, measure=-share, ways=ways)
    return Verdict("good", said, "Set this shaper.", headroom=1 - share / 1.5)
