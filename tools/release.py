"""A release: `make release VERSION=x.y.z` runs all checks, then writes the version, its notes, and the packages into out/.

Nothing is written before everything holds: the tree is as committed, what is generated is that of the code, all tests pass.
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
import tempfile
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
CHANGELOG = ROOT / "CHANGELOG.md"
UNRELEASED = "## Unreleased"
DIFFERENT = 0.06  # share of the points of a screenshot that may differ: what counts days goes on by itself
DARK = 24  # of 255 by which a point differs


class NotReady(Exception):
    """Why nothing is released, in a sentence."""


def ran(*command: str) -> None:
    """Run a check. Raises NotReady."""
    if subprocess.run(command, cwd=ROOT, check=False).returncode != 0:
        raise NotReady(f"`{' '.join(command)}` fails")


def committed() -> None:
    """The tree is as committed. Raises NotReady."""
    left = subprocess.run(["git", "status", "--porcelain"], cwd=ROOT, check=True, capture_output=True, text=True).stdout
    if left:
        raise NotReady(f"these files are not committed:\n{left.rstrip()}")


def generated() -> None:
    """Docs, schema and pages are those of the code. Raises NotReady."""
    ran(sys.executable, "-m", "tools.write_docs")
    try:
        committed()
    except NotReady as why:
        raise NotReady(f"`make docs` writes something else than what is committed; {why}") from None


def share_apart(one: Path, other: Path) -> float:
    """The share of the points in which two pictures differ; all of them where their sizes do."""
    import numpy as np
    from PyQt6.QtGui import QImage

    def grey(path: Path) -> np.ndarray:
        image = QImage(str(path)).convertToFormat(QImage.Format.Format_Grayscale8)
        data = image.constBits()
        assert data is not None
        rows = np.frombuffer(data.asstring(image.sizeInBytes()), dtype=np.uint8).reshape(image.height(), image.bytesPerLine())
        return rows[:, :image.width()].astype(int)

    first, second = grey(one), grey(other)
    return 1.0 if first.shape != second.shape else float(np.mean(np.abs(first - second) > DARK))


def pictured() -> None:
    """The screenshots are those of the code. Raises NotReady."""
    from tools import screenshots

    kept = {path.name: path for path in screenshots.SHOTS.glob("*.png")}
    with tempfile.TemporaryDirectory() as folder:
        subprocess.run([sys.executable, "-m", "tools.screenshots", folder], cwd=ROOT, check=True,
                       env={**os.environ, "QT_QPA_PLATFORM": "offscreen"})
        made = {path.name: path for path in Path(folder).glob("*.png")}
        if made.keys() != kept.keys():
            raise NotReady(f"docs/screenshots has {', '.join(sorted(made.keys() ^ kept.keys()))} too much or too few")
        old = [name for name in sorted(made) if share_apart(made[name], kept[name]) > DIFFERENT]
    if old:
        raise NotReady(f"these screenshots are not those of the code: {', '.join(old)}; `make screenshots` writes them anew")


def notes(version: str, text: str, day: str) -> str:
    """The changelog with what was not released under a version. Raises NotReady where nothing is written there."""
    found = re.search(rf"^{UNRELEASED}\n(.*?)(?=^## |\Z)", text, re.M | re.S)
    if found is None or not found[1].strip():
        raise NotReady(f"nothing stands under “{UNRELEASED}” of CHANGELOG.md: what changed for users?")
    if re.search(rf"^## {re.escape(version)}\b", text, re.M):
        raise NotReady(f"CHANGELOG.md has {version} already")
    return text.replace(f"{UNRELEASED}\n", f"{UNRELEASED}\n\n## {version} – {day}\n", 1)


def with_version(version: str) -> dict[Path, str]:
    """Each file that says the version, as it then is."""
    said = {ROOT / "pyproject.toml": r'^version = "[^"]*"', ROOT / "src" / "urban_mule" / "__init__.py": r'^__version__ = "[^"]*"'}
    return {path: re.sub(pattern, lambda old: f'{old[0].split("=")[0]}= "{version}"', path.read_text(), count=1, flags=re.M)
            for path, pattern in said.items()}


def release(version: str) -> None:
    """Check all, then write version, notes and packages. Raises NotReady."""
    if not re.fullmatch(r"\d+\.\d+\.\d+", version):
        raise NotReady(f"VERSION is {version!r}; three numbers are needed, as in: make release VERSION=0.2.0")
    made = notes(version, CHANGELOG.read_text(), datetime.now(UTC).strftime("%Y-%m-%d"))
    checks: tuple[Callable[[], None], ...] = (
        committed, lambda: ran("make", "check"), lambda: ran("make", "test"), generated, pictured)
    for one in checks:
        one()
    for path, text in {**with_version(version), CHANGELOG: made}.items():
        path.write_text(text)
    for kind in ("wheel", "deb"):
        ran(sys.executable, "-m", "tools.package", kind)
    print(f"{version} is in out/. Commit and tag it: git commit -am '{version}' && git tag v{version}")


if __name__ == "__main__":
    try:
        release(sys.argv[1] if len(sys.argv) > 1 else "")
    except NotReady as why:
        sys.exit(f"Not released: {why}.")
