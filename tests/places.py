"""Where things lie that tests read."""

from __future__ import annotations

from pathlib import Path
from typing import Any

ROOT = Path(__file__).parent.parent
VECTORS = ROOT / "tests" / "vectors"
FILES = ROOT / "tests" / "files"


def whose(names: Any, called: str = "X") -> str:
    """Who is called so: in a project file, a session or what either knows of names."""
    known = names.names() if hasattr(names, "names") else getattr(getattr(names, "saving", None), "names", names)
    return next(str(one) for one, name in known.items() if name == called)
