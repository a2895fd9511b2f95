"""What the ladder allows a stepper: a third below the torque at which it lost steps."""

from __future__ import annotations

from typing import Any

from urban_mule.core.brief.limits import Limits, Reach, fastest
from urban_mule.core.brief.settings_room import TorqueLimits
from urban_mule.core.load.asked import AskedTorque
from urban_mule.core.load.pair import OthersPart
from urban_mule.core.motor.margin import TorqueCurve
from urban_mule.core.moves.by_speed import BELOW, MeasuredCurve
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity

WHY = "the ladder lost steps not far above"


@quantity("", symbol="", source="a third below the torque at which the ladder lost steps at that speed", structure=True,
          formula="v of ⅔·T_L(v/r) = T(a)")
def ladder_limits(
    asked_torque: AskedTorque | None = None, ladder_torque_curve: MeasuredCurve | None = None, travel_per_radian: Reals = None,
    top_acceleration: Reals = None, ladder_lost: dict[str, Any] | None = None, ladder_acceleration: Reals = None,
    others_part: OthersPart | None = None,
) -> Limits:
    """Speed and acceleration that leave a third in hand of what the ladder lost; none without a rung that lost steps."""
    if ladder_lost is None or asked_torque is None or ladder_torque_curve is None or top_acceleration is None:
        return Limits()
    curve, a = ladder_torque_curve.crossed(), ladder_acceleration
    least = top_acceleration if a is None else min(float(top_acceleration), float(a))  # of more the acceleration's limit speaks
    torque, others = (0.0, 0.0) if others_part is None else (float(others_part.torque), float(others_part.speed))
    speed = fastest(lambda speeds: BELOW * curve(speeds), float(asked_torque(least)) + torque, travel_per_radian)
    return Limits(() if speed is None else (Reach(max(speed - others, 0.0), "Moves", WHY, "ladder_reading"),),
                  () if a is None else (Reach(float(a), "Moves", WHY, "ladder_reading"),))


@quantity("", symbol="v_x", source="full-step rate within the band of the first resonance", structure=True,
          formula="the band of resonance; none while it is not known")
def speeds_to_cross(resonant_band: list[float] | None = None) -> tuple[float, ...]:
    """The speeds [travel/s] between which nothing should stay."""
    return () if resonant_band is None else (float(resonant_band[0]), float(resonant_band[1]))


@quantity("", symbol="", source="the torque margin wanted; and what the ladder lost less a third", structure=True,
          formula="T_po ≥ S_f·|T|, ⅔·T_L ≥ |T|")
def torque_limits(
    torque_curve: TorqueCurve, safety_factor: Reals, ladder_torque_curve: MeasuredCurve | None = None
) -> TorqueLimits:
    """What a stepper's torque is held against; it is heated by its current, not by the torque it is asked for."""
    ladder = () if ladder_torque_curve is None else (("ladder", ladder_torque_curve.crossed(), 1 / BELOW),)
    return TorqueLimits((("torque", torque_curve, float(safety_factor)), *ladder))
