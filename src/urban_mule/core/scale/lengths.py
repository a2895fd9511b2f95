"""Lengths against a gauge: the slope is the scale, the offset is not; what temperature explains; the last word on the scale."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.readings.gauge import growth_uncertainty
from urban_mule.core.readings.lengths import LengthsReading
from urban_mule.core.readings.repeats import mean_of
from urban_mule.core.readings.straight_line import StraightLine, straight_line
from urban_mule.core.readings.travel import TravelReading
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import is_measured

LINE = "straight line by least squares through the means at each target, measured over commanded"
STANDARD_TEMPERATURE = 20.0  # °C, ISO 1
LEAST_RATIO = 1e-9  # measured over commanded: an axis that moves less did not move


class Expansion:
    """What the axis does with temperature."""

    expansion: Reals = given("1/K", "α_a", "thermal expansion of what measures the travel: screw, rack, belt or scale",
        label="Thermal expansion", shown="ppm/K")


@quantity("", symbol="", source=LINE, structure=True, formula="measured = a + b·commanded")
def length_line(lengths_reading: LengthsReading) -> StraightLine:
    """The line through the means of the last lengths."""
    return straight_line(lengths_reading.commanded, mean_of(lengths_reading.measured))


@quantity("", symbol="b", source=LINE, formula="b of measured = a + b·commanded", label="Slope")
def length_slope(length_line: StraightLine) -> float:
    """Measured over commanded, whatever the zero of the gauge."""
    return length_line.slope


@quantity("[travel]", symbol="a", source=LINE, formula="a of measured = a + b·commanded", label="Zero offset of the lengths",
          shown=("µm", ""))
def length_offset(length_line: StraightLine) -> float:
    """What is the same at every length: backlash, or the zero of the gauge. It is no scale."""
    return float(length_line.at(np.zeros(())))


@quantity("", symbol="u_b", source="JCGM 100 (GUM): residuals over m − 2, and the gauge at both ends of the line", shown="%",
          formula="√(s²/∑(x − x̄)² + 2·u_g²/(x_max − x_min)²)", label="Standard uncertainty of the slope")
def length_slope_uncertainty(lengths_reading: LengthsReading, length_line: StraightLine) -> float:
    """Standard uncertainty of the slope. Raises NotKnown without the gauge's."""
    if lengths_reading.gauge_uncertainty is None:
        raise NotKnown("what the gauge can see is not given")
    long = float(np.ptp(lengths_reading.commanded))
    left = 0.0 if length_line.variance is None else length_line.slope_uncertainty()
    return math.hypot(left, math.sqrt(2) * lengths_reading.gauge_uncertainty / long)


@quantity("", symbol="θ", source="ISO 1: lengths hold at 20 °C", formula="(α_a − α_gauge)·(T − 20 °C)",
          label="Effect of temperature alone",
          shown="%")
def thermal_scale(expansion: Reals, lengths_reading: LengthsReading) -> float:
    """Share of the scale error that the temperature makes; expansion [1/K]. Raises NotKnown without temperature or gauge."""
    reading = lengths_reading
    if reading.temperature is None or reading.gauge_expansion is None:
        raise NotKnown("temperature or expansion of the gauge is not given")
    return float((expansion - reading.gauge_expansion) * (reading.temperature - STANDARD_TEMPERATURE))


@quantity("", symbol="u_θ", source="JCGM 100 (GUM), 5.1: what a doubt of the temperature makes of axis and gauge, which may"
          " differ in it", formula="√(α_a² + α_gauge²)·u_T", label="Standard uncertainty by the temperature", shown="%")
def thermal_scale_uncertainty(expansion: Reals, lengths_reading: LengthsReading) -> float:
    """What the temperature leaves open of the scale; expansion [1/K]. Raises NotKnown where its doubt or the gauge's expansion is
    not given.
    """
    reading = lengths_reading
    if reading.temperature_uncertainty is None or reading.gauge_expansion is None:
        raise NotKnown("how sure the temperature is, or the expansion of the gauge, is not given")
    return growth_uncertainty(float(expansion), reading.gauge_expansion, reading.temperature_uncertainty)


@quantity("", symbol="k_s", source="measured over commanded, of the last travel or lengths",
          formula="mean(measured) ÷ commanded, or b ÷ (1 + θ)", label="Scale factor, measured")
def scale_ratio(
    scale_reading: TravelReading | LengthsReading, length_slope: Reals = None, thermal_scale: Reals = None
) -> float:
    """Measured over commanded travel at 20 °C where temperature is known; scale_reading: the last of either kind."""
    if isinstance(scale_reading, TravelReading):
        return float(np.mean(scale_reading.measured) / scale_reading.commanded)
    return float(length_slope / (1 + (thermal_scale or 0.0)))


@quantity("", symbol="u_k", source="JCGM 100 (GUM): gauge and repeats combined, k = 1",
          formula="√(u_gauge² + s²/n) ÷ commanded, or √(u_b² + u_θ²)", label="Standard uncertainty of the scale factor", shown="%")
def scale_ratio_uncertainty(
    scale_reading: TravelReading | LengthsReading, length_slope_uncertainty: Reals = None,
    thermal_scale_uncertainty: Reals = None,
) -> float:
    """Standard uncertainty of the scale ratio, of the scatter alone where the gauge's is not given.

    Raises NotKnown with neither repeats nor a gauge's uncertainty.
    """
    if not isinstance(scale_reading, TravelReading):
        if length_slope_uncertainty is None:
            raise NotKnown("what the gauge can see is not given")
        return math.hypot(float(length_slope_uncertainty), float(thermal_scale_uncertainty or 0.0))
    reading, count = scale_reading, scale_reading.measured.size
    if reading.gauge_uncertainty is None and count < 2:
        raise NotKnown("neither the uncertainty of the gauge nor repeats are given")
    scatter = float(np.var(reading.measured, ddof=1)) / count if count > 1 else 0.0
    return math.sqrt((reading.gauge_uncertainty or 0.0) ** 2 + scatter) / abs(reading.commanded)


WRONG_WAY, HARDLY, SCATTERS, WALKS = "wrong way", "hardly", "scatters", "walks"
TOO_MUCH = 0.05  # share off that no wear and no pitch error explains
HARDLY_MOVED, LEAST_OFF = 0.05, 0.01  # measured over commanded that is no move; share off below which it is calibration
LEAST_REPEATS = 3  # from which repeats that all go one way are no chance


@quantity("", symbol="", source="a ratio whose repeats scatter more than it lies off 1 is no ratio", structure=True,
          formula="k_s < 0; k_s < 5 %; s of the repeats > |k_s − 1| and > 1 %; repeats that walk one way")
def scale_doubt(scale_ratio: Reals, scale_reading: TravelReading | LengthsReading) -> str:
    """Why the measured ratio is none that a setting makes: the way is wrong, it hardly moved, it scatters, it walks; else empty."""
    if scale_ratio < -HARDLY_MOVED:
        return WRONG_WAY
    if scale_ratio < HARDLY_MOVED:
        return HARDLY
    off, ratios = abs(scale_ratio - 1), _ratios(scale_reading)
    if ratios.size < 2:
        return ""
    steps, walked = np.diff(ratios), abs(float(ratios[-1] - ratios[0]))
    one_way = ratios.size >= LEAST_REPEATS and (np.all(steps > 0) or np.all(steps < 0))
    if one_way and walked > (off / 2 if off > LEAST_OFF else LEAST_OFF):
        return WALKS
    return SCATTERS if float(np.std(ratios, ddof=1)) > max(off, LEAST_OFF) else ""


def _ratios(reading: TravelReading | LengthsReading) -> np.ndarray:
    """Measured over commanded of each repeat; of lengths the slope of each row."""
    if isinstance(reading, TravelReading):
        return np.asarray(reading.measured / reading.commanded)
    x = reading.commanded - reading.commanded.mean()
    rows = reading.measured[~np.isnan(reading.measured).any(axis=1)]
    return np.asarray(rows @ x / float(x @ x))


@quantity("1/unit", symbol="S′", source="commanded over measured travel", label="Corrected steps")
def corrected_steps_per_unit(steps_per_unit: Reals, scale_ratio: Reals) -> Reals:
    """Steps per unit that would make the measured travel the commanded one; steps_per_unit [1/unit]. Raises NotKnown."""
    if abs(scale_ratio) < LEAST_RATIO:
        raise NotKnown("the axis did not move at all")
    return steps_per_unit / scale_ratio


@quantity("1/unit", symbol="S_s", source="what is corrected is a small, steady error of the scale, no wrong setting and no slip",
          formula="S′ where nothing speaks against it", label="Steps per unit to set")
def steps_per_unit_to_set(
    corrected_steps_per_unit: Reals, scale_ratio: Reals, scale_doubt: str, scale_suspects: tuple[object, ...] = (),
    train: tuple[Link, ...] = (),
) -> Reals:
    """Corrected steps per unit [1/unit], where a correction is what is wanted. Raises NotKnown where something is wrong instead."""
    if scale_doubt or scale_suspects or (abs(scale_ratio - 1) > TOO_MUCH and not is_measured(train)):
        raise NotKnown("something is wrong that no correction mends: see what the measurement says")
    return corrected_steps_per_unit
