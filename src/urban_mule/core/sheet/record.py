"""Frozen records without code of their own.

A dataclass has its methods compiled for each class at every start, a millisecond each; the forty of the core would be a
tenth of `solve`. These share theirs. To the type checker, to `dataclasses.fields` and to `dataclasses.replace` they are
dataclasses.
"""

from __future__ import annotations

import dataclasses
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from dataclasses import dataclass as record
else:

    def record(**_rules: Any) -> Any:
        """Declare a frozen record as `dataclass(frozen=True, eq=False, repr=False)` does, with or without kw_only."""

        def make(cls: type) -> type:
            made = dataclasses.dataclass(init=False, repr=False, eq=False, match_args=False)(cls)
            defaults = {field.name: field.default for field in dataclasses.fields(made)}
            made.__record_defaults__ = defaults
            made.__record_needs__ = {name for name, value in defaults.items() if value is dataclasses.MISSING}
            made.__init__, made.__setattr__, made.__delattr__ = _fill, _refuse, _refuse
            return made

        return make


def _fill(self: Any, *values: Any, **named: Any) -> None:
    """Set the fields by place and by name. Raises TypeError for too many, unknown, doubled or missing ones."""
    defaults: dict[str, Any] = self.__record_defaults__
    given = dict(zip(defaults, values, strict=False)) | named if values else named
    filled = defaults | given
    if (len(filled) > len(defaults) or len(given) < len(values) + len(named)
            or (len(given) < len(defaults) and not given.keys() >= self.__record_needs__)):
        raise TypeError(f"{type(self).__name__} takes {', '.join(defaults)}; given are {len(values)} by place"
                        f" and {', '.join(named) or 'none'} by name")
    self.__dict__.update(filled)


def _refuse(self: Any, name: str, *_value: Any) -> None:
    raise dataclasses.FrozenInstanceError(f"{type(self).__name__} is frozen; {name} cannot be changed")


__all__ = ["record"]
