"""Edits of the document by path; every edit makes a new document and keeps the untouched parts."""

from __future__ import annotations

from typing import Any, get_args

from urban_mule.core.sheet.given import BadValue
from urban_mule.store.document.base import Strict
from urban_mule.store.document.faults import Refused
from urban_mule.store.document.follow import followed
from urban_mule.store.document.identity import BY_NAME, Identified, fresh, let_copies_be_others, recognise
from urban_mule.store.document.project import Project

Path = tuple[str | int, ...]
TURN = frozenset({"teeth", "pitch", "lead", "starts", "ratio"})  # keys of a link that decide the travel a turn


def at(part: Any, path: Path) -> Any:
    """What stands at a path of the document, or None where a part of the way is not there (yet, or any more)."""
    for step in path:
        if part is None or (isinstance(step, int) and step >= len(part)):
            return None
        part = part[step] if isinstance(step, int) else getattr(part, step, None)
    return part


def open_path(path: Path) -> str:
    """A path of the document as the open JSON of its axis has it; what is the project's own begins with `project.`."""
    if path[:1] != ("axes",):
        return f"project.{'.'.join(map(str, path))}"
    text = ""
    for step in path[2:]:
        text += f"[{step}]" if isinstance(step, int) else f".{step}" if text else str(step)
    return text


def edited(project: Project, path: Path, value: Any) -> Project:
    """The project with another value at a path; None removes it. Raises BadValue with what is wrong and allowed."""
    try:
        return _on_both(project, path, value) or _replaced(project, path, value)  # type: ignore[no-any-return]
    except Refused as why:
        raise BadValue(str(why), why.given, why.fault if why.given else "", why.beyond) from None


def _on_both(project: Project, path: Path, value: Any) -> Project | None:
    """The project with a motor of a pair, a whole driver, a link more or less, or what its belts move a turn, set on both axes;
    None where it is no such edit.
    """
    if not project.pairs or path[:1] != ("axes",) or len(path) < 3:
        return None
    if not (path[2] == "motor" or path[-1] in TURN or path[2:] in (("driver",), ("train",))):
        return None
    axis = at(project, path[:2])
    other = None if axis is None else project.fellow_of(axis)
    if other is None:
        return None
    apart = _replaced(project, ("pairs",), None)
    there = ("axes", project.axes.index(other), *path[2:])
    if at(project, there[:-1]) is None:
        return None
    both = _replaced(_replaced(apart, path, value), there, _theirs(at(project, path), at(project, there), path[-1], value))
    return _replaced(both, ("pairs",), project.pairs)  # type: ignore[no-any-return]


def _theirs(ours: Any, theirs: Any, key: str | int, value: Any) -> Any:
    """What the other axis of a pair gets: the same driver at terminals of its own; of a train its own links that stayed."""
    if key == "driver" and value is not None and theirs is not None:
        return value.model_copy(update={"terminals": theirs.terminals})
    if key == "train" and isinstance(value, tuple) and ours and theirs and len(ours) == len(theirs):
        if len(value) == len(ours):
            return tuple(_changed_alike(*three) for three in zip(ours, theirs, value, strict=True))
        kept = {id(one): their for one, their in zip(ours, theirs, strict=True)}
        return tuple(kept[id(one)] if id(one) in kept else one.model_copy().be(fresh()) for one in value)
    return value


def _changed_alike(was: Any, their: Any, now: Any) -> Any:
    """A link of the other axis of a pair with what changed on this one's; its own where that is another kind of link."""
    if now is was:
        return their
    if not was.kind == their.kind == now.kind:
        return now.model_copy().be(fresh())
    changed = {key: value for key, value in now if value != getattr(was, key)}
    return type(their).model_validate({**dict(their), **changed}).be(their.id)


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
        inner = _empty(part, name)
    return _validated(part, {name: _replaced(inner, rest, value)})


def _empty(part: Strict, name: str) -> Any:
    """A part of which nothing is said yet, of the one kind that can stand in a field."""
    kinds = get_args(type(part).model_fields[name].annotation)
    return next(one for one in kinds if isinstance(one, type) and issubclass(one, Strict))()


def _validated(part: Strict, change: dict[str, Any]) -> Any:
    """The same part with a change, its rules checked again; parts inside that did not change are kept, and so is who it is."""
    for name in BY_NAME & change.keys():
        let_copies_be_others(getattr(part, name), change[name] if isinstance(change[name], tuple) else ())
    made: Any = type(part).model_validate({**dict(part), **change, **followed(part, change)})
    if isinstance(part, Identified):
        made.be(part.id)
    for name in BY_NAME & change.keys():
        recognise(getattr(part, name), getattr(made, name))
    return made
