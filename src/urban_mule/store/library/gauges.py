"""Gauges of one's own, kept over projects: what each is, and when it was calibrated."""

from __future__ import annotations

import json
from collections.abc import Iterable
from typing import Any

from urban_mule.store.document.faults import first_fault
from urban_mule.store.document.plain import plain
from urban_mule.store.document.project import GaugeModel
from urban_mule.store.places import data_place, made
from urban_mule.store.text_files import BadFile, as_json, from_file, utf8, write_whole

FORMAT, LARGEST = "urban-mule-gauges/1", 1e6


def own_gauges() -> tuple[GaugeModel, ...]:
    """The user's own gauges, in the order of their names. Raises BadFile."""
    path = data_place("gauges.json")
    if not path.is_file():
        return ()
    said = from_file(path, LARGEST, _json)
    if not isinstance(said, dict) or said.get("format") != FORMAT or not isinstance(said.get("gauges"), list):
        raise BadFile(f"{path}: it holds no gauges; remove it, and the next that is kept begins it anew.")
    found = []
    for place, one in enumerate(said["gauges"]):
        try:
            found.append(GaugeModel.model_validate(one))
        except ValueError as why:
            raise BadFile(f"{path}: gauges[{place}]: {first_fault(why)}.") from None
    return tuple(sorted(found, key=lambda one: str(one.name).casefold()))


def _json(raw: bytes) -> Any:
    try:
        return json.loads(utf8(raw))
    except json.JSONDecodeError as why:
        raise BadFile(f"line {why.lineno}: this is not JSON.") from None


def keep_gauges(gauges: Iterable[GaugeModel]) -> None:
    """Keep gauges among the user's own; one of the same name is replaced. Raises BadFile."""
    path = data_place("gauges.json")
    made(path.parent)
    every = {one.name: one for one in (*own_gauges(), *gauges)}
    write_whole(path, as_json({"format": FORMAT, "gauges": [plain(one) for one in every.values()]}).encode())
