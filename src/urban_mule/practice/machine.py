"""The made-up machine behind an axis of a practice project, with its hidden faults."""

from __future__ import annotations

import dataclasses
import zlib

from urban_mule.bench.simulated.axis import SimulatedAxis, invented_truth
from urban_mule.practice.evidence import SAID
from urban_mule.practice.faults import NAMED, Hidden, afflicted, sound_truth
from urban_mule.store.document.practice import HiddenFaults
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.solve import solve_axis


def practice_machine(project: Project, axis: Axis, session: int) -> SimulatedAxis:
    """The machine behind an axis of a practice project; session: gives the noise of its readings."""
    solution, hidden = solve_axis(project, axis), project.hidden
    if hidden is None or hidden.axis != axis.name:
        return SimulatedAxis(solution, invented_truth(zlib.crc32(f"{project.name} {axis.name}".encode()), session))
    built = afflicted(solution, sound_truth(int(hidden.seed), pretension(axis)), there(hidden))
    return SimulatedAxis(solution, dataclasses.replace(built.truth, seed=(int(hidden.seed) + 977 * session) % 2**32), built.real)


def there(hidden: HiddenFaults) -> tuple[Hidden, ...]:
    """The faults that are still there; names that this version does not know are left out."""
    return tuple(Hidden(NAMED[one.fault], float(one.size)) for one in hidden.faults
                 if one.fault in NAMED and one.fault not in hidden.repaired)


def pretension(axis: Axis) -> float | None:
    return next((float(one) for link in axis.train or () if (one := getattr(link, "pretension", None)) is not None), None)


def look(project: Project, axis: Axis) -> str:
    """What is seen and heard on a short move of the practice machine."""
    shown = SAID[practice_machine(project, axis, 0).truth.shows]
    return f"{shown[:1].upper()}{shown[1:]}."
