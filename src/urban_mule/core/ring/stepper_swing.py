"""The mode that an axis with a stepper is left swinging in."""

from __future__ import annotations

from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.swing import USUAL_DAMPING
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity


@quantity("", symbol="f, ζ", source="the strongest mode of the last record; without one the lowest computed, the field a spring",
          structure=True, formula=f"f_1, ζ of the record, else f_1 computed and ζ = {USUAL_DAMPING:g}")
def swinging_mode(modes: tuple[Mode, ...] | None = None, axis_modes: list[Reals] | None = None) -> Mode:
    """The mode that a move leaves swinging. Raises NotKnown with neither a record nor a stiffness."""
    if modes:
        return modes[0]
    if axis_modes is None or not float(axis_modes[0]):
        raise NotKnown("neither a record nor a computed mode tells how it swings", "acceleration_reading")
    return Mode(float(axis_modes[0]), USUAL_DAMPING, 1.0, 1.0)
