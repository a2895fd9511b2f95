"""How a driver's current is entered, and what then flows.

People state one current as a number, a trimmer voltage, a row of switches or a step of a register; the winding knows only
the current itself. `current_peak` is what is meant to flow.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

from urban_mule.core.drive.banks import EQUAL, BankSetting, SwitchBank, row_for, set_by_banks
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

ENTRIES = ("number", "trimmer", "switches", "register")
SENSED = "voltage over the sense resistor that the driver holds"


class DriverCurrent:
    """How a stepper driver takes its current."""

    current_entry: str | None = given("", "", "how the current is entered on the driver", choices=ENTRIES,
        label="Current entry")
    entry_is: str | None = given("", "", "whether the number that is typed means RMS or peak", choices=("rms", "peak"),
        label="Number, RMS or peak", missing="whether the number is RMS or peak is not given")
    sense_resistance: Reals = given("Ω", "R_s", "sense resistor that is fitted", above=0, shown="mΩ", label="Sense resistor fitted")
    sense_resistance_extra: Reals = given("Ω", "R_x", "resistance in series with it, in the driver and its tracks", default=0.0,
        least=0, shown="mΩ", label="Series resistance")
    sense_resistance_entered: Reals = given("Ω", "R_e", "sense resistor that the settings assume; else the one fitted", above=0,
        shown="mΩ", label="Sense resistor assumed")
    trimmer_gain: Reals = given("", "A", "trimmer voltage for a volt over the sense resistor, at peak", above=0)
    full_scale_voltage: Reals = given("V", "V_fs", "voltage over the sense resistor at the register's last step", above=0,
        label="Full scale")
    register_steps: Reals = given("", "N_r", "steps of the register", whole=True, least=1, plural=True)


def way_of_entry(current_entry: str | None, switch_banks: tuple[SwitchBank, ...] | None) -> str:
    """How the current is entered: as said, else by the switches where some set it, else as a number."""
    return current_entry or ("switches" if set_by_banks(switch_banks, "current_peak") else "number")


def not_by(way: str) -> Callable[..., str]:
    """Why a way of entry does not apply: a function of how the current is entered and of the banks."""
    def why(current_entry: str | None, switch_banks: tuple[SwitchBank, ...] | None) -> str:
        return "" if way_of_entry(current_entry, switch_banks) == way else f"the current is not entered by a {way}"

    return why


def sensed(sense_resistance: Reals, sense_resistance_extra: Reals) -> Reals:
    """Resistance over which the driver senses the current [Ω]. Raises NotKnown without the resistor."""
    if sense_resistance is None:
        raise NotKnown("sense resistance is not given", "sense_resistance")
    return sense_resistance + sense_resistance_extra


def number_for(
    current: Reals, sense_resistance: Reals, sense_resistance_extra: Reals, sense_resistance_entered: Reals
) -> Reals:
    """The number to type so that a current flows through the resistor that is fitted, both RMS or both peak [A]."""
    if sense_resistance_entered is None:
        return current
    return current * sensed(sense_resistance, sense_resistance_extra) / (sense_resistance_entered + sense_resistance_extra)


def trimmer_for(current_peak: Reals, trimmer_gain: Reals, sense_resistance: Reals, sense_resistance_extra: Reals) -> Reals:
    """Voltage of the trimmer [V] for a peak current [A]. Raises NotKnown."""
    if trimmer_gain is None:
        raise NotKnown("trimmer gain is not given", "trimmer_gain")
    return trimmer_gain * current_peak * sensed(sense_resistance, sense_resistance_extra)


@record(frozen=True, eq=False, repr=False)
class Register:
    """A current register: its last step gives `whole` [A]; it has so many steps, counted from 0."""

    whole: float
    steps: float

    def current(self, step: int) -> float:
        """Peak current of a step [A]."""
        return float(self.whole * (step + 1) / self.steps)

    def step(self, current_peak: float) -> int:
        """The highest step that gives no more than a current [A]. Raises NotKnown when the first is already above."""
        step = math.floor(current_peak * EQUAL / self.whole * self.steps) - 1
        if step < 0:
            raise NotKnown("the first step of the register already gives more than is wanted")
        return int(min(step, self.steps - 1))


@quantity("", symbol="", source=SENSED, structure=True, formula="V_fs ÷ (R_s + R_x) at the last of N_r steps")
def current_steps(
    full_scale_voltage: Reals, register_steps: Reals, sense_resistance: Reals, sense_resistance_extra: Reals
) -> Register:
    """What the steps of the register give; full_scale_voltage [V], resistances [Ω]."""
    return Register(full_scale_voltage / sensed(sense_resistance, sense_resistance_extra), register_steps)


@quantity("A", symbol="I_e", source=SENSED, formula="I·(R_s + R_x) ÷ (R_e + R_x), ÷ √2 when the driver takes RMS",
          label="Number to type", unless=not_by("number"))
def current_entry_value(
    current_peak: Reals, entry_is: str, sense_resistance: Reals = None, sense_resistance_extra: Reals = 0.0,
    sense_resistance_entered: Reals = None,
) -> Reals:
    """The number to type so that the current meant flows through the resistor that is fitted; current_peak [A]. Raises NotKnown."""
    return number_for(current_peak / (math.sqrt(2) if entry_is == "rms" else 1.0), sense_resistance, sense_resistance_extra,
                      sense_resistance_entered)


@quantity("A", symbol="I_t", source=SENSED, formula="I·(R_e + R_x) ÷ (R_s + R_x)", label="Current if typed unchanged",
          unless=not_by("number"))
def current_as_typed(
    current_peak: Reals, sense_resistance: Reals, sense_resistance_extra: Reals, sense_resistance_entered: Reals
) -> Reals:
    """Peak current that flows when the current meant is typed as it stands, for the resistor that the settings assume [A].

    Resistances [Ω].
    """
    return current_peak * (sense_resistance_entered + sense_resistance_extra) / (sense_resistance + sense_resistance_extra)


@quantity("V", symbol="V_ref", source=SENSED, formula="A·I·(R_s + R_x)", label="Trimmer voltage", unless=not_by("trimmer"))
def reference_voltage(
    current_peak: Reals, trimmer_gain: Reals, sense_resistance: Reals, sense_resistance_extra: Reals
) -> Reals:
    """Voltage to set at the trimmer; current_peak [A], resistances [Ω]."""
    return trimmer_for(current_peak, trimmer_gain, sense_resistance, sense_resistance_extra)


@quantity("", symbol="k", source=SENSED, formula="greatest k with V_fs ÷ (R_s + R_x)·(k + 1)/N ≤ I", label="Register step",
          unless=not_by("register"))
def current_register(current_peak: float, current_steps: Register) -> int:
    """The highest step, from 0 on, that gives no more than the current meant [A]; for a single build.

    Raises NotKnown when the first step is already above.
    """
    return current_steps.step(current_peak)


@quantity("A", symbol="I_real", source="the setting that comes nearest without being above",
          formula="highest row or step ≤ I, else I", label="Actual current")
def current_peak_real(
    current_peak: float, current_entry: str | None = None, switch_banks: tuple[SwitchBank, ...] | None = None,
    bank_settings: tuple[BankSetting, ...] | None = None, current_steps: Register | None = None,
) -> float:
    """Peak current that flows with what can be set [A]. Raises NotKnown when every setting is above the current meant."""
    way = way_of_entry(current_entry, switch_banks)
    if way == "switches":
        if not bank_settings:
            raise NotKnown("no bank of switches is described", "switch_banks")
        return float(row_for(bank_settings, "current_peak").current_peak)
    if way == "register":
        if current_steps is None:
            raise NotKnown("what the register gives is not known", "full_scale_voltage", "register_steps")
        return current_steps.current(current_steps.step(current_peak))
    return current_peak


@quantity("N·m", symbol="ΔT", source="torque amplitude per ampere of peak", label="Torque lost by rounding the setting")
def torque_lost_to_setting(torque_constant: Reals, current_peak: Reals, current_peak_real: Reals) -> Reals:
    """Torque that is given away because the setting is coarse; currents [A], torque_constant [N·m/A]."""
    return torque_constant * (current_peak - current_peak_real)


@record(frozen=True, eq=False, repr=False)
class Language:
    """One way to say the set current: its words, its value (A, V, positions or a step), None and why where this driver has not.

    own: whether this driver takes it so. rms: of a number, whether it is RMS.
    """

    way: str
    value: float | str | None
    own: bool
    rms: bool = False
    why: str = ""


@quantity("", symbol="", source=SENSED, structure=True,
          formula="the set current as RMS, as peak, as volts, as positions, as a step")
def current_languages(
    current_peak: float, current_entry: str | None = None, switch_banks: tuple[SwitchBank, ...] | None = None,
    entry_is: str | None = None, sense_resistance: Reals = None, sense_resistance_extra: Reals = 0.0,
    sense_resistance_entered: Reals = None, trimmer_gain: Reals = None, bank_settings: tuple[BankSetting, ...] | None = None,
    current_steps: Register | None = None,
) -> tuple[Language, ...]:
    """The set current in every language, each as this driver would have it; current_peak [A], resistances [Ω]."""
    way = way_of_entry(current_entry, switch_banks)
    found = []
    for is_rms in (True, False):
        number = current_peak / math.sqrt(2) if is_rms else current_peak
        own = way == "number" and entry_is == ("rms" if is_rms else "peak")
        found.append(_said("number", partial(
            number_for, number, sense_resistance, sense_resistance_extra, sense_resistance_entered), own, is_rms))
    found.append(_said("trimmer", lambda: trimmer_for(current_peak, trimmer_gain, sense_resistance, sense_resistance_extra),
                       way == "trimmer"))
    found.append(_said("switches", lambda: row_for(bank_settings or (), "current_peak").positions, way == "switches"))
    found.append(_said("register", lambda: _step(current_steps, current_peak), way == "register"))
    return tuple(found)


def _step(register: Register | None, current_peak: float) -> int:
    if register is None:
        raise NotKnown("what a register would give is not known")
    return register.step(current_peak)


def _said(way: str, value: Callable[[], float | str], own: bool, rms: bool = False) -> Language:
    try:
        return Language(way, value(), own, rms)
    except NotKnown as why:
        return Language(way, None, own, rms, str(why))
