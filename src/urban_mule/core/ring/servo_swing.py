"""The mode that an axis with a servo is left swinging in."""

from __future__ import annotations

from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.swing import USUAL_DAMPING
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity


@quantity("", symbol="f, ζ", source="the strongest mode of the last record; without one the computed one, the motor held",
          structure=True, formula=f"f, ζ of the record, else f_1 computed and ζ = {USUAL_DAMPING:g}")
def swinging_mode(modes: tuple[Mode, ...] | None = None, first_axial_mode: Reals = None) -> Mode:
    """The mode that a move leaves swinging. Raises NotKnown with neither a record nor a stiffness."""
    if modes:
        return modes[0]
    if first_axial_mode is None:
        raise NotKnown("neither a record nor a stiffness tells how it swings", "acceleration_reading")
    return Mode(float(first_axial_mode), USUAL_DAMPING, 1.0, 1.0)
