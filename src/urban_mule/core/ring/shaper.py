"""Command shapers: impulse sequences that cancel a mode, what they leave and what they cost.

Sources: N. Singer and W. Seering, Preshaping Command Inputs to Reduce System Vibration, 1990; W. Singhose, W. Seering,
N. Singer, Residual Vibration Reduction Using Vector Diagrams to Generate Shaped Inputs, 1994.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from urban_mule.core.ring.modes import Mode
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.record import record

SINGER = "Singer and Seering 1990; Singhose, Seering and Singer 1994"
WANDER = 0.07  # share that a mode wanders along the travel
EI_TOLERANCE = 0.05  # vibration that EI leaves at the mode itself; 5 % is the school of its authors


class PathTolerance:
    """How far a shaped path may depart from the path commanded."""

    path_tolerance: Reals = given(
        "[travel]", "δ", "how far a corner may be rounded by the shaper", default=1e-4, above=0, shown=("µm", ""))


@record(frozen=True, eq=False, repr=False)
class Shaper:
    """Impulses: times [s] from 0, amplitudes that sum to 1."""

    name: str
    times: np.ndarray
    amplitudes: np.ndarray

    @property
    def variance(self) -> float:
        """Σ A_k (t_k − t̄)² [s²]: how much the sequence smears a command."""
        mean = self.amplitudes @ self.times
        return float(self.amplitudes @ (self.times - mean) ** 2)


def shaper_sequences(frequency: float, damping_ratio: float) -> tuple[Shaper, ...]:
    """ZV, ZVD, ZVDD and EI for one mode; frequency [Hz]."""
    root = math.sqrt(1 - damping_ratio**2)
    k, half = math.exp(-damping_ratio * math.pi / root), 1 / (2 * frequency * root)
    v = EI_TOLERANCE
    weights = {
        "ZV": [1, k],
        "ZVD": [1, 2 * k, k**2],
        "ZVDD": [1, 3 * k, 3 * k**2, k**3],
        "EI": [1 + v, 2 * (1 - v) * k, (1 + v) * k**2],
    }
    return tuple(
        Shaper(name, half * np.arange(len(w)), np.array(w) / sum(w)) for name, w in weights.items()
    )


def residual_vibration(shaper: Shaper, frequency: Reals, damping_ratio: Reals) -> Reals:
    """Vibration left of a mode, as a share of the unshaped: Singer and Seering's equation; frequency [Hz]."""
    omega = 2 * math.pi * np.asarray(frequency, dtype=float)[..., None]
    zeta = np.asarray(damping_ratio, dtype=float)[..., None]
    damped = omega * np.sqrt(1 - zeta**2)
    grown = shaper.amplitudes * np.exp(zeta * omega * (shaper.times - shaper.times[-1]))
    return np.hypot((grown * np.cos(damped * shaper.times)).sum(-1), (grown * np.sin(damped * shaper.times)).sum(-1))


@quantity("", symbol="A_k, t_k", source=SINGER, formula="impulses for the strongest mode; allowed acceleration 2·δ/Var(t)")
def shapers(modes: tuple[Mode, ...], path_tolerance: float) -> list[dict[str, Any]]:
    """Shapers for the strongest mode: times [s], amplitudes, residual over all modes, allowed_acceleration [travel/s²].

    path_tolerance [travel]. residual is the greatest vibration left at any listed mode, as a share of the unshaped.
    """
    frequencies = np.array([mode.frequency for mode in modes])
    dampings = np.array([mode.damping_ratio for mode in modes])
    return [
        {
            "name": shaper.name,
            "times": shaper.times.tolist(),
            "amplitudes": shaper.amplitudes.tolist(),
            "residual": float(np.max(residual_vibration(shaper, frequencies, dampings))),
            "allowed_acceleration": 2 * path_tolerance / shaper.variance,
        }
        for shaper in shaper_sequences(modes[0].frequency, modes[0].damping_ratio)
    ]
