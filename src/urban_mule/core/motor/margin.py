"""Torque available against torque needed, for every kind of motor.

A motor module gives `torque_curve`: a callable from shaft speeds (last axis) to torque [N·m].
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from urban_mule.core.load.cycle import lift
from urban_mule.core.load.fellow import Fellow, of_both
from urban_mule.core.load.moments import CycleTorque, greatest
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity

SAFETY_FACTOR, CAREFUL_FACTOR = 1.5, 2.0  # torque in hand: the usual school, the careful one
REALLY_GIVES = (0.45, 0.75, 1.24)  # of its computed torque a stepper, before a ladder: seldom less, usual, seldom more; integrated
# motion of 68 axes with 3 to 9 % damping
REALLY_GIVES_DOUBT = 0.25  # standard uncertainty of the logarithm of that
COMFORTABLE_RATIO, USABLE_RATIO = 5.0, 10.0  # inertia ratio: easy to tune, and with care
STEPPER_OR_SERVO = ("Stepper or servo: a stepper holds without hunting and is simplest below its corner speed; a servo runs faster,"
                    " cooler, and notices when it is late.")
TorqueCurve = Callable[[Reals], Reals]


@quantity("N·m", symbol="T_av", source="the motor's torque at the greatest shaft speed", formula="T_po(ω_max)",
          label="Available at top speed")
def available_torque_at_peak_speed(torque_curve: TorqueCurve, peak_speed: Reals) -> Reals:
    """What the motor can give at the greatest speed of the cycle, at its full set current; peak_speed [rad/s]."""
    return torque_curve(lift(peak_speed))[..., 0]


@quantity("", symbol="m_T", source="least ratio over every moment of the moving pieces; braking judged as driving",
          formula="min T_po(ω) ÷ |T|", label="Torque margin")
def working_margin(
    torque_curve: TorqueCurve, cycle_torque: CycleTorque, pair_peak_torque: Reals = None, pair_peak_speed: Reals = None,
    fellow: Fellow | None = None,
) -> Reals:
    """How many times the torque needed is available at the tightest moment, without a safety factor; of a pair with both axes at
    their hardest at once [N·m, rad/s]. Raises NotKnown.
    """
    if fellow is not None:
        speed, torque = of_both(None, pair_peak_speed, fellow), of_both(None, pair_peak_torque, fellow)
        return torque_curve(lift(speed))[..., 0] / torque
    return -greatest(cycle_torque, shortage(torque_curve))[0]


def shortage(torque_curve: TorqueCurve) -> Callable[[Reals, Reals], Reals]:
    """From speeds and torques, the margin there with its sign turned; minus infinity where no torque is needed."""
    def of(speed: Reals, torque: Reals) -> Reals:
        return np.where(torque > 0, -torque_curve(speed) / torque, -np.inf)

    return of


@quantity("", symbol="", source="argument of the least ratio", structure=True, formula="where T_po(ω) ÷ |T| is least")
def tightest_moment(
    torque_curve: TorqueCurve, cycle_torque: CycleTorque, pair_peak_torque: Reals = None, pair_peak_speed: Reals = None,
    fellow: Fellow | None = None,
) -> tuple[float, float]:
    """Shaft speed [rad/s] and torque [N·m] at which the margin is least, for a single build; the fastest of equals.

    Raises NotKnown.
    """
    if fellow is not None:
        return float(of_both(None, pair_peak_speed, fellow)), float(of_both(None, pair_peak_torque, fellow))
    c, of = cycle_torque, shortage(torque_curve)
    least, speed, torque = greatest(c, of)
    if np.ndim(least) or not np.isfinite(least):
        raise NotKnown("no moving piece needs a torque that can be compared")
    speeds, torques = (np.concatenate(ends)[np.tile(c.moving, 2)] for ends in ((c.speed_start, c.speed_end), (c.start, c.end)))
    alike = of(np.abs(speeds), np.abs(torques)) >= least * (1 + 1e-9)
    found = [(float(speed), float(torque)), *zip(speeds[alike].tolist(), torques[alike].tolist(), strict=True)]
    return max(found, key=lambda moment: abs(moment[0]))


@quantity("", symbol="i_1", source="inertia behind a reduction falls with the square of its ratio", formula="√(J_L/J_m)")
def centring_reduction(inertia_ratio: Reals) -> Reals:
    """Further reduction that would bring load and rotor into balance, one to one."""
    return np.sqrt(inertia_ratio)


@quantity("", symbol="i_5", source="inertia behind a reduction falls with the square of its ratio",
          formula=f"√(J_L/J_m ÷ {COMFORTABLE_RATIO:g}), at least 1")
def comfortable_reduction(inertia_ratio: Reals) -> Reals:
    """Further reduction that would make the inertia ratio comfortable; 1 where it is already."""
    return np.maximum(1.0, np.sqrt(inertia_ratio / COMFORTABLE_RATIO))
