"""The demo built once a process; every other one is a copy of it."""

from __future__ import annotations

import shutil
import tempfile
from functools import cache
from pathlib import Path

from urban_mule.demo.courtyard import build_demo
from urban_mule.store.file.project_file import ProjectFile


@cache
def _built() -> tuple[tempfile.TemporaryDirectory[str], Path]:
    folder = tempfile.TemporaryDirectory(prefix="urban-mule-demo-")
    path = Path(folder.name) / "courtyard.mule"
    build_demo(path).close()
    return folder, path


def demo_at(path: Path) -> ProjectFile:
    """A copy of the demo at a path, open."""
    shutil.copyfile(_built()[1], path)
    return ProjectFile.open(path)
