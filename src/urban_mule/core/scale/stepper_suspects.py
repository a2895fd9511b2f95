"""What may be set otherwise than entered on a stepper and its driver."""

from __future__ import annotations

from urban_mule.core.scale.detective import BEFORE, Suspect
from urban_mule.core.sheet.quantity import quantity

MICROSTEPS = (1, 2, 4, 5, 8, 10, 16, 20, 25, 32, 40, 50, 64, 100, 128, 200, 256)
STEPS_A_TURN = (200, 400, 500, 48, 96, 100)


@quantity("", symbol="", source="microsteps that drivers have, steps that motors have", structure=True,
          formula="entered ÷ real")
def drive_suspects(microsteps: float, full_steps_per_turn: float) -> tuple[Suspect, ...]:
    """Other microsteps and other motors, and the ratio that each makes."""
    return (
        *(Suspect("microsteps", f"{microsteps:g}", f"{there}", microsteps / there, 1.0,
                  f"Power off; the driver's switches or its register must stand for {microsteps:g} microsteps.", BEFORE)
          for there in MICROSTEPS),
        *(Suspect("motor", f"{full_steps_per_turn:g} steps a turn", f"{there} steps a turn", full_steps_per_turn / there, 0.4,
                  f"The motor's label: {360 / full_steps_per_turn:g}° a step is entered, {360 / there:g}° would be it.", BEFORE)
          for there in STEPS_A_TURN))
