"""What the tests share: the demo built once, and a window on a copy of it."""

from __future__ import annotations

import os
import shutil
from collections.abc import Iterator
from itertools import count
from pathlib import Path

import pytest

import urban_mule  # noqa: F401  before NumPy comes, whose library then keeps to one thread, as in the application

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
ASIDE = count()


@pytest.fixture(scope="session")
def demo_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo project, closed."""
    from urban_mule.demo.kept import demo_at

    path = tmp_path_factory.mktemp("demo") / "courtyard.mule"
    demo_at(path).close()
    return path


@pytest.fixture
def aside(request: pytest.FixtureRequest, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Where a test keeps what the user keeps beside a project; a folder of its own is made only where it asks for one."""
    if "tmp_path" in request.fixturenames:
        return Path(request.getfixturevalue("tmp_path"))
    return tmp_path_factory.getbasetemp() / f"aside-{next(ASIDE)}"


@pytest.fixture(autouse=True)
def shelf(aside: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """The user's own parts, in a place of the test."""
    from urban_mule.store.library import parts as library

    path = aside / "shelf" / "parts.csv"
    monkeypatch.setattr(library, "own_parts_file", lambda: path)
    return path


@pytest.fixture(autouse=True)
def fault_log_of_the_test(request: pytest.FixtureRequest, aside: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Path]:
    """The log of faults, and what is remembered, in a place of the test. Where no fault is made on purpose, none may be logged."""
    from urban_mule.desk.model import memory
    from urban_mule.store import fault_log, places
    from urban_mule.store.file import backups

    monkeypatch.setattr(backups, "backups_folder", lambda: aside / "state" / "backups")
    monkeypatch.setattr(places, "documents", lambda: aside / "documents")
    path = aside / "state" / "faults.log"
    monkeypatch.setattr(fault_log, "fault_log", lambda: path)
    monkeypatch.setattr(memory, "memory_file", lambda: aside / "config" / "last.json")
    yield path
    if request.node.get_closest_marker("faults") is None:
        assert not path.exists(), f"what nobody foresaw: {path.read_text(encoding='utf-8')[-2000:]}"


@pytest.fixture(autouse=True)
def quick_practice_bench(monkeypatch: pytest.MonkeyPatch) -> None:
    """The practice bench moves before nobody's eyes."""
    from urban_mule.desk.shared import machine_row

    monkeypatch.setattr(machine_row, "PACES", {"a move at once": "0"})


@pytest.fixture(autouse=True)
def tidied(request: pytest.FixtureRequest) -> Iterator[None]:
    """Garbage is collected after a test with a window, as between two moments of one, and by no thread; of others it is little."""
    yield
    if "qtbot" in request.fixturenames or "qapp" in request.fixturenames:
        from urban_mule.desk.model.works import tidy

        tidy()


@pytest.fixture(scope="session")
def qapp() -> object:
    """The application dressed as users see it; an undressed one measures other fonts and other fields."""
    from urban_mule.desk.app import application

    return application()


@pytest.fixture(scope="session")
def demo_of_one_axis(demo_file: Path, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo with its axis X and its spindle alone: a window on it costs half."""
    from urban_mule.store.document.edit import edited
    from urban_mule.store.file.project_file import ProjectFile

    file = ProjectFile.open(Path(shutil.copy(demo_file, tmp_path_factory.mktemp("one") / "courtyard.mule")))
    whole = file.project()
    file.commit(edited(whole, ("axes",), whole.axes[:1]), "axis X alone")
    file.close()
    return file.path


@pytest.fixture
def demo_copy(request: pytest.FixtureRequest, tmp_path: Path) -> Path:
    """A copy of the demo that a test may change, of all its axes or of one."""
    whole = request.node.get_closest_marker("every_axis") is not None
    demo: Path = request.getfixturevalue("demo_file" if whole else "demo_of_one_axis")
    return Path(shutil.copy(demo, tmp_path / "courtyard.mule"))


@pytest.fixture
def window(qtbot: object, demo_copy: Path) -> Iterator[object]:
    """The real window on a copy of the demo, its records analysed."""
    from urban_mule.desk.app import application
    from urban_mule.desk.frame.window import Window
    from urban_mule.desk.model.session import Session
    from urban_mule.store.file.project_file import ProjectFile

    application()
    made = Window(Session(ProjectFile.open(demo_copy)))
    qtbot.addWidget(made)  # type: ignore[attr-defined]
    made.show()
    qtbot.waitUntil(lambda: not made.session.analysing, timeout=20_000)  # type: ignore[attr-defined]
    yield made
    made.close()
