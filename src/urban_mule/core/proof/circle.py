"""A circle of two axes: its deviations as ISO 230-4 has them, and what it is made of."""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.pairs import CircleReading, CircleWay
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

ISO = "ISO 230-4, clause 3 (definitions)"
PARTS_OF = "least squares over both ways; scale, squareness and reversal each have a shape of their own"
CROSSING = 0.05  # rad from a quadrant within which the play is being crossed
LEAST_APART = 1e-6  # of the greatest singular value below which the angles cannot tell the parts apart
LEAST_READINGS = 3


@record(frozen=True, eq=False, repr=False)
class CircleParts:
    """What a circle is made of: centre [m], scale of x less that of y, squareness [rad], reversal of each axis [m], rest [m]."""

    offset: float
    centre_x: float
    centre_y: float
    scale_mismatch: float
    squareness: float
    reversal_x: float
    reversal_y: float
    rest: float


def _way(reading: CircleReading, name: str) -> CircleWay:
    way = reading.ways.get(name)
    if way is None:
        raise NotKnown(f"the circle was not measured {name}", "circle_reading")
    return way


def centred(way: CircleWay) -> np.ndarray:
    """Deviations about the centre of their own least-squares circle [m]. Raises NotKnown for fewer than three readings."""
    if way.angle.size < LEAST_READINGS + 1:
        raise NotKnown(f"{way.angle.size} readings lie on any circle; take more than {LEAST_READINGS}", "circle_reading")
    shapes = np.column_stack([np.ones_like(way.angle), np.cos(way.angle), np.sin(way.angle)])
    fitted, *_ = np.linalg.lstsq(shapes, way.deviation, rcond=None)
    return np.asarray(way.deviation - shapes[:, 1:] @ fitted[1:])


def _circular(reading: CircleReading, name: str) -> float:
    return float(np.ptp(centred(_way(reading, name))))


@quantity("m", symbol="G_cw", source=ISO, formula="range of Δr − e_x·cos θ − e_y·sin θ", label="Circular deviation, clockwise",
          shown=("µm", ""))
def circular_deviation_clockwise(circle_reading: CircleReading) -> float:
    """Circular deviation of the clockwise way, about its own centre [m]."""
    return _circular(circle_reading, "clockwise")


@quantity("m", symbol="G_ccw", source=ISO, formula="range of Δr − e_x·cos θ − e_y·sin θ",
          label="Circular deviation, counterclockwise", shown=("µm", ""))
def circular_deviation_counterclockwise(circle_reading: CircleReading) -> float:
    """Circular deviation of the counterclockwise way, about its own centre [m]."""
    return _circular(circle_reading, "counterclockwise")


def between(way: CircleWay, angle: np.ndarray) -> np.ndarray:
    """Deviations at other angles, linear between the way's own, round and round [m]."""
    turned = np.mod(way.angle, 2 * np.pi)
    order = np.argsort(turned, kind="stable")
    return np.asarray(np.interp(np.mod(angle, 2 * np.pi), turned[order], way.deviation[order], period=2 * np.pi))


@quantity("m", symbol="H", source=ISO, formula="max |Δr↻ − Δr↺| at one angle", label="Circular hysteresis", shown=("µm", ""))
def circular_hysteresis(circle_reading: CircleReading) -> float:
    """Greatest difference of the two ways at one angle; a common centre cancels [m]."""
    clockwise, other = _way(circle_reading, "clockwise"), _way(circle_reading, "counterclockwise")
    return float(np.max(np.abs(clockwise.deviation - between(other, clockwise.angle))))


def _all(reading: CircleReading) -> np.ndarray:
    return np.concatenate([way.deviation for way in reading.ways.values()])


@quantity("m", symbol="F_max", source=ISO, formula="max Δr", label="Radial deviation, greatest", shown=("µm", ""))
def radial_deviation_greatest(circle_reading: CircleReading) -> float:
    """Greatest deviation of the radius as it stands, all ways [m]."""
    return float(_all(circle_reading).max())


@quantity("m", symbol="F_min", source=ISO, formula="min Δr", label="Radial deviation, least", shown=("µm", ""))
def radial_deviation_least(circle_reading: CircleReading) -> float:
    """Least deviation of the radius as it stands, all ways [m]."""
    return float(_all(circle_reading).min())


def shapes_of(angle: np.ndarray, turn: float, radius: float) -> np.ndarray:
    """How each part shows at these angles, a column each; turn: 1 counterclockwise, -1 clockwise. angle: [rad]; radius: [m]."""
    return np.column_stack([
        np.ones_like(angle), np.cos(angle), np.sin(angle), radius / 2 * np.cos(2 * angle), radius / 2 * np.sin(2 * angle),
        -np.sign(-turn * np.sin(angle)) * np.cos(angle) / 2, -np.sign(turn * np.cos(angle)) * np.sin(angle) / 2])


@quantity("", symbol="", source=PARTS_OF, structure=True,
          formula="Δr = e_0 + e_x·cos θ + e_y·sin θ + R·(ε_x − ε_y)/2·cos 2θ + R·γ/2·sin 2θ − B_x/2·sgn ẋ·cos θ − B_y/2·sgn"
                  " ẏ·sin θ")
def circle_parts(circle_reading: CircleReading) -> CircleParts:
    """What the circle is made of, both ways together. Raises NotKnown where the angles cannot tell the parts apart."""
    rows, values = [], []
    for name, turn in (("clockwise", -1.0), ("counterclockwise", 1.0)):
        way = _way(circle_reading, name)
        away = np.abs(np.mod(way.angle + np.pi / 4, np.pi / 2) - np.pi / 4) > CROSSING
        rows.append(shapes_of(way.angle[away], turn, circle_reading.radius))
        values.append(way.deviation[away])
    shapes, seen = np.concatenate(rows), np.concatenate(values)
    scaled = shapes / np.maximum(np.abs(shapes).max(axis=0, initial=0.0), 1e-300)
    singular = np.linalg.svd(scaled, compute_uv=False) if len(shapes) >= shapes.shape[1] else np.zeros(1)
    if singular[-1] <= LEAST_APART * max(float(singular[0]), 1e-300):
        raise NotKnown("the angles of this circle cannot tell its parts apart; read it all round, both ways", "circle_reading")
    found, *_ = np.linalg.lstsq(shapes, seen, rcond=None)
    return CircleParts(*(float(one) for one in (*found, np.std(seen - shapes @ found))))


@quantity("", symbol="ε_x − ε_y", source=PARTS_OF, formula="from cos 2θ", label="Scale mismatch")
def scale_mismatch(circle_parts: CircleParts) -> float:
    """How much more the first axis goes than the second, as a share."""
    return circle_parts.scale_mismatch


@quantity("rad", symbol="γ", source=PARTS_OF, formula="from sin 2θ; above 0 the plus axes enclose less than 90°",
          label="Out of square, by the circle")
def squareness_error(circle_parts: CircleParts) -> float:
    """How far the two axes are out of square [rad]; positive: their plus ways enclose less than a right angle."""
    return circle_parts.squareness


@quantity("m", symbol="B_x", source=PARTS_OF, formula="from sgn ẋ·cos θ; above 0 it hangs back", label="Reversal of the first axis",
          shown=("µm", ""))
def reversal_on_circle_x(circle_parts: CircleParts) -> float:
    """Lost motion of the first axis at its quadrants [m]."""
    return circle_parts.reversal_x


@quantity("m", symbol="B_y", source=PARTS_OF, formula="from sgn ẏ·sin θ; above 0 it hangs back", label="Reversal of the second"
                                                                                                       " axis",
          shown=("µm", ""))
def reversal_on_circle_y(circle_parts: CircleParts) -> float:
    """Lost motion of the second axis at its quadrants [m]."""
    return circle_parts.reversal_y
