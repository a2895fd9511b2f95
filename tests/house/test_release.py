"""A release: what it writes, and what it will not release; the manual page and the description are those of the program."""

from __future__ import annotations

import gzip
import shutil
import subprocess
from pathlib import Path

import pytest
from tests.places import ROOT
from tools.man_page import manual_page
from tools.package import SCREENSHOTS, about, desktop_files, distributions, system_libraries
from tools.release import DIFFERENT, NotReady, notes, release, share_apart, with_version

from urban_mule.cli import command_line

CHANGES = "# What changed\n\n## Unreleased\n\n- A thing.\n\n## 0.1.0 – 2026-09-01\n\n- The first.\n"


def test_notes_and_version_are_written_in_one_place_each() -> None:
    made = notes("0.2.0", CHANGES, "2026-12-01")
    assert made.index("## Unreleased") < made.index("## 0.2.0 – 2026-12-01") < made.index("- A thing.") < made.index("## 0.1.0")
    empty = CHANGES.replace("- A thing.\n", "")
    for version, text, said in (("0.1.0", CHANGES, "has 0.1.0 already"), ("0.2.0", empty, "nothing stands"),
                                ("0.2.0", "# What changed\n", "nothing stands")):
        with pytest.raises(NotReady, match=said):
            notes(version, text, "2026-12-01")
    with pytest.raises(NotReady, match="three numbers are needed"):
        release("0.2")
    files = with_version("9.8.7")
    assert len(files) == 2 and all(text.count("9.8.7") == 1 for text in files.values())
    assert all(len(text.splitlines()) == len(path.read_text().splitlines()) for path, text in files.items())


def test_a_screenshot_of_something_else_is_told(qapp: object, tmp_path: Path) -> None:
    from PyQt6.QtGui import QColor, QImage

    kept = ROOT / "docs" / "screenshots" / "load.png"
    image = QImage(str(kept))
    for x in range(200):  # a clock that went on
        image.setPixelColor(x, 20, QColor("black"))
    assert image.save(str(tmp_path / "later.png"))
    assert share_apart(kept, tmp_path / "later.png") < DIFFERENT < share_apart(kept, ROOT / "docs" / "screenshots" / "motor.png")
    assert share_apart(kept, kept) == 0.0 and share_apart(kept, _small(kept, tmp_path)) == 1.0


def _small(path: Path, folder: Path) -> Path:
    from PyQt6.QtGui import QImage

    QImage(str(path)).scaledToWidth(300).save(str(folder / "small.png"))
    return folder / "small.png"


def test_the_manual_page_names_every_command_and_option() -> None:
    page = manual_page().replace("\\-", "-")
    help_ = command_line().format_help()
    for command in ("open", "demo", "solve", "salvage", "verify", "practice-bench", "schema"):
        assert command in help_ and f"\\fB{command}\\fR" in page
    assert "--uncertainty" in page and "exit" not in page.split(".SH EXIT")[0].lower()


def test_what_the_desktop_reads_is_whole(tmp_path: Path) -> None:
    desktop_files(tmp_path)
    share = tmp_path / "usr" / "share"
    assert "Exec=\"/usr/bin/urban-mule\" open %f" in (share / "applications" / "urban-mule.desktop").read_text()
    assert gzip.decompress((share / "man" / "man1" / "urban-mule.1.gz").read_bytes()).decode() == manual_page()
    shots = share / "urban-mule" / "screenshots"
    assert all((shots / f"{name}.png").is_file() and f"/{name}.png" in about() for name in SCREENSHOTS)
    if shutil.which("appstreamcli") is not None:
        described = str(share / "metainfo" / "urban_mule.UrbanMule.metainfo.xml")
        command = ["appstreamcli", "validate", "--no-net", described]
        said = subprocess.run(command, capture_output=True, text=True, check=False).stdout
        wrong = [line for line in said.splitlines() if line.startswith("E:") and "web-url-expected" not in line]
        assert not wrong, "a program without a site has its screenshots as files; nothing else is wrong"


def test_the_package_holds_what_is_imported_and_asks_for_what_qt_loads() -> None:
    names = {one.metadata["Name"].lower() for one in distributions()}
    assert {"numpy", "pyqt6", "numba", "llvmlite", "markupsafe"} <= names
    assert not names & {"pytest", "mypy", "urban-mule"}
    assert {"libegl1", "libxcb-cursor0"} <= set(system_libraries())
