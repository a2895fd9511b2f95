"""What a gauge is: its kind and reach, its sign, what it can see, how a hand reads it, how it grows with temperature."""

from __future__ import annotations

import math
from collections.abc import Mapping

from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.record import record

SIGNS = ("plus", "minus")
KINDS = ("dial", "lever", "caliper", "scale", "step gauge", "ruler", "spring balance", "thermometer", "tuner", "accelerometer")
LENGTHS = KINDS[:6]  # that measure along the axis
PRESSED = ("dial", "lever", "step gauge")  # whose plunger or lever is pressed, and can be crushed
CONTACTS = ("plunger", "lever", "jaws", "none")
READ_AS = ("number", "divisions")


class Gauge:
    """What the user knows of a gauge; lengths in m (or rad), of a spring balance in N, of a thermometer in K, of a tuner in Hz."""

    gauge_kind: str | None = given("", "", "what sort of gauge it is", choices=KINDS, label="Kind of gauge")
    reach: Reals = given("[travel]", "", "how far it measures; nothing said: over the whole travel", above=0)
    sign: str | None = given("", "", "whether its number grows when the axis goes to plus", choices=SIGNS,
        label="Direction of greater readings")
    resolution: Reals = given("[travel]", "", "smallest step that it shows", above=0, shown=("µm", ""))
    repeatability_of_gauge: Reals = given("[travel]", "", "standard deviation of its readings at one place", least=0,
        label="Repeatability of the gauge", shown=("µm", ""))
    gauge_uncertainty: Reals = given("[travel]", "u_g", "standard uncertainty", least=0, label="Uncertainty", shown=("µm", ""))
    gauge_hysteresis: Reals = given("[travel]", "h_g", "half of how far its readings from both sides differ at one place", least=0,
        label="Hysteresis", shown=("µm", ""))
    gauge_expansion: Reals = given("1/K", "α_g", "thermal expansion", label="Thermal expansion", shown="ppm/K")
    contact: str | None = given("", "", "what of it touches", choices=CONTACTS, label="Contact")
    read_as: str | None = given("", "", "how a hand reads it: the number, or divisions of its smallest step", choices=READ_AS,
        label="Read as")
    calibration_interval: Reals = given("s", "", "how long its calibration holds", above=0, shown="d", label="Calibration interval")


def growth_uncertainty(expansion: float, gauge_expansion: float, temperature_uncertainty: float) -> float:
    """What a doubt of the temperature leaves open of a length, as a share of it: axis and gauge may differ in temperature.

    Expansions [1/K], temperature_uncertainty of each [K]. Source: JCGM 100 (GUM), 5.1.
    """
    return math.hypot(expansion, gauge_expansion) * temperature_uncertainty


def by_both_sides(hysteresis: float) -> float:
    """The standard uncertainty of what was come to from both sides, by a gauge that differs by from where: ± twice its hysteresis,
    evenly within it. hysteresis: [travel]. Source: JCGM 100 (GUM), 4.3.7.
    """
    return 2 * hysteresis / math.sqrt(3)


@record(frozen=True, eq=False, repr=False)
class UsualGauge:
    """A gauge as such ones usually are, until somebody reads off their own: its name, the unit it is read in, its givens in SI."""

    name: str
    unit: str
    values: Mapping[str, object]


def _usual(name: str, unit: str, kind: str, contact: str, read_as: str, **lengths: float) -> UsualGauge:
    return UsualGauge(name, unit, {"gauge_kind": kind, "contact": contact, "read_as": read_as, **lengths})


USUAL_GAUGES = (  # by this house, from what their standards allow: ISO 463 (dials), ISO 9493 (levers), ISO 13385-1 (calipers)
    _usual("dial indicator, 10 mm", "mm", "dial", "plunger", "divisions", reach=10e-3, resolution=10e-6,
           repeatability_of_gauge=3e-6, gauge_uncertainty=6e-6, gauge_hysteresis=3e-6),
    _usual("fine dial, 1 mm", "µm", "dial", "plunger", "number", reach=1e-3, resolution=1e-6, repeatability_of_gauge=0.5e-6,
           gauge_uncertainty=2e-6, gauge_hysteresis=1e-6),
    _usual("lever indicator, 0.8 mm", "µm", "lever", "lever", "number", reach=0.8e-3, resolution=2e-6,
           repeatability_of_gauge=1e-6, gauge_uncertainty=3e-6, gauge_hysteresis=2e-6),
    _usual("caliper, 150 mm", "mm", "caliper", "jaws", "number", reach=0.15, resolution=10e-6, repeatability_of_gauge=10e-6,
           gauge_uncertainty=15e-6),
    _usual("digital scale along the axis", "mm", "scale", "none", "number", resolution=5e-6, repeatability_of_gauge=2e-6,
           gauge_uncertainty=5e-6),
    _usual("fine dial over a step gauge", "µm", "step gauge", "plunger", "number", reach=1e-3, resolution=1e-6,
           repeatability_of_gauge=0.5e-6, gauge_uncertainty=2e-6, gauge_hysteresis=1e-6),
    _usual("ruler", "mm", "ruler", "none", "number", resolution=0.5e-3, repeatability_of_gauge=0.2e-3, gauge_uncertainty=0.2e-3))
