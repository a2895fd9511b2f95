"""Which modules make the sheet of an axis: by its motion and its motor."""

from __future__ import annotations

from functools import cache
from types import ModuleType

from urban_mule.core.drive import stepper as drive
from urban_mule.core.drive import supply
from urban_mule.core.load import checks as checks_train
from urban_mule.core.load import cycle as profile
from urban_mule.core.load import fall, link_loads
from urban_mule.core.load import linear as load_linear
from urban_mule.core.load import rotary as load_rotary
from urban_mule.core.load import torque as load
from urban_mule.core.motor import checks, heat, margin, servo, servo_heat, servo_winding, stepper, stepper_heat
from urban_mule.core.motor import servo_checks as checks_servo
from urban_mule.core.motor import shaft as anydrive
from urban_mule.core.motor import stepper_checks as checks_stepper
from urban_mule.core.proof import positioning
from urban_mule.core.ring import modes, shaper, spectrum
from urban_mule.core.scale import steps as scale
from urban_mule.core.sheet.given import Given, givens
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.slack import reversal as slack
from urban_mule.core.train import fold as train
from urban_mule.core.train import stiffness

COMMON: tuple[ModuleType, ...] = (
    anydrive, train, profile, load, heat, link_loads, stiffness, fall, margin, scale, slack, positioning, spectrum, modes, shaper,
    checks, checks_train)
MOTIONS: dict[str, tuple[ModuleType, type]] = {
    "linear": (load_linear, load_linear.LinearLoad), "rotary": (load_rotary, load_rotary.RotaryLoad)}
MOTORS: dict[str, tuple[tuple[ModuleType, ...], tuple[type, ...]]] = {
    "stepper": ((stepper, stepper_heat, supply, drive, checks_stepper), (stepper.StepperMotor, drive.Driver)),
    "servo": ((servo, servo_winding, servo_heat, checks_servo), (servo.ServoMotor, servo.ServoDriver)),
}
UNITS = {
    "linear": {"[travel]": "m", "[effort]": "N", "[inertia]": "kg"},
    "rotary": {"[travel]": "rad", "[effort]": "N·m", "[inertia]": "kg·m²"},
}
RECORDS = (
    load.AnyLoad, anydrive.AnyMotor, anydrive.FittedBrake, anydrive.AnyDriver, scale.Controller, shaper.PathTolerance,
    heat.Surroundings, checks.Goals)


STRUCTURES = tuple(
    Given(name, "", "", doc, structure=True, missing=missing)
    for name, doc, missing in (
        ("train", "links from the motor to the load", "no train"),
        ("cycle", "moves in order", "no cycle"),
        ("switch_bank", "rows of the driver's switch bank", "no switch bank"),
        ("unit", "unit of the controller", "no unit"),
        ("follower_differences", "what differs between leader and follower", "no difference is entered"),
        ("reversal_reading", "last reversal reading", "no reversal readings"),
        ("positioning_reading", "last positioning reading", "no positioning readings"),
        ("travel_reading", "last travel reading", "no travel readings"),
        ("acceleration_reading", "last acceleration reading", "no acceleration readings"),
    )
)


@cache
def axis_sheet(motion: str, motor_kind: str) -> Sheet:
    """The sheet of an axis; motion: linear or rotary, motor_kind: stepper or servo. Raises KeyError for others."""
    (load_module, load_record), (motor_modules, motor_records) = MOTIONS[motion], MOTORS[motor_kind]
    fields = [one for record in (*RECORDS, load_record, *motor_records) for one in givens(record)]
    return Sheet((*COMMON, load_module, *motor_modules), (*fields, *STRUCTURES), UNITS[motion])
