"""A motor that was found, with the driver and the supply that go with it: tried together before they are offered."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping

from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.studies.ranking import Candidate
from urban_mule.core.studies.scan import bears, by_price, servo_current
from urban_mule.core.studies.search import Found
from urban_mule.store.document.edit import edited
from urban_mule.store.document.project import Project
from urban_mule.store.library.drives import driver_at, driver_from, parts_of, with_candidate
from urban_mule.store.library.parts import Part
from urban_mule.store.solve import solve_axis, solve_project

SUPPLY_KEYS = ("supply_kind", "supply_power", "supply_capacitance", "supply_efficiency", "power_factor")


@record(frozen=True, eq=False)
class Completed:
    """The project with the drive taken, the driver and the supply of the library that go with it (None: those there are), and how
    much is short with them that was not before.
    """

    project: Project
    driver: Part | None
    supply: Part | None
    short: int


def completed(
    project: Project, index: int, kind: str, found: Found, chosen: Candidate, parts: Iterable[Part],
    solutions: Mapping[str, Solution],
) -> Completed:
    """A candidate on its axis with the cheapest driver, then supply, with which nothing of all axes together is short.

    solutions: of the other axes, by name. Where no pair does, the one with the least that is short. Raises BadValue.
    """
    taken = with_candidate(project, index, kind, found, chosen)
    supplies = parts_of(parts, "supply")
    before = _short(project, {**solutions, project.axes[index].name: solve_axis(project, project.axes[index])})
    best: Completed | None = None
    for driver in _drivers(taken, index, found, chosen):
        one = taken if driver is None else edited(taken, ("axes", index, "driver"), driver_from(driver, taken.axes[index].driver))
        every = {**solutions, one.axes[index].name: solve_axis(one, one.axes[index])}
        for supply in _supplies(one, found.scan.supplies[chosen.place[1]], supplies, every):
            fed = one
            for key in SUPPLY_KEYS if supply is not None else ():
                fed = edited(fed, (key,), supply.values.get(key))  # type: ignore[union-attr]
            made = Completed(fed, driver, supply, len(_short(fed, every) - before))
            if not made.short:
                return made
            best = made if best is None or made.short < best.short else best
    assert best is not None
    return best


def _short(project: Project, solutions: Mapping[str, Solution]) -> frozenset[str]:
    """The checks on all axes together that are short."""
    judged = solve_project(project, solutions).judged()
    return frozenset(name for name, verdict in judged.items() if verdict is not None and verdict.level == "short")


def _drivers(taken: Project, index: int, found: Found, chosen: Candidate) -> Iterator[Part | None]:
    """The drivers that bear current and supply, the cheapest first; None alone where the axis keeps its own."""
    if found.drivers is None:
        yield None
        return
    axis, motor, volts = taken.axes[index], found.scan.motors[chosen.place[0]], found.scan.supplies[chosen.place[1]]
    current = axis.driver.current_peak if axis.motor_kind == "stepper" and axis.driver is not None else servo_current(
        motor["motor_peak_torque"], motor["torque_constant_rms"])
    for row in by_price(found.scan.drivers):
        if bears(found.scan.drivers[row], current, volts):
            yield driver_at(found, row)


def _supplies(
    project: Project, volts: float, supplies: Iterable[Part], solutions: Mapping[str, Solution]
) -> Iterator[Part | None]:
    """The supplies that feed all axes which share one of a voltage [V], the cheapest first; None where the one there is does, where
    nobody shares one of this voltage, or where none is large enough.
    """
    needed = solve_project(project, solutions).get("supply_power_needed") if project.supply_voltage == volts else None
    if needed is None or (project.supply_power is not None and project.supply_power >= needed):
        yield None
        return
    fit = [part for part in supplies if part.values["supply_voltage"] == volts and part.values["supply_power"] >= needed]
    yield from sorted(fit, key=lambda part: (part.values.get("price", math.inf), part.values["supply_power"])) or (None,)
