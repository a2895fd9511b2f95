"""How hard the winding's heat gets away, by the data sheet and by a warm case."""

from __future__ import annotations

from urban_mule.core.sheet.pair import Measured, pair

LEFT_OUT, CASE_READ = 0.1, 0.05  # shares: of the model of one body, of a thermometer on a case


@pair("thermal resistance, at least", stage="Motor", computes="thermal_resistance", model=LEFT_OUT, readings=("warming",),
      minutes=90.0, gauge=0.05, from_below=True)
def thermal(measured_thermal_resistance: float) -> Measured:
    """Thermal resistance by the case [K/W]: the winding is warmer."""
    return Measured(measured_thermal_resistance, CASE_READ * measured_thermal_resistance)
