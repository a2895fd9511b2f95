"""Install Urban Mule for this user, without root, and take it away again: `make install`, `make uninstall`.

The program goes into a virtual environment of its own beside the user's data; the menu entry, the icon and the type of *.mule
go where the XDG base directory and desktop entry specifications have them. Projects, own parts and settings are never touched.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import venv
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
TYPE = "application/x-urban-mule"
ENTRY = """[Desktop Entry]
Type=Application
Name=Urban Mule
GenericName=Axis drives, sized and proven
Comment=Size, set, measure and prove the axes of machines that move
Exec="{quoted}" open %f
TryExec={plain}
Icon=urban-mule
Terminal=false
Categories=Science;Engineering;
MimeType={type};
StartupWMClass=urban-mule
"""
MIME = """<?xml version="1.0" encoding="UTF-8"?>
<mime-info xmlns="http://www.freedesktop.org/standards/shared-mime-info">
  <mime-type type="{type}">
    <comment>machine project</comment>
    <sub-class-of type="application/vnd.sqlite3"/>
    <icon name="urban-mule"/>
    <glob pattern="*.mule" weight="80"/>
  </mime-type>
</mime-info>
"""


def data_home() -> Path:
    """Where a user's data lie. Source: XDG Base Directory Specification."""
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")


def program() -> Path:
    """The command that is put on the user's path."""
    return Path.home() / ".local" / "bin" / "urban-mule"


def home_of_program() -> Path:
    """The virtual environment of the installed program."""
    return data_home() / "urban-mule-program"


LAUNCHER = """#!/bin/sh
exec {python} -m urban_mule "$@"
"""


def in_shell(text: str) -> str:
    """A text as one word of a shell, whatever stands in it."""
    return "'" + text.replace("'", "'\\''") + "'"


def in_string(text: str) -> str:
    """A text as a value of an entry. Source: Desktop Entry Specification, possible value types."""
    return text.replace("\\", "\\\\")


def in_exec(text: str) -> str:
    """A text within the quotes of an Exec line. Source: Desktop Entry Specification, the Exec key."""
    for sign in '\\"`$':
        text = text.replace(sign, f"\\{sign}")
    return in_string(text.replace("%", "%%"))


def entries() -> dict[Path, bytes]:
    """What the desktop reads: each file, and what is in it."""
    data, command = data_home(), str(program())
    entry = ENTRY.format(quoted=in_exec(command), plain=in_string(command), type=TYPE)
    return {
        data / "applications" / "urban-mule.desktop": entry.encode(),
        data / "mime" / "packages" / "urban-mule.xml": MIME.format(type=TYPE).encode(),
        data / "icons" / "hicolor" / "scalable" / "apps" / "urban-mule.svg":
            (ROOT / "src" / "urban_mule" / "desk" / "resources" / "urban-mule.svg").read_bytes()}


def install() -> str:
    """Put program and entries in place; what was there of an earlier one is renewed. Returns where it went."""
    shutil.rmtree(home_of_program(), ignore_errors=True)
    venv.create(home_of_program(), with_pip=True)
    python = home_of_program() / "bin" / "python"
    subprocess.run([python, "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--constraint",
                    str(ROOT / "constraints.txt"), str(ROOT)], check=True)
    program().parent.mkdir(parents=True, exist_ok=True)
    program().unlink(missing_ok=True)
    program().write_text(LAUNCHER.format(python=in_shell(str(python))), encoding="utf-8")  # pip's own cannot stand odd folders
    program().chmod(0o755)
    for path, content in entries().items():
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(content)
    tell_desktop()
    on_path = str(program().parent) in os.environ.get("PATH", "").split(os.pathsep)
    return f"Installed as {program()}" + (
        "" if on_path else f"; {program().parent} is not on your PATH, the menu entry works all the same")


def remove() -> str:
    """Take away what `install` put there, and nothing else."""
    for path in (program(), *entries()):
        path.unlink(missing_ok=True)
    shutil.rmtree(home_of_program(), ignore_errors=True)
    tell_desktop()
    return "Removed. Your projects, own parts and settings stay."


def tell_desktop() -> None:
    """Have the desktop read its entries again, where it has the tools for it."""
    for tool, folder in (("update-desktop-database", "applications"), ("update-mime-database", "mime")):
        if shutil.which(tool) and (data_home() / folder).is_dir():
            subprocess.run([tool, str(data_home() / folder)], check=False, capture_output=True)


if __name__ == "__main__":
    print({"install": install, "remove": remove}[sys.argv[1]]())
