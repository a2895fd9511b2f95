"""Fields of the parts of a document: from what a class is annotated with to what takes a value of it.

The core declares and checks nearly all that a document holds; what is left are lists, parts, and a word of several. A general
library for models takes a third of a second of every start to learn as much, and 25 MB.
"""

from __future__ import annotations

import sys
from collections.abc import Callable, Mapping
from functools import cached_property
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from urban_mule.core.sheet.given import LARGEST, shown
from urban_mule.store.document.faults import Refused, refusing

Take = Callable[[Any, str], Any]  # of a value and the context in which it is read; raises Refused
Schema = Mapping[str, Any]


class Field:
    """A field of a part. annotation: what it may hold; default: what it holds where nothing is said."""

    def __init__(self, written: Any, module: str, default: Any) -> None:
        self._written, self._module, self.default = written, module, default

    @cached_property
    def declared(self) -> Any:
        """What it is annotated with."""
        return eval(self._written, vars(sys.modules[self._module])) if isinstance(self._written, str) else self._written

    @property
    def annotation(self) -> Any:
        """What it may hold, without the mark of what checks it."""
        return get_args(self.declared)[0] if get_origin(self.declared) is Annotated else self.declared

    @cached_property
    def take(self) -> Take | None:
        """What takes a value of it; None where anything goes, or the core's given has checked it."""
        return take_of(self.declared)

    def is_required(self) -> bool:
        return self.default is ...


class Checked:
    """Marks a field whose value goes through a function that raises ValueError; schema: its JSON Schema, if it has one."""

    def __init__(self, check: Callable[[Any], Any], schema: Schema | None = None) -> None:
        self._check, self.schema = check, schema

    def take(self, value: Any, _context: str) -> Any:
        return refusing(self._check, value)


class OneOf:
    """Marks a field that holds a part of one of several kinds, which its `kind` names."""

    def __init__(self, models: Mapping[str, Any]) -> None:
        self.models = models

    def take(self, value: Any, context: str) -> Any:
        """The part of its kind. Raises Refused."""
        if not isinstance(value, dict) and getattr(value, "kind", None) is None:
            raise Refused(f"is {shown(value)}; an object with a kind is needed")
        kind = value.get("kind") if isinstance(value, dict) else value.kind
        if kind is None:
            raise Refused("kind is required and not given")
        if not isinstance(kind, str) or kind not in self.models:
            raise Refused(f"kind is {shown(kind)}, which is not built yet; allowed is {', '.join(map(repr, self.models))}")
        return self.models[kind].model_validate(value, context)


def take_of(kind: Any) -> Take | None:
    """What takes a value of a kind; None where anything goes. Raises TypeError for a kind that no document has."""
    origin, inner = get_origin(kind), get_args(kind)
    if kind is Any:
        return None
    if origin is Annotated:
        mark: Checked | OneOf = kind.__metadata__[0]
        return mark.take
    if origin is Literal:
        return _word_of(inner)
    if origin in (Union, UnionType):
        only, = (one for one in inner if one is not NoneType)
        return _or_none(take_of(only))
    if origin is tuple and inner[-1] is ...:
        return _list_of(take_of(inner[0]))
    if origin is tuple:
        return _few_of(tuple(take_of(one) for one in inner))
    if kind in PLAIN:
        return PLAIN[kind]
    return kind.model_validate  # type: ignore[no-any-return]


def _word_of(words: tuple[str, ...]) -> Take:
    *others, last = map(repr, words)
    allowed = f"{', '.join(others)} or {last}" if others else last

    def take(value: Any, _context: str) -> Any:
        if not isinstance(value, str) or value not in words:
            raise Refused(f"is {shown(value)}; allowed is {allowed}")
        return value

    return take


def _or_none(take: Take | None) -> Take | None:
    if take is None:
        return None
    return lambda value, context: None if value is None else take(value, context)


def _each(values: Any, takes: Any, context: str) -> tuple[Any, ...]:
    found: list[Any] = []
    try:
        for value, take in zip(values, takes, strict=False):
            found.append(take(value, context))
    except Refused as why:
        raise why.inside(len(found)) from None
    return tuple(found)


def _list_of(take: Take | None) -> Take:
    def takes(value: Any, context: str) -> tuple[Any, ...]:
        if not isinstance(value, (list, tuple)):
            raise Refused(f"is {shown(value)}; a list is needed")
        return tuple(value) if take is None else _each(value, (take,) * len(value), context)

    return takes


def _few_of(each: tuple[Take | None, ...]) -> Take:
    def takes(value: Any, context: str) -> tuple[Any, ...]:
        if not isinstance(value, (list, tuple)):
            raise Refused(f"is {shown(value)}; a list is needed")
        if len(value) != len(each):
            raise Refused(f"is {shown(list(value))}; a list of {len(each)} is needed")
        return _each(value, each, context)

    return takes


def _truth(value: Any, _context: str) -> bool:
    if not isinstance(value, bool):
        raise Refused(f"is {shown(value)}; allowed is true or false")
    return value


def _number(value: Any, _context: str) -> float:
    if type(value) not in (int, float) or not abs(value) <= LARGEST:
        raise Refused(f"is {shown(value)}; a number is needed")
    return float(value)


def _whole(value: Any, _context: str) -> int:
    if type(value) not in (int, float) or not abs(value) <= LARGEST or value != int(value):
        raise Refused(f"is {shown(value)}; a whole number is needed")
    return int(value)


PLAIN: dict[Any, Take] = {bool: _truth, float: _number, int: _whole}
