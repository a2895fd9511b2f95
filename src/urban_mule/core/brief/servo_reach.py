"""What a ladder allows a servo: nothing is lost on it, so nothing is learnt."""

from __future__ import annotations

from urban_mule.core.brief.limits import Limits
from urban_mule.core.brief.settings_room import TorqueLimits
from urban_mule.core.motor.margin import TorqueCurve
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity


@quantity("", symbol="", source="a servo has no ladder of lost steps", structure=True, formula="no limits")
def ladder_limits() -> Limits:
    """No limit."""
    return Limits()


@quantity("", symbol="v_x", source="a servo holds its place by its loop, not by steps", structure=True, formula="none")
def speeds_to_cross() -> tuple[float, ...]:
    """A servo has no speeds at which steps ring it."""
    return ()


@quantity("", symbol="", source="the torque margin wanted; and the torque that it is rated for all the time", structure=True,
          formula="T_peak(ω) ≥ S_f·|T|, T_rms ≤ T_rated")
def torque_limits(torque_curve: TorqueCurve, safety_factor: Reals, rated_torque: Reals) -> TorqueLimits:
    """What a servo's torque is held against; rated_torque [N·m]."""
    return TorqueLimits((("torque", torque_curve, float(safety_factor)),), float(rated_torque))
