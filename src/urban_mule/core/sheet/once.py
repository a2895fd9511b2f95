"""A property that is computed once, without a lock."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from functools import cached_property as once
else:

    class once:  # noqa: N801 - it is written as a decorator
        """As `functools.cached_property`, which before Python 3.12 locks one property of all objects of a class: two threads that
        compute each what the other has begun would wait for one another for ever. Here both compute it, and the first is kept.
        """

        def __init__(self, function: Any) -> None:
            self.function, self.__doc__ = function, function.__doc__

        def __set_name__(self, _owner: type, name: str) -> None:
            self.name = name

        def __get__(self, one: Any, _owner: type | None = None) -> Any:
            if one is None:
                return self
            return one.__dict__.setdefault(self.name, self.function(one))


__all__ = ["once"]
