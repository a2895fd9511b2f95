"""What each link of the train carries, how fast it turns, and its share of the inertia."""

from __future__ import annotations

import numpy as np

from urban_mule.core.load.cycle import Pieces, lift
from urban_mule.core.load.torque import FOLD, lifted
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.train.fold import efforts_through_train, gains_in_front
from urban_mule.core.train.link import Link


@record(frozen=True, eq=False, repr=False)
class LinkLoad:
    """One link at the hardest moment of the cycle, and what a stalled motor could put on it.

    speed: of its input [rad/s]; torque_in [N·m] and effort_out [N or N·m] at worst; stall_effort: what the stalled motor
    could put on its output, no losses counted; inertia: referred to the motor [kg·m²].
    """

    kind: str
    speed: float
    torque_in: float
    effort_out: float
    stall_effort: float | None
    inertia: float


@quantity("", symbol="", source=FOLD, structure=True, formula="greatest of the fold of the train at both ends of each moving piece")
def worst_efforts(train: tuple[Link, ...], cycle_pieces: Pieces, cycle_loads: Reals, travel_per_radian: Reals) -> list[Reals]:
    """Greatest torque at the input of each link while it moves, and at the end the greatest effort at the load [N·m, N].

    cycle_loads [N or N·m] with the pieces last; a scan over many builds broadcasts in front.
    """
    pieces, over_pieces = cycle_pieces, lifted(train)

    def at(acceleration: Reals, effort: Reals) -> list[Reals]:
        passed = efforts_through_train(over_pieces, effort, pieces.direction, acceleration / lift(travel_per_radian))
        return [np.max(np.abs(one) * (pieces.direction != 0), axis=-1) for one in passed]

    both = zip(at(pieces.acceleration_start, cycle_loads[0]), at(pieces.acceleration_end, cycle_loads[1]), strict=True)
    return [np.maximum(start, end) for start, end in both]


@quantity("", symbol="", source=FOLD, structure=True, formula="the greatest efforts, by link")
def link_loads(
    train: tuple[Link, ...], worst_efforts: list[Reals], peak_speed: Reals, stall_torque: Reals = None,
) -> tuple[LinkLoad, ...]:
    """Speed, torque and inertia of each link of a single build; stall_torque [N·m] where a motor is known."""
    worst = [float(effort) for effort in worst_efforts]
    found = []
    for place, (link, front) in enumerate(zip(train, gains_in_front(train), strict=True)):
        could = None if stall_torque is None else float(stall_torque / (front * link.gain))
        found.append(LinkLoad(link.kind, float(peak_speed * front), worst[place], worst[place + 1], could,
                              float(link.inertia_at_input * front**2)))
    return tuple(found)
