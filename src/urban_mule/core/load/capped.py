"""The torque of a cycle whose every move is held to a speed and an acceleration, for many such pairs at once."""

from __future__ import annotations

import numpy as np

from urban_mule.core.load.cycle import Move, Pieces, capped, cycle_pieces, top_acceleration, top_speed
from urban_mule.core.load.fellow import Fellow
from urban_mule.core.load.moments import CycleTorque
from urban_mule.core.load.pair import pair_peak_speed, pair_peak_torque, pair_rms_torque
from urban_mule.core.load.torque import cycle_loads, peak_load, rms_of, torque_over
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.train.link import Link


@record(frozen=True, eq=False, repr=False)
class CappedTorque:
    """What one motor is asked for by the cycle at a cap of speed [travel/s] and acceleration [travel/s²].

    fellow: of a pair the other axis, which goes on as it is.
    """

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
    rest_back_efficiency: float = 1.0
    fellow: Fellow | None = None

    def _capped(self, speed: Reals, acceleration: Reals) -> tuple[Pieces, Reals]:
        pieces = cycle_pieces(capped(self.cycle, speed, acceleration))
        return pieces, cycle_loads(pieces, self.moved_inertia, self.gravity_load, self.friction_load, self.process_load,
                                   self.motor_count)

    def __call__(self, speed: Reals, acceleration: Reals) -> CycleTorque:
        """Torque of one motor over the cycle of this axis alone, at these caps."""
        return torque_over(self.train, *self._capped(speed, acceleration), self.shaft_inertia, self.travel_per_radian,
                           self.dwell_torque)

    def of_pair(self, speed: Reals, acceleration: Reals) -> tuple[Reals, Reals]:
        """Of a pair torque [N·m] and speed [rad/s] of one motor with both axes at their hardest; None without another axis.

        Raises NotKnown.
        """
        if self.fellow is None:
            return None, None
        pieces, loads = self._capped(speed, acceleration)
        torque = pair_peak_torque(self.train, peak_load(loads), top_acceleration(pieces), self.travel_per_radian,
                                  self.shaft_inertia, self.fellow)
        return torque, pair_peak_speed(top_speed(pieces), self.travel_per_radian, self.fellow)

    def rms(self, speed: Reals, acceleration: Reals) -> Reals:
        """Root mean square torque of one motor [N·m]. Raises NotKnown."""
        own = self(speed, acceleration)
        lasts = np.sum(own.pieces.time_spent, axis=-1)
        if self.fellow is None:
            return rms_of(own, lasts)
        return pair_rms_torque(own, lasts, self.train, self.shaft_inertia, self.travel_per_radian, self.rest_back_efficiency,
                               self.fellow)


@quantity("", symbol="T(v, a)", source="the cycle folded through the train at other speeds and accelerations", structure=True,
          formula="T(t) with min(v, its speed) and min(a, its acceleration) of each move")
def capped_torque(
    cycle: tuple[Move, ...], train: tuple[Link, ...], moved_inertia: float, gravity_load: float, friction_load: float,
    process_load: float, motor_count: float, shaft_inertia: float, travel_per_radian: float, dwell_torque: float,
    rest_back_efficiency: float = 1.0, fellow: Fellow | None = None,
) -> CappedTorque:
    """What one motor is asked for over caps of speed and acceleration."""
    return CappedTorque(cycle, train, moved_inertia, gravity_load, friction_load, process_load, motor_count, shaft_inertia,
                        travel_per_radian, dwell_torque, rest_back_efficiency, fellow)
