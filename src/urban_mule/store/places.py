"""Where the user's own files lie, by kind: what is made, what is remembered, what is kept in case."""

from __future__ import annotations

from itertools import chain, count
from pathlib import Path

from urban_mule.store.text_files import BadFile

OURS = "urban-mule"


def data_place(name: str) -> Path:
    """Where a file or folder that the user made lies: parts, templates, patterns, results."""
    from platformdirs import user_data_path

    return user_data_path(OURS) / name


def state_place(name: str) -> Path:
    """Where what the application notes lies: faults, copies of earlier days."""
    from platformdirs import user_state_path

    return user_state_path(OURS) / name


def config_place(name: str) -> Path:
    """Where what is remembered from one time to the next lies."""
    from platformdirs import user_config_path

    return user_config_path(OURS) / name


def cache_place(name: str) -> Path:
    """Where what can be made again lies."""
    from platformdirs import user_cache_path

    return user_cache_path(OURS) / name


def documents() -> Path:
    """The user's folder of documents, where a first project is made."""
    from platformdirs import user_documents_path

    return user_documents_path()


def free_project(folder: Path, stem: str) -> Path:
    """Where a project of this name is made: in the folder, which is made too, with a number where there is one. Raises BadFile."""
    names = chain([stem], (f"{stem} ({n})" for n in count(2)))
    return next(path for name in names if not (path := made(folder) / f"{name}.mule").exists())


def practice_projects() -> Path:
    """The folder in which practice begins, without a question where."""
    return documents() / "Urban Mule practice"


def made(folder: Path) -> Path:
    """The folder, made where it is not there. Raises BadFile."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as why:
        raise BadFile(f"{folder}: the folder cannot be made: {why.strerror or why}.") from None
    return folder
