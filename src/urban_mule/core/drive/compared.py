"""How hard the driver's heat gets away, by its sheet and by a warm fin."""

from __future__ import annotations

from urban_mule.core.sheet.pair import Measured, pair

LEFT_OUT, FIN_READ = 0.1, 0.05  # shares: of the model of one body, of a thermometer on a fin


@pair("thermal resistance of the driver, at least", stage="Drive", computes="cooled_resistance", model=LEFT_OUT,
      readings=("cooling",), from_below=True)
def driver_thermal(measured_cooled_resistance: float) -> Measured:
    """Thermal resistance by the fin [K/W]: the chips are warmer."""
    return Measured(measured_cooled_resistance, FIN_READ * measured_cooled_resistance)
