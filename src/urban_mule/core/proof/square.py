"""Squareness of two axes by the diagonals of a rectangle, and a test piece measured along both."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.readings.pairs import AlongReading, DiagonalsReading, PieceReading
from urban_mule.core.readings.straight_line import StraightLine, straight_line
from urban_mule.core.sheet.quantity import NotKnown, quantity

COSINES = "law of cosines for both diagonals; the sides are as commanded"
SAME = 1e-9  # m within which two nominal lengths are one


@quantity("rad", symbol="γ_d", source=COSINES, formula="asin((d₊² − d₋²) ÷ 4ab)", label="Out of square, by the diagonals")
def squareness_by_diagonals(diagonals_reading: DiagonalsReading) -> float:
    """How far the axes are out of square [rad]; positive: their plus ways enclose less than a right angle.

    Raises NotKnown for diagonals that no parallelogram of these sides has.
    """
    one = diagonals_reading
    sine = (one.diagonal_plus**2 - one.diagonal_minus**2) / (4 * one.side_x * one.side_y)
    if abs(sine) > 1:
        raise NotKnown("no rectangle out of square has these diagonals; measure again", "diagonals_reading")
    return math.asin(sine)


@quantity("rad", symbol="u_γ", source="the gauge at both diagonals, which do not know of each other",
          formula="u·√(d₊² + d₋²) ÷ (2ab·cos γ)", label="Standard uncertainty of the squareness")
def squareness_by_diagonals_uncertainty(diagonals_reading: DiagonalsReading, squareness_by_diagonals: float) -> float:
    """Standard uncertainty of the squareness [rad]. Raises NotKnown where the gauge's is not given."""
    one = diagonals_reading
    if one.gauge_uncertainty is None:
        raise NotKnown("the uncertainty of the gauge is not given", "diagonals_reading")
    both = math.hypot(one.diagonal_plus, one.diagonal_minus)
    return one.gauge_uncertainty * both / (2 * one.side_x * one.side_y * math.cos(squareness_by_diagonals))


@quantity("", symbol="k_x", source="mean over the lengths", formula="mean of measured ÷ nominal", label="Piece along the first"
                                                                                                        " axis",
          shown="%")
def piece_scale_x(piece_reading: PieceReading) -> float:
    """Measured over nominal along the first axis."""
    return float(np.mean(piece_reading.measured_x / piece_reading.nominal_x))


@quantity("", symbol="k_y", source="mean over the lengths", formula="mean of measured ÷ nominal", label="Piece along the second"
                                                                                                        " axis",
          shown="%")
def piece_scale_y(piece_reading: PieceReading) -> float:
    """Measured over nominal along the second axis."""
    return float(np.mean(piece_reading.measured_y / piece_reading.nominal_y))


def errors_by_nominal(nominal: np.ndarray, measured: np.ndarray) -> dict[float, float]:
    """Mean error at each nominal length [m]; repeats are averaged."""
    return {length: float(np.mean((measured - nominal)[np.abs(nominal - length) <= SAME]))
            for length in sorted(set(nominal.tolist()))}


@quantity("m", symbol="Δ_xy", source="the same length along both axes", formula="max |error in x − error in y|",
          label="Piece, one axis against the other", shown=("µm", ""))
def piece_mismatch(piece_reading: PieceReading) -> float:
    """Greatest difference of the errors of one nominal length along both axes [m]. Raises NotKnown where no two are equal."""
    one, other = (errors_by_nominal(getattr(piece_reading, f"nominal_{way}"), getattr(piece_reading, f"measured_{way}"))
                  for way in ("x", "y"))
    apart = [abs(error - other[match]) for length, error in one.items() for match in other if abs(match - length) <= SAME]
    if not apart:
        raise NotKnown("no length was measured along both axes", "piece_reading")
    return max(apart)


def _line(reading: AlongReading, name: str) -> StraightLine:
    if len(set(reading.places.tolist())) < 2:
        raise NotKnown("fewer than two places tell no line; read at more of them", name)
    return straight_line(reading.places, reading.deviation)


ALONG = "slope of the straight line by least squares through what the gauge shows along a square"


@quantity("rad", symbol="γ_s", source=ALONG, formula="b of d = a + b·y", label="Out of square, by a square")
def squareness_by_square(square_reading: AlongReading) -> float:
    """How far the axes are out of square [rad]; positive: their plus ways enclose less than a right angle."""
    return float(_line(square_reading, "square_reading").slope)


@quantity("rad", symbol="u_γs", source="JCGM 100 (GUM): residuals over m − 2, and the gauge at both ends of the line",
          formula="√(s²/∑(y − ȳ)² + 2·u_g²/(y_max − y_min)²)", label="Standard uncertainty of the squareness by a square")
def squareness_by_square_uncertainty(square_reading: AlongReading) -> float:
    """Standard uncertainty of the squareness [rad], the square itself not counted. Raises NotKnown without the gauge's."""
    if square_reading.gauge_uncertainty is None:
        raise NotKnown("the uncertainty of the gauge is not given", "square_reading")
    line = _line(square_reading, "square_reading")
    left = 0.0 if line.variance is None else line.slope_uncertainty()
    return math.hypot(left, math.sqrt(2) * square_reading.gauge_uncertainty / float(np.ptp(square_reading.places)))


@quantity("m", symbol="E_s", source="ISO 230-1, 8.2: range about the least-squares line", label="Straightness",
          formula="max(d − a − b·x) − min(d − a − b·x)", shown=("µm", ""))
def straightness(straightness_reading: AlongReading) -> float:
    """How straight an axis goes, beside a straight edge [m]; how the edge lies is taken out. Raises NotKnown for two places."""
    if len(set(straightness_reading.places.tolist())) < 3:
        raise NotKnown("two places lie on any line; read at three or more", "straightness_reading")
    line = _line(straightness_reading, "straightness_reading")
    return float(np.ptp(straightness_reading.deviation - line.at(straightness_reading.places)))


@quantity("m", symbol="u_Es", source="JCGM 100 (GUM): the gauge at both extremes", formula="√2·u_g",
          label="Standard uncertainty of the straightness", shown=("µm", ""))
def straightness_uncertainty(straightness_reading: AlongReading) -> float:
    """Standard uncertainty of the straightness [m], the edge itself not counted. Raises NotKnown where the gauge's is not given."""
    if straightness_reading.gauge_uncertainty is None:
        raise NotKnown("the uncertainty of the gauge is not given", "straightness_reading")
    return math.sqrt(2) * straightness_reading.gauge_uncertainty
