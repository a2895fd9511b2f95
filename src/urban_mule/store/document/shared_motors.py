"""Pairs: two axes that two motors move together, as the document holds them."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import TYPE_CHECKING, ClassVar

from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.units import number_text
from urban_mule.core.train.fold import travel_per_radian
from urban_mule.store.document.base import Name, Strict
from urban_mule.store.document.to_core import core_train

if TYPE_CHECKING:
    from urban_mule.store.document.project import Axis

SAME = 1e-6  # share by which travel a turn and inertia of both motors may differ


class SharedMotors(Strict):
    """Two axes that motor A, on the first, and motor B, on the second, move together. turned: A and B are exchanged."""

    what: ClassVar[str] = "a pair"
    axes: tuple[Name, Name]
    turned: bool = False


def fault_of(pair: SharedMotors, axes: Iterable[Axis]) -> str:
    """Why these two axes make no pair, in words, or nothing."""
    by_name = {one.name: one for one in axes}
    first, second = pair.axes
    if first == second or first not in by_name or second not in by_name:
        return f"is {first!r}, {second!r}; allowed are two different axes of {', '.join(by_name)}"
    one, other = by_name[first], by_name[second]
    rotary = next((axis.name for axis in (one, other) if axis.motion != "linear"), None)
    if rotary is not None:
        return f"holds {rotary!r}, which is rotary; both are linear"
    shared = next((axis.name for axis in (one, other) if (axis.motor_count or 1) != 1), None)
    if shared is not None:
        return f"holds {shared!r}, which has two motors already; each has one"
    if one.motor_kind != other.motor_kind:
        return f"holds a {one.motor_kind} and a {other.motor_kind}; both motors are of one kind"
    for what, unit, of in (("travel a turn", "mm", _turn), ("inertia of the motor", "g·cm²", _inertia)):
        here, there = of(one), of(other)
        if here is not None and there is not None and abs(here - there) > SAME * max(abs(here), abs(there)):
            return (f"holds axes that differ in {what}: {first} {number_text(here, 6)} {unit}, {second} {number_text(there, 6)}"
                    f" {unit}; both are alike")
    return ""


def _turn(axis: Axis) -> float | None:
    """Travel of the load for a turn of the motor [mm]; None where it is not known."""
    if not axis.train:
        return None
    try:
        return 2e3 * math.pi * float(travel_per_radian(core_train(axis.train), axis.unit))
    except NotKnown:
        return None


def _inertia(axis: Axis) -> float | None:
    """Rotor and brake together [g·cm²]; None where the rotor is not known."""
    rotor = getattr(axis.motor, "rotor_inertia", None)
    return None if rotor is None else 1e7 * (float(rotor) + float(getattr(axis.motor, "brake_inertia", None) or 0.0))

