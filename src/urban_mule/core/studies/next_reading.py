"""What to measure next: of every reading that can be taken here how much of the doubt about a goal it would take away, a minute."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.motor.margin import REALLY_GIVES_DOUBT
from urban_mule.core.sheet.pair import Pair
from urban_mule.core.sheet.record import record
from urban_mule.core.studies.compared import Moved
from urban_mule.core.studies.doubts import Odds

MARGIN, LADDER = "working_margin", "torque"
WORTH = 0.1  # share of the variance below which nothing cheap helps


@record(frozen=True, eq=False, repr=False)
class NextReading:
    """A kind of reading, the share of the goal's variance that it would take away [1], and how long it takes [min]."""

    reading: str
    share: float
    minutes: float


def goal_of(odds: tuple[Odds, ...]) -> str | None:
    """The goal that is least sure; None where there is none."""
    return max(odds, key=lambda one: one.share * (1 - one.share)).quantity if odds else None


def next_readings(moved: Moved, goal: str, covariance: np.ndarray | None = None) -> tuple[NextReading, ...]:
    """What is worth measuring for a goal, best first. covariance: of the inputs, else as they are known now."""
    known = moved.prior if covariance is None else covariance
    pairs = [one for one in moved.solution.sheet.pairs if one.minutes]
    rows = moved.slopes((goal, *(one.before for one in pairs)))
    value, slopes = rows[goal]
    unsaid = moved.solution.sheet.has("torque_factor") and "torque_factor" not in moved.said
    of_goal = REALLY_GIVES_DOUBT if unsaid and goal == MARGIN else 0.0
    whole = float(slopes @ known @ slopes) + (of_goal * value) ** 2
    found = [_worth(one, *rows[one.before], slopes, value, whole, known, of_goal, unsaid) for one in pairs]
    worth = [one for one in found if one.share > 0]
    return tuple(sorted(worth, key=lambda one: -one.share / one.minutes))


def _worth(
    one: Pair, value: float, slopes: np.ndarray, goal: np.ndarray, goal_value: float, whole: float, known: np.ndarray,
    of_goal: float, unsaid: bool,
) -> NextReading:
    gives = REALLY_GIVES_DOUBT if unsaid and one.name == LADDER else 0.0
    variance = float(slopes @ known @ slopes) + (gives * value) ** 2
    together = float(goal @ known @ slopes) + gives * of_goal * goal_value * value
    rest = (one.gauge**2 + one.model**2) * value**2
    share = together**2 / ((variance + rest) * whole) if variance + rest > 0 and whole > 0 else 0.0
    return NextReading(one.readings[0], share if math.isfinite(share) else 0.0, one.minutes)
