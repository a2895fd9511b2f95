"""Curves as a data sheet prints them: torque over speed at a stated supply and current, as points."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from urban_mule.core.motor.margin import TorqueCurve
from urban_mule.core.sheet.given import BadValue, Reals, given
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.units import RPM
from urban_mule.core.sheet.wording import size

FITS = 0.08  # root mean square of what the points lie off, as a share of their torque: beyond it they belong to another winding
SAME_SETTING = 0.02  # share by which a supply or a current may differ from what is printed
FEWEST, MOST_POINTS = 4, 200
RISES = 1.1  # of its first torque: a curve that still climbs beyond it at its end is none of a motor
CURVES = "printed_curves"  # as a motor, a part and a row of a search hold them
SHOWS = ("pull-out", "peak", "continuous")


class PrintedFigures:
    """What a data sheet writes beside a curve."""

    shows: str = given("", "", "what the curve gives: pull-out of a stepper, peak or continuous of a servo", choices=SHOWS,
        label="Curve")
    printed_voltage: Reals = given("V", "V_c", "supply for which the curve is printed", above=0, label="Supply of the curve")
    printed_current: Reals = given("A", "I_c", "current per phase for which a stepper's curve is printed, as the rating means it",
        above=0, label="Current of the curve")


@record(frozen=True, eq=False, repr=False)
class PrintedCurve:
    """Points of a printed curve, the slowest first: speeds [rad/s] and torques [N·m], at a supply [V] and, of a stepper, a current
    [A] as the rating means it (None: the rated one). picture: the name of the one that it was read from.
    """

    shows: str
    printed_voltage: float
    points: tuple[tuple[float, float], ...]
    printed_current: float | None = None
    picture: str = ""

    @property
    def speeds(self) -> np.ndarray:
        """Shaft speeds [rad/s]."""
        return np.array([speed for speed, _ in self.points])

    @property
    def torques(self) -> np.ndarray:
        """Torques at those speeds [N·m]."""
        return np.array([torque for _, torque in self.points])

    def itself(self, speeds: Reals) -> Reals:
        """The torque as it is printed, straight between the points; nothing beyond the last, where nothing is printed [N·m]."""
        return np.interp(speeds, self.speeds, self.torques, right=0.0)


@record(frozen=True, eq=False, repr=False)
class AsPrinted:
    """A curve that is used as it is printed; call it with speeds [rad/s] on the last axis."""

    curve: PrintedCurve
    torque_factor: Reals = 1.0

    def __call__(self, speed: Reals) -> Reals:
        return np.asarray(self.torque_factor)[..., None] * self.curve.itself(speed)


def in_order(points: Sequence[Sequence[float]]) -> tuple[tuple[float, float], ...]:
    """Points [rad/s, N·m] of a curve in the order of their speeds. Raises BadValue, in words, for what is no curve of a motor."""
    found = sorted((float(speed), float(torque)) for speed, torque in points)
    if len(found) < FEWEST:
        raise BadValue(f"the curve has {len(found)} point{'' if len(found) == 1 else 's'}; {FEWEST} at least are needed, on the"
                       " level part and on the falling one")
    if len(found) > MOST_POINTS:
        raise BadValue(f"the curve has {len(found)} points; at most {MOST_POINTS} are taken")
    for speed, torque in found:
        if not (np.isfinite(speed) and np.isfinite(torque)) or speed < 0 or torque < 0:
            raise BadValue(f"a point stands at {size(speed / RPM)} rpm and {size(torque)} N·m; allowed are numbers from 0 on")
    for (speed, torque), (then, other) in pairwise(found):
        if then - speed <= 1e-6 * found[-1][0]:
            raise BadValue(f"two points stand at {size(speed / RPM)} rpm, with {size(torque)} and {size(other)} N·m; leave one out")
    torques = [torque for _, torque in found]
    if max(torques) == 0:
        raise BadValue("every point stands at no torque")
    if torques[-1] == max(torques) and torques[-1] > RISES * torques[0]:
        raise BadValue(f"the curve rises up to its end, from {size(torques[0])} to {size(torques[-1])} N·m; a motor's falls with"
                       " speed. Are speed and torque exchanged?")
    return tuple(found)


def of_kind(curves: Sequence[PrintedCurve] | None, shows: str) -> PrintedCurve | None:
    """The curve that shows this, or None."""
    return next((one for one in curves or () if one.shows == shows), None)


def same_setting(given_value: Reals, printed: float) -> bool:
    """Whether all of these supplies [V] or currents [A] are that of a curve."""
    return bool(np.all(np.abs(np.asarray(given_value) / printed - 1) <= SAME_SETTING))


def only_as_printed(curve: PrintedCurve, supply_voltage: Reals, torque_factor: Reals = 1.0) -> TorqueCurve:
    """The curve itself at its own supply [V]; not a number among others. Raises NotKnown elsewhere."""
    volts = np.asarray(supply_voltage, dtype=float)
    if same_setting(volts, curve.printed_voltage):
        return AsPrinted(curve, torque_factor)
    if volts.ndim:
        holds = np.abs(volts / curve.printed_voltage - 1) <= SAME_SETTING
        return AsPrinted(curve, np.where(holds, torque_factor, np.nan))
    raise NotKnown(f"the printed curve fits no winding, so it holds at {size(curve.printed_voltage)} V only", "supply_voltage")


@record(frozen=True, eq=False, repr=False)
class OnlyPrinted:
    """A stepper of which only a curve is known that fits no winding, with the peak current [A] for which it is printed."""

    curve: PrintedCurve
    current_peak: Reals

    def torque_curve(self, supply_voltage: Reals, current_peak: Reals, torque_factor: Reals) -> TorqueCurve:
        """The curve at its own supply [V] and current [A]. Raises NotKnown elsewhere."""
        found = only_as_printed(self.curve, supply_voltage, torque_factor)
        if np.ndim(current_peak) == 0 and not same_setting(current_peak, float(np.ravel(self.current_peak)[0])):
            raise NotKnown(f"the printed curve fits no winding, so it holds at {size(float(np.ravel(self.current_peak)[0]))} A peak"
                           " only", "current_peak")
        return found
