"""Judgements that only a servo needs."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.load.cycle import Move, gentler, slower
from urban_mule.core.motor.datasheet import doubts
from urban_mule.core.motor.margin import STEPPER_OR_SERVO
from urban_mule.core.motor.printed_checks import APART, apart, fits, fits_none, is_printed
from urban_mule.core.motor.servo_printed import ServoFit, torque_doubt
from urban_mule.core.motor.servo_winding import ServoWinding, of_one_phase
from urban_mule.core.motor.ways import FIND_A_DRIVE, geared, more_volts, stronger
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.units import COVERAGE
from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import share_of, size
from urban_mule.core.train.link import Link

ONE_SIZE_UP = 1.3  # one size up gives at least so much over the RMS torque
SLOW_SHARE = 0.2  # of the rated speed: below it most of a servo's power lies idle


@check("continuous torque", stage="Motor")
def continuous_torque(
    continuous_margin: float, cycle: tuple[Move, ...], rotor_inertia: Reals = None, rated_torque: Reals = None,
    motor_peak_torque: Reals = None,
) -> Verdict:
    """RMS torque of the cycle against what the servo may give all the time."""
    said = f"The servo may give {size(continuous_margin)} times the RMS torque all the time at the mean speed"
    school = "One size up is the usual rule of thumb for servos: they take little above their rating."
    room = share_of(continuous_margin, 1, ONE_SIZE_UP)
    ways = (*stronger(rotor_inertia, rated_torque=rated_torque, motor_peak_torque=motor_peak_torque), gentler(cycle), slower(cycle))
    if continuous_margin < ONE_SIZE_UP:
        hot = continuous_margin < 1
        return Verdict("short" if hot else "tight", f"{said}{': it overheats' if hot else ''}.", "", school, room,
                       measure=continuous_margin, ways=ways, otherwise=f"{FIND_A_DRIVE}.")
    return Verdict("good", f"{said}.", "Nothing to do.", school, room)


@check("peak time", stage="Motor", applies=lambda solution: solution.get("peak_time") is not None)
def peak_lasts(
    time_above_rated: float, peak_time: float, cycle: tuple[Move, ...], rotor_inertia: Reals = None, rated_torque: Reals = None,
    motor_peak_torque: Reals = None,
) -> Verdict:
    """How long the cycle asks more than the rated torque against how long the servo may give it."""
    said = f"The cycle asks more than the rated torque for {size(time_above_rated)} s at a time; {size(peak_time)} s are allowed"
    if time_above_rated > 0.7 * peak_time:
        ways = (*stronger(rotor_inertia, rated_torque=rated_torque, motor_peak_torque=motor_peak_torque), gentler(cycle))
        over = time_above_rated > peak_time
        return Verdict("short" if over else "tight", f"{said}.", "", headroom=0.0 if over else 0.2, measure=-time_above_rated,
                       ways=ways, otherwise=f"{FIND_A_DRIVE}.")
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=1 - time_above_rated / peak_time)


@check("kind of motor", stage="Motor")
def servo_or_stepper(
    peak_speed: float, speed_limit: float, cycle: tuple[Move, ...], train: tuple[Link, ...],
    stated_speeds: tuple[float, float] | None = None, supply_voltage: Reals = None, voltage_limit: Reals = None,
) -> Verdict:
    """Whether a stepper would do as well."""
    full, called = (speed_limit, "no-load") if stated_speeds is None else (stated_speeds[0], "rated")
    share = peak_speed / full
    said = f"The cycle turns the servo at {size(100 * share)} % of its {called} speed on this supply"
    ways = (slower(cycle), *more_volts(supply_voltage, voltage_limit))
    if peak_speed > speed_limit:
        return Verdict("short", f"{said}; its speed ends at {size(100 * speed_limit / full)} %.", "", STEPPER_OR_SERVO, 0.0,
                       measure=-share, ways=ways, otherwise=f"{FIND_A_DRIVE}.")
    if share > 1:
        return Verdict("tight", f"{said}: its torque falls there.", "", STEPPER_OR_SERVO, 0.2, measure=-share, ways=ways,
                       otherwise=f"{FIND_A_DRIVE}.")
    if share < SLOW_SHARE:
        return Verdict("tight", f"{said}.", "A stepper is simpler and as strong at such speeds.", STEPPER_OR_SERVO, 0.4,
                       measure=share, ways=(geared(train),))
    return Verdict("good", f"{said}.", "Nothing to do.", STEPPER_OR_SERVO, 0.8)


@check("stated speeds", stage="Motor")
def speeds_as_stated(
    rated_speed: Reals = None, running_winding: ServoWinding | None = None, rated_voltage: Reals = None,
    supply_voltage: Reals = None,
) -> Verdict | None:
    """Whether the sheet's speeds are taken as they stand for want of both voltages."""
    if rated_speed is None or any(one is not None for one in (running_winding, rated_voltage, supply_voltage)):
        return None
    return Verdict("tight", f"The speeds of the sheet, {size(rated_speed * 60 / (2 * np.pi))} rpm rated, are taken as they stand:"
                   " neither the voltage they are stated at nor the supply is given.",
                   "Give both; a lower supply lowers them in proportion.", headroom=0.3)


@check("winding figures", stage="Motor")
def winding_figures_assumed(servo_winding: ServoWinding | None = None, winding_figures_are: Reals = None) -> Verdict | None:
    """Whether it was said or assumed between which ends the sheet's resistance and inductance stand."""
    if servo_winding is None or winding_figures_are is not None:
        return None
    return Verdict("tight", "Resistance and inductance are taken for one phase; line to line would mean half of them.",
                   "Look at the data sheet and say which it is.", headroom=0.4)


@check("data sheet", stage="Motor")
def sheet_is_plausible(
    rated_torque: Reals = None, motor_peak_torque: Reals = None, rated_speed: Reals = None, max_speed: Reals = None,
    rotor_inertia: Reals = None, rated_voltage: Reals = None, torque_constant_rms: Reals = None, pole_pairs: Reals = None,
    phase_resistance: Reals = None, phase_inductance: Reals = None,
) -> Verdict | None:
    """Whether the figures of the data sheet hang together as those of real motors do."""
    found = doubts("servo", locals())
    if not found:
        return None
    return Verdict("tight", found[0].sentence, "Look at the data sheet again: unit, decimal point, line.", headroom=0.25)


@check("printed curve", stage="Motor", applies=is_printed)
def servo_curves_fit(
    printed_fit: ServoFit, supply_voltage: float, available_voltage: float, running_winding: ServoWinding | None = None,
    rated_torque: Reals = None, motor_peak_torque: Reals = None, torque_constant_rms: Reals = None,
    phase_resistance: Reals = None, winding_figures_are: str = "one phase",
) -> Verdict:
    """How well the printed curves fit a winding, what they contradict, and how well those at this supply follow."""
    fit = printed_fit
    if running_winding is None:
        return fits_none(fit.curves[0], fit.found.deviation)
    part = of_one_phase(winding_figures_are)
    odd = apart("torque constant", math.sqrt(3) * running_winding.torque_constant, torque_constant_rms, "N·m/A", 1.0) or apart(
        "resistance", running_winding.resistance / part, phase_resistance, "Ω", 1.0)
    for shows, stated in (("peak", motor_peak_torque), ("continuous", rated_torque)):
        level = next((float(one.torques.max()) for one in fit.curves if one.shows == shows), None)
        if odd or level is None or stated is None:
            continue
        if abs(math.log(level / stated)) > math.log(APART["torque constant"]):
            odd = f"the {shows} one reaches {size(level)} N·m; the figures say {size(float(stated))} N·m. Is it of this motor?"
    return fits(fit.found.deviation, odd, COVERAGE * torque_doubt(fit, available_voltage), f"at {size(supply_voltage)} V",
                 phase_resistance is None)
