"""Units in which pictures are drawn: of travel a coarse one along the axis, a small one for errors; and any other."""

from __future__ import annotations

from urban_mule.core.sheet.units import FACTORS, unit_shown
from urban_mule.store.state.axis_state import AxisState


def travel(of: AxisState) -> tuple[float, str]:
    """What a position is multiplied by, and the unit it is then in."""
    return drawn_in(of, "[travel]")


def small(of: AxisState) -> tuple[float, str]:
    """The same for an error of position."""
    if of.axis.motion == "rotary":
        return 1 / FACTORS["°"], "°"
    return (1000 / FACTORS["in"], "mil") if of.system == "inch" else (1e6, "µm")


def drawn_in(of: AxisState, si: str) -> tuple[float, str]:
    """What a value is multiplied by to be drawn in the units of the project, and that unit; si: its own, such as [travel]/s."""
    if "[travel]" in si:  # a spindle has none
        si = si.replace("[travel]", of.sheet.units["[travel]"])
    unit = unit_shown(si, of.system)
    return FACTORS[si] / FACTORS[unit], unit
