"""Which modules make the sheet of an axis: by its motion and its motor. Modules of the other kinds are not even imported."""

from __future__ import annotations

from dataclasses import replace
from functools import cache
from importlib import import_module
from types import ModuleType

from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.sheet.given import Given, givens, words
from urban_mule.core.sheet.sheet import Sheet

CORE = "urban_mule.core"
COMMON = (
    "motor.shaft", "motor.warming", "drive.warming", "drive.any", "drive.pulses", "train.fold", "load.cycle", "load.torque",
    "load.asked", "load.assumed", "motor.heat", "load.link_loads", "train.stiffness", "load.fall", "motor.margin",
    "scale.steps", "scale.detective",
    "scale.lengths", "slack.reversal", "slack.push", "slack.trend", "slack.parts", "slack.repairs", "slack.upkeep", "moves.homing",
    "moves.ends", "proof.positioning", "proof.periodic", "proof.shares", "proof.corrections", "proof.next_run",
    "proof.uncertainty", "proof.drift", "ring.spectrum", "ring.modes", "ring.shaper", "ring.tuned", "ring.shifts",
    "ring.ripple", "ring.sensor", "brief.reach", "brief.goals", "brief.fits", "motor.checks", "moves.checks", "moves.directions",
    "moves.ends_checks", "drive.checks", "scale.checks", "slack.checks", "ring.checks", "proof.checks", "load.checks")
MOTIONS: dict[str, tuple[str, ...]] = {"linear": ("load.linear",), "rotary": ("load.rotary",)}
MOTORS: dict[str, tuple[str, ...]] = {
    "stepper": ("motor.stepper", "motor.stepper_heat", "drive.supply", "drive.stepper", "drive.banks", "drive.current",
                "drive.driver_heat", "drive.microsteps", "drive.chopping", "drive.standstill", "motor.stepper_checks",
                "drive.current_checks", "drive.stepper_checks", "scale.stepper_suspects", "ring.stepper_causes", "moves.ladder",
                "moves.stepper_homing", "moves.ladder_checks", "brief.stepper_reach"),
    "servo": ("motor.servo", "motor.servo_winding", "motor.servo_heat", "motor.servo_checks", "scale.servo_suspects",
              "ring.servo_causes", "brief.servo_reach")}
RECORDS = (  # in the order in which solutions list what is given
    "load.torque:AnyLoad", "motor.shaft:AnyMotor", "motor.shaft:FittedBrake", "drive.any:AnyDriver",
    "drive.pulses:PulseTiming", "drive.interface:DriverInterface", "scale.steps:Controller", "ring.shaper:PathTolerance",
    "ring.tuned:ShaperChoice", "motor.heat:Surroundings", "brief.goals:Goals", "scale.lengths:Expansion",
    "slack.trend:BacklashLimit", "slack.upkeep:Running", "moves.homing:Homing", "moves.stall:StallSearch", "moves.ends:Ends",
    "moves.directions:Directions", "train.stiffness:MeasuredTrain")
RECORDS_OF: dict[str, tuple[str, ...]] = {
    "linear": ("load.linear:LinearLoad",), "rotary": ("load.rotary:RotaryLoad",),
    "stepper": ("motor.stepper:StepperMotor", "drive.stepper:Driver", "drive.current:DriverCurrent", "drive.driver_heat:DriverHeat",
                "drive.microsteps:Interpolation", "drive.chopping:Chopping", "drive.standstill:Lean"),
    "servo": ("motor.servo:ServoMotor", "motor.servo:ServoDriver")}
UNITS = {
    "linear": {"[travel]": "m", "[effort]": "N", "[inertia]": "kg"},
    "rotary": {"[travel]": "rad", "[effort]": "N·m", "[inertia]": "kg·m²"},
}
STRUCTURES = (
    ("train", "links from the motor to the load", "the train has no link yet"),
    ("cycle", "moves in order", "the cycle has no move yet"),
    ("assumed", "losses that nobody has said: friction, and the efficiency of links by their place", "nothing is assumed"),
    ("switch_banks", "banks of switches and jumpers on the driver", "no bank of switches is described"),
    ("pulses_shared", "timing of the pulse generator that the axes share", "the axes share no pulse generator"),
    ("scale_reading", "the last of travel and lengths", "no travel or lengths readings yet"),
    ("reversal_history", "reversal readings that say when they were taken", "no dated reversal readings yet"),
    ("unit", "unit of the controller", "no unit"),
    ("proof_gauge_uncertainty", "of the gauge of the last positioning run", "the gauge of the run says no uncertainty"),
    ("follower_differences", "what differs between leader and follower", "no difference is entered"),
    ("parts_bought", "sizes of the parts, in the list of parts on the Brief", "no part has its sizes yet"))


def structures() -> tuple[Given, ...]:
    """What is given and is no number: train, cycle and the like, and of each kind of reading the last one and all of them."""
    of_readings = [
        (f"{name}_{which}", f"taken on the machine or imported as CSV; {which_words}", f"no {name} readings yet")
        for name in reading_kinds() for which, which_words in (("reading", "the last set counts"), ("readings", "all sets"))]
    return tuple(Given(name, "", "", doc, structure=True, missing=missing, label=words(name))
                 for name, doc, missing in (*STRUCTURES, *of_readings))


def modules_of(motion: str, motor_kind: str) -> tuple[ModuleType, ...]:
    """The modules whose quantities and checks make the sheet of such an axis. Raises KeyError for kinds that there are not."""
    return tuple(import_module(f"{CORE}.{name}") for name in (*COMMON, *MOTIONS[motion], *MOTORS[motor_kind]))


@cache
def axis_sheet(motion: str, motor_kind: str) -> Sheet:
    """The sheet of an axis; motion: linear or rotary, motor_kind: stepper or servo. Raises KeyError for others."""
    modules = modules_of(motion, motor_kind)
    fields = [one for where in (*RECORDS, *RECORDS_OF[motion], *RECORDS_OF[motor_kind]) for one in givens(_record(where))]
    return Sheet(modules, (*fields, *structures()), UNITS[motion], _elsewhere)


PROJECT_MODULES = ("drive.together", "drive.together_checks", "drive.wiring", "proof.circle", "proof.square")
PROJECT_RECORDS = ("motor.heat:Surroundings", "drive.mains:Mains", "drive.mains:Supply", "brief.goals:Budget")
PROJECT_STRUCTURES = (("axes_together", "what the project takes of each axis", "no axis"),
                      ("wirings", "where the signals of each driver go", "no wiring is described"),
                      ("spindles_together", "what the project takes of each drive that turns a tool", "no spindle"),
                      ("circle_reading", "the last circle of two axes", "no circle readings yet"),
                      ("diagonals_reading", "the last diagonals of two axes", "no diagonals readings yet"),
                      ("piece_reading", "the last test piece of two axes", "no piece readings yet"))


@cache
def project_sheet() -> Sheet:
    """The sheet of what belongs to all axes together."""
    fields = [one for where in PROJECT_RECORDS for one in givens(_record(where))]
    structured = [Given(name, "", "", doc, structure=True, missing=missing, label=words(name))
                  for name, doc, missing in PROJECT_STRUCTURES]
    return Sheet([import_module(f"{CORE}.{name}") for name in PROJECT_MODULES], (*fields, *structured), {}, _elsewhere)


SPINDLE_MODULES = ("spindle.power", "spindle.turning", "spindle.command", "spindle.checks")
SPINDLE_PARTS = {"motor": "spindle.given:SpindleMotor", "": "spindle.given:Spindle", "speeds": "spindle.given:Speeds",
                 "cut": "spindle.given:Cut"}


def spindle_name(part: str, key: str) -> str:
    """What a given of a part of a spindle is called on its sheet."""
    renamed: dict[tuple[str, str], str] = import_module(f"{CORE}.spindle.given").RENAMED
    return renamed.get((part, key), key)


def _as_on_spindle(part: str, one: Given) -> Given:
    """A given by its name on the sheet of a spindle."""
    name = spindle_name(part, one.name)
    return one if name == one.name else replace(one, name=name, label=words(name))


@cache
def spindle_sheet() -> Sheet:
    """The sheet of a drive that turns a tool."""
    fields = [_as_on_spindle(part, one) for part, where in SPINDLE_PARTS.items() for one in givens(_record(where))]
    mains = next(one for one in givens(_record("drive.mains:Mains")) if one.name == "mains_voltage")
    table = Given("speed_table", "", "", "measured commands and speeds", structure=True, missing="no table of speeds was measured",
                  label="Speed table")
    return Sheet([import_module(f"{CORE}.{name}") for name in SPINDLE_MODULES], (*fields, mains, table), {}, _elsewhere)


def _record(where: str) -> type:
    module, _, name = where.partition(":")
    found: type = getattr(import_module(f"{CORE}.{module}"), name)
    return found


def _elsewhere(name: str) -> bool:
    """Whether a name stands on the sheet of another kind of axis; what stands on none is misspelt."""
    sheets = (*(axis_sheet(motion, motor) for motion in MOTIONS for motor in MOTORS), project_sheet(), spindle_sheet())
    return any(name in sheet.inputs or name in sheet.quantities for sheet in sheets)


@cache
def labels() -> dict[str, str]:
    """What every quantity and given of any kind of axis is called, those of links and moves too."""
    links: tuple[type, ...] = tuple(import_module(f"{CORE}.train.links").STAGES.values())
    found = {one.name: one.label for record in (*links, _record("load.cycle:Move")) for one in givens(record)}
    for motion in MOTIONS:
        for motor in MOTORS:
            sheet = axis_sheet(motion, motor)
            found |= {name: sheet.label(name) for name in (*sheet.inputs, *sheet.quantities)}
    for sheet in (spindle_sheet(), project_sheet()):
        found = {name: sheet.label(name) for name in (*sheet.inputs, *sheet.quantities)} | found
    return found
