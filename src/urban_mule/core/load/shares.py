"""Where the torque goes: the hardest moment of the cycle taken apart by leaving causes out one at a time."""

from __future__ import annotations

import numpy as np

from urban_mule.core.load.torque import motor_torque
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.train.fold import torque_into_train


def torque_shares(solution: Solution, move: int | None = None) -> dict[str, float]:
    """Torque [N·m] for rotor, train, load, friction, gravity and work at the piece of greatest |T|; they sum to it.

    move: only this move of the cycle, by its place.

    Each cause is what the torque grows by when it joins those before it, in this order: friction, gravity, work, load,
    train, rotor; so that the losses of the train stand with what causes them. Raises NotKnown, also in a cycle whose
    hardest moment is a dwell.
    """
    cycle = solution["cycle_torque"]
    pieces = cycle.pieces
    asked = cycle.moving if move is None else cycle.moving & (pieces.move == move)
    largest = np.maximum(np.abs(cycle.start), np.abs(cycle.end)) * asked
    piece = int(np.argmax(largest))
    if not largest[piece]:
        raise NotKnown("no moving piece needs torque")
    last = abs(cycle.end[piece]) > abs(cycle.start[piece])
    acceleration = float((pieces.acceleration_end if last else pieces.acceleration_start)[piece])
    direction, count = float(pieces.direction[piece]), solution["motor_count"]
    train, r = solution["train"], solution["travel_per_radian"]
    own = float(pieces.process_load[piece])
    work = solution["process_load"] if np.isnan(own) else own
    causes = {
        "friction": direction * solution["friction_load"], "gravity": solution["gravity_load"],
        "work": direction * work, "load": solution["moved_inertia"] * acceleration,
    }
    shares, effort, before = {}, 0.0, 0.0
    for name, force in causes.items():
        effort += force / count
        after = float(torque_into_train(train, effort, direction, 0.0))
        shares[name], before = after - before, after
    turning = acceleration / r
    with_train = float(torque_into_train(train, effort, direction, turning))
    whole = float(motor_torque(train, acceleration, direction, effort, r, solution["shaft_inertia"]))
    sign = np.sign(whole)
    parts = {"rotor": whole - with_train, "train": with_train - before, **shares}
    return {name: float(sign * parts[name]) for name in ("rotor", "train", "load", "friction", "gravity", "work")}
