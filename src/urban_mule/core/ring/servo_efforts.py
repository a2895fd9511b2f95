"""Inertia, friction and weight of a servo axis, computed and by the torque over a few moves."""

from __future__ import annotations

from typing import Any

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.pair import Measured, pair
from urban_mule.core.sheet.quantity import quantity

OF_INERTIA, OF_FRICTION = 0.02, 0.05  # shares that the formulas leave out; the second of friction and weight together
LEAST_SIZE = 1e-12  # N·m
BY_EFFORT: dict[str, Any] = {"readings": ("effort",), "minutes": 6.0, "gauge": 0.03}


@quantity("N·m", symbol="T_f", source="half of what creeping to plus and to minus differs by", formula="(T₊ − T₋) ÷ 2",
          label="Friction at the motor")
def creep_friction(creep_torque_plus: Reals, creep_torque_minus: Reals) -> Reals:
    """Torque of friction at the motor."""
    return (creep_torque_plus - creep_torque_minus) / 2


@quantity("N·m", symbol="T_g", source="half of what creeping to plus and to minus sums to", formula="(T₊ + T₋) ÷ 2",
          label="Steady torque at the motor")
def creep_gravity(creep_torque_plus: Reals, creep_torque_minus: Reals) -> Reals:
    """Torque of weight at the motor."""
    return (creep_torque_plus + creep_torque_minus) / 2


def _both(computed: float, other: float) -> float:
    """What the formula leaves out of one, as a share of it: of friction and weight together."""
    return OF_FRICTION * (abs(computed) + abs(other)) / max(abs(computed), LEAST_SIZE)


@pair("inertia", stage="Ring", computes="loop_inertia", model=OF_INERTIA, shown_as="measured_inertia", **BY_EFFORT)
def inertia(measured_inertia: float, measured_inertia_uncertainty: float) -> Measured:
    """Inertia by the torque while it speeds up [kg·m²]."""
    return Measured(measured_inertia, measured_inertia_uncertainty)


@pair("friction", stage="Ring", computes="creep_friction", model=OF_FRICTION, shown_as="measured_coulomb", **BY_EFFORT)
def friction(
    computed: float, creep_gravity: float, measured_coulomb: float, measured_coulomb_uncertainty: float
) -> Measured:
    """Dry friction by the torque of both ways [N·m]."""
    return Measured(measured_coulomb, measured_coulomb_uncertainty, model=_both(computed, creep_gravity))


@pair("weight", stage="Ring", computes="creep_gravity", model=OF_FRICTION, shown_as="measured_gravity_torque", **BY_EFFORT)
def gravity(
    computed: float, creep_friction: float, measured_gravity_torque: float, measured_gravity_torque_uncertainty: float
) -> Measured:
    """Steady torque of both ways [N·m]."""
    return Measured(measured_gravity_torque, measured_gravity_torque_uncertainty, model=_both(computed, creep_friction))
