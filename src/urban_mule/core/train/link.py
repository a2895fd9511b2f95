"""A link of a train: all that is asked of one, with a default that says *not known*."""

from __future__ import annotations

from collections.abc import Iterator
from typing import ClassVar

from urban_mule.core.sheet.doubt import GETS_THROUGH, RUBBING
from urban_mule.core.sheet.given import Reals, given, givens
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.record import record
from urban_mule.core.train.known import Exact, Mistaken, Otherwise, Usual


@record(frozen=True, kw_only=True, eq=False, repr=False)
class Link:
    """One link of the train. `gain` is output motion per radian of its input.

    endless: whether what it moves has no ends by itself. measured: whether its travel is measured rather than known. slides:
    whether it may hold a load by sliding. bought: whether it is a part to be bought. turned_by: what of it meets the part before
    it, bore or shaft; turns_with: what meets the part behind it, shaft, bore_out, or nothing that is known. takes_flange: whether a
    motor's flange is screwed to it. whole: the few numbers without which nothing can be computed through it, in the order in which
    one looks them up. stiff_by: what says how stiff it is. sizes: what is asked of it as a part. usual_clearance: play that is
    usual without preload [m along the load, rad at the output], by this house's estimate.
    """

    kind: ClassVar[str]
    turns_into_travel: ClassVar[bool] = False
    endless: ClassVar[bool] = False
    measured: ClassVar[bool] = False
    slides: ClassVar[bool] = False
    bought: ClassVar[bool] = True
    turned_by: ClassVar[str] = "bore"
    turns_with: ClassVar[str] = ""
    takes_flange: ClassVar[bool] = False
    whole: ClassVar[tuple[str, ...]] = ()
    stiff_by: ClassVar[tuple[str, ...]] = ()
    sizes: ClassVar[tuple[str, ...]] = ()
    usual_clearance: ClassVar[float | None] = None

    back_efficiency: Reals = given(
        "", "η_b", "share of the torque that gets back when the load drives", least=0, most=1, doubt=GETS_THROUGH)
    drag_torque: Reals = given("N·m", "T_d", "torque its input takes at any speed", default=0.0, least=0, label="Motor drag",
        doubt=RUBBING)

    @property
    def gain(self) -> Reals:
        return 1.0

    @property
    def inertia_at_input(self) -> Reals:
        return 0.0

    @property
    def forward_efficiency(self) -> Reals:
        return 1.0

    @property
    def backward_efficiency(self) -> Reals:
        """As given, else as `default_back_efficiency`; may be negative while moving (the motor drives the load down)."""
        return self.default_back_efficiency if self.back_efficiency is None else self.back_efficiency

    @property
    def default_back_efficiency(self) -> Reals:
        return self.forward_efficiency

    @property
    def stiffness_at_input(self) -> Reals | None:
        """Torque at its input [N·m] per radian that it gives way there; None where nothing is said."""
        return None

    @property
    def stiffness_at_output(self) -> Reals | None:
        """Force or torque at its output per m or rad that it gives way there; None where nothing is said."""
        return None

    @property
    def clearance_at_output(self) -> Reals:
        """Free play at its output [m or rad]."""
        return 0.0

    def exact_turn(self) -> Exact:
        """What one turn of its input makes, in whole numbers. Raises NotKnown where that is not exact, or not given."""
        raise NotKnown(f"what a {self.kind} makes of a turn is not exact")

    def periods(self) -> tuple[tuple[str, Reals], ...]:
        """What repeats with it: what makes it, and after which share of a turn of its input."""
        return ()

    def mistakes(self) -> Iterator[Mistaken]:
        """What of it may have been entered as another than it is. Raises NotKnown where nothing is entered."""
        return iter(())

    def otherwise(self) -> Iterator[Otherwise]:
        """Which of its figures a wrong count, or a fault, would make another: what it would be, tried by what it changes."""
        return iter(())

    @property
    def usual_efficiencies(self) -> tuple[Usual, ...]:
        """Usual efficiencies; none where nobody knows any, or there are no losses."""
        return ()

    def unsaid(self) -> tuple[str, ...]:
        """What of the numbers that make it whole is not given."""
        return tuple(name for name in self.whole if getattr(self, name) is None)

    def need(self, name: str) -> Reals:
        """The value of a field. Raises NotKnown while it is not given, with all that is lacking beside it."""
        value = getattr(self, name)
        if value is None:
            lacking = self.unsaid()
            names = lacking if name in lacking else (name,)
            declared = next(one for one in givens(type(self)) if one.name == names[0])
            raise NotKnown(declared.absent_of(self.kind), *(f"train.{self.kind}.{one}" for one in names))
        return value


@record(frozen=True, kw_only=True, eq=False, repr=False)
class Efficient(Link):
    """A link with friction of its own. usual_loss: what it may lose where nobody has said."""

    usual_loss: ClassVar[float] = 0.0
    efficiency: Reals = given("", "η", "share of the power that gets through", default=1.0, assumed=True, above=0, most=1,
        shown="%", doubt=GETS_THROUGH)

    @property
    def forward_efficiency(self) -> Reals:
        return self.efficiency
