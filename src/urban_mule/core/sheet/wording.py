"""How sentences of verdicts say numbers, and how near a limit a value stands."""

from __future__ import annotations

import math
import re
from functools import lru_cache

import numpy as np

from urban_mule.core.sheet.units import COVERAGE, DIMENSIONS, FACTORS, LINEAR_UNITS, unit_shown, with_doubt

A_SIZE = (  # as `size` writes it, with a unit that has another in inch; not the first half of N/µm or N·m/rad
    r"(?<![\w.,])(?P<number>-?(?:\d{1,3}(?: \d{3})+|\d+(?:\.\d+)?))(?: ± (?P<doubt>\d+(?:\.\d+)?))?"
    r"(?: (?P<many>million|billion))? (?P<unit>mm/s²|mm/s|mm|µm|m/s²|m/s|m|kg|N·m|N)(?![\w·/²³])")
MANY = {"million": 1e6, "billion": 1e9}
SMALLEST, PLAIN = 1e-6, 1e-4  # of which a sentence speaks; from which on a number is written without an exponent


def size(value: float, digits: int = 3) -> str:
    """A ratio or count as people say it, at three digits, never with an exponent; what is too small for that is 0.

    From a thousand on whole, from a million on in millions."""
    if 999.5e3 <= abs(value) < 999.5e9:
        name = "million" if abs(value) < 999.5e6 else "billion"
        return f"{size(value / MANY[name], digits)} {name}"
    if abs(value) >= 999.5:
        return f"{value:,.0f}".replace(",", " ")
    if not math.isfinite(value):
        return f"{value}"
    if PLAIN <= abs(value) < 10.0**digits:  # where the usual way to write it has no exponent, at a tenth of the time
        text = f"{value:.{digits}g}"
        if "e" not in text:
            return text
    return typed(value, digits) if abs(value) >= SMALLEST else "0"


def counted(count: int, one: str, many: str = "") -> str:
    """So many of something, as people say it: `1 entry`, `3 entries`. many: where it is not `one` with an s."""
    return f"1 {one}" if count == 1 else f"{size(count)} {many or one + 's'}"


def typed(value: float, digits: int = 4) -> str:
    """A number as it is typed into a field: at so many digits, no exponent and nothing between thousands."""
    return str(np.format_float_positional(float(f"{value:.{digits}g}"), trim="-"))


def at_least(value: float, digits: int = 3) -> str:
    """A number to buy or to set, rounded to the larger side, so that what is bought as it is written is enough."""
    return size(rounded_up(value, digits), digits)


def rounded_up(value: float, digits: int = 3) -> float:
    """A number at so many digits and not below itself; from 1000 on a whole number, as `size` writes it."""
    if not math.isfinite(value) or value <= 0:
        return value
    step = 1.0 if value >= 999.5 else 10.0 ** (math.floor(math.log10(value)) - digits + 1)
    return float(math.ceil(value / step * (1 - 1e-12)) * step)


def rounded_down(value: float, digits: int = 3) -> float:
    """A limit at so many digits and not above itself."""
    if not math.isfinite(value) or value <= 0:
        return value
    step = 1.0 if value >= 1000 else 10.0 ** (math.floor(math.log10(value)) - digits + 1)
    return float(math.floor(value / step * (1 + 1e-12)) * step)


def microns(value: float, unit: str) -> str:
    """A small travel: µm on a linear axis, degrees on a rotary one. unit: the controller's." value: SI."""
    return f"{size(value * 1e6)} µm" if unit in LINEAR_UNITS else f"{size(np.degrees(value))}°"


def microns_sure(value: float, standard_uncertainty: float | None, unit: str) -> str:
    """A small travel and how sure it is (k = 2), as `23.18 ± 0.88 µm`; without what is not known. Values: SI."""
    if not standard_uncertainty:
        return microns(value, unit)
    if unit in LINEAR_UNITS:
        return f"{with_doubt(value * 1e6, standard_uncertainty * 1e6)} µm"
    return f"{with_doubt(float(np.degrees(value)), float(np.degrees(standard_uncertainty)))}°"


def distance(value: float, unit: str) -> str:
    """A travel that people see: mm on a linear axis, degrees on a rotary one. unit: the controller's."""
    return f"{size(value * 1e3)} mm" if unit in LINEAR_UNITS else f"{size(np.degrees(value))}°"


def pace(value: float, unit: str) -> str:
    """A speed of travel: m/s on a linear axis, degrees a second on a rotary one. unit: the controller's. value: SI."""
    return f"{size(value)} m/s" if unit in LINEAR_UNITS else f"{size(np.degrees(value))} °/s"


def effort(value: float, unit: str) -> str:
    """A force on a linear axis, a torque on a rotary one. unit: the controller's. value: SI."""
    return f"{size(value)} {'N' if unit in LINEAR_UNITS else 'N·m'}"


def share_of(value: float, tight: float, good: float) -> float:
    """Headroom from 0 at `tight` to 1 at three times the way to `good`; works for limits above and below."""
    return float(np.clip((value - tight) / (3 * (good - tight)), 0.0, 1.0))


@lru_cache(4096)
def in_inch(said: str) -> str:
    """A sentence with its lengths, speeds, accelerations, masses, forces and torques as an inch project shows them.

    said: one whose every number has its unit behind it, as the functions above write them.
    """
    def turned(found: re.Match[str]) -> str:
        unit = found["unit"]
        si = next(si for si, units in DIMENSIONS.items() if unit in units)
        inch = unit_shown(si, "inch")
        factor = FACTORS[unit] / FACTORS[inch]
        value = float(found["number"].replace(" ", "")) * MANY.get(found["many"], 1.0) * factor
        return f"{with_doubt(value, float(found['doubt']) * factor / COVERAGE) if found['doubt'] else size(value)} {inch}"

    return re.sub(A_SIZE, turned, said)
