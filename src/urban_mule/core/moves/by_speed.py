"""What a ladder tells of a motor at each speed that was tried, and the torque over speed that follows."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from urban_mule.core.load.asked import WAYS, AskedTorque, acceleration_for
from urban_mule.core.load.pair import OthersPart
from urban_mule.core.motor.stepper import StepperCurve
from urban_mule.core.moves.ladder import TIE, Rungs, as_computed
from urban_mule.core.readings.ladder import LadderReading
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

BELOW = 2 / 3  # of the torque at which steps were lost: what is set
SAME = 0.01  # share by which two speeds differ that are one
DIPS = 0.85  # of what both neighbours gave at least: below it a speed has a reason of its own


@record(frozen=True, eq=False, repr=False)
class AtSpeed:
    """At one speed [travel/s]: the greatest share of the computed torque that held below the least that lost steps; either may be
    None. luck: a greater share that held all the same. dips: it lost steps at clearly less than the speeds beside it held, so that
    something rings there.
    """

    speed: float
    least: float | None
    most: float | None
    luck: float | None = None
    dips: bool = False

    @property
    def factor(self) -> float:
        """The share at which steps are lost; where none were lost, that which held."""
        return float(self.most if self.most is not None else self.least)  # type: ignore[arg-type]


@record(frozen=True)
class MeasuredCurve:
    """Torque over shaft speed [rad/s] as the ladder measured it: the computed one, times the shares at the speeds that were tried;
    between them by straight lines, beyond them as at the nearest.
    """

    curve: StepperCurve
    speeds: np.ndarray
    factors: np.ndarray
    dips: np.ndarray

    def crossed(self) -> MeasuredCurve:
        """The curve for who crosses the speeds at which something rings, and does not stay there."""
        return self if self.dips.all() else MeasuredCurve(*(self.curve, *(one[~self.dips] for one in (
            self.speeds, self.factors, self.dips))))

    def __call__(self, speeds: Reals) -> Reals:
        return np.interp(speeds, self.speeds, self.factors) * self.curve(speeds)


@quantity("", symbol="f(v)", source="of the ladder steps of one speed: the best that held below the lowest that lost",
          structure=True, formula="max share held < min share lost, speed by speed")
def torque_by_speed(ladder_reading: LadderReading, ladder_rungs: Rungs) -> tuple[AtSpeed, ...]:
    """What the motor gave at each speed that was tried, the slowest first. Raises NotKnown where nothing was computed."""
    known = ~np.isnan(ladder_rungs.share)
    if not known.any():
        raise NotKnown("no ladder step has a computed torque; try slower steps of the ladder")
    speed, share, lost = ladder_reading.speed[known], ladder_rungs.share[known], ladder_rungs.lost[known] > 0
    order = np.argsort(speed, kind="stable")
    starts = np.flatnonzero(np.diff(speed[order], prepend=-np.inf) > SAME * speed[order])
    found = [_at(speed[group], share[group], lost[group]) for group in np.split(order, starts[1:])]
    return tuple(_seen_beside(found, n) for n in range(len(found)))


def _at(speed: np.ndarray, share: np.ndarray, lost: np.ndarray) -> AtSpeed:
    most = float(share[lost].min()) if lost.any() else None
    held = share[~lost]
    below = held if most is None else held[held <= most * (1 + TIE)]
    above = None if below.size == held.size else float(held.max())
    return AtSpeed(float(speed.mean()), float(below.max()) if below.size else None, most, above)


def _seen_beside(found: list[AtSpeed], n: int) -> AtSpeed:
    one = found[n]
    beside = [other.least for other in (*found[max(n - 1, 0):n], *found[n + 1:n + 2]) if other.least is not None]
    dips = one.most is not None and len(beside) == (n > 0) + (n + 1 < len(found)) > 0 and one.most < DIPS * min(beside)
    return AtSpeed(one.speed, one.least, one.most, one.luck, dips)


@quantity("", symbol="f_lo, f_hi", source="at the speed at which it gives least, resonances apart", structure=True,
          formula="of min over v of f(v): share held, share lost")
def torque_bounds(torque_by_speed: tuple[AtSpeed, ...]) -> tuple[float, float]:
    """Between which shares of the computed torque [1] steps were lost at the speed, of those at which some were, where the motor
    gives least. Raises NotKnown where none were lost, none held there, or a speed was tried only below what held there.
    """
    plain = [one for one in torque_by_speed if not one.dips] or [*torque_by_speed]
    lost = [(one.most, one.least) for one in plain if one.most is not None]
    if not lost:
        raise NotKnown("no ladder step lost steps; go on higher, or stop where it is enough")
    most, least = min(lost, key=lambda one: one[0])
    if least is None:
        raise NotKnown("no ladder step held at the speed at which the motor gives least; begin lower there")
    if any(one.most is None and one.factor < least for one in plain):
        raise NotKnown("a speed was tried only below what held at another, and lost no steps there; go on higher there")
    return min(least, most), most


@quantity("", symbol="f_lo", source="at the speed at which it gives least, resonances apart", formula="lower of the bounds",
          label="Share of the computed torque that held", shown="%")
def torque_share_held(torque_bounds: tuple[float, float]) -> float:
    """What the motor gives of the computed torque without losing steps, at the speed at which it gives least."""
    return torque_bounds[0]


@quantity("", symbol="f_hi", source="at the speed at which it gives least, resonances apart", formula="upper of the bounds",
          label="Share that lost steps there", shown="%")
def torque_share_lost(torque_bounds: tuple[float, float]) -> float:
    """The share of the computed torque at which steps were lost, at the speed at which the motor gives least."""
    return torque_bounds[1]


@quantity("N·m", symbol="T_L(ω)", source="the computed torque times the share measured at each speed", structure=True,
          formula="f(v)·T_po(v/r), straight between the speeds tried, held beyond them")
def ladder_torque_curve(
    torque_by_speed: tuple[AtSpeed, ...], torque_curve: StepperCurve, travel_per_radian: float
) -> MeasuredCurve:
    """Torque over shaft speed at which steps were lost; travel_per_radian [travel/rad]."""
    speeds = np.array([one.speed for one in torque_by_speed]) / travel_per_radian
    return MeasuredCurve(as_computed(torque_curve), speeds, np.array([one.factor for one in torque_by_speed]),  # type: ignore[arg-type]
                         np.array([one.dips for one in torque_by_speed]))


@quantity("[travel]/s²", symbol="a_L", source="a third below the torque at which steps were lost, at the cycle's top speed",
          formula="a of T(a) = ⅔·T_L(v_max/r)", label="Acceleration by the ladder")
def ladder_acceleration(
    ladder_torque_curve: MeasuredCurve, ladder_lost: dict[str, Any], ladder_reading: LadderReading, asked_torque: AskedTorque,
    top_speed: float, travel_per_radian: float, others_part: OthersPart | None = None,
) -> float:
    """Greatest acceleration that leaves a third in hand at the top speed of the cycle. Raises NotKnown where none does."""
    torque, others = (0.0, 0.0) if others_part is None else (float(others_part.torque), float(others_part.speed))
    limit = BELOW * float(np.asarray(ladder_torque_curve(np.asarray([(top_speed + others) / travel_per_radian])))[0]) - torque
    ways = WAYS[ladder_reading.direction or "both"]
    found = acceleration_for(asked_torque, limit, float(np.max(ladder_reading.acceleration)), ways)
    if not found:
        raise NotKnown("at the top speed of the cycle a reserve of a third leaves nothing to speed up with; go slower")
    return found


@quantity("[travel]/s²", symbol="u_aL", source="evenly likely between the shares that held and that lost (JCGM 100, 4.3.7)",
          formula="a_L·(f_hi − f_lo) ÷ √12·f_hi", label="Standard uncertainty of the acceleration by the ladder")
def ladder_acceleration_uncertainty(ladder_acceleration: float, torque_bounds: tuple[float, float]) -> float:
    """How far the acceleration by the ladder may be off, by how far apart the steps that held and lost lie [travel/s²]."""
    least, most = torque_bounds
    return ladder_acceleration * (most - least) / math.sqrt(12) / most
