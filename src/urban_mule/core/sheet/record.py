"""Frozen records without code of their own.

A dataclass has its methods compiled for each class at every start, a millisecond each; all of them would be a fifth of it.
These share theirs. To the type checker, to `dataclasses.fields` and to `dataclasses.replace` they are dataclasses; what is
written in the class is kept, and `__post_init__` is not called.
"""

from __future__ import annotations

import dataclasses
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from dataclasses import dataclass as record
else:

    def record(eq: bool = True, repr: bool = True, **_rules: Any) -> Any:
        """Declare a frozen record as `dataclass(frozen=True)` does, with or without kw_only."""

        def make(cls: type) -> type:
            made: Any = cls
            fields: dict[str, Any] = {}
            for base in reversed(cls.__mro__[1:]):
                fields |= vars(base).get("__dataclass_fields__", {})
            for name, kind in made.__annotations__.items():
                if not str(kind).startswith("ClassVar"):
                    fields[name] = _field_of(made, name, kind)
            made.__dataclass_fields__ = fields
            made.__record_makes__ = {name: field.default_factory for name, field in fields.items()
                                     if field.default_factory is not dataclasses.MISSING}
            made.__record_defaults__ = {name: field.default for name, field in fields.items()}
            made.__record_needs__ = {name for name, value in made.__record_defaults__.items()
                                     if value is dataclasses.MISSING and name not in made.__record_makes__}
            made.__init__ = _fill_and_make if made.__record_makes__ else _fill
            made.__setattr__ = made.__delattr__ = _refuse
            if eq and "__eq__" not in vars(cls):
                made.__eq__, made.__hash__ = _equal, _hash
            if repr and "__repr__" not in vars(cls):
                made.__repr__ = _shown
            return cls

        return make


@dataclasses.dataclass
class _Usual:
    field: int


USUAL: Any = dataclasses.fields(_Usual)[0]


def _field_of(cls: Any, name: str, kind: Any) -> Any:
    """A field as `dataclasses` would make it of an annotation, and the default left in the class."""
    default = vars(cls).get(name, dataclasses.MISSING)
    field: Any = default if isinstance(default, dataclasses.Field) else dataclasses.field(default=default)
    field.name, field.type, field.kw_only, field._field_type = name, kind, False, USUAL._field_type
    if field.default is not dataclasses.MISSING:
        setattr(cls, name, field.default)
    elif name in vars(cls):
        delattr(cls, name)
    return field


def _fill(self: Any, *values: Any, **named: Any) -> None:
    """Set the fields by place and by name. Raises TypeError for too many, unknown, doubled or missing ones."""
    defaults: dict[str, Any] = self.__record_defaults__
    if len(values) == len(defaults) and not named:  # as nearly all are made: it takes a third of the time
        self.__dict__.update(zip(defaults, values, strict=True))
        return
    given = dict(zip(defaults, values, strict=False)) | named if values else named
    filled = defaults | given
    if (len(filled) > len(defaults) or len(given) < len(values) + len(named)
            or (len(given) < len(defaults) and not given.keys() >= self.__record_needs__)):
        raise TypeError(f"{type(self).__name__} takes {', '.join(defaults)}; given are {len(values)} by place"
                        f" and {', '.join(named) or 'none'} by name")
    self.__dict__.update(filled)


def _fill_and_make(self: Any, *values: Any, **named: Any) -> None:
    """The same for a record of which some defaults are made anew each time."""
    _fill(self, *values, **named)
    for name, make in self.__record_makes__.items():
        if vars(self)[name] is dataclasses.MISSING:
            vars(self)[name] = make()


def _values(self: Any) -> tuple[Any, ...]:
    return tuple(map(vars(self).__getitem__, self.__record_defaults__))


def _equal(self: Any, other: object) -> Any:
    return _values(self) == _values(other) if type(self) is type(other) else NotImplemented


def _hash(self: Any) -> int:
    return hash(_values(self))


def _shown(self: Any) -> str:
    said = ", ".join(f"{name}={value!r}" for name, value in zip(self.__record_defaults__, _values(self), strict=True))
    return f"{type(self).__qualname__}({said})"


def _refuse(self: Any, name: str, *_value: Any) -> None:
    raise dataclasses.FrozenInstanceError(f"{type(self).__name__} is frozen; {name} cannot be changed")


__all__ = ["record"]
