"""Packages to install: `make wheel` and `make deb` write them into out/, without network from what `make setup` has installed.

The Debian package holds the program with the libraries it was tried with in a private environment on the system's Python, the menu
entry, icon and type of *.mule, the manual page, and the AppStream description with its screenshots.
"""

from __future__ import annotations

import gzip
import importlib.metadata
import os
import re
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from packaging.requirements import Requirement

from tools.desktop import ENTRY, MIME, TYPE
from tools.man_page import manual_page
from urban_mule import __version__

ROOT = Path(__file__).resolve().parents[1]
OUT = ROOT / "out"
HOME = "usr/lib/urban-mule"
SYSTEM_PYTHON = Path("/usr/bin/python3")
SCREENSHOTS = ("brief", "load", "motor", "moves", "ring", "proof")
LAUNCHER = f"""#!/bin/sh
NUMBA_CACHE_DIR="${{XDG_CACHE_HOME:-$HOME/.cache}}/urban-mule/compiled"
export NUMBA_CACHE_DIR
exec /{HOME}/bin/python3 -m urban_mule "$@"
"""
CONTROL = """Package: urban-mule
Version: {version}
Architecture: {architecture}
Maintainer: the Urban Mule developers <urban-mule@localhost>
Installed-Size: {size}
Depends: {depends}
Section: science
Priority: optional
Description: size, set, measure and prove the axes of machines that move
 Sizes and tunes axis drives (motor torque, inertia ratio, driver current,
 microstepping, steps per unit, backlash, resonance) and proves accuracy with
 calibration measurements: decide, compute, set it on the hardware, move,
 measure, correct, write down.
 .
 It certifies nothing; local electrical codes and licensed practice decide.
"""
ABOUT = """<?xml version="1.0" encoding="UTF-8"?>
<component type="desktop-application">
  <id>urban_mule.UrbanMule</id>
  <metadata_license>CC0-1.0</metadata_license>
  <project_license>GPL-3.0-or-later</project_license>
  <name>Urban Mule</name>
  <developer_name>the Urban Mule developers</developer_name>
  <summary>Size, set, measure and prove the axes of machines that move</summary>
  <description>
    <p>For people who build machines that move. It sizes and tunes an axis drive, says what to set on the hardware, takes the
    measurement back in, judges it, says what to do next, and remembers.</p>
    <p>Every number can be opened to its formula, its inputs and its source. What it does not know it calls unknown and says why.
    It certifies nothing; local electrical codes and licensed practice decide.</p>
  </description>
  <launchable type="desktop-id">urban-mule.desktop</launchable>
  <provides><binary>urban-mule</binary><mediatype>{type}</mediatype></provides>
  <content_rating type="oars-1.1"/>
  <screenshots>
{screenshots}
  </screenshots>
  <releases><release version="{version}" date="{date}"/></releases>
</component>
"""
SHOT = """    <screenshot{default}><caption>{name}</caption><image>file:///usr/share/urban-mule/screenshots/{file}.png</image></screenshot>"""
DESKTOP_TOLD = """#!/bin/sh
set -e
for one in "update-desktop-database -q /usr/share/applications" "update-mime-database /usr/share/mime" \\
           "gtk-update-icon-cache -q -f /usr/share/icons/hicolor"; do
    command -v "${one%% *}" >/dev/null && $one || true
done
"""


def wheel_and_source() -> list[Path]:
    """A wheel and a source archive, built by the setuptools that is installed; nothing is fetched."""
    OUT.mkdir(exist_ok=True)
    for path in (ROOT / "build", *(ROOT / "src").glob("*.egg-info")):
        if path.name != "urban_mule.egg-info":
            shutil.rmtree(path, ignore_errors=True)
    done = []
    for kind in ("build_sdist", "build_wheel"):
        made = subprocess.run([sys.executable, "-c", f"import setuptools.build_meta as b; print(b.{kind}({str(OUT)!r}))"], cwd=ROOT,
                              check=True, capture_output=True, text=True)
        done.append(OUT / made.stdout.splitlines()[-1])
    shutil.rmtree(ROOT / "build", ignore_errors=True)
    return done


def distributions() -> list[importlib.metadata.Distribution]:
    """What the program needs at run time, as it is installed here, and what that needs in turn."""
    found: dict[str, importlib.metadata.Distribution] = {}
    wanted = [one for one in importlib.metadata.requires("urban-mule") or () if "extra ==" not in one]
    while wanted:
        asked = Requirement(wanted.pop())
        name = re.sub(r"[-_.]+", "-", asked.name).lower()
        if name in found or (asked.marker is not None and not asked.marker.evaluate({"extra": ""})):
            continue
        found[name] = importlib.metadata.distribution(asked.name)
        wanted += found[name].requires or []
    return list(found.values())


def environment(tree: Path) -> None:
    """The private environment: an own site on the system's Python, all compiled, so that nothing is written there later."""
    minor = subprocess.run([SYSTEM_PYTHON, "-c", "import sys; print('%d.%d' % sys.version_info[:2])"], check=True,
                           capture_output=True, text=True).stdout.strip()
    if minor != f"{sys.version_info.major}.{sys.version_info.minor}":
        here = f"{sys.version_info.major}.{sys.version_info.minor}"
        raise SystemExit(f"The libraries here are for Python {here}, the system has {minor}.")
    site = tree / HOME / "lib" / f"python{minor}" / "site-packages"
    for one in distributions():
        for file in one.files or ():
            source = Path(str(one.locate_file(file)))
            if ".." in file.parts or "__pycache__" in file.parts or not source.is_file():
                continue
            place = site / Path(*file.parts)
            place.parent.mkdir(parents=True, exist_ok=True)
            shutil.copy2(source, place)
    left_out = shutil.ignore_patterns("__pycache__")
    shutil.copytree(ROOT / "src" / "urban_mule", site / "urban_mule", ignore=left_out)
    home = tree / HOME
    (home / "bin").mkdir()
    (home / "bin" / "python3").symlink_to(SYSTEM_PYTHON.resolve())
    (home / "pyvenv.cfg").write_text(f"home = /usr/bin\ninclude-system-site-packages = false\nversion = {minor}\n")
    subprocess.run([SYSTEM_PYTHON, "-m", "compileall", "-q", "--invalidation-mode", "unchecked-hash", "-s", str(tree), "-p", "/",
                    str(site)], check=False)


def system_libraries() -> list[str]:
    """The Debian packages that Qt needs at run time, as `make setup` knows them."""
    return sorted(set(re.findall(r"\]=(\S+?)[\s)]", (ROOT / "tools" / "system-libraries").read_text() + " ")))


def written(path: Path, text: str | bytes, mode: int = 0o644) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(text.encode() if isinstance(text, str) else text)
    path.chmod(mode)


def changelog_date() -> str:
    """The date of this version, or of the day where it is not released."""
    found = re.search(rf"^## {re.escape(__version__)} [–-] (\d{{4}}-\d\d-\d\d)", (ROOT / "CHANGELOG.md").read_text(), re.M)
    if found:
        return found[1]
    return subprocess.run(["date", "+%F"], check=True, capture_output=True, text=True).stdout.strip()


def about() -> str:
    """The AppStream description."""
    shots = "\n".join(SHOT.format(default=' type="default"' if not place else "", name=name.capitalize(), file=name)
                      for place, name in enumerate(SCREENSHOTS))
    return ABOUT.format(type=TYPE, screenshots=shots, version=__version__, date=changelog_date())


def desktop_files(tree: Path) -> None:
    """Menu entry, icon, type, manual page, description, papers."""
    share = tree / "usr" / "share"
    written(tree / "usr" / "bin" / "urban-mule", LAUNCHER, 0o755)
    written(share / "applications" / "urban-mule.desktop",
            ENTRY.format(quoted="/usr/bin/urban-mule", plain="/usr/bin/urban-mule", type=TYPE))
    written(share / "mime" / "packages" / "urban-mule.xml", MIME.format(type=TYPE))
    written(share / "icons" / "hicolor" / "scalable" / "apps" / "urban-mule.svg",
            (ROOT / "src" / "urban_mule" / "desk" / "resources" / "urban-mule.svg").read_bytes())
    written(share / "metainfo" / "urban_mule.UrbanMule.metainfo.xml", about())
    for name in SCREENSHOTS:
        written(share / "urban-mule" / "screenshots" / f"{name}.png", (ROOT / "docs" / "screenshots" / f"{name}.png").read_bytes())
    written(share / "man" / "man1" / "urban-mule.1.gz", gzip.compress(manual_page().encode(), mtime=0))
    papers = share / "doc" / "urban-mule"
    written(papers / "copyright", (ROOT / "LICENSE").read_bytes())
    written(papers / "changelog.gz", gzip.compress((ROOT / "CHANGELOG.md").read_bytes(), mtime=0))


def debian_package() -> Path:
    """The Debian package of this machine's architecture."""
    OUT.mkdir(exist_ok=True)
    architecture = subprocess.run(["dpkg", "--print-architecture"], check=True, capture_output=True, text=True).stdout.strip()
    with tempfile.TemporaryDirectory() as folder:
        tree = Path(folder) / "tree"
        environment(tree)
        desktop_files(tree)
        size = sum(one.stat().st_size for one in tree.rglob("*") if one.is_file() and not one.is_symlink()) // 1024
        major, minor = sys.version_info[:2]
        depends = [f"python3 (>= {major}.{minor})", f"python3 (<< {major}.{minor + 1})", *system_libraries()]
        written(tree / "DEBIAN" / "control", CONTROL.format(
            version=__version__, architecture=architecture, size=size, depends=", ".join(depends)))
        for name in ("postinst", "postrm"):
            written(tree / "DEBIAN" / name, DESKTOP_TOLD, 0o755)
        for one in tree.rglob("*"):
            if one.is_dir():
                one.chmod(0o755)
        package = OUT / f"urban-mule_{__version__}_{architecture}.deb"
        subprocess.run(["dpkg-deb", "--root-owner-group", "-Zxz", "-z1", "--build", str(tree), str(package)], check=True,
                       stdout=subprocess.DEVNULL, env={**os.environ, "SOURCE_DATE_EPOCH": "0"})
    return package


if __name__ == "__main__":
    for path in {"wheel": wheel_and_source, "deb": lambda: [debian_package()]}[sys.argv[1]]():
        print(path.relative_to(ROOT))
