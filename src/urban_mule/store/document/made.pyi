"""Written by `make docs`, never by hand: what mypy reads of made.py."""

from typing import Any, Literal

from urban_mule.core.brief.goals import Budget, Goals
from urban_mule.core.drive.any import AnyDriver
from urban_mule.core.drive.chopping import Chopping
from urban_mule.core.drive.current import DriverCurrent
from urban_mule.core.drive.driver_heat import DriverHeat
from urban_mule.core.drive.interface import DriverInterface
from urban_mule.core.drive.mains import Mains, Supply
from urban_mule.core.drive.microsteps import Interpolation
from urban_mule.core.drive.pulses import PulseTiming
from urban_mule.core.drive.standstill import Lean
from urban_mule.core.drive.stepper import Driver
from urban_mule.core.load.linear import LinearLoad
from urban_mule.core.load.rotary import RotaryLoad
from urban_mule.core.load.torque import AnyLoad
from urban_mule.core.motor.heat import Surroundings
from urban_mule.core.motor.servo import ServoDriver, ServoMotor
from urban_mule.core.motor.shaft import AnyMotor, FittedBrake
from urban_mule.core.motor.stepper import StepperMotor
from urban_mule.core.moves.directions import Directions
from urban_mule.core.moves.ends import Ends
from urban_mule.core.moves.homing import Homing
from urban_mule.core.moves.stall import StallSearch
from urban_mule.core.parts.figures import MotorLeads, PartFigures
from urban_mule.core.ring.gains import LoopGains
from urban_mule.core.ring.loop_plant import ServoLoops
from urban_mule.core.ring.shaper import PathTolerance
from urban_mule.core.ring.swing import SettleTolerance
from urban_mule.core.ring.tuned import ShaperChoice
from urban_mule.core.scale.lengths import Expansion
from urban_mule.core.scale.steps import Controller
from urban_mule.core.slack.trend import BacklashLimit
from urban_mule.core.slack.upkeep import Running
from urban_mule.core.spindle.given import Cut, Speeds, Spindle, SpindleMotor
from urban_mule.core.spindle.loop import SpindleLoop
from urban_mule.core.train.link import Link
from urban_mule.core.train.stiffness import MeasuredTrain
from urban_mule.store.document.base import Strict
from urban_mule.store.document.identity import Identified

LINK_MODELS: dict[str, Any]
MOTOR_MODELS: dict[str, Any]
PLAIN_SUBJECTS: dict[str, Any]

class Terminals(Strict): ...

class AxisRecords(
    AnyLoad,
    PathTolerance,
    ShaperChoice,
    SettleTolerance,
    Goals,
    Expansion,
    BacklashLimit,
    Running,
    Homing,
    StallSearch,
    Ends,
    Directions,
    MeasuredTrain,
    LinearLoad,
    Lean,
    RotaryLoad,
): ...

class DriverRecords(
    AnyDriver,
    PulseTiming,
    DriverInterface,
    Driver,
    DriverCurrent,
    DriverHeat,
    Interpolation,
    Chopping,
    ServoDriver,
    ServoLoops,
    LoopGains,
): ...

class ControllerRecords(
    Controller,
): ...

class SpindleRecords(
    Spindle,
    SpindleLoop,
): ...

class SpindleMotorRecords(
    SpindleMotor,
): ...

class SpeedsRecords(
    Speeds,
): ...

class CutRecords(
    Cut,
): ...

class ProjectRecords(
    Surroundings,
    Mains,
    Supply,
    Budget,
): ...

class AnyLink(
    Identified,
    Link,
): ...

class AnyMotorModel(
    Strict,
    AnyMotor,
    FittedBrake,
    StepperMotor,
    MotorLeads,
    PartFigures,
    ServoMotor,
):
    kind: Literal['stepper', 'servo']
    name: str
    printed_curves: Any
