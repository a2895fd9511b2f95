"""Units at the edge: what people type to SI and back. The only place where a value is not in SI.

The common units stand in a table so that showing and typing cost nothing; `foreign_units` knows the others.
"""

from __future__ import annotations

import math
import re
from functools import lru_cache

from urban_mule.core.sheet.foreign_units import product
from urban_mule.core.sheet.given import BadValue, OwnUnit
from urban_mule.core.sheet.record import record

TURN = 2 * math.pi
POUND_FORCE = 4.4482216152605  # N, by definition of the avoirdupois pound and standard gravity
INCH = 0.0254
# What one of each is in SI. A test compares every entry with a library of units.
FACTORS: dict[str, float] = {
    "m": 1.0, "mm": 1e-3, "µm": 1e-6, "in": INCH, "m/s": 1.0, "m/h": 1 / 3600, "mm/s": 1e-3, "in/min": INCH / 60, "in/s": INCH,
    "m/s²": 1.0, "mm/s²": 1e-3, "in/s²": INCH, "m/s³": 1.0, "in/s³": INCH, "kg": 1.0, "g": 1e-3, "lb": 0.45359237,
    "kN": 1e3, "kg/m": 1.0, "g/m": 1e-3, "mrad": 1e-3, "turn": TURN,
    "N": 1.0, "lbf": POUND_FORCE, "N·m": 1.0, "N·cm": 1e-2, "ozf·in": POUND_FORCE / 16 * INCH,
    "lbf·in": POUND_FORCE * INCH, "kg·m²": 1.0, "kg·cm²": 1e-4, "g·cm²": 1e-7, "rad": 1.0, "°": TURN / 360,
    "rad/s": 1.0, "°/s": TURN / 360, "rpm": TURN / 60, "rad/s²": 1.0, "°/s²": TURN / 360, "rad/s³": 1.0,
    "°/s³": TURN / 360, "s": 1.0, "ms": 1e-3, "µs": 1e-6, "min": 60.0, "h": 3600.0, "d": 86400.0,
    "V": 1.0, "A": 1.0, "Ω": 1.0, "mΩ": 1e-3, "H": 1.0,
    "mH": 1e-3, "Hz": 1.0, "kHz": 1e3, "MHz": 1e6, "m/d": 1.0, "µm/d": 1e-6, "rad/d": 1.0, "°/d": TURN / 360,
    "F": 1.0, "mF": 1e-3, "µF": 1e-6, "1/K": 1.0, "ppm/K": 1e-6, "m/N": 1.0, "µm/N": 1e-6, "rad/N·m": 1.0, "°/N·m": TURN / 360,
    "W": 1.0, "J": 1.0, "K": 1.0, "K/W": 1.0, "%": 1e-2, "": 1.0, "°C": 1.0,
    "N·m/rad": 1.0, "N/m": 1.0, "N/µm": 1e6, "N·m/A": 1.0, "1/unit": 1.0, "m/rad": 1.0, "rad/rad": 1.0, "(m/s²)²/Hz": 1.0,
    "N·m·s/rad": 1.0, "1/s": 1.0,
    "J/m³": 1.0, "J/mm³": 1e9, "m³/s": 1.0, "mm³/s": 1e-9, "cm³/min": 1e-6 / 60,
}
# How an SI unit is shown in each system; a given or quantity may declare its own.
SHOWN = {
    "metric": {"m": "mm", "m/d": "µm/d", "rad/d": "°/d", "N/m": "N/µm", "m/N": "µm/N", "rad/N·m": "°/N·m", "H": "mH",
               "kg·m²": "kg·cm²", "rad": "°", "rad/s": "°/s", "rad/s²": "°/s²",
               "rad/s³": "°/s³"},
    "inch": {"m/d": "µm/d", "rad/d": "°/d", "N/m": "N/µm", "m/N": "µm/N", "rad/N·m": "°/N·m",
             "m": "in", "m/s": "in/min", "m/s²": "in/s²", "m/s³": "in/s³", "kg": "lb", "N": "lbf", "N·m": "ozf·in",
             "H": "mH", "kg·m²": "kg·cm²", "rad": "°", "rad/s": "°/s", "rad/s²": "°/s²", "rad/s³": "°/s³"},
}
SPELLINGS = {
    "deg": "°", "degree": "°", "degrees": "°", "u": "µ", "um": "µm", "μm": "µm", "us": "µs", "ohm": "Ω", "inch": "in",
    '"': "in", "ozf.in": "ozf·in", "oz·in": "ozf·in", "oz.in": "ozf·in", "oz-in": "ozf·in", "Nm": "N·m", "N.m": "N·m",
    "Ncm": "N·cm", "rev/min": "rpm", "1/min": "rpm", "m/s^2": "m/s²", "mm/s^2": "mm/s²", "kg·cm^2": "kg·cm²",
    "m/s2": "m/s²", "rad/s2": "rad/s²", "gcm²": "g·cm²", "g·cm^2": "g·cm²", "kgcm²": "kg·cm²", "ipm": "in/min", "deg/s": "°/s",
}
DIMENSIONS = {  # which table units fit which SI unit; what is not here is foreign
    "m": ("m", "mm", "µm", "in"), "m/s": ("m/s", "mm/s", "m/h", "in/min", "in/s"), "m/s²": ("m/s²", "mm/s²", "in/s²"),
    "m/s³": ("m/s³", "in/s³"), "kg": ("kg", "g", "lb"), "N": ("N", "kN", "lbf"), "kg/m": ("kg/m", "g/m"),
    "kg·m²": ("kg·m²", "kg·cm²", "g·cm²"),
    "N·m": ("N·m", "N·cm", "ozf·in", "lbf·in"), "rad": ("rad", "°", "mrad", "turn"), "rad/s": ("rad/s", "°/s", "rpm"),
    "rad/s²": ("rad/s²", "°/s²"), "rad/s³": ("rad/s³", "°/s³"), "s": ("s", "ms", "µs", "min", "h", "d"), "V": ("V",), "A": ("A",),
    "Ω": ("Ω", "mΩ"), "H": ("H", "mH"), "m/d": ("m/d", "µm/d"), "rad/d": ("rad/d", "°/d"),
    "Hz": ("Hz", "kHz", "MHz"), "F": ("F", "mF", "µF"),
    "W": ("W",), "J": ("J",), "K": ("K",), "K/W": ("K/W",),
    "": ("", "%"), "°C": ("°C",),
    "N/m": ("N/m", "N/µm"), "N·m/rad": ("N·m/rad",), "N·m·s/rad": ("N·m·s/rad",),
    "1/s": ("1/s",), "m/N": ("m/N", "µm/N"), "rad/N·m": ("rad/N·m", "°/N·m"),
    "1/K": ("1/K", "ppm/K"), "J/m³": ("J/m³", "J/mm³"), "m³/s": ("m³/s", "mm³/s", "cm³/min"),
}
STANDARD_GRAVITY = 9.80665  # m/s², ISO 80000-3
ALSO = {("g", "m/s²"): STANDARD_GRAVITY}  # signs that mean something else where something else is measured
RPM = FACTORS["rpm"]  # rad/s
# Patterns as text: compiled, and kept, by `re` when something is first typed, not at every start.
NUMBER = (
    r"^\s*(?P<sign>[+\-−]?)\s*(?:(?:(?P<whole>\d+)\s+)?(?P<top>\d+)\s*/\s*(?P<bottom>\d+)"
    r"|(?P<number>(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][+\-]?\d+)?))\s*(?P<unit>.*?)\s*$")
LINEAR_UNITS, ROTARY_UNITS = ("m", "mm", "in"), ("rad", "deg", "turn")  # in which a controller counts
COVERAGE, SMALLEST_DOUBT = 2, 1e-9  # k of every uncertainty that is shown; share of a value below which it is none
LONGEST_FIELD, LONGEST_UNIT, MOST_RAISED = 60, 40, 9
UNIT_PART = (r"\s*(?P<name>1|%|°C|°|[^\W\d_¹²³⁴⁵⁶⁷⁸⁹]+(?:_[^\W\d_]+)*)"
                       r"(?:(?:\^|\*\*)(?P<power>[+\-−]?\d{1,2})|(?P<raised>⁻?[¹²³⁴⁵⁶⁷⁸⁹]))?")
UNIT_JOINT = r"\s*[/·*.⋅]\s*|\s+"
RAISED = str.maketrans("⁻¹²³⁴⁵⁶⁷⁸⁹−", "-123456789-")
UNIT_NAMES = {"°C": "delta_degC", "°": "degree", "Ω": "ohm", "ozf": "ounce_force", "lbf": "force_pound", "%": "percent",
              "rev": "turn", "mΩ": "milliohm", "kΩ": "kiloohm"}


@record(frozen=True, eq=False, repr=False)
class Shown:
    """A value as it is shown: number text and unit."""

    number: str
    unit: str

    def __str__(self) -> str:
        return f"{self.number} {self.unit}".strip()


def unit_shown(si_unit: str, system: str = "metric", own: OwnUnit = "") -> str:
    """The unit in which something is shown; system: metric or inch; own: what it declares itself."""
    if isinstance(own, tuple):
        own = own[system == "inch"]
    usual = SHOWN[system].get(si_unit, si_unit)
    return next((unit for unit in (own, usual) if unit and unit in DIMENSIONS.get(si_unit, ())), si_unit)


def number_text(value: float, digits: int = 4) -> str:
    """A number with so many significant digits, no exponent within a machine's sizes, no needless zeros."""
    if value == 0:
        return "0"
    size = math.floor(math.log10(abs(value)))
    if not -6 <= size < 9:
        return f"{value:.{digits - 1}e}"
    text = f"{value:.{max(0, digits - 1 - size)}f}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def with_doubt(value: float, standard_uncertainty: float) -> str:
    """A number and how sure it is, `47.7 ± 1.3`: twice the standard uncertainty at two digits, the value to the same place.

    Source: JCGM 100 (GUM), 6.2.1 and 7.2.6: expanded by k = 2, two significant digits.
    """
    doubt = abs(COVERAGE * standard_uncertainty)
    if not (math.isfinite(doubt) and doubt > SMALLEST_DOUBT * abs(value)):
        return number_text(value)
    place = 1 - math.floor(math.log10(float(f"{doubt:.1e}")))
    return " ± ".join(f"{round(one, place):.{max(0, place)}f}" for one in (value, doubt))


def show(value: float, si_unit: str, system: str = "metric", digits: int = 4, unit: str | None = None, own: OwnUnit = "") -> Shown:
    """A value in SI as people read it, in the unit of the system, in its own, or in `unit`."""
    chosen = unit_shown(si_unit, system, own) if unit is None else unit
    return Shown(number_text(value * FACTORS.get(si_unit, 1.0) / FACTORS[chosen], digits), chosen)


FAR_OFF = {"m": 30.0, "m/s": 10.0, "m/s²": 200.0, "rad": 1e4, "rad/s": 1e4, "rad/s²": 1e6, "kg": 1e5, "V": 1000.0, "A": 1000.0,
           "N": 1e6, "N·m": 1e5}  # by unit: beyond it another one was meant, or a finger slipped


def far_off(value: float, si_unit: str) -> bool:
    """Whether a value is far beyond what machines have."""
    return abs(value) > FAR_OFF.get(si_unit, math.inf)


def parse(text: str, si_unit: str, assumed_unit: str) -> tuple[float, str]:
    """What people type as a value in SI, and the unit that was meant.

    text: `12 in`, `150 in/min`, `270 ozf·in`, `0,6`, `1/8 in`, `1.8°`. A number alone is in `assumed_unit`.
    Raises BadValue with what is wrong and what is allowed.
    """
    if len(text) > LONGEST_FIELD:
        raise BadValue(f"{len(text)} characters are too many; type a number and a unit")
    found = re.match(NUMBER, text)
    if found is None or found["unit"][:1] in (".", ","):
        raise BadValue(f"“{text.strip()}” is not a number with a unit, such as {example(assumed_unit)}")
    unit = SPELLINGS.get(found["unit"], found["unit"].replace("**", "^").replace("*", "·"))
    unit = SPELLINGS.get(unit, unit) or assumed_unit
    value = _number(found) * factor(unit, si_unit)
    if not math.isfinite(value):
        raise BadValue(f"“{cut(text.strip())}” is too large to be counted")
    return value, unit


def cut(text: str) -> str:
    """A text as a sentence can hold it."""
    return text if len(text) <= LONGEST_UNIT else f"{text[:LONGEST_UNIT - 1]}…"


def example(unit: str) -> str:
    return f"12.5 {unit}".strip()


def _number(found: re.Match[str]) -> float:
    if found["top"]:
        if int(found["bottom"]) == 0:
            raise BadValue("a fraction cannot be over zero")
        value = int(found["whole"] or 0) + int(found["top"]) / int(found["bottom"])
    else:
        value = float(found["number"].replace(",", "."))
    return -value if found["sign"] in ("-", "−") else value


def factor(unit: str, si_unit: str) -> float:
    """What one `unit` is in `si_unit`. Raises BadValue when it measures something else or is not known."""
    if unit in DIMENSIONS.get(si_unit, ()):
        return FACTORS[unit]
    if (unit, si_unit) in ALSO:
        return ALSO[unit, si_unit]
    if unit == si_unit:
        return 1.0
    fits = ", ".join(u for u in DIMENSIONS.get(si_unit, (si_unit,)) if u)
    wanted = f"allowed is {fits}" if fits else "no unit is wanted here"
    try:
        return foreign_factor(unit, si_unit)
    except (BadValue, KeyError, OverflowError):
        raise BadValue(f"“{cut(unit)}” is not a unit that fits; {wanted}") from None


@lru_cache(maxsize=64)
def units_of(si_unit: str) -> dict[str, float]:
    """Every sign of the table that a value may be given with, and what one of each is in SI; without one it is SI.

    si_unit: also with the placeholders [travel] and [effort], which stand for either.
    """
    found = {"": 1.0}
    if not si_unit:
        return found
    for placed in ((("m", "N"), ("rad", "N·m")) if "[" in si_unit else (("", ""),)):
        si = si_unit.replace("[travel]", placed[0]).replace("[effort]", placed[1])
        found |= {unit: FACTORS[unit] for unit in DIMENSIONS.get(si, (si,)) if unit}
        found |= {sign: FACTORS[unit] for sign, unit in SPELLINGS.items() if unit in DIMENSIONS.get(si, ())}
        found |= {sign: value for (sign, one), value in ALSO.items() if one == si}
    return found


@lru_cache(maxsize=256)
def foreign_factor(unit: str, si_unit: str) -> float:
    """What one `unit` outside the table is in `si_unit`. Raises KeyError, OverflowError, and BadValue for what is none of it."""
    (size, dimension), (one, wanted) = (product(unit_parts(text)) for text in (unit, si_unit))
    if dimension != wanted:
        raise BadValue(f"“{cut(unit)}” measures something else")
    return size / one


def unit_parts(text: str) -> list[tuple[str, int]]:
    """A unit read by its grammar: names with whole powers, `·`, `*`, `.` or a blank between factors, `/` before a divisor.

    Nothing is evaluated, so that no text can hang or compute anything: `N·m/rad`, `kg m^2`, `1/min`, `in/s²`.
    Raises BadValue for what is not such a text.
    """
    if len(text) > LONGEST_UNIT:
        raise BadValue(f"“{cut(text)}” is too long for a unit")
    found: list[tuple[str, int]] = []
    place, sign = 0, 1
    rest = text.strip()
    while place < len(rest):
        one = re.compile(UNIT_PART).match(rest, place)
        if one is None or (one["name"] == "1" and (found or one["power"] or place)):
            raise BadValue(f"“{cut(text)}” is not a unit")
        power = one["power"] or one["raised"]
        raised = 1 if not power else int(power.translate(RAISED))
        if not -MOST_RAISED <= raised <= MOST_RAISED:
            raise BadValue(f"“{cut(text)}” is not a unit")
        if one["name"] != "1":
            found.append((UNIT_NAMES.get(one["name"], one["name"]), sign * raised))
        place = one.end()
        joint = re.compile(UNIT_JOINT).match(rest, place)
        if joint is None:
            break
        sign, place = -1 if "/" in joint[0] else 1, joint.end()
        if place == len(rest):
            raise BadValue(f"“{cut(text)}” ends in a sign where a unit is needed")
    if place != len(rest):
        raise BadValue(f"“{cut(text)}” is not a unit")
    return found
