"""Gauges of one's own, kept over projects: what each is, and when it was calibrated."""

from __future__ import annotations

from collections.abc import Iterable

from urban_mule.store.document.faults import first_fault
from urban_mule.store.document.plain import plain
from urban_mule.store.document.project import GaugeModel
from urban_mule.store.places import data_place, made
from urban_mule.store.text_files import BadFile, as_json, rows_kept, write_whole

FORMAT, LARGEST = "urban-mule-gauges/1", 1e6


def own_gauges() -> tuple[GaugeModel, ...]:
    """The user's own gauges, in the order of their names. Raises BadFile."""
    path = data_place("gauges.json")
    found = []
    for place, one in enumerate(rows_kept(path, FORMAT, "gauges", "gauges", LARGEST)):
        try:
            found.append(GaugeModel.model_validate(one))
        except ValueError as why:
            raise BadFile(f"{path}: gauges[{place}]: {first_fault(why)}.") from None
    return tuple(sorted(found, key=lambda one: str(one.name).casefold()))


def keep_gauges(gauges: Iterable[GaugeModel]) -> None:
    """Keep gauges among the user's own; one of the same name is replaced. Raises BadFile."""
    path = data_place("gauges.json")
    made(path.parent)
    every = {one.name: one for one in (*own_gauges(), *gauges)}
    write_whole(path, as_json({"format": FORMAT, "gauges": [plain(one) for one in every.values()]}).encode())
