"""Threads and shafts: what slides loses, both ways, and what a solid cylinder of steel weighs against turning."""

from __future__ import annotations

import math

from urban_mule.core.sheet.given import Reals

STEEL_DENSITY = 7850.0  # kg/m³, plain carbon steel, EN 10025 figures rounded as data sheets do
SLIDING, THREAD = 0.12, math.radians(15)  # bronze on oiled steel; half the angle between the flanks of a trapezoidal thread


def trapezoidal_efficiency(lead: float, mean_diameter: float) -> float | None:
    """Efficiency of a sliding trapezoidal thread: tan λ ÷ tan(λ + ρ), ρ the friction angle on its flanks; None for no diameter.

    lead, mean_diameter: [m].
    """
    if mean_diameter <= 0:
        return None
    slope, friction = math.atan(lead / (math.pi * mean_diameter)), math.atan(SLIDING / math.cos(THREAD))
    return round(math.tan(slope) / math.tan(slope + friction), 3)


def solid_cylinder_inertia(diameter: Reals, length: Reals) -> Reals:
    """Moment of inertia of a solid steel cylinder about its axis [kg·m²]; diameter, length [m]."""
    return math.pi * STEEL_DENSITY * length * diameter**4 / 32


def sliding_back_efficiency(efficiency: Reals) -> Reals:
    """Back efficiency of a sliding thread or worm, 2 − 1/η: the usual approximation, negative below one half.

    efficiency: [1].
    """
    return 2.0 - 1.0 / efficiency


def square_thread_back_efficiency(efficiency: Reals, slope: Reals) -> Reals:
    """Back efficiency of a square thread, exact: (2η − 1 + t²)/(η + t²(2 − η)), slope t = lead/(π·pitch diameter).

    Source: the inclined plane with friction, wound round a cylinder; agrees with 2 − 1/η for a flat thread. All without unit [1].
    """
    return (2 * efficiency - 1 + slope**2) / (efficiency + slope**2 * (2 - efficiency))
