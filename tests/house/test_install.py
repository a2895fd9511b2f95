"""What the desktop is told of the program, and that it is all taken away again."""

from __future__ import annotations

import configparser
import re
import subprocess
import sys
import tomllib
from importlib import metadata
from pathlib import Path
from xml.etree import ElementTree

import pytest
from tests.places import ROOT


def executed(text: str) -> list[str]:
    """The words of an Exec line, read as the Desktop Entry Specification has it: first as a string, then by its quotes."""
    text, words, place = text.replace("\\\\", "\\"), [""], 0
    quoted = False
    while place < len(text):
        sign = text[place]
        if sign == "\\" and quoted:
            place += 1
            words[-1] += text[place]
        elif sign == '"':
            quoted = not quoted
        elif sign == " " and not quoted:
            words.append("")
        elif text[place:place + 2] == "%%":
            words[-1] += "%"
            place += 1
        else:
            words[-1] += sign
        place += 1
    return words


def test_every_package_that_the_program_needs_has_its_exact_version() -> None:
    pinned = {line.split("==")[0].lower().replace("_", "-") for line in (ROOT / "constraints.txt").read_text().splitlines()
              if "==" in line}
    needed = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["dependencies"]
    waiting = {re.split(r"[>=<;\[ ]", one)[0].lower() for one in needed}
    seen: set[str] = set()
    while waiting:
        name = waiting.pop()
        seen.add(name)
        assert name in pinned, f"{name} has no version in constraints.txt"
        for one in metadata.requires(name) or ():
            if "extra ==" not in one and "python_version <" not in one:
                waiting |= {re.split(r"[>=<;\[ (!~]", one)[0].lower().replace("_", "-")} - seen


@pytest.mark.parametrize("name", ["a home", "ä 'home' $(touch here) \"of\" 5 % `touch there` \\"])
def test_the_desktop_is_told_and_told_off(tmp_path: Path, monkeypatch: pytest.MonkeyPatch, name: str) -> None:
    """Entry, type and icon go where the specifications have them, in any home; own data stay when they go."""
    home = tmp_path / name
    monkeypatch.setenv("HOME", str(home))
    monkeypatch.setenv("XDG_DATA_HOME", str(home / "data"))
    monkeypatch.syspath_prepend(ROOT / "tools")
    import desktop

    own = home / "data" / "urban-mule" / "parts.json"
    own.parent.mkdir(parents=True)
    own.write_text("{}")
    monkeypatch.setattr(desktop.venv, "create", lambda where, with_pip: (where / "bin").mkdir(parents=True))
    monkeypatch.setattr(desktop.subprocess, "run", lambda *_words, **_options: None)
    desktop.install()
    entry = configparser.RawConfigParser(interpolation=None)
    entry.optionxform = str  # type: ignore[assignment,method-assign]
    entry.read(home / "data" / "applications" / "urban-mule.desktop")
    said = entry["Desktop Entry"]
    program = home / ".local" / "bin" / "urban-mule"
    assert executed(said["Exec"]) == [str(program), "open", "%f"]
    assert Path(said["TryExec"].replace("\\\\", "\\")) == program
    python = home / "data" / "urban-mule-program" / "bin" / "python"
    python.write_text("#!/bin/sh\nprintf '%s|' \"$@\"\n", encoding="utf-8")
    python.chmod(0o755)
    with subprocess.Popen([program, "open", "a b"], stdout=subprocess.PIPE, text=True, cwd=tmp_path) as run:
        assert run.communicate()[0] == "-m|urban_mule|open|a b|"
    assert sorted(one.name for one in tmp_path.iterdir()) == [name], "nothing in the name was run"
    spoken = ElementTree.parse(home / "data" / "mime" / "packages" / "urban-mule.xml").getroot()
    assert {one.get("pattern") for one in spoken.iter() if one.tag.endswith("glob")} == {"*.mule"}
    assert f"{spoken[0].get('type')};" == said["MimeType"]
    picture = home / "data" / "icons" / "hicolor" / "scalable" / "apps" / f"{said['Icon']}.svg"
    assert ElementTree.parse(picture).getroot().tag.endswith("svg")
    desktop.remove()
    assert [path for path in home.rglob("*") if path.is_file() or path.is_symlink()] == [own]
    sys.modules.pop("desktop")
