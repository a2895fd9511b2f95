"""Readings that belong to two axes at once: a circle, diagonals, a test piece."""

from __future__ import annotations

import numpy as np

from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class CircleWay:
    """One way round: angles [rad, from plus of the first axis towards plus of the second], deviations of the radius [m]."""

    angle: np.ndarray
    deviation: np.ndarray


@record(frozen=True, eq=False, repr=False)
class CircleReading:
    """A circle of a radius [m], clockwise, counterclockwise or both; the two axes by name, the first as x."""

    axes: tuple[str, str]
    radius: float
    clockwise: CircleWay | None
    counterclockwise: CircleWay | None

    @property
    def ways(self) -> dict[str, CircleWay]:
        """The ways that were measured, by name."""
        both = {"clockwise": self.clockwise, "counterclockwise": self.counterclockwise}
        return {name: way for name, way in both.items() if way is not None}


@record(frozen=True, eq=False, repr=False)
class DiagonalsReading:
    """Diagonals of a rectangle with these sides as commanded [m]: plus from 0,0 to its far corner, minus the other one."""

    axes: tuple[str, str]
    side_x: float
    side_y: float
    diagonal_plus: float
    diagonal_minus: float
    gauge_uncertainty: float | None


@record(frozen=True, eq=False, repr=False)
class PieceReading:
    """Lengths on a test piece along two axes: nominal and measured [m]."""

    axes: tuple[str, str]
    nominal_x: np.ndarray
    measured_x: np.ndarray
    nominal_y: np.ndarray
    measured_y: np.ndarray


@record(frozen=True, eq=False, repr=False)
class AlongReading:
    """How far the carriage is off towards plus of one axis [m] at places along the other [m], beside a square or a straight edge.

    axes: the two by name; gauge_uncertainty: standard [m].
    """

    axes: tuple[str, str]
    places: np.ndarray
    deviation: np.ndarray
    gauge_uncertainty: float | None
