"""Parts of an axis as the document holds them: links, moves, motors, drivers, controllers, a follower."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal, Union

from pydantic import Field, model_validator

from urban_mule.core.drive.any import AnyDriver
from urban_mule.core.drive.current import DriverCurrent, DriverHeat
from urban_mule.core.drive.stepper import Driver
from urban_mule.core.load.cycle import Move
from urban_mule.core.motor.servo import ServoDriver, ServoMotor
from urban_mule.core.motor.shaft import AnyMotor, FittedBrake
from urban_mule.core.motor.stepper import StepperMotor
from urban_mule.core.parts.figures import MotorLeads, PartFigures
from urban_mule.core.scale.steps import Controller
from urban_mule.core.sheet.given import Given
from urban_mule.core.train.links import STAGES, Stage
from urban_mule.store.document.base import Strict, Text, part

STAGE_MODELS = {
    kind: part(record.__name__, f"a {kind}", record, kind=(Literal[kind], ...))
    for kind, record in STAGES.items()
}
MOTOR_MODELS = {
    kind: part(records[0].__name__, f"a {kind}", *records, AnyMotor, FittedBrake, PartFigures,
               kind=(Literal[kind], ...), name=(Text, ""))
    for kind, records in (("stepper", (StepperMotor, MotorLeads)), ("servo", (ServoMotor,)))
}


def one_of(models: dict[str, Any]) -> Any:
    """Any of these models, told apart by their kind."""
    return Annotated[Union[tuple(models.values())], Field(discriminator="kind")]  # noqa: UP007


if TYPE_CHECKING:
    class AnyStage(Strict, Stage): ...

    class AnyMotorModel(Strict, AnyMotor, FittedBrake, PartFigures, StepperMotor, MotorLeads, ServoMotor):
        kind: Literal["stepper", "servo"]
        name: str

    class MoveModel(Strict, Move): ...
else:
    AnyStage, AnyMotorModel = one_of(STAGE_MODELS), one_of(MOTOR_MODELS)
    MoveModel = part("Move", "a move", Move, required=("distance", "speed", "acceleration"))


class SwitchRow(Strict):
    what: ClassVar[str] = "a row of the switch bank"
    givens: ClassVar[dict[str, Given]] = {"current_peak": Given("current_peak", "A", "", "peak current set", above=0)}
    switches: Text
    current_peak: Any

    @model_validator(mode="after")
    def binary(self) -> SwitchRow:
        if not self.switches or set(self.switches) - {"0", "1"}:
            raise ValueError(f"switches is {self.switches!r}; allowed are 0 and 1, one for each switch")
        return self


class DriverBody(Strict):
    """What a driver says of itself beside its figures."""

    name: Text = ""
    switch_bank: tuple[SwitchRow, ...] | None = None


class ControllerBody(Strict):
    """What a controller says of itself beside its figures."""

    name: Text = ""
    unit: Literal["m", "mm", "in", "rad", "deg", "turn"] | None = None


if TYPE_CHECKING:
    class DriverModel(DriverBody, AnyDriver, Driver, DriverCurrent, DriverHeat, ServoDriver): ...

    class ControllerModel(ControllerBody, Controller): ...
else:
    DriverModel = part("Driver", "a driver", AnyDriver, Driver, DriverCurrent, DriverHeat, ServoDriver, base=DriverBody)
    ControllerModel = part("Controller", "a controller", Controller, base=ControllerBody)


class Follower(Strict):
    """What is known to differ on the second motor of a beam; what is left out is as the leader's."""

    what: ClassVar[str] = "a follower"
    train: tuple[AnyStage, ...] | None = None
    motor: AnyMotorModel | None = None
    driver: DriverModel | None = None
