"""Writes the lowest versions that pyproject.toml allows, one a line, as pip takes them: `python -m tools.lowest > lowest.txt`."""

from __future__ import annotations

import re
import sys
import tomllib
from pathlib import Path

PROJECT = Path(__file__).parent.parent / "pyproject.toml"
LEAST = re.compile(r"^([A-Za-z0-9_.-]+)>=([0-9.]+)$")


def lowest() -> list[str]:
    """`name==version` of everything that is needed to run and to test. Raises ValueError for what says no lowest version."""
    project = tomllib.loads(PROJECT.read_text(encoding="utf-8"))["project"]
    found = []
    for one in (*project["dependencies"], *project["optional-dependencies"]["dev"]):
        named = LEAST.match(one)
        if named is None:
            raise ValueError(f"{one} does not say from which version on")
        found.append(f"{named[1]}=={named[2]}")
    return found


if __name__ == "__main__":
    sys.stdout.write("\n".join(lowest()) + "\n")
