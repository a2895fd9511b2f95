"""Inertia and friction by the torque over a few moves.

Source: least squares (C. F. Gauss, 1809); what rows cannot tell apart lies in the null space of their columns.
"""

from __future__ import annotations

import numpy as np

from urban_mule.core.readings.effort import EffortReading
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

LEAST_ROWS, SLOW = 6, 0.01  # of the greatest speed: rows that say nothing of friction
ALIKE, TOLD = 1e-9, 1e-6
NAMES = ("inertia", "coulomb", "viscous", "gravity_torque")
WHY = {
    "inertia": "all rows have one acceleration: inertia and a steady torque cannot be told apart",
    "coulomb": "all rows go one way, or at one speed: friction cannot be told from a steady or a growing torque",
    "viscous": "all rows have one speed: what grows with it cannot be told from dry friction",
    "gravity_torque": "all rows go one way, or with one acceleration: a steady torque cannot be told from friction or inertia",
}
FORMULA = "least squares of T = J·a + T_c·sgn v + B·v + T_0"
DOUBT = "residuals ÷ (rows − columns that can be told)"


@record(frozen=True)
class Effort:
    """Each figure with its standard uncertainty; None where the rows cannot tell it."""

    found: dict[str, tuple[float, float] | None]

    def of(self, name: str, place: int) -> float:
        """The figure, or its uncertainty. Raises NotKnown."""
        one = self.found[name]
        if one is None:
            raise NotKnown(WHY[name], "effort_reading")
        return one[place]


@quantity("", symbol="", source="C. F. Gauss, 1809", structure=True, formula=FORMULA)
def effort_fit(effort_reading: EffortReading) -> Effort:
    """The four figures of the last effort. Raises NotKnown for fewer than six rows."""
    speed, acceleration, torque = effort_reading.speed, effort_reading.acceleration, effort_reading.torque
    kept = np.abs(speed) >= SLOW * float(np.abs(speed).max(initial=0.0))
    kept &= speed != 0
    if int(kept.sum()) < LEAST_ROWS:
        raise NotKnown(f"{int(kept.sum())} rows move; {LEAST_ROWS} at least are needed", "effort_reading")
    v, a, t = speed[kept], acceleration[kept], torque[kept]
    columns = np.stack([a, np.sign(v), v, np.ones_like(v)], axis=1)
    scale = np.sqrt((columns**2).mean(axis=0))
    scale[scale == 0] = 1.0
    left, values, right = np.linalg.svd(columns / scale, full_matrices=False)
    there = values > ALIKE * values[0]
    hidden = np.sqrt((right[~there] ** 2).sum(axis=0))
    inverse = (right[there].T / values[there]) @ left[:, there].T
    weights = inverse @ t
    rest = t - columns / scale @ weights
    free = t.size - int(there.sum())
    variance = float(rest @ rest) / free if free > 0 else 0.0
    doubts = np.sqrt(variance * (inverse**2).sum(axis=1))
    return Effort({name: None if hidden[n] > TOLD else (float(weights[n] / scale[n]), float(doubts[n] / scale[n]))
                   for n, name in enumerate(NAMES)})


@quantity("kg·m²", symbol="J_m", source="C. F. Gauss, 1809", formula=FORMULA, label="Inertia, measured")
def measured_inertia(effort_fit: Effort) -> float:
    """What one motor turns; friction that stands in an efficiency shows up here."""
    return effort_fit.of("inertia", 0)


@quantity("kg·m²", symbol="u(J_m)", source="C. F. Gauss, 1809", formula=DOUBT, label="Inertia, measured, uncertainty")
def measured_inertia_uncertainty(effort_fit: Effort) -> float:
    """Its standard uncertainty."""
    return effort_fit.of("inertia", 1)


@quantity("N·m", symbol="T_c", source="C. F. Gauss, 1809", formula=FORMULA, label="Dry friction, measured")
def measured_coulomb(effort_fit: Effort) -> float:
    """Torque of dry friction at the motor."""
    return effort_fit.of("coulomb", 0)


@quantity("N·m", symbol="u(T_c)", source="C. F. Gauss, 1809", formula=DOUBT, label="Dry friction, measured, uncertainty")
def measured_coulomb_uncertainty(effort_fit: Effort) -> float:
    """Its standard uncertainty."""
    return effort_fit.of("coulomb", 1)


@quantity("N·m·s/rad", symbol="B", source="C. F. Gauss, 1809", formula=FORMULA, label="Viscous friction, measured")
def measured_viscous(effort_fit: Effort) -> float:
    """Torque of friction that grows with the speed of the motor."""
    return effort_fit.of("viscous", 0)


@quantity("N·m·s/rad", symbol="u(B)", source="C. F. Gauss, 1809", formula=DOUBT, label="Viscous friction, measured, uncertainty")
def measured_viscous_uncertainty(effort_fit: Effort) -> float:
    """Its standard uncertainty."""
    return effort_fit.of("viscous", 1)


@quantity("N·m", symbol="T_0", source="C. F. Gauss, 1809", formula=FORMULA, label="Steady torque, measured")
def measured_gravity_torque(effort_fit: Effort) -> float:
    """Steady torque at the motor: weight, or a spring."""
    return effort_fit.of("gravity_torque", 0)


@quantity("N·m", symbol="u(T_0)", source="C. F. Gauss, 1809", formula=DOUBT, label="Steady torque, measured, uncertainty")
def measured_gravity_torque_uncertainty(effort_fit: Effort) -> float:
    """Its standard uncertainty."""
    return effort_fit.of("gravity_torque", 1)
