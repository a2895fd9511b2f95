"""Where the user's own files lie, by kind: what is made, what is remembered, what is kept in case."""

from __future__ import annotations

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


def documents() -> Path:
    """The user's folder of documents, where a first project is made."""
    from platformdirs import user_documents_path

    return user_documents_path()


def made(folder: Path) -> Path:
    """The folder, made where it is not there. Raises BadFile."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as why:
        raise BadFile(f"{folder}: the folder cannot be made: {why.strerror or why}.") from None
    return folder
