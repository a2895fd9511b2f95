"""All stages: their specs by name, and the view of one, whose module is imported when it is first opened."""

from __future__ import annotations

from importlib import import_module

from urban_mule.core.sheet.stages import STAGES, StageName
from urban_mule.desk.model.session import Session
from urban_mule.desk.stages.spec import StageSpec
from urban_mule.desk.stages.view import StageView

SPECS: dict[StageName, StageSpec] = {
    name: import_module(f"urban_mule.desk.stages.{name.lower()}.spec").SPEC for name in STAGES}


def make_stage(session: Session, name: StageName) -> StageView:
    """The view of a stage."""
    module, _, view = SPECS[name].view.partition(":")
    made: StageView = getattr(import_module(module), view)(session, SPECS[name])
    return made


def make_spindle_stage(scope: Session, name: StageName) -> StageView:
    """The view of a stage of a spindle, on the session as the spindle sees it."""
    spec = import_module("urban_mule.desk.stages.spindle.spec").SPECS[name]
    module, _, view = spec.view.partition(":")
    made: StageView = getattr(import_module(module), view)(scope, spec)
    return made


def stage_modules() -> list[str]:
    """The modules of every view and leaf."""
    named = [where for spec in SPECS.values() for where in (spec.view, *(picture for _, picture in spec.leaves))]
    return ["urban_mule.desk.stages.measure", *(where.partition(":")[0] for where in named)]
