"""The process killed at any moment of editing, making, exporting, migrating: nothing that was shown as saved is lost."""

from __future__ import annotations

import os
import random
import select
import shutil
import signal
import subprocess
import sys
import time
from contextlib import closing, suppress
from pathlib import Path

from urban_mule.demo.courtyard import demo_project
from urban_mule.store.exchange.open_json import export_project, read_project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.file.salvage import verify
from urban_mule.store.text_files import write_whole

FORMAT_3 = Path(__file__).parents[1] / "files" / "format3.mule"
WORKER = """
import os, shutil, sys
from pathlib import Path
from urban_mule.demo.courtyard import demo_project
from urban_mule.store.document.edit import edited
from urban_mule.store.exchange.open_json import export_project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.text_files import write_whole

def editing(folder, n):
    file = ProjectFile.open(folder / "edited.mule")
    project = file.project()
    for k in range(40):
        project = edited(project, ("axes", 0, "moving_mass"), 1.0 + n * 40 + k)
        file.commit(project, "mass")
        file.write_entry(project.axes[0].id, "note", str(n * 40 + k))
        print(n * 40 + k, flush=True)
    file.close()

def making(folder, n):
    ProjectFile.create(folder / f"made{n}.mule", PROJECT).close()
    print(n, flush=True)

def exporting(folder, n):
    write_whole(folder / "out.json", export_project(edited(PROJECT, ("name",), "n" * (n % 900))))
    print(n, flush=True)

def migrating(folder, n):
    shutil.copyfile(sys.argv[3], folder / "begun.tmp")
    os.replace(folder / "begun.tmp", folder / f"old{n}.mule")
    ProjectFile.open(folder / f"old{n}.mule").close()
    print(n, flush=True)

PROJECT = demo_project()
work, folder = globals()[sys.argv[1]], Path(sys.argv[2])
print("go", flush=True)
for line in sys.stdin:
    pid = os.fork()
    if not pid:
        try:
            work(folder, int(line))
        finally:
            os._exit(0)
    print("pid", pid, flush=True)
    os.waitpid(pid, 0)
    print("end", flush=True)
"""
MODES = {"editing": 0.3, "making": 0.06, "exporting": 0.02, "migrating": 0.12}  # s within which to kill


def kills(folder: Path, count: int, seed: int) -> str:
    """Kill so often; what was acknowledged is there, what bears a name opens. Raises AssertionError for what is lost."""
    rng, acknowledged = random.Random(seed), 0
    with closing(ProjectFile.create(folder / "edited.mule", demo_project())):
        pass
    write_whole(folder / "out.json", export_project(demo_project()))
    for mode, within in MODES.items():
        process = subprocess.Popen([sys.executable, "-c", WORKER, mode, str(folder), str(FORMAT_3)], stdin=subprocess.PIPE,
                                   stdout=subprocess.PIPE, text=True)
        assert process.stdin is not None and process.stdout is not None
        try:
            assert process.stdout.readline() == "go\n"
            for n in range(count // len(MODES)):
                process.stdin.write(f"{n}\n")
                process.stdin.flush()
                pid, said = 0, []
                until = time.monotonic() + rng.uniform(0, within)
                for line in iter(process.stdout.readline, "end\n"):
                    if line.startswith("pid"):
                        pid = int(line.split()[1])
                        select.select([], [], [], max(0.0, until - time.monotonic()))
                        with suppress(ProcessLookupError):  # it was through already
                            os.kill(pid, signal.SIGKILL)
                    else:
                        said.append(int(line))
                acknowledged += len(said)
                CHECKS[mode](folder, n, said)
        finally:
            process.stdin.close()
            process.wait()
            process.stdout.close()
    assert verify(folder / "edited.mule") == []
    return f"{count} kills, {acknowledged} acknowledged pieces of work, nothing lost"


def _edited(folder: Path, _n: int, said: list[int]) -> None:
    with closing(ProjectFile.open(folder / "edited.mule")) as file:
        assert not file.read_only
        if said:
            assert file.project().axes[0].moving_mass >= 1.0 + said[-1] and int(file.entries()[-1].text) >= said[-1]


def _made(folder: Path, n: int, said: list[int]) -> None:
    path = folder / f"made{n}.mule"
    assert path.exists() or not said
    if path.exists():
        with closing(ProjectFile.open(path)) as file:
            assert len(file.project().axes) == 4
        path.unlink()
    for left in folder.glob(".*"):
        left.unlink()


def _exported(folder: Path, _n: int, _said: list[int]) -> None:
    assert len(read_project(folder / "out.json").axes) == 5


def _migrated(folder: Path, n: int, _said: list[int]) -> None:
    path = folder / f"old{n}.mule"
    if path.exists():
        with closing(ProjectFile.open(path)) as file:
            assert len(file.revisions()) == 17 and len(file.project().axes[0].readings) == 3
    for left in (*folder.glob(f"old{n}*"), *folder.glob(".*")):
        left.unlink() if left.is_file() else shutil.rmtree(left)


CHECKS = {"editing": _edited, "making": _made, "exporting": _exported, "migrating": _migrated}
