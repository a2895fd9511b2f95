"""How the backlash grows over the months, when it will be too much, and whether it can be compensated."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from urban_mule.core.readings.straight_line import StraightLine, straight_line
from urban_mule.core.readings.two_way import TwoWayReading
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

TREND = "straight line by least squares through mean |B_i| over the day of the reading"
SURE = 2.0  # standard uncertainties beyond which a slope is a trend
MENDED = 2 / 3  # of the backlash of the set before it, below which somebody has mended it: it does not shrink by itself
FEWEST = 3  # sets that show a trend
STABLE = 1 / 3  # of the backlash: more of a difference along the travel cannot be compensated


class BacklashLimit:
    """From where on the backlash is to be mended."""

    backlash_limit: Reals = given("[travel]", "B_lim", "backlash at which it is mended; half of the accuracy wanted when empty",
        above=0, label="Backlash limit", shown=("µm", ""))


@record(frozen=True, eq=False, repr=False)
class DatedReversal:
    """A set of reversal readings and the day on which it was taken, counted from a fixed one."""

    day: float
    reading: TwoWayReading


@record(frozen=True, eq=False, repr=False)
class WearLine:
    """Days, and the line through the backlash on them."""

    days: np.ndarray
    line: StraightLine


@quantity("", symbol="", source="backlash does not shrink by itself: where it fell below two thirds it was mended", structure=True,
          formula="days and mean |B_i| of the sets from the last that fell on")
def backlash_since_mended(reversal_history: tuple[DatedReversal, ...]) -> tuple[np.ndarray, np.ndarray]:
    """Days and backlash [travel] of the sets since the backlash was last mended, or of all where it never was."""
    in_time = sorted(reversal_history, key=lambda one: one.day)
    days, profiles = np.array([one.day for one in in_time]), [one.reading.reversal for one in in_time]
    sizes = np.array([float(np.mean(np.abs(one))) for one in profiles])
    spread = np.array([float(np.std(one)) / math.sqrt(one.size) for one in profiles])
    fell = (sizes[1:] < MENDED * sizes[:-1]) & (sizes[:-1] - sizes[1:] > SURE * np.hypot(spread[1:], spread[:-1]))
    first = int(max(np.flatnonzero(fell) + 1, default=0))
    return days[first:], sizes[first:]


@quantity("", symbol="", source=TREND, structure=True, formula="least squares over three dated sets or more")
def wear_line(
    backlash_since_mended: tuple[np.ndarray, np.ndarray], reversal_history: tuple[DatedReversal, ...]
) -> WearLine:
    """The trend of the backlash since it was last mended. Raises NotKnown below three sets that say when they were taken."""
    days, sizes = backlash_since_mended
    if days.size < FEWEST:
        sets, show = ("1 dated set", "shows") if days.size == 1 else (f"{days.size} dated sets", "show")
        since = " since it was mended" if days.size < len(reversal_history) else ""
        raise NotKnown(f"{sets}{since} {show} no trend; three do")
    if np.ptp(days) == 0:
        raise NotKnown("all dated sets of reversal readings are of one day, which shows no trend")
    return WearLine(days, straight_line(days, sizes))


def shows_a_trend(solution: Any) -> bool:
    """Whether there are sets enough since the backlash was last mended."""
    found = solution.get("backlash_since_mended")
    return found is not None and found[0].size >= FEWEST


@quantity("[travel]/d", symbol="w", source=TREND, formula="slope over the days", label="Wear rate", shown=("µm/d", ""))
def wear_rate(wear_line: WearLine) -> float:
    """How much the backlash grows a day."""
    return wear_line.line.slope


@quantity("[travel]/d", symbol="u_w", source="residuals of the line over m − 2", formula="s ÷ √∑(x − x̄)²",
          label="Standard uncertainty of the wear rate",
          shown=("µm/d", ""))
def wear_rate_uncertainty(wear_line: WearLine) -> float:
    """Standard uncertainty of the growth a day."""
    return wear_line.line.slope_uncertainty()


def grows(line: WearLine) -> bool:
    """Whether the slope is a trend, or no more than its scatter."""
    return wear_rate(line) > SURE * wear_rate_uncertainty(line)


def limit_of(backlash_limit: Reals, accuracy_wanted: Reals) -> float:
    """The backlash at which it is mended: as given, else half of the accuracy wanted [travel]. Raises NotKnown without either."""
    if backlash_limit is None and accuracy_wanted is None:
        raise NotKnown("neither a limit of the backlash nor the accuracy wanted is given", "backlash_limit", "accuracy_wanted")
    return float(accuracy_wanted / 2 if backlash_limit is None else backlash_limit)


@quantity("d", symbol="t_w", source=TREND, formula="(B_lim − B at the last day) ÷ w, not below 0",
          label="Time until the limit")
def wear_days_left(wear_line: WearLine, backlash_limit: Reals = None, accuracy_wanted: Reals = None) -> float:
    """Days from the last reading until the limit; limits [travel]. Raises NotKnown without a limit or a sure trend."""
    limit = limit_of(backlash_limit, accuracy_wanted)
    if not grows(wear_line):
        raise NotKnown("there is no trend beyond the scatter")
    return max(0.0, (limit - float(wear_line.line.at(wear_line.days.max()))) / wear_rate(wear_line))


@quantity("[travel]", symbol="B_c", source="the least reversal: more would overshoot there", formula="min |B_i|",
          label="Backlash compensation", shown=("µm", ""))
def backlash_compensation(reversal_profile: np.ndarray, backlash: float, backlash_uncertainty: Reals = None) -> float:
    """What the controller may be told to make up for; reversal_profile [travel]. Raises NotKnown when it differs too much, or
    cannot be told from none."""
    if backlash_uncertainty is not None and abs(float(np.mean(reversal_profile))) <= 2 * backlash_uncertainty:
        raise NotKnown("these readings cannot tell it from none")
    if np.ptp(reversal_profile) > STABLE * backlash:
        raise NotKnown("it differs along the travel: repair it")
    return float(np.min(np.abs(reversal_profile)))
