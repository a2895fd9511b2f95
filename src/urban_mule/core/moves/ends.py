"""The two ends of an axis as the controller is told of them: what finds the end, where zero is, how far it may go."""

from __future__ import annotations

from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

HOME_BY = ("switch", "stall", "switch and stall", "zero anywhere")
ANYWHERE = HOME_BY[-1]
HOME_ENDS = ("minus", "plus")
LEVELS = ("low", "high")


class Ends:
    """How the axis finds its place, and what its switch shows at the controller's input."""

    home_by: str | None = given("", "", "what finds the end: a switch, the driver that senses the stall, both, or nothing at all",
        choices=HOME_BY, label="Homing method")
    home_end: str | None = given("", "", "end at which it homes", choices=HOME_ENDS)
    homing_speed: Reals = given("[travel]/s", "v_a", "with which the end is approached", above=0)
    zero_offset: Reals = given("[travel]", "o", "from where the end answers to where zero is", default=0.0, least=0)
    soft_limit_room: Reals = given("[travel]", "c", "how far the soft limits stay away from where the ends answer", default=0.0,
        least=0, label="Soft limit clearance")
    switch_free: str | None = given("", "", "what the input shows while nothing presses the switch", choices=LEVELS,
        label="Input, switch free")
    switch_pressed: str | None = given("", "", "what the input shows while the switch is pressed", choices=LEVELS,
        label="Input, switch pressed")
    switch_wire_off: str | None = given("", "", "what the input shows with the wire pulled off", choices=LEVELS,
        label="Input, wire off")


def _homed(home_by: str | None) -> None:
    if home_by == ANYWHERE:
        raise NotKnown("zero is set where the work is, so the controller does not know where the ends are")


@quantity("[travel]", symbol="x_lo", source="the travel between the ends, counted from zero",
          formula="−o + c at the minus end, o − L + c at the plus end", label="Lower soft limit")
def soft_limit_low(travel: Reals, home_end: str, zero_offset: Reals, soft_limit_room: Reals, home_by: str | None = None) -> Reals:
    """Lowest place that the controller lets it go to; all [travel]. Raises NotKnown where zero is anywhere."""
    _homed(home_by)
    return (-zero_offset if home_end == "minus" else zero_offset - travel) + soft_limit_room


@quantity("[travel]", symbol="x_hi", source="the travel between the ends, counted from zero",
          formula="L − o − c at the minus end, o − c at the plus end", label="Upper soft limit")
def soft_limit_high(travel: Reals, home_end: str, zero_offset: Reals, soft_limit_room: Reals, home_by: str | None = None) -> Reals:
    """Highest place that the controller lets it go to; all [travel]. Raises NotKnown where zero is anywhere."""
    _homed(home_by)
    return (travel - zero_offset if home_end == "minus" else zero_offset) - soft_limit_room


@record(frozen=True, eq=False, repr=False)
class SwitchLogic:
    """What three readings say of a switch: the level at which it answers, whether it is normally closed, whether a wire that
    comes off stops the axis; works: whether it does anything at all.
    """

    active: str
    normally_closed: bool
    fails_safe: bool
    works: bool


@quantity("", symbol="", source="a switch that opens when pressed reads alike pressed and with the wire off", structure=True,
          formula="active = pressed; fails safe where wire off = pressed", label="Switch logic")
def switch_logic(switch_free: str, switch_pressed: str, switch_wire_off: str) -> SwitchLogic:
    """Which logic to set, by what the input shows free, pressed and with its wire off."""
    safe = switch_wire_off == switch_pressed
    return SwitchLogic(switch_pressed, safe, safe, switch_free != switch_pressed)
