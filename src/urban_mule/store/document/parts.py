"""Parts of an axis as the document holds them beside its links and motors: moves, a follower."""

from __future__ import annotations

from typing import ClassVar

from urban_mule.core.load.cycle import Move
from urban_mule.store.document.base import Strict
from urban_mule.store.document.drivers import DriverModel
from urban_mule.store.document.made import AnyLink, AnyMotorModel


class MoveModel(Strict, Move):
    what: ClassVar[str] = "a move"
    needed: ClassVar[tuple[str, ...]] = ("distance", "speed", "acceleration")


class Follower(Strict):
    """What is known to differ on the second motor of a beam; what is left out is as the leader's."""

    what: ClassVar[str] = "a follower"
    train: tuple[AnyLink, ...] | None = None
    motor: AnyMotorModel | None = None
    driver: DriverModel | None = None
