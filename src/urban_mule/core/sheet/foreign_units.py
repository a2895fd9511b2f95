"""Units that people type and the application does not show: what one of each is in SI, and of which dimension.

An angle is a dimension of its own here, so that neither a way a turn is taken for a way, nor hertz for radians a second.
Source: The International System of Units (BIPM, 9th edition), tables 2 to 8; NIST SP 811, appendix B. A test compares every entry
with a library of units.
"""

from __future__ import annotations

import math

BASES = ("m", "kg", "s", "A", "K", "rad")
Dimension = tuple[int, ...]  # powers of the bases
Unit = tuple[float, Dimension]

_POUND, _FOOT, _GRAVITY, _TURN = 0.45359237, 0.3048, 9.80665, 2 * math.pi
_LENGTH, _MASS, _TIME, _AMPERE, _KELVIN, _ANGLE = (tuple(int(n == place) for n in range(6)) for place in range(6))
_NUMBER: Dimension = (0,) * 6
_PER_TIME, _VOLUME, _SPEED = (0, 0, -1, 0, 0, 0), (3, 0, 0, 0, 0, 0), (1, 0, -1, 0, 0, 0)
_FORCE, _PRESSURE, _ENERGY, _POWER = (1, 1, -2, 0, 0, 0), (-1, 1, -2, 0, 0, 0), (2, 1, -2, 0, 0, 0), (2, 1, -3, 0, 0, 0)
PREFIXES = {"p": 1e-12, "n": 1e-9, "µ": 1e-6, "m": 1e-3, "c": 1e-2, "d": 1e-1, "da": 10.0, "h": 100.0, "k": 1e3, "M": 1e6, "G": 1e9}
WITH_PREFIX: dict[str, Unit] = {  # by their signs
    "m": (1.0, _LENGTH), "g": (1e-3, _MASS), "s": (1.0, _TIME), "A": (1.0, _AMPERE), "K": (1.0, _KELVIN), "rad": (1.0, _ANGLE),
    "Hz": (1.0, _PER_TIME), "N": (1.0, _FORCE), "Pa": (1.0, _PRESSURE), "J": (1.0, _ENERGY), "W": (1.0, _POWER),
    "C": (1.0, (0, 0, 1, 1, 0, 0)), "V": (1.0, (2, 1, -3, -1, 0, 0)), "F": (1.0, (-2, -1, 4, 2, 0, 0)),
    "ohm": (1.0, (2, 1, -3, -2, 0, 0)), "Wb": (1.0, (2, 1, -2, -1, 0, 0)), "T": (1.0, (0, 1, -2, -1, 0, 0)),
    "H": (1.0, (2, 1, -2, -2, 0, 0)), "l": (1e-3, _VOLUME), "L": (1e-3, _VOLUME),
    "eV": (1.602176634e-19, _ENERGY), "Wh": (3600.0, _ENERGY)}
ALONE: dict[str, Unit] = {
    "percent": (1e-2, _NUMBER), "ppm": (1e-6, _NUMBER), "delta_degC": (1.0, _KELVIN), "delta_degF": (5 / 9, _KELVIN),
    "inch": (0.0254, _LENGTH), "in": (0.0254, _LENGTH), "mil": (2.54e-5, _LENGTH), "thou": (2.54e-5, _LENGTH),
    "foot": (_FOOT, _LENGTH), "feet": (_FOOT, _LENGTH), "ft": (_FOOT, _LENGTH), "yard": (3 * _FOOT, _LENGTH),
    "yd": (3 * _FOOT, _LENGTH), "mile": (5280 * _FOOT, _LENGTH), "mi": (5280 * _FOOT, _LENGTH), "micron": (1e-6, _LENGTH),
    "meter": (1.0, _LENGTH), "metre": (1.0, _LENGTH), "millimeter": (1e-3, _LENGTH), "millimetre": (1e-3, _LENGTH),
    "gram": (1e-3, _MASS), "kilogram": (1.0, _MASS), "tonne": (1e3, _MASS), "t": (1e3, _MASS),
    "lb": (_POUND, _MASS), "pound": (_POUND, _MASS),
    "oz": (_POUND / 16, _MASS), "ounce": (_POUND / 16, _MASS), "stone": (14 * _POUND, _MASS),
    "slug": (_POUND * _GRAVITY / _FOOT, _MASS), "second": (1.0, _TIME), "sec": (1.0, _TIME), "min": (60.0, _TIME),
    "minute": (60.0, _TIME), "h": (3600.0, _TIME), "hr": (3600.0, _TIME), "hour": (3600.0, _TIME), "d": (86400.0, _TIME),
    "day": (86400.0, _TIME), "week": (604800.0, _TIME), "degree": (_TURN / 360, _ANGLE), "deg": (_TURN / 360, _ANGLE),
    "radian": (1.0, _ANGLE), "arcmin": (_TURN / 21600, _ANGLE), "arcsec": (_TURN / 1296000, _ANGLE), "turn": (_TURN, _ANGLE),
    "revolution": (_TURN, _ANGLE), "rpm": (_TURN / 60, (0, 0, -1, 0, 0, 1)), "hertz": (1.0, _PER_TIME), "newton": (1.0, _FORCE),
    "force_pound": (_POUND * _GRAVITY, _FORCE), "pound_force": (_POUND * _GRAVITY, _FORCE),
    "ounce_force": (_POUND * _GRAVITY / 16, _FORCE), "kgf": (_GRAVITY, _FORCE), "dyn": (1e-5, _FORCE),
    "kip": (1e3 * _POUND * _GRAVITY, _FORCE),
    "bar": (1e5, _PRESSURE), "mbar": (100.0, _PRESSURE),
    "psi": (_POUND * _GRAVITY / 0.0254**2, _PRESSURE), "atm": (101325.0, _PRESSURE), "cal": (4.184, _ENERGY),
    "joule": (1.0, _ENERGY), "watt": (1.0, _POWER), "hp": (550 * _FOOT * _POUND * _GRAVITY, _POWER),
    "metric_horsepower": (75 * _GRAVITY, _POWER), "volt": (1.0, (2, 1, -3, -1, 0, 0)), "ampere": (1.0, _AMPERE),
    "henry": (1.0, (2, 1, -2, -2, 0, 0)), "farad": (1.0, (-2, -1, 4, 2, 0, 0)), "kelvin": (1.0, _KELVIN),
    "milliohm": (1e-3, (2, 1, -3, -2, 0, 0)), "kiloohm": (1e3, (2, 1, -3, -2, 0, 0)), "mph": (5280 * _FOOT / 3600, _SPEED)}


def foreign_unit(name: str) -> Unit:
    """What one unit of a name is in SI, and its dimension. Raises KeyError for a name that is none."""
    if name in ALONE:
        return ALONE[name]
    if name in WITH_PREFIX:
        return WITH_PREFIX[name]
    for length in (1, 2):
        prefix, rest = name[:length].replace("μ", "µ").replace("u", "µ"), name[length:]
        if prefix in PREFIXES and rest in WITH_PREFIX:
            size, dimension = WITH_PREFIX[rest]
            return PREFIXES[prefix] * size, dimension
    raise KeyError(name)


def product(parts: list[tuple[str, int]]) -> Unit:
    """What a product of powers of units is in SI, and its dimension. Raises KeyError, OverflowError."""
    size, dimension = 1.0, _NUMBER
    for name, power in parts:
        one, of = foreign_unit(name)
        size *= one**power
        dimension = tuple(all_ + power * base for all_, base in zip(dimension, of, strict=True))
    return size, dimension
