"""All stages: their specs by the key of the subjects that they are for, and the view of one, imported when it is first opened."""

from __future__ import annotations

from collections.abc import Iterator
from importlib import import_module

from urban_mule.core.sheet.stages import STAGES, StageName
from urban_mule.core.subjects import KINDS
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.stages.spec import StageSpec
from urban_mule.desk.stages.view import StageView

ROOMS = (*(name.lower() for name in STAGES), *(kind.name for kind in KINDS.values() if kind.key not in ("", "axes")))


def _specs() -> Iterator[StageSpec]:
    for room in ROOMS:
        yield from import_module(f"urban_mule.desk.stages.{room}.spec").SPECS


OF: dict[str, dict[StageName, StageSpec]] = {}  # by the key of the subjects in the document
for _spec in _specs():
    OF.setdefault(_spec.key, {})[_spec.name] = _spec
SPECS = OF["axes"]


def stage_of(key: str, given: str) -> StageName | None:
    """The stage at which a given of such subjects is entered, or None."""
    return next((stage for stage, spec in OF[key].items() if any(one == given for _, one in spec.all_fields)), None)


def make_stage(scope: Scope, name: StageName) -> StageView:
    """The view of a stage for whoever is shown."""
    spec = OF[scope.key][name]
    module, _, view = spec.view.partition(":")
    made: StageView = getattr(import_module(module), view)(scope, spec)
    return made


def stage_modules() -> list[str]:
    """The modules of every view and leaf."""
    named = [where for spec in SPECS.values() for where in (spec.view, *(picture for _, picture in spec.leaves))]
    return ["urban_mule.desk.stages.measure", *(where.partition(":")[0] for where in named)]
