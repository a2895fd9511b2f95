"""Spares every start pydantic's search for plug-ins, which imports the metadata of all packages: a tenth of `solve`.

With plug-ins disabled, as documented, the answer is always none; so it is given without asking. Should another release of
pydantic want anything else of that module, it gets the real one.
"""

from __future__ import annotations

import importlib
import os
import sys
from types import ModuleType
from typing import Any

from pydantic.version import VERSION

LOADER = "pydantic.plugin._loader"
KNOWN = "2."  # releases whose loader is known to give a list of plug-ins and no more


def _real(name: str) -> Any:
    if name.startswith("__"):
        raise AttributeError(name)  # the import system looks for its own marks
    del sys.modules[LOADER]
    return getattr(importlib.import_module(LOADER), name)


os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
if LOADER not in sys.modules and VERSION.startswith(KNOWN) and "URBAN_MULE_REAL_PLUGINS" not in os.environ:
    known: Any = ModuleType(LOADER)
    known.get_plugins, known.__getattr__ = tuple, _real
    sys.modules[LOADER] = known
