"""What an edit changed, as a short list that can be written and applied again: how a revision is kept small.

A change is [path, value] (null takes the key away) or, in a list, [path, first, how many go, what comes instead].
Paths are keys and places: ["axes", 0, "motor", "holding_torque"]. Works on parts of the document and on plain JSON alike.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from urban_mule.core.sheet.alike import same
from urban_mule.store.document.base import Strict
from urban_mule.store.document.identity import KEY, Identified

Change = list[Any]
Plain = Callable[[Any], Any]  # how a value is written


def differences(before: Any, after: Any, plain: Plain) -> list[Change]:
    """What turns one document into another; parts that are the same object are not looked into."""
    found: list[Change] = []
    _compare(before, after, [], plain, found)
    return found


def _compare(before: Any, after: Any, path: list[Any], plain: Plain, found: list[Change]) -> None:
    if before is after:
        return
    one, other = _keys(before), _keys(after)
    if one is not None and other is not None and type(before) is type(after):
        for key in {**one, **other}:
            _compare(one.get(key), other.get(key), [*path, key], plain, found)
    elif isinstance(before, (tuple, list)) and isinstance(after, (tuple, list)) and _holds_parts(before, after):
        _compare_lists(before, after, path, plain, found)
    elif (written := plain(after)) != plain(before):
        found.append([path, written])


def _compare_lists(before: Any, after: Any, path: list[Any], plain: Plain, found: list[Change]) -> None:
    if len(before) == len(after) and not _names(before, after):
        for place, (one, other) in enumerate(zip(before, after, strict=True)):
            _compare(one, other, [*path, place], plain, found)
        return
    alike = min(len(before), len(after))
    first = next((n for n in range(alike) if not same(before[n], after[n])), alike)
    last = next((n for n in range(alike - first) if not same(before[-1 - n], after[-1 - n])), alike - first)
    if len(before) == len(after) == first:
        return
    found.append([path, first, len(before) - first - last, [plain(one) for one in after[first:len(after) - last]]])


def _keys(value: Any) -> Mapping[str, Any] | None:
    """The keys of a part that is looked into; None for what is written as a whole."""
    if isinstance(value, dict):
        return value
    if not _is_inner(value):
        return None
    said = {KEY: value.id} if isinstance(value, Identified) else {}
    held = vars(value)  # what `dict(value)` says too, at ten times the cost; what begins with _ was worked out, and is no key
    return {**{name: one for name, one in held.items() if name[0] != "_"}, **value.model_extra, **said}


def _is_inner(value: Any) -> bool:
    """Whether it is a part of an axis: all are looked into but readings, which are written by their name."""
    return isinstance(value, Strict) and "taken" not in type(value).model_fields


def _holds_parts(*lists: Any) -> bool:
    """Whether these lists hold parts or names of readings; lists of numbers are values."""
    return all(isinstance(one, (Strict, dict, str)) for rows in lists for one in rows)


def _names(*lists: Any) -> bool:
    """Whether these lists hold readings or their names."""
    return any(isinstance(one, str) or (isinstance(one, Strict) and not _is_inner(one)) for rows in lists for one in rows)


def patched(document: Any, changes: list[Change]) -> Any:
    """The document, changed in place. Raises KeyError, IndexError, TypeError, ValueError for changes that do not fit it."""
    for path, *rest in changes:
        if not path:
            raise ValueError("a change names no place")
        holder = document
        for step in path[:-1]:
            holder = holder[step]
        last = path[-1]
        if len(rest) == 3:
            first, gone, come = rest
            holder.setdefault(last, [])[first:first + gone] = come
        elif isinstance(holder, dict) and rest[0] is None:
            holder.pop(last, None)
        else:
            holder[last] = rest[0]
    return document
