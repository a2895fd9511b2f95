"""Fourteen lessons on the demo machines, from easy to hard: an axis, the faults that are hidden, and a sentence to begin with."""

from __future__ import annotations

from typing import Any

from urban_mule.core.sheet.record import record


@record(frozen=True)
class Lesson:
    """A lesson: its number, its sentence, the axis, the faults, the demo machine; the seed that gives their sizes."""

    number: int
    sentence: str
    axis: str
    faults: tuple[str, ...]
    machine: str = "courtyard"

    @property
    def seed(self) -> int:
        """Its machine, its sizes and its noise are always the same: that of the axis."""
        return 1000 + ord(self.axis[0])


TOLD: tuple[tuple[Any, ...], ...] = (
    ("The first build is done, and X does not go as far as it is told.", "X", ("wrong tooth count",)),
    ("Power is on for the first time. Z hums.", "Z", ("crossed pair",)),
    ("X was quiet and true last month; now its tiles lie apart by a hair.", "X", ("loose pinion",)),
    ("A driver was replaced on Z, and the press stops half way.", "Z", ("two microsteps",)),
    ("In the afternoon the mosaic no longer fits the one of the morning.", "Y", ("heat growth",)),
    ("Z loses its place when it presses, though the torque was computed with plenty of reserve.", "Z", ("wrong sense resistor",)),
    ("Y stops at once, with a crack that nobody liked.", "Y", ("mis-set follower",)),
    ("X rings longer than it did, and a corner is rounder than the other.", "X", ("slack belt",)),
    ("Slow it carries anything; fast it stumbles. And the new indicator says odd things.", "X", ("indicator sign", "weak supply")),
    ("Y is stiff by hand, and not where it should be.", "Y", ("binding guide", "wrong tooth count")),
    ("Nobody believes this spectrum, and the play is back.", "X", ("lost samples", "slack belt")),
    ("Three people worked on X over the holidays, each on something else.", "X",
     ("dragging cable", "two microsteps", "wrong sense resistor")),
    ("The brush is wired anew: X goes where it is told, Y does not.", "Y", ("exchanged plugs",), "brush"),
    ("The brush draws every square askew since a driver was changed.", "X", ("unlike microsteps",), "brush"))
LESSONS: tuple[Lesson, ...] = tuple(Lesson(number, *said) for number, said in enumerate(TOLD, start=1))
