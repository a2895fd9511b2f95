"""The ladder: rungs of speed and acceleration, walked until steps are lost; what the motor really gives of what was computed."""

from __future__ import annotations

import dataclasses
from typing import Any

import numpy as np

from urban_mule.core.load.asked import WAYS, AskedTorque
from urban_mule.core.motor.margin import TorqueCurve
from urban_mule.core.motor.stepper import StepperCurve
from urban_mule.core.readings.ladder import LadderReading, steps_lost
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

SPEEDS, SHARES = (0.5, 0.75, 1.0), (0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1.0)  # of the top speed, of the computed torque: usual rungs


@record(frozen=True, eq=False, repr=False)
class Rungs:
    """Torque asked of one motor on each rung, its share of what was computed there (NaN where that is nothing), steps lost."""

    torque: np.ndarray
    share: np.ndarray
    lost: np.ndarray


TIE = 0.01  # share by which a rung that held and one that lost may cross and still say the same bound


def as_computed(curve: TorqueCurve) -> TorqueCurve:
    """The curve as the data sheet makes it, whatever factor was adopted since: a factor is counted from there. A servo has none."""
    return dataclasses.replace(curve, torque_factor=1.0) if isinstance(curve, StepperCurve) else curve


@quantity("", symbol="", source="lost steps come in fours: the rotor falls back by whole electrical turns", structure=True,
          formula="4·round(|returned| ÷ (4·α·r)); T(a) ÷ T_po(v/r)")
def ladder_rungs(
    ladder_reading: LadderReading, asked_torque: AskedTorque, torque_curve: StepperCurve, step_angle: float,
    travel_per_radian: float,
) -> Rungs:
    """Torque, share and lost steps of each rung; step_angle [rad], travel_per_radian [travel/rad]."""
    reading = ladder_reading
    torque = np.asarray(asked_torque(reading.acceleration, WAYS[reading.direction or "both"]))
    there = np.asarray(as_computed(torque_curve)(reading.speed / travel_per_radian))
    share = np.divide(torque, there, out=np.full(torque.shape, np.nan), where=there > 0)
    return Rungs(torque, share, steps_lost(reading.returned, step_angle * travel_per_radian))


def _rung(reading: LadderReading, rungs: Rungs, n: int) -> dict[str, Any]:
    return {"speed": float(reading.speed[n]), "acceleration": float(reading.acceleration[n]), "torque": float(rungs.torque[n]),
            "share": float(rungs.share[n])}


@quantity("", symbol="R_h", source="of the ladder steps that held the one that asked for most of what was computed",
          formula="max share",
          label="Best ladder step that held")
def ladder_good(ladder_reading: LadderReading, ladder_rungs: Rungs) -> dict[str, Any]:
    """Speed, acceleration, torque and share of that rung. Raises NotKnown when none held."""
    held = np.flatnonzero((ladder_rungs.lost == 0) & ~np.isnan(ladder_rungs.share))
    if not held.size:
        raise NotKnown("no ladder step held; begin lower")
    return _rung(ladder_reading, ladder_rungs, int(held[np.argmax(ladder_rungs.share[held])]))


@quantity("", symbol="R_l", source="of the ladder steps that lost steps the one that asked for least", formula="min share",
          label="Lowest ladder step that lost")
def ladder_lost(ladder_reading: LadderReading, ladder_rungs: Rungs) -> dict[str, Any]:
    """Speed, acceleration, torque and share of that rung. Raises NotKnown when none lost steps."""
    lost = np.flatnonzero((ladder_rungs.lost > 0) & ~np.isnan(ladder_rungs.share))
    if not lost.size:
        raise NotKnown("no ladder step lost steps; go on higher, or stop where it is enough")
    return _rung(ladder_reading, ladder_rungs, int(lost[np.argmin(ladder_rungs.share[lost])]))


@quantity("", symbol="f_lo", source="share of the best ladder step that held", formula="share of that step",
          label="Share of the computed torque, at least",
          shown="%")
def torque_factor_least(ladder_good: dict[str, Any]) -> float:
    """What the motor gives at least of what was computed."""
    return float(ladder_good["share"])


@quantity("", symbol="f_hi", source="share of the lowest ladder step that lost steps", formula="share of that step",
          label="Share of the computed torque, at most", shown="%")
def torque_factor_most(ladder_lost: dict[str, Any]) -> float:
    """What the motor gives at most of what was computed."""
    return float(ladder_lost["share"])


@quantity("", symbol="", source="shares of the computed torque at shares of the top speed", structure=True,
          formula="a of T(a) = share·T_po(v/r)")
def planned_rungs(
    asked_torque: AskedTorque, torque_curve: StepperCurve, top_speed: float, travel_per_radian: float
) -> tuple[tuple[float, float], ...]:
    """Rungs (speed, acceleration) up to what was computed, above which the sheet knows them to fail; the easiest share first."""
    base, slope = np.asarray(asked_torque(np.array([0.0, 1.0]))).tolist()
    speeds = [part * top_speed for part in SPEEDS]
    given = as_computed(torque_curve)(np.array(speeds) / travel_per_radian).tolist()
    return tuple((speed, (share * torque - base) / (slope - base)) for share in SHARES
                 for speed, torque in zip(speeds, given, strict=True) if share * torque > base and slope > base)
