"""What the wall gives."""

from __future__ import annotations

from urban_mule.core.sheet.given import Reals, given


class Mains:
    """What the user knows of the shop's circuit."""

    mains_voltage: Reals = given("V", "V_m", "voltage of the circuit", above=0)
    circuit_rating: Reals = given("A", "I_m", "rating of the circuit", above=0)
