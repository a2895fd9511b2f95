"""How a driver's current is entered, what then flows, and how warm the driver gets.

People state one current as a number, a trimmer voltage, a row of switches or a step of a register; the winding knows only
the current itself. `current_peak` is what is meant to flow.
"""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.drive.stepper import SwitchPosition, switch_position
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import DoesNotApply, NotKnown, quantity

ENTRIES = ("number", "trimmer", "switches", "register")
EQUAL = 1 + 1e-9  # a billionth above counts as equal
SENSED = "voltage over the sense resistor that the driver holds"
HEAT = "heat balance of the bridge; two phases a quarter turn apart: the sum of their squares is the peak squared"


class DriverCurrent:
    """How a stepper driver takes its current."""

    current_entry: str | None = given("", "", "how the current is entered on the driver", choices=ENTRIES)
    entry_is: str | None = given("", "", "whether the number that is typed means RMS or peak", choices=("rms", "peak"))
    sense_resistance: Reals = given("Ω", "R_s", "sense resistor that is fitted", above=0, shown="mΩ")
    sense_resistance_extra: Reals = given("Ω", "R_x", "resistance in series with it, in the driver and its tracks", default=0.0,
        least=0, shown="mΩ")
    sense_resistance_entered: Reals = given("Ω", "R_e", "sense resistor that the settings assume; else the one fitted", above=0,
        shown="mΩ")
    trimmer_gain: Reals = given("", "A", "trimmer voltage for a volt over the sense resistor, at peak", above=0)
    full_scale_voltage: Reals = given("V", "V_fs", "voltage over the sense resistor at the register's last step", above=0)
    register_steps: Reals = given("", "N_r", "steps of the register", whole=True, least=1)


class DriverHeat:
    """What makes a driver warm and what cools it."""

    bridge_resistance: Reals = given("Ω", "R_b", "one path through the bridge, high and low side together", above=0, shown="mΩ")
    driver_standing_loss: Reals = given("W", "P_0", "what it takes without current in the motor", default=0.0, least=0)
    driver_thermal_resistance: Reals = given("K/W", "R_d", "how hard its heat gets away, as it is cooled", above=0)
    driver_temperature_limit: Reals = given("°C", "T_lim", "hottest that it may get", above=-273.15)


def way_of_entry(current_entry: str | None, switch_bank: tuple[SwitchPosition, ...] | None) -> str:
    """How the current is entered: as said, else by the switches where there are some, else as a number."""
    return current_entry or ("number" if switch_bank is None else "switches")


def sensed(sense_resistance: Reals, sense_resistance_extra: Reals) -> Reals:
    """Resistance over which the driver senses the current [Ω]. Raises NotKnown without the resistor."""
    if sense_resistance is None:
        raise NotKnown("sense resistance is not given", "sense_resistance")
    return sense_resistance + sense_resistance_extra


@quantity("A", symbol="I_e", source=SENSED, formula="I·(R_s + R_x) ÷ (R_e + R_x), ÷ √2 when the driver takes RMS",
          label="Current to type")
def current_entry_value(
    current_peak: Reals, current_entry: str | None = None, switch_bank: tuple[SwitchPosition, ...] | None = None,
    entry_is: str | None = None, sense_resistance: Reals = None, sense_resistance_extra: Reals = 0.0,
    sense_resistance_entered: Reals = None,
) -> Reals:
    """The number to type so that the current meant flows through the resistor that is fitted; current_peak [A].

    Raises DoesNotApply for another way of entry, NotKnown.
    """
    if way_of_entry(current_entry, switch_bank) != "number":
        raise DoesNotApply("the current is not entered as a number")
    if entry_is is None:
        raise NotKnown("whether the driver takes RMS or peak is not given", "entry_is")
    factor = 1.0 if sense_resistance_entered is None else (
        sensed(sense_resistance, sense_resistance_extra) / (sense_resistance_entered + sense_resistance_extra))
    return current_peak * factor / (math.sqrt(2) if entry_is == "rms" else 1.0)


@quantity("V", symbol="V_ref", source=SENSED, formula="A·I·(R_s + R_x)", label="Trimmer voltage")
def reference_voltage(
    current_peak: Reals, current_entry: str | None = None, switch_bank: tuple[SwitchPosition, ...] | None = None,
    trimmer_gain: Reals = None, sense_resistance: Reals = None, sense_resistance_extra: Reals = 0.0,
) -> Reals:
    """Voltage to set at the trimmer; current_peak [A]. Raises DoesNotApply for another way of entry, NotKnown."""
    if way_of_entry(current_entry, switch_bank) != "trimmer":
        raise DoesNotApply("the current is not entered by a trimmer")
    if trimmer_gain is None:
        raise NotKnown("trimmer gain is not given", "trimmer_gain")
    return trimmer_gain * current_peak * sensed(sense_resistance, sense_resistance_extra)


@quantity("", symbol="k", source=SENSED, formula="greatest k with V_fs ÷ (R_s + R_x)·(k + 1)/N ≤ I", label="Register step")
def current_register(
    current_peak: float, current_entry: str | None = None, switch_bank: tuple[SwitchPosition, ...] | None = None,
    full_scale_voltage: Reals = None, register_steps: Reals = None, sense_resistance: Reals = None,
    sense_resistance_extra: Reals = 0.0,
) -> int:
    """The highest step, from 0 on, that gives no more than the current meant [A]; for a single build.

    Raises DoesNotApply for another way of entry, NotKnown, also when the first step is already above.
    """
    if way_of_entry(current_entry, switch_bank) != "register":
        raise DoesNotApply("the current is not entered into a register")
    asked = {"full_scale_voltage": full_scale_voltage, "register_steps": register_steps}
    missing = [name for name, value in asked.items() if value is None]
    if missing:
        raise NotKnown("what the register gives is not known", *missing)
    whole = full_scale_voltage / sensed(sense_resistance, sense_resistance_extra)
    step = math.floor(current_peak * EQUAL / whole * register_steps) - 1
    if step < 0:
        raise NotKnown("the first step of the register already gives more than is meant")
    return int(min(step, register_steps - 1))


@quantity("A", symbol="I_real", source="the setting that comes nearest without being above",
          formula="highest row or step ≤ I, else I", label="Current that flows")
def current_peak_real(
    current_peak: float, current_entry: str | None = None, switch_bank: tuple[SwitchPosition, ...] | None = None,
    current_register: int | None = None, full_scale_voltage: Reals = None, register_steps: Reals = None,
    sense_resistance: Reals = None, sense_resistance_extra: Reals = 0.0,
) -> float:
    """Peak current that flows with what can be set [A]. Raises NotKnown when every setting is above the current meant."""
    way = way_of_entry(current_entry, switch_bank)
    if way == "switches":
        if not switch_bank:
            raise NotKnown("the switch bank has no row", "switch_bank")
        return switch_position(switch_bank, current_peak).current_peak
    if way == "register":
        if current_register is None:
            raise NotKnown("no step of the register is known for it", "full_scale_voltage", "register_steps")
        whole = full_scale_voltage / sensed(sense_resistance, sense_resistance_extra)
        return float(whole * (current_register + 1) / register_steps)
    return current_peak


@quantity("N·m", symbol="ΔT", source="torque amplitude per ampere of peak", label="Torque lost to the setting")
def torque_lost_to_setting(torque_constant: Reals, current_peak: Reals, current_peak_real: Reals) -> Reals:
    """Torque that is given away because the setting is coarse; currents [A], torque_constant [N·m/A]."""
    return torque_constant * (current_peak - current_peak_real)


@quantity("W", symbol="P_d", source=HEAT, label="Heat in the driver")
def driver_loss(current_peak: Reals, bridge_resistance: Reals, driver_standing_loss: Reals) -> Reals:
    """Heat in the driver with both phases on; current_peak [A]."""
    return current_peak**2 * bridge_resistance + driver_standing_loss


@quantity("°C", symbol="T_d", source=HEAT)
def driver_temperature(ambient_temperature: Reals, driver_thermal_resistance: Reals, driver_loss: Reals) -> Reals:
    """How warm the driver gets as it is cooled; driver_loss [W], ambient_temperature [°C]."""
    return ambient_temperature + driver_thermal_resistance * driver_loss


@quantity("A", symbol="I_d", source=HEAT, formula="√(((T_lim − T_a)/R_d − P_0) ÷ R_b)", label="Driver bears, peak")
def driver_current_limit(
    ambient_temperature: Reals, driver_thermal_resistance: Reals, driver_temperature_limit: Reals, bridge_resistance: Reals,
    driver_standing_loss: Reals,
) -> Reals:
    """Peak current that the driver bears all the time as it is cooled. Raises NotKnown when it is too hot without any."""
    room = (driver_temperature_limit - ambient_temperature) / driver_thermal_resistance - driver_standing_loss
    if np.all(np.asarray(room) < 0):
        raise NotKnown("the driver gets hotter than it may without any current")
    return np.sqrt(room / bridge_resistance)


@quantity("", symbol="s_d", source="torque goes with the current", formula="min(1, I_d/I_r)", shown="%",
          label="Torque left by cooling")
def cooled_torque_share(driver_current_limit: Reals, rated_current_peak: Reals) -> Reals:
    """Share of the motor's rated torque that the driver's cooling lets it have; both [A]."""
    return np.minimum(1.0, driver_current_limit / rated_current_peak)
