"""Packages: built without network, installed on a clean system, started, and taken away without a trace.

A clean system is made by debootstrap, of the kind that this machine is; that wants root and the package archive.
"""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
import tarfile
import zipfile
from collections.abc import Iterator
from pathlib import Path

import pytest
from tests.places import ROOT, VECTORS
from tools.package import SCREENSHOTS, debian_package, system_libraries

pytestmark = pytest.mark.long
OF_THE_SYSTEM = ("var/lib/dpkg", "var/lib/apt", "var/cache", "var/log", "tmp", "proc", "sys", "dev", "run", "etc/ld.so.cache")
OF_THE_USER = ("root/.local/share/urban-mule", "root/.config", "root/.cache", "root/.local/state", "root/.numba", "root/.local")
OF_THE_SHELL = ("PATH=/usr/sbin:/usr/bin:/sbin:/bin", "HOME=/root", "LC_ALL=C.UTF-8", "DEBIAN_FRONTEND=noninteractive",
                "QT_QPA_PLATFORM=offscreen")
READ = (".py", ".qss", ".svg", ".ttf", ".md", ".html", ".csv", ".txt", ".typed")
NO_NETWORK = ("unshare", "--net")


def bare(command: list[str]) -> list[str]:
    """A command as it runs without any network, where this machine lets one take it away."""
    allowed = os.geteuid() == 0 and subprocess.run([*NO_NETWORK, "true"], capture_output=True, check=False).returncode == 0
    return [*NO_NETWORK, *command] if allowed else command


def test_wheel_and_source_are_built_without_network_and_hold_all_that_is_read_at_run_time(tmp_path: Path) -> None:
    build = bare([sys.executable, "-m", "tools.package", "wheel"])
    done = subprocess.run(build, cwd=ROOT, capture_output=True, text=True, check=True)
    source, wheel = (ROOT / line for line in done.stdout.split())
    with zipfile.ZipFile(wheel) as held:
        names = set(held.namelist())
    home = ROOT / "src" / "urban_mule"
    needed = {f"urban_mule/{path.relative_to(home)}" for path in home.rglob("*")
              if path.suffix in READ and "__pycache__" not in path.parts}
    assert needed <= names, sorted(needed - names)[:5]
    with tarfile.open(source) as held:
        assert any(name.endswith("src/urban_mule/cli.py") for name in held.getnames())
    venv = tmp_path / "venv"
    subprocess.run([sys.executable, "-m", "venv", "--system-site-packages", str(venv)], check=True)
    subprocess.run(bare([str(venv / "bin" / "pip"), "install", "--quiet", "--no-index", "--no-deps", str(wheel)]), check=True)
    assert (venv / "bin" / "urban-mule").is_file()


@pytest.fixture(scope="module")
def clean(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Path]:
    if os.geteuid() != 0 or shutil.which("debootstrap") is None:
        pytest.skip("a clean system wants root and debootstrap")
    place = tmp_path_factory.mktemp("clean") / "system"
    release = next(line.split("=")[1].strip() for line in Path("/etc/os-release").read_text().splitlines()
                   if line.startswith("VERSION_CODENAME="))
    subprocess.run(["debootstrap", "--variant=minbase", release, str(place)], check=True, stdout=subprocess.DEVNULL)
    shutil.copy("/etc/resolv.conf", place / "etc" / "resolv.conf")
    for one in Path("/etc/apt/apt.conf.d").glob("*"):
        shutil.copy(one, place / "etc" / "apt" / "apt.conf.d" / one.name)
    subprocess.run(["mount", "-t", "proc", "proc", str(place / "proc")], check=True)
    subprocess.run(["mount", "--bind", "/dev", str(place / "dev")], check=True)
    try:
        yield place
    finally:
        for one in ("dev", "proc"):
            subprocess.run(["umount", "-l", str(place / one)], check=False)


def run(place: Path, *command: str) -> str:
    """What a command prints inside the clean system, whose user has nothing of ours."""
    made = subprocess.run(["chroot", str(place), "/usr/bin/env", "-i", *OF_THE_SHELL, *command], capture_output=True, text=True,
                          check=False)
    assert made.returncode == 0, (command, made.stdout[-2000:], made.stderr[-2000:])
    return made.stdout


def files(place: Path) -> set[str]:
    return {name for folder, _, names in os.walk(place) for one in names
            if not (name := str((Path(folder) / one).relative_to(place))).startswith(OF_THE_SYSTEM)}


def test_the_debian_package_installs_starts_and_goes_without_a_trace(clean: Path) -> None:
    package = debian_package()
    run(clean, "apt-get", "update", "-qq")
    run(clean, "apt-get", "install", "-y", "-qq", "python3", *system_libraries())
    before = files(clean)
    shutil.copy(package, clean / "tmp" / package.name)
    run(clean, "dpkg", "-i", f"/tmp/{package.name}")
    shutil.copy(VECTORS / "01-belt-stepper.json", clean / "tmp" / "one.json")
    there = files(clean) - before
    for name in ("usr/bin/urban-mule", "usr/share/applications/urban-mule.desktop", "usr/share/mime/packages/urban-mule.xml",
                 "usr/share/icons/hicolor/scalable/apps/urban-mule.svg", "usr/share/man/man1/urban-mule.1.gz",
                 "usr/share/metainfo/urban_mule.UrbanMule.metainfo.xml", "usr/share/doc/urban-mule/copyright",
                 *(f"usr/share/urban-mule/screenshots/{one}.png" for one in SCREENSHOTS)):
        assert name in there, name
    solved = json.loads(run(clean, "urban-mule", "solve", "/tmp/one.json"))
    assert solved["axes"]
    run(clean, "urban-mule", "demo", "--offscreen", "--out", "/tmp/walk")
    assert list((clean / "tmp" / "walk").rglob("*.png")), "the window was drawn"
    written = files(clean) - before - there
    assert all(name.startswith(OF_THE_USER) for name in written), sorted(written)[:5]
    run(clean, "dpkg", "--purge", "urban-mule")
    left = files(clean) - before
    assert all(name.startswith(OF_THE_USER) for name in left), sorted(left)[:5]
    assert not (clean / "usr" / "lib" / "urban-mule").exists()
