"""Curves of a data sheet as the document holds them: the points, what stands beside them, the picture that they are from."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from typing import Any, ClassVar

from urban_mule.core.motor.printed import PrintedCurve, PrintedFigures, in_order
from urban_mule.core.sheet.given import LARGEST, shown
from urban_mule.store.document.base import Strict, Text


def pairs(value: Any) -> tuple[tuple[float, float], ...]:
    """Points of a curve, as pairs of speed and torque. Raises ValueError."""
    if not isinstance(value, (list, tuple)):
        raise ValueError(f"is {shown(value)}; a list of points is needed")
    for point in value:
        if not (isinstance(point, (list, tuple)) and len(point) == 2 and all(
                type(one) in (int, float) and abs(one) <= LARGEST for one in point)):
            raise ValueError(f"holds {shown(point)}; a point is a speed in rad/s and a torque in N·m")
    return in_order(value)


class PrintedCurveBody(Strict):
    points: tuple[tuple[float, float], ...]
    picture: Text = ""

    @classmethod
    def prepared(cls, data: Any) -> Any:
        """A curve whose points are those of a motor. Raises ValueError."""
        return {**data, "points": pairs(data.get("points"))} if isinstance(data, dict) else data

    @property
    def core(self) -> PrintedCurve:
        """The curve as the core takes it."""
        return self._core

    @cached_property
    def _core(self) -> PrintedCurve:
        said: Any = self
        return PrintedCurve(said.shows, said.printed_voltage, self.points, said.printed_current, self.picture)


class PrintedCurveModel(PrintedCurveBody, PrintedFigures):
    what: ClassVar[str] = "a printed curve"
    needed: ClassVar[tuple[str, ...]] = ("shows", "printed_voltage")


def plain_curve(curve: PrintedCurve) -> Mapping[str, Any]:
    """A curve of the core as the document writes it."""
    said = {"shows": curve.shows, "printed_voltage": curve.printed_voltage, "printed_current": curve.printed_current,
            "points": [list(point) for point in curve.points], "picture": curve.picture}
    return {key: value for key, value in said.items() if value not in (None, "")}
