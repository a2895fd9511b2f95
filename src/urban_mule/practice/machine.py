"""The made-up machine behind an axis of a practice project, with its hidden faults."""

from __future__ import annotations

import dataclasses

from urban_mule.bench.simulated.axis import SimulatedAxis
from urban_mule.bench.simulated.body import practised
from urban_mule.bench.simulated.pair import SimulatedPair
from urban_mule.practice.evidence import SAID
from urban_mule.practice.faults import NAMED, Built, Hidden, afflicted
from urban_mule.practice.made import real_solution, seed_of, sound_truth
from urban_mule.store.document.practice import HiddenFaults
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.document.shared_motors import SharedMotors
from urban_mule.store.solve import solve_axis


def sound_machine(project: Project, axis: Axis) -> Built:
    """The machine behind an axis with nothing wrong."""
    real = real_solution(project, axis, solve_axis(project, axis))
    return Built(real, sound_truth(seed_of(project, axis), axis.motion == "linear"))


def practice_machine(project: Project, axis: Axis, session: int) -> SimulatedAxis:
    """The machine behind an axis of a practice project; session: gives the noise of its readings."""
    built = afflicted(sound_machine(project, axis), faults_on(project, axis))
    truth = dataclasses.replace(built.truth, seed=(seed_of(project, axis) + 977 * session) % 2**32)
    return simulated(project, axis, Built(built.real, truth))


def simulated(project: Project, axis: Axis, built: Built) -> SimulatedAxis:
    """An axis as it was built; one of a pair hangs on the belts of both."""
    pair, solution = project.pair_of(axis), solve_axis(project, axis)
    if pair is None:
        return SimulatedAxis(solution, built.truth, built.real)
    along = belts_of(project, pair)
    both = 2 / sum(1 / one for one in along)  # along an axis: the mean of what either belt gives way
    return SimulatedAxis(solution, built.truth, built.real.changed(measured_stiffness=both), along)


def belts_of(project: Project, pair: SharedMotors) -> tuple[float, float]:
    """Stiffness of the trains of motor A and of motor B as they really are, with their faults [N/m]."""
    axes = (project.axis(name) for name in pair.axes)
    a, b = (practised(afflicted(sound_machine(project, one), faults_on(project, one)).real).train_stiffness for one in axes)
    return (b, a) if pair.turned else (a, b)


def practice_pair(project: Project, axis: Axis, other: Axis, session: int) -> SimulatedPair:
    """The machine behind two axes of a practice project, out of square as made machines are."""
    first, second = (practice_machine(project, one, session) for one in (axis, other))
    together = first.along if project.fellow_of(axis) is other else ()
    a, b = together or (1.0, 1.0)
    return SimulatedPair(first, second, seed_of(project, axis), (b - a) / (a + b))


def faults_on(project: Project, axis: Axis) -> tuple[Hidden, ...]:
    """The hidden faults that an axis shows: its own, and what is wrong with both motors of its pair."""
    hidden, fellow = project.hidden, project.fellow_of(axis)
    if hidden is None or hidden.axis == axis.name:
        return () if hidden is None else there(hidden)
    return tuple(one for one in there(hidden) if one.fault.both and fellow is not None and fellow.name == hidden.axis)


def there(hidden: HiddenFaults) -> tuple[Hidden, ...]:
    """The faults that are still there; names that this version does not know are left out."""
    return tuple(Hidden(NAMED[one.fault], float(one.size)) for one in hidden.faults
                 if one.fault in NAMED and one.fault not in hidden.repaired)


def look(project: Project, axis: Axis) -> str:
    """What is seen and heard on a short move of the practice machine."""
    shown = SAID[practice_machine(project, axis, 0).truth.shows]
    return f"{shown[:1].upper()}{shown[1:]}."
