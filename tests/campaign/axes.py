"""What is judged and advised over random axes of every kind: the tests of one axis, for as many as are asked."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

TESTS = Path(__file__).parent.parent / "axis" / "test_random_axes.py"


def random_axes(folder: Path, count: int, _seed: int) -> str:
    """Run the tests of random axes over `count` of them; raised is what a test says."""
    command = [sys.executable, "-m", "pytest", "-n", "auto", "--dist", "worksteal", "-o", "faulthandler_timeout=0",
               "-o", f"cache_dir={folder}", str(TESTS)]
    done = subprocess.run(command, cwd=TESTS.parents[2], env={**os.environ, "URBAN_MULE_AXES": str(count)}, text=True,
                          capture_output=True, check=False)
    last = done.stdout.strip().splitlines()[-1]
    if done.returncode:
        raise AssertionError(done.stdout)
    return f"{count} axes: {last}"
