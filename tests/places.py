"""Where things lie that tests read."""

from __future__ import annotations

from pathlib import Path

ROOT = Path(__file__).parent.parent
VECTORS = ROOT / "tests" / "vectors"
FILES = ROOT / "tests" / "files"
