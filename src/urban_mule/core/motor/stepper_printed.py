"""A stepper by the curve that its data sheet prints: the winding that it belongs to, and how well it fits."""

from __future__ import annotations

import numpy as np

from urban_mule.core.motor.printed import FITS, OnlyPrinted, PrintedCurve, of_kind
from urban_mule.core.motor.printed_fit import Fitted, fitted, once_for_plain, worst_share
from urban_mule.core.motor.stepper import (
    Running,
    StepperCurve,
    StepperMotor,
    StepperWinding,
    rated_current_peak,
    rewired,
    torque_constant,
)
from urban_mule.core.sheet.given import Reals, givens
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

SOURCE = "damped least squares over the printed points; what else the sheet says as a soft bound"
USUAL_SHARE, SHARE_WITHIN = 0.85, 0.3  # of the holding torque, which a curve begins with; how far from it, as its logarithm
USUAL_DROP, USUAL_TIME = 2.4, 3.5e-3  # V at the rated current and s of L/R, where the sheet says neither
SAID_WITHIN = {"resistance": 0.1, "inductance": 0.5}  # logarithms: a resistance is measured, an inductance is not at this current
GUESSED_WITHIN = {"resistance": 0.8, "inductance": 0.9}
LOST, LOST_WITHIN = 0.03, 1.2  # of the greatest torque, at the fastest point, by a loss that grows with speed; as a logarithm
BEGINNINGS = np.array([[0.0, 0.0, way, 0.0] for way in (-1.2, 0.0, 1.2)])


@record(frozen=True, eq=False, repr=False)
class StepperFit:
    """A winding for a printed curve: logarithms of torque constant, resistance, inductance, and the share lost at the fastest
    point; for the wiring that the sheet's figures are for. loss_unit [N·m·s/rad]: a whole share. current_peak [A]: of the curve.
    """

    curve: PrintedCurve
    found: Fitted
    rotor_teeth: Reals
    loss_unit: float
    current_peak: Reals
    drag_torque: Reals

    @property
    def fits(self) -> bool:
        """Whether the points are those of one winding."""
        return bool(np.median(self.found.deviation) <= FITS)

    def as_fitted(self, shows: str) -> StepperCurve | None:
        """The curve of the winding at the setting for which it is printed; None for one that is not printed."""
        w = self.winding()
        return None if shows != self.curve.shows else StepperCurve(
            w.torque_constant, w.rotor_teeth, w.resistance, w.inductance, self.current_peak, self.curve.printed_voltage,
            self.drag_torque, 1.0, w.speed_loss)

    def winding(
        self, wiring: str | None = None, figures_for: str | None = None, values: np.ndarray | None = None
    ) -> StepperWinding:
        """The winding as it is wired; values: others than those found."""
        at = self.found.values if values is None else values
        k, r, inductance = (np.exp(at[..., place]) for place in range(3))
        return StepperWinding(*(_plain(one) for one in (
            k * rewired(3, wiring, figures_for), self.rotor_teeth, r * rewired(0, wiring, figures_for),
            inductance * rewired(1, wiring, figures_for), np.exp(at[..., 3]) * self.loss_unit)))


def _plain(value: Reals) -> Reals:
    return float(value) if np.ndim(value) == 0 else value


@quantity("", symbol="K, R, L, c", source=SOURCE, structure=True, formula="least ∑ (T_po(ω_i) − T_i)² over the points")
def printed_fit(
    printed_curves: tuple[PrintedCurve, ...], holding_torque: Reals, rated_current: Reals, rotor_teeth: Reals, drag_torque: Reals,
    rated_current_is: str = "rms", phase_resistance: Reals = None, phase_inductance: Reals = None,
) -> StepperFit:
    """The winding of the pull-out curve that is printed; for the wiring that the sheet's figures are for. Raises NotKnown."""
    curve = of_kind(printed_curves, "pull-out")
    if curve is None:
        raise NotKnown("no pull-out curve is printed for this motor")
    return _fit(curve, holding_torque, rated_current, rotor_teeth, drag_torque, rated_current_is, phase_resistance,
                phase_inductance)


@once_for_plain
def _fit(
    curve: PrintedCurve, holding_torque: Reals, rated_current: Reals, rotor_teeth: Reals, drag_torque: Reals, rated_current_is: str,
    phase_resistance: Reals, phase_inductance: Reals, near: np.ndarray | None = None,
) -> StepperFit:
    rated = rated_current_peak(rated_current, rated_current_is)
    peak = rated if curve.printed_current is None else rated * (curve.printed_current / rated_current)
    ohms = USUAL_DROP / rated_current if phase_resistance is None else phase_resistance
    henries = USUAL_TIME * ohms if phase_inductance is None else phase_inductance
    constant = USUAL_SHARE * torque_constant(holding_torque, rated_current, rated_current_is)
    usual = np.stack(np.broadcast_arrays(*map(np.log, (constant, ohms, henries, LOST))), axis=-1)
    spread = np.array([SHARE_WITHIN, *((SAID_WITHIN if said is not None else GUESSED_WITHIN)[name] for name, said in (
        ("resistance", phase_resistance), ("inductance", phase_inductance))), LOST_WITHIN])
    speeds, torques = curve.speeds, curve.torques
    loss_unit = float(torques.max() / speeds.max())
    teeth, amperes, drag = (np.asarray(one)[..., None] for one in (rotor_teeth, peak, drag_torque))  # beside the beginnings

    def model(at: np.ndarray) -> np.ndarray:
        k, r, inductance = (np.exp(at[..., place]) for place in range(3))
        loss = np.exp(at[..., 3:]) * loss_unit * speeds
        driven = StepperCurve(k, teeth, r, inductance, amperes, curve.printed_voltage, 0.0).quadrature_current(speeds)
        return np.asarray(np.maximum(0.0, k[..., None] * driven - drag[..., None] - loss))

    return StepperFit(curve, fitted(model, torques, usual, spread, BEGINNINGS, near), rotor_teeth, loss_unit, peak, drag_torque)


NEEDED = ("holding_torque", "rated_current", "phase_resistance", "phase_inductance", "step_angle")
SAID = {one.name: one for one in givens(StepperMotor)}


@quantity("", symbol="K, R, L, c", source="the data sheet's figures; its printed curve where there is one", structure=True,
          formula="K, R and L as stated, c = 0; or those of the printed curve")
def running_winding(
    rotor_teeth: Reals = None, torque_constant: Reals = None, winding_resistance: Reals = None, winding_inductance: Reals = None,
    printed_fit: StepperFit | None = None, wiring: str | None = None, figures_for: str | None = None, holding_torque: Reals = None,
    rated_current: Reals = None, phase_resistance: Reals = None, phase_inductance: Reals = None, step_angle: Reals = None,
) -> Running:
    """What drives the rotor while it turns; of a curve that fits no winding, the curve. Raises NotKnown, saying what is missing."""
    if printed_fit is not None and printed_fit.fits:
        return printed_fit.winding(wiring, figures_for)
    if printed_fit is not None:
        return OnlyPrinted(printed_fit.curve, printed_fit.current_peak)
    if torque_constant is None or winding_resistance is None or winding_inductance is None or rotor_teeth is None:
        values = (holding_torque, rated_current, phase_resistance, phase_inductance, step_angle)
        missing = [name for name, value in zip(NEEDED, values, strict=True) if value is None]
        raise NotKnown(SAID[missing[0]].absent, *missing)
    return StepperWinding(torque_constant, rotor_teeth, winding_resistance, winding_inductance)


def torque_doubt(
    fit: StepperFit, current_peak: float, voltage: float, wiring: str | None = None, figures_for: str | None = None
) -> float:
    """The standard uncertainty of a curve made from a printed one at another setting, as a share of its height and width [1].

    The worst of its speeds up to where a fifth is left. current_peak [A], voltage [V].
    """
    speeds = np.linspace(0.0, fit.curve.speeds.max() * max(1.0, voltage / fit.curve.printed_voltage), 40)

    def at(values: np.ndarray) -> np.ndarray:
        w = fit.winding(wiring, figures_for, values)
        return np.asarray(StepperCurve(w.torque_constant, w.rotor_teeth, w.resistance, w.inductance, current_peak, voltage, 0.0,
                                       1.0, w.speed_loss)(speeds))

    return worst_share(at(fit.found.values), fit.found.spread_of(at))
