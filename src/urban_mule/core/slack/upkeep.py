"""Maintenance by date or by distance run: how far the axis runs in an hour of its cycle, and when a task is due again."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.load.cycle import Pieces
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import quantity

HOUR, DAYS_A_WEEK = 3600.0, 7.0


class Running:
    """How much the axis is used."""

    hours_a_week: Reals = given("", "h_w", "hours a week in which its cycle runs", above=0, most=168, label="Hours a week",
        plural=True)


class Upkeep:
    """How often a task of maintenance comes: after so many days, or after so much way, whichever is first."""

    every_days: Reals = given("", "", "days after which it is due again", above=0, most=36500, label="Interval in days")
    every_distance: Reals = given("[travel]", "", "way after which it is due again", above=0, label="Interval in distance")


@quantity("[travel]/s", symbol="v̄", source="kinematics: ways of the cycle, repeats included, over its duration",
          formula="∑ |x| ÷ t_c", label="Distance run per hour", shown="m/h")
def running_rate(cycle_pieces: Pieces, cycle_duration: Reals) -> Reals:
    """How far the axis runs in a time, dwells counted; cycle_duration [s]."""
    return np.sum(np.abs(cycle_pieces.distance) * cycle_pieces.times, axis=-1) / cycle_duration


def due_day(done: float, every_days: float | None, every_distance: float | None, running_rate: float | None,
            hours_a_week: float | None) -> float | None:
    """The day on which a task is due that was done on a day; None where neither rhythm is known.

    every_distance [travel], running_rate [travel/s]; days count from a fixed one.
    """
    found = [] if every_days is None else [every_days]
    if every_distance is not None and running_rate and hours_a_week:
        found.append(every_distance / (running_rate * HOUR * hours_a_week / DAYS_A_WEEK))
    return done + min(found) if found and math.isfinite(min(found)) else None
