"""The facts of an axis of which its stations are made, and how they stand by what was answered."""

from __future__ import annotations

from typing import Any

import numpy as np

from urban_mule.core.load.fall import without_power
from urban_mule.core.moves.stations import StationStand, stands, stations_of
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.train.fold import self_locking
from urban_mule.store.document.project import Axis, Project

SIZES = (("lead", 1e3, "mm"), ("teeth", 1.0, "teeth"), ("module", 1e3, "mm module"), ("ratio", 1.0, "to 1"))
MEASURED = ("microsteps", "current_peak", "leads", "travel")  # numbers of the sheet that a station may rest on


def facts_of(project: Project, axis: Axis, solution: Solution) -> dict[str, Any]:
    """What is known of an axis in words and numbers; a fact that is not known is left out."""
    motor, driver, train = axis.motor, axis.driver, axis.train or ()
    goes = without_power(getattr(axis, "incline", None), solution.get("gravity_load"))
    tension = next((one for link in train if (one := getattr(link, "pretension", None))), None)
    fellow = project.fellow_of(axis)
    found: dict[str, Any] = {
        "motion": axis.motion, "motor kind": axis.motor_kind, "motors": int(getattr(axis, "motor_count", None) or 1),
        "train": ", ".join(_in_words(link) for link in train), "belt tension": tension,
        "vertical": "yes" if goes else "",
        "rises": "yes" if goes == "rises" else "",
        "locks": "yes" if _locks(solution.get("train") or ()) else "",
        "motor": None if motor is None else motor.name or motor.kind, "brake": getattr(motor, "brake_torque", None),
        "wiring": getattr(motor, "wiring", None), "driver": None if driver is None else driver.name,
        "interface": getattr(driver, "interface_mode", None), "address": getattr(driver, "bus_address", None),
        "supply voltage": project.supply_of(axis), "moves with": None if fellow is None else fellow.name,
        "follower": None if axis.follower is None else ", ".join(
            name for name in ("train", "motor", "driver") if getattr(axis.follower, name) is not None),
        **{name: solution.get(name) for name in MEASURED if name in solution.sheet.inputs or name in solution.sheet.quantities}}
    return {name: value for name, value in found.items() if value not in (None, "")}


def _locks(train: Any) -> bool:
    """Whether a train is known to stand by itself; of one whose parts are not all known nobody can say so."""
    try:
        return bool(np.all(self_locking(train)))
    except NotKnown:
        return False


def _in_words(link: Any) -> str:
    sizes = [f" {value * scale:.4g} {unit}" for name, scale, unit in SIZES if (value := getattr(link, name, None)) is not None]
    return f"{link.kind}{' of' if sizes else ''}{' by'.join(sizes)}"


def station_stands(project: Project, axis: Axis, solution: Solution) -> tuple[StationStand, ...]:
    """Every station of an axis with how it stands."""
    facts = facts_of(project, axis, solution)
    answers = {one.station: (one.state, one.conditions or {}) for one in axis.stations or ()}
    links = tuple(link.kind for link in axis.train or ())
    return stands(stations_of({**facts, "links": links}), answers, facts)
