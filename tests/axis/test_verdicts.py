"""Every check at each of its levels: the level, the deciding number in the sentence, and a next step."""

from __future__ import annotations

import ast
import dataclasses
import inspect
import math
from collections.abc import Callable
from fractions import Fraction
from typing import Any

import numpy as np
import pytest
from tests.drive.test_together import PROJECT_CASES

from urban_mule.core.brief.fits import BoughtPart, BoughtParts
from urban_mule.core.drive.banks import SwitchBank, SwitchRow, SwitchTable
from urban_mule.core.load.cycle import Move
from urban_mule.core.load.fellow import Fellow
from urban_mule.core.motor.printed import PrintedCurve, in_order
from urban_mule.core.motor.servo_winding import ServoWinding, WoundCurve
from urban_mule.core.motor.stepper import StepperCurve
from urban_mule.core.readings.acceleration import AccelerationReading
from urban_mule.core.readings.drag import DragReading
from urban_mule.core.readings.drift import DriftReading
from urban_mule.core.readings.homing import HomingReading
from urban_mule.core.readings.ladder import LadderReading
from urban_mule.core.readings.push import PushReading
from urban_mule.core.readings.response import ResponseReading
from urban_mule.core.readings.tone import ToneReading
from urban_mule.core.readings.travel import TravelReading
from urban_mule.core.readings.two_way import TwoWayReading
from urban_mule.core.readings.warming import CoolingReading
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.verdict import LEVELS, Verdict, headline, worst
from urban_mule.core.slack.trend import DatedReversal
from urban_mule.core.subjects import axis_sheet, sheet_of
from urban_mule.core.train.followers import Unlike
from urban_mule.core.train.links import Belt, Coupling, FeedRoller, Rack, Reduction, Screw

CYCLE = (Move(distance=0.3, speed=0.3, acceleration=2.0, dwell=0.5), Move(distance=-0.3, speed=0.3, acceleration=2.0))
STEPPER: dict[str, Any] = {
    "moving_mass": 4.0, "friction_force": 5.0, "travel": 0.6, "unit": "mm", "cycle": CYCLE,
    "train": (Belt(pitch=0.003, teeth=20, inertia=1e-5),), "holding_torque": 1.6, "rated_current": 2.8, "rated_current_is": "rms",
    "phase_resistance": 0.8, "phase_inductance": 0.0025, "rotor_inertia": 1e-4, "step_angle": math.pi / 100,
    "thermal_resistance": 2.0, "supply_voltage": 48.0, "current_peak": 3.8, "microsteps": 16, "hold_fraction": 0.5,
    "max_pulse_rate": 1e5, "accuracy_wanted": 1e-4, "entry_is": "rms", "current_limit": 8.0,
    "voltage_limit": 80.0}
SERVO: dict[str, Any] = {
    **{k: STEPPER[k] for k in ("moving_mass", "friction_force", "travel", "unit", "cycle", "train", "supply_voltage")},
    "rated_torque": 0.6, "motor_peak_torque": 1.9, "rated_speed": 314.0, "max_speed": 471.0, "rated_voltage": 48.0,
    "counts_per_turn": 4000, "rotor_inertia": 5e-5}
SLIDES = {"friction_force": 0.0, "accuracy_wanted": 1e-4}
UPRIGHT = {"incline": math.pi / 2, "train": (Screw(lead=0.01, diameter=0.012, length=0.4, efficiency=0.9),)}


def solve(motor: str = "stepper", **more: Any) -> Solution:
    return axis_sheet("linear", motor).solve(**{**(STEPPER if motor == "stepper" else SERVO), **more})


def verdict(name: str, solution: Solution) -> Verdict | None:
    return next((v for v in solution.verdicts() if v.check == name), None)


STALLED = {"ladder_reading": LadderReading(np.array([9e5]), np.ones(1), np.zeros(1)), "drag_torque": 0.1}


SWITCHED: dict[str, Any] = {"home_by": "switch", "home_end": "minus", "switch_overtravel": 0.01, "reaction_time": 0.02,
                            "homing_speed": 0.03}


def seen(way: str, turned_in: str) -> dict[str, Any]:
    """Which way it went, and where its direction is turned round."""
    return {"direction_seen": way, "direction_turned_in": turned_in}


def wired(free: str, pressed: str, off: str) -> dict[str, Any]:
    """What the input of a switch shows: free, pressed, with its wire off."""
    return {"switch_free": free, "switch_pressed": pressed, "switch_wire_off": off}


def rungs(*returned: float) -> dict[str, Any]:
    """Three rungs up to what was computed, and how far off the axis came back after each [m]."""
    return {"ladder_reading": LadderReading(np.full(3, 0.3), np.array([10.0, 24.0, 34.0]), np.array(returned))}


DIPPING: dict[str, Any] = {"ladder_reading": LadderReading(  # at 0.3 m/s it loses steps at what the speeds beside it hold
    np.repeat([0.2, 0.3, 0.4], 3), np.tile([10.0, 24.0, 30.0], 3), np.array([0, 0, 0.005, 0.005, 0.005, 0.005, 0, 0, 0.005]))}


def two_way(gap: float, slope: float = 0.0, scatter: float = 1e-6, bow: float = 0.0) -> TwoWayReading:
    """Readings with a known gap between directions, slope over the travel, bow and scatter [m]."""
    targets, rng = np.linspace(0.05, 0.55, 6), np.random.default_rng(1)
    middle = slope * (targets - 0.3) + bow * (1 - ((targets - 0.3) / 0.25) ** 2)
    up, down = (middle + side * gap / 2 + scatter * rng.standard_normal((5, 6)) for side in (-1, 1))
    return TwoWayReading(targets, up, down)


def finned(rise: float) -> dict[str, Any]:
    """A driver whose fin rises so far [K]."""
    time = np.arange(0, 3600, 300.0)
    return {"cooling_reading": CoolingReading(time, 21 - rise * np.expm1(-time / 600)), "ambient_temperature": 22.0,
            "thermal_resistance_finned": 12.0}


def pushed(clearance: float, compliance: float, scatter: float = 0.0) -> PushReading:
    """Places under rising pushes with a known free play and a known spring [m, m/N]."""
    forces = np.array([10.0, 20.0, 40.0])
    apart = clearance / 2 + compliance * forces + scatter * np.array([1.0, -2.0, 1.0])
    return PushReading(forces, np.array([apart]), np.array([-apart]))


def history(*sizes: float, days: float = 60.0) -> dict[str, Any]:
    """Dated sets of reversal readings with these backlashes [m], the last of them the reading that counts."""
    sets = tuple(DatedReversal(20_000 + days * n, two_way(size, scatter=1e-9)) for n, size in enumerate(sizes))
    return {"reversal_history": sets, "reversal_reading": sets[-1].reading}


DRIVE: dict[str, Any] = {"current_loop_bandwidth": 1000.0, "velocity_sample_time": 1.25e-4, "measured_stiffness": 2e6}


def answered(
    overshoot: float = 0.0, rings: float = 0.0, slow: float = 400.0, ends: float = 0.6, back: bool = False
) -> dict[str, Any]:
    """A response to a step of 20 mm that overshoots by a share, rings at a frequency [Hz] or creeps in [1/s]."""
    time = np.arange(0, ends, 1 / 2000)
    since = np.maximum(time - 0.05, 0.0)
    stepped = np.where(time >= 0.05, 0.02, 0.0)
    made = stepped * (1 - np.exp(-slow * since) + overshoot * since * 30 * np.exp(1 - 30 * since))
    if rings:
        made = made + stepped * 0.2 * np.exp(-8 * since) * np.sin(2 * math.pi * rings * since)
    return {"response_reading": ResponseReading(time, stepped * (not back), made), **DRIVE}


def curve_of(kind: str, jagged: bool = False) -> dict[str, Any]:
    """The curve of a motor as its sheet would print it, or points that are no motor's."""
    speeds = np.linspace(5, 400 if kind == "servo" else 250, 12)
    servo = WoundCurve(ServoWinding(0.0577, 4.0, 0.2, 4e-4, 48 / math.sqrt(2), None), 1.9)
    torques = (servo if kind == "servo" else StepperCurve(0.38, 50.0, 0.8, 2.5e-3, 3.96, 48.0, 0.02))(speeds)
    points = in_order(list(zip(speeds, [1.5, 0.3, 1.2, 0.1, 0.8, 0.2] * 2 if jagged else torques, strict=True)))
    return {"printed_curves": (PrintedCurve("peak" if kind == "servo" else "pull-out", 48.0, points),),
            **({"torque_constant_rms": 0.1, "phase_resistance": 0.2} if kind == "servo" else {})}


def plucked(*frequencies: float) -> dict[str, Any]:
    """Tones of a belt span that pulls 100 N at 50 Hz, and a belt that wants it."""
    tones = tuple(ToneReading(frequency, 0.5, 0.04) for frequency in frequencies)
    return {"tone_readings": tones, "tone_reading": tones[-1], "train": (Belt(pitch=0.003, teeth=20, pretension=100.0),)}


def taps(*modes: tuple[float, float, float]) -> AccelerationReading:
    t = np.arange(6400) / 1600.0
    total = np.zeros_like(t)
    for f, zeta, size in modes:
        w = 2 * math.pi * f
        total += size * np.where(t > 0.2, np.exp(-zeta * w * (t - 0.2)) * np.sin(w * math.sqrt(1 - zeta**2) * (t - 0.2)), 0.0)
    return AccelerationReading(t, (total + 1e-3 * np.random.default_rng(3).standard_normal(t.size))[:, None])


def uneven(record: AccelerationReading) -> AccelerationReading:
    """The same record with a clock that comes early and late by a fifth of a sample."""
    early = np.random.default_rng(5).uniform(-0.2, 0.2, record.time.size) / 1600.0
    return AccelerationReading(record.time + early, record.values)


def spoilt(how: Callable[[np.ndarray], np.ndarray]) -> AccelerationReading:
    """A sound record as a worse sensor shows it."""
    record = taps((31.0, 0.03, 5.0))
    return AccelerationReading(record.time, how(record.values[:, 0])[:, None])


def below(values: np.ndarray) -> np.ndarray:
    """Only what lies below 200 Hz."""
    transform = np.fft.rfft(values)
    transform[np.fft.rfftfreq(values.size, 1 / 1600.0) > 200] = 0
    return np.asarray(np.fft.irfft(transform, values.size))


def drifting(far: float) -> dict[str, Any]:
    """A place that wanders so far while it warms, within half an hour [m]."""
    time = np.array([0.0, 5, 10, 20, 40, 80, 160]) * 60
    return {"drift_reading": DriftReading(time, far * (1 - np.exp(-time / 1800)))}


def follower(*named: str) -> tuple[Unlike, ...]:
    return tuple(Unlike(name, "1", "2") for name in named)


def bank(*rows: tuple[str, dict[str, Any]]) -> dict[str, Any]:
    """A driver with one bank, whose rows set these values."""
    wide = len(rows[0][0])
    table = SwitchTable(tuple(range(1, wide + 1)), tuple(SwitchRow(positions=signs, **sets) for signs, sets in rows))
    return {"switch_banks": (SwitchBank("S1", "switches", wide, (table,)),)}


COARSE = bank(("0", {"current_peak": 3.0}), ("1", {"current_peak": 4.6}))
FINE = bank(("0", {"current_peak": 3.7}), ("1", {"current_peak": 4.6}))
STEPS = ("0", {"microsteps": 8}), ("1", {"microsteps": 16})
WARM = {"bridge_resistance": 0.15, "driver_temperature_limit": 95.0, "cooling": "finned", "thermal_resistance_finned": 20.0,
        "thermal_resistance_fan": 10.0}
QUIET = {"chopping": "both", "changeover_speed": 0.12, "quiet_torque_share": 0.7}
LIMP = Belt(pitch=0.003, teeth=20, inertia=1e-5, specific_stiffness=2e4, span=1.0)
STIFF = Belt(pitch=0.003, teeth=20, inertia=1e-5, specific_stiffness=4e7, span=1.0)
SOFT = Belt(pitch=0.003, teeth=20, inertia=1e-5, specific_stiffness=2e5, span=1.0)
RINGS = float(solve(train=(SOFT,))["first_resonance"])
WORM = (Reduction(ratio=4.0, clearance=math.radians(0.1)), Belt(pitch=0.003, teeth=20, inertia=1e-5))
def bought(strongest: float | None = None, mode: str | None = None, **parts: dict[str, Any]) -> dict[str, Any]:
    """Parts of an axis by slot, `train0` for its first link, with these sizes."""
    slots = {name: int(name[5:]) if name.startswith("train") else name for name in parts}
    bought = tuple(BoughtPart(slot=slots[name], **sizes) for name, sizes in parts.items())
    return {"parts_bought": BoughtParts(bought, strongest, mode)}


SLIT = (Coupling(rated_torque=2.0), Belt(pitch=0.003, teeth=20, inertia=1e-5))
ROLLED: dict[str, Any] = {"train": (FeedRoller(diameter=0.02),)}
FED = TravelReading(0.4, np.array([0.368, 0.3681, 0.3679]), 1e-5)
def paired_tones(here: float, there: float) -> dict[str, Any]:
    """Tones of both belts of a pair that tell these tensions [N]."""
    return {"tone_reading": ToneReading(frequency=float(np.sqrt(here / (4 * 0.009 * 0.4**2))), span=0.4, linear_mass=0.009),
            "fellow": Fellow("V", tone_tension=there)}


def diagonal(gives_there: float) -> dict[str, Any]:
    """A push along A that gives 0.2 µm a newton, and one along B on the other axis [m/N]."""
    return {"push_reading": dataclasses.replace(pushed(0.0, 2e-7), direction="A"), **SLIDES,
            "fellow": Fellow("V", push_compliance=gives_there, push_direction="B")}


CASES: list[tuple[str, str, str, dict[str, Any], str]] = [
    ("expected accuracy", "unknown", "of 20 reach that", {"accuracy_wanted": 1e-4}, "proves it"),
    ("expected accuracy", "tight", "few reach that", {"accuracy_wanted": 5e-6}, "finer drive"),
    ("printed curve", "good", "the curve is known to", curve_of("stepper"), ""),
    ("printed curve", "tight", "off the nearest winding", curve_of("stepper", jagged=True), "Compare its points"),
    # check, level, words of the sentence, what differs, words of the next step
    ("parts fit", "good", "2 fits", bought(motor={"shaft": 0.008}, train0={"bore": 0.008, "belt_pitch": 0.003}), ""),
    ("parts fit", "short", "motor is 6.35 mm, the bore of the belt 8 mm",
     bought(motor={"shaft": 0.00635}, train0={"bore": 0.008}), "never drill"),
    ("parts fit", "short", "Wrong belt: pitch 2 mm is ordered, the pulley has 3 mm", bought(train0={"belt_pitch": 0.002}), "anew"),
    ("parts fit", "short", "the travel alone takes 1.86 m", bought(train0={"belt_length": 1.5}) | {"travel": 0.9}, "longer"),
    ("parts fit", "short", "stronger motor gives 3.1 N·m", bought(3.1, motor={"frame": 0.06}) | {"train": SLIT}, "slit one"),
    ("parts fit", "short", "listens to bus, the controller speaks pulse",
     bought(None, "bus", controller={"takes_mode": "pulse"}), "jumpers"),
    ("parts fit", "tight", "no whole number of teeth", bought(train0={"belt_length": 2.0005}), "cut"),
    ("parts fit", "unknown", "bore of the belt is not known", bought(motor={"shaft": 0.008}), "Measure it"),
    ("goals", "unknown", "No goal is set", {"accuracy_wanted": None}, "Write down"),
    ("goals", "unknown", "The goal of this axis cannot be judged yet", {}, "stands beneath"),
    ("goals", "unknown", "pulses controller and driver take",
     {"speed_wanted": 0.3, "accuracy_wanted": None, "max_pulse_rate": None}, "Give it"),
    ("goals", "good", "2 of 2 goals",
     {"speed_wanted": 0.3, "positioning_reading": two_way(5e-6), "proof_gauge_uncertainty": 1e-6}, ""),
    ("goals", "tight", "how good the gauge", {"speed_wanted": 0.3, "positioning_reading": two_way(5e-6)}, "Name it under Readings"),
    ("goals", "short", "Motor limits the acceleration to 7.19 m/s² of 9 m/s² wanted: beyond it less than 1.5 times",
     {"speed_wanted": 0.3, "acceleration_wanted": 9.0, "moving_mass": 13.0, "accuracy_wanted": None}, "See Motor"),
    ("goals", "short", "homing wanders more than the axis errs",
     {"positioning_reading": two_way(5e-6), "homing_reading": HomingReading(np.array([0.0, 3e-4, 0.0]))}, "See Moves"),
    ("goals", "short", "Drive limits the speed to 0.15 m/s of 0.3 m/s wanted: more step pulses are needed than",
     {"speed_wanted": 0.3, "max_pulse_rate": 8000.0, "accuracy_wanted": None}, "See Drive"),
    ("goals", "short", "the motor stalls at any speed",
     {"speed_wanted": 0.3, "moving_mass": 120.0, "accuracy_wanted": None}, "See Motor"),
    ("train", "good", "60 mm", {}, ""),
    ("train", "tight", "30 % of its power", {"train": (Screw(lead=0.01, inertia=1e-6, efficiency=0.3),)}, "sliding screw"),
    ("train", "unknown", "no link of the train turns", {"train": (Coupling(),)}, "Train: links"),
    ("torque margin", "good", "times the torque needed", {}, ""),
    ("torque margin", "tight", "only 1.", {"moving_mass": 52.0}, "more gently, or set more of its current, up to 3.95 A"),
    ("torque margin", "short", "it will stall", {"moving_mass": 120.0}, "stronger motor"),
    ("torque margin", "unknown", "the cycle has no move yet", {"cycle": None}, "Cycle: moves in order"),
    ("torque margin", "unknown", "missing: holding torque and moving mass", {"moving_mass": None, "holding_torque": None},
     "Holding torque: torque at standstill"),
    ("reachable speed", "short", "no torque left",
     {"supply_voltage": 5.0, "drag_torque": 0.1, "cycle": (Move(distance=0.5, speed=2.5, acceleration=30.0),)},
     "See the torque margin"),
    ("reachable speed", "tight", "more than that leaves in reserve", {"moving_mass": 52.0}, "torque margin"),
    ("reachable speed", "short", "60 % of the speed", {"speed_wanted": 0.5}, "Raise the speed"),
    ("inertia ratio", "good", "comfortable", {}, ""),
    ("inertia ratio", "tight", "usable", {"moving_mass": 8.0}, "gentle"),
    ("inertia ratio", "tight", "careful", {"moving_mass": 40.0}, "A reduction of 2.8:1 more"),
    ("supply voltage", "good", "the supply gives 48 V", {}, "only heat"),
    ("supply voltage", "unknown", "what the driver takes at most is not given", {"voltage_limit": None}, "papers"),
    ("supply voltage", "tight", "the supply gives 9 V", {"supply_voltage": 9.0, "moving_mass": 20.0}, "Raise the supply"),
    ("supply voltage", "short", "takes 36 V at most", {"voltage_limit": 36.0}, "braking raises"),
    ("winding temperature", "good", "The winding warms by", {}, ""),
    ("winding temperature", "tight", "", {"thermal_resistance": 4.8}, "Lower the current, or give the motor a metal plate"),
    ("winding temperature", "short", "", {"thermal_resistance": 8.0}, "do not touch"),
    ("winding temperature", "short", "thermal runaway", {"thermal_resistance": 60.0}, "Lower the current"),
    ("winding temperature", "unknown", "thermal resistance is not given", {"thermal_resistance": None}, "Thermal resistance:"),
    ("kind of rated current", "tight", "taken as RMS", {"rated_current_is": None}, "data sheet"),
    ("wiring", "tight", "but not both", {"wiring": "series"}, "say both"),
    ("set current", "good", "2.69 A RMS", {}, ""),
    ("set current", "unknown", "what the driver gives at most is not given", {"current_limit": None}, "papers"),
    ("set current", "tight", "62.1 % of the torque is given away", {"current_peak": 1.5}, "Set more of its current, up to 3.95 A"),
    ("set current", "tight", "103 % of the rating", {"current_peak": 4.07}, "Set the rated 3.95 A"),
    ("set current", "short", "peak taken for RMS?", {"current_peak": 5.6}, "peak or RMS"),
    ("set current", "short", "gives 3 A peak as cooled", {"current_limit": 3.0}, "Cool the driver"),
    ("microsteps", "good", "of the 16 microsteps", {}, ""),
    ("microsteps", "tight", "place no better", {"microsteps": 128, "friction_force": 8.0}, "smoothness"),
    ("microsteps", "short", "friction takes most", {"friction_force": 160.0}, "what binds"),
    ("current setting", "good", "Type 2.69 A RMS", {}, ""),
    ("current setting", "good", "Turn the trimmer to",
     {"current_entry": "trimmer", "trimmer_gain": 8.0, "sense_resistance": 0.1}, ""),
    ("current setting", "good", "The switches give 3.7 A", FINE, ""),
    ("current setting", "tight", "typed unchanged, 0.75 times",
     {"sense_resistance": 0.1, "sense_resistance_entered": 0.075}, "Type"),
    ("current setting", "tight", "21.1 % of the torque", COARSE, "Set 3 A"),
    ("current setting", "short", "gives more than", {**COARSE, "current_peak": 2.5}, "Set more"),
    ("current setting", "unknown", "a factor of 1.41", {"entry_is": None}, "Look it up"),
    ("switches", "good", "Set S1 to 1", bank(*STEPS), ""),
    ("switches", "tight", "says nothing of 0", bank(STEPS[1]), "Look these rows up"),
    ("switches", "short", "no position gives 16 microsteps", bank(STEPS[0]), "Want what it has"),
    ("switches", "unknown", "depends on the microsteps, which are not given", {**bank(*STEPS), "microsteps": None}, "Give it"),
    ("driver heat", "good", "The driver gets to", {**WARM, "thermal_resistance_finned": 12.0}, ""),
    ("driver heat", "tight", "its limit is 95 °C", {**WARM, "thermal_resistance_finned": 30.0}, "fan, its limit is"),
    ("driver heat", "short", "its limit is 95 °C", {**WARM, "thermal_resistance_finned": 60.0}, "Cool it"),
    ("driver heat", "tight", "really gets to 82 °C at its fin", {**WARM, **finned(60.0)}, "trust"),
    ("driver heat", "short", "really gets to 112 °C at its fin", {**WARM, **finned(90.0)}, "trust"),
    ("chopping", "good", "Strong chopping", {"chopping": "strong"}, ""),
    ("chopping", "good", "In quiet mode it pulls with", QUIET, ""),
    ("chopping", "tight", "where the rotor rings", {**QUIET, "changeover_speed": 0.0193}, "below or above"),
    ("chopping", "tight", "at which it cruises", {**QUIET, "changeover_speed": 0.31}, "away from that speed"),
    ("chopping", "tight", "less than the 1.5 wanted", {**QUIET, "quiet_torque_share": 0.12}, "Chop strongly"),
    ("chopping", "short", "it loses steps", {**QUIET, "quiet_torque_share": 0.05}, "Chop strongly"),
    ("leaned on", "good", "gives way by", {"lean_force": 12.0}, ""),
    ("leaned on", "tight", "more than the accuracy wanted", {"lean_force": 45.0}, "lean"),
    ("leaned on", "tight", "a reserve below 1.5 times", {"lean_force": 70.0}, "Hold with 100 %"),
    ("leaned on", "short", "pushed off its place", {"lean_force": 190.0}, "Do not lean on it"),
    ("pulse rate", "good", "16 kHz of pulses, 16 %", {}, ""),
    ("pulse rate", "tight", "of what the controller makes", {"max_pulse_rate": 17_000.0}, "Use fewer microsteps. A fifth"),
    ("pulse rate", "short", "of what the driver sees", {"minimum_pulse_width": 4e-5}, "counts faster"),
    ("vertical axis", "short", "none is given", UPRIGHT, "Block the axis"),
    ("vertical axis", "tight", "The brake holds 1.", {**UPRIGHT, "brake_torque": 0.1}, "Fit a brake of at least"),
    ("vertical axis", "short", "The brake holds 0.", {**UPRIGHT, "brake_torque": 0.03}, "Block the axis"),
    ("vertical axis", "good", "without friction", {**UPRIGHT, "brake_torque": 0.4, "brake_delay": 0.03}, "Block the axis"),
    ("vertical axis", "unknown", "within its travel is not known", {**UPRIGHT, "brake_torque": 0.4}, "Brake delay"),
    ("vertical axis", "tight", "locks itself",
     {**UPRIGHT, "train": (Screw(lead=0.002, inertia=1e-6, efficiency=0.3),)}, "Do not count on it"),
    ("standstill", "good", "times the weight", UPRIGHT, ""),
    ("standstill", "short", "drops when it rests", {**UPRIGHT, "hold_fraction": 0.02}, "Hold with 8.2 %"),
    ("coupling", "good", "that the motor can give there", {"train": (Coupling(rated_torque=5.0), Belt(pitch=0.003, teeth=20))}, ""),
    ("coupling", "tight", "in a stall", {"train": (Coupling(rated_torque=1.0), Belt(pitch=0.003, teeth=20))}, "larger coupling"),
    ("coupling", "short", "the cycle asks",
     {"train": (Coupling(rated_torque=0.05), Belt(pitch=0.003, teeth=20))}, "larger coupling"),
    ("screw whirling", "good", "of the speed it may",
     {"train": (Screw(lead=0.01, diameter=0.016, length=0.4, end_support="fixed-fixed"),)}, ""),
    ("screw whirling", "short", "of the speed it may",
     {"train": (Screw(lead=0.005, diameter=0.008, length=1.2, end_support="fixed-free"),)}, "thicker or better held"),
    ("screw buckling", "short", "half of buckling",
     {"moving_mass": 90.0, "train": (Screw(lead=0.005, diameter=0.005, length=0.9, end_support="fixed-free"),)}, "shorter"),
    ("screw life", "good", "outlive the machine",
     {"train": (Screw(lead=0.01, diameter=0.016, length=0.4, dynamic_load_rating=5000.0),)}, ""),
    ("screw life", "tight", "hours of this cycle",
     {"train": (Screw(lead=0.01, diameter=0.016, length=0.4, dynamic_load_rating=30.0),)}, "larger screw"),
    ("screw lead", "short", "makes a lead of 8 mm; 10 mm is given and used",
     {"train": (Screw(lead=0.01, thread_pitch=0.002, starts=4, inertia=1e-6),)}, "Turn the screw once"),
    ("reduction rating", "good", "that the motor can give there", {"train": (Reduction(ratio=2.0, rated_torque=9.0), STIFF)}, ""),
    ("reduction rating", "short", "the cycle asks", {"train": (Reduction(ratio=2.0, rated_torque=0.01), STIFF)},
     "larger reduction"),
    ("pinion rating", "tight", "in a stall", {"train": (Rack(module=0.001, teeth=20, rated_force=60.0, inertia=0.0),)},
     "limit what the motor"),
    ("belt tension", "unknown", "N at least", {"train": (Belt(pitch=0.003, teeth=20, pretension=60.0),)}, "the pull that"),
    ("belt tension", "good", "% of what it may", {"train": (Belt(pitch=0.003, teeth=20, pretension=60.0, rated_force=300.0),)}, ""),
    ("belt tension", "tight", "% of what it may",
     {"train": (Belt(pitch=0.003, teeth=20, inertia=1e-5, pretension=60.0, rated_force=80.0),)}, "Add no load"),
    ("belt stretch", "unknown", "accuracy wanted is not given", {"train": (STIFF,), "accuracy_wanted": None},
     "whether that matters"),
    ("belt stretch", "good", "it is back when at rest", {"train": (STIFF,)}, ""),
    ("belt stretch", "tight", "it must settle first", {"train": (LIMP,)}, "wider or shorter belt"),
    ("teeth in mesh", "good", "10 teeth", {}, ""),
    ("teeth in mesh", "tight", "fewer than 6", {"train": (Belt(pitch=0.003, teeth=20, wrap_angle=1.5, inertia=0.0),)},
     "larger pulley"),
    ("stiffness", "good", "of its swings", {"train": (STIFF,)}, ""),
    ("stiffness", "tight", "of its swings", {"train": (LIMP,), "cycle": (Move(distance=0.3, speed=0.3, acceleration=8.0),)},
     "Stiffen the belt"),
    ("lost motion", "good", "% of the accuracy wanted", {"train": (STIFF,)}, ""),
    ("lost motion", "tight", "% of the accuracy wanted", {"train": WORM, "accuracy_wanted": 3e-5}, "Measure it"),
    ("lost motion", "short", "16.7 µm", {"train": WORM, "accuracy_wanted": 1e-5}, "less clearance"),
    ("lost motion", "unknown", "16.7 µm clearance", {"train": WORM, "accuracy_wanted": None}, "whether that matters"),
    ("lost motion", "good", "the weight keeps the flanks together", {"train": (WORM[0], STIFF), "incline": math.pi / 2}, ""),
    ("lost motion", "unknown", "not known without a stiffness", {"train": WORM, "incline": math.pi / 2}, "stiffness"),
    ("stiffness", "tight", "taken as rigid", {"train": (Reduction(ratio=Fraction(3)), STIFF)}, "stiffness"),
    ("follower", "good", "each carries 1/2 of it", {"motor_count": 2}, ""),
    ("follower", "good", "that of V move both axes", {"motor_count": 2, "fellow": Fellow("V")}, ""),
    ("follower", "short", "V does not match this axis: microsteps 8 instead of 16",
     {"motor_count": 2, "fellow": Fellow("V"), "follower_differences": (Unlike("microsteps", "16", "8"),)}, "askew"),
    ("direction", "short", "did not go the way it should", {"direction_seen": "the other way", "fellow": Fellow("V")},
     "both looks"),
    ("tones of both belts", "good", "V 65.6 N: at equal spans 0.756 % in tone", paired_tones(66.6, 65.6), "Leave both"),
    ("tones of both belts", "tight", "more than 3 %", paired_tones(66.6, 58.0), "Tighten that of V"),
    ("softer belt", "good", "A over B is 1.05", diagonal(2.1e-7), "Leave both"),
    ("softer belt", "tight", "Belt B is softer: pushed along its diagonal the gantry gives 1.3 times", diagonal(2.6e-7), "belt B"),
    ("follower", "short", "and 2 more",
     {"motor_count": 2, "follower_differences": follower("microsteps", "lead", "ratio", "teeth", "current_peak")},
     "racks and jams"),
    ("kind of motor", "good", "times its corner speed", {}, ""),
    ("kind of motor", "tight", "most of its torque is gone", {"cycle": (Move(distance=0.8, speed=2.4, acceleration=9.0),)},
     "Raise the supply to 72 V. A servo"),
    ("kind of motor", "tight", "most of its torque is gone", {
        "cycle": (Move(distance=0.8, speed=2.4, acceleration=9.0),), "wiring": "series", "figures_for": "series"},
     "coils in parallel"),
    ("kind of motor", "short", "needs 3.04 V to flow even at rest", {"supply_voltage": 1.0}, "Raise the supply"),
    ("cycle heat", "good", "only holding", {}, ""),
    ("cycle heat", "tight", "within 32.6 minutes",
     {"thermal_resistance": 5.5, "hold_fraction": 0.8, "thermal_time_constant": 500.0}, "Cut the idle current"),
    ("cycle heat", "short", "only holding", {"thermal_resistance": 8.0, "hold_fraction": 1.0}, "do not touch"),
    ("data sheet", "tight", "Rotor inertia looks wrong", {"rotor_inertia": 1e-7}, "decimal point"),
    ("data sheet", "tight", "unusual", {"step_angle": math.radians(1.7)}, "Look at the data sheet"),
    ("vertical axis", "good", "Nothing falls", {"brake_torque": 0.5}, ""),
    ("cycle", "good", "0.3 m/s", {}, ""),
    ("cycle", "unknown", "whether the travel has room", {"travel": None}, "Give the travel"),
    ("cycle", "good", "0.3 m/s", ROLLED | {"travel": None}, "Nothing to do"),
    ("feed", "tight", "come from the diameter of the feed roller", ROLLED, "measure what came out"),
    ("feed", "good", "was measured", ROLLED | {"scale_reading": FED}, "other stock"),
    ("scale", "tight", "It moved 8 % less than commanded", ROLLED | {"scale_reading": FED}, "steps per unit"),
    ("cycle", "short", "below the acceleration", {"acceleration_wanted": 5.0}, "Raise the acceleration of its moves"),
    ("scale", "unknown", "no travel or lengths readings", {}, "Measure it"),
    ("scale", "good", "the gauge itself not counted", {
        "scale_reading": TravelReading(0.4, np.array([0.40001, 0.39999, 0.4]), None)}, "Leave"),
    ("scale", "good", "within what the gauge can see",
     {"scale_reading": TravelReading(0.4, np.array([0.40001, 0.4]), 1e-5)}, "Leave"),
    ("scale", "tight", "0.2 % less", {"scale_reading": TravelReading(0.4, np.array([0.3992, 0.3992]), 1e-5)}, "53.4402 steps"),
    ("scale", "unknown", "what the gauge can see is not given",
     {"scale_reading": TravelReading(0.4, np.array([0.3992]), None)}, "gauge"),
    ("scale", "short", "near 2", {"scale_reading": TravelReading(0.4, np.array([0.8]), 1e-5)}, "do not correct it away"),
    ("scale", "short", "driving pulley: 24 teeth, not 20 teeth", {"scale_reading": TravelReading(0.4, np.array([0.48]), 1e-5)},
     "do not correct"),
    ("scale", "short", "screw: 12 mm lead, not 10 mm lead", {
        **UPRIGHT, "scale_reading": TravelReading(0.4, np.array([0.48]), 1e-5)}, "do not correct"),
    ("scale", "short", "went the other way", {"scale_reading": TravelReading(0.4, np.array([-0.4, -0.4]), 1e-5)}, "directions"),
    ("scale", "short", "hardly moved", {"scale_reading": TravelReading(0.4, np.array([1e-4, 2e-4]), 1e-5)}, "Do not correct"),
    ("scale", "short", "repeats scatter", {"scale_reading": TravelReading(0.4, np.array([0.2, 0.46, 0.38]), 1e-5)}, "coils"),
    ("scale", "short", "always the same way", {"scale_reading": TravelReading(0.4, np.array([0.395, 0.39, 0.385]), 1e-5)}, "slips"),
    ("scale", "short", "repeats scatter", {"scale_reading": TravelReading(0.4, np.array([0.387, 0.413, 0.38, 0.417]), 1e-5)},
     "coils"),
    ("scale", "short", "always the same way", {"scale_reading": TravelReading(0.4, np.array([0.41, 0.4, 0.391]), 1e-5)}, "slips"),
    ("scale", "short", "too much for", {"scale_reading": TravelReading(0.4, np.array([0.437]), 1e-5)}, "wrong tooth count"),
    ("play or spring", "good", "cannot be told from none", {"push_reading": pushed(0.0, 2e-7, 1e-7), **SLIDES}, "stiffer part"),
    ("play or spring", "good", "8 µm of free play", {"push_reading": pushed(8e-6, 2e-7), **SLIDES}, "not the spring"),
    ("play or spring", "tight", "40 µm of free play, 40 %", {"push_reading": pushed(40e-6, 2e-7), **SLIDES}, "preload"),
    ("play or spring", "short", "gives 16 µm as a spring, and has 120 µm", {"push_reading": pushed(120e-6, 2e-7), **SLIDES},
     "Take the play out"),
    ("play or spring", "tight", "up to 198", {"push_reading": pushed(0.0, 2e-7, 2e-5)}, "well above the friction"),
    ("play or spring", "unknown", "more friction holds it", {"push_reading": pushed(-40e-6, 2e-7), **SLIDES}, "Give the friction"),
    ("wear", "good", "does not grow beyond its scatter", history(20e-6, 18e-6, 21e-6), "next repair"),
    ("wear", "good", "grows by 0.5", history(10e-6, 11e-6, 12e-6), "half of that time"),
    ("wear", "tight", "it reaches its limit 24 days", history(11e-6, 16e-6, 21e-6) | {"backlash_limit": 23e-6}, "plan the repair"),
    ("wear", "short", "past its limit", history(11e-6, 16e-6, 21e-6) | {"backlash_limit": 20e-6}, "Repair it now"),
    ("resonant speed", "good", "no move of the cycle stays there", {}, "Cross it quickly"),
    ("resonant speed", "tight", "and the cycle moves", {"cycle": (Move(distance=0.8, speed=0.02, acceleration=1.0),)}, "slower or"),
    ("ladder", "good", "No steps were lost", rungs(0.0, 0.0, 0.0), "Go higher"),
    ("ladder", "good", "% is calculated with", rungs(0.0, 0.0, 0.005), "a third below"),
    ("ladder", "good", "35.5 to 80.8 % of what was computed", rungs(0.0, 0.005, 0.0) | {"torque_factor": 0.6}, "such luck"),
    ("ladder", "tight", "something resonates there", DIPPING, "Cross that speed quickly"),
    ("ladder", "tight", "40 % is calculated with", rungs(0.0, 0.0, 0.005) | {"torque_factor": 0.4}, "Use it"),
    ("ladder", "short", "Steps were lost every time", rungs(0.005, 0.005, 0.005), "wrong resistor"),
    ("ladder", "unknown", "No step of the ladder", STALLED, "slower"),
    ("homing", "good", "well within", {"homing_reading": HomingReading(np.array([0.0, 2e-6, -1e-6]))}, "Nothing"),
    ("homing", "tight", "more than the accuracy wanted", {"homing_reading": HomingReading(np.array([0.0, 7e-5, -6e-5]))}, "slowly"),
    ("homing", "short", "1 full step:", {"homing_reading": HomingReading(np.array([0.0, 3e-4, 0.0]))}, "half a full step"),
    ("homing", "unknown", "not given", {"homing_reading": HomingReading(np.array([0.0, 2e-6])), "accuracy_wanted": None}, "Brief"),
    ("way of homing", "good", "Homes to minus by switch at 0.03 m/s", SWITCHED, "Nothing"),
    ("way of homing", "good", "by the stall, threshold 40", SWITCHED | {"home_by": "stall", "stall_threshold": 40}, "Nothing"),
    ("way of homing", "tight", "set where the work is", {"home_by": "zero anywhere"}, "gives up soft limits"),
    ("way of homing", "short", "runs onto the hard end; 0.164 m/s", SWITCHED | {"homing_speed": 0.2}, "Home slower"),
    ("way of homing", "unknown", "At which end", {"home_by": "switch"}, "minus or plus"),
    ("way of homing", "unknown", "No threshold", SWITCHED | {"home_by": "stall"}, "leaf stall"),
    ("way of homing", "unknown", "may be approached is not known", SWITCHED | {"switch_overtravel": None}, "room behind"),
    ("way of homing", "unknown", "with what it is, is not said", SWITCHED | {"homing_speed": None}, "below it"),
    ("switch", "good", "Normally closed", wired("low", "high", "high"), "Nothing"),
    ("switch", "tight", "Normally open", wired("high", "low", "high"), "other contact"),
    ("switch", "short", "does nothing", wired("high", "high", "high"), "wrong input"),
    ("switch", "unknown", "nput, switch pressed", {"switch_free": "low"}, ""),
    ("soft limits", "good", "-2 mm and 594 mm", SWITCHED | {"zero_offset": 0.004, "soft_limit_room": 0.002}, "Nothing"),
    ("soft limits", "tight", "where the ends answer", SWITCHED, "Keep off by a little"),
    ("soft limits", "short", "zero lies outside", SWITCHED | {"soft_limit_room": 0.002}, "Move zero inwards"),
    ("soft limits", "short", "Nothing is left", SWITCHED | {"soft_limit_room": 0.4}, "Keep off less"),
    ("soft limits", "short", "the moves span 300 mm", SWITCHED | {"zero_offset": 0.2, "soft_limit_room": 0.16}, "shorten"),
    ("direction", "good", "turned round in the driver", seen("as it should", "driver"), "Nothing"),
    ("direction", "short", "It went the other way", {"direction_seen": "the other way"}, "in one place only"),
    ("direction", "short", "the other way", seen("the other way", "driver"), "turn it back there"),
    ("direction", "short", "did not move", {"direction_seen": "not at all"}, "crossed pair"),
    ("direction", "unknown", "not on record", {"direction_seen": "as it should"}, "nowhere"),
    ("first mode", "good", "they agree", {"train": (SOFT,), "acceleration_reading": taps((RINGS, 0.03, 5.0))}, "Nothing"),
    ("first mode", "tight", "they are strained", {"train": (SOFT,), "acceleration_reading": taps((0.8 * RINGS, 0.03, 5.0))},
     "trust on the Brief"),
    ("first mode", "tight", "contradict each other", {"train": (SOFT,), "acceleration_reading": dataclasses.replace(
        taps((0.6 * RINGS, 0.03, 5.0)), train_mode=0.6 * RINGS)}, "trust on the Brief"),
    ("first mode", "unknown", "None of these humps can be told to be the train's", {
        "train": (SOFT,), "acceleration_reading": taps((0.6 * RINGS, 0.03, 5.0))}, "lower by a third"),
    ("first mode", "unknown", "is not in this record", {"train": (SOFT,), "acceleration_reading": dataclasses.replace(
        taps((RINGS, 0.03, 5.0)), train_mode=2 * RINGS)}, "lower by a third"),
    ("sensor", "short", "at the stops of the sensor", {"acceleration_reading": spoilt(lambda v: np.clip(v, -1.0, 1.0))}, "more"
                                                                                                                         " gently"),
    ("sensor", "tight", "steps within this record", {"acceleration_reading": spoilt(lambda v: np.round(v / 0.4) * 0.4)}, "finer"
                                                                                                                         " sensor"),
    ("sensor", "tight", "A line of 50 Hz", {"acceleration_reading": spoilt(lambda v: v + 0.4 * np.sin(
        2 * np.pi * 50 * np.arange(v.size) / 1600.0))}, "motor leads"),
    ("sensor", "tight", "the record holds nothing", {"acceleration_reading": spoilt(below)}, "not seen"),
    ("gauge", "good", "The gauge is good for 2 µm", {"proof_gauge_uncertainty": 2e-6}, "Nothing"),
    ("gauge", "tight", "The gauge is good for 40 µm", {"proof_gauge_uncertainty": 4e-5}, "better gauge"),
    ("drift", "good", "It drifts by 10 µm", drifting(10e-6), "Nothing"),
    ("drift", "tight", "It drifts by 60 µm while it warms, 60 %", drifting(60e-6), "Warm up for"),
    ("drift", "unknown", "accuracy wanted is not given", drifting(10e-6) | {"accuracy_wanted": None}, "Brief"),
    ("table", "good", "points are not worth correcting", {"positioning_reading": two_way(20e-6, slope=6e-6)}, "Nothing"),
    ("table", "tight", "All 6 points", {"positioning_reading": two_way(0.0, scatter=20e-6)}, "more repeats"),
    ("belt tone", "good", "pulls 100 N of the 100 N", plucked(50.0), "Leave it"),
    ("belt tone", "tight", "pulls 81 N of the 100 N wanted: too little", plucked(45.0), "Tighten it"),
    ("belt tone", "tight", "pulls 100 N, the one measured before it 81 N", plucked(45.0, 50.0), "slacker one"),
    ("belt tone", "short", "slack", plucked(40.0), "skips teeth"),
    ("preload", "good", "within the range", {"drag_reading": DragReading(2.0, 0.02, 0.03, 0.05)}, "evenly"),
    ("preload", "tight", "more than the 0.05", {"drag_reading": DragReading(3.0, 0.02, 0.03, 0.05)}, "runs hot"),
    ("preload", "short", "less than the 0.03", {"drag_reading": DragReading(1.0, 0.02, 0.03, 0.05)}, "Tighten the nut"),
    ("backlash", "good", "Backlash is 12", {"reversal_reading": two_way(12e-6)}, "watch the trend"),
    ("backlash", "good", "33 %", {"reversal_reading": two_way(0.99e-4 / 3, scatter=1e-9)}, "watch the trend"),
    ("backlash", "tight", "33.7 %", {"reversal_reading": two_way(1.01e-4 / 3, scatter=1e-9)}, "Adjust the preload"),
    ("backlash", "tight", "99 %", {"reversal_reading": two_way(0.99e-4, scatter=1e-9)}, "Adjust the preload"),
    ("backlash", "short", "1.01 times", {"reversal_reading": two_way(1.01e-4, scatter=1e-9)}, "push test"),
    ("backlash", "good", "less than these readings can tell", {"reversal_reading": two_way(1e-6, scatter=6e-6)}, "finer gauge"),
    ("backlash", "tight", "they leave room for", {"reversal_reading": two_way(1e-6, scatter=200e-6)}, "coils"),
    ("cycle", "short", "The moves span 300 mm, the travel is 200 mm", {"travel": 0.2}, "Shorten"),
    ("assumptions", "tight", "1 value is assumed ideal: the belt's efficiency of 100 %",
     {"assumed": ("train[0].efficiency",)}, "usual values"),
    ("assumptions", "good", "1 usual value stands for what nobody has read off yet: the belt's efficiency of 97 %",
     {"train": (Belt(pitch=0.003, teeth=20, efficiency=0.97),), "assumed": ("train[0].efficiency",)}, "data sheets"),
    ("assumptions", "tight", "2 values are assumed ideal",
     {"friction_force": 0.0, "assumed": ("friction", "train[0].efficiency")}, "usual values"),
    ("coupling", "unknown", "in a stall is not known",
     {"holding_torque": None, "train": (Coupling(rated_torque=5.0), Belt(pitch=0.003, teeth=20))}, "Choose the motor"),
    ("cycle heat", "short", "thermal runaway", {"thermal_resistance": 60.0}, "lower the current"),
    ("supply voltage", "short", "no voltage gives", {"moving_mass": 70.0}, "Volts come after"),
    ("margin by speed", "good", "is wanted there", {}, ""),
    ("margin by speed", "tight", "1.3 is wanted there", {"moving_mass": 60.0}, "more gently"),
    ("margin by speed", "short", "is wanted there", {"moving_mass": 120.0}, "more gently"),
    ("torque margin", "tight", "only 1.", {"cycle": (Move(distance=0.8, speed=2.4, acceleration=9.0),), "moving_mass": 3.4},
     "raise the supply"),
    ("torque margin", "tight", "only 1.", {"moving_mass": 45.0, "current_peak": 3.0}, "set more of its current"),
    ("backlash", "tight", "% of the accuracy wanted", {"reversal_reading": two_way(60e-6)}, "preload"),
    ("backlash", "short", "1.8 times the accuracy wanted", {"reversal_reading": two_way(180e-6)}, "push test"),
    *(("backlash", "short", "1.8 times", {"reversal_reading": two_way(180e-6), "push_reading": pushed(play, 2e-7), **SLIDES}, said)
      for play, said in ((170e-6, "Find the play"), (10e-6, "Hardly any of it"))),
    ("resonance", "good", "One clear mode at 31.0 Hz", {"acceleration_reading": taps((31.0, 0.03, 5.0))}, "shaper"),
    ("resonance", "tight", "2 modes share", {"acceleration_reading": taps((31.0, 0.03, 5.0), (52.0, 0.03, 4.0))}, "loose rail"),
    ("acceleration", "short", "of it", {"acceleration_reading": taps((12.0, 0.03, 5.0))}, "path tolerance"),
    ("acceleration", "good", "within the tolerance up to", {"acceleration_reading": taps((60.0, 0.03, 5.0))}, "Set this shaper"),
    ("time base", "good", "came evenly at 1 600 Hz", {"acceleration_reading": taps((31.0, 0.03, 5.0))}, ""),
    ("accuracy", "good", "of what the Brief asks for",
     {"positioning_reading": two_way(20e-6), "proof_gauge_uncertainty": 1e-6}, "Proven"),
    ("accuracy", "tight", "How good the gauge", {"positioning_reading": two_way(20e-6)}, "Name the gauge"),
    ("accuracy", "tight", "", {"positioning_reading": two_way(85e-6)}, "reversal"),
    ("accuracy", "short", "", {"positioning_reading": two_way(10e-6, slope=4e-4)}, "straight line"),
    ("accuracy", "short", "", {"positioning_reading": two_way(10e-6, bow=150e-6)}, "correction table"),
    ("accuracy", "short", "", {"positioning_reading": two_way(4e-6, scatter=40e-6)}, "scatter"),
    ("reachable speed", "good", "on this supply", {"speed_wanted": 0.3}, ""),
    ("time base", "tight", "unevenly", {"acceleration_reading": uneven(taps((31.0, 0.03, 5.0)))}, "own clock"),
    ("reduction rating", "unknown", "in a stall is not known",
     {"holding_torque": None, "train": (Reduction(ratio=2.0, rated_torque=9.0), STIFF)}, "Choose the motor"),
    ("pinion rating", "unknown", "in a stall is not known",
     {"holding_torque": None, "train": (Rack(module=0.001, teeth=20, rated_force=600.0, inertia=0.0),)}, "Choose the motor"),
    ("reduction rating", "tight", "in a stall", {"train": (Reduction(ratio=2.0, rated_torque=1.0), STIFF)}, "limit what the motor"),
    ("pinion rating", "good", "that the motor can give there",
     {"train": (Rack(module=0.001, teeth=20, rated_force=600.0, inertia=0.0),)}, ""),
    ("pinion rating", "short", "the cycle asks", {"train": (Rack(module=0.001, teeth=20, rated_force=9.0, inertia=0.0),)},
     "larger pinion"),
    ("screw whirling", "tight", "of the speed it may",
     {"train": (Screw(lead=0.005, diameter=0.008, length=0.55, end_support="fixed-supported"),)}, "Keep the speed"),
    ("screw buckling", "good", "half of buckling",
     {"train": (Screw(lead=0.01, diameter=0.016, length=0.4, end_support="fixed-fixed"),)}, ""),
    ("screw buckling", "tight", "half of buckling",
     {"moving_mass": 9.0, "train": (Screw(lead=0.005, diameter=0.0048, length=0.5, end_support="fixed-free"),)}, "Add no load"),
    ("belt tension", "short", "hangs loose", {"train": (Belt(pitch=0.003, teeth=20, inertia=1e-5, pretension=2.0),)},
     "Tension the belt"),
    ("standstill", "tight", "times the weight", {**UPRIGHT, "hold_fraction": 0.05}, "Hold with 8.2 %"),
]


@pytest.mark.parametrize(("check", "level", "said", "more", "nxt"), CASES, ids=lambda v: v if isinstance(v, str) else "")
def test_each_check_at_each_level(check: str, level: str, said: str, more: dict[str, Any], nxt: str) -> None:
    found = verdict(check, solve(**more))
    assert found is not None
    assert found.level == level, found.sentence
    assert said in found.sentence, found.sentence
    assert nxt in found.next, found.next
    assert found.sentence.endswith((".", "?")) and "!" not in found.sentence + found.next
    assert found.headroom is None or 0 <= found.headroom <= 1
    silent = ("listens to", "locks", "not both", "no torque", "the work is", "Normally", "does nothing", "turned round",
              "other way", "not move", "any speed", "controller and driver take", "went the", "repeats scatter", "same way",
              "hardly moved", "move both axes", "not go the way")
    assert level == "unknown" or any(sign.isdigit() for sign in found.sentence) or any(word in said for word in silent)


def test_checks_that_have_nothing_to_say_are_silent() -> None:
    silent = {"vertical axis", "standstill", "coupling", "screw whirling", "screw buckling", "screw life", "wiring",
              "kind of rated current"}
    assert silent.isdisjoint({v.check for v in solve().verdicts()})


SERVO_CASES: list[tuple[str, str, str, dict[str, Any], str]] = [
    ("printed curve", "good", "the curve is known to", curve_of("servo"), ""),
    ("printed curve", "tight", "off the nearest winding", curve_of("servo", jagged=True), "Compare its points"),
    ("continuous torque", "good", "times the RMS torque", {}, ""),
    ("continuous torque", "tight", "1.17 times", {"rated_torque": 0.07}, "stronger motor"),
    ("continuous torque", "short", "overheats", {"rated_torque": 0.05}, "more gently"),
    ("peak time", "good", "0 s at a time", {"peak_time": 1.0}, ""),
    ("peak time", "tight", "0.15 s at a time", {"peak_time": 0.2, "rated_torque": 0.1}, "stronger motor"),
    ("peak time", "short", "0.1 s are allowed", {"peak_time": 0.1, "rated_torque": 0.1}, "stronger motor"),
    ("kind of motor", "tight", "10 % of its rated speed", {}, "A stepper"),
    ("kind of motor", "good", "of its rated speed", {"cycle": (Move(distance=0.3, speed=1.2, acceleration=6.0),)}, ""),
    ("kind of motor", "tight", "its torque falls there", {"cycle": (Move(distance=0.9, speed=3.6, acceleration=40.0),)},
     "Run the cycle slower"),
    ("kind of motor", "short", "its speed ends at", {"cycle": (Move(distance=9.0, speed=6.0, acceleration=40.0),)}, "slower"),
    ("stated speeds", "tight", "as they stand", {"rated_voltage": None, "supply_voltage": None}, "Give both"),
    ("torque margin", "good", "times the torque needed", {"rated_voltage": None, "supply_voltage": None}, ""),
    ("torque margin", "unknown", "supply voltage is not given", {"supply_voltage": None}, "Supply voltage:"),
    ("pulse rate", "short", "of what the controller makes", {"max_pulse_rate": 10_000.0}, "electronic gear"),
    ("kind of motor", "tight", "19.9 % of its rated speed", {"supply_voltage": 24.1}, "A stepper"),
    ("data sheet", "tight", "Max speed looks wrong", {"max_speed": 4710.0}, "decimal point"),
    ("torque margin", "short", "it will stall", {"motor_peak_torque": 0.13, "rated_torque": 0.1}, "stronger motor"),
    ("inertia ratio", "tight", "", {"moving_mass": 9.0}, "A reduction of 1.9:1 more"),
    ("response", "good", "does not ring", answered(), "Nothing to turn"),
    ("response", "tight", "overshoots by 12 %", answered(overshoot=0.12), "Integral time up"),
    ("response", "short", "overshoots by 3", answered(overshoot=0.35), "Integral time up"),
    ("response", "tight", "ends before it has settled", answered(slow=3.0, ends=0.3), "Record longer"),
    ("response", "tight", "creeps in", {**answered(slow=12.0), "position_gain": 300.0}, "Position gain up"),
    ("response", "tight", "the integral hunts", {**answered(rings=14.0), "position_gain": 300.0}, "Integral time up"),
    ("response", "short", "near where it sings", {**answered(rings=90.0), "position_gain": 100.0}, "Velocity gain down"),
    ("response", "unknown", "ends where it began", answered(back=True), "ends elsewhere"),
    ("velocity gain", "good", "% of the limit", {**DRIVE, "velocity_gain": 0.01}, ""),
    ("velocity gain", "tight", "times the limit", {**DRIVE, "velocity_gain": 0.16}, "N·m·s/rad"),
    ("velocity gain", "short", "sings", {**DRIVE, "velocity_gain": 1.0}, "N·m·s/rad"),
    ("position gain", "good", "holds", {**DRIVE, "position_gain": 40.0}, ""),
    ("position gain", "tight", "overshoots", {**DRIVE, "measured_stiffness": 5e8, "position_gain": 800.0}, "a fifth"),
    ("position gain", "tight", "ring on its train", {**DRIVE, "measured_stiffness": 2e4, "position_gain": 20.0}, "encoder"),
    ("position gain", "short", "swing by itself", {**DRIVE, "position_gain": 9e4}, "half"),
    ("winding figures", "tight", "taken for one phase", {"phase_resistance": 0.5, "phase_inductance": 1e-3,
                                                         "torque_constant_rms": 0.1, "pole_pairs": 4}, "say which it is"),
]


@pytest.mark.parametrize(("check", "level", "said", "more", "nxt"), SERVO_CASES, ids=lambda v: v if isinstance(v, str) else "")
def test_each_check_of_a_servo(check: str, level: str, said: str, more: dict[str, Any], nxt: str) -> None:
    found = verdict(check, solve("servo", **more))
    assert found is not None and found.level == level, found and found.sentence
    assert said in found.sentence and nxt in found.next, found.sentence


def levels_of(function: Callable[..., Any], passed: tuple[Callable[..., Any], ...] = ()) -> set[str]:
    """The levels that a check can return, read from its source and from that of the functions it takes its verdict from."""
    found: set[str] = set()
    for node in ast.walk(ast.parse(inspect.getsource(function))):
        if isinstance(node, ast.Constant) and node.value in LEVELS:
            found.add(node.value)
        inner = function.__globals__.get(node.func.id) if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) else None
        if inspect.isfunction(inner) and inner not in passed and "Verdict" in str(inspect.signature(inner).return_annotation):
            found |= levels_of(inner, (*passed, function))
    return found


def test_every_level_of_every_check_has_a_case() -> None:
    shown = {"stepper": {case[:2] for case in CASES}, "servo": {case[:2] for case in SERVO_CASES},
             "project": {case[:2] for case in PROJECT_CASES}}
    rules = {rule.function: (rule.name, motor) for motor in ("stepper", "servo") for motion in ("linear", "rotary")
             for rule in axis_sheet(motion, motor).checks}
    rules |= {rule.function: (rule.name, "project") for rule in sheet_of("machine").checks}
    shared = {rule.function for rule in axis_sheet("linear", "stepper").checks} & {
        rule.function for rule in axis_sheet("linear", "servo").checks}
    for function, (name, motor) in rules.items():
        cases = shown["stepper"] | shown["servo"] if function in shared else shown[motor]
        assert {(name, level) for level in levels_of(function)} <= cases, (name, motor)


def test_what_only_a_stepper_has_is_not_asked_of_a_servo() -> None:
    named = {v.check for v in solve("servo").verdicts()}
    assert {"winding temperature", "microsteps", "set current", "cycle heat", "standstill", "supply voltage"}.isdisjoint(named)
    assert {"peak time", "continuous torque"}.isdisjoint({v.check for v in solve().verdicts()})
    assert verdict("peak time", solve("servo")) is None, "no peak time is given"


def test_a_rotary_axis_speaks_in_degrees() -> None:
    from urban_mule.core.train.links import Direct, Reduction

    solution = axis_sheet("rotary", "stepper").solve(**{
        **{k: v for k, v in STEPPER.items() if k not in ("moving_mass", "friction_force")}, "unit": "deg", "load_inertia": 0.002,
        "travel": 2 * math.pi,
        "friction_torque": 0.1, "train": (Reduction(ratio=5.0), Direct()), "accuracy_wanted": math.radians(0.1),
        "cycle": (Move(distance=math.pi, speed=math.pi, acceleration=20.0),),
        "reversal_reading": two_way(math.radians(0.02), scatter=1e-6)})
    assert "72°" in next(v.sentence for v in solution.verdicts() if v.check == "train")
    assert "180 °/s" in next(v.sentence for v in solution.verdicts() if v.check == "cycle")
    assert "Backlash is 0.020002 ± 0.000024°" in next(v.sentence for v in solution.verdicts() if v.check == "backlash")
    assert solution["steps_fraction"].fraction == Fraction(200 * 16 * 5, 360)


def test_the_deciding_verdict_is_the_worst_with_the_least_room() -> None:
    drive = tuple(v for v in solve().verdicts() if v.stage == "Drive")
    said = headline(drive)
    assert worst(drive).level == "good" and said.check == "set current", "when all is well, the stage's own main number"  # type: ignore[union-attr]
    given = tuple(Verdict(level, level, headroom=room) for level, room in (  # type: ignore[arg-type]
        ("good", 0.1), ("tight", 0.4), ("tight", 0.2), ("unknown", None), ("good", 0.9)))
    assert worst(given) is given[2]
    assert worst(given[:1] + given[3:]) is given[3]
    assert worst(()) is None
