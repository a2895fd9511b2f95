"""What the desktop is told of the program, and that it is all taken away again."""

from __future__ import annotations

import configparser
import sys
from pathlib import Path
from xml.etree import ElementTree

import pytest
from tests.places import ROOT


def test_the_desktop_is_told_and_told_off(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Entry, type and icon go where the specifications have them, in a home with a blank; own data stay when they go."""
    home = tmp_path / "a home"
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
    assert said["Exec"] == f'"{home}/.local/bin/urban-mule" open %f'
    assert Path(said["TryExec"]).readlink() == home / "data" / "urban-mule-program" / "bin" / "urban-mule"
    spoken = ElementTree.parse(home / "data" / "mime" / "packages" / "urban-mule.xml").getroot()
    assert {one.get("pattern") for one in spoken.iter() if one.tag.endswith("glob")} == {"*.mule"}
    assert f"{spoken[0].get('type')};" == said["MimeType"]
    picture = home / "data" / "icons" / "hicolor" / "scalable" / "apps" / f"{said['Icon']}.svg"
    assert ElementTree.parse(picture).getroot().tag.endswith("svg")
    desktop.remove()
    assert [path for path in home.rglob("*") if path.is_file() or path.is_symlink()] == [own]
    sys.modules.pop("desktop")
