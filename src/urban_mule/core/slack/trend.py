"""How the backlash grows over the months, when it will be too much, and whether it can be compensated."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.straight_line import StraightLine, straight_line
from urban_mule.core.readings.two_way import TwoWayReading
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

TREND = "straight line by least squares through mean |B_i| over the day of the reading"
SURE = 2.0  # standard uncertainties beyond which a slope is a trend
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


@quantity("", symbol="", source=TREND, structure=True, formula="least squares over three dated sets or more")
def wear_line(reversal_history: tuple[DatedReversal, ...]) -> WearLine:
    """The trend of the backlash. Raises NotKnown below three sets that say when they were taken."""
    days = np.array([one.day for one in reversal_history])
    if days.size < 3:
        raise NotKnown(f"a trend needs three dated sets of reversal readings or more, here {'is' if days.size == 1 else 'are'}"
                       f" {days.size}")
    if np.ptp(days) == 0:
        raise NotKnown("all dated sets of reversal readings are of one day, which shows no trend")
    sizes = np.array([float(np.mean(np.abs(one.reading.reversal))) for one in reversal_history])
    return WearLine(days, straight_line(days, sizes))


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
