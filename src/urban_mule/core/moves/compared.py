"""The motor's torque, computed and walked up to by a ladder."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.load.asked import WAYS
from urban_mule.core.motor.margin import REALLY_GIVES, REALLY_GIVES_DOUBT
from urban_mule.core.moves.ladder import as_computed
from urban_mule.core.readings.ladder import LadderReading
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.pair import Measured, pair
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.solution import Solution

LEFT_OUT = 0.1  # share
TAKEN = 6e-4  # share within which what is calculated with is the middle of the bounds, as it is taken over
EVENLY = math.sqrt(12.0)  # of the distance of two bounds, to the standard uncertainty of what is evenly likely between them


@quantity("", symbol="", source="torque available over torque asked, while no ladder says at which speed", structure=True)
def reserve_at_top_speed(available_torque_at_peak_speed: Reals, peak_torque: Reals) -> Reals:
    """What the motor has at its top speed of what is asked of it there [1]; torques [N·m]."""
    return available_torque_at_peak_speed / peak_torque


@pair("torque of the motor", stage="Moves", model=LEFT_OUT, readings=("ladder",), minutes=25.0, gauge=0.05,
      before="reserve_at_top_speed", shown_as="torque_share_held")
def torque(
    ladder_reading: LadderReading, ladder_good: dict[str, float], ladder_lost: dict[str, float], torque_factor: Reals,
    said: frozenset[str], torque_bounds: tuple[float, float] | None = None,
) -> Measured:
    """The share of the computed torque at which steps were lost: between the bounds, which move with what is computed.

    torque_bounds: where one speed has both, resonances apart; else the best step that held and the lowest that lost, at any speed.
    """
    least, most = torque_bounds or sorted((ladder_good["share"], ladder_lost["share"]))
    known = "torque_factor" in said
    ways = WAYS[ladder_reading.direction or "both"]

    def now(solution: Solution) -> Reals:
        r, curve = solution["travel_per_radian"], as_computed(solution["torque_curve"])
        shares = sum(np.asarray(solution["asked_torque"](one["acceleration"], ways)) / np.asarray(
            curve(np.asarray([one["speed"] / r]))).reshape(np.shape(r) or ()) for one in (ladder_good, ladder_lost))
        expected: Reals = solution["torque_factor"] / shares
        return expected

    return Measured((least + most) / 2, (most - least) / EVENLY, now, float(torque_factor) if known else REALLY_GIVES[1],
                    LEFT_OUT if known else math.hypot(LEFT_OUT, REALLY_GIVES_DOUBT),
                    used=known and abs(float(torque_factor) - (least + most) / 2) < TAKEN)
