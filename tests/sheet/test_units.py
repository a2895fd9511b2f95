"""Units at the edge: what people type, and the table of factors against pint."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from urban_mule.core.sheet import units
from urban_mule.core.sheet.foreign_units import ALONE, BASES, PREFIXES, WITH_PREFIX, foreign_unit
from urban_mule.core.sheet.given import BadValue


@pytest.fixture(scope="module")
def library() -> Any:
    """Another table of units, made by others; it is loaded by no more than this test."""
    import pint

    return pint.UnitRegistry()


def test_every_factor_of_the_table_is_that_of_the_foreign_units() -> None:
    for si_unit, fitting in units.DIMENSIONS.items():
        for unit in fitting:
            if unit not in ("°C",):
                assert units.FACTORS[unit] == pytest.approx(units.foreign_factor(unit, si_unit), rel=1e-12), unit


def test_every_foreign_unit_is_what_others_say_it_is(library: Any) -> None:
    bases = [library.Unit(one) for one in BASES]
    names = [*ALONE, *(f"{prefix}{name}" for prefix in ("", *PREFIXES) for name in WITH_PREFIX)]
    for name in names:
        size, dimension = foreign_unit(name)
        wanted = library.Unit("")
        for base, power in zip(bases, dimension, strict=True):
            wanted = wanted * base**power
        theirs = library.Quantity(1, "thou" if name == "mil" else name).to(wanted).magnitude
        assert size == pytest.approx(float(theirs), rel=1e-9), name
    assert len(names) > 300


@pytest.mark.parametrize(("text", "si"), [
    ("10 mm/rev", "m"), ("5 Hz", "rad/s"), ("3 1/s", "rad/s"), ("2 kg", "N"), ("7 rev/s", "Hz")])
def test_an_angle_is_no_number(text: str, si: str) -> None:
    """A lead of 10 mm a turn would be 1.6 mm, and 5 Hz 0.8 turns a second."""
    with pytest.raises(BadValue, match="not a unit that fits"):
        units.parse(text, si, si)


@pytest.mark.parametrize(("text", "si", "shown", "value"), [
    ("12 in", "m", "mm", 0.3048), ("150 in/min", "m/s", "m/s", 0.0635), ("270 ozf·in", "N·m", "N·m", 1.906619),
    ("0,6", "m/s", "m/s", 0.6), ("1/8 in", "m", "mm", 0.003175), ("1.8°", "rad", "°", math.radians(1.8)), ("40", "m", "mm", 0.04),
    ("1 1/2 in", "m", "mm", 0.0381), ("−3 mm", "m", "mm", -0.003), ("3 ft", "m", "mm", 0.9144),
    ("540 g·cm²", "kg·m²", "kg·cm²", 5.4e-5), ("10 mm/rev", "m/rad", "m/rad", 0.01 / (2 * math.pi)), ("1.2 kN", "N", "N", 1200.0),
    ("2 lbf·ft", "N·m", "N·m", 2.711636), ("3 hp", "W", "W", 2237.1), ("90 arcsec", "rad", "°", 4.363323e-4),
    ("9 thou", "m", "mm", 2.286e-4),
    ("500 rpm", "rad/s", "rpm", 52.3599), ("50 %", "", "%", 0.5), ("2,1 mH", "H", "mH", 0.0021), (".5", "A", "A", 0.5),
])
def test_what_people_type(text: str, si: str, shown: str, value: float) -> None:
    assert units.parse(text, si, shown)[0] == pytest.approx(value, rel=1e-6)


@pytest.mark.parametrize(("text", "why"), [
    ("abc", "is not a number with a unit"), ("12 kg", "is not a unit that fits; allowed is m, mm, µm, in"), ("1/0 in", "over zero"),
    ("3 blips", "not a unit that fits"), ("9" * 80, "80 characters are too many"), ("1.2.3", "not a number with a unit"),
    ("import os", "is not a number"),
])
def test_what_is_refused(text: str, why: str) -> None:
    with pytest.raises(BadValue, match=why):
        units.parse(text, "m", "mm")


@given(st.floats(1e-5, 1e7), st.sampled_from(["moving_mass kg", "travel m", "top_speed m/s", "rotor_inertia kg·m²"]),
       st.sampled_from(["metric", "inch"]))
def test_what_is_shown_reads_back(value: float, what: str, system: str) -> None:
    _, unit = what.split(" ")
    shown = units.show(value, unit, system, digits=9)
    assert units.parse(str(shown), unit, unit)[0] == pytest.approx(value, rel=1e-6)
