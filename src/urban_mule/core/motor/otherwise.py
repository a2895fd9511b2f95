"""How a stepper of several leads may be wired otherwise than entered."""

from __future__ import annotations

from urban_mule.core.motor.stepper import WIRINGS
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.train.known import Otherwise

LOOK = "Power off; the ohmmeter across each phase at the driver, and the leads beside the motor's sheet."


@quantity("", symbol="", source="each wiring that such a motor has", structure=True, formula="the figures of the sheet, rewired")
def wiring_otherwise(wiring: str, figures_for: str) -> tuple[Otherwise, ...]:
    """Every other wiring. figures_for: the one that the sheet's figures are for."""
    return tuple(Otherwise("wiring", one, {"wiring": one}, f"the motor is wired {one.replace('_', ' ')}", LOOK, "ladder")
                 for one in WIRINGS if one != wiring and figures_for)
