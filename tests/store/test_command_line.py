"""The command as people run it: every subcommand, starting with and without a display, the last project, a closed pipe."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtWidgets import QApplication
from tests.places import ROOT, VECTORS

from urban_mule.cli import main
from urban_mule.core.sheet.stages import STAGES
from urban_mule.desk import app as desk_app
from urban_mule.desk import walk
from urban_mule.desk.app import Desk, demo_command, open_command
from urban_mule.desk.model import memory as memory_module
from urban_mule.desk.model.memory import recent_projects, remember
from urban_mule.store.exchange.open_json import parse_project
from urban_mule.store.file.project_file import ProjectFile

pytestmark = pytest.mark.every_axis

CASE = VECTORS / "01-belt-stepper.json"
COMMAND = [sys.executable, "-m", "urban_mule"]


def test_the_schema_on_the_command_line_is_the_published_one(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["schema"]) == 0
    printed = json.loads(capsys.readouterr().out)
    published = ROOT / "docs" / "project.schema.json"
    assert printed == json.loads(published.read_text(encoding="utf-8"))
    axis = printed["$defs"]["Axis"]["properties"]
    assert axis["moving_mass"]["minimum"] == 0 and axis["moving_mass"]["type"] == "number"
    assert printed["$defs"]["Screw"]["properties"]["lead"]["exclusiveMinimum"] == 0
    assert axis["tolerances"]["additionalProperties"]["maximum"] == 0.9


def test_salvage_prints_the_newest_readable_document(demo_copy: Path, capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    assert main(["salvage", str(demo_copy)]) == 0
    project = parse_project(capsys.readouterr().out.encode())
    assert [axis.name for axis in project.axes] == ["X", "Y", "Z", "C", "W"] and len(project.axes[0].readings) == 19
    torn = tmp_path / "torn.mule"
    torn.write_bytes(demo_copy.read_bytes()[:3000])
    assert main(["salvage", str(torn)]) == 2
    out, err = capsys.readouterr()
    assert out == "" and err.count("\n") == 1 and "torn.mule" in err


def test_the_command_leaves_quietly_when_nobody_reads_on() -> None:
    """`solve | head -c 1`: the reader is gone, no traceback, no noise."""
    command = f"'{sys.executable}' -m urban_mule solve '{CASE}' | head -c 1"
    done = subprocess.run(["bash", "-c", command], capture_output=True, text=True, check=False)
    assert done.stdout == "{" and "Traceback" not in done.stderr and "BrokenPipe" not in done.stderr


@pytest.mark.parametrize(("arguments", "status"), [
    (["solve", str(CASE)], 0), (["solve", "gone.json"], 2), (["schema"], 0), (["dance"], 2)])
def test_the_process_says_how_it_went(arguments: list[str], status: int) -> None:
    done = subprocess.run([*COMMAND, *arguments], capture_output=True, text=True, check=False)
    assert done.returncode == status and "Traceback" not in done.stderr
    assert bool(done.stdout) == (status == 0)


def test_without_a_display_opening_says_so_in_one_line(monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]) -> None:
    for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"):
        monkeypatch.delenv(name, raising=False)
    assert open_command(None) == 2
    assert capsys.readouterr().err.count("\n") == 1


@pytest.fixture
def short_evening(qtbot: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    """The event loop ends by itself; a real `quit` would stop every later loop of this process too."""

    def evening(*_: Any) -> int:
        qtbot.wait(300)
        QApplication.closeAllWindows()
        return 0

    monkeypatch.setattr(QApplication, "exec", evening)


def test_opening_shows_a_file_else_the_last_one_else_a_blank_one(
    short_evening: None, demo_copy: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    memory = tmp_path / "config" / "last.json"
    monkeypatch.setattr(memory_module, "memory_file", lambda: memory)
    shown: list[Path] = []
    original = Desk.show
    monkeypatch.setattr(Desk, "show", lambda self, file: (shown.append(file.path), original(self, file))[1])
    assert open_command(demo_copy) == 0 and next(iter(recent_projects()), None) == demo_copy.resolve()
    assert open_command(None) == 0 and shown == [demo_copy, demo_copy.resolve()]
    demo_copy.unlink()
    assert next(iter(recent_projects()), None) is None, "a project that has gone is not the last one"
    monkeypatch.setenv("HOME", str(tmp_path / "home"))
    monkeypatch.setenv("XDG_DOCUMENTS_DIR", str(tmp_path / "home" / "papers"))
    assert open_command(None) == 0
    blank = ProjectFile.open(shown[-1])
    assert [axis.name for axis in blank.project().axes] == ["X"] and str(shown[-1]).startswith(str(tmp_path))
    blank.close()
    assert open_command(tmp_path / "gone.mule") == 2 and "there is no such file" in capsys.readouterr().err
    memory.write_text("{", encoding="utf-8")
    assert next(iter(recent_projects()), None) is None
    monkeypatch.setattr(memory_module, "memory_file", lambda: Path("/proc/no/last.json"))
    remember(blank.path)  # a memory that cannot be kept is no fault


def test_the_demo_opens_where_there_is_a_display(short_evening: None, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    monkeypatch.setattr(desk_app, "has_display", lambda: True)
    assert demo_command(tmp_path, offscreen=False, machine="courtyard") == 0


@pytest.mark.parametrize("stages", [("Load", "Log"), pytest.param(STAGES, marks=pytest.mark.long)], ids=len)
def test_the_walk_writes_every_stage_and_leaf_over_what_an_earlier_one_left(
    qapp: object, demo_copy: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch,
    stages: tuple[str, ...]
) -> None:
    monkeypatch.setattr(walk, "STAGES", stages)
    assert demo_copy == tmp_path / "courtyard.mule"
    assert main(["demo", "--offscreen", "--out", str(tmp_path)]) == 0
    told = capsys.readouterr()
    assert told.err == "" and told.out.startswith("No display")
    names = {path.name for path in tmp_path.iterdir()}
    pictures = {f"{number:02}-{stage.lower()}.png" for number, stage in enumerate(stages, start=1)}
    assert pictures | {f"{stages.index('Load') + 1:02}-load-cycle.png", "report.pdf", "report.html", "tags.pdf", "courtyard.json",
                       "solved.json", "courtyard.mule"} <= names
    solved = json.loads((tmp_path / "solved.json").read_text(encoding="utf-8"))["axes"]
    assert set(solved) == {"X", "Y", "Z", "C", "W"}
    short = [v["check"] for axis in solved.values() for v in axis["verdicts"] if v["level"] == "short"]
    assert short == ["goals", "acceleration", "follower"], "the shaper holds X below its goal, and Y's follower differs"
    assert os.path.getsize(tmp_path / "report.pdf") > 100_000
