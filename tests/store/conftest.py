"""What the tests of the store begin with."""

from __future__ import annotations

from pathlib import Path

import pytest
from tests.store.machine import SMALL

from urban_mule.store.file.project_file import ProjectFile


@pytest.fixture
def path(tmp_path: Path) -> Path:
    """A file with the small machine."""
    made = tmp_path / "machine.mule"
    ProjectFile.create(made, SMALL).close()
    return made
