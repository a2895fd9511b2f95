"""Plans: for each kind of reading what is moved and read, in which order, and what of it makes the reading."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

import numpy as np

from urban_mule.bench.devices import Accelerometer, Indicator, Mover
from urban_mule.bench.sessions.sweep import sweep_session
from urban_mule.bench.sessions.travel import travel_session
from urban_mule.bench.sessions.two_way import spread_targets, two_way_session
from urban_mule.core.sheet.progress import Progress

REPEATS, REVERSAL_TARGETS, POSITIONING_TARGETS = 5, 5, 11
GAUGE_UNCERTAINTY = 5e-6  # m, of the indicator over a whole travel
SHARE_OF_TRAVEL, OVERRUN = 0.8, 0.01  # of the travel: what is measured, how far an end is passed


class Machine(Mover, Indicator, Accelerometer, Protocol):
    """What a plan is carried out on."""


Plan = Callable[[Machine, float, int, Progress], dict[str, Any]]  # machine, travel, seed of the targets, progress: the columns


def _travel(machine: Machine, travel: float, _seed: int, progress: Progress) -> dict[str, Any]:
    measured = travel_session(machine, machine, travel, REPEATS, progress)
    return {"commanded": SHARE_OF_TRAVEL * travel, "measured": measured, "gauge_uncertainty": GAUGE_UNCERTAINTY}


def _acceleration(machine: Machine, _travel: float, _seed: int, progress: Progress) -> dict[str, Any]:
    sweep = sweep_session(machine, machine, 5.0, 120.0, 8.0, progress)
    return {"time": sweep.time, "values": np.round(sweep.values, 5), "direction": "along, across, up"}


def _two_way(count: int) -> Plan:
    def taken(machine: Machine, travel: float, seed: int, progress: Progress) -> dict[str, Any]:
        found = two_way_session(machine, machine, spread_targets(travel, count, seed), REPEATS, OVERRUN * travel, progress)
        return {"targets": found.targets, "up": found.up, "down": found.down}

    return taken


PLANS: dict[str, Plan] = {
    "travel": _travel, "acceleration": _acceleration, "reversal": _two_way(REVERSAL_TARGETS),
    "positioning": _two_way(POSITIONING_TARGETS)}
