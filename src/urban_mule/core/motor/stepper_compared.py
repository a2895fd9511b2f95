"""The resistance of a phase, by the data sheet and by the ohmmeter."""

from __future__ import annotations

from urban_mule.core.sheet.pair import Measured, pair

READ_TO, LEFT_OUT = 0.02, 0.02  # shares: of an ohmmeter with its leads, of copper that is five kelvin warmer or colder


@pair("coil resistance", stage="Moves", computes="phase_resistance", model=LEFT_OUT, readings=())
def coil(coil_resistance: float) -> Measured:
    """What the ohmmeter says of a phase [Ω]."""
    return Measured(coil_resistance, READ_TO * coil_resistance)
