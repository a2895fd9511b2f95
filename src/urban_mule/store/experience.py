"""A shop's own experience: what was learnt of friction, stiffness and efficiency, kept for the next machine with its origin."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Any

from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.units import COVERAGE, number_text
from urban_mule.core.train.known import Usual
from urban_mule.store.document.belief import OF_LIST
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.doubts import known_by_learning
from urban_mule.store.places import data_place, made
from urban_mule.store.text_files import BadFile, as_json, rows_kept, write_whole

FORMAT = "urban-mule-experience/1"
LARGEST, MOST = 1e6, 200  # bytes of the file; values that it keeps, the newest
OFFERED = 3  # of one kind, the newest
GUIDE, FRICTION = "guide", "friction_coefficient"
FRICTIONS = (FRICTION, "friction_force")
OF_LINKS = ("efficiency", "specific_stiffness", "mesh_stiffness", "torsional_stiffness", "nut_stiffness", "bearing_stiffness")
GRAVITY, STEEP = 9.80665, math.radians(60)  # m/s²; incline from which on the weight says nothing of the guides


@record(frozen=True)
class Experience:
    """What was learnt of a kind of link, or of guides: the given, its value and standard uncertainty in SI, where and when."""

    of: str
    given: str
    value: float
    uncertainty: float
    machine: str
    day: str

    @property
    def usual(self) -> Usual:
        """As a usual value that is offered."""
        sure = number_text(100 * COVERAGE * self.uncertainty / self.value, 2)
        return Usual(self.value, f"learnt on {self.machine}, ±{sure} %", f"own experience of {self.day}")


def learnt_here(project: Project, axis: Axis, solution: Solution, day: str) -> tuple[Experience, ...]:
    """What an axis has learnt that may serve another; day: as it is said where it is from."""
    belief, found = axis.belief, []
    machine = ", ".join(one for one in (project.name, axis.name) if one)
    for label, place in () if belief is None else known_by_learning(project, axis, solution).items():
        inside = OF_LIST.match(label)
        value, sure = belief.values[place], belief.uncertainties[place]  # type: ignore[union-attr]
        if inside and inside[1] == "train" and inside[3] in OF_LINKS:
            found.append(Experience(solution["train"][int(inside[2])].kind, inside[3], value, sure, machine, day))
        elif label in FRICTIONS and (times := _as_coefficient(label, solution)):
            found.append(Experience(GUIDE, FRICTION, value * times, sure * times, machine, day))
    return tuple(one for one in found if one.value > 0)


def _as_coefficient(label: str, solution: Solution) -> float:
    """What a friction is to be multiplied by so that it is one over the weight on the guides; 0 where that says nothing."""
    if label == FRICTION:
        return 1.0
    mass, incline = solution.get("moving_mass"), abs(float(solution.get("incline") or 0.0))
    return 0.0 if not mass or incline > STEEP or solution.get(FRICTION) else 1 / (float(mass) * GRAVITY * math.cos(incline))


def kept() -> tuple[Experience, ...]:
    """What was kept, the newest first. Raises BadFile."""
    path = data_place("experience.json")
    rows = rows_kept(path, FORMAT, "values", "experience", LARGEST)
    return tuple(_sound(path, place, one) for place, one in enumerate(rows))


def _sound(path: Any, place: int, said: Any) -> Experience:
    texts, numbers = ("of", "given", "machine", "day"), ("value", "uncertainty")
    if not isinstance(said, dict) or any(not isinstance(said.get(name), str) for name in texts) or any(
            type(said.get(name)) not in (int, float) or not 0 < said[name] < math.inf for name in numbers):
        raise BadFile(f"{path}: values[{place}]: needed are the texts {', '.join(texts)} and numbers above 0 {', '.join(numbers)}.")
    return Experience(**{name: said[name] for name in (*texts, *numbers)})


def keep(found: Iterable[Experience]) -> None:
    """Keep what was learnt before what was kept already; of one machine the newest of each. Raises BadFile."""
    path = data_place("experience.json")
    made(path.parent)
    every = {(one.of, one.given, one.machine): one for one in (*kept()[::-1], *tuple(found)[::-1])}
    rows = [vars(one) for one in list(every.values())[::-1]][:MOST]
    write_whole(path, as_json({"format": FORMAT, "values": rows}).encode())


def offered(of: str, given: str) -> tuple[Usual, ...]:
    """What experience offers for a given of a kind of link, or of guides; nothing where the file cannot be read."""
    try:
        there = kept()
    except BadFile:
        return ()  # keeping says what is wrong with it; the usual values of books are offered all the same
    return tuple(one.usual for one in there if (one.of, one.given) == (of, given))[:OFFERED]
