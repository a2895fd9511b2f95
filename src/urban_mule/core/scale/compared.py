"""How far the axis goes for what it is told, by its parts and by a gauge."""

from __future__ import annotations

from urban_mule.core.sheet.pair import Measured, pair

LEFT_OUT, OF_GAUGE = 5e-4, 2e-4  # shares: pitch errors of parts, and of a measured ratio whose uncertainty nobody said


@pair("scale", stage="Scale", computes="travel_per_turn", model=LEFT_OUT, readings=("lengths", "travel"), minutes=15.0, gauge=1e-4,
      shown_as="scale_ratio")
def scale(scale_ratio: float, scale_ratio_uncertainty: float | None = None, scale_doubt: str = "") -> Measured | None:
    """Measured over commanded travel; nothing where it is none that a part or a setting makes."""
    if scale_doubt:
        return None
    return Measured(scale_ratio, OF_GAUGE if scale_ratio_uncertainty is None else scale_ratio_uncertainty, starts_at=1.0)
