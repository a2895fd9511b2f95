"""How sentences of verdicts say numbers, and how near a limit a value stands."""

from __future__ import annotations

import numpy as np

from urban_mule.core.sheet.units import LINEAR_UNITS


def size(value: float) -> str:
    """A ratio or count as people say it: three digits at most."""
    return f"{value:.3g}" if abs(value) < 1000 else f"{value:,.0f}".replace(",", " ")


def microns(value: float, unit: str) -> str:
    """A small travel: µm on a linear axis, degrees on a rotary one. unit: the controller's."""
    return f"{value * 1e6:.3g} µm" if unit in LINEAR_UNITS else f"{np.degrees(value):.3g}°"


def distance(value: float, unit: str) -> str:
    """A travel that people see: mm on a linear axis, degrees on a rotary one. unit: the controller's."""
    return f"{size(value * 1e3)} mm" if unit in LINEAR_UNITS else f"{size(np.degrees(value))}°"


def effort(value: float, unit: str) -> str:
    """A force on a linear axis, a torque on a rotary one. unit: the controller's."""
    return f"{size(value)} {'N' if unit in LINEAR_UNITS else 'N·m'}"


def share_of(value: float, tight: float, good: float) -> float:
    """Headroom from 0 at `tight` to 1 at three times the way to `good`; works for limits above and below."""
    return float(np.clip((value - tight) / (3 * (good - tight)), 0.0, 1.0))
