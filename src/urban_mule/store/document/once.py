"""What was made of a part of a document: most parts stay the same object over an edit."""

from __future__ import annotations

import weakref
from collections.abc import Callable
from typing import Any

MOST_KEPT = 64  # of the things that nobody can be told of when they go, as a tuple


class OnceEach:
    """Makes something of a thing once, by its identity; lets go of it with the thing, or, of tuples, when there are many."""

    def __init__(self, make: Callable[[Any], Any]) -> None:
        self._make, self._kept, self._tuples = make, dict[int, tuple[Callable[[], Any], Any]](), 0

    def __call__(self, thing: Any) -> Any:
        """What is made of it, now or before."""
        kept = self._kept.get(id(thing))
        if kept is not None and kept[0]() is thing:
            return kept[1]
        made = self._make(thing)
        if isinstance(thing, tuple):
            self._tuples += 1
            if self._tuples > MOST_KEPT:
                self._kept.clear()
                self._tuples = 1
            self._kept[id(thing)] = (lambda: thing), made
        else:
            self._kept[id(thing)] = weakref.ref(thing, self._gone(id(thing))), made
        return made

    def _gone(self, key: int) -> Callable[[Any], None]:
        def forget(gone: Any) -> None:
            kept = self._kept.get(key)
            if kept is not None and kept[0] is gone:
                del self._kept[key]

        return forget
