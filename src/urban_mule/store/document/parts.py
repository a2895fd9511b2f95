"""Parts of an axis as the document holds them beside its links and motors: moves, a follower."""

from __future__ import annotations

from typing import ClassVar

from urban_mule.core.load.cycle import Move
from urban_mule.core.moves.machine_cycle import MachineStep
from urban_mule.store.document.base import Name, Strict
from urban_mule.store.document.drivers import DriverModel
from urban_mule.store.document.made import AnyLink, AnyMotorModel


class MoveModel(Strict, Move):
    what: ClassVar[str] = "a move"
    needed: ClassVar[tuple[str, ...]] = ("distance", "speed", "acceleration")


class StepBody(Strict):
    """One step of the machine's cycle: the axes that move at once."""

    axes: tuple[Name, ...]


class StepModel(StepBody, MachineStep):  # type: ignore[misc]
    what: ClassVar[str] = "a step of the machine's cycle"


class Follower(Strict):
    """What is known to differ on the second motor of a beam; what is left out is as the leader's."""

    what: ClassVar[str] = "a follower"
    train: tuple[AnyLink, ...] | None = None
    motor: AnyMotorModel | None = None
    driver: DriverModel | None = None
