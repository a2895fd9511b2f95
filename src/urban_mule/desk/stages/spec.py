"""What a stage declares: its leaves, fields, results, caution, view."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from urban_mule.core.sheet.stages import StageName


@dataclass(frozen=True)
class StageSpec:
    """One stage of the trail.

    fields: (part of the document, given): part is motor, driver, controller, axis or project. results: (quantity, check
    that judges it or nothing). leaves: word and `module:Class` of each picture, imported when it is first shown.
    readings: kinds of readings that can be taken here. further: fields behind another leaf, by kind of motor. view: the
    widget of a stage that is more than a grid of fields, as `module:Class`.
    """

    name: StageName
    leaves: tuple[tuple[str, str], ...]
    fields: tuple[tuple[str, str], ...] = ()
    results: tuple[tuple[str, str], ...] = ()
    caution: str = ""
    readings: tuple[str, ...] = ()
    further: Mapping[str, tuple[tuple[str, str], ...]] = field(default_factory=dict)
    view: str = "urban_mule.desk.stages.view:StageView"


def of(part: str, *names: str) -> tuple[tuple[str, str], ...]:
    """Fields of a part of the document, by name."""
    return tuple((part, name) for name in names)
