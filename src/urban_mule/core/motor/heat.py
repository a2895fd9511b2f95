"""Steady temperature rise of a motor's winding and how long it takes; a motor module gives the copper losses."""

from __future__ import annotations

import numpy as np

from urban_mule.core.sheet.doubt import ROOM
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity

COPPER_COEFFICIENT = 0.00393  # 1/K about 20 °C, annealed copper, IEC 60028
INSULATION_CLASS = {"stepper": ("class B insulation", 130.0), "servo": ("class F insulation", 155.0)}  # °C, IEC 60085, the usual
REFERENCE_TEMPERATURE = 20.0  # °C at which resistance is stated


class Surroundings:
    """What the user knows of the place."""

    ambient_temperature: Reals = given("°C", "T_a", "air around the motor", default=20.0, least=-60, most=150, doubt=ROOM)


def runs_away(loss: Reals, thermal_resistance: Reals) -> Reals:
    """Whether the winding heats faster than it cools at any temperature; loss: at 20 °C [W], thermal_resistance [K/W]."""
    return COPPER_COEFFICIENT * loss * thermal_resistance >= 1


def room_to_cool(loss: Reals, thermal_resistance: Reals) -> Reals:
    """1 − 0.00393·P₀·R_th: what warming leaves of the cooling; none or less is thermal runaway. Raises NotKnown when all run away.

    loss: at 20 °C [W], thermal_resistance [K/W].
    """
    room = 1.0 - COPPER_COEFFICIENT * loss * thermal_resistance
    if np.all(np.asarray(room) <= 0):
        raise NotKnown("at this current the winding heats faster than it cools: thermal runaway")
    return room


def steady_rise(loss: Reals, thermal_resistance: Reals, ambient_temperature: Reals) -> Reals:
    """Steady rise [K] with resistance growing with temperature: ΔT = P_a R_th/(1 − 0.00393 P₀ R_th).

    loss: at 20 °C [W], thermal_resistance [K/W], ambient_temperature [°C]. Among many builds those that run away are
    infinite. Raises NotKnown when all do.
    """
    room = room_to_cool(loss, thermal_resistance)
    at_ambient = loss * (1 + COPPER_COEFFICIENT * (ambient_temperature - REFERENCE_TEMPERATURE))
    return np.where(room > 0, at_ambient * thermal_resistance / room, np.inf)[()]


@quantity("K", symbol="ΔT_h", source="heat balance with copper's temperature coefficient, IEC 60028",
          formula="P_h·R_th·(1 + 0.00393·(T_a − 20)) ÷ (1 − 0.00393·P_h·R_th)", label="Temperature rise while idle")
def holding_temperature_rise(
    holding_copper_loss: Reals, thermal_resistance: Reals, ambient_temperature: Reals
) -> Reals:
    """Rise of the winding over ambient when it only holds, all the time. Raises NotKnown for thermal runaway."""
    return steady_rise(holding_copper_loss, thermal_resistance, ambient_temperature)


@quantity("K", symbol="ΔT_c", source="heat balance with copper's temperature coefficient, IEC 60028",
          formula="P_c·R_th·(1 + 0.00393·(T_a − 20)) ÷ (1 − 0.00393·P_c·R_th)", label="Temperature rise in this cycle")
def cycle_temperature_rise(cycle_copper_loss: Reals, thermal_resistance: Reals, ambient_temperature: Reals) -> Reals:
    """Rise of the winding over ambient when the cycle runs all day. Raises NotKnown for thermal runaway."""
    return steady_rise(cycle_copper_loss, thermal_resistance, ambient_temperature)


@quantity("s", symbol="t_95", source="first-order heating; copper's growing resistance slows it by 1 ÷ (1 − 0.00393·P·R_th)",
          formula="3·τ ÷ (1 − 0.00393·P_c·R_th)", label="Time to 95 % warm", shown="min")
def warm_up_time(thermal_time_constant: Reals, cycle_copper_loss: Reals, thermal_resistance: Reals) -> Reals:
    """Time until the winding has made 95 % of its rise in the cycle; time constant [s]. Raises NotKnown for runaway."""
    room = room_to_cool(cycle_copper_loss, thermal_resistance)
    return np.where(room > 0, 3.0 * thermal_time_constant / np.where(room > 0, room, 1.0), np.inf)[()]


def rise_over_time(time: Reals, rise: Reals, time_to_95: Reals) -> Reals:
    """Rise [K] after a time [s] from cold, towards a steady rise [K] of which 95 % are reached in time_to_95 [s]."""
    return rise * (1 - np.exp(-3.0 * time / time_to_95))
