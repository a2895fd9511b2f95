"""What a stage declares: its leaves, fields, results, caution, view."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field

from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.stages import StageName


@record(frozen=True)
class Behind:
    """Fields and results that stand beside one leaf only."""

    fields: tuple[tuple[str, str], ...]
    results: tuple[tuple[str, str], ...] = ()


@record(frozen=True)
class StageSpec:
    """One stage of the trail.

    fields: (part of the document, given): part is motor, driver, controller, axis or project. results: (quantity, check
    that judges it or nothing). leaves: word and `module:Class` of each picture, imported when it is first shown.
    readings: kinds of readings that can be taken here. behind: what stands beside a further leaf in place of fields and
    results, by its word. standing: words of leaves that show something before anything is measured. measured_at: words of the
    leaves at which readings are taken; nothing: at all. view: the widget of a
    stage that is more than a grid of fields, as `module:Class`. key: under which the subjects stand that it is for.
    judged: the checks that are a further leaf's own. nothing: headline and next step of a leaf of which nothing is judged yet.
    of_steppers, of_servos: further leaves that an axis with another motor has not; of_pairs: that one moving by itself has not.
    """

    name: StageName
    leaves: tuple[tuple[str, str], ...]
    fields: tuple[tuple[str, str], ...] = ()
    results: tuple[tuple[str, str], ...] = ()
    caution: str = ""
    readings: tuple[str, ...] = ()
    standing: tuple[str, ...] = ()
    behind: Mapping[str, Behind] = field(default_factory=dict)
    view: str = "urban_mule.desk.stages.view:StageView"
    measured_at: tuple[str, ...] = ()
    key: str = "axes"
    judged: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    nothing: Mapping[str, tuple[str, str]] = field(default_factory=dict)
    of_steppers: tuple[str, ...] = ()
    of_servos: tuple[str, ...] = ()
    of_pairs: tuple[str, ...] = ()

    def leaf_of(self, check: str) -> str:
        """The word of the leaf whose headline a check may be: the first one, unless another says it."""
        return next((word for word, checks in self.judged.items() if check in checks), self.leaves[0][0])

    @property
    def all_fields(self) -> tuple[tuple[str, str], ...]:
        """The fields of all leaves."""
        return (*self.fields, *(one for behind in self.behind.values() for one in behind.fields))


def of(part: str, *names: str) -> tuple[tuple[str, str], ...]:
    """Fields of a part of the document, by name."""
    return tuple((part, name) for name in names)
