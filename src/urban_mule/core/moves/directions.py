"""Directions: what a short move must look like on this kind of axis, and the one place where a wrong one is turned round."""

from __future__ import annotations

from urban_mule.core.load.fellow import Fellow
from urban_mule.core.moves.ends_checks import said
from urban_mule.core.sheet.given import given
from urban_mule.core.sheet.verdict import Verdict, check

MOVED = ("tool", "work")
SEEN = ("as it should", "the other way", "not at all")
PLACES = ("nowhere", "connector", "driver", "controller")
STEEP = 0.5  # rad from the horizontal: from here on plus is up or down to whoever looks
HOW: dict[str, str] = {
    "connector": "power off, charge gone, then swap the two leads of one coil in the connector of the motor",
    "driver": "turn its direction setting round, on a follower its own as well",
    "controller": "turn the direction of this axis round in its settings; both motors of a beam follow it",
}


class Directions:
    """What moves, and which way it was seen to go."""

    moves_what: str | None = given("", "", "whether the axis carries the tool, or the table with the work", choices=MOVED,
        label="What the axis carries")
    direction_seen: str | None = given("", "", "which way it went on a short move", choices=SEEN, label="Observed direction")
    direction_turned_in: str | None = given("", "", "the one place where its direction is turned round", choices=PLACES,
        label="Place of the reversal")


def expected_motion(motion: str, moves_what: str, incline: float = 0.0) -> tuple[str, str]:
    """What is seen on a short move to plus and to minus, in words. incline [rad] of the plus direction above horizontal."""
    if motion == "rotary":
        ways = ("counter-clockwise", "clockwise")
        plus, minus = ways if moves_what == "tool" else ways[::-1]
        where = "seen from the tip of its axis, looking back at it"
        return f"the {moves_what} turns {plus}, {where}", f"the {moves_what} turns {minus}"
    if abs(incline) > STEEP:
        up, down = ("up", "down") if incline > 0 else ("down", "up")
        if moves_what == "work":
            up, down = down, up
        return f"the {moves_what} goes {up}", f"the {moves_what} goes {down}"
    if moves_what == "tool":
        return "the tool goes towards plus", "the tool goes towards minus"
    return ("the tool is to come nearer to the plus side of the work, so the table goes to minus",
            "the table goes to plus")


def where_to_turn(turned_in: str | None) -> str:
    """Where a direction that is wrong is turned round, when that is on record or not: in one place only."""
    if turned_in in HOW:
        return (f"It is turned round in the {turned_in} already: turn it back there. A second place would hide the first one from"
                " whoever comes next.")
    return "Turn it round in one place only, and write that down: " + "; or ".join(
        f"{place}: {how}" for place, how in HOW.items()) + "."


@check("direction", stage="Moves", applies=said("direction_seen"))
def direction_is_right(direction_seen: str, direction_turned_in: str | None = None, fellow: Fellow | None = None) -> Verdict:
    """Whether it went the way it should, and which place is on record for turning it round."""
    if fellow is not None and direction_seen != SEEN[0]:
        return Verdict("short", "It did not go the way it should.", f"Its motor and that of {fellow.name} move both axes: command"
                       " a short move of each and let both looks say which motor it is. Turn nothing round before that.",
                       headroom=0.0)
    if direction_seen == SEEN[2]:
        return Verdict("short", "It did not move.", "Buzzing without turning is a crossed pair: see coils. Silent: enable, supply,"
                       " step wire.", headroom=0.0)
    if direction_seen == SEEN[1]:
        return Verdict("short", "It went the other way.", where_to_turn(direction_turned_in), headroom=0.0)
    if direction_turned_in is None:
        return Verdict("unknown", "Direction is right; whether it was turned round anywhere is not on record.",
                       "Say where, or nowhere: whoever replaces a part needs it.", missing=("direction_turned_in",))
    turned = direction_turned_in
    where = "turned round nowhere" if turned == "nowhere" else f"turned round in the {turned}, and only there"
    return Verdict("good", f"Direction is right, {where}.", "Nothing to do.", headroom=0.9)


