"""What may be set otherwise than entered on a stepper's driver, by what it changes."""

from __future__ import annotations

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.wording import size
from urban_mule.core.train.known import Otherwise

SENSE_SIZES = (0.05, 0.068, 0.075, 0.1, 0.11, 0.12, 0.15, 0.2, 0.22, 0.25, 0.33)  # Ω, as drivers have them (E24 of IEC 60063)
FACTORS = (2.0, 4.0, 0.5, 0.25)
LEAST_OFF = 0.02  # share off which another size is worth a look
SWITCHES = "Power off; the driver's switches or its register must stand for {:g} microsteps."
RESISTOR = "Power off; read the resistor beside the chip: {:g} mΩ is entered, {:g} mΩ would be it."


@quantity("", symbol="", source="microsteps by a factor of two or four", structure=True, formula="entered ÷ real")
def microsteps_otherwise(microsteps: Reals) -> tuple[Otherwise, ...]:
    """Other microsteps: each goes so many times as far."""
    return tuple(
        Otherwise("microsteps", microsteps * factor, {}, f"{size(microsteps * factor)} microsteps are set",
                  SWITCHES.format(microsteps), "travel", 1 / factor)
        for factor in FACTORS if microsteps * factor >= 1)


@quantity("", symbol="", source="usual sizes of sense resistors", structure=True, formula="I·R_s ÷ R")
def sense_resistor_otherwise(sense_resistance: Reals, current_peak: Reals) -> tuple[Otherwise, ...]:
    """Another sense resistor: more or less current flows; sense_resistance [Ω], current_peak [A]."""
    return tuple(
        Otherwise("sense_resistance", there, {"current_peak": current_peak * sense_resistance / there},
                  f"a sense resistor of {size(1e3 * there)} mΩ is fitted",
                  RESISTOR.format(1e3 * sense_resistance, 1e3 * there), "warming")
        for there in SENSE_SIZES if abs(there / sense_resistance - 1) > LEAST_OFF)
