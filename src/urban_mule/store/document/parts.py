"""Parts of an axis as the document holds them: links, moves, motors, a follower."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal, Union

from pydantic import Field

from urban_mule.core.load.cycle import Move
from urban_mule.core.motor.servo import ServoMotor
from urban_mule.core.motor.shaft import AnyMotor, FittedBrake
from urban_mule.core.motor.stepper import StepperMotor
from urban_mule.core.parts.figures import MotorLeads, PartFigures
from urban_mule.core.train.links import STAGES, Stage
from urban_mule.store.document.base import Strict, Text, part
from urban_mule.store.document.drivers import DriverModel
from urban_mule.store.document.identity import Identified

STAGE_MODELS = {
    kind: part(record.__name__, f"a {kind}", record, base=Identified, kind=(Literal[kind], ...))
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
    class AnyStage(Identified, Stage): ...

    class AnyMotorModel(Strict, AnyMotor, FittedBrake, PartFigures, StepperMotor, MotorLeads, ServoMotor):
        kind: Literal["stepper", "servo"]
        name: str
else:
    AnyStage, AnyMotorModel = one_of(STAGE_MODELS), one_of(MOTOR_MODELS)


class MoveModel(Strict, Move):
    what: ClassVar[str] = "a move"
    needed: ClassVar[tuple[str, ...]] = ("distance", "speed", "acceleration")


class Follower(Strict):
    """What is known to differ on the second motor of a beam; what is left out is as the leader's."""

    what: ClassVar[str] = "a follower"
    train: tuple[AnyStage, ...] | None = None
    motor: AnyMotorModel | None = None
    driver: DriverModel | None = None
