"""Torque available against torque needed, for every kind of motor.

A motor module gives `torque_curve`: a callable from shaft speeds (last axis) to torque [N·m].
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from urban_mule.core.load.cycle import lift
from urban_mule.core.load.torque import CycleTorque
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity

SAFETY_FACTOR, CAREFUL_FACTOR = 1.5, 2.0  # torque in hand: the usual school, the careful one
COMFORTABLE_RATIO, USABLE_RATIO = 5.0, 10.0  # inertia ratio: easy to tune, and with care
STEPPER_OR_SERVO = ("Stepper or servo: a stepper holds without hunting and is simplest below its corner speed; a servo runs faster,"
                    " cooler, and notices when it is late.")
TorqueCurve = Callable[[Reals], Reals]


@quantity("N·m", symbol="T_av", source="the motor's torque at the greatest shaft speed", formula="T_available(ω_max)",
          label="Left at top speed")
def available_torque_at_peak_speed(torque_curve: TorqueCurve, peak_speed: Reals) -> Reals:
    """What the motor can give at the greatest speed of the cycle, at its full set current; peak_speed [rad/s]."""
    return torque_curve(lift(peak_speed))[..., 0]


@quantity("", symbol="m_T", source="least ratio over both ends of every moving piece; braking judged as driving",
          formula="min T_available(ω) ÷ |T|", label="Torque margin")
def working_margin(torque_curve: TorqueCurve, cycle_torque: CycleTorque) -> Reals:
    """How many times the torque needed is available at the tightest moment, without a safety factor."""
    return np.min(piece_margins(torque_curve, cycle_torque), axis=-1)


def piece_margins(torque_curve: TorqueCurve, cycle_torque: CycleTorque) -> Reals:
    """The margin at the tighter end of each piece; infinite in a dwell and where no torque is needed."""
    c = cycle_torque
    at_end = torque_curve(np.abs(c.speed_end))
    at_start = np.roll(at_end, 1, axis=-1)  # a piece begins at the speed at which the one before it ends, the first at rest
    both = [
        np.where(c.moving & (torque != 0), available / np.abs(torque), np.inf)
        for torque, available in ((c.start, at_start), (c.end, at_end))
    ]
    return np.minimum(*both)


@quantity("", symbol="", source="argument of the least ratio", structure=True, formula="where T_available ÷ |T| is least")
def tightest_moment(torque_curve: TorqueCurve, cycle_torque: CycleTorque) -> tuple[float, float, int]:
    """Shaft speed [rad/s], torque [N·m] and piece at which the margin is least, for a single build. Raises NotKnown."""
    margins = piece_margins(torque_curve, cycle_torque)
    if margins.ndim != 1 or not np.isfinite(margins).any() or np.isnan(margins).any():
        raise NotKnown("no moving piece needs a torque that can be compared")
    alike = np.flatnonzero(margins <= margins.min() * (1 + 1e-9))
    piece = int(alike[np.argmax(np.abs(cycle_torque.speed_end[alike]))])  # of equal margins, the one at most speed
    ends = ((cycle_torque.start, cycle_torque.speed_start), (cycle_torque.end, cycle_torque.speed_end))
    torque, speed = min(
        ((float(t[piece]), float(w[piece])) for t, w in ends if t[piece]),
        key=lambda end: (round(float(torque_curve(np.array([abs(end[1])]))[0]) / abs(end[0]), 9), -abs(end[1])),
    )
    return speed, torque, piece


@quantity("", symbol="i_1", source="inertia behind a reduction falls with the square of its ratio", formula="√(J_L/J_m)")
def centring_reduction(inertia_ratio: Reals) -> Reals:
    """Further reduction that would bring load and rotor into balance, one to one."""
    return np.sqrt(inertia_ratio)


@quantity("", symbol="i_5", source="inertia behind a reduction falls with the square of its ratio",
          formula=f"√(J_L/J_m ÷ {COMFORTABLE_RATIO:g}), at least 1")
def comfortable_reduction(inertia_ratio: Reals) -> Reals:
    """Further reduction that would make the inertia ratio comfortable; 1 where it is already."""
    return np.maximum(1.0, np.sqrt(inertia_ratio / COMFORTABLE_RATIO))
