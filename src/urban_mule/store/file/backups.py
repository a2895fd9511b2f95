"""Copies of a project kept by themselves: one for each day on which something was changed, the newest few of each project."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from datetime import date
from pathlib import Path

from urban_mule.store.file.opening import looking, sweep
from urban_mule.store.file.rows import digest_of
from urban_mule.store.places import state_place
from urban_mule.store.text_files import BadFile, safe_name, write_whole

KEPT = 7  # days of a project


def backups_folder() -> Path:
    """Where the copies are kept."""
    return state_place("backups")


def backups_of(path: Path) -> list[Path]:
    """The copies of a project, oldest first."""
    return sorted(backups_folder().glob(f"{_stem(path)}-????-??-??.mule"))


def copies_of(path: Path) -> str:
    """Where whole copies of a project lie, as the end of a sentence; nothing where there are none."""
    there = backups_of(path)
    return f"; whole copies of earlier days lie in {backups_folder()}, the newest is {there[-1].name}" if there else ""


def back_up(path: Path, day: date) -> Path | None:
    """Keep a copy of a project as it is now, once a day; the copy, or None where there is one. Raises BadFile."""
    copied = backups_folder() / f"{_stem(path)}-{day.isoformat()}.mule"
    if copied.exists():
        return None
    try:
        copied.parent.mkdir(parents=True, exist_ok=True)
        sweep(copied.parent)
        write_whole(copied, lambda fresh: _copy(path, fresh))
        for old in backups_of(path)[:-KEPT]:
            old.unlink(missing_ok=True)
    except (OSError, sqlite3.Error) as why:
        raise BadFile(f"{copied}: the copy of the day cannot be written: {getattr(why, 'strerror', None) or why}.") from None
    return copied


def _copy(path: Path, fresh: Path) -> None:
    with closing(looking(path, as_it_stands=False)) as source, closing(sqlite3.connect(fresh)) as target:
        source.backup(target)


def _stem(path: Path) -> str:
    return f"{safe_name(path.stem)[:40]}-{digest_of(str(path.resolve()))[:8]}"
