"""What a plan needs to know of a servo's loops: where gains begin, and how its drive takes them."""

from __future__ import annotations

import math

from urban_mule.core.ring.gains import integral_as, position_gain_as, velocity_gain_as
from urban_mule.core.ring.loop_plant import INTEGRALS, POSITION_GAINS, VELOCITY_GAINS
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.units import number_text

SINGS = 4.0  # times its limit, where nothing says at which gain it sings
UNITS = {"velocity_gain": VELOCITY_GAINS, "velocity_integral": INTEGRALS, "position_gain": POSITION_GAINS}


@record(frozen=True)
class PlanLoops:
    """inertia [kg·m²] of the loop; velocity_limit and sings_at [N·m·s/rad], position_limit [1/s] as
    computed; the units in which the drive takes
    velocity gain, integral and position gain.
    """

    inertia: float
    velocity_limit: float
    sings_at: float
    position_limit: float
    units: tuple[str, str, str]

    def integral(self, velocity_gain: float, times: float) -> float:
        """So many times 1/ω_x of a velocity gain [s]."""
        return times * self.inertia / velocity_gain

    def said(self, velocity_gain: float, integral: float, position_gain: float) -> str:
        """All three as they are typed into the drive; an integral time of 0 is off."""
        one, two, three = self.units
        off = "off" if not integral else f"{number_text(integral_as(two, integral), 3)} {two}"
        return (f"velocity gain {number_text(velocity_gain_as(one, velocity_gain, self.inertia), 3)} {one}, integral {off},"
                f" position gain {number_text(position_gain_as(three, position_gain), 3)} {three}")


def plan_loops(solution: Solution) -> PlanLoops | None:
    """What is known of the loops of an axis; None for a stepper, and while the drive is not known."""
    if "velocity_gain_limit" not in solution.sheet.quantities:
        return None
    inertia, limit, position = (solution.get(name) for name in ("loop_inertia", "velocity_gain_limit", "position_gain_limit"))
    rule, sings = solution.get("position_gain_rule"), solution.get("singing_gain")
    if inertia is None or limit is None or position is None:
        return None
    one, two, three = (str(solution.get(f"{name}_unit") or usual[0]) for name, usual in UNITS.items())
    return PlanLoops(float(inertia), float(limit), float(sings or SINGS * limit),
                     min(float(position), math.inf if rule is None else float(rule)), (one, two, three))
