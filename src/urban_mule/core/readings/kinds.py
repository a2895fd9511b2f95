"""All kinds of reading: those that the modules of this room declare."""

from __future__ import annotations

from functools import cache
from importlib import import_module
from pkgutil import iter_modules

from urban_mule.core import readings
from urban_mule.core.readings.kind import ReadingKind


@cache
def reading_kinds() -> dict[str, ReadingKind]:
    """Every kind by its name. Raises ValueError when two have one name."""
    found: dict[str, ReadingKind] = {}
    for module in sorted(one.name for one in iter_modules(readings.__path__)):
        for kind in vars(import_module(f"{readings.__name__}.{module}")).values():
            if isinstance(kind, ReadingKind) and found.setdefault(kind.name, kind) is not kind:
                raise ValueError(f"two kinds of reading are called {kind.name}")
    return found
