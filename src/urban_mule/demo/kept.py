"""The demo as it was built the last time: its history is integrated in time, which takes seconds that a second start need not."""

from __future__ import annotations

import os
import shutil
import tempfile
from contextlib import suppress
from hashlib import sha256
from pathlib import Path

from urban_mule.demo import BRUSH, COURTYARD
from urban_mule.store.document.project import Project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.places import cache_place, made
from urban_mule.store.text_files import BadFile

PACKAGE = Path(__file__).parent.parent
BUILT_OF = ("*.py", "*.csv")


def machine_project(machine: str) -> Project:
    """One of the demo machines as first written down, without readings."""
    if machine == BRUSH:
        from urban_mule.demo.brush import brush_project

        return brush_project()
    from urban_mule.demo.courtyard import demo_project

    return demo_project()


def demo_at(path: Path, machine: str = COURTYARD) -> ProjectFile:
    """A demo machine with its history, in a new file: a copy of the kept one, else built, and kept. Raises BadFile."""
    kept = cache_place(f"{machine}-{_of_these_sources()}.mule")
    with suppress(OSError, BadFile):
        shutil.copyfile(kept, path)
        return ProjectFile.open(path)
    path.unlink(missing_ok=True)
    file = _built(machine, path)
    with suppress(OSError, BadFile):  # where nothing can be kept it is built again
        beside = made(kept.parent) / f"{kept.stem}.{os.getpid()}"
        file.copy_to(beside)
        for older in kept.parent.glob(f"{machine}-*.mule"):
            older.unlink()
        beside.replace(kept)
    return file


def _built(machine: str, path: Path) -> ProjectFile:
    if machine == BRUSH:
        from urban_mule.demo.brush import build_brush

        return build_brush(path)
    from urban_mule.demo.courtyard import build_demo

    return build_demo(path)


def keep() -> None:
    """Build the demos before anybody asks for one, so that nobody waits for it, nor for what is compiled meanwhile."""
    with tempfile.TemporaryDirectory() as folder:
        for machine in (COURTYARD, BRUSH):
            demo_at(Path(folder) / f"{machine}.mule", machine).close()


def _of_these_sources() -> str:
    """A short name for the program as it is installed: another program makes another demo."""
    told = sha256()
    for one in sorted(one for kind in BUILT_OF for one in PACKAGE.rglob(kind)):
        at = one.stat()
        told.update(f"{one.relative_to(PACKAGE)} {at.st_size} {at.st_mtime_ns}\n".encode())
    return told.hexdigest()[:16]


if __name__ == "__main__":
    keep()
