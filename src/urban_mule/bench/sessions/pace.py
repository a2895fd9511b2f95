"""How long a round still takes: each step's usual time, by the pace of the person who takes it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import datetime
from statistics import median

from urban_mule.bench.sessions.by_stand import STAND
from urban_mule.bench.sessions.rounds import Step

LEAST, MOST, PAUSED = 0.1, 10.0, 6.0  # times the usual that a person may be; beyond which a gap was a pause
TELLING = {False: 3, True: 1}  # numbers, and stands, from which a person's pace is known


def pace(steps: Iterable[Step], taken: Sequence[dict[str, object]], begun: str = "") -> dict[bool, float]:
    """How many times as long as usual a person takes for numbers (False) and for stands (True).

    taken: what was taken, each with its place and ISO time, in the order of taking; what came from a machine counts too.
    begun: when the round was, an ISO time, if it is known: else the first step has no beginning to be timed from.
    """
    usual = {step.place: step for step in steps}
    ratios: dict[bool, list[float]] = {False: [], True: []}
    whens = [*([begun] if begun else []), *(str(one["time"]) for one in taken)]
    times = [datetime.fromisoformat(when).timestamp() for when in whens]
    for one, before, after in zip(taken[0 if begun else 1:], times, times[1:], strict=False):
        step = usual.get(str(one["place"]))
        if step is not None and step.seconds and after > before:
            times_as_long = (after - before) / step.seconds
            if times_as_long <= PAUSED:
                ratios[step.place.startswith(STAND)].append(times_as_long)
    return {sort: min(max(median(some), LEAST), MOST) if len(some) >= TELLING[sort] else 1.0 for sort, some in ratios.items()}


def left_in(ahead: Iterable[Step], by: dict[bool, float]) -> float:
    """How long these steps take at that pace [s]."""
    return sum(step.seconds * by[step.place.startswith(STAND)] for step in ahead)
