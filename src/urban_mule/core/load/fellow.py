"""The other axis of a pair, which shares both motors: what an axis needs to know of it."""

from __future__ import annotations

from typing import TYPE_CHECKING, TypeVar

import numpy as np

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.record import record

if TYPE_CHECKING:
    from urban_mule.core.load.cycle import Pieces

T = TypeVar("T")


@record(frozen=True, eq=False, repr=False)
class Fellow:
    """What an axis of a pair needs to know of the other one, which moves along itself with two motors.

    name; moved_inertia: what it moves [kg]; peak_load: the greatest force on one of its trains [N]; top_acceleration and
    top_speed [m/s², m/s]; gravity_load: what pulls at it [N]; tone_tension of its belt [N]; push_compliance [m/N], found along
    the diagonal push_direction; the gains of its drive [N·m·s/rad, 1/s], the integral time that was chosen for it [s] and the
    inertia that its loop turns [kg·m²]; the pieces of its cycle, and what one train puts on the load in them [N] at both ends.
    None: not known yet.
    """

    name: str
    moved_inertia: float | None = None
    peak_load: float | None = None
    top_acceleration: float | None = None
    top_speed: float | None = None
    gravity_load: float | None = None
    tone_tension: float | None = None
    push_compliance: float | None = None
    push_direction: str = ""
    velocity_gain: float | None = None
    velocity_integral: float | None = None
    loop_inertia: float | None = None
    position_gain: float | None = None
    pieces: Pieces | None = None
    loads: Reals | None = None

    @property
    def cycle(self) -> tuple[Pieces, Reals]:
        """The pieces of its cycle and what one train puts on the load in them. Raises NotKnown."""
        if self.pieces is None or self.loads is None:
            raise NotKnown(self._asks_unknown, "fellow")
        return self.pieces, self.loads

    @property
    def _asks_unknown(self) -> str:
        return f"what {self.name} asks of both motors is not known yet: its load, train and cycle tell it"

    def known(self, *names: str) -> tuple[float, ...]:
        """These numbers of it. Raises NotKnown."""
        found = [getattr(self, name) for name in names]
        if None in found:
            raise NotKnown(self._asks_unknown, "fellow")
        return tuple(map(float, found))


def lower_gain(own: Reals, fellow: Fellow | None, name: str) -> Reals:
    """A gain for a motor: its own, in a pair the lower of both. Raises NotKnown while that of the other axis is not known."""
    if fellow is None:
        return own
    their = getattr(fellow, name)
    if their is None:
        raise NotKnown(f"the gains of {fellow.name} are not known yet: both motors take the lower ones", "fellow")
    return np.minimum(own, their)


def apart(fellow: Fellow | None) -> str:
    """Why nothing of a pair applies, or nothing."""
    return "" if fellow is not None else "this axis moves by itself"


def of_both(own: T, both: T | None, fellow: Fellow | None) -> T:
    """What an axis asks of a motor: its own, of a pair what both ask. Raises NotKnown while the fellow's part is not known."""
    if fellow is None:
        return own
    if both is None:
        raise NotKnown(f"what this axis and {fellow.name} ask of both motors at once is not known yet: load, train and cycle"
                       " of both tell it", "fellow")
    return both
