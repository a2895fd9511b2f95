"""How warm a driver gets, and what better cooling would let it give."""

from __future__ import annotations

from typing import Any

import numpy as np

from urban_mule.core.sheet.doubt import HEAT_PATH
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

HEAT = "heat balance of the bridge; two phases a quarter turn apart: the sum of their squares is the peak squared"
COOLINGS = ("bare", "finned", "fan")  # each with a thermal resistance that the user keeps with the driver


class DriverHeat:
    """What makes a driver warm and what cools it."""

    bridge_resistance: Reals = given("Ω", "R_b", "one path through the bridge, high and low side together", above=0, shown="mΩ",
        doubt=HEAT_PATH)
    driver_standing_loss: Reals = given("W", "P_0", "what it takes without current in the motor", default=0.0, least=0,
        label="Standing loss")
    driver_thermal_resistance: Reals = given("K/W", "R_d", "how hard its heat gets away, as it is cooled", above=0,
        label="Thermal resistance of the driver", doubt=HEAT_PATH)
    driver_temperature_limit: Reals = given("°C", "T_lim", "hottest that it may get", above=-273.15, label="Temperature limit")
    cooling: str | None = given("", "", "how it is cooled", choices=COOLINGS, label="Cooling")
    thermal_resistance_bare: Reals = given("K/W", "R_b0", "driver to air without fins", above=0,
        label="Bare thermal resistance", doubt=HEAT_PATH)
    thermal_resistance_finned: Reals = given("K/W", "R_b1", "driver to air with fins", above=0,
        label="Finned thermal resistance", doubt=HEAT_PATH)
    thermal_resistance_fan: Reals = given("K/W", "R_b2", "driver to air with fins and a fan", above=0,
        label="Fan-cooled thermal resistance", doubt=HEAT_PATH)


HEAT_GIVENS = ("bridge_resistance", "driver_thermal_resistance", "driver_temperature_limit", "cooling",
               *(f"thermal_resistance_{way}" for way in COOLINGS))


@quantity("K/W", symbol="R_c", source="as it is cooled: the figure for all of it, else that of its cooling",
          label="Thermal resistance as cooled", formula="R_d, else that of the cooling chosen")
def cooled_resistance(
    driver_thermal_resistance: Reals = None, cooling: str | None = None, thermal_resistance_bare: Reals = None,
    thermal_resistance_finned: Reals = None, thermal_resistance_fan: Reals = None,
) -> Reals:
    """Thermal resistance of the driver as it is cooled [K/W]. Raises NotKnown."""
    of = dict(zip(COOLINGS, (thermal_resistance_bare, thermal_resistance_finned, thermal_resistance_fan), strict=True))
    if driver_thermal_resistance is not None and (cooling is None or of[cooling] is None):
        return driver_thermal_resistance
    if cooling is None:
        raise NotKnown("how the driver is cooled is not given", "cooling", "driver_thermal_resistance")
    if of[cooling] is None:
        raise NotKnown("how hard its heat gets away is not given", f"thermal_resistance_{cooling}")
    return of[cooling]


@quantity("W", symbol="P_d", source=HEAT, label="Heat in the driver")
def driver_loss(current_peak: Reals, bridge_resistance: Reals, driver_standing_loss: Reals) -> Reals:
    """Heat in the driver with both phases on; current_peak [A]."""
    return current_peak**2 * bridge_resistance + driver_standing_loss


@quantity("°C", symbol="T_d", source=HEAT)
def driver_temperature(ambient_temperature: Reals, cooled_resistance: Reals, driver_loss: Reals) -> Reals:
    """How warm the driver gets as it is cooled; driver_loss [W], ambient_temperature [°C]."""
    return ambient_temperature + cooled_resistance * driver_loss


@quantity("K/W", symbol="R_cm", source="rise of its fin over its heat; the chips are warmer than the fin, so it is a lower bound",
          formula="ΔT_d ÷ P_d", label="Thermal resistance as cooled, measured at least")
def measured_cooled_resistance(driver_warming_rise: float, driver_loss: Reals) -> Reals:
    """Thermal resistance of the driver by its fin [K/W]; driver_loss [W]."""
    return driver_warming_rise / driver_loss


def borne(
    thermal_resistance: Reals, ambient_temperature: Reals, driver_temperature_limit: Reals, bridge_resistance: Reals,
    driver_standing_loss: Reals,
) -> Reals:
    """Peak current [A] that a driver bears all the time; nan where it is too hot without any.

    thermal_resistance [K/W], temperatures [°C], bridge_resistance [Ω], driver_standing_loss [W].
    """
    room = np.asarray((driver_temperature_limit - ambient_temperature) / thermal_resistance - driver_standing_loss, dtype=float)
    return np.sqrt(np.where(room < 0, np.nan, room) / bridge_resistance)[()]


@quantity("A", symbol="I_d", source=HEAT, formula="√(((T_lim − T_a)/R_c − P_0) ÷ R_b)", label="Current limit as cooled")
def driver_current_limit(
    ambient_temperature: Reals, cooled_resistance: Reals, driver_temperature_limit: Reals, bridge_resistance: Reals,
    driver_standing_loss: Reals,
) -> Reals:
    """Peak current that the driver bears all the time as it is cooled. Raises NotKnown when it is too hot without any."""
    found = borne(cooled_resistance, ambient_temperature, driver_temperature_limit, bridge_resistance, driver_standing_loss)
    if np.all(np.isnan(found)):
        raise NotKnown("the driver gets hotter than it may without any current")
    return found


@quantity("", symbol="s_d", source="torque goes with the current", formula="min(1, I_d/I_r)", shown="%",
          label="Torque left as cooled")
def cooled_torque_share(driver_current_limit: Reals, rated_current_peak: Reals) -> Reals:
    """Share of the motor's rated torque that the driver's cooling lets it have; both [A]."""
    return np.minimum(1.0, driver_current_limit / rated_current_peak)


@record(frozen=True, eq=False, repr=False)
class CoolingSchool:
    """One way to cool a driver: what it bears then, peak [A] (0: not even without current), and whether it is the one in use."""

    cooling: str
    current_limit: float
    used: bool


@quantity("", symbol="", source=HEAT, structure=True, formula="I_d for each thermal resistance that is given")
def cooling_schools(
    ambient_temperature: float, driver_temperature_limit: float, bridge_resistance: float, driver_standing_loss: float,
    driver_thermal_resistance: Reals = None, cooling: str | None = None, thermal_resistance_bare: Reals = None,
    thermal_resistance_finned: Reals = None, thermal_resistance_fan: Reals = None,
) -> tuple[CoolingSchool, ...]:
    """What the driver bears, cooled in each way that the user keeps a figure for. Raises NotKnown without any."""
    ways: dict[str, Any] = dict(zip(
        COOLINGS, (thermal_resistance_bare, thermal_resistance_finned, thermal_resistance_fan), strict=True))
    if not any(ways.values()):
        ways = {"as it is": driver_thermal_resistance}
        cooling = "as it is"
    found = [CoolingSchool(way, float(np.nan_to_num(borne(
        resistance, ambient_temperature, driver_temperature_limit, bridge_resistance, driver_standing_loss))), way == cooling)
        for way, resistance in ways.items() if resistance is not None]
    if not found:
        raise NotKnown("how hard the driver's heat gets away is not given", *(f"thermal_resistance_{way}" for way in COOLINGS))
    return tuple(found)
