"""Judgements that only a stepper needs: heat, current, microsteps, holding."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.load.cycle import Move, gentler, slower
from urban_mule.core.load.moments import CycleTorque
from urban_mule.core.motor.datasheet import doubts
from urban_mule.core.motor.heat import runs_away
from urban_mule.core.motor.margin import SAFETY_FACTOR, STEPPER_OR_SERVO, TorqueCurve
from urban_mule.core.motor.printed_checks import apart, fits, fits_none, is_printed
from urban_mule.core.motor.stepper import Running, StepperWinding, torque_constant, wound
from urban_mule.core.motor.stepper_printed import USUAL_SHARE, StepperFit, torque_doubt
from urban_mule.core.motor.ways import FIND_A_DRIVE, more_current, more_volts, parallel, stronger
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.units import COVERAGE
from urban_mule.core.sheet.verdict import Level, Verdict, Way, check
from urban_mule.core.sheet.wording import at_least, pace, share_of, size
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import Coupling, Direct, Screw

WARM, HOT = 80.0, 105.0  # °C in the winding: what a hand and glue bear, and the edge below class B (130 °C, IEC 60085)
INSULATION = "Insulation class B is rated for 130 °C (IEC 60085); 105 °C keeps a margin, 80 °C keeps the case touchable."
NEAR_CORNER, FAR_FACTOR, UNDAMPED_FACTOR = 0.8, 1.3, 2.0  # of the corner speed; factors of torque in hand
TOUCH = "Hot: do not touch."
LESS = 0.8  # of a current, an idle share, a thermal resistance: far enough to tell whether less of it helps
FINE = 16  # microsteps from which the steps of a motor are smooth
BEGINS = (0.6, 1.05)  # of the holding torque, with which pull-out curves begin
NEAR_A_SLIP = 0.15  # logarithm of a torque constant: as near as a curve tells
FAST_SHARE = 3.0  # times the corner speed: about a third of the torque is left


@check("winding temperature", stage="Motor")
def winding_heat(
    copper_loss: float, thermal_resistance: float, current_peak: float, winding_temperature: Reals = None,
    temperature_rise: Reals = None,
) -> Verdict:
    """Steady winding temperature at the full setting all the time."""
    ways = (less_current(current_peak), cooler(thermal_resistance))
    if runs_away(copper_loss, thermal_resistance) or winding_temperature is None:
        return Verdict("short", f"Fully on all the time, {size(copper_loss)} W heat the winding faster than it cools:"
                       " thermal runaway.", TOUCH, INSULATION, 0.0, measure=-copper_loss * thermal_resistance, ways=ways)
    said = f"The winding warms by {size(temperature_rise)} K to {size(winding_temperature)} °C when fully on all the time"
    level = grade_of_heat(winding_temperature)
    if level != "good":
        return Verdict(level, f"{said}.", TOUCH, INSULATION, share_of(winding_temperature, HOT, WARM),
                       measure=-winding_temperature, ways=ways)
    return Verdict("good", f"{said}.", "Nothing to do.", INSULATION, share_of(winding_temperature, HOT, WARM))


def grade_of_heat(winding: Reals) -> Level:
    """What a winding temperature [°C] is worth."""
    return "short" if winding > HOT else "tight" if winding > WARM else "good"


def less_current(current_peak: Reals) -> Way:
    """Less heat by less current [A]."""
    return Way("lower the current", {"current_peak": LESS * current_peak})


def cooler(thermal_resistance: Reals) -> Way:
    """A motor that gets rid of its heat more easily [K/W]."""
    return Way("give the motor a metal plate or a fan to cool on", {"thermal_resistance": LESS * thermal_resistance})


@check("kind of motor", stage="Motor")
def stepper_or_servo(
    peak_speed: float, corner_speed: float, available_voltage: float, current_peak: float, running_winding: Running,
    supply_voltage: float, voltage_limit: Reals = None, current_limit: Reals = None, wiring: str | None = None,
    figures_for: str | None = None,
) -> Verdict:
    """How far beyond its corner speed the stepper runs."""
    volts = more_volts(supply_voltage, voltage_limit)
    coils = parallel(wiring, figures_for, current_peak, current_limit)
    resistance = float(wound(running_winding).resistance)
    if corner_speed == 0:
        return Verdict("short", f"The supply leaves {size(available_voltage)} V; the set current needs"
                       f" {size(current_peak * resistance)} V to flow even at rest.",
                       "", STEPPER_OR_SERVO, 0.0, measure=available_voltage - current_peak * resistance,
                       ways=(*volts, less_current(current_peak), *coils), otherwise=f"{FIND_A_DRIVE}.")
    share = peak_speed / corner_speed
    said = f"The cycle turns the motor at {size(share)} times its corner speed"
    if share > FAST_SHARE:
        return Verdict("tight", f"{said}: most of its torque is gone there.", "A servo suits such speeds.", STEPPER_OR_SERVO, 0.2,
                       measure=-share, ways=(*volts, *coils))
    return Verdict("good", f"{said}.", "Nothing to do.", STEPPER_OR_SERVO, float(1 - share / FAST_SHARE))


@check("margin by speed", stage="Motor")
def hand_by_speed(
    torque_curve: TorqueCurve, cycle_torque: CycleTorque, corner_speed: float, train: tuple[Link, ...], friction_load: float,
    cycle: tuple[Move, ...], holding_torque: Reals = None, rotor_inertia: Reals = None,
) -> Verdict:
    """The margin at every moment against the factor that its speed asks for. Raises NotKnown."""
    bare = friction_load == 0 and all(isinstance(link, (Coupling, Direct, Screw)) for link in train)
    near = UNDAMPED_FACTOR if bare else SAFETY_FACTOR
    speed, torque = (np.abs(one[:, cycle_torque.moving]) for one in cycle_torque.inside(np.linspace(0, 1, 9)[:, None]))
    wanted = np.where(speed >= NEAR_CORNER * corner_speed, near, FAR_FACTOR)
    margins = np.where(torque > 0, torque_curve(speed) / np.where(torque > 0, torque, 1.0), np.inf)
    place = np.unravel_index(int(np.argmin(margins / wanted)), margins.shape)
    margin, asked, share = float(margins[place]), float(wanted[place]), float(speed[place] / corner_speed) if corner_speed else 0.0
    school = (f"At least {near:g} from {NEAR_CORNER:g} times the corner speed on, where an undamped rotor pulls least of what is"
              f" computed{' (2, since nothing damps this load)' if bare else ''}, {FAR_FACTOR:g} below. Some relax it again"
              " beyond 3 times; then slowing down could be judged worse.")
    if not np.isfinite(margin):
        raise NotKnown("no moving piece needs torque")
    where = "At standstill" if share == 0 else f"At {size(share)} times the corner speed"
    said = f"{where} it pulls {size(margin)} times the torque needed; {asked:g} is wanted there"
    if margin < asked:
        return Verdict("tight" if margin >= 1 else "short", f"{said}.", "", school, share_of(margin, 1.0, asked),
                       measure=margin / asked, otherwise=f"{FIND_A_DRIVE}.",
                       ways=(slower(cycle), gentler(cycle), *stronger(rotor_inertia, holding_torque=holding_torque)))
    return Verdict("good", f"{said}.", "Nothing to do.", school, share_of(margin, 1.0, asked))


@check("resonant speed", stage="Motor")
def keeps_off_resonance(resonant_band: list[float], cycle: tuple[Move, ...], unit: str, microsteps: Reals = None) -> Verdict:
    """Whether a move of the cycle stays at a speed at which its own steps ring the axis; crossing it is another thing."""
    low, high = resonant_band
    said = f"From {pace(low, unit)} to {pace(high, unit)} its full steps come at its resonance"
    there = [move.speed for move in cycle if move.speed and low <= move.speed <= high]
    if there:
        finer = "" if microsteps is None or microsteps >= FINE else " More microsteps weaken it."
        return Verdict("tight", f"{said}, and the cycle moves at {pace(there[0], unit)}.",
                       f"Move slower or faster than that, and cross it quickly: steps may be lost there.{finer}", headroom=0.2)
    return Verdict("good", f"{said}; no move of the cycle stays there.", "Cross it quickly.", headroom=0.8)


@check("cycle heat", stage="Motor", applies=lambda solution: solution.get("thermal_resistance") is not None)
def cycle_heat(
    cycle_copper_loss: float, holding_copper_loss: float, thermal_resistance: float, ambient_temperature: float,
    current_peak: float, hold_fraction: float, cycle_temperature_rise: Reals = None, holding_temperature_rise: Reals = None,
    warm_up_time: Reals = None,
) -> Verdict:
    """Winding temperature when the cycle runs all day, its dwells at the idle current, and how long it takes to get there."""
    ways = (Way("cut the idle current", {"hold_fraction": LESS * hold_fraction}), less_current(current_peak),
            cooler(thermal_resistance))
    for loss, rise, when in ((holding_copper_loss, holding_temperature_rise, "Only holding"),
                             (cycle_copper_loss, cycle_temperature_rise, "In this cycle")):
        if rise is None or runs_away(loss, thermal_resistance):
            return Verdict("short", f"{when}, {size(loss)} W heat the winding faster than it cools: thermal runaway.", TOUCH,
                           INSULATION, 0.0, measure=-loss * thermal_resistance, ways=ways)
    winding = ambient_temperature + cycle_temperature_rise
    soon = "" if warm_up_time is None else f", nearly all of it within {size(warm_up_time / 60)} minutes"
    said = (f"In this cycle the winding warms by {size(cycle_temperature_rise)} K to {size(winding)} °C{soon};"
            f" only holding, by {size(holding_temperature_rise)} K")
    level = grade_of_heat(winding)
    if level != "good":
        return Verdict(level, f"{said}.", TOUCH, INSULATION, share_of(winding, HOT, WARM), measure=-winding, ways=ways)
    return Verdict("good", f"{said}.", "Nothing to do.", INSULATION, share_of(winding, HOT, WARM))


@check("supply voltage", stage="Motor")
def supply_suits(
    supply_voltage: float, voltage_by_inductance: float, safety_factor: float, peak_torque: float, set_torque: float,
    drag_torque: float, torque_factor: float, tightest_moment: tuple[float, float], cycle: tuple[Move, ...],
    voltage_needed: Reals = None, voltage_limit: Reals = None, current_peak: Reals = None, rated_current_peak: Reals = None,
    current_limit: Reals = None, rotor_inertia: Reals = None, holding_torque: Reals = None,
) -> Verdict:
    """The supply against what the cycle needs, the rule of thumb and the driver's limit."""
    if voltage_limit is not None and supply_voltage > voltage_limit:
        return Verdict("short", f"The supply gives {size(supply_voltage)} V, the driver takes {size(voltage_limit)} V at most.",
                       "Lower the supply or change the driver; braking raises the voltage further.", headroom=0.0,
                       measure=voltage_limit / supply_voltage)
    gives, asked = torque_factor * (set_torque - drag_torque), safety_factor * peak_torque
    if voltage_needed is None or asked > gives:
        return Verdict("short", f"At the set current no voltage gives {size(safety_factor)} times the torque needed: it makes"
                       f" {size(gives)} N·m at most, {size(asked)} N·m are asked.", "Volts come after.", headroom=0.0,
                       measure=gives / asked, otherwise=f"{FIND_A_DRIVE}.",
                       ways=(*more_current(current_peak, rated_current_peak, current_limit),
                             *stronger(rotor_inertia, holding_torque=holding_torque), gentler(cycle)))
    limit = "" if voltage_limit is None else f"; or as high as the driver takes, {size(voltage_limit)} V"
    school = (f"Three approaches: computed from the torque at speed, {size(voltage_needed)} V, applied here; the rule from the"
              f" inductance, {size(voltage_by_inductance)} V{limit}.")
    said = (f"The cycle needs {at_least(voltage_needed)} V with {size(safety_factor)} times the torque;"
            f" the supply gives {size(supply_voltage)} V")
    if supply_voltage < voltage_needed:
        never = "" if voltage_limit is None or voltage_needed <= voltage_limit else (
            f" The driver takes {size(voltage_limit)} V at most.")
        return Verdict("tight", f"{said}.{never}", "", school, 0.15, measure=supply_voltage / voltage_needed,
                       ways=(*more_volts(supply_voltage, voltage_limit, voltage_needed), slower(cycle)),
                       otherwise=f"{FIND_A_DRIVE}.")
    if voltage_limit is None:
        return Verdict("unknown", f"{said}; what the driver takes at most is not given.", "Look it up in the driver's papers.",
                       school, missing=("voltage_limit",))
    return Verdict("good", f"{said}.", "Nothing to do; more volts only heat.", school,
                   share_of(supply_voltage / voltage_needed, 1.0, 1.3))


@check("kind of rated current", stage="Motor")
def rating_assumed(rated_current: float, rated_current_is: Reals = None) -> Verdict | None:
    """Whether the rating's kind was said or assumed."""
    if rated_current_is is not None:
        return None
    return Verdict("tight", f"The rated {size(rated_current)} A are taken as RMS; a peak rating would mean 1.41 times less.",
                   "Look at the data sheet and say which it is.", headroom=0.4)


@check("wiring", stage="Motor")
def wiring_is_said(wiring: Reals = None, figures_for: Reals = None) -> Verdict | None:
    """Whether a wiring was named without saying for which one the sheet's figures hold."""
    if (wiring is None) == (figures_for is None):
        return None
    return Verdict("tight", "A wiring is named, but not both: the one used and the one that the sheet's figures are for.",
                   "Look at the data sheet and say both; resistance changes by up to 4 between them.", headroom=0.3)


@check("data sheet", stage="Motor")
def sheet_is_plausible(
    holding_torque: Reals = None, rated_current: Reals = None, rated_current_is: Reals = None, phase_resistance: Reals = None,
    phase_inductance: Reals = None, rotor_inertia: Reals = None, step_angle: Reals = None, drag_torque: Reals = None,
) -> Verdict | None:
    """Whether the figures of the data sheet hang together as those of real motors do."""
    found = doubts("stepper", locals())
    if not found:
        return None
    return Verdict("tight", found[0].sentence, "Look at the data sheet again: unit, decimal point, line.", headroom=0.25)


@check("printed curve", stage="Motor", applies=is_printed)
def stepper_curve_fits(
    printed_fit: StepperFit, running_winding: Running, holding_torque: float, rated_current: float, supply_voltage: float,
    current_peak: float, available_voltage: float, rated_current_is: str = "rms", phase_resistance: Reals = None,
    phase_inductance: Reals = None, wiring: str | None = None, figures_for: str | None = None,
) -> Verdict:
    """How well the printed curve fits a winding, what it contradicts, and how well the curve at this setting follows."""
    fit = printed_fit
    if not isinstance(running_winding, StepperWinding):
        return fits_none(fit.curve, fit.found.deviation, f" and {size(float(np.ravel(fit.current_peak)[0]))} A peak")
    as_stated = fit.winding()
    constant = torque_constant(holding_torque, rated_current, rated_current_is)
    share = float(as_stated.torque_constant / constant)
    odd = apart("inductance", as_stated.inductance, phase_inductance, "mH", 1e-3) or apart(
        "resistance", as_stated.resistance, phase_resistance, "Ω", 1.0)
    if not BEGINS[0] <= share <= BEGINS[1]:
        slip = abs(abs(math.log(share / USUAL_SHARE)) - math.log(math.sqrt(2))) < NEAR_A_SLIP
        factor = " A factor of 1.41 is between an RMS-like and a peak current." if slip else ""
        odd = (f"its torque per ampere is {size(share)} times that of the holding torque; {BEGINS[0]:g} to {BEGINS[1]:g} is usual."
               f"{factor} Is it the current of this curve?")
    doubt = COVERAGE * torque_doubt(fit, current_peak, available_voltage, wiring, figures_for)
    return fits(fit.found.deviation, odd, doubt, f"at {size(supply_voltage)} V and {size(current_peak)} A peak",
                 phase_resistance is None)
