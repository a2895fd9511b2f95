"""What is remembered from one start to the next: the projects that were open, and the size of the window."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from urban_mule.store.places import config_place
from urban_mule.store.text_files import BadFile, write_whole

FILE = "last.json"
MOST_RECENT = 8
SIZES = (100, 125, 150)  # per cent of the usual size of all that is shown


def memory_file() -> Path:
    return config_place(FILE)


def recalled() -> dict[str, Any]:
    """All that is remembered; nothing where it cannot be read."""
    try:
        found = json.loads(memory_file().read_text(encoding="utf-8"))
    except (OSError, ValueError, RecursionError):
        return {}
    return found if isinstance(found, dict) else {}


def keep(**values: Any) -> None:
    """Remember these too; not being able to is no fault."""
    try:
        memory_file().parent.mkdir(parents=True, exist_ok=True)
        write_whole(memory_file(), json.dumps({**recalled(), **values}))
    except (OSError, BadFile):
        return


def recent_projects() -> list[Path]:
    """The projects that were open, the last one first, those that are still there."""
    found = recalled().get("recent")
    paths = [Path(one) for one in found if isinstance(one, str)] if isinstance(found, list) else []
    return [path for path in paths if _is_there(path)]


def _is_there(path: Path) -> bool:
    """Whether there is such a file; of what cannot be looked at (locked, unplugged, no name at all) nobody can say so."""
    try:
        return path.is_file()
    except (OSError, ValueError):
        return False


def remember(path: Path) -> None:
    """Keep which project is open, for the next start."""
    whole = path.resolve()
    keep(recent=[str(whole), *(str(one) for one in recent_projects() if one != whole)][:MOST_RECENT])


def text_size() -> int:
    """How large all is to be shown, in per cent of the usual size."""
    found = recalled().get("text_size")
    return found if found in SIZES else SIZES[0]


def window_size() -> tuple[int, int] | None:
    """The size that the window had last, or None."""
    match recalled().get("window"):
        case [int(width), int(height)]:
            return width, height
        case _:
            return None
