"""A servo by the curves that its data sheet prints, peak and continuous: the winding that they belong to, and how well it fits."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from urban_mule.core.motor.printed import FITS, PrintedCurve, of_kind
from urban_mule.core.motor.printed_fit import Fitted, fitted, once_for_plain, worst_share
from urban_mule.core.motor.servo import ServoMotor
from urban_mule.core.motor.servo_winding import ServoWinding, WoundCurve, of_one_phase
from urban_mule.core.sheet.given import Reals, givens
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

SOURCE = "damped least squares over the printed points; what else the sheet says as a soft bound"
USUAL_DROP, USUAL_TIME, USUAL_PAIRS = 0.05, 3e-3, 4.0  # of the supply at the level torque; s of L/R; where the sheet says nothing
WITHIN = {"constant": (0.15, 0.4), "resistance": (0.1, 1.0), "reactance": (0.4, 1.0)}  # logarithms: where it is said, where not
LEVEL_WITHIN = 0.1  # of the greatest torque of a curve, as its logarithm
LOST, LOST_WITHIN = 0.03, 1.2  # of its greatest torque, at the fastest point, by a loss that grows with speed; as a logarithm
LEFT = 0.1  # of its greatest torque: a curve that ends above it was cut off, not run out
BEGINNINGS = tuple((one, other) for one in (-0.2, 0.2) for other in (-1.0, 1.0))  # of torque constant and reactance
ELECTRIC = 3  # parameters: logarithms of torque constant, resistance, reactance for a rad/s; then level and loss of each curve


@record(frozen=True, eq=False, repr=False)
class ServoFit:
    """A winding for printed curves, each with its level torque and a loss that grows with speed."""

    curves: tuple[PrintedCurve, ...]
    found: Fitted
    max_speed: Reals

    @property
    def fits(self) -> bool:
        """Whether the points are those of one winding."""
        return bool(np.median(self.found.deviation) <= FITS)

    def winding(self, available_voltage: Reals, values: np.ndarray | None = None) -> ServoWinding:
        """The winding at a supply [V]; its reactance stands for pole pairs and inductance together."""
        at = self.found.values if values is None else values
        k, r, x = (_plain(np.exp(at[..., place])) for place in range(ELECTRIC))
        return ServoWinding(k, 1.0, r, x, available_voltage / math.sqrt(2), self.max_speed)

    def as_fitted(self, shows: str) -> WoundCurve | None:
        """The curve of the winding at the supply for which it is printed; None for one that is not printed."""
        one = of_kind(self.curves, shows)
        return None if one is None else self.curve(shows, self.winding(one.printed_voltage))

    def curve(self, shows: str, winding: ServoWinding) -> WoundCurve | None:
        """The curve of this name with a winding, or None where it is not printed."""
        place = next((n for n, one in enumerate(self.curves) if one.shows == shows), None)
        if place is None:
            return None
        return _curve(self.found.values, place, self.curves[place], winding)


def _plain(value: Reals) -> Reals:
    return float(value) if np.ndim(value) == 0 else value


def _curve(at: np.ndarray, place: int, curve: PrintedCurve, winding: ServoWinding) -> WoundCurve:
    level, loss = at[..., ELECTRIC + 2 * place], np.exp(at[..., ELECTRIC + 2 * place + 1])
    return WoundCurve(winding, _plain(np.exp(level)), _plain(loss * (curve.torques.max() / curve.speeds.max())))


@quantity("", symbol="K, R, p·L", source=SOURCE, structure=True, formula="least ∑ (T(ω_i) − T_i)² over the points of both curves")
def printed_fit(
    printed_curves: tuple[PrintedCurve, ...], rated_torque: Reals = None, torque_constant_rms: Reals = None,
    pole_pairs: Reals = None, phase_resistance: Reals = None, phase_inductance: Reals = None,
    winding_figures_are: str = "one phase", max_speed: Reals = None,
) -> ServoFit:
    """The winding of the curves that are printed. Raises NotKnown where neither a peak nor a continuous one is."""
    curves = tuple(one for shows in ("peak", "continuous") if (one := of_kind(printed_curves, shows)) is not None)
    if not curves:
        raise NotKnown("neither a peak nor a continuous curve is printed for this motor")
    return _fit(curves, rated_torque, torque_constant_rms, pole_pairs, phase_resistance, phase_inductance, winding_figures_are,
                max_speed)


@once_for_plain
def _fit(
    curves: tuple[PrintedCurve, ...], rated_torque: Reals, torque_constant_rms: Reals, pole_pairs: Reals, phase_resistance: Reals,
    phase_inductance: Reals, winding_figures_are: str, max_speed: Reals, near: np.ndarray | None = None,
) -> ServoFit:
    first, part = curves[0], of_one_phase(winding_figures_are)
    volts = first.printed_voltage / math.sqrt(2)
    constant = volts / (1.1 * first.speeds.max()) if torque_constant_rms is None else torque_constant_rms / math.sqrt(3)
    level = curves[-1].torques.max() if rated_torque is None else rated_torque
    ohms = USUAL_DROP * volts * constant / level if phase_resistance is None else part * phase_resistance
    pairs = USUAL_PAIRS if pole_pairs is None else pole_pairs
    reactance = pairs * (USUAL_TIME * ohms if phase_inductance is None else part * phase_inductance)
    said = (torque_constant_rms, phase_resistance, None if phase_inductance is None else pole_pairs)
    spread = [within[one is None] for within, one in zip(WITHIN.values(), said, strict=True)]
    usual: list[Any] = [np.log(constant), np.log(ohms), np.log(reactance)]
    for one in curves:
        usual += [np.log(one.torques.max()), np.log(LOST)]
        spread += [LEVEL_WITHIN, LOST_WITHIN]
    begin = np.zeros((len(BEGINNINGS), len(usual)))
    begin[:, [0, 2]] = BEGINNINGS

    def model(at: np.ndarray) -> np.ndarray:
        k, r, x = (np.exp(at[..., place]) for place in range(ELECTRIC))
        return np.concatenate([np.asarray(_curve(at, place, one, ServoWinding(
            k, 1.0, r, x, one.printed_voltage / math.sqrt(2), None))(one.speeds)) for place, one in enumerate(curves)], axis=-1)

    found = fitted(model, np.concatenate([one.torques for one in curves]), np.stack(np.broadcast_arrays(*usual), axis=-1),
                   np.array(spread), begin, near)
    cut = [one.speeds[-1] for one in curves if one.torques[-1] > LEFT * one.torques.max()]
    return ServoFit(curves, found, max(cut) if max_speed is None and len(cut) == len(curves) else max_speed)


SAID = {one.name: one for one in givens(ServoMotor)}


@quantity("", symbol="K, R, L, V", source="the data sheet's figures; its printed curves where there are any", structure=True,
          formula="as stated, or those of the printed curves")
def running_winding(
    available_voltage: Reals, servo_winding: ServoWinding | None = None, printed_fit: ServoFit | None = None,
    torque_constant_rms: Reals = None, pole_pairs: Reals = None, phase_resistance: Reals = None, phase_inductance: Reals = None,
) -> ServoWinding:
    """The winding at this supply [V]. Raises NotKnown, saying what is missing."""
    if printed_fit is not None:
        if not printed_fit.fits:
            raise NotKnown("the printed curves fit no winding; compare their points with the sheet, or take them away",
                           "printed_curves")
        return printed_fit.winding(available_voltage)
    if servo_winding is None:
        said = {"torque_constant_rms": torque_constant_rms, "pole_pairs": pole_pairs, "phase_resistance": phase_resistance,
                "phase_inductance": phase_inductance}
        missing = [name for name, value in said.items() if value is None]
        raise NotKnown(SAID[missing[0]].absent, *missing)
    return servo_winding


def torque_doubt(fit: ServoFit, voltage: float) -> float:
    """The standard uncertainty of the curves made from printed ones at another supply [V], as a share of height and width [1].

    The worst of their speeds up to where a fifth is left.
    """
    def doubt(place: int, one: PrintedCurve) -> float:
        speeds = np.linspace(0.0, one.speeds.max() * max(1.0, voltage / one.printed_voltage), 40)

        def at(values: np.ndarray) -> np.ndarray:
            return np.asarray(_curve(values, place, one, fit.winding(voltage, values))(speeds))

        return worst_share(at(fit.found.values), fit.found.spread_of(at))

    return max(doubt(place, one) for place, one in enumerate(fit.curves))
