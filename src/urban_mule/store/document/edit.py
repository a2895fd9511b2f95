"""Edits of the document by path; every edit makes a new document and keeps the untouched parts."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ValidationError

from urban_mule.core.sheet.given import BadValue
from urban_mule.store.document.drivers import ControllerModel, DriverModel, Terminals
from urban_mule.store.document.faults import sentence
from urban_mule.store.document.parts import Follower
from urban_mule.store.document.project import Project
from urban_mule.store.document.spindles import CutModel, SpeedsModel

Path = tuple[str | int, ...]
MADE_WHEN_NEEDED: dict[str, Any] = {
    "speeds": SpeedsModel, "cut": CutModel,
    "driver": DriverModel, "controller": ControllerModel, "follower": Follower, "terminals": Terminals}


def at(part: Any, path: Path) -> Any:
    """What stands at a path of the document, or None where a part of the way is not there (yet, or any more)."""
    for step in path:
        if part is None or (isinstance(step, int) and step >= len(part)):
            return None
        part = part[step] if isinstance(step, int) else getattr(part, step, None)
    return part


def edited(project: Project, path: Path, value: Any) -> Project:
    """The project with another value at a path; None removes it. Raises BadValue with what is wrong and allowed."""
    try:
        if path[:1] == ("axes",) and project.readings:
            axes = _replaced(project.axes, path[1:], value)
            return _validated(project, {"axes": axes, "readings": _following(project, tuple(axes))})  # type: ignore[no-any-return]
        return _replaced(project, path, value)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        own: dict[str, Any] = first["ctx"] if first["type"] == "given" else {"key": "", "fault": "", "beyond": False}
        raise BadValue(sentence(error), own["key"], own["fault"], own["beyond"]) from None


def _following(project: Project, axes: tuple[Any, ...]) -> tuple[Any, ...]:
    """Readings of two axes after the axes changed: they follow an axis to its new name, and go with one that goes or turns."""
    names = [axis.name for axis in project.axes]
    new = [axis.get("name") if isinstance(axis, dict) else axis.name for axis in axes]
    renamed = dict(zip(names, new, strict=True)) if len(names) == len(new) and len(set(names) - set(new)) <= 1 else {}
    linear = {name for name, axis in zip(new, axes, strict=True)
              if (axis.get("motion", "linear") if isinstance(axis, dict) else axis.motion) == "linear"}
    kept = []
    for one in project.readings or ():
        pair = tuple(name if name in new else renamed.get(name, name) for name in one.axes)
        if set(pair) <= linear and len(set(pair)) > 1:
            kept.append(one if pair == one.axes else one.model_copy(update={"axes": pair}))
    return tuple(kept)


def _replaced(part: Any, path: Path, value: Any) -> Any:
    if not path:
        return value
    step, rest = path[0], path[1:]
    if isinstance(part, tuple):
        index = int(step)
        if index >= len(part):
            raise BadValue("what this belongs to is not there any more; undo or redo brings it back")
        return (*part[:index], _replaced(part[index], rest, value), *part[index + 1:])
    name = str(step)
    inner = getattr(part, name)
    if inner is None and rest:
        inner = MADE_WHEN_NEEDED[name]()
    return _validated(part, {name: _replaced(inner, rest, value)})


def _validated(part: BaseModel, change: dict[str, Any]) -> Any:
    """The same kind of part with a change, its rules checked again; parts inside that did not change are kept."""
    return type(part).model_validate({**dict(part), **change})
