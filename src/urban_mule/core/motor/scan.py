"""Where a point of a picture lies on the axes printed in it: two points of each set the scale, however the picture lies."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.wording import size

NEAREST = 5.0  # pixels between two points that set a scale, at least
FLATTEST = math.sin(math.radians(20))  # between the directions of the axes: any less is one axis clicked twice
Place = tuple[float, float]


@record(frozen=True, eq=False, repr=False)
class AxisMarks:
    """Two places of a picture [pixels] on a printed axis, and the values that stand there."""

    name: str
    first: Place
    second: Place
    first_value: float
    second_value: float
    logarithmic: bool = False


@record(frozen=True, eq=False, repr=False)
class PictureScale:
    """From places of a picture to speed and torque, in the units in which the axes are printed."""

    speed: AxisMarks
    torque: AxisMarks

    def at(self, place: Place) -> tuple[float, float]:
        """Speed and torque at a place [pixels]."""
        along, up = np.linalg.solve(self._directions, place) - self._from
        return _value(self.speed, float(along)), _value(self.torque, float(up))

    def place_of(self, speed: float, torque: float) -> Place:
        """Where a speed and a torque stand in the picture [pixels]; not a number for what stands on no such axis."""
        x, y = self._directions @ (np.array([_share(self.speed, speed), _share(self.torque, torque)]) + self._from)
        return float(x), float(y)

    @property
    def _directions(self) -> np.ndarray:
        return np.array([_way(self.speed), _way(self.torque)]).T

    @property
    def _from(self) -> np.ndarray:
        """Where along its axis the first mark of each stands, in lengths between its marks."""
        (along, _), (_, up) = (np.linalg.solve(self._directions, axis.first) for axis in (self.speed, self.torque))
        return np.array([along, up])


def _way(axis: AxisMarks) -> np.ndarray:
    return np.subtract(axis.second, axis.first)


def _value(axis: AxisMarks, share: float) -> float:
    if axis.logarithmic:
        return axis.first_value * math.pow(axis.second_value / axis.first_value, share)
    return axis.first_value + share * (axis.second_value - axis.first_value)


def _share(axis: AxisMarks, value: float) -> float:
    if axis.logarithmic:
        return math.log(value / axis.first_value) / math.log(axis.second_value / axis.first_value) if value > 0 else math.nan
    return (value - axis.first_value) / (axis.second_value - axis.first_value)


def picture_scale(speed: AxisMarks, torque: AxisMarks) -> PictureScale:
    """The scale of a picture. Raises BadValue, in words, where the points set none."""
    for axis in (speed, torque):
        if float(np.hypot(*_way(axis))) < NEAREST:
            raise BadValue(f"the two points on the {axis.name} axis lie on one another; click them far apart")
        if axis.first_value == axis.second_value:
            raise BadValue(f"both points on the {axis.name} axis are said to be {size(axis.first_value)}; they stand apart, so"
                           f" their values differ")
        if axis.logarithmic and min(axis.first_value, axis.second_value) <= 0:
            raise BadValue(f"a logarithmic {axis.name} axis has no 0; click two marks above it")
    one, other = _way(speed), _way(torque)
    if abs(float(one[0] * other[1] - one[1] * other[0])) < FLATTEST * float(np.hypot(*one) * np.hypot(*other)):
        raise BadValue("the points of both axes lie on one line; two belong on the speed axis, two on the torque axis")
    return PictureScale(speed, torque)
