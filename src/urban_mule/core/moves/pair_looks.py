"""Directions of a pair: command a little plus X, then plus Y, look where the gantry goes; two looks tell eight ways of wiring.

Source: q_A = x + y, q_B = x − y: a motor that turns the wrong way changes the sign of its belt, exchanged motors exchange both.
"""

from __future__ import annotations

from itertools import product

from urban_mule.core.sheet.record import record

Way = tuple[int, int]  # where the gantry went: −1, 0 or 1 along the first axis, and along the second
WAYS: tuple[Way, ...] = ((1, 0), (-1, 0), (0, 1), (0, -1))
POWER_OFF = "Power off, charge gone; then"


@record(frozen=True)
class Wiring:
    """One way of wiring a pair: where it goes for plus on the first axis and for plus on the second.

    exchanged: the plugs of both motors; a, b: whether the motor that stands at A, at B, turns the wrong way round.
    """

    exchanged: bool
    a: bool
    b: bool
    first: Way
    second: Way

    @property
    def looks(self) -> tuple[Way, Way]:
        """Both looks."""
        return self.first, self.second

    def name(self, turned: bool = False) -> str:
        """What is wrong, in words. turned: the motor of the second axis stands at A, that of the first at B."""
        wrong = self.wrong(turned)
        parts = ["the motors are exchanged"] if self.exchanged else []
        parts += ["both turn the wrong way round"] if len(wrong) > 1 else [f"{one} turns the wrong way round" for one in wrong]
        return ", and ".join(parts) or "both are right"

    def wrong(self, turned: bool = False) -> tuple[str, ...]:
        """The motors, by their letters, that turn the wrong way round where they stand."""
        return tuple(sorted(letter for letter, wrong in zip("BA" if turned else "AB", (self.a, self.b), strict=True) if wrong))

    def mend(self, turned: bool = False) -> str:
        """What puts it right; nothing where nothing is to be done."""
        done = ["exchange the plugs of the two motors at the drivers"] if self.exchanged else []
        wrong = " and of ".join(self.wrong(turned))
        done += [f"turn the direction of {wrong} round, in one place only"] if wrong else []
        return f"{POWER_OFF} {'; '.join(done)}. Then take both looks again." if done else ""


def _goes(exchanged: bool, a: bool, b: bool, command: Way) -> Way:
    """Where the gantry goes for a command of 1 along one axis."""
    x, y = command
    belts = (x - y, x + y) if exchanged else (x + y, x - y)  # what reaches the motors that stand at A and at B
    at_a, at_b = (-belts[0] if a else belts[0]), (-belts[1] if b else belts[1])
    return (at_a + at_b) // 2, (at_a - at_b) // 2


WIRINGS = tuple(Wiring(exchanged, a, b, _goes(exchanged, a, b, (1, 0)), _goes(exchanged, a, b, (0, 1)))
                for exchanged, a, b in product((False, True), repeat=3))


def wiring_of(first: Way, second: Way) -> Wiring | None:
    """The wiring that goes so for plus on the first axis and for plus on the second; None for looks of no wiring: a belt
    slips, or a motor stands still.
    """
    return next((one for one in WIRINGS if (one.first, one.second) == (first, second)), None)
