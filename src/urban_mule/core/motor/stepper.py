"""Two-phase hybrid stepper: torque at speed, corner speed, the rotor on its magnetic spring.

Sources: the two-axis (d-q) theory of permanent-magnet synchronous machines; T. Kenjo and A. Sugawara, Stepping
Motors and Their Microprocessor Controls; P. Acarnley, Stepping Motors.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

import numpy as np

from urban_mule.core.load.cycle import lift
from urban_mule.core.motor.margin import TorqueCurve
from urban_mule.core.motor.printed import OnlyPrinted
from urban_mule.core.sheet.doubt import MEASURED_WELL, RUBBING, SHEET_FIGURE, SHEET_INDUCTANCE, SHEET_TORQUE
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

DQ = "two-axis theory of permanent-magnet synchronous machines; voltage and current circles"


# One phase relative to one half coil: resistance, inductance, rated current, torque per ampere (Acarnley).
WINDING = {
    "half coil": (1.0, 1.0, 1.0, 1.0),
    "series": (2.0, 4.0, math.sqrt(0.5), 2.0),
    "parallel": (0.5, 1.0, math.sqrt(2.0), 1.0),
}
WIRINGS = tuple(WINDING)


class StepperMotor:
    """What the data sheet of a stepper says, for the wiring that is used."""

    holding_torque: Reals = given("N·m", "T_h", "torque at standstill, both phases at the rated current", above=0,
        doubt=SHEET_TORQUE)
    rated_current: Reals = given("A", "I_r", "rated current per phase", above=0)
    rated_current_is: str = given(
        "", "", "whether the sheet means an RMS-like or a peak value", choices=("rms", "peak"),
        label="Rating, RMS or peak", missing="whether the rated current is RMS or peak is not given")
    phase_resistance: Reals = given("Ω", "R_s", "resistance of one phase at 20 °C, as the sheet says", above=0, doubt=SHEET_FIGURE)
    phase_inductance: Reals = given("H", "L_s", "inductance of one phase, as the sheet says", above=0, shown="mH",
        doubt=SHEET_INDUCTANCE)
    figures_for: str | None = given("", "", "wiring for which the sheet's figures hold, on a 6- or 8-lead motor", choices=WIRINGS,
        label="Wiring of the sheet")
    wiring: str | None = given("", "", "how a 6- or 8-lead motor is wired", choices=WIRINGS)
    step_angle: Reals = given("rad", "α", "angle of one full step", above=0, most=math.pi / 2)
    drag_torque: Reals = given("N·m", "T_d", "detent and bearing drag, taken off what is available", default=0.0, least=0,
        label="Motor drag", doubt=RUBBING)
    torque_factor: Reals = given("", "f_T", "share of the computed torque that the motor was measured to give", default=1.0,
        above=0, most=3, label="Share of the computed torque", shown="%", doubt=MEASURED_WELL)


@record(frozen=True, eq=False, repr=False)
class StepperCurve:
    """Pull-out torque over shaft speed for one setting; call it with speeds [rad/s] on the last axis."""

    torque_constant: Reals
    rotor_teeth: Reals
    phase_resistance: Reals
    phase_inductance: Reals
    current_peak: Reals
    available_voltage: Reals
    drag_torque: Reals
    torque_factor: Reals = 1.0
    speed_loss: Reals = 0.0

    def __call__(self, speed: Reals) -> Reals:
        k, i_q = lift(self.torque_constant), self.quadrature_current(speed)
        lost = lift(self.drag_torque) + lift(self.speed_loss) * speed
        return lift(self.torque_factor) * np.maximum(0.0, k * i_q - lost)

    def quadrature_current(self, speed: Reals) -> Reals:
        """Greatest torque-making current [A] that the voltage and the current circle allow at these speeds [rad/s]."""
        r, limit, volts = (lift(v) for v in (self.phase_resistance, self.current_peak, self.available_voltage))
        x = lift(self.rotor_teeth) * speed * lift(self.phase_inductance)
        e = lift(self.torque_constant) * speed
        z2 = r**2 + x**2
        centre_d, centre_q, radius = -e * x / z2, -e * r / z2, volts / np.sqrt(z2)
        held = centre_d**2 + (limit - centre_q) ** 2 <= radius**2
        if np.all(held):  # below the corner speed, where most builds of a search run all the time
            return np.broadcast_to(np.asarray(limit, dtype=float), held.shape)
        top = centre_q + radius
        within = centre_d**2 + top**2 <= limit**2
        apart = np.sqrt(z2) * limit < e - volts
        crossing = self._upper_crossing(centre_d, centre_q, radius, limit)
        return np.maximum(0.0, np.where(held, limit, np.where(within, top, np.where(apart, 0.0, crossing))))

    @staticmethod
    def _upper_crossing(centre_d: Reals, centre_q: Reals, radius: Reals, limit: Reals) -> Reals:
        """i_q of the upper crossing of the current circle about 0 with the voltage circle, whose centre has i_d ≤ 0."""
        span2 = centre_d**2 + centre_q**2
        span2 = np.where(span2 > 1e-24 * limit**2, span2, 1.0)  # concentric at rest: they do not cross, nobody asks
        along = (span2 + limit**2 - radius**2) / (2 * span2)
        across = np.sqrt(np.maximum(limit**2 / span2 - along**2, 0.0))
        return along * centre_q - across * centre_d


@record(frozen=True, eq=False, repr=False)
class StepperWinding:
    """What drives the rotor while it turns: torque constant [N·m/A of peak, V·s/rad], teeth, resistance [Ω], inductance [H], and a
    loss that grows with speed [N·m·s/rad].
    """

    torque_constant: Reals
    rotor_teeth: Reals
    resistance: Reals
    inductance: Reals
    speed_loss: Reals = 0.0


Running = StepperWinding | OnlyPrinted


def wound(running_winding: Running) -> StepperWinding:
    """The winding of a motor. Raises NotKnown where only a printed curve is known of it that fits none."""
    if isinstance(running_winding, OnlyPrinted):
        raise NotKnown("the printed curve fits no winding; compare its points with the sheet, or take the curve away",
                       "printed_curves")
    return running_winding


def rewired(part: int, wiring: str | None, figures_for: str | None) -> float:
    """What a figure of the sheet is multiplied by for the wiring used; 1 where either wiring is not said.

    part: 0 resistance, 1 inductance, 2 rated current, 3 torque per ampere.
    """
    if wiring is None or figures_for is None:
        return 1.0
    return WINDING[wiring][part] / WINDING[figures_for][part]


def as_wired(figures: Mapping[str, Any]) -> dict[str, Any]:
    """What a sheet says of a motor, said for the wiring that is used, so that motors wired otherwise can stand in one array."""
    wiring, of = figures.get("wiring"), figures.get("figures_for")
    if wiring is None or of is None:
        return dict(figures)
    current = rewired(2, wiring, of)
    changes = {"phase_resistance": rewired(0, wiring, of), "phase_inductance": rewired(1, wiring, of), "rated_current": current,
               "holding_torque": rewired(3, wiring, of) * current}
    said = {name: figures[name] * by for name, by in changes.items() if figures.get(name) is not None}
    return {**figures, **said, "wiring": None, "figures_for": None}


@quantity("Ω", symbol="R", source="coils in series or side by side", formula="R_s × 1, 2 or ½ by the wiring")
def winding_resistance(phase_resistance: Reals, wiring: str | None = None, figures_for: str | None = None) -> Reals:
    """Resistance of one phase as it is wired; phase_resistance [Ω]."""
    return phase_resistance * rewired(0, wiring, figures_for)


@quantity("H", symbol="L", source="turns squared: coils in series on one core", formula="L_s × 1, 4 or 1 by the wiring")
def winding_inductance(phase_inductance: Reals, wiring: str | None = None, figures_for: str | None = None) -> Reals:
    """Inductance of one phase as it is wired; phase_inductance [H]."""
    return phase_inductance * rewired(1, wiring, figures_for)


@quantity("", symbol="p", source="two-phase hybrid motor: four full steps per tooth")
def rotor_teeth(step_angle: Reals) -> Reals:
    """Teeth of the rotor, the ratio of electrical to mechanical angle; step_angle [rad]."""
    return math.pi / 2 / step_angle


@quantity("A", symbol="I_rp", source="a rating per phase with both phases on heats like a sine of that RMS",
          formula="√2·I_r for an RMS-like rating, I_r for a peak rating; × 1, 1/√2 or √2 by the wiring")
def rated_current_peak(
    rated_current: Reals, rated_current_is: str = "rms", wiring: str | None = None, figures_for: str | None = None
) -> Reals:
    """The rated current as a peak value, for the wiring used; rated_current [A]."""
    peak = rated_current if rated_current_is == "peak" else rated_current * math.sqrt(2)
    return peak * rewired(2, wiring, figures_for)


@quantity("N·m/A", symbol="K", source="Kenjo and Sugawara: torque amplitude per ampere of peak; also V·s/rad per phase",
          formula="T_h/(√2·I_r) for an RMS-like rating, T_h/I_r for a peak rating; × 1, 2 or 1 by the wiring")
def torque_constant(
    holding_torque: Reals, rated_current: Reals, rated_current_is: str = "rms", wiring: str | None = None,
    figures_for: str | None = None,
) -> Reals:
    """Torque per ampere of peak phase current, for the wiring used; holding_torque [N·m], rated_current [A]."""
    return holding_torque / rated_current_peak(rated_current, rated_current_is) * rewired(3, wiring, figures_for)


@quantity("N·m", symbol="T_set", source="torque amplitude of the magnetic spring at the set current")
def set_torque(torque_constant: Reals, current_peak: Reals) -> Reals:
    """Holding torque at the set current; torque_constant [N·m/A], current_peak [A]."""
    return torque_constant * current_peak


@quantity("N·m", symbol="T_st", source="the magnetic spring gives at most its amplitude")
def stall_torque(set_torque: Reals) -> Reals:
    """What the motor could put into the train when it stalls; set_torque [N·m]."""
    return set_torque


@quantity("", symbol="T_po(ω)", source=DQ, structure=True,
          formula="f_T·(K·i_q − T_d − c·ω), i_q the greatest within |i| ≤ I and |v| ≤ V at that speed")
def torque_curve(
    running_winding: Running, current_peak: Reals, available_voltage: Reals, drag_torque: Reals, torque_factor: Reals,
    supply_voltage: Reals,
) -> TorqueCurve:
    """Pull-out torque over speed at the full set current, less the motor's own drag; or the printed curve at its own setting."""
    if isinstance(running_winding, OnlyPrinted):
        return running_winding.torque_curve(supply_voltage, current_peak, torque_factor)
    w = running_winding
    return StepperCurve(w.torque_constant, w.rotor_teeth, w.resistance, w.inductance, current_peak, available_voltage, drag_torque,
                        torque_factor, w.speed_loss)


@quantity("rad/s", symbol="ω_c", source=DQ, formula="root of (p·L·I·ω)² + (R·I + K·ω)² = V²; 0 when R·I ≥ V", shown="rpm")
def corner_speed(running_winding: Running, current_peak: Reals, available_voltage: Reals) -> Reals:
    """Shaft speed above which the set current can no longer be held. Raises NotKnown without a winding."""
    w = wound(running_winding)
    reactance, drop = w.rotor_teeth * w.inductance * current_peak, w.resistance * current_peak
    square = reactance**2 + w.torque_constant**2
    linear = drop * w.torque_constant
    spare = np.maximum(available_voltage**2 - drop**2, 0.0)
    return spare / (linear + np.sqrt(linear**2 + square * spare))


@quantity("Hz", symbol="f_r", source="rotor on its magnetic spring, stiffness p·T_set, all inertia rigid")
def rotor_resonance(
    rotor_teeth: Reals, set_torque: Reals, shaft_inertia: Reals, axial_inertia_at_motor: Reals
) -> Reals:
    """Natural frequency of rotor and load on the magnetic spring; set_torque [N·m], inertias [kg·m²]."""
    return np.sqrt(rotor_teeth * set_torque / (shaft_inertia + axial_inertia_at_motor)) / (2 * math.pi)


@quantity("rad/s", symbol="ω_r", source="full-step rate equal to the rotor's natural frequency", shown="rpm")
def resonant_speed(rotor_resonance: Reals, step_angle: Reals) -> Reals:
    """Shaft speed at which full steps come at the rotor's own frequency; rotor_resonance [Hz], step_angle [rad]."""
    return rotor_resonance * step_angle


@quantity("V", symbol="V_L", source="rule of thumb from winding inductance, 32·√(L in mH)")
def voltage_by_inductance(running_winding: Running) -> Reals:
    """Supply voltage that the inductance rule of thumb asks for. Raises NotKnown without a winding."""
    return 32.0 * np.sqrt(wound(running_winding).inductance * 1e3)


@quantity("W", symbol="N_x", source="a proxy of this house: magnetic torque swept past the teeth in a second; it only ranks")
def noise_proxy(set_torque: Reals, peak_speed: Reals) -> Reals:
    """How loud a motor is likely to be beside another on the same axis; set_torque [N·m], peak_speed [rad/s]."""
    return set_torque * peak_speed
