"""This tree against an earlier commit, in one run and in turn: one axis from nothing, and the search on every axis.

    python benchmarks/against.py [COMMIT]

Both trees run their own benchmarks on their own demo machine, with the same libraries, and those that only the earlier one needed;
printed are medians and their ratios.
"""

from __future__ import annotations

import os
import re
import statistics
import subprocess
import sys
import tempfile
import tomllib
from importlib.metadata import PackageNotFoundError, version
from pathlib import Path

ROOT = Path(__file__).parent.parent
COMMIT, ROUNDS, LACKING = "93d3fb5", 3, "lacking"
WORK = """
import sys, tempfile
from pathlib import Path
sys.path.insert(0, "benchmarks")
import run
from urban_mule.demo.courtyard import build_demo
with tempfile.TemporaryDirectory() as folder:
    demo = Path(folder) / "courtyard.mule"
    build_demo(demo).close()
    run.bench_core(demo)
    run.bench_search(demo)
"""


def is_there(requirement: str) -> bool:
    """Whether a library is installed here, whatever its version."""
    try:
        return bool(version(re.split(r"[<>=!~ \[]", requirement)[0]))
    except PackageNotFoundError:
        return False


def with_what_it_lacks(tree: Path) -> Path:
    """The tree, with the libraries that it needs and that are not installed here beside it."""
    needed = tomllib.loads((tree / "pyproject.toml").read_text(encoding="utf-8"))["project"]["dependencies"]
    lacking = [one for one in needed if not is_there(one)]
    if lacking:
        subprocess.run([sys.executable, "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--target",
                        str(tree / LACKING), *lacking], check=True)
    return tree


def measured(tree: Path) -> dict[str, float]:
    """One axis from nothing [ms] and combinations a second of the search on each axis, as a tree measures itself."""
    done = subprocess.run([sys.executable, "-c", WORK], cwd=tree, check=True, capture_output=True, text=True,
                          env={**os.environ, "PYTHONPATH": f"{tree / 'src'}:{tree / LACKING}", "QT_QPA_PLATFORM": "offscreen"})
    found = {}
    for name, value in re.findall(r"^(scratch|asked) +([\d.]+) ms", done.stdout, re.M):
        found[name] = float(value)
    for name, seconds, count in re.findall(r"^search (\w+) +([\d.]+) s for (\d+)", done.stdout, re.M):
        found[f"search {name}"] = int(count) / float(seconds)
    return found


def main(commit: str) -> None:
    with tempfile.TemporaryDirectory() as folder:
        archive = subprocess.run(["git", "archive", commit], cwd=ROOT, check=True, capture_output=True).stdout
        subprocess.run(["tar", "x", "-C", folder], input=archive, check=True)
        earlier = with_what_it_lacks(Path(folder))
        rounds = [(measured(ROOT), measured(earlier)) for _ in range(ROUNDS)]
    now, then = ({name: statistics.median(one[side][name] for one in rounds) for name in rounds[0][side]} for side in (0, 1))
    print(f"against {commit}, medians of {ROUNDS} rounds in turn")
    asked, every = (now[name] / then["scratch"] for name in ("asked", "scratch"))
    print(f"one axis   {now['asked']:.1f} ms of what a window computes, {now['scratch']:.1f} ms of all; then"
          f" {then['scratch']:.1f} ms of all: {asked:.1f} and {every:.1f} times (at most 2)")
    for name in sorted(now):
        if name in then and name.startswith("search"):
            print(f"{name}   {now[name] / 1e6:.2f}·10⁶ combinations a second, then {then[name] / 1e6:.2f}·10⁶:"
                  f" {now[name] / then[name]:.2f} times (at least 3)")


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else COMMIT)
