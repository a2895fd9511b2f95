"""What every driver has, whatever its motor: a supply."""

from __future__ import annotations

import numpy as np

from urban_mule.core.sheet.doubt import SUPPLIED
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity


class AnyDriver:
    """What the user knows of every driver."""

    supply_voltage: Reals = given("V", "V_s", "supply of the driver; the project's where the axis names none", above=0,
        doubt=SUPPLIED)
    voltage_drop: Reals = given("V", "V_d", "lost in the bridge and the leads", default=0.0, least=0)
    voltage_limit: Reals = given("V", "V_lim", "most the driver takes", above=0, label="Driver voltage limit")


@quantity("V", symbol="V", source="supply less the bridge's drops")
def available_voltage(supply_voltage: Reals, voltage_drop: Reals) -> Reals:
    """What the driver can put on the winding. Raises NotKnown when the drop leaves nothing. supply_voltage, voltage_drop [V]."""
    if np.all(np.asarray(supply_voltage - voltage_drop) <= 0):
        raise NotKnown("the voltage drop leaves nothing of the supply")
    return np.maximum(supply_voltage - voltage_drop, 0.0)
