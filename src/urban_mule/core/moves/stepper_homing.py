"""Homing of a stepper: a switch that wanders across a full-step boundary jumps by whole full steps."""

from __future__ import annotations

import numpy as np

from urban_mule.core.moves.homing import scatter_share
from urban_mule.core.readings.homing import HomingReading
from urban_mule.core.sheet.quantity import NotKnown, quantity


@quantity("", symbol="k_h", source="range of the places over the travel of a full step", formula="(max x − min x) ÷ (α·r)",
          label="Homing scatter in full steps")
def homing_full_steps(homing_reading: HomingReading, step_angle: float, travel_per_radian: float) -> float:
    """How many full steps lie between the places; near 1, 2 … the switch is at a full-step boundary.

    step_angle [rad], travel_per_radian [travel/rad]. Raises NotKnown below two homings.
    """
    if homing_reading.places.size < 2:
        raise NotKnown("one homing shows no scatter; home again")
    return float(np.ptp(homing_reading.places) / (step_angle * travel_per_radian))


@quantity("", symbol="u_kh", source="JCGM 100, E.4.3, as of the scatter: a range over few homings tells hardly less",
          formula="k_h ÷ √(2·(m − 1))", label="Standard uncertainty of the homing scatter in full steps")
def homing_full_steps_uncertainty(homing_full_steps: float, homing_reading: HomingReading) -> float:
    """Standard uncertainty of how many full steps lie between so few places."""
    return homing_full_steps * scatter_share(homing_reading)
