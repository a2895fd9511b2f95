"""The readings of an axis as a book: what each set says of itself, its numbers by place, and what has changed since."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import replace
from itertools import accumulate
from typing import Any

import numpy as np

from urban_mule.core.sheet.given import in_a_sentence
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.shown import uncertainty_of, value_text
from urban_mule.core.sheet.solution import Solution
from urban_mule.store.document.readings import Reading

SAME = 1e-3  # share of a condition that counts as no change
CONDITIONS = ("microsteps", "current_peak", "steps_per_unit", "hold_fraction", "ambient_temperature")  # kept with a set
COMPARED: dict[str, tuple[str, ...]] = {  # what a set of each kind comes to
    "reversal": ("backlash", "backlash_uncertainty", "backlash_variation"),
    "positioning": tuple(name for one in ("positioning_accuracy", "repeatability", "reversal_value", "systematic_deviation",
                                          "mean_deviation_range") for name in (one, uncertainty_of(one))),
    "travel": ("scale_ratio", "scale_ratio_uncertainty"),
    "lengths": ("length_slope", "length_offset", "length_slope_uncertainty", "thermal_scale"),
    "push": ("free_play", "free_play_uncertainty", "push_compliance", "push_compliance_uncertainty",
             "contact_stiffness"),
    "tone": ("tone_tension",), "drag": ("preload_torque",),
}


@record(frozen=True)
class Number:
    """One number of a set: where it stands, its value in SI, whence it comes, and why it does not count, if it does not."""

    name: str
    at: tuple[int, ...]
    value: float
    source: str
    struck: str

    @property
    def place(self) -> str:
        """Where it stands, as `struck` and `sources` of a reading name it."""
        return self.name + "".join(f"[{n}]" for n in self.at)


class SetNumbers(Sequence[Number]):
    """The numbers of a set that can be struck out, each made when it is asked for, so that a long set opens as a short one."""

    def __init__(self, reading: Reading) -> None:
        self.reading, self.whole = reading, source_of(reading)
        tables = any(other.shape == "rows" for other in reading.declared.columns)
        self.arrays = [(one.name, array) for one in reading.declared.columns
                       if isinstance(array := getattr(reading, one.name), np.ndarray)
                       and not (one.shape == "list" and tables and not reading.declared.wide)]
        self.ends = list(accumulate(array.size for _, array in self.arrays))

    def __len__(self) -> int:
        return self.ends[-1] if self.ends else 0

    def __getitem__(self, n: Any) -> Any:
        if isinstance(n, slice):
            return [self[one] for one in range(*n.indices(len(self)))]
        if not 0 <= n < len(self):
            raise IndexError(n)
        which = bisect_right(self.ends, n)
        name, array = self.arrays[which]
        at = tuple(int(one) for one in np.unravel_index(n - self.ends[which] + array.size, array.shape))
        found = Number(name, at, float(array[at]), self.whole, "")
        struck, sources = self.reading.struck, self.reading.sources
        if not struck and not sources:
            return found
        return replace(found, source=(sources or {}).get(found.place, self.whole), struck=(struck or {}).get(found.place, ""))


def state_of(reading: Reading) -> str:
    """Whether a set counts, in a few words."""
    if reading.aside:
        return f"set aside: {reading.aside}"
    return f"{len(reading.struck)} struck out" if reading.struck else "counts"


def source_of(reading: Reading) -> str:
    """Whence a set comes, as people read it."""
    return "practice, made up" if reading.practice else reading.source or "not said"


def conditions_of(solution: Solution) -> dict[str, float]:
    """What holds now, as far as it is known, to be kept with a set."""
    return {name: float(value) for name in CONDITIONS if isinstance(value := solution.get(name), (int, float))}


def changed_conditions(reading: Reading, solution: Solution, system: str, axis_unit: str) -> list[str]:
    """What held when a set was taken and holds no more: a part of a sentence each."""
    found = []
    for name, then in (reading.conditions or {}).items():
        if not solution.sheet.knows(name):  # some of them are of the reading alone, and a file may say others
            continue
        now = solution.get(name)
        if not isinstance(now, (int, float)) or not isinstance(then, (int, float)):
            continue
        if not math.isclose(now, then, rel_tol=SAME, abs_tol=1e-12):
            was, is_ = (value_text(solution.sheet, name, float(value), system, 4, axis_unit) for value in (then, now))
            found.append(f"{in_a_sentence(solution.sheet.label(name))} was {was}, is {is_}")
    return found


def comes_to(reading: Reading, solution: Solution) -> dict[str, Any]:
    """The deciding numbers of a set, as if it were the last of its kind."""
    core = reading.core
    inputs: dict[str, Any] = {f"{reading.kind}_reading": core}
    if reading.kind in ("travel", "lengths"):
        inputs["scale_reading"] = core
    solved = solution.changed(**inputs)
    return {name: solved.get(name) for name in COMPARED.get(reading.kind, ()) if solved.sheet.has(name)}
