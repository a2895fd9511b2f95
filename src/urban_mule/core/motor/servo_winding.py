"""A servo by its winding: what the supply can drive through resistance, inductance and back-EMF.

The three phases are taken as the two of an equal machine at equal power (W. Leonhard, Control of Electrical Drives):
K = K_t/√3 and V = V_dc/√2, the most that space-vector modulation makes. The direct current is held at 0, as most servo
drives do; one that weakens the field turns faster, which is on the safe side.
"""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.load.cycle import lift
from urban_mule.core.load.moments import CycleTorque, greatest
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.record import record

FIGURES_ARE = ("one phase", "line to line")
EQUAL_MACHINE = "power-invariant two-axis form of a three-phase synchronous machine, direct current 0"


@record(frozen=True, eq=False, repr=False)
class ServoWinding:
    """The equal two-phase machine at its supply.

    torque_constant [N·m/A, V·s/rad], resistance [Ω], inductance [H], voltage [V]: amplitudes. max_speed [rad/s]: beyond it
    nothing is promised; None where the sheet does not say.
    """

    torque_constant: Reals
    pole_pairs: Reals
    resistance: Reals
    inductance: Reals
    voltage: Reals
    max_speed: Reals

    @property
    def no_load_speed(self) -> Reals:
        """Shaft speed at which the back-EMF alone takes the whole supply, or the sheet's end [rad/s]."""
        free = self.voltage / self.torque_constant
        return free if self.max_speed is None else np.minimum(free, self.max_speed)

    def drive(self, speed: Reals) -> tuple[Reals, Reals, Reals, Reals]:
        """Torque constant, back-EMF, resistance and reactance at shaft speeds [rad/s] on the last axis."""
        k, p, r, inductance = (lift(v) for v in (self.torque_constant, self.pole_pairs, self.resistance, self.inductance))
        return k, k * speed, r, p * speed * inductance

    def torque_at(self, speed: Reals, limit: Reals) -> Reals:
        """Torque [N·m] at these speeds [rad/s], at most `limit` [N·m]: the root of (R·i + E)² + (X·i)² = V², times K."""
        k, emf, r, x = self.drive(speed)
        z2, volts = r**2 + x**2, lift(self.voltage)
        held = np.maximum(z2 * volts**2 - (x * emf) ** 2, 0.0)
        current = (np.sqrt(held) - r * emf) / z2
        reached = True if self.max_speed is None else speed <= lift(self.max_speed)
        return np.where(reached, np.clip(k * current, 0.0, lift(limit)), 0.0)

    def voltage_for(self, torque: Reals, speed: Reals) -> Reals:
        """Supply [V] that drives these torques [N·m] at these speeds [rad/s]."""
        k, emf, r, x = self.drive(speed)
        current = torque / k
        return math.sqrt(2) * np.hypot(r * current + emf, x * current)


@record(frozen=True, eq=False, repr=False)
class WoundCurve:
    """Torque over shaft speed up to a limit [N·m], less a loss that grows with speed [N·m·s/rad]; call it with speeds [rad/s] on
    the last axis.
    """

    winding: ServoWinding
    torque: Reals
    speed_loss: Reals = 0.0

    def __call__(self, speed: Reals) -> Reals:
        return np.maximum(0.0, self.winding.torque_at(speed, self.torque) - lift(self.speed_loss) * speed)


def of_one_phase(winding_figures_are: str) -> float:
    """The share of a figure of the winding that one phase has."""
    return 0.5 if winding_figures_are == "line to line" else 1.0


@quantity("", symbol="K, R, L, V", source=EQUAL_MACHINE, structure=True,
          formula="K_t/√3; R_s and L_s of one phase, half of line to line; (supply − drop)/√2")
def servo_winding(
    torque_constant_rms: Reals, pole_pairs: Reals, phase_resistance: Reals, phase_inductance: Reals, available_voltage: Reals,
    winding_figures_are: str = "one phase", max_speed: Reals = None,
) -> ServoWinding:
    """The winding at this supply. Where the sheet does not say what its figures are they count for one phase, the safe side."""
    part = of_one_phase(winding_figures_are)
    return ServoWinding(torque_constant_rms / math.sqrt(3), pole_pairs, part * phase_resistance, part * phase_inductance,
                        available_voltage / math.sqrt(2), max_speed)


@quantity("V", symbol="V_need", source=EQUAL_MACHINE,
          formula="max √2·|v| over the moving pieces with i = S_f·|T|/K, + V_d", label="Supply voltage needed")
def voltage_needed(
    cycle_torque: CycleTorque, running_winding: ServoWinding, voltage_drop: Reals, safety_factor: Reals
) -> Reals:
    """Supply with which the cycle keeps the safety factor in hand everywhere; voltage_drop [V]."""
    hand = lift(safety_factor)
    return greatest(cycle_torque, lambda speed, torque: running_winding.voltage_for(hand * torque, speed))[0] + voltage_drop
