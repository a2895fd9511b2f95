"""The torque of a cycle whose every move is held to a speed and an acceleration, for many such pairs at once."""

from __future__ import annotations

from urban_mule.core.load.cycle import Move, capped, cycle_pieces
from urban_mule.core.load.moments import CycleTorque
from urban_mule.core.load.torque import cycle_loads, cycle_torque
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.train.link import Link


@record(frozen=True, eq=False, repr=False)
class CappedTorque:
    """What one motor is asked for by the cycle at a cap of speed [travel/s] and acceleration [travel/s²]; call it."""

    cycle: tuple[Move, ...]
    train: tuple[Link, ...]
    moved_inertia: float
    gravity_load: float
    friction_load: float
    process_load: float
    motor_count: float
    shaft_inertia: float
    travel_per_radian: float
    dwell_torque: float

    def __call__(self, speed: Reals, acceleration: Reals) -> CycleTorque:
        pieces = cycle_pieces(capped(self.cycle, speed, acceleration))
        loads = cycle_loads(pieces, self.moved_inertia, self.gravity_load, self.friction_load, self.process_load, self.motor_count)
        return cycle_torque(self.train, pieces, loads, self.shaft_inertia, self.travel_per_radian, self.dwell_torque)


@quantity("", symbol="T(v, a)", source="the cycle folded through the train at other speeds and accelerations", structure=True,
          formula="T(t) with min(v, its speed) and min(a, its acceleration) of each move")
def capped_torque(
    cycle: tuple[Move, ...], train: tuple[Link, ...], moved_inertia: float, gravity_load: float, friction_load: float,
    process_load: float, motor_count: float, shaft_inertia: float, travel_per_radian: float, dwell_torque: float,
) -> CappedTorque:
    """What one motor is asked for over caps of speed and acceleration."""
    return CappedTorque(cycle, train, moved_inertia, gravity_load, friction_load, process_load, motor_count, shaft_inertia,
                        travel_per_radian, dwell_torque)
