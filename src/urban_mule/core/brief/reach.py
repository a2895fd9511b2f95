"""What an axis really reaches: the least of what all stages allow, with the one that binds."""

from __future__ import annotations

from typing import Any

from urban_mule.core.drive.pulses import SharedPulses, pulse_limits
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.stages import StageName

LEAST = "the least of what the stages allow"


@record(frozen=True, eq=False, repr=False)
class Reach:
    """What is reached [travel/s or travel/s²], and the stage and the reason that hold it there."""

    value: float
    stage: StageName
    why: str


def _stall(working_margin: Reals) -> list[Reach]:
    stalls = working_margin is not None and working_margin < 1
    return [Reach(0.0, "Motor", "the motor stalls in this cycle")] if stalls else []


@quantity("", symbol="v_r", source=LEAST, structure=True, formula="min (cycle, pulses, motor)")
def speed_reached(
    top_speed: float, working_margin: Reals = None, pulse_rate: Reals = None, max_pulse_rate: Reals = None,
    minimum_pulse_width: Reals = None, minimum_pulse_gap: Reals = None, pulses_shared: SharedPulses | None = None,
) -> Reach:
    """The speed that this axis reaches; top_speed [travel/s], pulse rates [Hz], pulse times [s]."""
    allowed = [Reach(float(top_speed), "Moves", "the cycle asks no more"), *_stall(working_margin)]
    for limit in pulse_limits(max_pulse_rate, minimum_pulse_width, minimum_pulse_gap, pulses_shared) if pulse_rate else ():
        allowed.append(Reach(float(top_speed * limit.rate / pulse_rate), "Drive", f"{limit.who} no more pulses"))
    return min(allowed, key=lambda one: one.value)


@quantity("", symbol="a_r", source=LEAST, structure=True, formula="min (cycle, path of the shaper, motor)")
def acceleration_reached(
    top_acceleration: float, working_margin: Reals = None, chosen_shaper: dict[str, Any] | None = None
) -> Reach:
    """The acceleration that this axis reaches with its path true; top_acceleration [travel/s²]."""
    allowed = [Reach(float(top_acceleration), "Moves", "the cycle asks no more"), *_stall(working_margin)]
    if chosen_shaper is not None:
        allowed.append(Reach(float(chosen_shaper["allowed_acceleration"]), "Ring",
                             f"with {chosen_shaper['name']} the path stays true only up to there"))
    return min(allowed, key=lambda one: one.value)
