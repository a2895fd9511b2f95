"""The kinds of subjects: axes by motion and motor, spindles, the machine as a whole; each declared once, and everything follows.

From a declaration come the sheet, the part of the document, what is kept of it in the file, and the stages. What a kind computes
stands in the rooms of the core that it names; modules of other kinds are not even imported.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import field, replace
from functools import cache
from importlib import import_module
from types import ModuleType

from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.sheet.given import Given, givens, words
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.sheet.stages import STAGES, StageName

CORE = "urban_mule.core"
OWN, PROJECT = "", "project"  # parts of the document: the subject itself, and what belongs to all


@record(frozen=True, eq=False)
class SubjectKind:
    """A kind of subject.

    key: under which such subjects stand in the document, nothing for the machine as a whole; what: as sentences call one.
    modules: of the core, whose quantities and checks make its sheet. records: what is given, as (part of the document, record),
    in the order in which solutions list it. structures: what is given and is no number: name, what it is, and what is said where it
    is missing. units: what placeholders in units stand for. stages: on which it is shown. called: what a given of a part is called
    on the sheet, where that is not its key. takes: numbers of the project that its sheet needs.
    """

    name: str
    key: str
    what: str
    modules: tuple[str, ...]
    records: tuple[tuple[str, str], ...]
    structures: tuple[tuple[str, str, str], ...] = ()
    units: Mapping[str, str] = field(default_factory=dict)
    stages: tuple[StageName, ...] = ()
    called: Mapping[tuple[str, str], str] = field(default_factory=dict)
    takes: tuple[str, ...] = ()

    def name_of(self, part: str, key: str) -> str:
        """What a given of a part of the document is called on the sheet."""
        return self.called.get((part, key), key)

    @property
    def parts(self) -> tuple[str, ...]:
        """The parts of the document that say something of it."""
        return tuple(dict.fromkeys(part for part, _ in self.records))


MOTIONS, MOTORS = ("linear", "rotary"), ("stepper", "servo")
AXIS_MODULES = (
    "motor.shaft", "motor.warming", "drive.warming", "drive.any", "drive.pulses", "train.fold", "load.cycle", "load.torque",
    "load.pair", "load.asked", "load.assumed", "load.capped", "motor.heat", "load.link_loads", "train.stiffness", "load.fall",
    "motor.margin",
    "scale.steps", "scale.detective", "scale.lengths", "slack.reversal", "slack.push", "slack.trend", "slack.parts",
    "slack.repairs", "slack.upkeep", "moves.homing", "moves.ends", "proof.positioning", "proof.periodic", "proof.shares",
    "proof.corrections", "proof.promises", "proof.expected", "proof.next_run", "proof.uncertainty", "proof.drift",
    "ring.spectrum", "ring.modes", "ring.shaper", "ring.tuned", "ring.shifts", "ring.ripple", "ring.sensor", "ring.shaped",
    "ring.end_of_move", "ring.response", "ring.effort", "ring.response_checks",
    "brief.reach", "brief.settings_room", "brief.settings", "brief.goals", "brief.fits", "motor.compared", "slack.compared",
    "scale.compared",
    "motor.checks", "moves.checks", "moves.directions", "moves.ends_checks", "drive.checks",
    "scale.checks", "slack.checks", "ring.checks", "proof.checks", "load.checks")
MODULES_OF: dict[str, tuple[str, ...]] = {
    "linear": ("load.linear", "slack.pair_checks"), "rotary": ("load.rotary",),
    "stepper": ("motor.stepper", "motor.stepper_printed", "motor.stepper_modes", "motor.stepper_heat", "drive.supply",
                "drive.stepper", "drive.banks", "drive.current", "drive.driver_heat", "drive.microsteps", "drive.chopping",
                "drive.standstill", "motor.stepper_checks", "drive.current_checks", "drive.stepper_checks",
                "scale.stepper_suspects", "ring.stepper_causes", "moves.ladder", "moves.by_speed", "moves.stepper_homing",
                "moves.ladder_checks", "brief.stepper_reach", "ring.stepper_swing", "ring.stepper_compared",
                "slack.stepper_compared", "moves.compared",
                "drive.compared", "drive.otherwise", "motor.otherwise", "motor.stepper_compared"),
    "servo": ("motor.servo", "motor.servo_modes", "motor.servo_winding", "motor.servo_printed", "motor.servo_heat",
              "motor.servo_checks", "scale.servo_suspects", "ring.servo_causes", "brief.servo_reach", "ring.servo_swing",
              "ring.servo_compared", "ring.loop_plant", "ring.loop_limits",
              "ring.gains", "ring.notch", "ring.loop_checks", "ring.tuning", "ring.servo_efforts",
              "slack.servo_compared")}
AXIS_RECORDS = (
    (OWN, "load.torque:AnyLoad"), ("motor", "motor.shaft:AnyMotor"), ("motor", "motor.shaft:FittedBrake"),
    ("driver", "drive.any:AnyDriver"), ("driver", "drive.pulses:PulseTiming"), ("driver", "drive.interface:DriverInterface"),
    ("controller", "scale.steps:Controller"), (OWN, "ring.shaper:PathTolerance"), (OWN, "ring.tuned:ShaperChoice"),
    (OWN, "ring.swing:SettleTolerance"),
    (PROJECT, "motor.heat:Surroundings"), (OWN, "brief.goals:Goals"), (OWN, "scale.lengths:Expansion"),
    (OWN, "slack.trend:BacklashLimit"), (OWN, "slack.upkeep:Running"), (OWN, "moves.homing:Homing"),
    (OWN, "moves.stall:StallSearch"), (OWN, "moves.ends:Ends"), (OWN, "moves.directions:Directions"),
    (OWN, "train.stiffness:MeasuredTrain"))
RECORDS_OF: dict[str, tuple[tuple[str, str], ...]] = {
    "linear": ((OWN, "load.linear:LinearLoad"),), "rotary": ((OWN, "load.rotary:RotaryLoad"),),
    "stepper": (("motor", "motor.stepper:StepperMotor"), ("driver", "drive.stepper:Driver"),
                ("driver", "drive.current:DriverCurrent"), ("driver", "drive.driver_heat:DriverHeat"),
                ("driver", "drive.microsteps:Interpolation"), ("driver", "drive.chopping:Chopping"),
                (OWN, "drive.standstill:Lean")),
    "servo": (("motor", "motor.servo:ServoMotor"), ("driver", "motor.servo:ServoDriver"),
              ("driver", "ring.loop_plant:ServoLoops"),
              ("driver", "ring.gains:LoopGains"))}
UNITS = {
    "linear": {"[travel]": "m", "[effort]": "N", "[inertia]": "kg"},
    "rotary": {"[travel]": "rad", "[effort]": "N·m", "[inertia]": "kg·m²"},
}
AXIS_STRUCTURES = (
    ("printed_curves", "torque over speed as the data sheet prints it", "no curve is printed"),
    ("train", "links from the motor to the load", "the train has no link yet"),
    ("cycle", "moves in order", "the cycle has no move yet"),
    ("assumed", "losses that nobody has said: friction, and the efficiency of links by their place", "nothing is assumed"),
    ("switch_banks", "banks of switches and jumpers on the driver", "no bank of switches is described"),
    ("pulses_shared", "timing of the pulse generator that the axes share", "the axes share no pulse generator"),
    ("scale_reading", "the last of travel and lengths", "no travel or lengths readings yet"),
    ("reversal_history", "reversal readings that say when they were taken", "no dated reversal readings yet"),
    ("shaped_reading", "the last record of a move made with the shaper set", "no record of a move with the shaper set yet"),
    ("fellow", "the axis that it shares its two motors with", "it shares its motors with no other axis"),
    ("unit", "unit of the controller", "no unit"),
    ("coil_resistance", "of a phase by the ohmmeter, as the data sheet counts it", "no coil is measured"),
    ("other_modes", "frequencies of what rings beside the train: frame, tool, table, as they were named", "no hump is named"),
    ("proof_gauge_uncertainty", "of the gauge of the last positioning run", "the gauge of the run says no uncertainty"),
    ("reversal_gauge_resolution", "smallest step of the gauge of the last reversal readings", "its gauge says no smallest step"),
    ("reversal_gauge_hysteresis", "of the gauge of the last reversal readings", "its gauge says no hysteresis"),
    ("proof_gauge_hysteresis", "of the gauge of the last positioning run", "the gauge of the run says no hysteresis"),
    ("proof_gauge_expansion", "of the gauge of the last positioning run", "the gauge of the run says no thermal expansion"),
    ("proof_temperature_uncertainty", "how sure the temperature of axis and gauge was in the last positioning run, standard [K]",
     "the run says not how sure the temperature was"),
    ("follower_differences", "what differs between leader and follower", "no difference is entered"),
    ("parts_bought", "sizes of the parts, in the list of parts on the Brief", "no part has its sizes yet"),
    *((f"{name}_{which}", f"taken on the machine or imported as CSV; {which_words}", f"no {name} readings yet")
      for name in reading_kinds() for which, which_words in (("reading", "the last set counts"), ("readings", "all sets"))))
PEAK = {("motor", "peak_torque"): "motor_peak_torque"}  # a servo's data-sheet key; on the sheet it is what the cycle asks


def _axis(motion: str, motor: str) -> SubjectKind:
    return SubjectKind(f"{motion} {motor}", "axes", "an axis", (*AXIS_MODULES, *MODULES_OF[motion], *MODULES_OF[motor]),
                       (*AXIS_RECORDS, *RECORDS_OF[motion], *RECORDS_OF[motor]), AXIS_STRUCTURES, UNITS[motion], STAGES,
                       PEAK if motor == "servo" else {})


MACHINE = SubjectKind(
    "machine", "", "the machine", ("drive.together", "drive.together_checks", "drive.wiring", "moves.machine_cycle", "proof.circle",
                           "proof.square"),
    ((PROJECT, "motor.heat:Surroundings"), (PROJECT, "drive.mains:Mains"), (PROJECT, "drive.mains:Supply"),
     (PROJECT, "brief.goals:Budget")),
    (("axes_together", "what the project takes of each axis", "no axis"),
     ("machine_cycle", "which axes move at once, step by step", "which axes move at once is not said"),
     ("wirings", "where the signals of each driver go", "no wiring is described"),
     ("spindles_together", "what the project takes of each drive that turns a tool", "no spindle"),
     ("circle_reading", "the last circle of two axes", "no circle readings yet"),
     ("diagonals_reading", "the last diagonals of two axes", "no diagonals readings yet"),
     ("square_reading", "the last readings along a square", "no square readings yet"),
     ("straightness_reading", "the last readings along a straight edge", "no straightness readings yet"),
     ("piece_reading", "the last test piece of two axes", "no piece readings yet")))
SPINDLE = SubjectKind(
    "spindle", "spindles", "a spindle", ("spindle.power", "spindle.turning", "spindle.loop",
                                                  "spindle.command", "spindle.checks"),
    (("motor", "spindle.given:SpindleMotor"), (OWN, "spindle.given:Spindle"), (OWN, "spindle.loop:SpindleLoop"),
     ("speeds", "spindle.given:Speeds"),
     ("cut", "spindle.given:Cut")),
    (("speed_table", "measured commands and speeds", "no table of speeds was measured"),),
    stages=("Load", "Motor", "Drive", "Proof"),
    called={("motor", "efficiency"): "motor_efficiency", ("motor", "power_factor"): "motor_power_factor",
            ("speeds", "lowest"): "lowest_speed", ("speeds", "highest"): "highest_speed", ("cut", "speed"): "cut_speed"},
    takes=("mains_voltage",))
KINDS: dict[str, SubjectKind] = {one.name: one for one in (
    *(_axis(motion, motor) for motion in MOTIONS for motor in MOTORS), MACHINE, SPINDLE)}


def kinds_under(key: str) -> tuple[SubjectKind, ...]:
    """The kinds that stand under a key of the document."""
    return tuple(one for one in KINDS.values() if one.key == key)


def records_of(key: str, part: str, only: str = "") -> tuple[type, ...]:
    """The records that a part of the document is made over, of every kind under a key; only: with this word in its name."""
    found = (where for kind in kinds_under(key) if only in kind.name for one, where in kind.records if one == part)
    return tuple(_record(where) for where in dict.fromkeys(found))


def modules_of(kind: SubjectKind) -> tuple[ModuleType, ...]:
    """The modules whose quantities and checks make the sheet of a kind."""
    return tuple(import_module(f"{CORE}.{name}") for name in kind.modules)


@cache
def sheet_of(name: str) -> Sheet:
    """The sheet of a kind. Raises KeyError for one that there is not."""
    kind = KINDS[name]
    fields = [_as_called(kind, part, one) for part, where in kind.records for one in givens(_record(where))]
    taken = (one for _, where in MACHINE.records for one in givens(_record(where)) if one.name in kind.takes)
    return Sheet(modules_of(kind), (*fields, *taken, *_structures(kind.structures)), kind.units, _elsewhere)


def axis_sheet(motion: str, motor_kind: str) -> Sheet:
    """The sheet of an axis; motion: linear or rotary, motor_kind: stepper or servo. Raises KeyError for others."""
    return sheet_of(f"{motion} {motor_kind}")


def _as_called(kind: SubjectKind, part: str, one: Given) -> Given:
    """A given by its name on the sheet of a kind."""
    name = kind.name_of(part, one.name)
    return one if name == one.name else replace(one, name=name, label=words(name))


def _structures(declared: Iterable[tuple[str, str, str]]) -> tuple[Given, ...]:
    return tuple(Given(name, "", "", doc, structure=True, missing=missing, label=words(name)) for name, doc, missing in declared)


@cache
def _record(where: str) -> type:
    module, _, name = where.partition(":")
    found: type = getattr(import_module(f"{CORE}.{module}"), name)
    return found


def _elsewhere(name: str) -> bool:
    """Whether a name stands on the sheet of another kind of subject; what stands on none is misspelt."""
    return any(name in sheet.inputs or name in sheet.quantities for sheet in map(sheet_of, KINDS))


ROOMS = ("brief", "load", "train", "cycle", "motor", "drive", "scale", "moves", "slack", "ring", "proof")  # as one works


@cache
def _looked_up() -> dict[str, int]:
    """The room of every given of any kind, by its place among the rooms."""
    place = {room: place for place, room in enumerate(ROOMS)}
    found = {"train": place["train"], "cycle": place["cycle"]}
    for kind in KINDS.values():
        for part, where in kind.records:
            room = place.get(where.partition(".")[0], len(ROOMS))
            found |= {kind.name_of(part, one.name): room for one in givens(_record(where))}
    return found


def as_looked_up(names: Iterable[str]) -> tuple[str, ...]:
    """Names of givens, those of links and moves by their place too, in the order in which one looks them up."""
    return tuple(sorted(names, key=lambda name: _looked_up().get(name.partition("[")[0], len(ROOMS))))


@cache
def label_of(name: str) -> str:
    """What a quantity or given of any kind is called, as `labels` has it, or nothing; asks no more kinds than it has to."""
    for kind in KINDS.values():
        if kind.key == "axes" and sheet_of(kind.name).knows(name):
            return sheet_of(kind.name).label(name)  # an axis calls the same thing the same, whatever its kind
    return labels().get(name, "")


@cache
def labels() -> dict[str, str]:
    """What every quantity and given of any kind of axis is called, those of links and moves too."""
    links: tuple[type, ...] = tuple(import_module(f"{CORE}.train.links").LINKS.values())
    found = {one.name: one.label for record in (*links, _record("load.cycle:Move")) for one in givens(record)}
    for kind in KINDS.values():
        sheet = sheet_of(kind.name)
        said = {name: sheet.label(name) for name in (*sheet.inputs, *sheet.quantities)}
        found = found | said if kind.key == "axes" else said | found
    return found
