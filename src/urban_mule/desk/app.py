"""Starting: the application on a project, or the demo walked offscreen where there is no display."""

from __future__ import annotations

import gc
import os
import sys
import threading
from collections.abc import Callable
from contextlib import suppress
from ctypes import CDLL
from importlib import import_module
from pathlib import Path

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication

from urban_mule.demo import COURTYARD
from urban_mule.desk.frame.window import Window
from urban_mule.desk.kit import theme
from urban_mule.desk.model import memory
from urban_mule.desk.model.session import Session
from urban_mule.desk.resources import RESOURCES
from urban_mule.desk.stages.registry import stage_modules
from urban_mule.store.document.project import FORMAT, Project
from urban_mule.store.fault_log import note_fault
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.places import documents, free_project
from urban_mule.store.text_files import BadFile

ONE_POOL = -8, 1  # for `mallopt` of the C library, M_ARENA_MAX: threads share a pool of memory; one each is 9 MB more
HANDED_ON = 1e-4  # s that a thread which works may keep the window waiting
SETTLED = 500  # ms after which the start is over
GIVEN_BACK = 20_000  # ms; it takes some 10 ms
PREPARED_AFTER = 1200  # ms after which the other stages are built, their modules having been fetched


def application() -> QApplication:
    """The one application, dressed, all of it as large as it was wanted last."""
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        sys.setswitchinterval(HANDED_ON)
        with suppress(OSError, AttributeError):
            CDLL(None).mallopt(*ONE_POOL)
        if memory.text_size() != memory.SIZES[0]:
            os.environ.setdefault("QT_SCALE_FACTOR", f"{memory.text_size() / 100:g}")  # Qt looks once, when it begins
        app = QApplication(sys.argv[:1])
        app.setApplicationName("Urban Mule")
        app.setDesktopFileName("urban-mule")
        app.setWindowIcon(QIcon(str(RESOURCES / "urban-mule.svg")))
        theme.install(app)
        from_time_to_time = QTimer(app, interval=GIVEN_BACK)
        from_time_to_time.timeout.connect(give_back)
        from_time_to_time.start()
    return app


def give_back() -> None:
    """Hand free memory back to the system: the C library keeps what short work left behind, scattered, for ever."""
    with suppress(OSError, AttributeError):  # another C library does without
        CDLL(None).malloc_trim(0)


def has_display() -> bool:
    return bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"))


def blank_project(name: str) -> Project:
    """A project with one axis of which nothing is known yet."""
    return Project.model_validate({
        "format": FORMAT, "name": name, "axes": [{"name": "X", "train": [], "motor": {"kind": "stepper"}}]})


def settled() -> None:
    """The start is over: from here on what is loaded is spared when garbage is collected, and what the next stages need is fetched.

    Only the first project of a process does so: frozen again, every former window would stay for ever.
    """
    if gc.get_freeze_count():
        return
    gc.freeze()
    threading.Thread(target=fetch_stages).start()  # no daemon: an exit waits for it


def fetch_stages() -> None:
    """Import what the stages need, so that no first visit waits for it."""
    for module in stage_modules():
        import_module(module)


def catch_faults(tell: Callable[[str], object]) -> None:
    """From here on what nobody foresaw is written down and said in one sentence, in whatever thread; the work goes on."""

    def said(error: BaseException | None) -> None:
        if isinstance(error, KeyboardInterrupt):
            QApplication.quit()
        elif error is not None:
            tell(note_fault(error, "answering you"))

    sys.excepthook = lambda _kind, error, _trace: said(error)
    threading.excepthook = lambda args: said(args.exc_value)
    sys.unraisablehook = lambda fault: said(fault.exc_value)


class Desk:
    """The application's one window and what replaces it."""

    def __init__(self) -> None:
        self.window: Window | None = None

    def show(self, file: ProjectFile) -> Window:
        """Show a project in place of the former one."""
        former, self.window = self.window, Window(Session(file))
        self.window.opened.connect(self._opened)
        self.window.show()
        QTimer.singleShot(SETTLED, settled)
        QTimer.singleShot(PREPARED_AFTER, self._prepare)
        if former is not None:
            former.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)  # one that may not be closed yet stays until it is
            former.close()
        return self.window

    def _prepare(self) -> None:
        if self.window is not None and self.window.isVisible():
            self.window.prepare()

    def tell(self, sentence: str) -> None:
        """One sentence in the window there is, else on the terminal; also from another thread."""
        if self.window is None:
            sys.stderr.write(f"{sentence}\n")
        else:
            self.window.session.told.emit(sentence)

    def _opened(self, wish: tuple[str, Path]) -> None:
        kind, path = wish
        try:
            if kind == "open" and self.window is not None and _same_file(path, self.window.session.path):
                self.window.tell(f"{path.name} is open here already.")
                return
            if kind in ("demo", "tour"):
                shown = self.show(fresh_demo(path.name or COURTYARD))
                if kind == "tour":
                    shown.begin_tour()
                return
            file = ProjectFile.open(path) if kind == "open" else ProjectFile.create(path, blank_project(path.stem))
            self.show(file)
            memory.remember(path)
        except BadFile as why:
            if self.window is not None:
                self.window.tell(str(why))


def _same_file(one: Path, other: Path) -> bool:
    try:
        return one.samefile(other)
    except OSError:
        return False


def open_command(path: Path | None) -> int:
    """Open a project, else the last one, else a blank one in the user's documents."""
    if not has_display() and "QT_QPA_PLATFORM" not in os.environ:
        sys.stderr.write("There is no display; “urban-mule demo” walks the demo offscreen, “urban-mule solve” needs none.\n")
        return 2
    application_ = application()
    desk = Desk()
    catch_faults(desk.tell)
    try:
        shown = desk.show(ProjectFile.open(path)) if path is not None else _show_last(desk)
    except BadFile as why:
        sys.stderr.write(f"{why}\n")
        return 2
    memory.remember(shown.session.path)
    return application_.exec()


def _show_last(desk: Desk) -> Window:
    """The newest project that can be opened, else a blank one; what could not be is told. Raises BadFile when nothing can."""
    refused = []
    for path in memory.recent_projects():
        try:
            shown = desk.show(ProjectFile.open(path))
            break
        except BadFile as why:
            refused.append(str(why))
    else:
        shown = desk.show(_first_project())
    if refused:
        QTimer.singleShot(0, lambda: shown.tell(refused[0]))
    return shown


def _first_project() -> ProjectFile:
    return ProjectFile.create(free_project(documents(), "machine"), blank_project("New machine"))


def fresh_demo(machine: str = COURTYARD) -> ProjectFile:
    """A demo project in a place of its own. Raises BadFile."""
    import tempfile

    from urban_mule.demo.kept import demo_at

    return demo_at(Path(tempfile.mkdtemp(prefix="urban-mule-")) / f"{machine}.mule", machine)


def demo_command(out: Path, offscreen: bool, machine: str) -> int:
    """Open a demo project; with no display walk it offscreen and write report, JSON and pictures into `out`."""
    if has_display() and not offscreen:
        app = application()
        desk = Desk()
        catch_faults(desk.tell)
        desk.show(fresh_demo(machine))
        return app.exec()
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    sys.stdout.write(f"No display: walking the demo offscreen into {out}/\n")
    from urban_mule.desk.walk import walk_demo

    app = application()  # kept until the walk ends: Qt needs it alive
    walk_demo(out, machine)
    app.closeAllWindows()
    return 0


