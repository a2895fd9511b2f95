"""How sure a number usually is that a person gives: declared beside each given, used where nobody has said better."""

from __future__ import annotations

from urban_mule.core.sheet.record import record

GUM = "type B by this house, JCGM 100, 4.3"


@record(frozen=True, eq=False, repr=False)
class Doubt:
    """A standard uncertainty: a share of the value, or an absolute one in the unit of the given, or a share of a loss.

    share: of |x|. absolute: in the unit. of_loss: of η(1 − η), for what gets through. linear: the value itself varies, however
    wide that is. unsaid: whether it holds too where the default stands. source: where it is from.
    """

    share: float = 0.0
    absolute: float = 0.0
    of_loss: float = 0.0
    linear: bool = False
    unsaid: bool = False
    source: str = GUM

    def standard(self, value: float) -> float:
        """The standard uncertainty of a value, in its unit."""
        return self.share * abs(value) + self.absolute + self.of_loss * value * (1 - value)


WEIGHED, DRAWN_INERTIA = Doubt(0.03), Doubt(0.06)  # on a shop scale with what is forgotten; from drawings
RUBBING, GETS_THROUGH = Doubt(0.3), Doubt(of_loss=0.3)
STIFF, SOFT_CONTACT, PLAY = Doubt(0.15), Doubt(0.3), Doubt(0.4)
MEASURED_WELL, PULLED_TIGHT = Doubt(0.05), Doubt(0.25)
PART_INERTIA, MADE_TO_SIZE, ROLLED = Doubt(0.1), Doubt(0.0002), Doubt(0.02)
SHEET_TORQUE, SHEET_INDUCTANCE, SHEET_FIGURE = Doubt(0.06), Doubt(0.12), Doubt(0.06)
SET_CURRENT, SUPPLIED, HEAT_PATH = Doubt(0.05), Doubt(0.03), Doubt(0.15)
ROOM, WORK, LEFT_OF_WINDUP = Doubt(absolute=3.0, unsaid=True), Doubt(0.2), Doubt(absolute=0.23, linear=True, unsaid=True)
